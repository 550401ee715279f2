"""Impact: what differs between two states of a site, over all visitors and moments.

A page differs where a target comes out differently (a shift), where a piece that stands on it is drawn differently
(a redraw), or where its own content or facts do. Only pages that some differing part reaches are looked at, and
pages that the rules treat alike once.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Set
from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import TypeVar

from ..cascade.lookup import PageResolver
from ..cascade.plain import Outcome, standard_targets
from ..cascade.seating import is_in_place, seated_slots, seen_pieces, shown_entries
from ..cascade.strength import Match
from ..cascade.unbeaten import unbeaten
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.condition import Audience
from ..layout.document import SiteDocument
from ..layout.model import DRESS_SETTING, TEMPLATE, Layout, Target
from ..lenses.looks import audiences_on, resolve_graded, shown
from ..lenses.space import Grades, LensSpace
from ..lenses.visitors import TooManyCombinations
from ..pages.page import Page
from ..pages.pageset import PageSet
from .alike import Alike, alike_in, drawn_from, shows_what_stands
from .alike_pages import AlikePages
from .bearing import bearing_on_pieces, bearing_on_places, holding
from .differing import differing
from .narrowing import narrowed
from .shifts import Impact, Redraw, Redrawing, Shift, Standing, nowhere

_DRESS = Target("setting", DRESS_SETTING)

_Group = TypeVar("_Group")
_Change = TypeVar("_Change", bound=Shift | Redraw)


class _State:
    """One state, narrowed to some targets: rules that do not act on them are left out.

    ``named``: whether it is told which rule decides.
    """

    def __init__(
        self, document: SiteDocument, index: PageIndex, targets: frozenset[Target], *, named: bool = False
    ) -> None:
        self.index = index
        layout = document.layout
        self.layout = replace(layout, rules=narrowed(layout.rules, targets))
        self.alike = AlikePages(PageResolver(index, self.layout), partial(unbeaten, named=named))

    def likeness(self, path: str) -> int | None:
        """A number that is the same for pages that come out alike; None where there is no such page."""
        number = self.index.tree.numbers.get(path)
        return None if number is None else self.alike.group(number)

    def matches(self, path: str) -> list[Match]:
        """The rules that let the page at a path through and make a difference there."""
        return self.alike.matches(self.index.tree.numbers[path])


def impact(
    before: SiteDocument,
    before_index: PageIndex,
    after: SiteDocument,
    after_index: PageIndex,
    since: datetime,
    redrawing: Redrawing | None = None,
    standing: Standing = nowhere,
) -> Impact:
    """What differs between two states from a moment on.

    ``redrawing`` tells what is drawn differently, None: what the documents themselves tell of it; ``standing``: which
    pieces show on which page what stands there in both states, where none is put.
    """
    if redrawing is None:
        redrawing = redrawing_of(before, after)
    own = tuple(_named_pages(redrawing.pages, before_index, after_index))
    states = (before, before_index), (after, after_index)
    shifts, untold = _all_shifts(states, since, alike_in(before, after, redrawing), standing)
    redraws, more_untold = _all_redraws(states, since, redrawing)
    ordered = sorted(shifts, key=lambda shift: (-len(shift.pages), str(shift.target)))
    by_size = sorted(redraws, key=lambda redraw: (-len(redraw.pages), redraw.piece))
    return Impact(tuple(ordered), tuple(by_size), own, tuple(dict.fromkeys((*untold, *more_untold))))


def _named_pages(paths: Set[str], before: PageIndex, after: PageIndex) -> Iterator[Page]:
    """The pages at some paths, those of the earlier state first, as they are now, or were where they are gone."""
    if not paths:
        return
    for index in (before, after):
        for number, path in enumerate(index.tree.pages.column("path")):
            if path in paths and (index is before or path not in before.tree.numbers):
                yield after.tree.page(path) or index.tree.pages[number]


def redrawing_of(before: SiteDocument, after: SiteDocument) -> Redrawing:
    """What two documents alone tell: pieces whose content or slots differ, pages that come or go or differ in facts."""
    same = before.pages == after.pages
    old, new = ({} if same else {page.path: page for page in document.pages} for document in (before, after))
    pieces = before.layout.pieces, after.layout.pieces
    return Redrawing(
        pieces=frozenset(
            slug
            for slug in pieces[0].keys() & pieces[1].keys()
            if drawn_from(pieces[0][slug]) != drawn_from(pieces[1][slug])
        ),
        pages=frozenset(
            path for path in old.keys() | new.keys() if path not in old or not old[path].same_facts(new.get(path))
        ),
        dresses=(before.layout.dresses, after.layout.dresses),
    )


_States = tuple[tuple[SiteDocument, PageIndex], tuple[SiteDocument, PageIndex]]


def _all_shifts(
    states: _States, since: datetime, alike: Alike, standing: Standing
) -> tuple[Iterable[Shift], list[Page]]:
    """Every shift, and the pages that cannot be told."""
    targets, reached = differing(*states[0], *states[1])
    if not targets:
        return (), []
    seating = frozenset().union(*(bearing_on_places(document.layout, targets) for document, _ in states))
    old, new = (_State(document, index, targets | seating, named=True) for document, index in states)
    groups: dict[tuple[int | None, int | None, frozenset[tuple[str, str]]], list[Page]] = {}
    for page in reached:
        key = (old.likeness(page.path), new.likeness(page.path), standing(page.path))
        groups.setdefault(key, []).append(page)
    return _gathered(
        groups,
        lambda group, path: _shifts(old, new, path, targets, seating, since, alike, group[2]),
        lambda shift: (
            shift.target,
            _named(shift.before),
            _named(shift.after),
            shift.widgets,
            shift.seated,
            shift.alike,
            shift.seen,
        ),
    )


def _all_redraws(states: _States, since: datetime, redrawing: Redrawing) -> tuple[Iterable[Redraw], list[Page]]:
    """Every redraw, and the pages that cannot be told."""
    (before, before_index), (after, after_index) = states
    wanted = redrawing.pieces.union(*redrawing.on_pages.values())
    # Their order counts: pages wear the first.
    dressed = list(redrawing.dresses[0].items()) != list(redrawing.dresses[1].items())
    if not wanted and not dressed:
        return (), []
    reached = PageSet.everything(after_index.size) if dressed else may_show(after.layout, after_index, wanted)
    targets = bearing_on_pieces(before.layout, wanted) | bearing_on_pieces(after.layout, wanted)
    if dressed and any(_DRESS in standard_targets(document.layout) for document, _ in states):
        targets |= {_DRESS}
    old = _State(before, before_index, targets)
    new = old if _stand_alike(before, after) else _State(after, after_index, targets)
    alike: dict[tuple[int | None, int | None, frozenset[str]], list[Page]] = {}
    for number in reached.numbers().tolist():
        page = after_index.tree.pages[number]
        pieces = redrawing.on(page.path)
        if (pieces or dressed) and page.path in before_index.tree.numbers:
            alike.setdefault((old.likeness(page.path), new.likeness(page.path), pieces), []).append(page)
    return _gathered(
        alike,
        lambda group, path: _redraws((old, new), path, targets, group[2], redrawing, since),
        lambda redraw: (redraw.piece, redraw.dress, redraw.seen),
    )


def _stand_alike(earlier: SiteDocument, later: SiteDocument) -> bool:
    """Whether pieces stand in both in the same places, as they differ at the most in what is drawn in them."""
    before, after = earlier.layout, later.layout
    return (
        (earlier.pages, earlier.taxonomies) == (later.pages, later.taxonomies)
        and (before.rules, before.default_template, before.settings, before.menus)
        == (after.rules, after.default_template, after.settings, after.menus)
        # Their order counts: pages wear the first.
        and list(before.dresses.items()) == list(after.dresses.items())
        and (before.held_slots, before.inner) == (after.held_slots, after.inner)
        and [(slug, piece.kind, piece.slots, piece.entries) for slug, piece in before.pieces.items()]
        == [(slug, piece.kind, piece.slots, piece.entries) for slug, piece in after.pieces.items()]
    )


def _gathered(
    alike: Mapping[_Group, list[Page]],
    told: Callable[[_Group, str], Iterable[_Change]],
    likeness: Callable[[_Change], object],
) -> tuple[Iterable[_Change], list[Page]]:
    """What is told of a page of each group, with the pages of the groups alike in it; pages that cannot be told."""
    found: dict[object, _Change] = {}
    untold: list[Page] = []
    for group, pages in alike.items():
        try:
            changes = told(group, pages[0].path)
        except TooManyCombinations:
            untold += pages
            continue
        for change in changes:
            key = likeness(change)
            known = found.get(key, change)
            found[key] = replace(known, pages=(*known.pages, *pages))
    return found.values(), untold


def may_show(layout: Layout, index: PageIndex, pieces: frozenset[str]) -> PageSet:
    """The pages on which a rule, or the default template, may put one of these pieces or a sidebar with one."""
    showing = holding(layout, pieces)
    if layout.default_template in showing:
        return PageSet.everything(index.size)
    reached = PageSet.none(index.size)
    for rule in layout.rules:
        if rule.on and any(action.piece in showing for action in rule.actions):
            for _, pages in index.levels(rule.condition):
                reached = reached | pages
    return reached


_Cells = list[tuple[int, int]]


def _shifts(
    old: _State,
    new: _State,
    path: str,
    targets: frozenset[Target],
    seating: frozenset[Target],
    since: datetime,
    alike: Alike,
    standing: frozenset[tuple[str, str]],
) -> Iterable[Shift]:
    """What comes out differently on one page; ``standing``: the pieces that show what stands in its own HTML."""
    sides = [_Side(state, path) for state in (old, new)]
    space = LensSpace((audience for side in sides for audience in side.audiences), since)
    found: dict[object, tuple[Shift, _Cells]] = {}
    ordered = sorted(targets, key=str)
    wanted = [*ordered, *sorted(seating - targets, key=str)]
    for grades, cells in space.cells.items():
        lens = space.lens(cells[0])
        outcomes = [side.outcomes(space, grades, wanted) for side in sides]
        was, now = (side.shown(ones, lens) for side, ones in zip(sides, outcomes, strict=True))
        differing = [target for target in ordered if _differ(was.get(target), now.get(target))]
        seated = [side.seated(ones, lens) for side, ones in zip(sides, outcomes, strict=True)] if differing else []
        stands = standing if all(map(_Side.is_in_place, sides, outcomes)) else frozenset()
        for target in differing:
            (before, widgets_before), (after, widgets_after) = (one.get(target, (None, ())) for one in (was, now))
            has_place = tuple(target.kind != "slot" or target.name in one for one in seated)
            key = (target, _named(before), _named(after), widgets_before, widgets_after, has_place)
            seats = has_place[0], has_place[1]
            shift = Shift(
                target,
                before,
                after,
                (widgets_before, widgets_after),
                (),
                (),
                seats,
                (seats[0] == seats[1] and _looks_alike(alike, was.get(target), now.get(target)))
                or (seats[1] and shows_what_stands(stands, target, before, after))
                or (seats[0] and shows_what_stands(stands, target, after, before)),
            )
            found.setdefault(key, (shift, []))[1].extend(cells)
    return [replace(shift, seen=space.sightings(cells)) for shift, cells in found.values()]


def _redraws(
    states: tuple[_State, _State],
    path: str,
    targets: frozenset[Target],
    pieces: frozenset[str],
    redrawing: Redrawing,
    since: datetime,
) -> Iterable[Redraw]:
    """Which of some pieces stand on one page before and after, and which dress it wears that is another, for whom."""
    # Where pieces stand in the same places before and after, one account is that of both.
    sides = [_Side(state, path) for state in dict.fromkeys(states)]
    space = LensSpace((audience for side in sides for audience in side.audiences), since)
    found: dict[Redraw, _Cells] = {}
    wanted = sorted(targets, key=str)
    for grades, cells in space.cells.items():
        lens = space.lens(cells[0])
        outcomes = [side.outcomes(space, grades, wanted) for side in sides]
        stand = pieces
        if pieces:
            for side, ones in zip(sides, outcomes, strict=True):
                stand &= side.seen(ones, lens)
        dresses = [side.dress(ones) for side, ones in zip(sides, outcomes, strict=True)]
        worn, wears = dresses[0], dresses[-1]
        # Where the setting says another dress, that is told as a shift.
        told = worn != wears and _DRESS in targets
        other = not told and redrawing.dresses[0].get(worn) != redrawing.dresses[1].get(wears)
        drawn = [*(Redraw(slug, (), ()) for slug in stand), *([Redraw("", (), (), wears)] if other else [])]
        for redraw in drawn:
            found.setdefault(redraw, []).extend(cells)
    return [replace(redraw, seen=space.sightings(cells)) for redraw, cells in found.items()]


_Shown = tuple[Outcome, tuple[str, ...]]


class _Side:
    """One page in one state."""

    def __init__(self, state: _State, path: str) -> None:
        self.tree, self.layout = state.index.tree, state.layout
        self.page = self.tree.page(path)
        self.matches: list[Match] = state.matches(path) if self.page else []
        self.audiences: list[Audience] = (
            audiences_on(self.tree, self.layout, self.page, self.matches) if self.page else []
        )

    def outcomes(self, space: LensSpace, grades: Grades, targets: list[Target]) -> dict[Target, Outcome]:
        """What each target comes to; nothing where the page is not there."""
        if self.page is None:
            return {}
        wanted = dict.fromkeys((TEMPLATE, *targets))
        found = resolve_graded(self.matches, space, grades, self.layout, self.page, wanted)
        if _DRESS in found and (worn := self.layout.dress(found[_DRESS].value)):
            # A page wears a dress whether the setting is declared or not.
            found[_DRESS] = replace(found[_DRESS], value=worn.slug)
        return found

    def shown(self, outcomes: dict[Target, Outcome], lens: Lens) -> Mapping[Target, _Shown]:
        """Outcomes, each with the widgets of the sidebars in it.

        What a page has there itself, and where, matters where it is drawn in its own HTML.
        """
        in_place = self.is_in_place(outcomes)
        return {
            target: (one if in_place or one.own_at is None else replace(one, own_at=None), self._widgets(one, lens))
            for target, one in outcomes.items()
        }

    def dress(self, outcomes: dict[Target, Outcome]) -> str:
        """The slug of the dress that the page wears; empty where the site has none."""
        worn = self.layout.dress(outcomes[_DRESS].value if _DRESS in outcomes else None)
        return worn.slug if worn else ""

    def seated(self, outcomes: dict[Target, Outcome], lens: Lens) -> frozenset[str]:
        """The slots that have a place."""
        if self.page is None:
            return frozenset()
        return seated_slots(self.layout, self.page, outcomes, lens, self.tree)

    def is_in_place(self, outcomes: dict[Target, Outcome]) -> bool:
        """Whether the page is drawn in its own HTML."""
        return self.page is not None and is_in_place(self.page, outcomes)

    def seen(self, outcomes: dict[Target, Outcome], lens: Lens) -> frozenset[str]:
        """The pieces that are seen."""
        assert self.page is not None
        seen = seen_pieces(self.layout, self.page, outcomes, lens, self.tree)
        return frozenset(one.piece for one in seen)

    def _widgets(self, outcome: Outcome, lens: Lens) -> tuple[str, ...]:
        """The widgets of the sidebars among an outcome's pieces."""
        assert self.page is not None
        sidebars = [piece for slug in outcome.pieces if (piece := self.layout.pieces.get(slug)) and piece.entries]
        return tuple(
            widget.slug
            for sidebar in sidebars
            for widget in shown_entries(self.layout, sidebar, self.tree, self.page, lens)
        )


def _differ(before: _Shown | None, after: _Shown | None) -> bool:
    """Whether a visitor can see the difference; a page that comes or goes differs where it shows something."""
    both = [None if one is None else (shown(one[0]), one[1]) for one in (before, after)]
    if None in both:
        return any(one is not None and one[0].state == "filled" for one in (before, after))
    return both[0] != both[1]


def _looks_alike(alike: Alike, before: _Shown | None, after: _Shown | None) -> bool:
    """Whether other pieces stand there that are drawn from the same, and their widgets too."""
    if before is None or after is None:
        return False
    (was, widgets_before), (now, widgets_after) = before, after
    same_widgets = widgets_before == widgets_after or alike(widgets_before, widgets_after)
    return same_widgets and was.own_at == now.own_at and alike(was.pieces, now.pieces)


def _named(outcome: Outcome | None) -> object:
    """An outcome by what it shows and by the name of its decider."""
    return outcome and (shown(outcome), outcome.by.name if outcome.by else None)
