"""Every check on a small site that has what it looks for, and on one that has not."""

import json
import re
from dataclasses import replace
from datetime import datetime
from typing import Any

import pytest
from hypothesis import given, settings

from navrel.core.files.reading import read_document
from navrel.core.files.writing import write_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page
from navrel.core.questions.checks import check
from navrel.core.questions.checks.finding import MOST_PAGES, Finding
from navrel.wording.findings import finding_words

from .strategies import layouts, sites

NOW = Lens(Visitor(accepts=("en",)), datetime(2026, 11, 23, 12))
TEXT = {"items": [{"type": "text", "text": "The boat leaves when the tide allows."}]}
NOTICE = {"items": [{"type": "notice", "text": "No boats on Monday"}]}
MENU = {"items": [{"type": "menu", "label": "Main", "links": [{"text": "Routes", "href": "/routes"}]}]}
PIECES: list[dict[str, Any]] = [
    {"slug": "main", "kind": "header", "content": TEXT},
    {"slug": "slim", "kind": "header", "content": TEXT},
    {"slug": "foot", "kind": "footer", "content": TEXT},
    {"slug": "blank", "kind": "footer"},
    {"slug": "note", "kind": "widget", "content": NOTICE},
    {"slug": "wind", "kind": "widget", "content": NOTICE},
    {"slug": "menu", "kind": "widget", "content": MENU},
    {"slug": "links", "kind": "widget", "content": MENU},
    {"slug": "desk", "kind": "sidebar", "entries": [{"piece": "note", "condition": {"visitors": {"include": "role:crew"}}},
                                                    {"piece": "wind", "condition": {"include": "type:route"}}]},
    {"slug": "plain", "kind": "template", "slots": ["header", "title", "footer"]},
    {"slug": "frame", "kind": "widget", "slots": ["panel"]},
]  # fmt: skip
PAGES = [
    {"path": "/"},
    {"path": "/tickets", "kind": "listing"},
    {"path": "/tickets/pay", "type": "checkout"},
    {"path": "/tickets/help", "type": "help"},
    {"path": "/tickets/done", "type": "checkout"},
    {"path": "/routes", "kind": "listing"},
    {"path": "/routes/norrvoe", "type": "route"},
]


def rule(name, include, *actions, exclude="", visitors=None, schedule=None, **more):
    condition = {"include": include, "exclude": exclude, "visitors": visitors, "schedule": schedule}
    return {"name": name, "condition": condition, "actions": list(actions), **more}


def fill(slot, piece):
    return {"do": "fill", "slot": slot, "piece": piece}


def add(slot, piece):
    return {"do": "append", "slot": slot, "piece": piece}


EMPTY_FOOTER = {"do": "empty", "slot": "footer"}
HEADER, SLIM, FOOT = fill("header", "main"), fill("header", "slim"), fill("footer", "foot")


def findings(*rules, roles=("crew",), pieces=PIECES):
    document = read_document(
        {"navrel": 1, "site": {"name": "Marrowick Ferries", "roles": list(roles)}, "pages": PAGES,
         "pieces": pieces, "rules": list(rules)}
    )  # fmt: skip
    return check(document, PageIndex(document.tree), NOW)


def told(kind, *rules, **more):
    """What is found of one kind, in words."""
    return [finding_words(one).what for one in findings(*rules, **more) if one.check == kind]


def test_a_rule_that_is_always_taken_before_never_wins():
    found = [one for one in findings(rule("all", "all", HEADER, priority=1), rule("pay", "page:/tickets/pay", SLIM))
             if one.check == "never-wins"]  # fmt: skip
    assert found == [
        Finding(
            "never-wins",
            "warning",
            "/rules/1",
            "pay",
            {},
            ("all",),
            (Page("/tickets/pay", "/tickets/pay", type="checkout"),),
            1,
        )
    ]
    assert finding_words(found[0]) == (
        "“pay” never wins",
        "it matches 1 page, and each is taken before it by “all”, for every visitor at every moment",
        "raise its priority, narrow what covers it, or remove it",
    )


def case_id(value):
    """A case's id from what it is about: one that can be typed."""
    named = value["condition"]["include"] if isinstance(value, dict) else value
    named = (
        " ".join(one["name"] for one in value)
        if isinstance(value, list) and value and isinstance(value[0], dict)
        else named
    )
    return re.sub(r"[^\w:/ -]+", "", str(named), flags=re.ASCII)


SIGNED_IN, SIGNED_OUT = ({"include": f"signed:{way}"} for way in ("in", "out"))
PAST = {"until": "2026-11-01"}
MORNING = {"repeats": {"rrule": "FREQ=DAILY", "start": "2026-01-01T00:00", "duration": "PT12H"}}
AFTERNOON = {"repeats": {"rrule": "FREQ=DAILY", "start": "2026-01-01T12:00", "duration": "PT12H"}}
BEATEN = rule("beaten", "all", SLIM)


@pytest.mark.parametrize(
    ("rules", "never"),
    [
        ([rule("in", "all", HEADER, visitors=SIGNED_IN), rule("out", "all", HEADER, visitors=SIGNED_OUT), BEATEN], ["“beaten” never wins"]),
        ([rule("in", "all", HEADER, visitors=SIGNED_IN), BEATEN], []),
        ([rule("in", "all", HEADER, visitors=SIGNED_IN), rule("crew", "all", SLIM, visitors={"include": "role:crew"})], ["“crew” never wins"]),
        ([rule("am", "all", HEADER, schedule=MORNING), rule("pm", "all", HEADER, schedule=AFTERNOON), rule("later", "all", SLIM, schedule={"from": "2026-02-01"}, priority=-1)], ["“later” never wins"]),
        ([rule("am", "all", HEADER, schedule=MORNING), rule("pm", "all", HEADER, schedule=AFTERNOON), BEATEN], []),
        ([rule("am", "all", HEADER, schedule=MORNING), BEATEN], []),
        ([rule("past", "all", HEADER, schedule=PAST), BEATEN], []),
        ([rule("half", "within:/tickets", HEADER, priority=1), rule("rest", "-within:/tickets", HEADER, priority=1), BEATEN], ["“beaten” never wins"]),
        ([rule("off", "all", HEADER, on=False, priority=1), BEATEN], []),
    ],
    ids=case_id,
)  # fmt: skip
def test_never_means_over_all_visitors_and_moments(rules, never):
    assert told("never-wins", *rules) == never


def test_an_action_that_never_wins_is_told_of_where_its_rule_does():
    rules = rule("all", "all", HEADER, priority=1), rule("both", "page:/tickets/pay", SLIM, FOOT)
    assert told("action-never-wins", *rules) == ["“both” never wins header"]
    assert told("never-wins", *rules) == []


def test_additions_that_are_always_dropped_never_win():
    closing = rule("none", "all", {"do": "empty", "slot": "above-footer"}, priority=1)
    assert told("never-wins", closing, rule("line", "all", add("above-footer", "note"))) == ["“line” never wins"]
    assert told("never-wins", rule("line", "all", add("above-footer", "note"), priority=2), closing) == []


def test_order_alone_decides_between_equals_that_differ():
    one, other = rule("one", "type:checkout", HEADER), rule("other", "kind:single", SLIM)
    assert told("order-alone", one, other) == ["only the order decides between “one” and “other”"]
    assert told("order-alone", one, rule("same", "kind:single", HEADER)) == []
    assert told("order-alone", one, rule("exact", "page:/tickets/pay", SLIM)) == []
    assert (
        told(
            "order-alone",
            rule("in", "type:checkout", HEADER, visitors=SIGNED_IN),
            rule("out", "kind:single", SLIM, visitors=SIGNED_OUT),
        )
        == []
    )


@pytest.mark.parametrize(
    ("made", "kind", "what"),
    [
        (rule("r", "", HEADER), "no-include", "“r” matches nothing"),
        (rule("r", "type:poster", HEADER), "no-page", "“r” matches no page"),
        (rule("r", "all", HEADER, exclude="all"), "no-page-left", "“r” excludes every page that it includes"),
        (rule("r", "type:route | type:poster", HEADER), "no-page-in-clause", "a clause of “r” matches no page"),
        (rule("r", "type:route type:checkout", HEADER), "contradiction", "a clause of “r” can match no page of any site"),
        (rule("r", "words:<5 words:>9", HEADER), "contradiction", "a clause of “r” can match no page of any site"),
        (rule("r", "path:/a path:/b", HEADER), "contradiction", "a clause of “r” can match no page of any site"),
        (rule("r", "lang:en -lang:en", HEADER), "contradiction", "a clause of “r” can match no page of any site"),
        (rule("r", "all", HEADER, visitors={"include": "signed:out role:crew"}), "nobody", "“r” lets no visitor in"),
        (rule("r", "all", HEADER, visitors={"include": "device:phone", "exclude": "device:phone"}), "nobody", "“r” lets no visitor in"),
        (rule("r", "all", HEADER, schedule={"from": "2026-12-02", "until": "2026-12-01"}), "never", "“r” is never in force"),
        (rule("r", "all", HEADER, schedule=PAST), "over", "the time of “r” is over"),
        (rule("r", "all", HEADER, schedule={"until": "2026-12-01T06:00"}), "ends-soon", "“r” ends on 2026-12-01 at 06:00"),
        (rule("r", "all", HEADER, schedule={"until": "2026-12-01T06:00", "repeats": {"rrule": "FREQ=HOURLY", "start": "2026-01-01T00:00", "duration": "PT5M"}}), "ends-soon", "“r” ends on 2026-12-01 at 05:05"),
        (rule("r", "page:/gone | all", HEADER), "gone", "“r” names what is not there: “page:/gone”"),
        (rule("r", "all", HEADER, visitors={"include": "role:captain"}), "gone", "“r” names what is not there: “role:captain”"),
        (rule("r", "all", fill("footer", "blank")), "empty-shows", "“Blank” shows blank on 7 pages"),
        (rule("r", "all", fill("aside-end", "desk")), "blank-sidebar", "“Desk” shows blank on 6 pages"),
        (rule("r", "type:checkout", fill("aside-end", "desk")), "entry-never-shows", "“Wind” never shows in “Desk”"),
        (rule("r", "all", fill("aside-end", "desk"), visitors=SIGNED_OUT), "entry-never-shows", "“Note” never shows in “Desk”"),
        (rule("r", "all", add("inner", "note")), "no-such-slot", "“r” acts on a slot that is nowhere: inner"),
        (rule("r", "all", {"do": "use", "template": "plain"}, add("above-footer", "note")), "unseated", "Above footer is to show “Note” on 7 pages without a place for it"),
        (rule("r", "type:checkout | page:/tickets/help", HEADER, exclude="page:/tickets/help"), "lacking", "/tickets/help has no header, unlike most pages beside"),
        (rule("r", "all", add("above-footer", "note"), add("before-content", "wind")), "twice", "“Note” and “Wind” say the same on 7 pages"),
        (rule("r", "all", add("above-footer", "menu"), add("before-content", "links")), "twice", "“Menu” and “Links” say the same on 7 pages"),
        (rule("r", "all", add("above-footer", "note"), add("before-content", "note")), "twice", "“Note” shows twice on 7 pages"),
    ],
    ids=case_id,
)  # fmt: skip
def test_a_check_finds_what_it_looks_for(made, kind, what):
    found = [one for one in findings(made) if one.check == kind]
    assert what in [finding_words(one).what for one in found]
    assert all(all(finding_words(one)) for one in found)
    assert {one.pointer.split("/")[2] for one in found if one.subject == "r"} <= {"0"}


def test_a_sidebar_on_both_sides_is_itself_no_doubling():
    both = rule("both", "all", fill("aside-start", "desk"), fill("aside-end", "desk"))
    assert "Desk" not in [one.subject for one in findings(both) if one.check == "twice"]


def test_every_rule_that_matches_nothing_is_told_of():
    found = told("no-page", rule("a", "type:poster", HEADER), rule("b", "type:comic", SLIM))
    assert found == ["“a” matches no page", "“b” matches no page"]


def test_what_a_blank_piece_has_none_of_is_told():
    bare = [{**piece, "entries": []} if "entries" in piece else piece for piece in PIECES]
    rules = rule("foot", "all", fill("footer", "blank")), rule("desk", "all", fill("aside-end", "desk"))
    found = findings(*rules, pieces=bare)
    assert [(one.subject, one.about["has"]) for one in found if one.check == "empty-shows"] == [
        ("Blank", "items"),
        ("Desk", "entries"),
    ]


def test_a_default_template_is_used():
    document = read_document(
        {"navrel": 1, "site": {"name": "M", "default_template": "plain"}, "pages": PAGES, "pieces": PIECES}
    )
    found = check(document, PageIndex(document.tree), NOW)
    assert "Plain" not in [one.subject for one in found if one.check == "unused"]


def test_what_may_be_meant_is_no_finding():
    """A template without content, a piece that holds a slot, two bounds on one side, an entry that is off."""
    frame, plain = (
        rule("frame", "all", add("above-footer", "frame")),
        rule("plain", "type:x", {"do": "use", "template": "plain"}),
    )
    assert told("empty-shows", frame, plain) == []
    assert told("contradiction", rule("long", "words:>5 words:>=9", HEADER)) == []
    off = [{**piece, "entries": [{**entry, "on": False} for entry in piece["entries"]]} if "entries" in piece else piece
           for piece in PIECES]  # fmt: skip
    assert told("entry-never-shows", rule("r", "type:checkout", fill("aside-end", "desk")), pieces=off) == []


def test_hand_picks_and_doubles_are_told_of():
    wide, pick = rule("section", "within:/tickets", HEADER), rule("pick", "page:/tickets/pay", HEADER)
    assert told("said-already", wide, pick) == ["“pick” picks 1 page by hand that “section” covers"]
    assert told("said-already", wide, rule("other", "type:checkout", SLIM, priority=-1), pick) == [
        "“pick” picks 1 page by hand that “section” covers"
    ]
    assert told("said-already", rule("between", "within:/tickets type:checkout", SLIM), wide, pick) == []
    pair = rule("one", "type:route", HEADER), rule("two", "type:help", HEADER)
    assert told("could-be-one", *pair) == ["“one” and “two” could be one rule"]
    assert told("could-be-one", pair[0], rule("x", "type:help", SLIM), pair[1]) == []


def test_a_piece_without_a_place_is_found_whoever_gets_it():
    crew = rule("crew", "all", add("above-footer", "note"), visitors={"include": "role:crew"})
    plain = rule("plain", "within:/tickets", {"do": "use", "template": "plain"})
    assert told("unseated", crew, plain) == ["Above footer is to show “Note” on 4 pages without a place for it"]
    assert told("unseated", crew) == []


def test_pieces_that_nothing_names_are_unused():
    found = told("unused", rule("r", "all", HEADER, FOOT))
    assert "“Slim” is used nowhere" in found and "“Main” is used nowhere" not in found
    assert "“Note” is used nowhere" not in found, "a sidebar names it"


def test_a_site_without_fault_has_no_finding():
    used = [piece for piece in PIECES if piece["slug"] in ("main", "foot")]
    assert findings(rule("site", "all", HEADER, FOOT), pieces=used) == []


def test_the_severest_come_first_and_all_are_told_in_the_same_order_again():
    rules = [rule("a", "type:x type:y", HEADER), rule("b", "type:none", SLIM), rule("c", "all", HEADER)]
    found = findings(*rules)
    severities = [one.severity for one in found]
    assert severities == sorted(severities, key=["error", "warning", "hint"].index)
    assert findings(*rules) == found


@settings(max_examples=60)
@given(sites(), layouts())
def test_any_site_can_be_checked(site, layout):
    document = SiteDocument("Marrowick", "marrowick", pages=site.pages, layout=layout)
    tree = write_document(document)
    for one in check(document, PageIndex(document.tree), NOW):
        assert len(one.pages) == min(one.page_count, MOST_PAGES)
        assert set(one.pages) <= set(site.pages)
        words = finding_words(one)
        assert all(words) and "None" not in " ".join(words)
        assert set(one.rules) <= {rule.name for rule in layout.rules}
        assert at_pointer(tree, one.pointer) is not None
        assert one.subject.rpartition(" in ")[2] in json.dumps(at_pointer(tree, "/".join(one.pointer.split("/")[:3])))
        assert None not in one.about.values()


def at_pointer(tree, pointer):
    """What a JSON Pointer (RFC 6901) leads to."""
    for step in pointer.split("/")[1:]:
        tree = tree[int(step)] if isinstance(tree, list) else tree[step.replace("~1", "/").replace("~0", "~")]
    return tree


@pytest.mark.parametrize("moment", [datetime.max, datetime.min])
def test_the_ends_of_the_calendar_are_moments_like_others(moment):
    ending = rule("ending", "all", HEADER, schedule={"from": "9999-12-31", "until": "9999-12-31T23:59:59"})
    document = read_document({"navrel": 1, "site": {"name": "M"}, "pages": PAGES, "pieces": PIECES, "rules": [ending]})
    found = check(document, PageIndex(document.tree), replace(NOW, moment=moment))
    assert ("over" in {one.check for one in found}) == (moment == datetime.max)


def test_more_roles_than_can_be_told_apart_are_no_claim():
    many = " | ".join(f"role:r{number}" for number in range(18))
    found = findings(
        rule("crowd", "all", HEADER, visitors={"include": many}), BEATEN, roles=[f"r{n}" for n in range(18)]
    )
    assert "too-many" in {one.check for one in found}
    assert not [one for one in found if one.check == "never-wins"]


def test_links_to_pages_that_are_not_there_are_told_with_where_they_show():
    items = [
        {"type": "button", "href": "/gone#top"},
        {"type": "links", "links": [{"text": "a", "href": "/"}, {"text": "b", "href": "/lost?x=1"}]},
        {"type": "button", "href": "https://else.example/gone"},
        {"type": "button", "href": "#here"},
        {"type": "markup", "code": "<a href='/nowhere'>x</a><a href=\"{{ page.path }}\">y</a>"
                                   '{% item {"type": "button", "href": "/missed"} %}'},
    ]  # fmt: skip
    note = {"slug": "note", "kind": "widget", "name": "Note", "content": {"items": items}}
    pieces = [note if piece["slug"] == "note" else piece for piece in PIECES]
    (found,) = [one for one in findings(rule("r", "all", add("above-footer", "note")), pieces=pieces)
                if one.check == "dead-link" and one.subject == "Note"]  # fmt: skip
    assert found.about["paths"] == ("/gone", "/lost", "/nowhere", "/missed")
    assert finding_words(found).what == "“Note” leads to /gone and 3 more, where there is no page"
    assert found.page_count == 7


def test_what_stands_in_rows_says_things_twice_too_and_menus_are_told_apart():
    def menu(slug, **item):
        return {
            "slug": slug,
            "kind": "widget",
            "content": {"rows": [{"cells": [{"items": [{"type": "menu", **item}]}]}]},
        }

    both = rule("r", "all", add("above-footer", "one"), add("before-content", "two"))
    alike = [*PIECES, menu("one", menu="main", label="A"), menu("two", menu="main", label="B")]
    other = [*PIECES, menu("one", menu="main", label="A"), menu("two", menu="foot", label="B")]
    assert [one.check for one in findings(both, pieces=alike) if one.check == "twice"] == ["twice"]
    assert "twice" not in [one.check for one in findings(both, pieces=other)]


def test_a_sidebar_on_both_sides_shows_where_the_template_has_room_and_says_nothing_twice():
    both = rule("both", "all", fill("aside-start", "desk"), fill("aside-end", "desk"))
    one_side = {"slug": "one-side", "kind": "template", "slots": ["header", "footer", "aside-end"]}
    use = rule("use", "all", {"do": "use", "template": "one-side"})
    assert "twice" not in [one.check for one in findings(both, use, pieces=[*PIECES, one_side])]
