"""Which of the rules that match a page can make a difference there, for any lens.

What everyone always gets beats all that is weaker, whoever looks; pages that agree in what is left come out alike,
however many rules they differ in.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable
from typing import NamedTuple

from ..language.query import Counts
from ..layout.model import Action, Target
from .strength import Match


class Unbeaten(NamedTuple):
    """The matches of a page that make a difference through some lens, in list order.

    ``likeness``: where it is the same for two pages, they get the same of their rules through every lens.
    """

    matches: list[Match]
    likeness: Hashable


class _Attempt(NamedTuple):
    """An action of a match. ``rank``: its strength, but for the count that hangs on the lens and for the order."""

    rank: tuple[int, Counts]
    match: Match
    action: Action

    @property
    def is_for_everyone(self) -> bool:
        return self.match.rule.condition.audience.is_everyone


def unbeaten(matches: Iterable[Match], *, named: bool) -> Unbeaten:
    """The matches of a page less those that are beaten on every target through every lens.

    A rule that does nothing is never beaten: it is there for what its condition asks. ``named``: whether it makes a
    difference what the rules are called, as where it is told who decides.
    """
    attempts: dict[Target, list[_Attempt]] = {}
    kept: dict[int, Match] = {}
    likeness: set[Hashable] = set()
    for match in sorted(matches, key=lambda match: (-match.rule.priority, [-count for count in match.counts])):
        for action in match.rule.actions:
            attempt = _Attempt((match.rule.priority, match.counts), match, action)
            attempts.setdefault(action.target, []).append(attempt)
        if not match.rule.actions:
            kept[match.place] = match
            likeness.add((match.rule.name, match.rule.condition.audience))
    for target, here in attempts.items():
        left = _left(here)
        kept.update((attempt.match.place, attempt.match) for attempt in left)
        likeness.add((target, _likeness(left, named=named)))
    return Unbeaten([kept[place] for place in sorted(kept)], frozenset(likeness))


def _left(attempts: list[_Attempt]) -> list[_Attempt]:
    """The attempts on one target that are not beaten for certain; given and told in the order of their ranks."""
    left: list[_Attempt] = []
    settled: _Attempt | None = None
    added: dict[str | None, _Attempt] = {}
    for one in attempts:
        if one.action.adds:
            # What is added already is not added again; and where that was cleared, so is this.
            if (earlier := added.get(one.action.piece)) is None or not _is_weaker(one, earlier):
                left.append(one)
                if earlier is None and one.is_for_everyone:
                    added[one.action.piece] = one
        elif settled is None or not _is_weaker(one, settled):
            left.append(one)
            if settled is None and one.is_for_everyone:
                settled = one
    if settled is None or not all(one.action.closes for one in left if not one.action.adds):
        return left
    return [one for one in left if not one.action.adds or not _is_weaker(one, settled)]


def _is_weaker(one: _Attempt, earlier: _Attempt) -> bool:
    """Whether an attempt is weaker than an earlier one for certain; within a rank the lens has the next word."""
    return one.match is not earlier.match and (one.rank != earlier.rank or one.is_for_everyone)


def _likeness(left: list[_Attempt], *, named: bool) -> tuple[object, ...]:
    ranks = {rank: number for number, rank in enumerate(dict.fromkeys(attempt.rank for attempt in left))}
    rules = {place: number for number, place in enumerate(dict.fromkeys(attempt.match.place for attempt in left))}
    return tuple(
        (
            ranks[attempt.rank],
            rules[attempt.match.place],
            None if attempt.is_for_everyone else attempt.match.rule.condition.audience,
            attempt.action,
            attempt.match.rule.name if named else None,
        )
        for attempt in left
    )
