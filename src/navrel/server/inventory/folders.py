"""Reading the files of a folder: each when its turn comes, none from outside of it."""

from __future__ import annotations

import os
import posixpath
import stat
from collections.abc import Iterator
from html import escape
from pathlib import Path
from urllib.parse import quote

from navrel.core.pages.page import PAGE_SUFFIXES

from .assets import MAX_ASSET
from .decoding import Unreadable

#: A file's name below its folder, and its bytes, or the reason why they could not be had.
File = tuple[str, bytes | Unreadable]

_BEGINNINGS = (b"<!doctype html", b"<html")
#: Suffixes of programs that answer with pages.
_PROGRAMS = (".php", ".asp", ".aspx", ".jsp", ".cfm", ".cgi", ".shtml")
_OUTSIDE = Unreadable("a link that leads out of the folder; it is not followed")
HIDDEN = Unreadable("a hidden folder; it is left out with all that is in it")
NO_FILE = Unreadable("no plain file, but a pipe, a socket or a device")
#: Files at the most that are found once more by links to folders that are read themselves.
MOST_LED_ON = 100_000
_TOO_MANY = Unreadable(f"a link to a folder of the site; by such at most {MOST_LED_ON:,} files lead on")
LARGEST = Unreadable(f"larger than {MAX_ASSET // (1024 * 1024)} MB")


class StandIn(bytes):
    """What stands for an answer that is no file: it is read, and never served."""


def is_page(name: str, data: bytes = b"") -> bool:
    """Whether a file holds a page: by its name, or where that does not say by how it begins (MIME Sniffing, 7.1)."""
    if name.lower().endswith(PAGE_SUFFIXES):
        return True
    last = name.rpartition("/")[2].lower()
    begins = data[:512].lstrip(b"\xef\xbb\xbf \t\r\n").lower().startswith(_BEGINNINGS)
    return begins and ("." not in last or last.endswith(_PROGRAMS))


def folder_files(folder: Path) -> Iterator[File]:
    """The files below a folder, in order of name, each read when its turn comes; what is hidden is passed over.

    Links are followed within the folder: the pages of one that is read itself lead on from the link to where they are.
    One that leads out of it, whatever is no plain file, and a hidden folder, as pages may lead into it, are named.
    """
    root = folder.resolve()
    seen = {root}
    linked: list[Path] = []
    for place, folders, names in os.walk(folder, followlinks=True):
        kept = []
        for name in sorted(folders):
            path = Path(place) / name
            if is_hidden(name):
                yield path.relative_to(folder).as_posix(), HIDDEN
                continue
            real = path.resolve()
            if not real.is_relative_to(root):
                yield path.relative_to(folder).as_posix(), _OUTSIDE
            elif path.is_symlink() and not any(map(is_hidden, real.relative_to(root).parts)):
                linked.append(path)
            elif real not in seen:
                seen.add(real)
                kept.append(name)
        folders[:] = kept
        for name in sorted(one for one in names if not is_hidden(one)):
            path = Path(place) / name
            outside = path.is_symlink() and not path.resolve().is_relative_to(root)
            yield path.relative_to(folder).as_posix(), _OUTSIDE if outside else _bytes_of(path)
    left = MOST_LED_ON
    for link in linked:
        for found in _once_more(link, folder, root):
            if not left:
                yield link.relative_to(folder).as_posix(), _TOO_MANY
                break
            left -= 1
            yield found


def _once_more(link: Path, folder: Path, root: Path) -> Iterator[File]:
    """What is found by a link to a folder: pages that lead on to the folder's own, and its other files."""
    real = link.resolve()
    # No further links are followed, so that one to a folder around it ends.
    for place, folders, names in os.walk(real):
        folders[:] = sorted(one for one in folders if not is_hidden(one))
        for path in (Path(place) / one for one in sorted(names) if not is_hidden(one)):
            data = _bytes_of(path) if path.resolve().is_relative_to(root) else _OUTSIDE
            if not isinstance(data, Unreadable):
                name = (link.relative_to(folder) / path.relative_to(real)).as_posix()
                way = posixpath.relpath(path.relative_to(root).as_posix(), posixpath.dirname(name))
                yield name, redirect_page(quote(way)) if is_page(name, data) else data


def redirect_page(target: str) -> StandIn:
    """A page that leads on, in the place of one that is elsewhere."""
    refresh = f'<meta http-equiv="refresh" content="0; url={escape(target)}">'
    return StandIn(f"<!doctype html>{refresh}<title>Moved</title><body>".encode())


def is_hidden(name: str) -> bool:
    """Whether a file or folder is none of a site's; what is well known is (RFC 8615), and a page without a name."""
    return name.startswith(".") and name not in (".", "..", ".well-known", *PAGE_SUFFIXES)


def _bytes_of(path: Path) -> bytes | Unreadable:
    try:
        # A pipe would keep whoever opens it waiting, so it is looked at first and opened without waiting.
        if not stat.S_ISREG(path.stat().st_mode):
            return NO_FILE
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK), "rb") as file:
            data = file.read(MAX_ASSET + 1)
    except OSError as error:
        return Unreadable(f"cannot be opened: {error.strerror}")
    return data if len(data) <= MAX_ASSET else LARGEST
