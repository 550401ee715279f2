"""Where an item is being drawn: on this page, in this slot, through this lens."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from heapq import nsmallest
from threading import Lock
from typing import TypeVar

import numpy as np

from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Lens
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import SettingValue
from navrel.core.pages.page import Page

from ..placeholders import Filling, filling
from ..words import words_in
from .feeds import Feeds, no_feeds

_Value = TypeVar("_Value")
_NOTHING_KEPT = object()


class Memory:
    """What is drawn, kept as long as the state it is drawn from.

    What many pages share is never pushed out by what single pages have: of both so many are kept, those of single
    pages that were asked for last.
    """

    def __init__(self, most: int = 5000) -> None:
        self._most = most
        self._lock = Lock()
        self._shared: dict[Hashable, object] = {}
        self._recent: dict[Hashable, object] = {}

    def get(self, key: Hashable, make: Callable[[], _Value], *, of_page: bool = False) -> _Value:
        """The value of a key, made when it is first asked for. ``of_page``: no other page has the same."""
        kept = self._recent if of_page else self._shared
        value = kept.pop(key, _NOTHING_KEPT) if of_page else kept.get(key, _NOTHING_KEPT)
        if value is _NOTHING_KEPT:
            value = make()
        elif not of_page:
            return value  # type: ignore[return-value]
        # Several requests draw at once from one state.
        with self._lock:
            while len(kept) >= self._most:
                del kept[next(iter(kept))]
            kept[key] = value
        return value  # type: ignore[return-value]


def no_content() -> str:
    """For places whose page is not known by its content."""
    return ""


@dataclass(frozen=True)
class Place:
    """A page of a site through a lens, with the page's settings, and what stands around an item there.

    ``read`` gives the content of the page, sanitised; few items ask for it. ``feeds`` tells what feeds of other
    services say. ``in_place``: the page is drawn in its own HTML, which brings its own styles.
    """

    document: SiteDocument
    index: PageIndex
    page: Page
    lens: Lens
    settings: Mapping[str, SettingValue | None] = field(default_factory=dict)
    read: Callable[[], str] = no_content
    memory: Memory = field(default_factory=Memory)
    feeds: Feeds = no_feeds
    in_place: bool = False

    @cached_property
    def content(self) -> str:
        """The page's own content, sanitised."""
        return self.read()

    @cached_property
    def language(self) -> str:
        """The page's language, as a BCP 47 tag."""
        return self.page.language or self.document.language

    @cached_property
    def words(self) -> Mapping[str, str]:
        """The rendering's own words in the page's language."""
        return words_in(self.language)

    @cached_property
    def told(self) -> Filling:
        """What placeholders tell here."""
        return filling(self.page, self.document, self.lens)

    @cached_property
    def above(self) -> tuple[Page, ...]:
        """The pages above this one, from the top down."""
        pages = (self.index.tree.page(path) for path in self.index.tree.ancestor_paths(self.page))
        return tuple(page for page in reversed(list(pages)) if page is not None)

    @cached_property
    def trail(self) -> frozenset[str]:
        """The paths of this page and of those above it."""
        return frozenset((self.page.path, *(page.path for page in self.above)))

    def newest(self, query: str, order: str, most: int) -> tuple[Page, ...]:
        """The first pages that a query matches in an order, at most so many, looked for once in a state."""
        return self.memory.get(("pages", query, order, most), lambda: found_pages(self.index, query, order, most))


#: The orders in which pages are listed.
ORDERS = ("newest", "oldest", "title", "site")


def found_pages(index: PageIndex, query: str, order: str, most: int) -> tuple[Page, ...]:
    """The first pages that a query matches: by date (pages without one are left out), by title, or as in the site.

    Of very many none are sorted in one go in which no other thread runs.
    """
    pages, found = index.tree.pages, index.query(parse_query(query)).numbers()
    match order:
        case "newest" | "oldest":
            found = found[index.dates[found] > 0]
            dates = index.dates[found] * (-1 if order == "newest" else 1)
            numbers = found[np.argsort(dates, kind="stable")[:most]].tolist()
        case "title":
            numbers = nsmallest(most, found.tolist(), key=lambda number: (pages[number].title.casefold(), number))
        case _:
            numbers = found[:most].tolist()
    return tuple(pages[number] for number in numbers)
