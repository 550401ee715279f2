"""The feeds that pieces show: fetched now and then, kept as they were where that fails."""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import UTC, date, datetime, timedelta
from typing import Any

from navrel.core.layout.contents import items_of
from navrel.rendering.items.feeds import FeedEntry

from .fetching import BadFeed, fetch
from .models import Feed

#: How old what is kept may be until it is fetched again, and for how long a process does not look it up again.
FRESH = timedelta(minutes=15)
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


def refresh(url: str) -> Feed:
    """Fetch a feed now. What was fetched before stays where that fails; why stands in ``problem``."""
    feed = Feed.objects.filter(url=url).first() or Feed(url=url)
    feed.tried = datetime.now(UTC)
    try:
        found = fetch(url, feed.asks)
    except BadFeed as error:
        feed.problem = str(error)[:500]
    else:
        feed.problem, feed.fetched = "", feed.tried
        if not found.same:
            feed.title, feed.asks = found.title, dict(found.asks)
            feed.entries = [
                {"title": one.title, "link": one.link, "date": one.date.isoformat() if one.date else None}
                for one in found.entries
            ]
    feed.save()
    _known.pop(url, None)
    return feed


def refresh_due(shown: Iterable[str]) -> list[Feed]:
    """Fetch every one of the feeds that are shown which is not fresh, and forget all others."""
    urls = list(dict.fromkeys(shown))[:MAX_FEEDS]
    Feed.objects.exclude(url__in=urls).delete()
    due = datetime.now(UTC) - FRESH
    fresh = set(Feed.objects.filter(tried__gt=due).values_list("url", flat=True))
    return [refresh(url) for url in urls if url not in fresh]


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
