"""Pages that come out alike, whoever looks: those of one class, and those that differ in nothing but beaten rules."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import NamedTuple

from ..cascade.lookup import PageResolver
from ..cascade.strength import Match
from ..cascade.unbeaten import Unbeaten
from ..language.query import Clause


class _Known(NamedTuple):
    group: int
    likeness: Hashable
    matches: list[Match]


class AlikePages:
    """The pages of a resolver's layout in groups that come out alike; each class of pages is asked about once.

    ``left``: what is left of the matches of a page, and what that is told by: `cascade.unbeaten`.
    """

    def __init__(self, resolver: PageResolver, left: Callable[[list[Match]], Unbeaten]) -> None:
        self._resolver = resolver
        self._left = left
        #: By what they match, and their own slots and locks.
        self._known: dict[tuple[bytes, int, int], _Known] = {}
        self._groups: dict[Hashable, int] = {}
        layout, columns = resolver.layout, resolver.classes.columns
        #: What the entries of each sidebar ask of a page, and in which columns that stands.
        self._asked: dict[str, dict[int, Clause]] = {
            slug: {
                columns[clause]: clause
                for entry in piece.entries_on
                for query in (entry.condition.include, entry.condition.exclude)
                for clause in query.clauses
            }
            for slug, piece in layout.pieces.items()
            if piece.entries_on
        }

    def group(self, number: int) -> int:
        """The group of a page, from 0 in the order in which they are asked about."""
        return self._of(number).group

    def likeness(self, number: int) -> Hashable:
        """What the pages of a group agree in, and no others do; as long as the pages and the pieces are the same."""
        return self._of(number).likeness

    def matches(self, number: int) -> list[Match]:
        """The rules that let a page through and make a difference there, in list order."""
        return self._of(number).matches

    def _of(self, number: int) -> _Known:
        index, classes = self._resolver.index, self._resolver.classes
        own = int(index.own_slots[number]), int(index.own_locks[number])
        page_class = (classes.rows[number].tobytes(), *own)
        if page_class not in self._known:
            matches, likeness = self._left(self._resolver.matches(number)[0])
            key = (likeness, own, self._of_entries(number, matches))
            self._known[page_class] = _Known(self._groups.setdefault(key, len(self._groups)), key, matches)
        return self._known[page_class]

    def _of_entries(self, number: int, matches: list[Match]) -> frozenset[Clause]:
        """What of the conditions of entries holds on a page, as far as their sidebars may stand there."""
        pieces = {action.piece for match in matches for action in match.rule.actions}
        asked = {column: clause for piece in pieces for column, clause in self._asked.get(piece or "", {}).items()}
        if not asked:
            return frozenset()
        return frozenset(asked[column] for column in self._resolver.classes.matching(number) if column in asked)
