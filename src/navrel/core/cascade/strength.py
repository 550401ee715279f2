"""What decides between rules: priority, specificity and order, in this turn."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from typing import Literal, NamedTuple

from ..language.query import Counts
from ..layout.condition import Audience
from ..layout.model import Action, Rule, Target
from .conditions import Specificity, Unmet

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


class Match(NamedTuple):
    """A rule that is on and lets a page through; ``place`` counts from 1."""

    rule: Rule
    place: int
    counts: Counts


class Contender(NamedTuple):
    """A rule in force on this page through this lens, with its strength."""

    strength: Strength
    rule: Rule
    place: int


class Aside(NamedTuple):
    """A rule that does not contend, and why."""

    rule: Rule
    place: int
    why: Unmet | Literal["off"]


def contend(matches: Iterable[Match], weigh: Callable[[Audience], int | Unmet]) -> tuple[list[Contender], list[Aside]]:
    """Ask of rules that let a page through whether they let a lens through too.

    ``weigh`` gives the fourth count of the specificity, or why an audience refuses the lens. First come the rules that
    contend, strongest first; then the others.
    """
    contending: list[Contender] = []
    aside: list[Aside] = []
    for rule, place, counts in matches:
        audience = weigh(rule.condition.audience)
        if isinstance(audience, Unmet):
            aside.append(Aside(rule, place, audience))
        else:
            strength = Strength(rule.priority, Specificity(*counts, audience), -place)
            contending.append(Contender(strength, rule, place))
    contending.sort(key=lambda contender: contender.strength, reverse=True)
    return contending, aside


PageActions = dict[Target, list[tuple[Contender, Action]]]


def acting_on_page(contending: Iterable[Contender]) -> PageActions:
    """The actions on each target, strongest first, from contenders given so."""
    acting: PageActions = defaultdict(list)
    for contender in contending:
        for action in contender.rule.actions:
            acting[action.target].append((contender, action))
    return acting
