"""What was written of a document that had been read, read again: revisions, which come out as they went in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from datetime import date
from typing import Any

from ..layout.document import SiteDocument, Taxonomy
from ..pages.page import LockNote, Page
from ..pages.table import Columns, PageTable
from .reading import DocumentReader, noted


def reread_document(
    tree: object, pages: Sequence[Page] | None = None, older: SiteDocument | None = None
) -> SiteDocument:
    """Read what was written of a document that had been read (`write_document`), the pages as they stand.

    It is several times as fast where there are many: a site waits for it after each publication. ``pages``: those of
    the document, where they are not in its tree; ``older``: a document whose page tree it takes where it has the same
    pages. Raises DocumentError, KeyError, TypeError, ValueError, AttributeError.
    """
    reader = _Rereader(pages, older)
    document = reader.document(tree)
    reader.done()
    return document


def reread_facts(trees: Sequence[Mapping[str, Any]], language: str) -> Columns:
    """The facts of pages as they were written, in a language unless they say otherwise. Raises as `reread_document`."""
    reader = _Rereader()
    facts = reader.facts(trees, language)
    reader.done()
    return facts


#: What pages have that say nothing. Nobody writes into it.
_NONE: dict[str, Any] = {}


class _Rereader(DocumentReader):
    """Reads a site whose pages were read and written before."""

    def __init__(self, pages: Sequence[Page] | None = None, older: SiteDocument | None = None) -> None:
        super().__init__()
        self._pages = pages
        self._older = older

    def pages(
        self,
        tree: Mapping[str, Any],
        language: str,
        taxonomies: tuple[Taxonomy, ...],
        around: Set[str] = frozenset(),
    ) -> Sequence[Page]:
        if self._pages is not None:
            return self._pages
        return PageTable.by_facts(self.facts(tree.get("pages", ()), language))

    def check_tree(self, document: SiteDocument) -> None:
        if self._older is not None:
            document.take_tree(self._older)
        super().check_tree(document)

    def facts(self, trees: Sequence[Mapping[str, Any]], language: str) -> Columns:
        """The facts of pages as they stand, a column each."""

        facts = set().union(*trees)

        def told(fact: str, without: object) -> list[Any]:
            return [tree.get(fact, without) for tree in trees] if fact in facts else [without] * len(trees)

        published = told("published", None)
        # Many pages are of one day.
        days = {day: date.fromisoformat(day) for day in set(published) if day}
        locks: list[dict[str, LockNote]] = [
            _NONE if one is None else self.locks({"locks": one}, "") for one in told("locks", None)
        ]
        return {
            "path": [tree["path"] for tree in trees],
            "title": [tree.get("title", tree["path"]) for tree in trees],
            "kind": told("kind", "single"),
            "type": told("type", ""),
            "parent": told("parent", None),
            "terms": list(map(tuple, told("terms", ()))),
            "lists": told("lists", ""),
            "author": told("author", ""),
            "language": told("language", language),
            "published": list(map(days.get, published)),
            "words": told("words", 0),
            "fields": told("fields", _NONE),
            "slots": list(map(tuple, told("slots", ()))),
            "locks": list(map(tuple, locks)),
            "lock_notes": [noted(one) if one else _NONE for one in locks],
            "address": told("address", ""),
            "bound": [None if bound is None else tuple(bound) for bound in told("bound", None)],
        }
