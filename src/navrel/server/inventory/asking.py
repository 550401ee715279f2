"""Asking a site for what is at an address, and what that leads to: on its own host alone, all of it bounded.

Sources: RFC 9110 (redirects, conditional requests), RFC 9309 (robots.txt), sitemaps.org.
"""

from __future__ import annotations

import re
import time
import zlib
from collections import deque
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from html import unescape
from itertools import islice
from typing import Any
from urllib.parse import quote, unquote, urljoin, urlsplit
from urllib.robotparser import RobotFileParser

import urllib3

from navrel.core.text import fit
from navrel.rendering.in_place.references import ATTRIBUTE, changed_css, changed_srcset, value_of
from navrel.rendering.in_place.tokens import replaced_tags
from navrel.server.outward import (
    MAX_ADDRESS,
    REDIRECTS,
    answered,
    asks_of,
    body_of,
    connections,
    port_of,
)

from .addresses import name_of
from .assets import MAX_ASSET
from .decoding import Unreadable
from .folders import LARGEST, is_page, redirect_page

#: Seconds that one answer may take, however it trickles.
MAX_SECONDS = 60
_MAX_ROBOTS = 512 * 1024
_MAX_SITEMAP = 50 * 1024 * 1024
_MOST_SITEMAPS = 100
#: Seconds that all sitemaps may take.
MAX_SITEMAP_SECONDS = 60
_TIMEOUT = urllib3.Timeout(connect=5, read=20)
#: Attributes that lead to something.
_LEADING = ("href", "src", "srcset", "poster", "data")
_LOCATIONS = re.compile(rb"<loc>\s*([^<\s]+)\s*</loc>", re.IGNORECASE)
_PAGES = ("text/html", "application/xhtml+xml")


class Silent(Unreadable):
    """No answer, or none to its end."""


@dataclass(frozen=True)
class Answer:
    """What is at an address, or the reason why nothing is; the paths it leads to; what to ask with next time.

    ``away``: the address elsewhere that it redirects to. ``is_same``: nothing is new since what it was asked with.
    """

    data: bytes | Unreadable
    leads_to: tuple[str, ...] = ()
    type: str = ""
    asks: Mapping[str, str] = field(default_factory=dict)
    away: str = ""
    is_same: bool = False


@dataclass(frozen=True)
class Known:
    """What was answered before: its bytes and type, and what it gave to ask with."""

    data: bytes
    type: str
    asks: Mapping[str, str]


class Origin:
    """A site that is asked: the host of an address, at one address in numbers, whatever its pages lead to."""

    def __init__(self, start: str, ip: str) -> None:
        parts = urlsplit(start)
        self._start = f"{parts.scheme}://{parts.netloc}"
        self._place = parts.scheme, parts.hostname, port_of(parts)
        self._name = name_of(parts)
        self._parts = parts
        self._pool = connections(parts, ip, _TIMEOUT)

    def path_of(self, reference: str, path: str = "/") -> str | None:
        """The path that a reference on the page at a path leads to; None for what is not of this site, or not asked."""
        try:
            parts = urlsplit(urljoin(f"{self._start}{path}", reference))
        except ValueError:
            return None
        if parts.scheme not in ("http", "https") or name_of(parts) != self._name:
            return None
        last = parts.path.rpartition("/")[2]
        # A query of a style sheet says which version it is; one of a page asks for another.
        if parts.query and (is_page(last) or "." not in last):
            return None
        found = quote(unquote(parts.path or "/"), safe="/~!$&'()*+,;=:@")
        return found if len(found) <= MAX_ADDRESS else None

    def answer(self, path: str, known: Known | None = None) -> Answer:
        """What is at a path, sent again only where it is not what is known."""
        try:
            status, headers, data = self._ask(path, MAX_ASSET, known.asks if known else {})
        except Silent as silent:
            return Answer(silent)
        if status in REDIRECTS:
            location = headers.get("Location", "/")
            target = urljoin(f"{self._start}{path}", location)
            # Another name of the site is not asked: whoever asks for this one would be led there for ever.
            if not self._is_here(target):
                return Answer(Unreadable(f"leads on to {fit(target, 200)}, which is elsewhere"), away=target)
            own = self.path_of(location, path)
            return Answer(redirect_page(own or target), (own,) if own else ())
        if status == 304 and known:
            return Answer(
                known.data, self._leads_to(known.data, known.type, path), known.type, known.asks, is_same=True
            )
        if status != 200:
            return Answer(Unreadable(f"was answered with {status}"))
        if len(data) > MAX_ASSET:
            return Answer(LARGEST)
        media = fit(headers.get("Content-Type", "").partition(";")[0].strip().lower(), 100)
        return Answer(data, self._leads_to(data, media, path), media, asks_of(headers))

    def _is_here(self, address: str) -> bool:
        """Whether an address is one of this site."""
        try:
            parts = urlsplit(address)
            return (parts.scheme, parts.hostname, port_of(parts)) == self._place
        except ValueError:
            return False

    def robots(self) -> str:
        """What robots.txt says. Raises Silent where nobody answers."""
        status, _, data = self._ask("/robots.txt", _MAX_ROBOTS)
        # Where there is none, nothing is forbidden; where the server fails, all is (RFC 9309, 2.3.1).
        if status >= 500:
            return "User-agent: *\nDisallow: /"
        return data.decode("utf-8", "replace").replace("\0", "") if status == 200 else ""

    def from_sitemaps(self, named: Iterable[str], most: int) -> tuple[list[str], int]:
        """The paths that the site's sitemaps name, those named by robots.txt among them, and those of their indexes.

        ``most``: of paths. Also returns how many sitemaps were left unread, as they are too many or take too long.
        """
        waiting = deque((*named, "/sitemap.xml"))
        found: dict[str, None] = {}
        asked: set[str] = set()
        until = time.monotonic() + MAX_SITEMAP_SECONDS
        while waiting and len(found) < most and len(asked) < _MOST_SITEMAPS and time.monotonic() < until:
            path = self.path_of(waiting.popleft())
            if path is None or path in asked:
                continue
            asked.add(path)
            data = self._sitemap(path)
            locations = islice(_LOCATIONS.finditer(data), most)
            led_to = (unescape(one[1].decode("utf-8", "replace")) for one in locations)
            if b"<sitemapindex" in data[:2000]:
                waiting.extend(islice(led_to, _MOST_SITEMAPS))
            else:
                found |= {own: None for one in led_to if (own := self.path_of(one))}
        return list(found)[:most], len(waiting)

    def _sitemap(self, path: str) -> bytes:
        """A sitemap, empty where there is none."""
        try:
            status, _, data = self._ask(path, _MAX_SITEMAP)
            if data[:2] == b"\x1f\x8b":
                data = zlib.decompressobj(16 + zlib.MAX_WBITS).decompress(data, _MAX_SITEMAP)
        except (Silent, zlib.error):
            return b""
        return data if status == 200 else b""

    def _leads_to(self, data: bytes, media: str, path: str) -> tuple[str, ...]:
        if media == "text/css":
            found = _gathered(changed_css, data.decode("utf-8", "replace"))
        else:
            found = _references(data) if media in _PAGES else []
        return tuple(dict.fromkeys(one for one in (self.path_of(reference, path) for reference in found) if one))

    def _ask(self, path: str, most: int, asks: Mapping[str, str] | None = None) -> tuple[int, Any, bytes]:
        """Status, headers and body of an answer. Raises Silent."""
        try:
            answer = answered(self._pool, self._parts, path, {"Accept-Encoding": "gzip", **(asks or {})})
            try:
                return answer.status, answer.headers, body_of(answer, most, MAX_SECONDS)
            finally:
                answer.close()
        except (urllib3.exceptions.HTTPError, OSError, ValueError) as error:
            raise Silent(f"no whole answer: {type(error).__name__}") from None


def rules_of(robots: str) -> RobotFileParser:
    """What a robots.txt allows."""
    rules = RobotFileParser()
    rules.parse(robots.splitlines())
    return rules


def _gathered(changed: Callable[[str, Callable[[str], str]], str], text: str) -> list[str]:
    """What is led to in a text, of which the addresses could be changed."""
    found: list[str] = []

    def keep(reference: str) -> str:
        found.append(reference)
        return reference

    changed(text, keep)
    return found


def _references(html: bytes) -> list[str]:
    """What the tags of a page lead to."""
    found: list[str] = []

    def tag(name: str, written: bytes, text: bytes) -> bytes:
        for attribute in ATTRIBUTE.finditer(written):
            key, value = attribute[1].decode().lower(), value_of(attribute)
            if key == "srcset":
                found.extend(_gathered(changed_srcset, value))
            elif key in _LEADING and not value.startswith(("data:", "javascript:", "mailto:", "#")):
                found.append(fit(value, MAX_ADDRESS))
        return written + text

    replaced_tags(html, tag)
    return found
