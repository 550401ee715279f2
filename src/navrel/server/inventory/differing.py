"""What an intake brings that is not as it was: pages that are new, are back, or differ, and in what."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from .models import Page

#: Pages of a kind that a report names; the rest is counted.
MOST_NAMED = 200
_FACTS = ("title", "kind", "type", "parent", "terms", "lists", "author", "language", "published", "words", "fields")
#: What of a page is compared.
COMPARED = ("content", "original", "address", "slots", *_FACTS)
Note = dict[str, str]


@dataclass
class Difference:
    """How many pages came in, and how many of them were new, came back, or differ; the first of them by name.

    ``is_first``: there were none before, so that none is named. ``corrected``: pages with facts that were said by hand.
    """

    is_first: bool
    corrected: int = 0
    pages: int = 0
    added: int = 0
    updated: int = 0
    returned: int = 0
    added_pages: list[Note] = field(default_factory=list)
    updated_pages: list[Note] = field(default_factory=list)

    def tell(self, page: Page, before: Page | None) -> None:
        """Count a page that came in; ``before``: as it was."""
        self.pages += 1
        if before is None:
            self.added += 1
            self._name(self.added_pages, page, page.title)
        elif before.gone:
            self.returned += 1
            self._name(self.added_pages, page, "is back again")
        elif differs := _differing(page, before):
            self.updated += 1
            self._name(self.updated_pages, page, ", ".join(differs))

    @property
    def told(self) -> dict[str, Any]:
        """As it stands in a report."""
        return {
            "pages": self.pages, "added": self.added, "updated": self.updated, "returned": self.returned,
            "unchanged": self.pages - self.added - self.updated - self.returned, "corrected": self.corrected,
            "added_pages": self.added_pages, "updated_pages": self.updated_pages,
        }  # fmt: skip

    def _name(self, notes: list[Note], page: Page, reason: str) -> None:
        if not self.is_first and len(notes) < MOST_NAMED:
            notes.append({"file": page.path, "reason": reason})


def _differing(page: Page, before: Page) -> list[str]:
    """What of a page is not as it was, in words."""
    found = [name for name in _FACTS if _plain(getattr(page, name)) != _plain(getattr(before, name))]
    if page.content_id != before.content_id:
        return ["content", *(name for name in found if name != "words")]
    if page.address != before.address:
        found.append("address")
    if page.slots != before.slots:
        found.append("slots")
    return found or (["what stands around its content"] if page.original_id != before.original_id else [])


def _plain(value: Any) -> Any:
    """A fact as it is compared: days are texts before they are written, and days when they are read."""
    return value if isinstance(value, list | dict | int) else str(value or "")
