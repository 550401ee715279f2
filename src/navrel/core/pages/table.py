"""Many pages as a table: a column for each fact, and a page itself where it is looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import fields
from itertools import chain
from operator import attrgetter
from typing import Any, overload

from .page import Page

#: The facts of a page, in the order in which it takes them.
FACTS = tuple(one.name for one in fields(Page))
#: One fact of each page, and all of them by their names.
Column = list[Any]
Columns = Mapping[str, Column]


class PageTable(Sequence[Page]):
    """Pages in an order: what is asked about all of them is asked of a column, in a fraction of the time.

    A page that is known by its facts alone is made when it is first looked at, and is the same from then on: of 100,000
    pages a server shows few. Tables are equal where their pages are, and so are a table and any other sequence of
    pages. They are not hashed.
    """

    __hash__ = None  # type: ignore[assignment]

    def __init__(
        self, size: int, make: Callable[[int], Page], read: Callable[[str], Column], columns: Columns | None = None
    ) -> None:
        #: Each page, None as long as nobody has looked at it.
        self._made: list[Page | None] = [None] * size
        self._make = make
        self._read = read
        self._columns = dict(columns or {})

    @classmethod
    def of(cls, pages: Iterable[Page]) -> PageTable:
        """The table of pages that are there; a table itself."""
        if isinstance(pages, PageTable):
            return pages
        made = list(pages)
        return cls(len(made), made.__getitem__, lambda fact: list(map(attrgetter(fact), made)))

    @classmethod
    def by_facts(cls, columns: Columns) -> PageTable:
        """The pages whose facts stand in columns, all of the same length, each in its turn."""
        every = [columns[fact] for fact in FACTS]

        def make(at: int) -> Page:
            return Page(*[column[at] for column in every])

        return cls(len(every[0]), make, columns.__getitem__, columns)

    def ordered(self, order: list[int]) -> PageTable:
        """The same pages in another order; ``order`` has the place here of each. This one where that is its own."""
        if order == list(range(len(self))):
            return self

        def read(fact: str) -> Column:
            column = self.column(fact)
            return [column[at] for at in order]

        return PageTable(len(order), lambda at: self[order[at]], read)

    def column(self, fact: str) -> Column:
        """One fact of every page, in their order. Raises KeyError or AttributeError for what is no fact."""
        found = self._columns.get(fact)
        if found is None:
            found = self._columns[fact] = self._read(fact)
        return found

    def part(self, some: slice) -> Columns:
        """The facts of some of the pages."""
        return {fact: self.column(fact)[some] for fact in FACTS}

    @property
    def parts(self) -> list[list[Any]]:
        """What it is made of: the pages that were looked at, and the columns that were asked for."""
        # One by one: in between other threads get their turn.
        return [list(one) for one in (self._made, *self._columns.values())]

    def __len__(self) -> int:
        return len(self._made)

    @overload
    def __getitem__(self, at: int) -> Page: ...

    @overload
    def __getitem__(self, at: slice) -> tuple[Page, ...]: ...

    def __getitem__(self, at: int | slice) -> Page | tuple[Page, ...]:
        if isinstance(at, slice):
            return tuple(self[one] for one in range(*at.indices(len(self))))
        page = self._made[at]
        if page is None:
            page = self._made[at] = self._make(at)
        return page

    def __iter__(self) -> Iterator[Page]:
        for at, page in enumerate(self._made):
            yield page or self[at]

    def __eq__(self, other: object) -> bool:
        if self is other:
            return True
        if not isinstance(other, Sequence):
            return NotImplemented
        if len(self) != len(other):
            return False
        table = PageTable.of(other)
        return all(self.column(fact) == table.column(fact) for fact in FACTS)


def joined(parts: Iterable[Columns]) -> Columns:
    """The columns of several tables, one below the other."""
    every = list(parts)
    return {fact: list(chain.from_iterable(part[fact] for part in every)) for fact in FACTS}
