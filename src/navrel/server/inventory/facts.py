"""The facts of pages: as they were taken in, and with what was corrected by hand on top."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import date
from typing import Any

from navrel.core.pages.page import LockNote
from navrel.core.pages.page import Page as CorePage
from navrel.core.pages.table import Columns, PageTable

from .models import Page, Site

#: The facts that can be corrected by hand.
BY_HAND = ("title", "kind", "type", "parent", "terms", "lists", "author", "language", "published", "fields", "locks")
#: Of those, what stands in place of what was taken in; fields are corrected one by one.
_AS_IT_STANDS = set(BY_HAND) - {"fields"}
_TAKEN = (*BY_HAND, "words", "slots")
#: The columns that it takes to know a page's facts.
COLUMNS = ("path", "address", *_TAKEN, "corrections", "bound")


def page_of(record: Any, language: str, *, taken: bool = False) -> CorePage:
    """A page with its facts, in a site of that language; ``taken``: as they were taken in, before any correction.

    ``record`` is that of the page.
    """
    told = {name: getattr(record, name) for name in COLUMNS}
    if taken:
        told["corrections"] = None
    return PageTable.by_facts(facts_of([tuple(told.values())], language))[0]


def facts_of(rows: Sequence[tuple[Any, ...]], language: str) -> Columns:
    """The facts of pages, those that were corrected by hand among them, in a site of that language.

    ``rows`` hold the `COLUMNS` of their records.
    """
    told = dict(zip(COLUMNS, map(list, zip(*rows, strict=True)), strict=True)) if rows else {one: [] for one in COLUMNS}
    for place, own in enumerate(told["corrections"]):
        if own:
            told["fields"][place] = _fields(told["fields"][place], own.get("fields", {}))
            for fact in own.keys() & _AS_IT_STANDS:
                told[fact][place] = own[fact]
    locks = [_locks(one) if one else _UNLOCKED for one in told["locks"]]
    return {
        "path": told["path"],
        "title": [title or path for title, path in zip(told["title"], told["path"], strict=True)],
        "kind": told["kind"],
        "type": told["type"],
        "parent": [parent or None for parent in told["parent"]],
        "terms": list(map(tuple, told["terms"])),
        "lists": told["lists"],
        "author": told["author"],
        "language": [own or language for own in told["language"]],
        "published": [
            date.fromisoformat(day) if isinstance(day, str) and day else day or None for day in told["published"]
        ],
        "words": told["words"],
        "fields": told["fields"],
        "slots": list(map(tuple, told["slots"])),
        "locks": [slots for slots, _ in locks],
        "lock_notes": [notes for _, notes in locks],
        "address": told["address"],
        "bound": [None if slots is None else tuple(slots) for slots in told["bound"]],
    }


def _fields(taken: Mapping[str, str], own: Mapping[str, str]) -> dict[str, str]:
    """The free fields, those that were corrected among them; one that was taken out is corrected to nothing."""
    return {name: value for name, value in {**taken, **own}.items() if value}


def _locks(locks: list[Any]) -> tuple[tuple[str, ...], dict[str, LockNote]]:
    """The slots that others own, and what is told of them; in the database they stand as in the layout file."""
    objects = [lock if isinstance(lock, dict) else {"slot": lock} for lock in locks]
    notes = {one["slot"]: LockNote(one.get("owner", ""), one.get("why", "")) for one in objects if len(one) > 1}
    return tuple(one["slot"] for one in objects), notes


#: Of a page on which nobody else owns anything. Nobody writes into it.
_UNLOCKED = _locks([])


def corrections(site: Site) -> dict[str, Mapping[str, Any]]:
    """What was corrected by hand, by path."""
    corrected = Page.objects.filter(site=site, corrections__isnull=False)
    return {path: facts or {} for path, facts in corrected.values_list("path", "corrections")}


def with_corrected_parents(site: Site, pairs: Iterable[tuple[str, str]]) -> Iterator[tuple[str, str | None]]:
    """Paths with the parents that they state, those that were corrected by hand in their place."""
    known = corrections(site)
    return ((path, known.get(path, {}).get("parent", parent) or None) for path, parent in pairs)
