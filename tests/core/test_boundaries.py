"""The moments at which something changes by itself: exactly those at which a schedule turns, in order, and bounded."""

import datetime
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.index.page_index import PageIndex
from navrel.core.pages.pageset import PageSet
from navrel.core.questions.boundaries import boundaries
from navrel.core.questions.reach import rule_pages

from .strategies import layouts, moments, sites

MINUTE = datetime.timedelta(minutes=1)


@settings(max_examples=60)
@given(sites(), layouts(), moments, st.integers(1, 60))
def test_every_turn_of_a_rule_is_a_boundary_and_no_other_moment(tree, layout, since, days):
    index = PageIndex(tree)
    until = since + datetime.timedelta(days=days)
    found = boundaries(index, layout, since, until)
    assert [one.moment for one in found] == sorted({one.moment for one in found})
    timed = {rule.name: rule.condition.schedule for rule in layout.rules if rule.on and rule.condition.schedule}
    for one in found:
        assert since < one.moment <= until
        for name in set(one.begins) & timed.keys():
            assert timed[name].holds(one.moment) and not timed[name].holds(one.moment - MINUTE)
        for name in set(one.ends) & timed.keys():
            assert timed[name].holds(one.moment - MINUTE)
    if len(found) < 200:
        # Between two boundaries nothing turns: what holds at their beginning holds at their end.
        edges = [since, *(one.moment for one in found), until]
        for low, high in pairwise(edges):
            if high - low > MINUTE:
                for schedule in timed.values():
                    assert schedule.holds(low) == schedule.holds(high - MINUTE)


@given(sites(), layouts(), moments)
def test_only_what_reaches_the_pages_in_sight_counts(tree, layout, since):
    index = PageIndex(tree)
    until = since + datetime.timedelta(days=30)
    named = {
        name
        for one in boundaries(index, layout, since, until, PageSet.of([0], index.size))
        for name in (*one.begins, *one.ends)
    }
    apart = {rule.name for rule in layout.rules if 0 not in rule_pages(index, rule)}
    assert not named & apart
    assert boundaries(index, layout, since, until, PageSet.none(index.size)) == []
