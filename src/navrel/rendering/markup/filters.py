"""The filters that markup has beside those of the language: looking for pages, and for files of the site."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextvars import ContextVar
from typing import Any

from liquid.exceptions import FilterArgumentError

from navrel.core.errors import QueryError

from ..items.place import ORDERS, Place
from .told import page_told

MOST_PAGES = 20

#: Where markup is being drawn; nothing while it is only being read.
drawn_at: ContextVar[Place | None] = ContextVar("drawn_at", default=None)


def _pages(query: Any, most: Any = 4, order: Any = "newest") -> list[dict[str, Any]]:
    """The first pages that a query matches: `{{ "type:article" | pages: 4, "newest" }}`."""
    place = drawn_at.get()
    if place is None:
        return []
    if not isinstance(most, int) or isinstance(most, bool) or not 1 <= most <= MOST_PAGES:
        raise FilterArgumentError(f"pages takes a number from 1 to {MOST_PAGES}", token=None)
    if order not in ORDERS:
        raise FilterArgumentError(f"pages are ordered by one of {', '.join(ORDERS)}", token=None)
    try:
        found = place.newest(str(query), order, most)
    except QueryError as error:
        raise FilterArgumentError(f"pages: {error}", token=None) from None
    return [page_told(page, place) for page in found]


def _file(name: Any) -> str:
    """The address of a file of the site, by its name; empty where there is none."""
    place = drawn_at.get()
    found = place.document.files_by_name.get(str(name)) if place else None
    return found.address() if found else ""


OWN_FILTERS: Mapping[str, Callable[..., Any]] = {"pages": _pages, "file": _file}
