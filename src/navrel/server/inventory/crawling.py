"""Asking a site for all that it leads to: robots.txt kept (RFC 9309), sitemaps read (sitemaps.org), all of it bounded.

Whoever runs the command names the address. That host alone is asked, at the address in numbers for which its name
stood at the beginning, whatever its pages lead to.
"""

from __future__ import annotations

import gzip
import re
import socket
import time
import zlib
from collections import deque
from collections.abc import Callable, Iterator
from html import unescape
from typing import Any
from urllib.parse import quote, unquote, urljoin, urlsplit
from urllib.robotparser import RobotFileParser

import urllib3

from navrel.core.text import fit
from navrel.rendering.in_place.references import ATTRIBUTE, changed_css, changed_srcset, value_of
from navrel.rendering.in_place.tokens import replaced_tags
from navrel.server.api.errors import Refused
from navrel.server.outward import REDIRECTS, connections

from .archives import MAX_TOTAL
from .assets import MAX_ASSET
from .decoding import Unreadable
from .folders import File, is_page, too_large
from .warc import file_name, redirect_page

#: Addresses that are asked, how far from the first, and how many may go wrong one after the other.
MOST_ADDRESSES = 50_000
MAX_DEPTH = 50
MOST_FAILURES = 20
#: Seconds between two requests, more where robots.txt asks for more, and that the whole may take.
PAUSE, MOST_PAUSE = 0.02, 10.0
MAX_SECONDS = 6 * 3600
_MAX_SITEMAP = 50 * 1024 * 1024
_AGENT = "Navrel"
_TIMEOUT = urllib3.Timeout(connect=5, read=20)
#: Attributes that lead to something.
_LEADING = ("href", "src", "srcset", "poster", "data")
_LOCATIONS = re.compile(rb"<loc>\s*([^<\s]+)\s*</loc>", re.IGNORECASE)


class Crawl:
    """Walks a site from its first address on. ``most``: addresses that are asked; ``pause``: seconds between them."""

    def __init__(self, start: str, most: int = MOST_ADDRESSES, pause: float = PAUSE) -> None:
        parts = urlsplit(start)
        if parts.scheme not in ("http", "https") or not parts.hostname or parts.username:
            raise Refused("bad-address", f"{start} is no address of a site", "Write it as https://example.org/")
        self.start = start if parts.path else f"{start}/"
        self.origin = f"{parts.scheme}://{parts.netloc}"
        self._most, self._pause = most, pause
        self._pool = _pool(parts.scheme, parts.hostname, parts.port)
        self._host = parts.netloc
        self._robots = RobotFileParser()
        self._waiting: deque[tuple[str, int]] = deque()
        self._seen: set[str] = set()

    def files(self) -> Iterator[File]:
        """What the site answers, each as a file with its name below the address.

        Raises Refused where nobody answers.
        """
        self._read_robots()
        for address in (self.start, *self._from_sitemaps()):
            self._meet(address, 0)
        asked = failed = total = 0
        until = time.monotonic() + MAX_SECONDS
        while self._waiting and asked < self._most and time.monotonic() < until:
            address, depth = self._waiting.popleft()
            name = file_name(urlsplit(address).path)
            if not self._robots.can_fetch(_AGENT, address):
                yield name, Unreadable("robots.txt asks that it is not read")
                continue
            time.sleep(self._pause)
            asked += 1
            data, leads_to = self._answer(address)
            failed = failed + 1 if isinstance(data, _Silent) else 0
            if failed > MOST_FAILURES or (failed and asked == 1):
                raise self._unanswered(data)
            for reference in leads_to:
                self._meet(urljoin(address, reference), depth + 1)
            total += 0 if isinstance(data, Unreadable) else len(data)
            if total > MAX_TOTAL:
                raise Refused("too-large", f"The answers come to more than {MAX_TOTAL // 1024**3} GB")
            yield name, data
        if self._waiting:
            told = f"{len(self._waiting):,} more addresses were not asked; {self._most:,} is the most"
            yield "all others", Unreadable(told)

    def _meet(self, address: str, depth: int) -> None:
        """Remember an address to be asked, where it is of this site and was not met before."""
        try:
            parts = urlsplit(address)
        except ValueError:
            return
        if f"{parts.scheme}://{parts.netloc}" != self.origin or depth > MAX_DEPTH or len(address) > 2000:
            return
        path = quote(unquote(parts.path or "/"), safe="/~!$&'()*+,;=:@")
        last = path.rpartition("/")[2]
        # A query of a style sheet says which version it is; one of a page asks for another.
        if parts.query and (is_page(last) or "." not in last):
            return
        if path not in self._seen:
            self._seen.add(path)
            self._waiting.append((f"{self.origin}{path}", depth))

    def _answer(self, address: str) -> tuple[bytes | Unreadable, list[str]]:
        """What is answered, or the reason why nothing is; and what that leads to."""
        name = file_name(urlsplit(address).path)
        try:
            status, headers, data = self._ask(address, MAX_ASSET)
        except _Silent as silent:
            return silent, []
        if status in REDIRECTS:
            target = urljoin(address, headers.get("Location", "/"))
            return redirect_page(target), [target]
        if status != 200:
            return Unreadable(f"was answered with {status}"), []
        if len(data) > MAX_ASSET:
            return too_large(name), []
        kind = headers.get("Content-Type", "").partition(";")[0].strip().lower()
        if kind == "text/css":
            return data, _gathered(changed_css, data.decode("utf-8", "replace"))
        return data, _references(data) if kind in ("text/html", "application/xhtml+xml") else []

    def _ask(self, address: str, most: int) -> tuple[int, Any, bytes]:
        """Status, headers and body of an answer. Raises _Silent."""
        parts = urlsplit(address)
        target = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
        headers = {"User-Agent": _AGENT, "Host": self._host, "Accept-Encoding": "gzip"}
        try:
            answer = self._pool.urlopen(
                "GET", target, headers=headers, redirect=False, retries=False, preload_content=False,
                assert_same_host=False,
            )  # fmt: skip
            try:
                return answer.status, answer.headers, answer.read(most + 1, decode_content=True)
            finally:
                answer.close()
        except (urllib3.exceptions.HTTPError, OSError, ValueError) as error:
            raise _Silent(f"no whole answer: {type(error).__name__}") from None

    def _unanswered(self, why: object) -> Refused:
        return Refused("no-answer", f"{self._host} does not answer", str(why))

    def _read_robots(self) -> None:
        try:
            status, _, data = self._ask(f"{self.origin}/robots.txt", 512 * 1024)
        except _Silent as silent:
            raise self._unanswered(silent) from None
        # Where there is none, nothing is forbidden; where the server fails, all is (RFC 9309, 2.3.1).
        lines = data.decode("utf-8", "replace").splitlines() if status == 200 else []
        self._robots.parse(["User-agent: *", "Disallow: /"] if status >= 500 else lines)
        delay = self._robots.crawl_delay(_AGENT)
        self._pause = max(self._pause, min(float(delay or 0), MOST_PAUSE))

    def _from_sitemaps(self) -> Iterator[str]:
        """The addresses that sitemaps name, and those that their indexes do."""
        waiting = [*(self._robots.site_maps() or ()), f"{self.origin}/sitemap.xml"]
        asked: set[str] = set()
        while waiting and len(asked) < 100:
            address = waiting.pop(0)
            if address in asked or not address.startswith(f"{self.origin}/"):
                continue
            asked.add(address)
            try:
                status, _, data = self._ask(address, _MAX_SITEMAP)
                if data[:2] == b"\x1f\x8b":
                    data = zlib.decompressobj(16 + zlib.MAX_WBITS).decompress(data, _MAX_SITEMAP)
            except (_Silent, zlib.error, gzip.BadGzipFile):
                continue
            named = (
                [unescape(one.decode("utf-8", "replace")) for one in _LOCATIONS.findall(data)] if status == 200 else []
            )
            if b"<sitemapindex" in data[:2000]:
                waiting += named
            else:
                yield from named


class _Silent(Unreadable):
    """No answer, or none to its end."""


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
                found.append(fit(value, 2000))
        return written + text

    replaced_tags(html, tag)
    return found


def _pool(scheme: str, host: str, port: int | None) -> Any:
    """Connections to a host, at what its name stands for now. Raises Refused."""
    port = port or (443 if scheme == "https" else 80)
    try:
        ip = str(socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0][4][0])
    except (OSError, UnicodeError):
        raise Refused("no-host", f"There is no {host}") from None
    return connections(scheme, host, ip, port, _TIMEOUT)
