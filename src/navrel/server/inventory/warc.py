"""Reading the answers that a crawler wrote down, as the files of a site (WARC, ISO 28500)."""

from __future__ import annotations

import gzip
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import unquote, urljoin, urlsplit

from warcio.archiveiterator import ArchiveIterator
from warcio.exceptions import ArchiveLoadFailed

from navrel.server.api.errors import Refused
from navrel.server.outward import REDIRECTS

from .archives import MAX_MEMBERS, MAX_TOTAL
from .assets import MAX_ASSET
from .decoding import Unreadable
from .folders import LARGEST, File, redirect_page

_QUERY = Unreadable("an address with a query; a page has one without")
_ELSEWHERE = Unreadable("of another site")


def is_warc(path: Path) -> bool:
    """Whether a file is a WARC, compressed or not, by how it begins."""
    if not path.is_file():
        return False
    try:
        with path.open("rb") as file:
            start = file.read(5)
        if start[:2] == b"\x1f\x8b":
            with gzip.open(path) as packed:
                start = packed.read(5)
    except (OSError, EOFError, zlib.error):
        return False
    return start == b"WARC/"


def warc_files(path: Path, base_url: str = "") -> Iterator[File]:
    """What a site answered, each as a file with its name below the site's address.

    The site is that of ``base_url``, else that of the first answer. What was answered with a redirect is a page that
    leads on. Raises Refused for a file that cannot be read.
    """
    host = urlsplit(base_url).netloc
    total = 0
    try:
        with path.open("rb") as file:
            for number, record in enumerate(ArchiveIterator(file)):
                if number >= MAX_MEMBERS:
                    raise Refused("too-many-files", f"The file holds more than {MAX_MEMBERS:,} records")
                uri = record.rec_headers.get_header("WARC-Target-URI") or ""
                if record.rec_type != "response" or not uri.startswith(("http://", "https://")):
                    continue
                parts = urlsplit(uri.strip("<>"))
                host = host or parts.netloc
                name = file_name(parts.path)
                data = _ELSEWHERE if parts.netloc != host else _QUERY if parts.query else _data(record, name, uri)
                total += 0 if isinstance(data, Unreadable) else len(data)
                if total > MAX_TOTAL:
                    raise Refused("too-large", f"The answers come to more than {MAX_TOTAL // 1024**3} GB")
                yield uri if data is _ELSEWHERE else f"{name}?{parts.query}" if parts.query else name, data
    except (ArchiveLoadFailed, OSError, EOFError, ValueError, zlib.error) as error:
        raise Refused("broken-archive", f"The file {path.name} cannot be read", str(error)) from None


def file_name(address: str) -> str:
    """The name of the file at an address."""
    name = unquote(address).lstrip("/")
    return f"{name}index.html" if not name or name.endswith("/") else name


def _data(record: Any, name: str, uri: str) -> bytes | Unreadable:
    """The body of an answer, or the reason why there is none."""
    status = int(record.http_headers.get_statuscode()) if record.http_headers else 200
    if status in REDIRECTS:
        return redirect_page(urljoin(uri, record.http_headers.get_header("Location") or "/"))
    if status != 200:
        return Unreadable(f"was answered with {status}")
    data: bytes = record.content_stream().read(MAX_ASSET + 1)
    return data if len(data) <= MAX_ASSET else LARGEST
