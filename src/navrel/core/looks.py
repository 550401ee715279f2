"""Looks: every distinct layout that a page has, over all visitors and all moments from a given one on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from .cascade import Contender, Outcome, Strength, compare, is_locked, page_targets, seated_slots, shown_entries
from .conditions import Refused, Specificity, weigh_page
from .index import PageIndex
from .lenses import Grades, LensSpace, Sighting, TooManyCombinations
from .lookup import Match, PageResolver
from .model import TEMPLATE, Action, Audience, Layout, Lens, Page, Piece, Target
from .site import Site


@dataclass(frozen=True)
class Look:
    """One layout of a page. ``entries``: for each sidebar in a seated slot, the widgets that it shows.

    ``seen``: who sees it and when, in full. ``lens``: one of the lenses through which it is seen.
    """

    outcomes: dict[Target, Outcome]
    entries: dict[str, tuple[str, ...]]
    seen: tuple[Sighting, ...]
    lens: Lens


@dataclass(frozen=True)
class Looks:
    """All looks of a page, in the order in which they first come up.

    ``repeats_after``: the moment after which they come up as before, None where nothing repeats for ever.
    ``seen_until``: None where they are all that there ever are; else the moment up to which was looked.
    """

    looks: tuple[Look, ...]
    repeats_after: datetime | None
    seen_until: datetime | None


def matching_rules(site: Site, layout: Layout, page: Page) -> list[Match]:
    """The rules that are on and let a page through, in list order, tested one by one."""
    found = []
    for place, rule in enumerate(layout.rules, start=1):
        counts = weigh_page(site, page, rule.condition) if rule.on else Refused("not-included")
        if not isinstance(counts, Refused):
            found.append(Match(rule, place, counts))
    return found


def page_looks(site: Site, layout: Layout, page: Page, since: datetime) -> Looks:
    """The looks of a page from a moment on. Raises TooManyCombinations."""
    matches = matching_rules(site, layout, page)
    space = LensSpace(audiences_on(site, layout, page, matches), since)
    return looks_in(space, site, layout, page, matches)


def site_looks(index: PageIndex, layout: Layout, since: datetime) -> Iterator[tuple[list[Page], Looks | None]]:
    """The looks of every page, asked once a class: the pages of each class with their looks, in tree order.

    None in place of looks: more visitors and times than can be told apart.
    """
    resolver = PageResolver(index, layout)
    classes = resolver.classes
    by_class = np.argsort(classes.numbers, kind="stable")
    starts = np.searchsorted(classes.numbers[by_class], np.arange(len(classes.firsts) + 1))
    for number, first in enumerate(classes.firsts.tolist()):
        page = index.site.pages[first]
        matches, _ = resolver.matches(first)
        try:
            space = LensSpace(audiences_on(index.site, layout, page, matches), since)
            found = looks_in(space, index.site, layout, page, matches)
        except TooManyCombinations:
            found = None
        members = by_class[starts[number] : starts[number + 1]].tolist()
        yield [index.site.pages[member] for member in members], found


def audiences_on(site: Site, layout: Layout, page: Page, matches: Iterable[Match]) -> list[Audience]:
    """The audiences that make a difference on a page: those of its rules and of the entries that may show on it."""
    found: dict[Audience, None] = {}
    sidebars: dict[str, Piece] = {}
    for match in matches:
        if not match.rule.condition.audience.is_everyone:
            found[match.rule.condition.audience] = None
        for action in match.rule.actions:
            piece = layout.pieces.get(action.piece or "")
            if piece and piece.entries:
                sidebars[piece.slug] = piece
    for sidebar in sidebars.values():
        for entry in sidebar.entries:
            audience = entry.condition.audience
            weighed = weigh_page(site, page, entry.condition, empty_is_all=True)
            if not audience.is_everyone and not isinstance(weighed, Refused):
                found[audience] = None
    return list(found)


def looks_in(space: LensSpace, site: Site, layout: Layout, page: Page, matches: list[Match]) -> Looks:
    """The looks of a page over a space that holds the audiences of its rules and entries."""
    targets = tuple(page_targets(layout, page))
    seen: dict[object, list[tuple[int, int]]] = {}
    made: dict[object, tuple[dict[Target, Outcome], dict[str, tuple[str, ...]], Lens]] = {}
    for grades, cells in space.cells.items():
        lens = space.lens(cells[0])
        outcomes = resolve_graded(matches, space, grades, layout, page, targets)
        entries = shown_sidebars(site, layout, page, lens, outcomes)
        key = (*(_shows(outcome) for outcome in outcomes.values()), *sorted(entries.items()))
        made.setdefault(key, (outcomes, entries, lens))
        seen.setdefault(key, []).extend(cells)
    return Looks(
        tuple(Look(*made[key][:2], space.sightings(cells), made[key][2]) for key, cells in seen.items()),
        space.timeline.repeats_after,
        space.timeline.seen_until,
    )


def graded_actions(
    matches: list[Match], space: LensSpace, grades: Grades
) -> dict[Target, list[tuple[Contender, Action]]]:
    """The actions on each target for the lenses of a space that have these grades, strongest first.

    Rules whose audience is not in the space are for everyone.
    """
    contending = []
    for rule, place, counts in matches:
        number = space.place_of.get(rule.condition.audience)
        audience = 0 if number is None else grades[number]
        if audience is not None:
            strength = Strength(rule.priority, Specificity(*counts, audience), -place)
            contending.append(Contender(strength, rule, place))
    contending.sort(key=lambda contender: contender.strength, reverse=True)
    acting: dict[Target, list[tuple[Contender, Action]]] = {}
    for contender in contending:
        for action in contender.rule.actions:
            acting.setdefault(action.target, []).append((contender, action))
    return acting


def resolve_graded(
    matches: list[Match], space: LensSpace, grades: Grades, layout: Layout, page: Page, targets: Iterable[Target]
) -> dict[Target, Outcome]:
    """The outcomes of some targets of a page for the lenses of a space that have these grades."""
    acting = graded_actions(matches, space, grades)
    return {
        target: compare(acting.get(target, []), layout, target, locked=is_locked(page, target))[0] for target in targets
    }


def shown_sidebars(
    site: Site, layout: Layout, page: Page, lens: Lens, outcomes: dict[Target, Outcome]
) -> dict[str, tuple[str, ...]]:
    """For each sidebar in a seated slot, the widgets that it shows on a page through a lens."""
    slots = {target.name: outcome for target, outcome in outcomes.items() if target.kind == "slot"}
    sidebars = {
        slug
        for outcome in slots.values()
        for slug in outcome.pieces
        if slug in layout.pieces and layout.pieces[slug].kind == "sidebar"
    }
    if not sidebars:
        return {}
    seated = seated_slots(layout, page, outcomes[TEMPLATE], slots, lens, site)
    return {
        slug: tuple(widget.slug for widget in shown_entries(layout, layout.pieces[slug], site, page, lens))
        for name, outcome in slots.items()
        if name in seated
        for slug in outcome.pieces
        if slug in sidebars
    }


def _shows(outcome: Outcome) -> object:
    """What an outcome comes to, whichever rule decided it."""
    return (outcome.state, outcome.pieces, outcome.value)
