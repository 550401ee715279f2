"""When a target changes by itself, against the traces of moments before, between and after."""

from dataclasses import replace
from datetime import datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.conditions import lets_through
from navrel.core.cascade.plain import page_targets, trace
from navrel.core.layout.model import Target
from navrel.core.lenses.looks import shown
from navrel.core.questions.turns import HORIZON, turns

from .strategies import layouts, lenses, sites
from .test_cascade import ANYONE, fill, rule, site_with

HEADER = Target("slot", "header")
MINUTE = timedelta(minutes=1)


def state(site, layout, page, target, lens):
    """What a target comes to, with the widgets that its sidebars show."""
    outcome = trace(site, layout, page, lens, target).outcome
    entries = [entry for slug in outcome.pieces for entry in layout.pieces[slug].entries_on]
    return shown(outcome), tuple(one.piece for one in entries if lets_through(site, page, lens, one.condition))


@settings(max_examples=50)
@given(sites(), layouts(), lenses, st.data())
def test_between_the_last_change_and_the_next_nothing_changes(site, layout, lens, data):
    page = data.draw(st.sampled_from(site.pages))
    target = data.draw(st.sampled_from(list(page_targets(layout, page))))
    found = turns(site, layout, page, target, lens)
    now = state(site, layout, page, target, lens)

    def at(moment):
        return state(site, layout, page, target, replace(lens, moment=moment))

    if found.next:
        assert at(found.next.moment) != now
        assert shown(found.next.outcome) == at(found.next.moment)[0]
        assert found.next.inside == (at(found.next.moment)[0] == now[0])
    if found.last:
        assert found.last.moment <= lens.moment
        assert at(found.last.moment) == now != at(found.last.moment - timedelta(seconds=1))
    since = found.last.moment if found.last else lens.moment - HORIZON
    until = found.next.moment if found.next else lens.moment + HORIZON
    for share in data.draw(st.lists(st.floats(0, 0.999), max_size=20)):
        assert at(since + (until - since) * share) == now


def test_the_moments_of_a_weekend_are_told_with_what_is_there_on_the_other_side():
    evening = {"repeats": {"rrule": "FREQ=WEEKLY;BYDAY=FR", "start": "2026-11-20T18:00", "duration": "PT6H"}}
    site, layout = site_with(
        rule("usual", "all", fill("header", "main")),
        ("evening", {"include": "page:/tickets", "schedule": evening}, (fill("header", "slim"),), {}),
    )
    page = site.page("/tickets")
    lens = replace(ANYONE, moment=datetime(2026, 11, 25, 12))
    found = turns(site, layout, page, HEADER, lens)
    assert (found.last.moment, found.last.outcome.pieces) == (datetime(2026, 11, 21), ("slim",))
    assert (found.next.moment, found.next.outcome.pieces) == (datetime(2026, 11, 27, 18), ("slim",))
    assert turns(site, layout, site.page("/"), HEADER, lens) == (None, None), "the rule does not reach it"
