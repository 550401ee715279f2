"""Which terms of a condition hold on which pages: for testing a page against it, term by term."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import islice
from typing import Literal, NamedTuple

from ..index.page_index import PageIndex
from ..language.query import Query, Term
from ..layout.condition import Condition

#: Terms of one condition that are told apart; nobody reads more than that on a page.
MOST_TERMS = 100


Part = Literal["include", "exclude"]


class TermPlace(NamedTuple):
    """A term, and where in a condition it stands. ``clause`` and ``place``: within the query, each from 0."""

    part: Part
    clause: int
    place: int
    term: Term


def term_places(condition: Condition) -> tuple[TermPlace, ...]:
    """The terms of a condition that ask about pages, in order; at most MOST_TERMS."""
    parts: tuple[tuple[Part, Query], ...] = (("include", condition.include), ("exclude", condition.exclude))
    found = (
        TermPlace(part, number, place, term)
        for part, query in parts
        for number, clause in enumerate(query.clauses)
        for place, term in enumerate(clause.terms)
    )
    return tuple(islice(found, MOST_TERMS))


class Holding:
    """Tells which of some terms hold on a page."""

    def __init__(self, index: PageIndex, places: Sequence[TermPlace]) -> None:
        self._pages = [(index.term(one.term.positive), one.term.negated) for one in places]

    def on(self, number: int) -> tuple[int, ...]:
        """The places, among the terms, of those that hold on a page; a negated one where what it denies does not."""
        return tuple(place for place, (pages, negated) in enumerate(self._pages) if (number in pages) != negated)
