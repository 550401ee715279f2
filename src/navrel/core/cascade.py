"""The cascade, one page at a time: contenders in order, the outcome they make, and the trace that says why.

This is the plain resolver. It does the work in the words of the design and is the reference for `bulk.py`.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, NamedTuple

from .conditions import Holds, Refused, Specificity, weigh_condition
from .model import ADDING, SLOTS, TEMPLATE, Action, Layout, Page, Piece, Rule, Target, Visitor
from .site import Site

State = Literal[
    "won",
    "added",
    "outranked",
    "cleared",
    "duplicate",
    "excluded",
    "not-included",
    "visitor",
    "off",
    "locked",
]
OutcomeState = Literal["filled", "empty", "unset", "locked"]
Decisive = Literal["priority", "specificity", "order"]


class Strength(NamedTuple):
    """What contenders are compared by, in turn; the larger wins. ``order`` is minus the place in the list."""

    priority: int
    specificity: Specificity
    order: int

    def decisive_over(self, weaker: Strength) -> Decisive:
        """The first of the three that differs."""
        if self.priority != weaker.priority:
            return "priority"
        return "specificity" if self.specificity != weaker.specificity else "order"


@dataclass(frozen=True)
class Entry:
    """One action on the target, and what became of it.

    ``by`` is the rule that outranked or cleared it, ``on`` what decided between the two, ``clause`` the
    exclude clause that kept the page or the visitor out. ``strength`` is None where the rule did not contend.
    """

    rule: Rule
    place: int
    action: Action
    state: State
    strength: Strength | None = None
    by: Rule | None = None
    on: Decisive | None = None
    clause: str = ""


@dataclass(frozen=True)
class Outcome:
    """What a target comes to. ``pieces``: slugs as they stand; ``by``: the decider, None where there is none."""

    state: OutcomeState
    pieces: tuple[str, ...] = ()
    by: Rule | None = None


@dataclass(frozen=True)
class Trace:
    """The full account of one target of one page: the entries strongest first, then those that do not contend."""

    target: Target
    outcome: Outcome
    entries: tuple[Entry, ...]

    @property
    def decider(self) -> Entry | None:
        """The entry that won."""
        return next((entry for entry in self.entries if entry.state == "won"), None)

    @property
    def runner_up(self) -> Entry | None:
        """The strongest entry that the decider outranked."""
        return next((entry for entry in self.entries if entry.state == "outranked"), None)


class Contender(NamedTuple):
    """A rule in force on this page for this visitor, with its strength."""

    strength: Strength
    rule: Rule
    place: int


Weighed = list[tuple[Rule, int, Contender | Refused | Literal["off"]]]


def weigh(site: Site, layout: Layout, page: Page, visitor: Visitor) -> Weighed:
    """Test every rule on one page: each with its place in the list (from 1), and whether it contends or why not."""
    weighed: Weighed = []
    for place, rule in enumerate(layout.rules, start=1):
        if not rule.on:
            weighed.append((rule, place, "off"))
            continue
        result = weigh_condition(site, page, visitor, rule.condition)
        if isinstance(result, Holds):
            strength = Strength(rule.priority, result.specificity, -place)
            weighed.append((rule, place, Contender(strength, rule, place)))
        else:
            weighed.append((rule, place, result))
    return weighed


def trace(site: Site, layout: Layout, page: Page, visitor: Visitor, target: Target) -> Trace:
    """The outcome of one target on one page, and what became of every action on it."""
    return trace_weighed(weigh(site, layout, page, visitor), layout, page, target)


def resolve_page(
    site: Site, layout: Layout, page: Page, visitor: Visitor, more: Iterable[Target] = ()
) -> dict[Target, Trace]:
    """The traces of every target of a page: the template, the standard slots, those that rules name, and ``more``."""
    weighed = weigh(site, layout, page, visitor)
    targets = dict.fromkeys((*standard_targets(layout), *(Target("slot", slot) for slot in page.slots), *more))
    return {target: trace_weighed(weighed, layout, page, target) for target in targets}


def standard_targets(layout: Layout) -> tuple[Target, ...]:
    """The template, the ten standard slots in page order, then the slots that templates and rules name besides."""
    templates = (piece for piece in layout.pieces.values() if piece.kind == "template")
    named = {slot for piece in templates for slot in piece.slots}
    named.update(action.slot for rule in layout.rules for action in rule.actions if action.do != "use")
    others = sorted(named.difference(SLOTS))
    return (TEMPLATE, *(Target("slot", slot) for slot in (*SLOTS, *others)))


def trace_weighed(weighed: Weighed, layout: Layout, page: Page, target: Target) -> Trace:
    """The trace of one target, from rules already weighed on this page."""
    contending = sorted(
        (found for _, _, found in weighed if isinstance(found, Contender)),
        key=lambda contender: contender.strength,
        reverse=True,
    )
    here = [
        (contender, action) for contender in contending for action in contender.rule.actions if action.target == target
    ]
    aside = sorted(
        (
            (rule, place, action, found)
            for rule, place, found in weighed
            if not isinstance(found, Contender)
            for action in rule.actions
            if action.target == target
        ),
        key=lambda entry: (-entry[0].priority, entry[1]),
    )
    locked = target.kind == "slot" and target.name in page.locks
    outcome, entries = _locked(here) if locked else _compare(here, layout, target)
    entries += [_standing_aside(rule, place, action, found, locked) for rule, place, action, found in aside]
    return Trace(target, outcome, tuple(entries))


def _standing_aside(
    rule: Rule, place: int, action: Action, found: Contender | Refused | Literal["off"], locked: bool
) -> Entry:
    if found == "off":
        return Entry(rule, place, action, "off")
    if locked:
        return Entry(rule, place, action, "locked")
    assert isinstance(found, Refused)
    return Entry(rule, place, action, found.state, clause=found.clause)


def _locked(here: list[tuple[Contender, Action]]) -> tuple[Outcome, list[Entry]]:
    return Outcome("locked"), [
        Entry(contender.rule, contender.place, action, "locked", contender.strength) for contender, action in here
    ]


def _compare(here: list[tuple[Contender, Action]], layout: Layout, target: Target) -> tuple[Outcome, list[Entry]]:
    """The outcome of a target's contenders, given strongest first, and an entry for each."""
    deciding = [(contender, action) for contender, action in here if action.do not in ADDING]
    decider, decision = deciding[0] if deciding else (None, None)
    filler = decision.piece if decision else None
    seen = {filler} if filler else set()
    shown: dict[str, list[str]] = {"prepend": [], "append": []}
    entries: list[Entry] = []
    for contender, action in here:
        if action is decision and contender is decider:
            entries.append(Entry(contender.rule, contender.place, action, "won", contender.strength))
            continue
        beaten = decider is not None and contender.strength < decider.strength
        if action.do not in ADDING:
            state: State = "outranked"
        elif beaten and decision is not None and decision.closes:
            state = "cleared"
        elif action.piece in seen:
            state = "duplicate"
        else:
            state = "added"
            assert action.piece is not None
            seen.add(action.piece)
            shown[action.do].append(action.piece)
        winner = decider if state in ("outranked", "cleared") else None
        entries.append(
            Entry(
                contender.rule,
                contender.place,
                action,
                state,
                contender.strength,
                winner.rule if winner else None,
                winner.strength.decisive_over(contender.strength) if winner else None,
            )
        )
    return _outcome(target, layout, decider, filler, shown), entries


def _outcome(
    target: Target, layout: Layout, decider: Contender | None, filler: str | None, shown: dict[str, list[str]]
) -> Outcome:
    by = decider.rule if decider else None
    if target == TEMPLATE:
        piece = filler if decider else layout.default_template
        return Outcome("filled" if piece else "unset", (piece,) if piece else (), by)
    pieces = (*shown["prepend"], *((filler,) if filler else ()), *shown["append"])
    if pieces:
        return Outcome("filled", pieces, by)
    return Outcome("empty" if decider else "unset", (), by)


def seated_slots(
    layout: Layout, page: Page, template: Outcome, slots: dict[str, Outcome], visitor: Visitor, site: Site
) -> frozenset[str]:
    """The slots that have a place on the page: the template's, the content's, and those of pieces shown in them."""
    found = set(page.slots)
    piece = layout.pieces.get(template.pieces[0]) if template.pieces else None
    found.update(piece.slots if piece else SLOTS)
    waiting = list(found)
    while waiting:
        outcome = slots.get(waiting.pop())
        for slug in outcome.pieces if outcome else ():
            held = _slots_held(layout, slug, site, page, visitor) - found
            found |= held
            waiting.extend(held)
    return frozenset(found)


def _slots_held(layout: Layout, slug: str, site: Site, page: Page, visitor: Visitor) -> set[str]:
    piece = layout.pieces.get(slug)
    if piece is None:
        return set()
    held = set(piece.slots)
    for shown in shown_entries(layout, piece, site, page, visitor):
        held.update(shown.slots)
    return held


def shown_entries(layout: Layout, sidebar: Piece, site: Site, page: Page, visitor: Visitor) -> list[Piece]:
    """The widgets that a sidebar shows on this page for this visitor, in order."""
    return [
        layout.pieces[entry.piece]
        for entry in sidebar.entries
        if entry.piece in layout.pieces
        and isinstance(weigh_condition(site, page, visitor, entry.condition, empty_is_all=True), Holds)
    ]
