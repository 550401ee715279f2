"""Impact: the pages, targets and looks that differ between two states of a site, over all visitors and moments.

Only pages that some differing part reaches are looked at, only for the targets it acts on, and pages that the rules
of these targets treat alike once.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from difflib import SequenceMatcher

from .cascade import Outcome, shown_entries, standard_targets
from .classes import PageClasses
from .document import SiteDocument
from .index import PageIndex
from .lenses import Grades, LensSpace, Sighting, TooManyCombinations
from .looks import audiences_on, matching_rules, resolve_graded
from .lookup import Match
from .model import TEMPLATE, Audience, Layout, Lens, Page, Rule, Target
from .pageset import PageSet


@dataclass(frozen=True)
class Shift:
    """One target that comes out differently in the same way: on these pages, for these visitors at these times.

    ``before`` and ``after`` are None where the page is not there. ``widgets``: what the sidebars in the slot show,
    before and after.
    """

    target: Target
    before: Outcome | None
    after: Outcome | None
    widgets: tuple[tuple[str, ...], tuple[str, ...]]
    seen: tuple[Sighting, ...]
    pages: tuple[Page, ...]


@dataclass(frozen=True)
class Impact:
    """Every shift, most pages first. ``untold``: pages with more combinations of visitors than can be told apart."""

    shifts: tuple[Shift, ...]
    untold: tuple[Page, ...]

    @property
    def paths(self) -> set[str]:
        """The paths of all pages that differ."""
        return {page.path for shift in self.shifts for page in shift.pages}


class _State:
    """One state, narrowed to the targets that may differ: rules that do not act on them are left out."""

    def __init__(self, document: SiteDocument, index: PageIndex, targets: frozenset[Target]) -> None:
        self.index = index
        layout = document.layout
        self.layout = replace(layout, rules=tuple(_narrowed(layout.rules, targets)))
        self.classes = PageClasses(index, self.layout).numbers

    def class_of(self, path: str) -> int | None:
        number = self.index.site.numbers.get(path)
        return None if number is None else int(self.classes[number])


def _narrowed(rules: Iterable[Rule], targets: frozenset[Target]) -> Iterable[Rule]:
    for rule in rules:
        actions = tuple(action for action in rule.actions if action.target in targets)
        if actions:
            yield replace(rule, actions=actions)


def impact(
    before: SiteDocument, before_index: PageIndex, after: SiteDocument, after_index: PageIndex, since: datetime
) -> Impact:
    """What differs between two states from a moment on."""
    targets, reached = _differing(before, before_index, after, after_index)
    if not targets:
        return Impact((), ())
    old, new = _State(before, before_index, targets), _State(after, after_index, targets)
    alike: dict[tuple[int | None, int | None], list[Page]] = {}
    for page in reached:
        alike.setdefault((old.class_of(page.path), new.class_of(page.path)), []).append(page)
    shifts: dict[object, Shift] = {}
    untold: list[Page] = []
    for pages in alike.values():
        try:
            found = _shifts(old, new, pages[0].path, targets, since)
        except TooManyCombinations:
            untold += pages
            continue
        for shift in found:
            key = (shift.target, _named(shift.before), _named(shift.after), shift.widgets, shift.seen)
            known = shifts.get(key, shift)
            shifts[key] = replace(known, pages=(*known.pages, *pages))
    ordered = sorted(shifts.values(), key=lambda shift: (-len(shift.pages), str(shift.target)))
    return Impact(tuple(ordered), tuple(untold))


def _differing(
    before: SiteDocument, before_index: PageIndex, after: SiteDocument, after_index: PageIndex
) -> tuple[frozenset[Target], list[Page]]:
    """The targets that may come out differently, and the pages on which they may: those of ``after`` first."""
    every = {*standard_targets(before.layout), *standard_targets(after.layout)}
    every.update(Target("slot", slot) for page in (*before.pages, *after.pages) for slot in page.slots)
    if before.pages != after.pages or before.term_parents != after.term_parents:
        gone = [page for page in before_index.site.pages if page.path not in after_index.site.numbers]
        return frozenset(every), [*after_index.site.pages, *gone]
    targets: set[Target] = set()
    everywhere = False
    if before.layout.default_template != after.layout.default_template:
        targets.add(TEMPLATE)
        everywhere = True
    defaults = before.layout.setting_defaults, after.layout.setting_defaults
    changed = {name for name in {*defaults[0], *defaults[1]} if defaults[0].get(name) != defaults[1].get(name)}
    if changed:
        targets.update(Target("setting", name) for name in changed)
        everywhere = True
    sidebars = _changed_entries(before.layout, after.layout)
    rules = _changed_rules(before.layout.rules, after.layout.rules, sidebars)
    targets.update(action.target for rule in rules for action in rule.actions)
    reached = PageSet.everything(after_index.size) if everywhere else PageSet.none(after_index.size)
    for rule in rules:
        for _, pages in after_index.levels(rule.condition):
            reached = reached | pages
    return frozenset(targets & every), [after_index.site.pages[number] for number in reached.numbers().tolist()]


def _changed_entries(before: Layout, after: Layout) -> set[str]:
    """The sidebars whose entries differ."""
    slugs = {*before.pieces, *after.pieces}
    entries = ({slug: piece.entries for slug, piece in layout.pieces.items()} for layout in (before, after))
    old, new = entries
    return {slug for slug in slugs if old.get(slug, ()) != new.get(slug, ())}


def _changed_rules(before: tuple[Rule, ...], after: tuple[Rule, ...], sidebars: set[str]) -> list[Rule]:
    """The rules of either state that are not in the other, that moved, or that show a changed sidebar."""
    old, new = ([_content(rule) for rule in rules] for rules in (before, after))
    found = []
    for how, low, high, new_low, new_high in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if how != "equal":
            found += [*before[low:high], *after[new_low:new_high]]
    shows = [rule for rule in (*before, *after) if any(action.piece in sidebars for action in rule.actions)]
    return [rule for rule in (*found, *shows) if rule.on]


def _content(rule: Rule) -> Rule:
    """What of a rule can make a difference, besides what it is called: its deciders are named."""
    return replace(rule, note="", key=None)


def _shifts(old: _State, new: _State, path: str, targets: frozenset[Target], since: datetime) -> Iterable[Shift]:
    """What differs on one page."""
    sides = [_Side(state, path) for state in (old, new)]
    space = LensSpace((audience for side in sides for audience in side.audiences), since)
    found: dict[object, tuple[Shift, list[tuple[int, int]]]] = {}
    ordered = sorted(targets, key=str)
    for grades, cells in space.cells.items():
        lens = space.lens(cells[0])
        was, now = (side.outcomes(space, grades, lens, ordered) for side in sides)
        for target in ordered:
            if _differ(was.get(target), now.get(target)):
                (before, widgets_before), (after, widgets_after) = (one.get(target, (None, ())) for one in (was, now))
                key = (target, _named(before), _named(after), widgets_before, widgets_after)
                shift = Shift(target, before, after, (widgets_before, widgets_after), (), ())
                found.setdefault(key, (shift, []))[1].extend(cells)
    return [replace(shift, seen=space.sightings(cells)) for shift, cells in found.values()]


_Shown = tuple[Outcome, tuple[str, ...]]


class _Side:
    """One page in one state."""

    def __init__(self, state: _State, path: str) -> None:
        self.site, self.layout = state.index.site, state.layout
        self.page = self.site.page(path)
        self.matches: list[Match] = matching_rules(self.site, self.layout, self.page) if self.page else []
        self.audiences: list[Audience] = (
            audiences_on(self.site, self.layout, self.page, self.matches) if self.page else []
        )

    def outcomes(self, space: LensSpace, grades: Grades, lens: Lens, targets: list[Target]) -> Mapping[Target, _Shown]:
        """What each target comes to, with the widgets of the sidebars in it; nothing where the page is not there."""
        if self.page is None:
            return {}
        wanted = dict.fromkeys((TEMPLATE, *targets))
        outcomes = resolve_graded(self.matches, space, grades, self.layout, self.page, wanted)
        return {target: (outcome, self._widgets(outcome, lens)) for target, outcome in outcomes.items()}

    def _widgets(self, outcome: Outcome, lens: Lens) -> tuple[str, ...]:
        """The widgets of the sidebars among an outcome's pieces."""
        assert self.page is not None
        sidebars = [piece for slug in outcome.pieces if (piece := self.layout.pieces.get(slug)) and piece.entries]
        return tuple(
            widget.slug
            for sidebar in sidebars
            for widget in shown_entries(self.layout, sidebar, self.site, self.page, lens)
        )


def _differ(before: _Shown | None, after: _Shown | None) -> bool:
    """Whether a visitor can see the difference; a page that comes or goes differs where it shows something."""
    shown = [None if one is None else (_plain(one[0]), one[1]) for one in (before, after)]
    if None in shown:
        return any(one is not None and one[0].state == "filled" for one in (before, after))
    return shown[0] != shown[1]


def _plain(outcome: Outcome) -> object:
    return (outcome.state, outcome.pieces, outcome.value)


def _named(outcome: Outcome | None) -> object:
    """An outcome by what it shows and by the name of its decider."""
    return outcome and (_plain(outcome), outcome.by.name if outcome.by else None)
