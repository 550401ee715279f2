"""What two states draw differently in themselves: pieces by what their items ask of the site, pages by content."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Piece
from navrel.core.pages.page import Page
from navrel.core.questions.impact import redrawing_of
from navrel.core.questions.shifts import Redrawing

from .items import newest_pages

_NOWHERE = Page("")


def redrawing(
    before: SiteDocument,
    before_index: PageIndex,
    after: SiteDocument,
    after_index: PageIndex,
    contents: tuple[Mapping[str, str], Mapping[str, str]] = ({}, {}),
) -> Redrawing:
    """What is drawn differently. ``contents``: the digest of each page's content by its path, before and after."""
    found = redrawing_of(before, after)
    pages = set(found.pages)
    pages.update(path for path in contents[0].keys() & contents[1].keys() if contents[0][path] != contents[1][path])
    if (before.name, before.base_url) != (after.name, after.base_url):
        # Both stand in the head of every page.
        pages.update(page.path for page in after.pages)
    found = replace(found, pages=frozenset(pages))
    if before.pages == after.pages:
        return found
    indices = before_index, after_index
    newest = {slug for slug, piece in after.layout.pieces.items() if _lists_others(piece, *indices)}
    return replace(found, pieces=found.pieces | newest, on_pages=_other_trails(after.layout.pieces, *indices))


def _items(piece: Piece, kind: str) -> Iterator[Mapping[str, object]]:
    items = piece.content.get("items", [])
    return (item for item in items if isinstance(item, Mapping) and item.get("type") == kind)


def _lists_others(piece: Piece, before: PageIndex, after: PageIndex) -> bool:
    """Whether a list of newest pages in a piece comes out differently."""
    for item in _items(piece, "newest"):
        query, count = str(item.get("query", "type:article")), int(str(item.get("count", 4)))
        # One page more than is shown: on a page of the list itself the next one moves up.
        lists = [newest_pages(index, query, count + 1, _NOWHERE) for index in (before, after)]
        if [_listed(page) for page in lists[0]] != [_listed(page) for page in lists[1]]:
            return True
    return False


def _listed(page: Page) -> object:
    return page.path, page.title, page.published


def _other_trails(pieces: Mapping[str, Piece], before: PageIndex, after: PageIndex) -> dict[str, frozenset[str]]:
    """The pieces with breadcrumbs, on each page whose trail differs."""
    with_trail = frozenset(slug for slug, piece in pieces.items() if any(_items(piece, "breadcrumbs")))
    if not with_trail:
        return {}
    return {
        page.path: with_trail
        for page in after.tree.pages
        if page.path in before.tree.numbers and _trail(before, page.path) != _trail(after, page.path)
    }


def _trail(index: PageIndex, path: str) -> list[tuple[str, str]]:
    page = index.tree.page(path)
    assert page is not None
    above = (index.tree.page(one) for one in index.tree.ancestor_paths(page))
    return [(one.path, one.title) for one in above if one is not None]
