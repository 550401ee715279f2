"""What several rooms tell in the same words: outcomes, pages, pieces."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Mapping, Sequence
from typing import Any

from navrel.core.cascade.plain import Outcome
from navrel.core.pages.page import Page
from navrel.core.pages.pageset import PageSet

#: Paths that are named where pages are counted.
MOST_PATHS = 200


def outcome_info(outcome: Outcome, keys: Mapping[str, int | None] | None = None) -> dict[str, Any]:
    """What a target comes to; the deciding rule by its id.

    ``keys`` has the ids of the draft's rules by name, for an outcome of another state whose rules have none.
    """
    by = outcome.by.key if outcome.by else None
    if outcome.by and by is None and keys is not None:
        by = keys.get(outcome.by.name)
    return {
        "state": outcome.state, "pieces": outcome.pieces, "by": by, "value": outcome.value, "own_at": outcome.own_at,
    }  # fmt: skip


def page_bits(pages: PageSet) -> str:
    """A set of pages by one bit for each page of the site, in base64 (RFC 4648)."""
    return b64encode(pages.bits[: -(-pages.size // 8)].tobytes()).decode()


def page_row(page: Page) -> dict[str, Any]:
    """A page as lists name it."""
    return {"path": page.path, "title": page.title}


def somewhere(pages: Sequence[Page]) -> dict[str, Any]:
    """How many pages, and the first of them."""
    return {"pages": len(pages), "paths": [page.path for page in pages[:MOST_PATHS]]}
