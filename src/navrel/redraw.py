"""Drawing in place in a program: its own pages, with what a layout decides for them in the places of slots."""

from __future__ import annotations

import codecs
import hashlib
import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import Protocol

from lxml import etree

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.seating import bindings_of
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.binding import Binding, Seat, seats
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.rendering.hinges import SiteHinges
from navrel.rendering.in_place.drawing import Original
from navrel.rendering.in_place.places import BadSelector, Marks, compiled, title_place
from navrel.rendering.in_place.styles import in_place_stylesheet, in_place_stylesheet_address
from navrel.rendering.page import Source, draw_over, no_original
from navrel.request import PLAINLY_TOLD, plain_visitor

#: The largest page that is drawn in; a larger one goes as it is.
LARGEST = 5 * 1024 * 1024
#: What an answer says of its bytes, which are others now (RFC 9110): of a drawn one it is not said any more.
OF_BYTES = frozenset(
    {"content-length", "etag", "last-modified", "accept-ranges", "content-md5", "digest", "repr-digest"}
)
_HTML = re.compile(r"text/html\s*(?:;|$)", re.IGNORECASE)
_CHARSET = re.compile(r"charset\s*=\s*\"?([\w.:-]+)", re.IGNORECASE)
_FILE = re.compile(r"/-/files/([0-9a-f]{64})(?:-\d{1,5})?/[^/]+\Z")


#: The places of slots in a page, and that of its title.
_Found = tuple[tuple[Seat, ...], tuple[int, int] | None]
_MOST_FOUND = 1_000


class Drawable(Protocol):
    """A site whose pages can be drawn: all of its pages, and what they are resolved and drawn by."""

    @property
    def document(self) -> SiteDocument: ...

    @property
    def tree(self) -> PageTree: ...

    @property
    def resolver(self) -> PageResolver: ...

    @property
    def source(self) -> Source: ...


class Redrawing:
    """Draws what a site decides into HTML that a program answers.

    ``places``: the selector of the element that each slot stands in place of, by the names of slots; the bindings of
    the site where nothing is said. ``files``: the folder of an export of the site, for the pictures that pieces show.
    Raises BadSelector (`navrel.rendering.in_place.places`).
    """

    def __init__(self, site: Drawable, places: Mapping[str, str] | None = None, files: Path | None = None) -> None:
        stated = (Binding(slot, selector) for slot, selector in (places or {}).items())
        self.site = site
        self._files = files
        self.hinges = SiteHinges(site.resolver)
        self._bindings = tuple(stated) if places is not None else site.document.bindings
        for binding in self._bindings:
            compiled(binding.selector)
        #: What was found in pages, by digests of them: one that comes again as it was is not looked through again.
        self._found: dict[object, _Found] = {}

    def page(self, path: str) -> Page | None:
        """The page of the site at an address; None for none, which goes as it is."""
        return self.site.tree.meant(path)

    def file(self, path: str) -> tuple[str, bytes] | None:
        """What drawn pages need beside their HTML: its media type and its bytes; None for what they do not."""
        if path == in_place_stylesheet_address():
            return "text/css; charset=utf-8", in_place_stylesheet()
        digest = found[1] if (found := _FILE.match(path)) else ""
        known = next((one for one in self.site.document.files if one.digest == digest), None)
        if known is None or self._files is None:
            return None
        try:
            return known.type, self._files.joinpath(path[1:]).read_bytes()
        except OSError:
            return None

    def visitor(self, meta: Mapping[str, str], query: str) -> Visitor:
        """Who asks, by the headers of a request, signed out."""
        return plain_visitor(meta, self.site.document.language, query)

    def headers(self, page: Page, stated: Iterable[tuple[str, str]]) -> list[tuple[str, str]]:
        """What is said of a drawn page, where a program stated that of its own: nothing of its bytes any more.

        Where others may see another, or it may change by itself, no cache keeps it, whatever the program says.
        """
        hinges = self.hinges.of(page)
        kept = [one for one in stated if one[0].lower() not in OF_BYTES]
        if not hinges.facts and not hinges.is_timed:
            return kept
        told = [one for one in kept if one[0].lower() not in ("cache-control", "expires", "vary")]
        stated_vary = [one.strip() for name, value in kept if name.lower() == "vary" for one in value.split(",")]
        by = sorted(PLAINLY_TOLD.get(fact, "Cookie") for fact in hinges.facts if not fact.startswith("query."))
        varies = ", ".join(dict.fromkeys((*stated_vary, *by)))
        return [*told, *([("Vary", varies)] if varies else []), ("Cache-Control", "private, no-cache")]

    def draw(
        self,
        page: Page,
        data: bytes,
        encoding: str,
        visitor: Visitor,
        at: datetime | None = None,
        taken: Callable[[], Original | None] = no_original,
    ) -> bytes:
        """A page with what is decided for it, at a moment or now; as it is where that is nothing, or has no place.

        ``taken``: its HTML as it was taken in. What stood there, stands still, and is what a piece shows, stays.
        """
        bindings = bindings_of(page, self._bindings, self.site.tree)
        own = Original(data, encoding, *self._places(data, encoding, bindings))
        if before := taken():
            own = replace(own, stands=own.stands_as_in(before))
        lens = Lens(visitor, at or self.site.document.now())
        return draw_over(self.site.source, page, own, bindings, lens).data

    def _places(self, data: bytes, encoding: str, bindings: tuple[Binding, ...]) -> _Found:
        """The places of slots in a page, and that of its title."""
        key = hashlib.blake2b(data, digest_size=16).digest(), encoding, bindings
        found = self._found.get(key)
        if found is None:
            found = _find(data, encoding, bindings)
            if len(self._found) >= _MOST_FOUND:
                self._found.clear()
            self._found[key] = found
        return found


def _find(data: bytes, encoding: str, bindings: tuple[Binding, ...]) -> _Found:
    try:
        marks = Marks(data, encoding)
        return seats(bindings, lambda one: marks.find(one.how, one.selector)), title_place(data)
    except (BadSelector, etree.LxmlError, ValueError):
        # What cannot be read has no places.
        return (), None


def encoding_of(content_type: str) -> str | None:
    """What an answer is written in, where it is HTML whose tags are the bytes that they are in ASCII; else None."""
    if not _HTML.match(content_type.strip()):
        return None
    stated = _CHARSET.search(content_type)
    try:
        known = codecs.lookup(stated[1] if stated else "utf-8").name
        return known if "<a>".encode(known) == b"<a>" else None
    except (LookupError, UnicodeError):
        return None
