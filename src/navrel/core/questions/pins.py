"""Pins: choices made on one page, and what stands in the way of one.

A pin is an ordinary rule for one page alone (cascade: Outcome); here it is only recognised and tried out.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from ..cascade.conditions import Specificity
from ..cascade.plain import is_locked, match_rules
from ..cascade.strength import Decisive, Strength
from ..index.page_index import PageIndex
from ..language.facts import Value
from ..language.query import Clause, Query, Term
from ..layout.condition import Condition
from ..layout.model import Action, Layout, Rule, Target
from ..lenses.looks import audiences_on, graded_actions
from ..lenses.space import LensSpace, Sighting
from ..pages.page import Page

MAX_PRIORITY = 1000


def pin_condition(path: str) -> Condition:
    """The condition of a pin."""
    return Condition(include=Query((Clause((Term("page", (Value(path),)),)),)))


def pinned_path(rule: Rule) -> str | None:
    """The page that a rule pins something on; None for a rule that is no pin."""
    terms = rule.condition.include.terms
    if len(terms) != 1 or terms[0].fact != "page" or terms[0].negated or len(terms[0].values) != 1:
        return None
    path = terms[0].values[0].text
    return path if rule.condition == pin_condition(path) else None


@dataclass(frozen=True)
class Obstacle:
    """A rule that a pin does not beat, on what it is stronger, and for whom and when.

    ``action`` is what the rule does to the pin's target.
    """

    rule: Rule
    action: Action
    on: Decisive
    seen: tuple[Sighting, ...]


@dataclass(frozen=True)
class Trial:
    """What a pin on a target of a page would meet.

    ``wins``: whether it would decide for somebody at some time. ``deciders`` would decide instead of it, for others.
    ``additions`` would be shown beside it, and stay where it leaves the slot empty. ``priority``: the lowest that
    beats all deciders, ``clearing`` all additions too; None where none does.
    """

    is_locked: bool
    wins: bool = False
    deciders: tuple[Obstacle, ...] = ()
    additions: tuple[Obstacle, ...] = ()
    priority: int | None = 0
    clearing: int | None = 0


def try_pin(index: PageIndex, layout: Layout, page: Page, target: Target, since: datetime) -> Trial:
    """Try a pin on a target of a page, over all visitors and from a moment on. Raises TooManyCombinations.

    What is pinned on the target already is taken off first, as the new choice replaces it.
    """
    if is_locked(page, target):
        return Trial(is_locked=True, priority=None, clearing=None)
    others = replace(layout, rules=tuple(_without(rule, page, target) for rule in layout.rules))
    matches = match_rules(index.tree, others, page)[0]
    space = LensSpace(audiences_on(index.tree, others, page, matches), since)
    # A pin is put on top of the list, so it loses by order to none.
    pin = Strength(0, Specificity(exact=2), 1)
    cells_of: dict[tuple[int, int], list[tuple[int, int]]] = {}
    known: dict[tuple[int, int], tuple[Rule, Action, Strength]] = {}
    wins = False
    for grades, cells in space.cells.items():
        decided = False
        for contender, action in graded_actions(matches, space, grades).get(target, []):
            if contender.strength < pin:
                break
            if not action.adds and decided:
                continue
            decided = decided or not action.adds
            key = (contender.place, contender.rule.actions.index(action))
            known[key] = (contender.rule, action, contender.strength)
            cells_of.setdefault(key, []).extend(cells)
        wins = wins or not decided
    found = [
        Obstacle(rule, action, strength.decisive_over(pin), space.sightings(cells_of[key]))
        for key, (rule, action, strength) in sorted(known.items(), key=lambda one: one[1][2], reverse=True)
    ]
    deciders = tuple(one for one in found if not one.action.adds)
    additions = tuple(one for one in found if one.action.adds)
    return Trial(False, wins, deciders, additions, _beating(deciders), _beating((*deciders, *additions)))


def _without(rule: Rule, page: Page, target: Target) -> Rule:
    """A rule without what it pins on this target."""
    if pinned_path(rule) != page.path:
        return rule
    return replace(rule, actions=tuple(action for action in rule.actions if action.target != target))


def _beating(obstacles: tuple[Obstacle, ...]) -> int | None:
    """The lowest priority that is above all of these, 0 where there is none."""
    highest = max((one.rule.priority + 1 for one in obstacles), default=0)
    return highest if highest <= MAX_PRIORITY else None
