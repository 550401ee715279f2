"""How a published state is kept: JSON Lines, gzipped (RFC 1952).

The first line holds all that is small, and tells how many lines each part takes that grows with the site; those stand
after it, a slice a line. So a state is read in little memory, and no other thread of the process waits for long. What
was written before there were slices is one line that holds everything.
"""

from __future__ import annotations

import gzip
import zlib
from collections.abc import Iterator, Mapping
from io import BytesIO
from itertools import chain, islice
from typing import Any, NamedTuple

import orjson

from navrel.core.files.rereading import reread_document
from navrel.core.layout.document import SiteDocument

#: What stands in one line of a part that grows.
_SLICE = 1000
#: The parts that grow with the site, besides its pages: objects by path.
_GROWING = ("contents", "originals", "assets")


class Unreadable(Exception):
    """A revision's archive does not hold what it was published with."""


class Archived(NamedTuple):
    """What is read of an archive: the site, and what is kept of it besides."""

    document: SiteDocument
    beside: dict[str, Any]


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


def unpack(archive: bytes) -> Archived:
    """What was packed. Raises Unreadable."""
    try:
        with gzip.open(BytesIO(archive)) as lines:
            tree = orjson.loads(lines.readline())
            slices = tree.pop("slices", {})

            def parts(name: str) -> Iterator[Any]:
                for _ in range(slices[name]):
                    yield orjson.loads(lines.readline())

            if slices:
                tree["document"]["pages"] = chain.from_iterable(parts("pages"))
            document = reread_document(tree.pop("document"))
            for name in _GROWING if slices else ():
                tree[name] = {key: value for part in parts(name) for key, value in part.items()}
            return Archived(document, tree)
    except (OSError, EOFError, zlib.error, ValueError, KeyError, TypeError, AttributeError) as error:
        raise Unreadable(str(error)) from error


def _slices(part: Any) -> Iterator[list[Any]]:
    items = iter(part)
    while some := list(islice(items, _SLICE)):
        yield some
