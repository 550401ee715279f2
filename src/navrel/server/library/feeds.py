"""The feeds that pieces show, as they were last fetched. Drawing has no need of what fetches them, `refreshing.py`."""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import date
from typing import Any

from navrel.core.layout.contents import items_of
from navrel.rendering.items.feeds import FeedEntry

from .models import Feed

#: For how many seconds a process does not look up again what is kept.
_REMEMBERED = 20.0
MAX_FEEDS = 200

_known: dict[str, tuple[float, tuple[FeedEntry, ...]]] = {}


def entries_of(url: str) -> Sequence[FeedEntry]:
    """The entries of a feed as far as they were fetched; looked up anew every few seconds."""
    now = time.monotonic()
    kept = _known.get(url)
    if kept is None or now - kept[0] > _REMEMBERED:
        feed = Feed.objects.filter(url=url).first()
        if len(_known) > MAX_FEEDS:
            _known.clear()
        kept = _known[url] = now, tuple(_entries(feed)) if feed else ()
    return kept[1]


def look_again(url: str) -> None:
    """Look a feed up anew the next time that it is asked for."""
    _known.pop(url, None)


def feeds_in(contents: Iterable[Mapping[str, Any]]) -> Iterator[str]:
    """The addresses of the feeds that some contents of pieces show."""
    for content in contents:
        for item in items_of(content):
            url = item.get("url")
            if item.get("type") == "feed" and isinstance(url, str) and url:
                yield url


def _entries(feed: Feed) -> Iterator[FeedEntry]:
    for one in feed.entries:
        yield FeedEntry(one["title"], one["link"], date.fromisoformat(one["date"]) if one["date"] else None)
