"""Asking another service for a feed, carefully: only the open web, not too long, not too much.

Whoever writes a piece names the address, and the server asks. So the address is looked up once, refused where it leads
into a network of its own (RFC 1918, RFC 6890), and that very address is connected to; redirects go the same way.
"""

from __future__ import annotations

import datetime
import ipaddress
import socket
from collections.abc import Mapping
from dataclasses import dataclass, field
from html import unescape
from typing import Any
from urllib.parse import SplitResult, urljoin, urlsplit

import feedparser
import nh3
import urllib3
from django.conf import settings

from navrel.rendering.items.feeds import FeedEntry
from navrel.server.outward import REDIRECTS, connections

MAX_BYTES = 1024 * 1024
MAX_ENTRIES = 30
MAX_TITLE = 300
MAX_ADDRESS = 2000
_MOST_TURNS = 3
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
    headers = {"User-Agent": "Navrel", "Accept": _TYPES, **(asks or {})}
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
    if len(url) > MAX_ADDRESS:
        raise BadFeed("this address is too long")
    try:
        parts = urlsplit(url)
        port = parts.port
    except ValueError:
        raise BadFeed("this is no address") from None
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise BadFeed("a feed has an address that begins with https:// or http://")
    if parts.username or parts.password:
        raise BadFeed("an address with a name and a password cannot be asked")
    if port not in (None, 80, 443) and not _is_allowed(parts):
        raise BadFeed("a feed is asked for at the usual ports, 80 and 443")
    return parts


def _is_allowed(parts: SplitResult) -> bool:
    """Whether the owner of the server lets it ask this host, wherever it is."""
    return f"{parts.hostname}:{parts.port or (443 if parts.scheme == 'https' else 80)}" in settings.FEED_HOSTS


def _ask(parts: SplitResult, headers: Mapping[str, str]) -> urllib3.BaseHTTPResponse:
    host = parts.hostname or ""
    port = parts.port or (443 if parts.scheme == "https" else 80)
    ip = _looked_up(parts, host, port)
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    named = {**headers, "Host": host if parts.port is None else f"{host}:{port}"}
    pool = connections(parts.scheme, host, ip, port, _TIMEOUT)
    try:
        return pool.urlopen(  # type: ignore[no-any-return]
            "GET", path, headers=named, redirect=False, retries=False, preload_content=False, assert_same_host=False
        )
    except (urllib3.exceptions.HTTPError, OSError) as error:
        raise BadFeed(f"{host} cannot be reached: {type(error).__name__}") from None


def _looked_up(parts: SplitResult, host: str, port: int) -> str:
    """The address in numbers that is connected to: the first that a name stands for. Raises BadFeed."""
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError):
        raise BadFeed(f"there is no {host}") from None
    ip = str(found[0][4][0])
    if not ipaddress.ip_address(ip.split("%")[0]).is_global and not _is_allowed(parts):
        raise BadFeed(f"{host} is in a network of its own, which is not asked")
    return ip


def _body(answer: urllib3.BaseHTTPResponse) -> bytes:
    try:
        data = answer.read(MAX_BYTES + 1, decode_content=True)
    except urllib3.exceptions.HTTPError as error:
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
    asks = {"If-None-Match": headers.get("ETag", ""), "If-Modified-Since": headers.get("Last-Modified", "")}
    kept = {name: value for name, value in asks.items() if value and len(value) < 500}
    return Fetched(tuple(one for one in entries if one.title), _plain(found.feed.get("title", "")), kept)


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
