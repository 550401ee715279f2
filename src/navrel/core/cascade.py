"""The cascade, one page at a time: contenders in order, the outcome they make, and the trace that says why.

This is the plain resolver. It does the work in the words of the design and is the reference for `bulk.py`.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, NamedTuple

from .conditions import Holds, Refused, Specificity, weigh_condition
from .model import SLOTS, TEMPLATE, Action, Layout, Lens, Page, Piece, Rule, SettingValue, Target
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
    "time",
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


class Entry(NamedTuple):
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
    """What a target comes to. ``pieces``: slugs as they stand; ``by``: the decider, None where there is none.

    A setting has a ``value`` instead of pieces: that of the decider, or its default where the state is `unset`.
    """

    state: OutcomeState
    pieces: tuple[str, ...] = ()
    by: Rule | None = None
    value: SettingValue | None = None


@dataclass(frozen=True)
class Trace:
    """The full account of one target of one page: the entries strongest first, then those that do not contend."""

    target: Target
    outcome: Outcome
    entries: tuple[Entry, ...]
    moment: datetime

    @property
    def decider(self) -> Entry | None:
        """The entry that won."""
        return next((entry for entry in self.entries if entry.state == "won"), None)

    @property
    def runner_up(self) -> Entry | None:
        """The strongest entry that the decider outranked."""
        return next((entry for entry in self.entries if entry.state == "outranked"), None)

    def next_start(self, entry: Entry) -> datetime | None:
        """When an entry that is not in force now will be; None for never again, and for entries that are."""
        schedule = entry.rule.condition.schedule
        return schedule.next_start(self.moment) if schedule and entry.state == "time" else None

    def ends(self, entry: Entry) -> datetime | None:
        """When an entry that is in force by its schedule ceases to be; None where nothing ends it."""
        schedule = entry.rule.condition.schedule
        span = schedule.current(self.moment) if schedule else None
        return span.end if span else None


class Contender(NamedTuple):
    """A rule in force on this page through this lens, with its strength."""

    strength: Strength
    rule: Rule
    place: int


class Aside(NamedTuple):
    """A rule that does not contend, and why."""

    rule: Rule
    place: int
    why: Refused | Literal["off"]


Weighed = tuple[list[Contender], list[Aside]]


def weigh(site: Site, layout: Layout, page: Page, lens: Lens) -> Weighed:
    """Test every rule on one page: those that contend, strongest first, and those that do not."""
    contending: list[Contender] = []
    aside: list[Aside] = []
    for place, rule in enumerate(layout.rules, start=1):
        result: Holds | Refused | Literal["off"] = (
            weigh_condition(site, page, lens, rule.condition) if rule.on else "off"
        )
        if isinstance(result, Holds):
            contending.append(Contender(Strength(rule.priority, result.specificity, -place), rule, place))
        else:
            aside.append(Aside(rule, place, result))
    contending.sort(key=lambda contender: contender.strength, reverse=True)
    aside.sort(key=lambda one: (-one.rule.priority, one.place))
    return contending, aside


def trace(site: Site, layout: Layout, page: Page, lens: Lens, target: Target) -> Trace:
    """The outcome of one target on one page, and what became of every action on it."""
    return _traced(weigh(site, layout, page, lens), layout, page, lens, target)


def resolve_page(
    site: Site, layout: Layout, page: Page, lens: Lens, more: Iterable[Target] = ()
) -> dict[Target, Trace]:
    """The traces of every target of a page: the template, the slots and settings of the site, its own, and ``more``."""
    weighed = weigh(site, layout, page, lens)
    return {target: _traced(weighed, layout, page, lens, target) for target in page_targets(layout, page, more)}


def page_targets(layout: Layout, page: Page, more: Iterable[Target] = ()) -> Iterable[Target]:
    """The targets of the site, the slots in the page's own content, and ``more``, each once."""
    return dict.fromkeys((*standard_targets(layout), *(Target("slot", slot) for slot in page.slots), *more))


def standard_targets(layout: Layout) -> tuple[Target, ...]:
    """The template, the ten standard slots in page order, then the other slots that templates and rules name.

    After them the settings, as the site declares them.
    """
    templates = (piece for piece in layout.pieces.values() if piece.kind == "template")
    named = {slot for piece in templates for slot in piece.slots}
    named.update(action.slot for rule in layout.rules for action in rule.actions if action.slot)
    others = sorted(named.difference(SLOTS))
    return (
        TEMPLATE,
        *(Target("slot", slot) for slot in (*SLOTS, *others)),
        *(Target("setting", setting.name) for setting in layout.settings),
    )


def _traced(weighed: Weighed, layout: Layout, page: Page, lens: Lens, target: Target) -> Trace:
    """The trace of one target, from rules already weighed on this page."""
    contending, aside = weighed
    here = [(one, action) for one in contending for action in one.rule.actions if action.target == target]
    locked = is_locked(page, target)
    outcome, entries = compare(here, layout, target, locked=locked)
    entries += [
        stand_aside(one, action, locked=locked)
        for one in aside
        for action in one.rule.actions
        if action.target == target
    ]
    return Trace(target, outcome, tuple(entries), lens.moment)


def is_locked(page: Page, target: Target) -> bool:
    """Whether another system owns a target of this page."""
    return target.kind == "slot" and target.name in page.locks


def stand_aside(one: Aside, action: Action, *, locked: bool) -> Entry:
    """The entry of an action whose rule does not contend."""
    if one.why == "off":
        return Entry(one.rule, one.place, action, "off")
    if locked:
        return Entry(one.rule, one.place, action, "locked")
    return Entry(one.rule, one.place, action, one.why.state, clause=one.why.clause)


def compare(
    here: list[tuple[Contender, Action]], layout: Layout, target: Target, *, locked: bool
) -> tuple[Outcome, list[Entry]]:
    """The outcome of a target's contenders, given strongest first, and an entry for each."""
    if locked:
        return Outcome("locked"), [Entry(one.rule, one.place, action, "locked", one.strength) for one, action in here]
    decider, decision = next(((one, action) for one, action in here if not action.adds), (None, None))
    filler = decision.piece if decision else None
    seen = {filler} if filler else set()
    shown: dict[str, list[str]] = {"prepend": [], "append": []}
    entries: list[Entry] = []
    for contender, action in here:
        if action is decision and contender is decider:
            entries.append(Entry(contender.rule, contender.place, action, "won", contender.strength))
            continue
        beaten = decider is not None and contender.strength < decider.strength
        if not action.adds:
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
    by = decider.rule if decider else None
    if decision is None:
        undecided = undecided_outcome(layout, target)
        pieces = (*shown["prepend"], *undecided.pieces, *shown["append"])
        return (Outcome("filled", pieces) if pieces else undecided), entries
    if target.kind == "setting":
        return Outcome("filled", (), by, decision.value), entries
    pieces = (*shown["prepend"], *((filler,) if filler else ()), *shown["append"])
    return Outcome("filled" if pieces else "empty", pieces, by), entries


def undecided_outcome(layout: Layout, target: Target) -> Outcome:
    """What a target comes to where no rule decides it or adds to it."""
    if target == TEMPLATE and layout.default_template:
        return Outcome("filled", (layout.default_template,))
    if target.kind == "setting":
        return Outcome("unset", value=layout.setting_defaults.get(target.name))
    return Outcome("unset")


def seated_slots(
    layout: Layout, page: Page, template: Outcome, slots: dict[str, Outcome], lens: Lens, site: Site
) -> frozenset[str]:
    """The slots that have a place on the page: the template's, the content's, and those of pieces shown in them."""
    found = set(page.slots)
    piece = layout.pieces.get(template.pieces[0]) if template.pieces else None
    found.update(piece.slots if piece else SLOTS)
    waiting = list(found)
    while waiting:
        outcome = slots.get(waiting.pop())
        for slug in outcome.pieces if outcome else ():
            held = _slots_held(layout, slug, site, page, lens) - found
            found |= held
            waiting.extend(held)
    return frozenset(found)


def seen_pieces(
    layout: Layout, page: Page, template: Outcome, slots: dict[str, Outcome], lens: Lens, site: Site
) -> frozenset[str]:
    """The pieces that are seen on the page: its template, those in seated slots, and the widgets of sidebars there."""
    seated = seated_slots(layout, page, template, slots, lens, site)
    found = set(template.pieces)
    for slot, outcome in slots.items():
        if slot in seated:
            found.update(outcome.pieces)
    for slug in tuple(found):
        piece = layout.pieces.get(slug)
        if piece is not None:
            found.update(widget.slug for widget in shown_entries(layout, piece, site, page, lens))
    return frozenset(found)


def _slots_held(layout: Layout, slug: str, site: Site, page: Page, lens: Lens) -> set[str]:
    piece = layout.pieces.get(slug)
    if piece is None:
        return set()
    held = set(piece.slots)
    for shown in shown_entries(layout, piece, site, page, lens):
        held.update(shown.slots)
    return held


def shown_entries(layout: Layout, sidebar: Piece, site: Site, page: Page, lens: Lens) -> list[Piece]:
    """The widgets that a sidebar shows on this page through this lens, in order."""
    return [
        layout.pieces[entry.piece]
        for entry in sidebar.entries
        if entry.piece in layout.pieces
        and isinstance(weigh_condition(site, page, lens, entry.condition, empty_is_all=True), Holds)
    ]
