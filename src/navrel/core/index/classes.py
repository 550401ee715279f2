"""Page classes: pages that match exactly the same clauses are alike for every question about rules."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache, cached_property, partial

import numpy as np
from numpy.typing import NDArray

from ..language.holding import page_term_holds
from ..language.query import Clause
from ..layout.condition import Condition
from ..layout.model import Layout
from ..pages.page import Page
from ..pages.pageset import Codes
from .page_index import PageIndex


def conditions_of(layout: Layout) -> Iterator[Condition]:
    """Every condition of a layout: those of the rules, then those of the sidebars' entries."""
    for rule in layout.rules:
        yield rule.condition
    for piece in layout.pieces.values():
        for entry in piece.entries_on:
            yield entry.condition


#: The rows of so many pages are made in the time in which one page is tested, about.
_ROWS_AT_ONCE = 1000


class PageClasses:
    """Which clauses of a layout match each page.

    As long as few pages are asked about, they are tested one by one; then the rows of all are made.
    """

    @classmethod
    def of(cls, index: PageIndex, layout: Layout) -> PageClasses:
        """Those of a layout; the same for every layout that asks the same, as long as somebody has them."""
        queries = (query for condition in conditions_of(layout) for query in (condition.include, condition.exclude))
        clauses = tuple(dict.fromkeys(clause for query in queries for clause in query.clauses))
        found: PageClasses | None = index.classes.get(clauses)
        if found is None:
            found = index.classes[clauses] = cls(index, clauses)
        return found

    def __init__(self, index: PageIndex, clauses: Sequence[Clause]) -> None:
        self.index = index
        self.columns: dict[Clause, int] = {clause: number for number, clause in enumerate(clauses)}
        #: The columns that match a page that was tested; no more than it takes time to make the rows.
        self._tested: dict[int, list[int]] = {}
        self._most_tested = index.size // _ROWS_AT_ONCE

    @cached_property
    def rows(self) -> NDArray[np.uint8]:
        """For each page the clauses that match it, shape (pages, ceil(clauses / 8)).

        Bit c of row p, big-endian, tells whether clause c matches page p. Memory: an eighth of a byte for each page and
        clause.
        """
        by_column = np.zeros(((len(self.columns) + 7) // 8, self.index.size), dtype=np.uint8)
        for clause, number in self.columns.items():
            by_column[number >> 3] |= self.index.clause(clause).mask().view(np.uint8) << (7 - (number & 7))
        return np.ascontiguousarray(by_column.T)

    def matching(self, number: int) -> list[int]:
        """The columns of the clauses that match a page, ascending."""
        found = self._tested.get(number)
        if found is not None:
            return found
        if len(self._tested) < self._most_tested and "rows" not in vars(self):
            found = self._tested[number] = self._test(self.index.tree.pages[number])
            return found
        return np.flatnonzero(np.unpackbits(self.rows[number])).tolist()

    def _test(self, page: Page) -> list[int]:
        # Many clauses ask the same.
        holds = cache(partial(page_term_holds, self.index.tree, page))
        return [number for clause, number in self.columns.items() if clause.holds(holds)]

    @cached_property
    def numbers(self) -> Codes:
        """The class of each page, from 0 in the order in which they come up; shape (pages,).

        Pages of one class also agree in the slots of their own content and in those that are locked.
        """
        known: dict[tuple[bytes, int, int], int] = {}
        width = self.rows.shape[1]
        whole = self.rows.tobytes()
        found = [
            known.setdefault((whole[number * width : (number + 1) * width], slots, locks), len(known))
            for number, (slots, locks) in enumerate(
                zip(self.index.own_slots.tolist(), self.index.own_locks.tolist(), strict=True)
            )
        ]
        return np.array(found, dtype=np.int32)

    @cached_property
    def firsts(self) -> NDArray[np.intp]:
        """The first page of each class."""
        _, firsts = np.unique(self.numbers, return_index=True)
        return firsts
