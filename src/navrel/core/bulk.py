"""The cascade for a whole site at once: page sets instead of pages, the same answers as `cascade.py`.

A rule becomes a few levels, one for each specificity that its include clauses give; a target is swept from its
strongest level down, each level taking the pages that no stronger one took.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .cascade import Outcome, Strength, seated_slots, standard_targets
from .conditions import Refused, Specificity, visitor_specificity
from .index import PageIndex
from .model import ADDING, TEMPLATE, Action, Condition, Layout, Rule, Target, Visitor
from .pageset import PageSet
from .query import Counts

Codes = NDArray[np.int64]


@dataclass(frozen=True)
class Level:
    """The pages on which a rule contends with this strength."""

    strength: Strength
    rule: Rule
    pages: PageSet


@dataclass(frozen=True)
class TargetOutcomes:
    """One target over all pages: ``codes[page]`` (shape (pages,), dtype int64) is a place in ``outcomes``."""

    codes: Codes
    outcomes: tuple[Outcome, ...]

    def on(self, number: int) -> Outcome:
        """The outcome on one page."""
        return self.outcomes[int(self.codes[number])]


def condition_levels(index: PageIndex, condition: Condition) -> list[tuple[Counts, PageSet]]:
    """The pages that the page part of a condition matches, parted by the specificity they get; greatest first."""
    by_counts: dict[Counts, PageSet] = {}
    for clause in condition.include.clauses:
        pages = index.clause(clause)
        known = by_counts.get(clause.counts)
        by_counts[clause.counts] = pages if known is None else known | pages
    left = ~index.query(condition.exclude)
    levels = []
    for counts in sorted(by_counts, reverse=True):
        pages = by_counts[counts] & left
        left = left - pages
        if pages:
            levels.append((counts, pages))
    return levels


def rule_levels(index: PageIndex, layout: Layout, visitor: Visitor) -> list[Level]:
    """Every level of every rule in force for this visitor, strongest first."""
    levels = []
    for place, rule in enumerate(layout.rules, start=1):
        if not rule.on:
            continue
        visitors = visitor_specificity(visitor, rule.condition)
        if isinstance(visitors, Refused):
            continue
        levels += [
            Level(Strength(rule.priority, Specificity(*counts, visitors), -place), rule, pages)
            for counts, pages in condition_levels(index, rule.condition)
        ]
    levels.sort(key=lambda level: level.strength, reverse=True)
    return levels


def resolve_all(
    index: PageIndex, layout: Layout, visitor: Visitor, targets: tuple[Target, ...] | None = None
) -> dict[Target, TargetOutcomes]:
    """The outcome of each target on every page of the site, for one visitor."""
    levels = rule_levels(index, layout, visitor)
    wanted = standard_targets(layout) if targets is None else targets
    return {target: _sweep(index, layout, levels, target) for target in wanted}


def _sweep(index: PageIndex, layout: Layout, levels: list[Level], target: Target) -> TargetOutcomes:
    """One target, strongest level first."""
    undecided = PageSet.everything(index.size)
    unclosed = undecided
    codes: Codes = np.zeros(index.size, dtype=np.int64)
    made: list[Outcome] = [_undecided(layout, target)]
    additions: list[tuple[Action, PageSet]] = []
    for level in levels:
        actions = [action for action in level.rule.actions if action.target == target]
        # A deciding rule's own additions are as strong as its decision, so they come before it closes the slot.
        for action in actions:
            if action.do in ADDING and (pages := level.pages & unclosed):
                additions.append((action, pages))
        for action in actions:
            if action.do in ADDING or not (won := level.pages & undecided):
                continue
            undecided = undecided - won
            if action.closes:
                unclosed = unclosed - won
            codes[won.mask()] = len(made)
            made.append(_decided(action, level.rule))
    outcomes = _add(codes, made, additions)
    return _lock(index, target, codes, outcomes)


def _undecided(layout: Layout, target: Target) -> Outcome:
    if target == TEMPLATE and layout.default_template:
        return Outcome("filled", (layout.default_template,))
    return Outcome("unset")


def _decided(action: Action, rule: Rule) -> Outcome:
    return Outcome("filled", (action.piece,), rule) if action.piece else Outcome("empty", (), rule)


def _add(codes: Codes, made: list[Outcome], additions: list[tuple[Action, PageSet]]) -> list[Outcome]:
    """Combine the decided codes, in place, with the additions: one outcome for each combination that occurs."""
    combinations: list[tuple[int, tuple[int, ...]]] = [(code, ()) for code in range(len(made))]
    for number, (_, pages) in enumerate(additions):
        added = pages.mask()
        marked = codes * 2 + added
        codes[:] = marked
        kept, dense = np.unique(codes, return_inverse=True)
        combinations = [
            (
                combinations[code >> 1][0],
                (*combinations[code >> 1][1], number) if code & 1 else combinations[code >> 1][1],
            )
            for code in kept.tolist()
        ]
        codes[:] = dense
    return [_with_additions(made[base], [additions[number][0] for number in held]) for base, held in combinations]


def _with_additions(decided: Outcome, actions: list[Action]) -> Outcome:
    """The outcome once additions, given strongest first, stand around the filler; each piece shows once."""
    seen = set(decided.pieces)
    shown: dict[str, list[str]] = {"prepend": [], "append": []}
    for action in actions:
        if action.piece is not None and action.piece not in seen:
            seen.add(action.piece)
            shown[action.do].append(action.piece)
    pieces = (*shown["prepend"], *decided.pieces, *shown["append"])
    return Outcome("filled", pieces, decided.by) if pieces else decided


def _lock(index: PageIndex, target: Target, codes: Codes, outcomes: list[Outcome]) -> TargetOutcomes:
    """Pages that lock the slot have that outcome, whatever contends."""
    locked = index.locking(target)
    if locked:
        codes[locked.mask()] = len(outcomes)
        outcomes = [*outcomes, Outcome("locked")]
    return TargetOutcomes(codes, tuple(outcomes))


def unseated_pages(
    index: PageIndex, layout: Layout, visitor: Visitor, resolved: dict[Target, TargetOutcomes]
) -> dict[str, PageSet]:
    """For each slot, the pages where it shows something but has no place; ``resolved`` holds every slot.

    Pages that agree in all outcomes and in their own slots are asked once, but for layouts whose widgets hold
    slots: there a sidebar may show other widgets on each page.
    """
    slots = [target for target in resolved if target.kind == "slot"]
    template = resolved[TEMPLATE]
    asks_each = any(piece.slots for piece in layout.pieces.values() if piece.kind == "widget")
    own = np.arange(index.size) if asks_each else _numbered(page.slots for page in index.site.pages)
    alike = np.stack([own, template.codes, *(resolved[target].codes for target in slots)], axis=1)
    _, firsts, kinds = np.unique(alike, axis=0, return_index=True, return_inverse=True)
    answers = np.zeros((len(firsts), len(slots)), dtype=np.bool_)
    for kind, number in enumerate(firsts.tolist()):
        outcomes = {target.name: resolved[target].on(number) for target in slots}
        page = index.site.pages[number]
        seated = seated_slots(layout, page, template.on(number), outcomes, visitor, index.site)
        answers[kind] = [bool(outcomes[slot.name].pieces) and slot.name not in seated for slot in slots]
    return {slot.name: PageSet.from_mask(answers[kinds, column]) for column, slot in enumerate(slots)}


def _numbered(values: Iterable[Hashable]) -> Codes:
    """A number for each value, equal where the values are."""
    numbers: dict[Hashable, int] = {}
    return np.array([numbers.setdefault(value, len(numbers)) for value in values], dtype=np.int64)
