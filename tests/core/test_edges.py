"""What the made sites of the property tests meet too seldom: each by itself, with what it has to come to."""

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.calendar.rrule import read_recurrence
from navrel.core.calendar.schedule import Repeats, Schedule, timeline
from navrel.core.cascade.bulk import resolve_all, unseated_pages
from navrel.core.cascade.conditions import Unmet, weigh_audience
from navrel.core.cascade.plain import resolve_page, standard_targets, trace
from navrel.core.files.reading import read_document
from navrel.core.files.references import missing_references
from navrel.core.index.completion import complete
from navrel.core.index.finding import TextFinder
from navrel.core.index.page_index import PageIndex
from navrel.core.language.holding import page_term_holds, visitor_term_holds
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.condition import Condition
from navrel.core.layout.document import SiteDocument, Taxonomy, TaxonomyTerm
from navrel.core.layout.model import Rule, Target
from navrel.core.lenses.contests import Lenses, contests
from navrel.core.lenses.looks import page_looks
from navrel.core.lenses.space import LensSpace
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.impact import impact
from navrel.core.questions.reach import MOST_NEAR_MISSES, near_misses
from navrel.core.questions.suggest import suggest

NOW = datetime(2026, 11, 23, 12)
ANYONE = Lens(Visitor(), NOW)
WIDGETS = [f"w{number}" for number in range(70)]
ABOVE = Target("slot", "above-footer")
SITE = {"name": "Marrowick Ferries", "roles": ["crew"],
        "settings": [{"name": "crumbs", "type": "switch", "default": True}]}  # fmt: skip


def document(*rules, pages=("/", "/a"), **more):
    """A site of these pages, with many widgets, two headers and these rules."""
    pieces = [{"slug": slug, "kind": "widget"} for slug in WIDGETS]
    pieces += [{"slug": slug, "kind": "header"} for slug in ("main", "slim")]
    tree = {
        "navrel": 1,
        "site": SITE,
        "pages": [one if isinstance(one, dict) else {"path": one} for one in pages],
        "pieces": pieces,
        "rules": list(rules),
    }
    return read_document({**tree, **more})


def rule(name, include, *actions, visitors="", schedule=None, **more):
    condition = {"include": include, "visitors": {"include": visitors}, "schedule": schedule}
    return {"name": name, "condition": condition, "actions": list(actions), **more}


def put(piece, do="fill", **more):
    return {"do": do, "slot": "above-footer", "piece": piece, **more}


def both_ways(found, path="/a", target=ABOVE, lens=ANYONE):
    """The pieces of a target, by the plain resolver and by the one for all pages; they have to agree."""
    tree = found.tree
    plain = resolve_page(tree, found.layout, tree.page(path), lens)[target].outcome
    bulk = resolve_all(PageIndex(tree), found.layout, lens)[target].on(tree.numbers[path])
    assert bulk == plain
    return plain.pieces


@pytest.mark.parametrize(("exclusive", "shown"), [(False, ("w0", "w1")), (True, ("w0",))])
def test_only_an_exclusive_fill_drops_weaker_additions(exclusive, shown):
    filling = rule("fill", "all", put("w0", exclusive=exclusive), priority=1)
    assert both_ways(document(filling, rule("add", "all", put("w1", "append")))) == shown


@pytest.mark.parametrize("count", [39, 40, 41, 64, 65])
def test_more_additions_than_are_told_by_the_bits_of_one_number(count):
    adding = [rule(f"r{n}", "all" if n % 3 else "page:/a", put(WIDGETS[n], "append")) for n in range(count)]
    found = document(*adding)
    assert set(both_ways(found)) == set(WIDGETS[:count])
    assert set(both_ways(found, "/")) == {slug for n, slug in enumerate(WIDGETS[:count]) if n % 3}


def test_what_the_same_rules_came_to_is_not_worked_out_again():
    found = document(rule("one", "all", put("w0")))
    index = PageIndex(found.tree)
    first = resolve_all(index, found.layout, ANYONE)[ABOVE]
    same = replace(found.layout, rules=tuple(replace(one, note="") for one in found.layout.rules))
    assert same.rules[0] is not found.layout.rules[0]
    assert resolve_all(index, same, ANYONE)[ABOVE] is first
    renamed = replace(found.layout, rules=tuple(replace(one, name="other") for one in found.layout.rules))
    assert resolve_all(index, renamed, ANYONE)[ABOVE] is not first


def repeating(rrule, hours, start=NOW):
    return Schedule(repeats=Repeats(rrule, read_recurrence(rrule, start), timedelta(hours=hours)))


def test_repeats_are_followed_through_a_whole_period():
    """Every second and every third day meet on the sixth only."""
    second, third = (
        repeating("FREQ=DAILY;INTERVAL=2", 6),
        repeating("FREQ=DAILY;INTERVAL=3", 6, NOW + timedelta(days=1)),
    )
    found = timeline((second, third), NOW)
    assert {epoch.in_force for epoch in found.epochs} == {
        frozenset(), frozenset({0}), frozenset({1}), frozenset({0, 1}),
    }  # fmt: skip
    assert found.period == timedelta(days=6)
    assert found.repeats_after is not None
    assert found.repeats_after > NOW + timedelta(days=6)


def test_looks_that_differ_in_a_setting_alone_are_two():
    found = document(rule("crew", "all", {"do": "set", "setting": "crumbs", "value": False}, visitors="role:crew"))
    tree = found.tree
    looks = page_looks(tree, found.layout, tree.page("/a"), NOW).looks
    crumbs = Target("setting", "crumbs")
    assert {look.outcomes[crumbs].value for look in looks} == {False, True}
    assert len(looks) == 2


def test_rivals_that_are_no_neighbours_stay_apart():
    """An addition gets past an exclusive fill for phones where a stronger plain one decides for crew at a phone."""
    found = document(
        rule("crew", "all", put("w0"), visitors="role:crew", priority=3),
        rule("phones", "all", put("w1", exclusive=True), visitors="device:phone", priority=2),
        rule("crew again", "all", put("w2"), visitors="role:crew", priority=1),
        rule("line", "all", put("w3", "append"), visitors="device:phone"),
    )
    index = PageIndex(found.tree)
    (contest,) = contests(index, found.layout, Lenses())
    line = next(attempt for attempt in contest.attempts if attempt.standing.rule.name == "line")
    assert contest.can_ever_win(line)
    crew_at_a_phone = Lens(Visitor("in", frozenset({"crew"}), "phone"), NOW)
    assert both_ways(found, lens=crew_at_a_phone) == ("w0", "w3")
    assert both_ways(found, lens=Lens(Visitor(device="phone"), NOW)) == ("w1",)


def test_a_term_that_comes_to_stand_below_another_has_an_impact():
    pages = [{"path": "/"}, {"path": "/a", "terms": ["topic/gulls"]}]
    made = rule("sea", "term:topic/sea", put("w0"))
    topics = [{"slug": "topic", "terms": [{"slug": "sea"}, {"slug": "gulls"}]}]
    before = document(made, pages=pages, taxonomies=topics)
    after = replace(
        before,
        taxonomies=(Taxonomy("topic", "Topic", (TaxonomyTerm("sea", "Sea"), TaxonomyTerm("gulls", "Gulls", "sea"))),),
    )
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    assert found.paths == {"/a"}


def suggested(pages, picked):
    return [str(one.include) for one in suggest(PageIndex(PageTree(pages)), picked)]


def test_a_condition_that_adds_too_much_for_what_was_picked_is_none():
    """Twenty pages more for each one picked are the most."""
    picked = [Page("/a", type="route"), Page("/b", type="route")]
    some = [Page(f"/x{number}", type="route") for number in range(41)]
    assert "type:route" in suggested([*picked, *some[:40]], ["/a", "/b"])
    assert "type:route" not in suggested([*picked, *some], ["/a", "/b"])


def test_a_condition_that_fits_exactly_stands_before_one_that_adds():
    pages = [Page(f"/r{n}", type="route", author="imre") for n in range(8)]
    pages += [Page(f"/x{n}", author="imre") for n in range(4)]
    found = suggested(pages, [f"/r{n}" for n in range(8)])
    assert found[0] == "type:route"
    assert len(found) <= 5 and found[-1].startswith("page:/r0,")


@pytest.mark.parametrize(
    ("referrer", "holds"),
    [
        ("example.org", True),
        ("news.example.org", True),
        ("anexample.org", False),
        ("example.org.evil", False),
        ("", False),
    ],
)
def test_a_referrer_is_a_host_or_one_below_it(referrer, holds):
    (term,) = parse_query("referrer:example.org", "visitor").terms
    assert visitor_term_holds(Visitor(referrer=referrer), term) is holds


def test_near_misses_are_cut_to_those_that_say_most():
    """Of terms that pages lack, the rarer says more about each."""
    pages = [Page(f"/a/{n}", type="route") for n in range(MOST_NEAR_MISSES + 20)]
    pages += [Page("/z", type="route", author="imre"), Page("/a"), Page("/c")]
    found = near_misses(PageIndex(PageTree(pages)), parse_query("type:route author:imre within:/a"))
    assert [str(miss.term) for miss in found if miss.page.path == "/z"] == ["within:/a"]
    assert len(found) == MOST_NEAR_MISSES


def test_pages_are_told_apart_by_the_pieces_that_hold_slots():
    """A slot has a place only where what holds it shows, whatever else shows beside it."""
    pieces = [{"slug": "frame", "kind": "widget", "slots": ["inner"]}, {"slug": "note", "kind": "widget"}]
    rules = [
        {"name": "frame", "condition": {"include": "page:/a"}, "actions": [{"do": "append", "slot": "above-footer", "piece": "frame"}]},
        {"name": "note", "condition": {"include": "all"}, "actions": [{"do": "append", "slot": "inner", "piece": "note"}]},
    ]  # fmt: skip
    made = document(*rules, pieces=pieces)
    index = PageIndex(made.tree)
    resolved = resolve_all(index, made.layout, ANYONE)
    assert unseated_pages(index, made.layout, ANYONE, resolved)["inner"].numbers().tolist() == [0]


def test_only_the_targets_asked_for_are_resolved():
    made = document(pages=("/", "/a"))
    assert list(resolve_all(PageIndex(made.tree), made.layout, ANYONE, [ABOVE])) == [ABOVE]


def test_who_is_kept_out_and_what_is_locked_keep_what_they_were_weighed_by():
    visitors = {"exclude": "role:crew | signed:out"}
    out = {
        "name": "out",
        "condition": {"include": "all", "visitors": visitors},
        "actions": [{"do": "fill", "slot": "header", "piece": "main"}],
    }
    site = {
        "name": "in",
        "condition": {"include": "all"},
        "actions": [{"do": "fill", "slot": "header", "piece": "slim"}],
        "priority": 7,
    }
    made = document(out, site, pages=({"path": "/", "locks": ["header"]}, "/a"))
    header = Target("slot", "header")
    tree = made.tree
    kept_out = trace(tree, made.layout, tree.pages[1], ANYONE, header).entries[-1]
    assert (kept_out.state, kept_out.clause) == ("visitor", "signed:out")
    found = trace(tree, made.layout, tree.pages[0], ANYONE, header)
    locked = found.entries[0]
    assert found.ends(locked) is None and found.next_start(locked) is None
    assert locked.state == "locked" and locked.strength is not None and locked.strength.priority == 7


def test_an_audience_that_is_not_let_in_now_is_told_so():
    timed = {"name": "later", "condition": {"include": "all", "schedule": {"from": "2027-01-01"}}, "actions": []}
    audience = document(timed).layout.rules[0].condition.audience
    assert weigh_audience(ANYONE, audience) == Unmet("time")
    assert weigh_audience(replace(ANYONE, moment=datetime(2027, 1, 2)), audience) == 1


def test_entries_know_the_places_of_their_rules_and_templates_bring_slots_of_their_own():
    fills = [
        {
            "name": f"r{n}",
            "condition": {"include": "all"},
            "actions": [{"do": "fill", "slot": "header", "piece": "main"}],
        }
        for n in range(3)
    ]
    made = document(
        *fills, pieces=[{"slug": "main", "kind": "header"}, {"slug": "wide", "kind": "template", "slots": ["wing"]}]
    )
    found = trace(made.tree, made.layout, made.tree.pages[0], ANYONE, Target("slot", "header"))
    assert [entry.place for entry in found.entries] == [1, 2, 3]
    assert Target("slot", "wing") in standard_targets(made.layout)


def test_a_visitor_of_whom_no_device_is_asked_has_a_desktop():
    signed = {"name": "in", "condition": {"include": "all", "visitors": {"include": "signed:in"}}, "actions": []}
    space = LensSpace((document(signed).layout.rules[0].condition.audience,), NOW)
    seen_by = [space.lens(cells[0]).visitor for cells in space.cells.values()]
    assert {one.device for one in seen_by} == {"desktop"}
    assert {one.signed for one in seen_by} == {"in", "out"}


TEXTS = st.text(st.sampled_from("ab/ Éé1"), max_size=6)


@given(st.lists(st.tuples(TEXTS, TEXTS), max_size=30), TEXTS, st.integers(1, 8))
def test_texts_are_found_as_by_looking_at_each(entries, text, limit):
    found = TextFinder(entries).find(text, limit)
    word = text.lower()
    lowered = [(one.lower(), other.lower()) for one, other in entries]
    fitting = [n for n, pair in enumerate(lowered) if any(word in one for one in pair)]
    first = [n for n in fitting if any(one.startswith(word) for one in lowered[n])]
    assert found == [*first, *(n for n in fitting if n not in first)][:limit]


def test_common_letters_among_many_texts_are_found_in_order():
    finder = TextFinder([(f"/page/{number}", f"Page {number}") for number in range(5_000)])
    assert finder.find("page", 3) == [0, 1, 2]
    assert finder.find("g", 3) == [0, 1, 2]
    assert finder.find("/page/499", 3) == [499, 4990, 4991]
    assert finder.find("9 9", 3) == []


@pytest.mark.parametrize(
    ("query", "found"),
    [
        ("within:/docs", ["/docs/fares", "/docs/fares/dogs", "/docs/isles/skerry", "/landing"]),
        ("under:/docs/isles", ["/docs/isles/skerry", "/landing"]),
        ("child:/docs", ["/docs/fares"]),
        ("child:/docs/isles", ["/docs/isles/skerry"]),
        ("within:/doc", []),
        ("page:/docs", []),
        ("within:/docs/fares", ["/docs/fares", "/docs/fares/dogs"]),
    ],
)
def test_a_folder_without_a_page_holds_the_pages_at_its_addresses_and_what_stands_below_them(query, found):
    paths = {"/": None, "/docs/fares": None, "/docs/fares/dogs": None, "/docs/isles/skerry": None, "/documents": None,
             "/landing": "/docs/isles/skerry"}  # fmt: skip
    tree = PageTree(Page(path, path, parent=parent) for path, parent in paths.items())
    index = PageIndex(tree)
    (clause,) = parse_query(query).clauses
    assert [tree.pages[number].path for number in index.query(parse_query(query)).numbers()] == found
    assert [page.path for page in tree.pages if page_term_holds(tree, page, clause.terms[0])] == found
    document = SiteDocument("Marrowick", "marrowick", pages=tree.pages)
    rule = Rule("r", Condition(parse_query(query)), ())
    told = missing_references(replace(document, layout=replace(document.layout, rules=(rule,))))
    assert [one.text for one in told] == ([] if found else [query.partition(":")[2]])
    assert tree.folders == ["/docs", "/docs/isles"]


def test_folders_are_offered_behind_pages():
    tree = PageTree([Page("/", "Home"), Page("/docs/fares", "Fares"), Page("/docs/dogs", "Dogs")])
    document = SiteDocument("Marrowick", "marrowick", pages=tree.pages)

    def offered(text):
        return [(one.insert, one.pages) for one in complete(PageIndex(tree), document, text, len(text)).offers]

    assert offered("within:/do") == [("/docs", 2)] and offered("path:/do") == [("/docs/*", 2)]
    assert offered("child:/do") == [("/docs", 2)]
    assert offered("page:/do") == [("/docs/fares", 1), ("/docs/dogs", 1)]
