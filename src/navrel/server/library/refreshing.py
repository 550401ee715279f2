"""Fetching the feeds that pieces show, now and then; what was fetched is kept where that fails."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from .feeds import MAX_FEEDS, look_again
from .fetching import BadFeed, fetch
from .models import Feed

#: How old what is kept may be until it is fetched again.
FRESH = timedelta(minutes=15)


def refresh(url: str) -> Feed:
    """Fetch a feed now. What was fetched before stays where that fails; why stands in ``problem``."""
    feed, _ = Feed.objects.get_or_create(url=url)
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
    look_again(url)
    return feed


def refresh_due(shown: Iterable[str]) -> list[Feed]:
    """Fetch every one of the feeds that are shown which is not fresh, and forget all others."""
    urls = list(dict.fromkeys(shown))[:MAX_FEEDS]
    Feed.objects.exclude(url__in=urls).delete()
    due = datetime.now(UTC) - FRESH
    fresh = set(Feed.objects.filter(tried__gt=due).values_list("url", flat=True))
    return [refresh(url) for url in urls if url not in fresh]
