"""Sidebars on one page and on all: which widgets show, and how far each entry reaches."""

from dataclasses import replace

from hypothesis import given, settings

from navrel.core.cascade.conditions import Unmet, lets_through, weigh_page
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import seated_slots, shown_entries, shown_sidebars
from navrel.core.index.page_index import PageIndex
from navrel.core.questions.sidebars import EntryReach, sidebar_reach

from .strategies import PIECES, layouts, lenses, sites


def standing(site, layout, page, lens):
    """The sidebars that are to be seen on a page."""
    outcomes = {target: trace.outcome for target, trace in resolve_page(site, layout, page, lens).items()}
    slots = {target.name: one for target, one in outcomes.items() if target.kind == "slot"}
    seated = seated_slots(layout, page, outcomes, lens, site)
    return outcomes, {slug for name in seated & slots.keys() for slug in slots[name].pieces if PIECES[slug].entries}


@settings(max_examples=50)
@given(sites(), layouts(), lenses)
def test_each_sidebar_in_a_seated_slot_shows_its_entries_that_are_on_and_let_through(site, layout, lens):
    for page in site.pages:
        outcomes, sidebars = standing(site, layout, page, lens)
        shown = shown_sidebars(site, layout, page, lens, outcomes)
        assert shown.keys() == sidebars
        for slug, widgets in shown.items():
            assert widgets == tuple(
                entry.piece
                for entry in PIECES[slug].entries
                if entry.on and lets_through(site, page, lens, entry.condition)
            )


@settings(max_examples=50)
@given(sites(), layouts(), lenses)
def test_entries_reach_the_pages_where_their_sidebar_is_seen_and_they_hold(site, layout, lens):
    desk = PIECES["desk"]
    found = sidebar_reach(PageIndex(site), layout, lens, desk)
    stands = [page for page in site.pages if "desk" in standing(site, layout, page, lens)[1]]
    assert found.pages == len(stands)
    for entry, reach in zip(desk.entries, found.entries, strict=True):
        alone = replace(desk, entries=(entry,))
        matched = [
            page
            for page in site.pages
            if not isinstance(weigh_page(site, page, entry.condition, empty_is_all=True), Unmet)
        ]
        shown = [page for page in stands if shown_entries(layout, alone, site, page, lens)]
        assert reach == EntryReach(len(matched), len(shown))
