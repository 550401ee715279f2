"""The reach of a rule that is being edited, against the traces of every page."""

from collections import Counter
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.conditions import Specificity, Unmet, weigh_audience, weigh_page
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import is_in_place, seated_slots
from navrel.core.index.page_index import PageIndex
from navrel.core.language.holding import page_term_holds
from navrel.core.language.query import Counts, parse_query
from navrel.core.layout.condition import Condition
from navrel.core.layout.model import Rule, Target
from navrel.core.questions.edited import PageFate, TargetFate, reach_of_edited
from navrel.core.questions.reach import Measures, TargetMeasures, excluded_pages, reaches, rule_pages

from .strategies import conditions, layouts, lenses, rule_actions, sites
from .test_cascade import ANYONE, fill, rule, site_with

MANY = 500
ABOVE_FOOTER = Target("slot", "above-footer")


@st.composite
def edits(draw):
    """A layout whose rules have keys, and an edited rule: one of them, or a new one."""
    layout = draw(layouts())
    rules = tuple(replace(one, key=number) for number, one in enumerate(layout.rules, start=1))
    key = draw(st.sampled_from((None, *(one.key for one in rules))))
    edited = Rule("edited", draw(conditions), draw(rule_actions()), draw(st.sampled_from((0, 5))), key=key)
    return replace(layout, rules=rules), edited


def in_place(layout, edited):
    """The layout with the edited rule, and the rule that it takes the place of."""
    if edited.key is None:
        return replace(layout, rules=(edited, *layout.rules)), None
    saved = layout.rules[edited.key - 1]
    return replace(layout, rules=tuple(edited if one is saved else one for one in layout.rules)), saved


def matches(site, page, condition):
    return isinstance(weigh_page(site, page, condition), Counts)


def fate_on(site, layout, lens, page, edited, target):
    """What becomes of a rule on one target of a page that it reaches, by the trace."""
    traces = resolve_page(site, layout, page, lens, (target,))
    mine = [entry for entry in traces[target].entries if entry.rule is edited]
    if any(entry.state in ("won", "added", "duplicate") for entry in mine):
        seated = seated_slots(layout, page, {one: trace.outcome for one, trace in traces.items()}, lens, site)
        if any(entry.action.slot and entry.action.piece for entry in mine) and target.name not in seated:
            return TargetFate(target, "unplaced")
        return TargetFate(target, "adds" if all(entry.action.adds for entry in mine) else "wins")
    first = mine[0]
    if first.state in ("outranked", "cleared", "locked"):
        return TargetFate(target, first.state, first.by.name if first.by else "", first.on or "")
    return TargetFate(target, "idle")


def holding(site, page, terms):
    """The places of the terms that hold on a page."""
    return tuple(
        place for place, one in enumerate(terms) if page_term_holds(site, page, one.term.positive) != one.term.negated
    )


@settings(max_examples=60)
@given(sites(), edits(), lenses, st.data())
def test_what_becomes_of_an_edited_rule_is_what_the_traces_say(site, edit, lens, data):
    layout, edited = edit
    after, saved = in_place(layout, edited)
    targets = tuple(dict.fromkeys(action.target for action in edited.actions))
    target = data.draw(st.sampled_from((None, *targets)))
    tested = data.draw(st.sampled_from(site.pages))
    found = reach_of_edited(PageIndex(site), layout, lens, edited, target, MANY, tested)

    reached = [page for page in site.pages if matches(site, page, edited.condition)]
    before = reached if saved is None else [page for page in site.pages if matches(site, page, saved.condition)]
    include = replace(edited.condition, exclude=parse_query(""))
    excluded = [page for page in site.pages if matches(site, page, include) and page not in reached]
    gone = [page for page in before if page not in reached]
    numbers = (len(reached), len(excluded), len([page for page in reached if page not in before]), len(gone))
    assert (found.reached, found.excluded, found.new, found.gone) == numbers

    shown = (target,) if target else targets
    told = [
        PageFate(
            page, "reached", "",
            tuple(fate_on(site, after, lens, page, edited, one) for one in shown),
            page not in before, holding(site, page, found.terms),
        )
        for page in reached
    ]  # fmt: skip
    assert list(found.pages[: len(reached)]) == told
    rest = found.pages[len(reached) :]
    assert [(one.page, one.standing) for one in rest] == [
        *((page, "excluded") for page in excluded),
        *((page, "gone") for page in gone if page not in excluded),
    ]
    for one in rest:
        assert one.holds == holding(site, one.page, found.terms)
    for one in rest[: len(excluded)]:
        taking = (clause for clause in edited.condition.exclude.clauses
                  if matches(site, one.page, replace(include, include=parse_query(str(clause)))))  # fmt: skip
        assert one.clause == str(next(taking)), "the first clause that takes it out"
    listed = {one.page.path: one for one in found.pages if one.standing != "gone"}
    assert found.tested == listed.get(
        tested.path, PageFate(tested, "not-included", holds=holding(site, tested, found.terms))
    )


@settings(max_examples=50)
@given(sites(), edits(), lenses)
def test_what_a_rule_takes_over_is_what_would_decide_without_it(site, edit, lens):
    layout, edited = edit
    after, _ = in_place(layout, edited)
    without = replace(after, rules=tuple(one for one in after.rules if one is not edited))
    found = reach_of_edited(PageIndex(site), layout, lens, edited, None, MANY)
    counts = Counter()
    for target in dict.fromkeys(action.target for action in edited.actions if not action.adds):
        for page in site.pages:
            trace = resolve_page(site, after, page, lens, (target,))[target]
            decider = trace.decider
            if decider and decider.rule is edited:
                before = resolve_page(site, without, page, lens, (target,))[target].decider
                counts[target, before.rule.name if before else None] += 1
    assert {(one.target, one.rule and one.rule.name): one.pages for one in found.taken} == counts


def test_a_page_that_gets_it_and_one_that_does_not_stand_side_by_side():
    site, layout = site_with(rule("tickets", "within:/tickets", fill("header", "main"), exclude="page:/tickets"))
    index = PageIndex(site)
    edited = layout.rules[0]
    found = reach_of_edited(index, layout, ANYONE, edited, None, MANY)
    assert found.gets in [one.page for one in found.pages if one.standing == "reached"]
    assert found.lacks not in [one.page for one in found.pages if one.standing == "reached"]
    everywhere = replace(edited, condition=Condition(parse_query("all")))
    assert reach_of_edited(index, layout, ANYONE, everywhere, None, MANY).lacks is None
    nowhere = replace(edited, condition=Condition())
    found = reach_of_edited(index, layout, ANYONE, nowhere, None, MANY)
    assert (found.gets, found.lacks) == (None, site.pages[0])
    near = replace(edited, condition=Condition(parse_query("within:/tickets type:checkout")))
    found = reach_of_edited(index, layout, ANYONE, near, None, MANY)
    assert found.lacks == found.nearly[0].page, "the nearest is one term short"


def is_drawn_in_place(site, layout, page, lens):
    return is_in_place(page, {target: one.outcome for target, one in resolve_page(site, layout, page, lens).items()})


@settings(max_examples=50)
@given(sites(), edits(), lenses)
def test_the_numbers_of_a_rule_are_those_of_its_pages(site, edit, lens):
    layout, edited = edit
    after, _ = in_place(layout, edited)
    index = PageIndex(site)
    found = reach_of_edited(index, layout, lens, edited, None, MANY).measures
    reach = reaches(index, after, lens)[after.rules.index(edited)]
    assert reach.pages == rule_pages(index, edited)
    assert found.wins == sum(any(number in reach.seen(target) for target in reach.wins) for number in range(len(site)))
    assert [one.target for one in found.by_target] == list(dict.fromkeys(action.target for action in edited.actions))
    for one in found.by_target:
        assert one.seen == len(reach.seen(one.target))
        assert one.unplaced == len(reach.wins[one.target]) - one.seen
        unplaced = reach.wins[one.target] - reach.seen(one.target)
        assert one.unbound == sum(
            is_drawn_in_place(site, after, site.pages[number], lens) for number in unplaced.numbers()
        )
        having = [
            slug
            for slug, piece in after.pieces.items()
            if one.target.name in (piece.slots if piece.kind == "template" else ())
        ]
        assert list(one.templates) == (having if one.unplaced > one.unbound else [])
    assert found.lets_in != isinstance(weigh_audience(lens, edited.condition.audience), Unmet)

    weighed = [weigh_page(site, page, edited.condition) for page in site.pages]
    counts = [one for one in weighed if isinstance(one, Counts)]
    own = Specificity(*max(set(counts), key=counts.count)) if counts else Specificity()
    assert found.specificity_on == ("none" if not counts else "all" if len(set(counts)) == 1 else "most")
    assert counts.count(Counts(*found.specificity[:3])) == counts.count(Counts(*own[:3]))
    clauses = edited.condition.visitors_include.clauses
    asked = max(
        (sum(not term.negated and term.fact != "all" for term in clause.terms) for clause in clauses), default=0
    )
    assert found.specificity.audience == asked + (edited.condition.schedule is not None)


def test_pages_are_told_up_to_a_number_and_counted_whole():
    site, layout = site_with(
        rule("tickets", "within:/tickets", fill("header", "main"), exclude="type:checkout | page:/tickets/help")
    )
    edited = layout.rules[0]
    found = reach_of_edited(PageIndex(site), replace(layout, rules=()), ANYONE, edited, None, 1)
    assert [(one.page.path, one.standing) for one in found.pages] == [
        ("/tickets", "reached"),
        ("/tickets/pay", "excluded"),
    ]
    shown, count = excluded_pages(PageIndex(site), edited, 1)
    assert ([(one.page.path, one.clause) for one in shown], count) == ([("/tickets/pay", "type:checkout")], 2)


def test_a_rule_without_actions_reaches_and_does_nothing():
    site, layout = site_with()
    edited = Rule("idle", Condition(parse_query("page:/tickets")))
    found = reach_of_edited(PageIndex(site), layout, ANYONE, edited, Target("slot", "header"), MANY)
    assert [(one.page.path, one.fates, one.is_new) for one in found.pages] == [("/tickets", (), False)]
    assert found.measures == Measures(0, 0, (), True, Specificity(2), "all")


def test_an_addition_that_an_emptied_slot_drops_is_told_with_the_rule_that_empties_it():
    note = {"do": "append", "slot": "above-footer", "piece": "note"}
    bare = {"do": "empty", "slot": "above-footer"}
    site, layout = site_with(rule("bare", "all", bare, priority=5), rule("notice", "page:/tickets", note))
    found = reach_of_edited(PageIndex(site), layout, ANYONE, replace(layout.rules[1], key=7), None, MANY)
    assert [one.fates for one in found.pages] == [(TargetFate(ABOVE_FOOTER, "cleared", "bare", "priority"),)]


def test_a_slot_without_a_place_is_told_with_the_templates_that_have_it():
    more = {"do": "append", "slot": "above-footer", "piece": "note"}
    site, layout = site_with(rule("plain", "all", {"do": "use", "template": "plain"}), rule("notice", "all", more))
    wide = replace(layout.pieces["plain"], slug="wide", slots=("above-footer",))
    layout = replace(layout, pieces={**layout.pieces, "wide": wide})
    found = reach_of_edited(PageIndex(site), layout, ANYONE, replace(layout.rules[1], key=7), None, MANY)
    assert found.measures.by_target == (TargetMeasures(Target("slot", "above-footer"), 0, 4, 0, ("wide",)),)
    assert (found.measures.wins, found.measures.unplaced) == (0, 4)
    assert {one.fates for one in found.pages} == {(TargetFate(ABOVE_FOOTER, "unplaced"),)}
