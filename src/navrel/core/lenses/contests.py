"""Which rules can ever win a target: over all pages, all visitors and all moments, exactly.

A rule stands in a target's contest once for each strength that it can have. The standings are swept from the
strongest down, as in `bulk.py`, but over all lenses at once: what everyone always gets closes its pages for all that
are weaker; what only some see, or only at times, is a rival. Only where rivals alone stand between a rule and its
pages are the lenses looked through, once for each set of rivals.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from datetime import datetime
from typing import NamedTuple

import numpy as np

from ..cascade.conditions import Specificity
from ..cascade.strength import Strength
from ..index.page_index import PageIndex
from ..layout.condition import Audience
from ..layout.model import Action, Layout, Rule, Target
from ..pages.pageset import PageSet, combine
from .space import LensSpace
from .visitors import TooManyCombinations

#: Whether every audience, given in a fixed order with its grade, leaves some lens for what is asked.
_Test = Callable[[tuple[int | None, ...]], bool]


class Standing(NamedTuple):
    """A strength with which a rule can contend, and the pages on which it has it.

    ``strength.specificity.audience`` is the grade that its audience has to give.
    """

    strength: Strength
    rule: Rule
    pages: PageSet

    @property
    def place(self) -> int:
        return -self.strength.order

    @property
    def audience(self) -> Audience:
        return self.rule.condition.audience

    @property
    def grade(self) -> int:
        return self.strength.specificity.audience


class Lenses:
    """Answers whether lenses exist, once for each question. From no moment on in particular: over all time."""

    def __init__(self) -> None:
        self._grades: dict[Audience, frozenset[int]] = {}
        self._spaces: dict[tuple[Audience, ...], LensSpace | None] = {}
        #: Whether some question had more combinations than can be told apart; it was answered with yes.
        self.gave_up = False

    def space(self, audiences: tuple[Audience, ...]) -> LensSpace | None:
        """The lenses that some audiences tell apart; None where they are too many."""
        if audiences not in self._spaces:
            try:
                self._spaces[audiences] = LensSpace(audiences, datetime.min)
            except TooManyCombinations:
                self._spaces[audiences] = None
                self.gave_up = True
        return self._spaces[audiences]

    def grades(self, audience: Audience) -> frozenset[int]:
        """Every grade that an audience gives some lens; none where it contradicts itself."""
        if audience.is_everyone:
            return frozenset({0})
        if audience not in self._grades:
            space = self.space((audience,))
            if space is None:
                scheduled = audience.schedule is not None
                found = {clause.positive_terms + scheduled for clause in audience.include.clauses}
                self._grades[audience] = frozenset(found or {int(scheduled)})
            else:
                self._grades[audience] = frozenset(grade for (grade,) in space.cells if grade is not None)
        return self._grades[audience]

    def exists(self, audiences: Iterable[Audience], test: _Test) -> bool:
        """Whether some lens gets grades that pass a test. Yes, where the lenses are too many to tell apart."""
        space = self.space(tuple(audiences))
        return space is None or any(test(grades) for grades in space.cells)


def standings(index: PageIndex, layout: Layout, lenses: Lenses) -> list[Standing]:
    """Every standing of every rule that is on, strongest first."""
    found = [
        Standing(Strength(rule.priority, Specificity(*counts, grade), -place), rule, pages)
        for place, rule in enumerate(layout.rules, start=1)
        if rule.on
        for counts, pages in index.levels(rule.condition)
        for grade in lenses.grades(rule.condition.audience)
    ]
    found.sort(key=lambda standing: standing.strength, reverse=True)
    return found


class Attempt(NamedTuple):
    """One action of one standing. ``open``: its pages that nothing closes always; ``clear``: those without rivals.

    ``rivals`` is how many of the contest's rivals are stronger.
    """

    action: Action
    standing: Standing
    open: PageSet
    clear: PageSet
    rivals: int


class _Rival(NamedTuple):
    """A stronger decider, as far as it matters to what it stands in the way of."""

    audience: Audience
    grade: int
    closes: bool


class Contest:
    """All attempts on one target, strongest first."""

    def __init__(self, index: PageIndex, target: Target, acting: list[tuple[Action, Standing]], lenses: Lenses) -> None:
        self.index = index
        self.target = target
        self.lenses = lenses
        self.attempts: list[Attempt] = []
        self._winning: dict[int, bool] = {}
        #: Deciding attempts that are not always in force, or that are followed by additions: strongest first.
        self._rivals: list[Attempt] = []
        undecided = ~index.locking(target)
        unlocked = undecided
        contested = closing = PageSet.none(index.size)
        for action, standing in acting:
            if action.adds:
                reached = standing.pages & unlocked
                attempt = Attempt(action, standing, reached, reached - closing, len(self._rivals))
            else:
                reached = standing.pages & undecided
                attempt = Attempt(action, standing, reached, reached - contested, len(self._rivals))
                self._rivals.append(attempt)
                if action.closes:
                    closing = closing | reached
                if standing.audience.is_everyone:
                    undecided = undecided - reached
                else:
                    contested = contested | reached
            self.attempts.append(attempt)

    def can_ever_win(self, attempt: Attempt) -> bool:
        """Whether one of this contest's attempts decides, or is added, on any page through any lens."""
        # An attempt is one of a list that stays as it is, so its identity names it.
        known = self._winning.get(id(attempt))
        if known is None:
            known = self._winning[id(attempt)] = self.can_win(attempt, attempt.open)
        return known

    def can_win(self, attempt: Attempt, pages: PageSet, also: tuple[Audience, ...] = ()) -> bool:
        """Whether it decides, or is added, on one of some pages through some lens.

        ``also``: further audiences that the lens has to satisfy.
        """
        wanted = attempt.open & pages
        if not wanted:
            return False
        if wanted & attempt.clear:
            return self._can_win_among(attempt, [], also)
        rivals = self._rivals_on(attempt, wanted)
        if not attempt.action.adds and self._can_win_among(attempt, [rival for rival, _ in rivals], also):
            return True  # Who can win among all of them can win among those of any page.
        return any(self._can_win_among(attempt, here, also) for here in _rival_sets(rivals, wanted))

    def _can_win_among(self, attempt: Attempt, rivals: list[_Rival], also: tuple[Audience, ...]) -> bool:
        """Whether it wins through some lens on a page that has exactly these stronger rivals, strongest first."""
        audiences = (attempt.standing.audience, *also, *(rival.audience for rival in rivals))
        if len(audiences) == 1:
            return True  # A standing has only grades that some lens gets.
        known = tuple(dict.fromkeys(audiences))
        place_of = {audience: place for place, audience in enumerate(known)}
        own_places = [place_of[audience] for audience in audiences[: len(also) + 1]]
        rival_places = [(place_of[rival.audience], rival) for rival in rivals]

        def test(grades: tuple[int | None, ...]) -> bool:
            own, *others = (grades[place] for place in own_places)
            if own != attempt.standing.grade or None in others:
                return False
            decider = next((rival for place, rival in rival_places if grades[place] == rival.grade), None)
            return decider is None or (attempt.action.adds and not decider.closes)

        return self.lenses.exists(known, test)

    def _rivals_on(self, attempt: Attempt, pages: PageSet) -> list[tuple[_Rival, PageSet]]:
        """The stronger rivals that reach some of the pages, strongest first, those that come to the same as one."""
        found: list[tuple[_Rival, PageSet]] = []
        place_of: dict[_Rival, int] = {}
        for other in self._rivals[: attempt.rivals]:
            if not attempt.action.adds and other.standing.audience.is_everyone:
                continue
            here = other.open & pages
            if not here:
                continue
            rival = _Rival(other.standing.audience, other.standing.grade, attempt.action.adds and other.action.closes)
            # Which of the rivals decides matters to additions alone: for them only neighbours are one.
            place = place_of.get(rival)
            if place is None or (attempt.action.adds and place != len(found) - 1):
                place_of[rival] = len(found)
                found.append((rival, here))
            else:
                found[place] = (rival, found[place][1] | here)
        return found

    def covering(self, attempt: Attempt) -> list[Rule]:
        """The rules that take an attempt's pages before it: those that always do first, then the rivals."""
        left = attempt.standing.pages
        found: dict[str, Rule] = {}
        always = [rival for rival in self._rivals[: attempt.rivals] if rival.standing.audience.is_everyone]
        for rival in (*always, *self._rivals[: attempt.rivals]):
            if not left:
                break
            if rival.standing.rule is not attempt.standing.rule and left & rival.open:
                found[rival.standing.rule.name] = rival.standing.rule
                left = left - rival.open
        return list(found.values())

    def meet(self, winner: Attempt, loser: Attempt) -> PageSet:
        """The pages on which one attempt decides, through some lens, over another that is in force there too."""
        pages = winner.open & loser.standing.pages
        if not pages:
            return pages
        both = (winner.standing.audience, loser.standing.audience)
        if both[0].is_everyone and both[1].is_everyone and not pages - winner.clear:
            return pages
        known = tuple(dict.fromkeys(both))
        if not self.lenses.exists(
            known,
            lambda grades: grades[0] == winner.standing.grade and grades[-1] == loser.standing.grade,
        ):
            return PageSet.none(self.index.size)
        if pages & winner.clear:
            return pages & winner.clear
        return pages if self.can_win(winner, pages, (loser.standing.audience,)) else PageSet.none(self.index.size)


def _rival_sets(rivals: list[tuple[_Rival, PageSet]], pages: PageSet) -> Iterator[list[_Rival]]:
    """The sets of rivals that occur on some pages."""
    numbers = pages.numbers()
    columns = [reached.mask()[numbers].astype(np.int32) for _, reached in rivals]
    _, firsts = combine(columns, len(numbers))
    for first in firsts.tolist():
        yield [rival for (rival, _), column in zip(rivals, columns, strict=True) if column[first]]


def contests(index: PageIndex, layout: Layout, lenses: Lenses) -> list[Contest]:
    """The contest of every target that some rule acts on, in the order in which rules name them."""
    acting: dict[Target, list[tuple[Action, Standing]]] = {
        action.target: [] for rule in layout.rules for action in rule.actions
    }
    for standing in standings(index, layout, lenses):
        for action in standing.rule.additions_first:
            acting[action.target].append((action, standing))
    return [Contest(index, target, here, lenses) for target, here in acting.items()]
