"""The facts of pages: as they were taken in, and with what was corrected by hand on top."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from datetime import date
from typing import Any

from navrel.core.pages.page import LockNote
from navrel.core.pages.page import Page as CorePage

from .models import Page, Site

#: The facts that can be corrected by hand.
BY_HAND = ("title", "kind", "type", "parent", "terms", "lists", "author", "language", "published", "fields", "locks")
_TAKEN = (*BY_HAND, "words", "slots")
#: The columns that it takes to know a page's facts.
COLUMNS = ("path", "address", *_TAKEN, "corrections", "bound")


def page_of(record: Any, language: str, *, taken: bool = False) -> CorePage:
    """A page with its facts, in a site of that language; ``taken``: as they were taken in, before any correction.

    ``record`` is a page's, or a row of its `COLUMNS`.
    """
    facts = {name: getattr(record, name) for name in _TAKEN}
    if not taken and record.corrections:
        own = record.corrections.get("fields", {})
        facts |= {**record.corrections, "fields": _fields(record.fields, own)}
    published = facts["published"]
    return CorePage(
        path=record.path,
        title=facts["title"] or record.path,
        kind=facts["kind"],
        type=facts["type"],
        parent=facts["parent"] or None,
        terms=tuple(facts["terms"]),
        lists=facts["lists"],
        author=facts["author"],
        language=facts["language"] or language,
        published=date.fromisoformat(published) if isinstance(published, str) and published else published or None,
        words=facts["words"],
        fields=facts["fields"],
        slots=tuple(facts["slots"]),
        address=record.address,
        bound=None if record.bound is None else tuple(record.bound),
        **_locks(facts["locks"]),
    )


def _fields(taken: Mapping[str, str], own: Mapping[str, str]) -> dict[str, str]:
    """The free fields, those that were corrected among them; one that was taken out is corrected to nothing."""
    return {name: value for name, value in {**taken, **own}.items() if value}


def _locks(locks: list[Any]) -> dict[str, Any]:
    """A page's locks as the core has them; in the database they stand as in the layout file."""
    objects = [lock if isinstance(lock, dict) else {"slot": lock} for lock in locks]
    notes = {one["slot"]: LockNote(one.get("owner", ""), one.get("why", "")) for one in objects if len(one) > 1}
    return {"locks": tuple(one["slot"] for one in objects), "lock_notes": notes}


def corrections(site: Site) -> dict[str, Mapping[str, Any]]:
    """What was corrected by hand, by path."""
    corrected = Page.objects.filter(site=site, corrections__isnull=False)
    return {path: facts or {} for path, facts in corrected.values_list("path", "corrections")}


def with_corrected_parents(site: Site, pairs: Iterable[tuple[str, str]]) -> Iterator[tuple[str, str | None]]:
    """Paths with the parents that they state, those that were corrected by hand in their place."""
    known = corrections(site)
    return ((path, known.get(path, {}).get("parent", parent) or None) for path, parent in pairs)
