"""A page with its facts."""

from __future__ import annotations

import datetime
import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import PurePosixPath
from typing import NamedTuple

#: Suffixes of files that hold pages.
PAGE_SUFFIXES = (".html", ".htm", ".xhtml")
_SPACES = re.compile(r"\s+")


class LockNote(NamedTuple):
    """Who owns a locked slot, and why; it is told, and decides nothing."""

    owner: str = ""
    why: str = ""


@dataclass(frozen=True)
class Page:
    """One address of a site, with its facts (cascade: Facts). ``parent`` None: the nearest ancestor by path.

    ``lock_notes``: for some of the slots in ``locks``, who owns them. ``address``: where it is served, where that is
    not its path: `/routes/north.html`, `/routes/`. ``bound``: for a page that has HTML of its own, the slots that are
    bound to a place in it, none inside another's; None for one that has none.
    """

    path: str
    title: str = ""
    kind: str = "single"
    type: str = ""
    parent: str | None = None
    terms: tuple[str, ...] = ()
    lists: str = ""
    author: str = ""
    language: str = "en"
    published: datetime.date | None = None
    words: int = 0
    fields: Mapping[str, str] = field(default_factory=dict, hash=False)
    slots: tuple[str, ...] = ()
    locks: tuple[str, ...] = ()
    lock_notes: Mapping[str, LockNote] = field(default_factory=dict, hash=False)
    address: str = ""
    bound: tuple[str, ...] | None = None

    @cached_property
    def own_slots(self) -> tuple[str, ...]:
        """The slots that stand in its own content, or are bound to a place in its HTML."""
        return tuple(dict.fromkeys((*self.slots, *(self.bound or ()))))

    def same_facts(self, other: Page | None) -> bool:
        """Whether another page has the same facts, wherever slots are bound in the HTML of both."""
        return other is not None and (self == other or replace(self, bound=other.bound) == other)

    @property
    def href(self) -> str:
        """Where it is served."""
        return self.address or self.path


def person_name(slug: str) -> str:
    """An author's name from its slug."""
    return " ".join(part.capitalize() for part in slug.split("-"))


def page_path(address: str) -> str:
    """The path by which the page at an address is known: without a suffix, `index` or a slash at its end."""
    pure = PurePosixPath(address)
    # A folder may be called as a page is: `/policy.html/`.
    if pure.suffix.lower() in PAGE_SUFFIXES and pure.name.strip(".") and not address.endswith("/"):
        pure = pure.parent if pure.stem.lower() == "index" else pure.with_suffix("")
    cleaned = _SPACES.sub("-", str(pure)).replace("?", "").replace("#", "").replace("\\", "/")
    parts = [part for part in cleaned.split("/") if part not in ("", ".", "..")]
    return ("/" + "/".join(parts))[:1000].rstrip("/") or "/"


def path_of(address: str) -> str:
    """The path of an address of the site itself, as pages have it; empty for one that leads elsewhere."""
    if not address.startswith("/") or address.startswith("//"):
        return ""
    path = address.split("#", 1)[0].split("?", 1)[0]
    return path if path == "/" else path.rstrip("/")
