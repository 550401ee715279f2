"""What was written of a document that had been read, read again: revisions, which come out as they went in."""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Mapping, Set
from typing import Any

from ..layout.document import SiteDocument, Taxonomy
from ..pages.page import Page
from .reading import DocumentReader, noted


def reread_document(
    tree: object, pages: tuple[Page, ...] | None = None, older: SiteDocument | None = None
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


def reread_pages(trees: Iterable[Mapping[str, Any]], language: str) -> list[Page]:
    """Pages as they were written, in a language unless they say otherwise. Raises as `reread_document` does."""
    reader = _Rereader()
    pages = [reader.as_written(tree, language) for tree in trees]
    reader.done()
    return pages


class _Rereader(DocumentReader):
    """Reads a site whose pages were read and written before."""

    def __init__(self, pages: tuple[Page, ...] | None = None, older: SiteDocument | None = None) -> None:
        super().__init__()
        self._pages = pages
        self._older = older

    def pages(
        self,
        tree: Mapping[str, Any],
        language: str,
        taxonomies: tuple[Taxonomy, ...],
        around: Set[str] = frozenset(),
    ) -> tuple[Page, ...]:
        if self._pages is not None:
            return self._pages
        return tuple(self.as_written(page, language) for page in tree.get("pages", ()))

    def check_tree(self, document: SiteDocument) -> None:
        if self._older is not None:
            document.take_tree(self._older)
        super().check_tree(document)

    def as_written(self, page: Mapping[str, Any], language: str) -> Page:
        """A page as it stands."""
        get = page.get
        published, bound = get("published"), get("bound")
        locks = self.locks(page, "") if "locks" in page else None
        return Page(
            page["path"],
            get("title", page["path"]),
            get("kind", "single"),
            get("type", ""),
            get("parent"),
            tuple(get("terms", ())),
            get("lists", ""),
            get("author", ""),
            get("language", language),
            datetime.date.fromisoformat(published) if published else None,
            get("words", 0),
            get("fields", {}),
            tuple(get("slots", ())),
            tuple(locks or ()),
            noted(locks) if locks else {},
            get("address", ""),
            None if bound is None else tuple(bound),
        )
