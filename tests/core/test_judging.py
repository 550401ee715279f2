"""What is found about a rule while it is being edited, against the checks of the whole site."""

from dataclasses import replace

from hypothesis import given, settings

from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Rule
from navrel.core.questions.checks import check
from navrel.core.questions.checks.judging import judge
from navrel.wording.findings import finding_words
from navrel.wording.mending import mended_words

from .strategies import lenses, sites
from .test_checks import FOOT, HEADER, NOW, PAGES, PIECES, SLIM, fill, rule
from .test_edited import edits, in_place

#: The checks whose findings about a rule are those of the whole site.
SHARED = {
    "contradiction", "nobody", "never", "no-include", "no-page", "no-page-left", "no-page-in-clause",
    "never-wins", "action-never-wins", "gone", "over", "ends-soon", "order-alone", "said-already",
    "notice-here",
}  # fmt: skip


def site_of(*rules):
    return read_document(
        {"navrel": 1, "site": {"name": "Marrowick Ferries", "roles": ["crew"]}, "pages": PAGES, "pieces": PIECES,
         "rules": list(rules)}
    )  # fmt: skip


def about(document, index, edited, lens):
    """What the checks of the whole site find about one of its rules."""
    pointer = f"/rules/{document.layout.rules.index(edited)}"
    return {
        (one.check, one.rules, one.page_count)
        for one in check(document, index, lens)
        if one.check in SHARED and (one.pointer == pointer or one.pointer.startswith(f"{pointer}/"))
    }


@settings(max_examples=60)
@given(sites(), edits(), lenses)
def test_an_edited_rule_is_judged_as_the_whole_site_would_be(site, edit, lens):
    layout, edited = edit
    after, _ = in_place(layout, edited)
    index = PageIndex(site)
    document = SiteDocument("Marrowick", "marrowick", pages=site.pages, layout=layout)
    found = judge(document, index, edited, lens)
    told = {
        (one.finding.check, one.finding.rules, one.finding.page_count) for one in found if one.finding.check in SHARED
    }
    assert told == about(replace(document, layout=after), index, edited, lens)
    for one in found:
        if one.remedy is None or one.finding.check == "gone":
            continue
        left = [again.finding for again in judge(document, index, one.remedy, lens)]
        assert not [again for again in left if (again.check, again.about) == (one.finding.check, one.finding.about)]


def judged(edited, *others):
    """What is found about the first of some rules: by kind of finding, the rule that mends it."""
    document = site_of(edited, *others)
    index = PageIndex(document.tree)
    return {one.finding.check: one.remedy for one in judge(document, index, document.layout.rules[0], NOW)}


def text(remedy: Rule):
    condition = remedy.condition
    return str(condition.include), str(condition.exclude), str(condition.visitors_include)


def test_each_mending_changes_one_thing():
    assert text(judged(rule("x", "", HEADER))["no-include"]) == ("all", "", "")
    remedy = judged(rule("x", "type:route type:help | type:help", HEADER))["contradiction"]
    assert text(remedy) == ("type:help", "", "")
    assert judged(rule("x", "type:route type:help", HEADER))["contradiction"] is None
    assert text(judged(rule("x", "page:/gone,/routes | page:/nowhere", HEADER))["gone"]) == ("page:/routes", "", "")
    assert text(judged(rule("x", "all -type:gone", HEADER))["gone"]) == ("all", "", "")
    assert judged(rule("x", "page:/gone", HEADER))["gone"] is None
    assert judged(rule("x", "all", HEADER, visitors={"include": "role:pirate"}))["gone"] is None
    remedy = judged(rule("x", "type:help", HEADER, exclude="all"))["no-page-left"]
    assert text(remedy) == ("type:help", "", "")
    nobody = {"include": "signed:in", "exclude": "signed:in"}
    assert text(judged(rule("x", "all", HEADER, visitors=nobody))["nobody"]) == ("all", "", "")
    past = {"until": "2020-01-01T00:00"}
    assert judged(rule("x", "all", HEADER, schedule=past))["over"].condition.schedule is None


def test_a_notice_is_left_out_of_the_page_that_it_leads_to():
    note = {
        "slug": "call",
        "kind": "widget",
        "content": {"items": [{"type": "notice", "href": "/routes/#boats", "text": "x"}]},
    }
    edited = rule("Call", "all", {"do": "append", "slot": "above-footer", "piece": "call"})
    document = read_document(
        {
            "navrel": 1,
            "site": {"name": "Marrowick Ferries"},
            "pages": PAGES,
            "pieces": [*PIECES, note],
            "rules": [edited],
        }
    )
    index = PageIndex(document.tree)
    (found,) = [one for one in check(document, index, NOW) if one.check == "notice-here"]
    assert finding_words(found).what == "“Call” brings “Call” to /routes, where its notice leads"
    (judgement,) = [one for one in judge(document, index, document.layout.rules[0], NOW) if one.finding == found]
    assert judgement.remedy is not None
    assert text(judgement.remedy) == ("all", "page:/routes", "")
    assert mended_words(found, judgement.remedy) == "Leave /routes out of it"
    left = replace(document, layout=replace(document.layout, rules=(judgement.remedy,)))
    assert [one for one in check(left, index, NOW) if one.check == "notice-here"] == []


def test_a_notice_where_another_takes_its_place_is_none_there():
    call = {
        "slug": "call",
        "kind": "header",
        "content": {"items": [{"type": "notice", "href": "/routes", "text": "x"}]},
    }
    rules = [rule("Slim", "page:/routes", SLIM, priority=5), rule("Call", "all", fill("header", "call"))]
    document = read_document(
        {"navrel": 1, "site": {"name": "Marrowick Ferries"}, "pages": PAGES, "pieces": [*PIECES, call], "rules": rules}
    )
    assert "notice-here" not in {one.check for one in check(document, PageIndex(document.tree), NOW)}


def test_a_rule_that_never_wins_is_raised_above_what_covers_it():
    above = (rule("all", "all", HEADER, priority=5), rule("help", "type:help", FOOT, priority=40))
    assert judged(rule("x", "type:help", SLIM), *above)["never-wins"].priority == 6
    highest = rule("all", "all", HEADER, priority=1000)
    assert judged(rule("x", "type:help", SLIM), highest)["never-wins"] is None


def test_a_sidebar_that_shows_nothing_where_the_rule_puts_it_is_told_of_with_those_pages():
    desk = fill("aside-end", "desk")
    assert judged(rule("x", "type:help | type:route", desk), rule("y", "type:help", desk, priority=3)) == {}
    wide = site_of(rule("x", "type:help | type:route", desk))
    (found,) = judge(wide, PageIndex(wide.tree), wide.layout.rules[0], NOW)
    assert (found.finding.check, [page.path for page in found.finding.pages]) == ("blank-sidebar", ["/tickets/help"])
