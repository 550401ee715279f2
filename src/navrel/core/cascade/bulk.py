"""The cascade for a whole site at once: page sets instead of pages, the same answers as `cascade.py`.

A rule becomes a few levels, one for each specificity that its include clauses give; a target is swept from its
strongest level down, each level taking the pages that no stronger one took.
"""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.condition import Condition
from ..layout.model import FORM, IN_PLACE, Action, Layout, Piece, Rule, Target
from ..pages.pageset import Codes, PageSet, Words, combine
from .conditions import Specificity, Unmet, weigh_audience
from .plain import Outcome, Stack, decided_outcome, stacked, standard_targets, undecided_outcome
from .seating import seated_slots
from .strength import Strength

#: Additions whose presence is told by the bits of one number, beside the code of what they are added to.
_ADDITIONS_AT_ONCE = 40


class Level(NamedTuple):
    """The pages on which a rule contends with this strength."""

    strength: Strength
    rule: Rule
    pages: PageSet


Acting = list[tuple[Action, Level]]


class Share(NamedTuple):
    """The pages that one action gets, and with which strength.

    ``won`` are the words of those pages within the span of the level: all others are blank, and a section of a site
    is few of them.
    """

    action: Action
    level: Level
    won: Words

    @property
    def pages(self) -> PageSet:
        """The pages that the action gets."""
        pages = PageSet.none(self.level.pages.size)
        pages.words[self.level.pages.span] = self.won
        return pages

    def numbers(self) -> NDArray[np.intp]:
        """Their numbers, ascending."""
        found: NDArray[np.intp] = PageSet(self.won, 64 * len(self.won)).numbers() + 64 * self.level.pages.span.start
        return found


@dataclass(frozen=True)
class Sweep:
    """One target over all pages: who decides where, and what is added where; strongest first."""

    deciding: tuple[Share, ...]
    adding: tuple[Share, ...]
    locked: PageSet


@dataclass(frozen=True)
class TargetOutcomes:
    """One target over all pages: ``codes[page]`` (shape (pages,), dtype int32) is a place in ``outcomes``."""

    codes: Codes
    outcomes: tuple[Outcome, ...]

    def on(self, number: int) -> Outcome:
        """The outcome on one page."""
        return self.outcomes[int(self.codes[number])]


def rule_levels(index: PageIndex, layout: Layout, lens: Lens) -> list[Level]:
    """Every level of every rule in force through this lens, strongest first."""
    levels = []
    for place, rule in enumerate(layout.rules, start=1):
        if not rule.on:
            continue
        audience = weigh_audience(lens, rule.condition.audience)
        if isinstance(audience, Unmet):
            continue
        levels += [
            Level(Strength(rule.priority, Specificity(*counts, audience), -place), rule, pages)
            for counts, pages in index.levels(rule.condition)
        ]
    levels.sort(key=lambda level: level.strength, reverse=True)
    return levels


def acting_on(levels: Iterable[Level], targets: Iterable[Target]) -> dict[Target, Acting]:
    """The actions on each target, from ``levels`` given strongest first."""
    acting: dict[Target, Acting] = {target: [] for target in targets}
    for level in levels:
        # A deciding rule's own additions are as strong as its decision, so they come before it closes the slot.
        for action in level.rule.additions_first:
            here = acting.get(action.target)
            if here is not None:
                here.append((action, level))
    return acting


def sweep_all(index: PageIndex, acting: Mapping[Target, Acting]) -> dict[Target, Sweep]:
    """Sweep each target over the actions on it, given strongest first."""
    return {target: _sweep(index, target, here) for target, here in acting.items()}


def _sweep(index: PageIndex, target: Target, acting: Acting) -> Sweep:
    locked = index.locking(target)
    deciding: list[Share] = []
    adding: list[Share] = []
    undecided = (~locked).words
    # Pages that still take additions; where nothing is added, nobody asks.
    unclosed = undecided.copy() if any(action.adds for action, _ in acting) else None
    for action, level in acting:
        pages = level.pages
        span = pages.span
        if action.adds:
            assert unclosed is not None
            won = np.bitwise_and(pages.held, unclosed[span])
            if np.count_nonzero(won):
                adding.append(Share(action, level, won))
            continue
        left = undecided[span]
        won = np.bitwise_and(pages.held, left)
        if not np.count_nonzero(won):
            continue
        deciding.append(Share(action, level, won))
        np.bitwise_xor(left, won, left)
        if action.closes and unclosed is not None:
            # What won is undecided, so it is unclosed too.
            closing = unclosed[span]
            np.bitwise_xor(closing, won, closing)
    return Sweep(tuple(deciding), tuple(adding), locked)


def resolve_all(
    index: PageIndex, layout: Layout, lens: Lens, targets: Iterable[Target] | None = None
) -> dict[Target, TargetOutcomes]:
    """The outcomes of some targets (all that the site has, when not given) on every page."""
    wanted = standard_targets(layout) if targets is None else targets
    acting = acting_on(rule_levels(index, layout, lens), wanted)
    known = {target: _known(index, target, here, layout) for target, here in acting.items()}
    swept = sweep_all(index, {target: here for target, here in acting.items() if known[target] is None})
    found = {}
    for target, here in acting.items():
        outcomes = known[target]
        if outcomes is None:
            outcomes = outcomes_of(swept[target], layout, target)
            _keep(index, target, _Kept(here, undecided_outcome(layout, target), outcomes))
        found[target] = outcomes
    return found


class _Kept(NamedTuple):
    """What a target came to, and all that it came from."""

    acting: Acting
    undecided: Outcome
    outcomes: TargetOutcomes


#: How many answers are kept for each target: those of an edit before and after, through a lens or two.
_MOST_KEPT = 4


def _known(index: PageIndex, target: Target, acting: Acting, layout: Layout) -> TargetOutcomes | None:
    """The outcomes of a target if the same actions acted on it before, on the same pages and as strongly."""
    undecided = undecided_outcome(layout, target)
    for kept in index.kept.get(target, ()):
        if kept.undecided == undecided and _same(kept.acting, acting):
            return kept.outcomes  # type: ignore[no-any-return]
    return None


def _same(before: Acting, now: Acting) -> bool:
    return len(before) == len(now) and all(
        old.pages is new.pages and old.strength == new.strength and action == other and old.rule == new.rule
        for (action, old), (other, new) in zip(before, now, strict=True)
    )


def _keep(index: PageIndex, target: Target, kept: _Kept) -> None:
    index.kept[target] = (kept, *index.kept.get(target, ()))[:_MOST_KEPT]


def outcomes_of(sweep: Sweep, layout: Layout, target: Target) -> TargetOutcomes:
    """The outcome on each page that a sweep comes to."""
    made = [undecided_outcome(layout, target)]
    known: dict[tuple[str, int], int] = {}
    codes = np.zeros(sweep.locked.size, dtype=np.int32)
    for share in sweep.deciding:
        key = (share.level.rule.name, id(share.action))
        if key not in known:
            known[key] = len(made)
            made.append(decided_outcome(share.action, share.level.rule))
        codes[share.numbers()] = known[key]
    made = _add(codes, made, sweep.adding)
    if sweep.locked:
        codes[sweep.locked.numbers()] = len(made)
        made.append(Outcome("locked"))
    return TargetOutcomes(codes, tuple(made))


def _add(codes: Codes, made: list[Outcome], shares: tuple[Share, ...]) -> list[Outcome]:
    """Combine the decided codes, in place, with the additions: one outcome for each combination that occurs."""
    if not shares:
        return made
    anywhere = PageSet.none(len(codes))
    for share in shares:
        anywhere.words[share.level.pages.span] |= share.won
    touched = anywhere.numbers()
    place = np.zeros(len(codes), dtype=np.intp)
    place[touched] = np.arange(len(touched))
    keys = codes[touched].astype(np.int64)
    held: list[tuple[int, tuple[Action, ...]]] = [(code, ()) for code in range(len(made))]
    for first in range(0, len(shares), _ADDITIONS_AT_ONCE):
        some = shares[first : first + _ADDITIONS_AT_ONCE]
        bits = np.zeros(len(touched), dtype=np.int64)
        for number, share in enumerate(some):
            bits[place[share.numbers()]] |= 1 << number
        kinds, keys = np.unique(keys << len(some) | bits, return_inverse=True)
        held = [
            (
                held[kind >> len(some)][0],
                held[kind >> len(some)][1]
                + tuple(share.action for number, share in enumerate(some) if kind >> number & 1),
            )
            for kind in kinds.tolist()
        ]
    codes[touched] = keys + len(made)
    return [*made, *(_with_additions(made[base], actions) for base, actions in held)]


def _with_additions(decided: Outcome, actions: tuple[Action, ...]) -> Outcome:
    """The outcome once additions, given strongest first, stand around the filler; each piece shows once."""
    stack = Stack(decided.pieces)
    for action in actions:
        stack.add(action)
    return stacked(decided, stack)


def seated_pages(
    index: PageIndex, layout: Layout, lens: Lens, resolved: dict[Target, TargetOutcomes]
) -> dict[str, PageSet]:
    """For each slot, the pages where it has a place; ``resolved`` holds the template, the page form and every slot.

    What is seated hangs on the template, the form, the slots in the page's content and HTML and the pieces that hold
    slots; pages that agree in these are asked once.
    """
    slots = [target for target in resolved if target.kind == "slot"]
    holding = {
        piece.slug: piece
        for piece in layout.pieces.values()
        if piece.slug in layout.held_slots or any(slug in layout.held_slots for slug in piece.widgets)
    }
    columns = [index.own_slots, *(resolved[target].codes for target in layout.deciding_places)]
    columns += [codes for target in slots if (codes := _held_codes(resolved[target], holding)) is not None]
    columns += [
        entry_pages(index, lens, entry.condition).mask().astype(np.int32)
        for piece in holding.values()
        for entry in piece.entries_on
    ]
    kinds, firsts = combine(columns, index.size)
    answers = np.zeros((max(1, len(firsts)), len(slots)), dtype=np.bool_)
    for kind, number in enumerate(firsts.tolist()):
        outcomes = {target: found.on(number) for target, found in resolved.items()}
        seated = seated_slots(layout, index.tree.pages[number], outcomes, lens, index.tree)
        answers[kind] = [slot.name in seated for slot in slots]
    return {slot.name: PageSet.from_mask(answers[kinds, column]) for column, slot in enumerate(slots)}


def in_place_pages(index: PageIndex, resolved: Mapping[Target, TargetOutcomes]) -> PageSet:
    """The pages that are drawn in their own HTML; ``resolved`` holds the page form where the site has it."""
    form = resolved.get(FORM)
    if form is None:
        return PageSet.none(index.size)
    says = np.array([outcome.value == IN_PLACE for outcome in form.outcomes])
    return PageSet.from_mask(says[form.codes]) & index.with_html


def unseated_pages(
    index: PageIndex, layout: Layout, lens: Lens, resolved: dict[Target, TargetOutcomes]
) -> dict[str, PageSet]:
    """For each slot, the pages where it shows something but has no place; ``resolved`` as for `seated_pages`."""
    seated = seated_pages(index, layout, lens, resolved)
    return {name: pages_filled(resolved[Target("slot", name)]) - pages for name, pages in seated.items()}


def pages_filled(found: TargetOutcomes) -> PageSet:
    """The pages on which a target has pieces."""
    shows = np.array([bool(outcome.pieces) for outcome in found.outcomes])
    return PageSet.from_mask(shows[found.codes])


def _held_codes(found: TargetOutcomes, holding: Container[str]) -> Codes | None:
    """A code for each page, the same where a slot shows the same pieces of those that hold slots; None for none."""
    held = [tuple(slug for slug in outcome.pieces if slug in holding) for outcome in found.outcomes]
    if not any(held):
        return None
    numbers: dict[tuple[str, ...], int] = {}
    codes: Codes = np.array([numbers.setdefault(one, len(numbers)) for one in held], dtype=np.int32)[found.codes]
    return codes


def filled_pages(index: PageIndex, lens: Lens, sidebar: Piece) -> PageSet:
    """The pages on which some entry of a sidebar shows through a lens, wherever the sidebar stands."""
    return PageSet.union((entry_pages(index, lens, entry.condition) for entry in sidebar.entries_on), index.size)


def entry_pages(index: PageIndex, lens: Lens, condition: Condition) -> PageSet:
    """The pages on which a sidebar's entry shows through a lens. An empty include means every page."""
    if isinstance(weigh_audience(lens, condition.audience), Unmet):
        return PageSet.none(index.size)
    return index.entry(condition)
