"""What a feed of another service says, as it is shown: plain titles, links, dates (Atom, RFC 4287; RSS 2.0)."""

from __future__ import annotations

import datetime
from collections.abc import Callable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class FeedEntry:
    """An entry of a feed. ``link`` is an address of the web or empty; ``date`` None where none is stated."""

    title: str
    link: str
    date: datetime.date | None = None


#: What feeds are looked up with: the entries of one by its address, newest first, as far as they are known.
Feeds = Callable[[str], Sequence[FeedEntry]]


def no_feeds(url: str) -> Sequence[FeedEntry]:
    """For where nothing is known of any feed."""
    return ()
