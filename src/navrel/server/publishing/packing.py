"""How a published state is kept: JSON Lines, gzipped (RFC 1952).

The first line holds all that is small, and tells how many lines each part takes that grows with the site; those stand
after it, a slice a line. So a state is read in little memory, and no other thread of the process waits for long; and
what two revisions have in common, most often all pages, is there once. What was written before there were slices is one
line that holds everything.
"""

from __future__ import annotations

import gzip
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import lru_cache, partial
from hashlib import blake2b
from io import BytesIO
from itertools import chain, islice
from typing import Any, NamedTuple, TypeVar

import orjson

from navrel.core.files.rereading import reread_document, reread_facts
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Layout
from navrel.core.pages.page import Page
from navrel.core.pages.table import Columns, PageTable, joined
from navrel.server.inventory.originals import FrozenOriginal

#: What stands in one line of a part that grows.
_SLICE = 1000


@lru_cache(maxsize=4096)
def _once(stands: frozenset[tuple[str, str]]) -> frozenset[tuple[str, str]]:
    return stands


def _stands(told: Iterable[Iterable[str]]) -> frozenset[tuple[str, str]]:
    """Pieces that show what stands in the places of slots, there once for all pages of which it is the same."""
    return _once(frozenset((slot, slug) for slot, slug in told))


#: The parts that grow with the site, besides its pages: objects by path, and as what their values are read, if not as
#: they stand.
_GROWING: dict[str, Callable[[Any], Any] | None] = {
    "contents": None,
    "originals": FrozenOriginal.of_archive,
    "assets": tuple,
    "stands": _stands,
}

#: The values of one line, as they are read.
_Values = TypeVar("_Values", dict[str, Any], Columns)

#: Where in a part the values of each line stand, by its digest; in the order of the lines.
Lines = dict[bytes, slice]


class Unreadable(Exception):
    """A revision's archive does not hold what it was published with."""


class Archived(NamedTuple):
    """What is read of an archive: the site, and what is kept of it besides.

    ``lines``: those of each part that grows.
    """

    document: SiteDocument
    beside: dict[str, Any]
    lines: dict[str, Lines]


#: What has nothing in common with anything.
_NOTHING = Archived(SiteDocument("", ""), {name: {} for name in _GROWING}, {})


def pack(document: Mapping[str, Any], beside: Mapping[str, Any]) -> bytes:
    """A site as it is written (`write_document`), and what is kept of it besides, as an archive."""
    pages = list(_slices(document.get("pages", [])))
    growing = {name: [dict(part) for part in _slices(beside.get(name, {}).items())] for name in _GROWING}
    head = {
        **{name: value for name, value in beside.items() if name not in _GROWING},
        "document": {name: value for name, value in document.items() if name != "pages"},
        "slices": {"pages": len(pages), **{name: len(slices) for name, slices in growing.items()}},
    }
    written = BytesIO()
    with gzip.GzipFile(fileobj=written, mode="wb", compresslevel=6) as file:
        for line in chain([head], pages, *growing.values()):
            file.write(orjson.dumps(line, option=orjson.OPT_APPEND_NEWLINE))
    return written.getvalue()


def unpack(archive: bytes, older: Archived | None = None) -> Archived:
    """What was packed. What an older archive holds just so is taken from it: the same objects. Raises Unreadable."""
    with _opened(archive) as lines:
        head = orjson.loads(lines.readline())
        reading = _Reading(lines, head, older or _NOTHING)
        tree = head.pop("document")
        pages = reading.pages(tree)
        growing = {name: reading.objects(name, read) for name, read in _GROWING.items()}
        document = reread_document(tree, pages, reading.older.document)
        return Archived(document, {**head, **growing}, reading.found)


def unpack_layout(archive: bytes) -> Layout:
    """The layout alone of what was packed, for which no page is read. Raises Unreadable."""
    with _opened(archive) as lines:
        return reread_document(orjson.loads(lines.readline())["document"], pages=()).layout


@contextmanager
def _opened(archive: bytes) -> Iterator[gzip.GzipFile]:
    """The lines of an archive. Raises Unreadable for whatever comes of reading them."""
    try:
        with gzip.open(BytesIO(archive)) as lines:
            yield lines
    except (OSError, EOFError, zlib.error, ValueError, KeyError, TypeError, AttributeError) as error:
        raise Unreadable(str(error)) from error


class _Reading:
    """Reads the parts that grow, each in its turn."""

    def __init__(self, lines: gzip.GzipFile, head: dict[str, Any], older: Archived) -> None:
        self.older = older
        self.found: dict[str, Lines] = {}
        self._lines = lines
        self._head = head
        # In which language a page is that does not say so is told by the site.
        self._language = str(head["document"]["site"].get("language", "en"))
        #: How many lines each part takes; nothing where everything stands in the first one.
        self._counts: Mapping[str, int] = head.pop("slices", {})

    def pages(self, tree: dict[str, Any]) -> Sequence[Page]:
        """The pages of a site; those of the older archive themselves where all are the same."""
        read = partial(reread_facts, language=self._language)
        if not self._counts:
            return PageTable.by_facts(read(tree.pop("pages", ())))
        slices = self._part("pages", read, lambda facts: len(facts["path"]))
        known = PageTable.of(self.older.document.pages)
        if slices is None:
            return known
        return PageTable.by_facts(joined(known.part(one) if isinstance(one, slice) else one for one in slices))

    def objects(self, name: str, read: Callable[[Any], Any] | None) -> Mapping[str, Any]:
        """The objects of a part by their paths; those of the older archive themselves where all are the same."""

        def values(told: dict[str, Any]) -> dict[str, Any]:
            return {path: read(value) for path, value in told.items()} if read else told

        if not self._counts:
            return values(self._head.pop(name, {}))
        slices = self._part(name, values, len)
        known = self.older.beside[name]
        if slices is None:
            return known  # type: ignore[no-any-return]
        there = tuple(known.items())
        found: dict[str, Any] = {}
        for one in slices:
            found.update(there[one] if isinstance(one, slice) else one)
        return found

    def _part(
        self, name: str, read: Callable[[Any], _Values], count: Callable[[_Values], int]
    ) -> list[slice | _Values] | None:
        """The values of each line, or where in the older archive they stand; None where each stands where it stood.

        ``count`` tells how many the values of a line are.
        """
        known = self.older.lines.get(name, {})
        found = self.found[name] = {}
        slices: list[slice | _Values] = []
        start = 0
        # Revisions that were published before something was kept have no lines of it.
        for _ in range(self._counts.get(name, 0)):
            line = self._lines.readline()
            digest = blake2b(line, digest_size=16, key=self._language.encode()[:64]).digest()
            if digest in found:
                raise ValueError(f"a line of the {name} stands twice")
            there = known.get(digest)
            if there:
                slices.append(there)
                end = start + there.stop - there.start
            else:
                slices.append(values := read(orjson.loads(line)))
                end = start + count(values)
            found[digest] = slice(start, end)
            start = end
        return None if name in self.older.lines and list(found.items()) == list(known.items()) else slices


def _slices(part: Any) -> Iterator[list[Any]]:
    items = iter(part)
    while some := list(islice(items, _SLICE)):
        yield some
