"""Asking another service for a feed, carefully: only the open web, not too long, not too much.

Whoever writes a piece names the address, and the server asks, as it may; redirects go the same way.
"""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from dataclasses import dataclass, field
from html import unescape
from typing import Any
from urllib.parse import SplitResult, urljoin, urlsplit

import feedparser
import nh3
import urllib3

from navrel.rendering.items.feeds import FeedEntry
from navrel.server.outward import (
    MAX_ADDRESS,
    REDIRECTS,
    NotAsked,
    answered,
    asks_of,
    body_of,
    connections,
    looked_up,
    web_address,
)

MAX_BYTES = 1024 * 1024
MAX_ENTRIES = 30
MAX_TITLE = 300
_MOST_TURNS = 3
#: Seconds that an answer may take, however it trickles.
_MAX_SECONDS = 20
_TIMEOUT = urllib3.Timeout(connect=5, read=8, total=15)
_TYPES = "application/atom+xml, application/rss+xml, application/xml;q=0.9, text/xml;q=0.8"


class BadFeed(ValueError):
    """Why a feed could not be fetched, for people."""


@dataclass(frozen=True)
class Fetched:
    """What a service answered: entries, and what to ask with next time; ``same`` where nothing is new (RFC 9110)."""

    entries: tuple[FeedEntry, ...] = ()
    title: str = ""
    asks: Mapping[str, str] = field(default_factory=dict)
    same: bool = False


def fetch(url: str, asks: Mapping[str, str] | None = None) -> Fetched:
    """Fetch and read a feed. ``asks``: what the last answer gave to ask with. Raises BadFeed."""
    headers = {"Accept": _TYPES, **(asks or {})}
    for _ in range(_MOST_TURNS + 1):
        parts = _address(url)
        answer = _ask(parts, headers)
        try:
            if answer.status in REDIRECTS:
                url = urljoin(url, answer.headers.get("Location", ""))
                continue
            if answer.status == 304:
                return Fetched(same=True, asks=dict(asks or {}))
            if answer.status != 200:
                raise BadFeed(f"{parts.hostname} answers {answer.status}")
            return _read(_body(answer), answer.headers)
        finally:
            answer.release_conn()
            answer.close()
    raise BadFeed(f"{parts.hostname} leads on and on")


def check_address(url: str) -> None:
    """Whether an address may be that of a feed, as far as it says itself. Raises BadFeed."""
    _address(url)


def _address(url: str) -> SplitResult:
    try:
        return web_address(url)
    except NotAsked as why:
        raise BadFeed(str(why)) from None


def _ask(parts: SplitResult, headers: Mapping[str, str]) -> urllib3.BaseHTTPResponse:
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    try:
        return answered(connections(parts, looked_up(parts), _TIMEOUT), parts, path, headers)  # type: ignore[no-any-return]
    except NotAsked as why:
        raise BadFeed(str(why)) from None
    except (urllib3.exceptions.HTTPError, OSError) as error:
        raise BadFeed(f"{parts.hostname} cannot be reached: {type(error).__name__}") from None


def _body(answer: urllib3.BaseHTTPResponse) -> bytes:
    try:
        data = body_of(answer, MAX_BYTES, _MAX_SECONDS)
    except (urllib3.exceptions.HTTPError, OSError) as error:
        raise BadFeed(f"the answer breaks off: {type(error).__name__}") from None
    if len(data) > MAX_BYTES:
        raise BadFeed(f"this feed has more than {MAX_BYTES // 2**20} MiB")
    return data


def _read(data: bytes, headers: Mapping[str, str]) -> Fetched:
    if b"<!ENTITY" in data.upper():
        raise BadFeed("this feed declares entities, of which a few lines can stand for billions of letters")
    try:
        found = feedparser.parse(data, sanitize_html=False, resolve_relative_uris=False)
    except (ValueError, TypeError, AttributeError, LookupError, RecursionError):
        raise BadFeed("this feed cannot be read") from None
    if not found.get("version"):
        raise BadFeed("this is neither an Atom nor an RSS feed")
    entries = tuple(_entry(one) for one in found.entries[:MAX_ENTRIES])
    return Fetched(tuple(one for one in entries if one.title), _plain(found.feed.get("title", "")), asks_of(headers))


def _entry(entry: Any) -> FeedEntry:
    link = str(entry.get("link", ""))
    parts = urlsplit(link) if len(link) <= MAX_ADDRESS else None
    fit = parts is not None and parts.scheme in ("http", "https") and bool(parts.netloc)
    stamp = entry.get("published_parsed") or entry.get("updated_parsed")
    try:
        date = datetime.date(*stamp[:3]) if stamp else None
    except ValueError:
        date = None
    return FeedEntry(_plain(entry.get("title", "")), link if fit else "", date)


def _plain(text: Any) -> str:
    """A text without any markup, in one line."""
    bare = unescape(nh3.clean(str(text)[: 10 * MAX_TITLE], tags=set()))
    return " ".join("".join(letter for letter in bare if letter.isprintable() or letter.isspace()).split())[:MAX_TITLE]
