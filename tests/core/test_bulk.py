"""The bulk engine against its plain twin, and the laws that both obey."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.bulk import resolve_all, unseated_pages
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import seated_slots, seen_pieces
from navrel.core.cascade.shown import pages_showing
from navrel.core.index.page_index import PageIndex
from navrel.core.language.holding import page_term_holds
from navrel.core.language.query import Clause, Query, Term, parse_query
from navrel.core.layout.condition import Condition
from navrel.core.layout.model import TEMPLATE, Action, Rule, Target
from navrel.core.pages.pageset import PageSet
from navrel.core.questions.reach import near_misses, reaches, rule_pages

from .strategies import PATHS, layouts, lenses, page_terms, sites

SIZES = [0, 1, 7, 8, 9, 63, 64, 65]


@pytest.mark.parametrize("size", SIZES)
def test_page_sets_keep_their_padding_clear(size):
    everything = PageSet.everything(size)
    assert len(everything) == size
    assert len(~everything) == 0
    assert len(~PageSet.none(size)) == size


@given(st.sampled_from(SIZES), st.data())
def test_page_sets_do_what_sets_do(size, data):
    numbers = st.sets(st.integers(0, size - 1)) if size else st.just(set())
    a, b = data.draw(numbers), data.draw(numbers)
    packed_a, packed_b = PageSet.of(a, size), PageSet.of(b, size)
    for packed, plain in (
        (packed_a & packed_b, a & b),
        (packed_a | packed_b, a | b),
        (packed_a - packed_b, a - b),
        (~packed_a, set(range(size)) - a),
    ):
        assert set(packed.numbers().tolist()) == plain
        assert len(packed) == len(plain)
        assert packed == PageSet.of(plain, size)
        assert all(number in packed for number in plain)
    assert set(packed_a.numbers().tolist()) == a, "operands stay as they were"


@given(sites(), page_terms())
def test_a_term_holds_on_the_same_pages_one_by_one_and_at_once(site, term: Term):
    found = PageIndex(site).term(term.positive)
    assert found.mask().tolist() == [page_term_holds(site, page, term.positive) for page in site.pages]


@settings(max_examples=50)
@given(sites(), layouts(), lenses)
def test_bulk_equals_one_by_one(site, layout, lens):
    bulk = resolve_all(PageIndex(site), layout, lens)
    for number, page in enumerate(site.pages):
        plain = resolve_page(site, layout, page, lens)
        for target, outcomes in bulk.items():
            assert outcomes.on(number) == plain[target].outcome, (page.path, target)


@settings(max_examples=50)
@given(sites(), layouts(), lenses)
def test_reach_agrees_with_the_traces(site, layout, lens):
    """A rule wins exactly where a trace says that one of its actions won, was added, or adds what stands already."""
    index = PageIndex(site)
    found = reaches(index, layout, lens)
    traces = [resolve_page(site, layout, page, lens) for page in site.pages]
    for rule, reach in zip(layout.rules, found, strict=True):
        for target, pages in reach.wins.items():
            won = [
                any(
                    entry.rule is rule and entry.state in ("won", "added", "duplicate") for entry in one[target].entries
                )
                for one in traces
            ]
            assert pages.mask().tolist() == won
            puts = any(action.target == target and action.piece and action.slot for action in rule.actions)
            unplaced = [
                puts and here and target.name not in seated_on(layout, site, page, one, lens)
                for page, one, here in zip(site.pages, traces, won, strict=True)
            ]
            assert (pages - reach.seen(target)).mask().tolist() == unplaced


def seated_on(layout, site, page, traces, lens):
    return seated_slots(layout, page, {target: trace.outcome for target, trace in traces.items()}, lens, site)


@settings(max_examples=60)
@given(sites(), layouts(), lenses)
def test_unseated_slots_agree_with_the_plain_answer(site, layout, lens):
    index = PageIndex(site)
    resolved = resolve_all(index, layout, lens)
    found = unseated_pages(index, layout, lens, resolved)
    for number, page in enumerate(site.pages):
        outcomes = {target: found.on(number) for target, found in resolved.items()}
        seated = seated_slots(layout, page, outcomes, lens, site)
        for name, pages in found.items():
            assert (number in pages) == (bool(outcomes[Target("slot", name)].pieces) and name not in seated)


@settings(max_examples=60)
@given(sites(), layouts(), lenses)
def test_pages_showing_a_piece_agree_with_the_pages(site, layout, lens):
    index = PageIndex(site)
    found = pages_showing(index, layout, lens, resolve_all(index, layout, lens))
    for number, page in enumerate(site.pages):
        outcomes = {target: trace.outcome for target, trace in resolve_page(site, layout, page, lens).items()}
        shown = {one.piece for one in seen_pieces(layout, page, outcomes, lens, site)}
        assert {slug for slug, pages in found.items() if number in pages} == shown


@settings(max_examples=60)
@given(sites(), layouts(), lenses)
def test_a_rule_that_matches_no_page_changes_nothing(site, layout, lens):
    index = PageIndex(site)
    idle = Rule("idle", Condition(include=parse_query("page:/nowhere")), (Action("empty", "header"),), priority=1000)
    before = resolve_all(index, layout, lens)
    after = resolve_all(index, replace(layout, rules=(idle, *layout.rules)), lens)
    for target, outcomes in before.items():
        assert [outcomes.on(n) for n in range(len(site))] == [after[target].on(n) for n in range(len(site))]


@settings(max_examples=60)
@given(sites(), layouts(), lenses, st.sampled_from(PATHS))
def test_a_pin_beats_every_rule_that_names_more_than_its_page(site, layout, lens, path):
    """Among rules of its priority a pin decides, but for those that name its page alone too."""
    page = site.page(path)
    if page is None or "header" in page.locks:
        return
    pin = Rule("pin", Condition(include=Query((Clause((Term("page", parse_query(f'page:"{path}"').terms[0].values),)),))),
               (Action("fill", "header", "slim"),))  # fmt: skip
    others = tuple(
        replace(rule, priority=0)
        for rule in layout.rules
        if all(clause.counts.exact < 2 for clause in rule.condition.include.clauses)
    )
    found = resolve_page(site, replace(layout, rules=(*others, pin)), page, lens)
    header = next(one for target, one in found.items() if target.name == "header")
    assert header.outcome.by == pin


@settings(max_examples=60)
@given(sites(), layouts(), lenses)
def test_raising_a_winner_changes_nothing(site, layout, lens):
    for page in site.pages:
        before = resolve_page(site, layout, page, lens)
        for target, found in before.items():
            if not found.decider or found.outcome.state == "locked":
                continue
            winner = found.decider.rule
            raised = tuple(replace(rule, priority=999) if rule is winner else rule for rule in layout.rules)
            alone = [action for action in winner.actions if action.target == target]
            if any(action.do in ("prepend", "append") for action in alone) or found.decider.action.closes:
                continue
            after = resolve_page(site, replace(layout, rules=raised), page, lens)[target]
            assert after.outcome.pieces == found.outcome.pieces


@settings(max_examples=60)
@given(sites(), layouts(), lenses)
def test_trace_and_outcome_never_disagree(site, layout, lens):
    """The outcome is what the trace's entries come to, and every action on a target stands in it once."""
    for page in site.pages:
        for target, found in resolve_page(site, layout, page, lens).items():
            states = [entry.state for entry in found.entries]
            assert states.count("won") == (found.outcome.by is not None)
            assert found.outcome.by == (found.decider.rule if found.decider else None)
            assert len(found.entries) == sum(a.target == target for rule in layout.rules for a in rule.actions)
            assert ("locked" in states) <= (found.outcome.state == "locked")
            if target.kind == "setting":
                default = layout.setting_defaults[target.name]
                assert found.outcome.value == (found.decider.action.value if found.decider else default)
                continue
            shown = [entry.action for entry in found.entries if entry.state in ("won", "added") and entry.action.piece]
            pieces = [
                action.piece for do in ("prepend", "fill", "use", "append") for action in shown if action.do == do
            ]
            if target == TEMPLATE and not pieces and layout.default_template:
                pieces = [layout.default_template]
            assert list(found.outcome.pieces) == pieces


@given(sites(), page_terms(), page_terms())
def test_one_more_term_never_widens(site, first, second):
    index = PageIndex(site)
    wide = index.clause(Clause((first,)))
    narrow = index.clause(Clause((first, second)))
    assert not narrow - wide


def test_near_misses_fail_exactly_one_term():
    from .test_cascade import site_with

    site, _ = site_with()
    found = near_misses(PageIndex(site), parse_query("within:/tickets type:checkout"))
    assert [(miss.page.path, str(miss.term)) for miss in found] == [
        ("/tickets", "type:checkout"),
        ("/tickets/help", "type:checkout"),
    ]


def test_reach_knows_no_visitors():
    from .test_cascade import fill, rule, site_with

    site, layout = site_with(rule("crew", "within:/tickets", fill("header", "main"), visitors="role:crew"))
    pages = rule_pages(PageIndex(site), layout.rules[0])
    assert np.array_equal(pages.numbers(), [1, 2, 3])
