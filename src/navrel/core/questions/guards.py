"""Guards: whether what must stay so is so, over every look of every page that they reach.

Pages that come out alike are looked at once; rules that cannot touch what a guard asks for are left out.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import datetime
from typing import NamedTuple

import numpy as np

from ..cascade.lookup import PageResolver
from ..cascade.plain import Outcome, compare, is_locked
from ..cascade.seating import Seen, seated_slots, seen_pieces
from ..cascade.strength import Match, PageActions
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.condition import Audience
from ..layout.contents import items_of
from ..layout.document import SiteDocument
from ..layout.model import SLOTS, TEMPLATE, Demand, Guard, Layout, Rule, SettingValue, Target
from ..lenses.looks import audiences_on, graded_actions
from ..lenses.space import LensSpace, Sighting
from ..lenses.visitors import TooManyCombinations
from ..pages.page import Page
from .alike_pages import AlikePages
from .bearing import bearing_on_pieces, bearing_on_places
from .guard_memory import GuardMemory


class Fault(NamedTuple):
    """How a look does not meet a demand.

    ``found``: the pieces that are seen in the slot, or those of the page that are too many, not wanted, or, where they
    are to be seen, missing. ``value``: what a setting has instead. ``by``: the name of the rule that made it so, None
    for none.
    """

    found: tuple[str, ...]
    value: SettingValue | None
    by: str | None


@dataclass(frozen=True)
class Breach:
    """Looks of some pages, in tree order, that do not meet a guard's demand, all in the same way."""

    fault: Fault
    pages: tuple[Page, ...]
    seen: tuple[Sighting, ...]


@dataclass(frozen=True)
class GuardState:
    """How a guard stands: on how many pages it is asked, where it is broken, the most pages first, and where it is not
    known: the slot is another system's there, or there are too many visitors and times to tell apart."""

    guard: Guard
    reached: int
    breaches: tuple[Breach, ...] = ()
    unknown: tuple[Page, ...] = ()

    @property
    def is_broken(self) -> bool:
        return bool(self.breaches)

    @property
    def broken_on(self) -> tuple[Page, ...]:
        """The pages with a look that does not meet it, each once."""
        return tuple({page.path: page for breach in self.breaches for page in breach.pages}.values())


def check_guards(
    document: SiteDocument, index: PageIndex, since: datetime, memory: Remembered | None = None
) -> list[GuardState]:
    """How every guard stands from a moment on; one that is off is asked of no page.

    ``memory``: begun from that of the last time, it spares what is as it was then, and is filled for the next.
    """
    layout = document.layout
    memory = GuardMemory() if memory is None else memory
    memory.begin(index, layout, since)
    found = {guard.name: GuardState(guard, 0) for guard in layout.guards}
    groups: dict[frozenset[Target], list[Guard]] = defaultdict(list)
    for guard in layout.guards:
        if guard.on:
            groups[_needed(layout, guard.demand)].append(guard)
    for targets, guards in groups.items():
        for state in _Round(index, layout, targets, guards, memory).states(since):
            found[state.guard.name] = state
    return list(found.values())


def _needed(layout: Layout, demand: Demand) -> frozenset[Target]:
    """The targets that can make a difference to a demand."""
    target = demand.target
    if target is not None and target.kind != "slot":
        return frozenset({target})
    asked = frozenset({target} if target is not None else ())
    if demand.kind in ("holds", "lacks", "at-most"):
        wanted = {slug for slug in layout.pieces if _is_meant(layout, slug, demand)}
        return asked | bearing_on_pieces(layout, wanted)
    return asked | bearing_on_places(layout, asked)


#: For each guard that reaches some pages the ways in which looks do not meet it, each with who sees that and when;
#: None where that cannot be told.
_Found = dict[str, tuple[tuple[Fault, tuple[Sighting, ...]], ...] | None]
Remembered = GuardMemory[_Found]


class _Space:
    """Lenses, and who sees what in words that are looked for once."""

    def __init__(self, space: LensSpace) -> None:
        self.space = space
        self._told: dict[tuple[tuple[int, int], ...], tuple[Sighting, ...]] = {}

    def sightings(self, cells: list[tuple[int, int]]) -> tuple[Sighting, ...]:
        """Who sees what is so in these cells, and when."""
        key = tuple(cells)
        if key not in self._told:
            self._told[key] = self.space.sightings(cells)
        return self._told[key]


class _Round:
    """Some guards that the same targets make a difference to."""

    def __init__(
        self, index: PageIndex, layout: Layout, targets: frozenset[Target], guards: list[Guard], memory: Remembered
    ) -> None:
        rules = memory.narrowed(layout.rules, targets)
        self.memory = memory
        self.layout = replace(layout, rules=(*rules, *map(memory.asking, guards)), guards=())
        self.index = index
        self.guards = {len(rules) + number: guard for number, guard in enumerate(guards, start=1)}
        self.targets = sorted(targets, key=_in_page_order)
        self.alike = AlikePages(PageResolver(index, self.layout), memory.unbeaten)
        # Very many classes of pages meet the same few audiences.
        self._spaces: dict[frozenset[Audience], _Space] = {}
        self._counted = {guard.name: _counted(layout, guard.demand) for guard in guards}

    def states(self, since: datetime) -> Iterator[GuardState]:
        """How each of the guards stands."""
        reached: dict[str, int] = defaultdict(int)
        unknown: dict[str, list[int]] = defaultdict(list)
        broken: dict[str, dict[tuple[Fault, tuple[Sighting, ...]], list[int]]] = defaultdict(lambda: defaultdict(list))
        guards = tuple(self.guards.values())
        token = self.memory.token(guards)
        for members in self._groups():
            first = members[0]
            found = self.memory.recall(token, self.alike.likeness(first), lambda first=first: self._found(first, since))  # type: ignore[misc]
            for name, faults in found.items():
                reached[name] += len(members)
                if faults is None:
                    unknown[name] += members
                for fault, seen in faults or ():
                    broken[name][fault, seen] += members
        for guard in guards:
            breaches = [
                Breach(fault, self._pages(numbers), seen) for (fault, seen), numbers in broken[guard.name].items()
            ]
            breaches.sort(key=lambda breach: -len(breach.pages))
            yield GuardState(guard, reached[guard.name], tuple(breaches), self._pages(unknown[guard.name]))

    def _found(self, number: int, since: datetime) -> _Found:
        """What each guard that reaches a page comes to there, by its name."""
        page = self.index.tree.pages[number]
        matches = self.alike.matches(number)
        mine = [(match, self.guards[match.place]) for match in matches if match.place in self.guards]
        told = [one for one in mine if not _is_owned(page, one[1].demand)]
        found: _Found = {guard.name: None for _, guard in mine}
        try:
            asked = [one for one in told if self._can_break(matches, one[1])]
            faults = list(self._faults(page, matches, asked, since))
        except TooManyCombinations:
            return found
        for _, guard in told:
            found[guard.name] = tuple((fault, seen) for one, fault, seen in faults if one is guard)
        return found

    def _can_break(self, matches: list[Match], guard: Guard) -> bool:
        """Whether rules may put more pieces on a page than a guard allows: most pages need no look to tell that."""
        counted = self._counted[guard.name]
        if counted is None:
            return True
        acting = [action.piece for match in matches for action in match.rule.actions]
        return sum(counted.get(slug, 0) for slug in (*acting, self.layout.default_template)) > guard.demand.most

    def _groups(self) -> Iterable[list[int]]:
        """The pages that some guard may reach, those that come out alike together."""
        reach = np.zeros(self.index.size, dtype=np.bool_)
        for guard in self.guards.values():
            for clause in guard.condition.include.clauses:
                reach |= self.index.clause(clause).mask()
        members: dict[int, list[int]] = defaultdict(list)
        for number in np.flatnonzero(reach).tolist():
            members[self.alike.group(number)].append(number)
        return members.values()

    def _faults(
        self, page: Page, matches: list[Match], asked: list[tuple[Match, Guard]], since: datetime
    ) -> Iterator[tuple[Guard, Fault, tuple[Sighting, ...]]]:
        """What looks of a page do not meet. Raises TooManyCombinations."""
        if not asked:
            return
        told = self._space(audiences_on(self.index.tree, self.layout, page, matches), since)
        space = told.space
        found: dict[tuple[int, Fault], list[tuple[int, int]]] = defaultdict(list)
        for grades, cells in space.cells.items():
            admitting = [number for number, (match, _) in enumerate(asked) if _admits(space, grades, match.rule)]
            if not admitting:
                continue
            look = _Look(self, page, space.lens(cells[0]), graded_actions(matches, space, grades))
            for number in admitting:
                fault = look.fault(asked[number][1].demand)
                if fault is not None:
                    found[number, fault] += cells
        for (number, fault), cells in found.items():
            yield asked[number][1], fault, told.sightings(cells)

    def _space(self, audiences: list[Audience], since: datetime) -> _Space:
        """The lenses that some audiences can tell apart. Raises TooManyCombinations."""
        key = frozenset(audiences)
        if key not in self._spaces:
            self._spaces[key] = _Space(LensSpace(audiences, since))
        return self._spaces[key]

    def _pages(self, numbers: list[int]) -> tuple[Page, ...]:
        return tuple(self.index.tree.pages[number] for number in sorted(numbers))


def _is_meant(layout: Layout, slug: str, demand: Demand) -> bool:
    """Whether a piece is one of those that a demand wants, or allows only so many of, or none."""
    if demand.pieces:
        return slug in demand.pieces
    piece = layout.pieces.get(slug)
    if piece is None:
        return False
    if demand.piece_kind:
        return piece.kind == demand.piece_kind
    return any(item.get("type") == demand.item for item in items_of(piece.content))


def _counted(layout: Layout, demand: Demand) -> dict[str | None, int] | None:
    """How many of the pieces that a demand counts each piece may bring along; None where it does not count."""
    if demand.kind not in ("lacks", "at-most"):
        return None
    found: dict[str | None, int] = {}
    for slug, piece in layout.pieces.items():
        tops = (slug, *(entry.piece for entry in piece.entries_on))
        brought = [one for top in tops for one in (top, *layout.inner.get(top, ()))]
        if count := sum(_is_meant(layout, one, demand) for one in brought):
            found[slug] = count
    return found


def _in_page_order(target: Target) -> tuple[int, str]:
    return (SLOTS.index(target.name) if target.name in SLOTS else len(SLOTS), str(target))


def _admits(space: LensSpace, grades: tuple[int | None, ...], asking: Rule) -> bool:
    number = space.place_of.get(asking.condition.audience)
    return number is None or grades[number] is not None


def _is_owned(page: Page, demand: Demand) -> bool:
    """Whether what a demand asks of is another system's on a page."""
    return demand.target is not None and is_locked(page, demand.target)


class _Look:
    """What one page comes to for some visitors at some times, as far as the targets of a round tell."""

    def __init__(self, asked: _Round, page: Page, lens: Lens, acting: PageActions) -> None:
        self.layout, self.tree, self.page, self.lens, self.acting = asked.layout, asked.index.tree, page, lens, acting
        self.outcomes = {
            target: compare(acting.get(target, []), self.layout, target, locked=is_locked(page, target))[0]
            for target in asked.targets
        }
        self._seen: list[Seen] | None = None

    def fault(self, demand: Demand) -> Fault | None:
        """How it does not meet a demand; None where it does."""
        target = demand.target
        match demand.kind:
            case "is" if target is not None and target.kind == "setting":
                outcome = self.outcomes[target]
                return None if _same(outcome.value, demand.values) else Fault((), outcome.value, _name(outcome.by))
            case "is" if target == TEMPLATE:
                outcome = self.outcomes[TEMPLATE]
                met = bool(outcome.pieces) and outcome.pieces[0] in demand.pieces
                return None if met else Fault(outcome.pieces, None, _name(outcome.by))
            case "shows" | "bare" | "is":
                assert target is not None
                return self._slot_fault(demand, target)
            case "holds":
                missing = set(demand.pieces) - {one.piece for one in self._within(target)}
                by = _name(self.outcomes[target].by) if target is not None else None
                return Fault(tuple(slug for slug in demand.pieces if slug in missing), None, by) if missing else None
            case "lacks":
                return self._too_many([one for one in self._within(target) if one.piece in demand.pieces], 0)
            case _:
                return self._too_many(
                    [one for one in self.seen if _is_meant(self.layout, one.piece, demand)], demand.most
                )

    def _slot_fault(self, demand: Demand, target: Target) -> Fault | None:
        outcome = self.outcomes[target]
        template = self.outcomes[TEMPLATE]
        seated = target.name in seated_slots(self.layout, self.page, self.outcomes, self.lens, self.tree)
        shown = outcome.pieces if seated else ()
        wanted = demand.pieces if demand.kind == "is" else ()
        if bool(shown) if demand.kind == "shows" else shown == wanted:
            return None
        if shown:
            return Fault(shown, None, self._rule_of(target, shown[0], outcome))
        # Without a place the template is to blame, whatever is meant for the slot.
        return Fault((), None, _name((outcome if seated else template).by))

    def _too_many(self, seen: list[Seen], most: int) -> Fault | None:
        if len(seen) <= most:
            return None
        last = seen[-1]
        target = Target("slot", last.slot) if last.slot else TEMPLATE
        by = self._rule_of(target, last.top, self.outcomes[target])
        return Fault(tuple(one.piece for one in seen), None, by)

    def _rule_of(self, target: Target, slug: str, outcome: Outcome) -> str | None:
        """The rule that put a piece into a target: the strongest that acts so, else the decider."""
        acting = (contender.rule for contender, action in self.acting.get(target, []) if action.piece == slug)
        return _name(next(acting, outcome.by))

    @property
    def seen(self) -> list[Seen]:
        """The pieces that are seen."""
        if self._seen is None:
            self._seen = seen_pieces(self.layout, self.page, self.outcomes, self.lens, self.tree)
        return self._seen

    def _within(self, target: Target | None) -> list[Seen]:
        """What is seen in a slot, and in the slots of what is seen there; on the whole page where none is named."""
        if target is None:
            return self.seen
        slots = [target.name]
        found: list[Seen] = []
        for slot in slots:
            here = [one for one in self.seen if one.slot == slot]
            found += here
            held = (name for one in here for name in sorted(self.layout.held_slots.get(one.piece, ())))
            slots += [name for name in dict.fromkeys(held) if name not in slots]
        return found


def _name(rule: Rule | None) -> str | None:
    return None if rule is None else rule.name


def _same(value: SettingValue | None, values: Iterable[SettingValue]) -> bool:
    """Whether a value is one of some; yes is not 1 (the types of JSON, RFC 8259)."""
    return any(value == one and isinstance(value, bool) == isinstance(one, bool) for one in values)


def newly_broken(
    before: SiteDocument, after: SiteDocument, index: PageIndex, touched: Iterable[Target], since: datetime
) -> list[GuardState]:
    """The guards that are broken in ``after`` on pages where they are not in ``before``, each with those pages alone.

    Both have the same pages and guards, and differ in what acts on the ``touched`` targets alone.
    """
    changed = set(touched)
    asked = tuple(guard for guard in after.layout.guards if not changed.isdisjoint(_needed(after.layout, guard.demand)))
    after = replace(after, layout=replace(after.layout, guards=asked))
    memory: Remembered = GuardMemory()
    broken = [state for state in check_guards(after, index, since, memory) if state.is_broken]
    if not broken:
        return []
    before = replace(before, layout=replace(before.layout, guards=asked))
    earlier = check_guards(before, index, since, GuardMemory(memory))
    known = {state.guard: {page.path for page in state.broken_on} for state in earlier}
    found = []
    for state in broken:
        there = known.get(state.guard, set())
        fresh = [
            replace(breach, pages=pages)
            for breach in state.breaches
            if (pages := tuple(page for page in breach.pages if page.path not in there))
        ]
        if fresh:
            found.append(replace(state, breaches=tuple(fresh)))
    return found
