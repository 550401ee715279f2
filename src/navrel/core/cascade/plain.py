"""The cascade, one page at a time: contenders in order, the outcome they make, and the trace that says why.

This is the plain resolver. It does the work in the words of the design and is the reference for `bulk.py`.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal, NamedTuple

from ..language.query import Counts
from ..language.visitor import Lens
from ..layout.model import SLOTS, TEMPLATE, Action, Layout, Rule, SettingValue, Target
from ..pages.page import Page
from ..pages.tree import PageTree
from .conditions import Unmet, weigh_audience, weigh_page
from .strength import Aside, Contender, Decisive, Match, PageActions, Strength, acting_on_page, contend

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
    ``own_at``: of a slot to which pieces are only added, how many of these stand before what the page has there itself;
    None where something fills it, or it is left empty.
    """

    state: OutcomeState
    pieces: tuple[str, ...] = ()
    by: Rule | None = None
    value: SettingValue | None = None
    own_at: int | None = None

    @property
    def is_open(self) -> bool:
        """Whether nothing fills a slot, nor leaves it empty, nor keeps it: what the page has there itself stays."""
        return self.state == "unset" or self.own_at is not None

    def filler(self, slot: str) -> str | None:
        """The slug of the piece that fills a slot; None where pieces are only added to it."""
        if self.by is None:
            return self.pieces[0] if self.pieces and self.own_at is None else None
        return next((one.piece for one in self.by.actions if one.slot == slot and one.do == "fill"), None)

    def around(self, own: tuple[str, ...]) -> tuple[str, ...]:
        """The pieces of a slot as they stand once these take the place of what the page has there itself."""
        at = self.own_at
        return own if at is None else (*self.pieces[:at], *own, *self.pieces[at:])


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


def match_rules(tree: PageTree, layout: Layout, page: Page) -> tuple[list[Match], list[Aside]]:
    """The rules that are on and let a page through, in list order, tested one by one; and the others."""
    found: list[Match] = []
    aside: list[Aside] = []
    for place, rule in enumerate(layout.rules, start=1):
        counts: Counts | Unmet | Literal["off"] = weigh_page(tree, page, rule.condition) if rule.on else "off"
        if isinstance(counts, Counts):
            found.append(Match(rule, place, counts))
        else:
            aside.append(Aside(rule, place, counts))
    return found, aside


Weighed = tuple[PageActions, list[Aside]]


def _weigh(tree: PageTree, layout: Layout, page: Page, lens: Lens) -> Weighed:
    """Test every rule on one page: what acts on each target, and the rules that do not contend."""
    matches, aside = match_rules(tree, layout, page)
    contending, refused = contend(matches, lambda audience: weigh_audience(lens, audience))
    return acting_on_page(contending), sorted([*aside, *refused], key=lambda one: (-one.rule.priority, one.place))


def trace(tree: PageTree, layout: Layout, page: Page, lens: Lens, target: Target) -> Trace:
    """The outcome of one target on one page, and what became of every action on it."""
    return _traced(_weigh(tree, layout, page, lens), layout, page, lens, target)


def resolve_page(
    tree: PageTree, layout: Layout, page: Page, lens: Lens, more: Iterable[Target] = ()
) -> dict[Target, Trace]:
    """The traces of every target of a page: the template, the slots and settings of the site, its own, and ``more``."""
    weighed = _weigh(tree, layout, page, lens)
    return {target: _traced(weighed, layout, page, lens, target) for target in page_targets(layout, page, more)}


def page_targets(layout: Layout, page: Page, more: Iterable[Target] = ()) -> Iterable[Target]:
    """The targets of the site, the slots in the page's own content and HTML, and ``more``, each once."""
    return dict.fromkeys((*standard_targets(layout), *(Target("slot", slot) for slot in page.own_slots), *more))


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
    acting, aside = weighed
    locked = is_locked(page, target)
    outcome, entries = compare(acting.get(target, []), layout, target, locked=locked)
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


class Stack:
    """The pieces of a slot as they come to stand: additions, given strongest first, around what fills it; each once."""

    def __init__(self, filling: tuple[str, ...]) -> None:
        self._seen = set(filling)
        self._filling = filling
        self._before: list[str] = []
        self._after: list[str] = []

    def add(self, action: Action) -> bool:
        """Put what an action adds where it says; False where its piece stands there already."""
        if action.piece is None or action.piece in self._seen:
            return False
        self._seen.add(action.piece)
        (self._before if action.do == "prepend" else self._after).append(action.piece)
        return True

    @property
    def pieces(self) -> tuple[str, ...]:
        """The slugs, in the order in which they stand."""
        return (*self._before, *self._filling, *self._after)

    @property
    def ahead(self) -> int:
        """How many of them stand before what fills the slot."""
        return len(self._before)


def decided_outcome(action: Action, rule: Rule) -> Outcome:
    """What a target comes to where this action of a rule decides it and nothing is added."""
    if action.do == "set":
        return Outcome("filled", (), rule, action.value)
    return Outcome("filled", (action.piece,), rule) if action.piece else Outcome("empty", (), rule)


def compare(
    here: list[tuple[Contender, Action]], layout: Layout, target: Target, *, locked: bool
) -> tuple[Outcome, list[Entry]]:
    """The outcome of a target's contenders, given strongest first, and an entry for each."""
    if locked:
        return Outcome("locked"), [Entry(one.rule, one.place, action, "locked", one.strength) for one, action in here]
    decider, decision = next(((one, action) for one, action in here if not action.adds), (None, None))
    if decider is None or decision is None:
        base, closes = undecided_outcome(layout, target), False
    else:
        base, closes = decided_outcome(decision, decider.rule), decision.closes
    stack = Stack(base.pieces)
    entries: list[Entry] = []
    for contender, action in here:
        beaten = decider is not None and contender.strength < decider.strength
        if action is decision and contender is decider:
            state: State = "won"
        elif not action.adds:
            state = "outranked"
        elif beaten and closes:
            state = "cleared"
        else:
            state = "added" if stack.add(action) else "duplicate"
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
    return stacked(base, stack), entries


def stacked(base: Outcome, stack: Stack) -> Outcome:
    """An outcome once additions stand around it."""
    pieces = stack.pieces
    if pieces == base.pieces:
        return base
    return replace(base, state="filled", pieces=pieces, own_at=stack.ahead if base.state == "unset" else None)


def undecided_outcome(layout: Layout, target: Target) -> Outcome:
    """What a target comes to where no rule decides it or adds to it."""
    if target == TEMPLATE and layout.default_template:
        return Outcome("filled", (layout.default_template,))
    if target.kind == "setting":
        return Outcome("unset", value=layout.setting_defaults.get(target.name))
    return Outcome("unset")
