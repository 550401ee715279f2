"""Looks: every distinct layout that a page has, over all visitors and all moments from a given one on."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from ..cascade.conditions import Unmet, weigh_page
from ..cascade.lookup import PageResolver
from ..cascade.plain import Outcome, compare, is_locked, match_rules, page_targets
from ..cascade.seating import shown_sidebars
from ..cascade.strength import Match, PageActions, acting_on_page, contend
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.condition import Audience
from ..layout.model import Layout, Piece, Target
from ..pages.page import Page
from ..pages.tree import PageTree
from .space import Grades, LensSpace, Sighting
from .visitors import TooManyCombinations


@dataclass(frozen=True)
class Look:
    """One layout of a page. ``entries``: for each sidebar in a seated slot, the widgets that it shows.

    ``seen``: who sees it and when, in full. ``lens``: one of the lenses through which it is seen. ``cells``: the kinds
    of visitors and the epochs of the space in which it was looked for.
    """

    outcomes: dict[Target, Outcome]
    entries: dict[str, tuple[str, ...]]
    seen: tuple[Sighting, ...]
    lens: Lens
    cells: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class Looks:
    """All looks of a page, in the order in which they first come up.

    ``repeats_after``: the moment after which they come up as before, None where nothing repeats for ever.
    ``seen_until``: None where they are all that there ever are; else the moment up to which was looked.
    """

    looks: tuple[Look, ...]
    space: LensSpace

    @property
    def repeats_after(self) -> datetime | None:
        return self.space.timeline.repeats_after

    @property
    def seen_until(self) -> datetime | None:
        return self.space.timeline.seen_until


def page_looks(tree: PageTree, layout: Layout, page: Page, since: datetime) -> Looks:
    """The looks of a page from a moment on. Raises TooManyCombinations."""
    matches = match_rules(tree, layout, page)[0]
    space = LensSpace(audiences_on(tree, layout, page, matches), since)
    return looks_in(space, tree, layout, page, matches)


def site_looks(index: PageIndex, layout: Layout, since: datetime) -> Iterator[tuple[list[Page], Looks | None]]:
    """The looks of every page, asked once a class: the pages of each class with their looks, in tree order.

    None in place of looks: more visitors and times than can be told apart.
    """
    resolver = PageResolver(index, layout)
    classes = resolver.classes
    by_class = np.argsort(classes.numbers, kind="stable")
    starts = np.searchsorted(classes.numbers[by_class], np.arange(len(classes.firsts) + 1))
    for number, first in enumerate(classes.firsts.tolist()):
        page = index.tree.pages[first]
        matches, _ = resolver.matches(first)
        try:
            space = LensSpace(audiences_on(index.tree, layout, page, matches), since)
            found = looks_in(space, index.tree, layout, page, matches)
        except TooManyCombinations:
            found = None
        members = by_class[starts[number] : starts[number + 1]].tolist()
        yield [index.tree.pages[member] for member in members], found


def audiences_on(tree: PageTree, layout: Layout, page: Page, matches: Iterable[Match]) -> list[Audience]:
    """The audiences that make a difference on a page: those of its rules and of the entries that may show on it."""
    found: dict[Audience, None] = {}
    sidebars: dict[str, Piece] = {}
    for match in matches:
        if not match.rule.condition.audience.is_everyone:
            found[match.rule.condition.audience] = None
        for action in match.rule.actions:
            piece = layout.pieces.get(action.piece or "")
            if piece and piece.entries_on:
                sidebars[piece.slug] = piece
    for sidebar in sidebars.values():
        for entry in sidebar.entries_on:
            audience = entry.condition.audience
            weighed = weigh_page(tree, page, entry.condition, empty_is_all=True)
            if not audience.is_everyone and not isinstance(weighed, Unmet):
                found[audience] = None
    return list(found)


def looks_in(space: LensSpace, tree: PageTree, layout: Layout, page: Page, matches: list[Match]) -> Looks:
    """The looks of a page over a space that holds the audiences of its rules and entries."""
    targets = tuple(page_targets(layout, page))
    seen: dict[object, list[tuple[int, int]]] = {}
    made: dict[object, tuple[dict[Target, Outcome], dict[str, tuple[str, ...]], Lens]] = {}
    for grades, cells in space.cells.items():
        lens = space.lens(cells[0])
        outcomes = resolve_graded(matches, space, grades, layout, page, targets)
        entries = shown_sidebars(tree, layout, page, lens, outcomes)
        key = (*(shown(outcome) for outcome in outcomes.values()), *sorted(entries.items()))
        made.setdefault(key, (outcomes, entries, lens))
        seen.setdefault(key, []).extend(cells)
    return Looks(
        tuple(Look(*made[key][:2], space.sightings(cells), made[key][2], tuple(cells)) for key, cells in seen.items()),
        space,
    )


def graded_actions(matches: list[Match], space: LensSpace, grades: Grades) -> PageActions:
    """The actions on each target for the lenses of a space that have these grades, strongest first.

    Rules whose audience is not in the space are for everyone.
    """

    def weigh(audience: Audience) -> int | Unmet:
        number = space.place_of.get(audience)
        grade = 0 if number is None else grades[number]
        return _UNMET if grade is None else grade

    return acting_on_page(contend(matches, weigh)[0])


_UNMET = Unmet("visitor")


def resolve_graded(
    matches: list[Match], space: LensSpace, grades: Grades, layout: Layout, page: Page, targets: Iterable[Target]
) -> dict[Target, Outcome]:
    """The outcomes of some targets of a page for the lenses of a space that have these grades."""
    acting = graded_actions(matches, space, grades)
    return {
        target: compare(acting.get(target, []), layout, target, locked=is_locked(page, target))[0] for target in targets
    }


def shown(outcome: Outcome) -> object:
    """What an outcome comes to, whichever rule decided it."""
    return (outcome.state, outcome.pieces, outcome.value, outcome.own_at)


def differing_targets(found: Looks) -> list[Target]:
    """The targets that come to something else in some of the looks of a page."""
    first, *others = found.looks
    return [
        target
        for target, outcome in first.outcomes.items()
        if any(shown(look.outcomes[target]) != shown(outcome) for look in others)
    ]


def changing_sidebars(found: Looks) -> list[str]:
    """The sidebars that show other widgets in some of the looks of a page, wherever they stand."""
    shows: dict[str, set[tuple[str, ...]]] = defaultdict(set)
    for look in found.looks:
        for slug, widgets in look.entries.items():
            shows[slug].add(widgets)
    return sorted(slug for slug, different in shows.items() if len(different) > 1)


def differing_inside(found: Looks) -> set[Target]:
    """The targets that differ, and the slots whose sidebars show other widgets in some of the looks."""
    changing = set(changing_sidebars(found))
    slots = {
        target
        for look in found.looks
        for target, outcome in look.outcomes.items()
        if target.kind == "slot" and not changing.isdisjoint(outcome.pieces)
    }
    return {*differing_targets(found), *slots}
