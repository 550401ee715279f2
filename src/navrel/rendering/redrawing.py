"""What two states draw differently in themselves: pieces by what their items ask of the site, pages by content."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Iterator, Mapping, Set
from dataclasses import replace
from typing import Any

from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.contents import items_of
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Piece
from navrel.core.pages.page import Page
from navrel.core.questions.impact import redrawing_of
from navrel.core.questions.shifts import Redrawing

from .dress import dresses_css
from .items.place import Memory, Place
from .items.registry import ITEMS, ItemType

#: The items that tell of other pages than the one they stand on.
_LOOKING = ("menu", "languages", "newest", "alike", "neighbours", "topics", "calendar", "breadcrumbs", "markup")


def redrawing(
    before: SiteDocument,
    before_index: PageIndex,
    after: SiteDocument,
    after_index: PageIndex,
    own: tuple[Mapping[str, Hashable], Mapping[str, Hashable]] = ({}, {}),
) -> Redrawing:
    """What is drawn differently. ``own``: what each page is drawn from in itself by its path, before and after."""
    found = redrawing_of(before, after)
    pages = set(found.pages)
    pages.update(path for path in own[0].keys() & own[1].keys() if own[0][path] != own[1][path])
    if (before.name, before.base_url) != (after.name, after.base_url):
        # Both stand in the head of every page.
        pages.update(page.path for page in after.pages)
    found = replace(found, pages=frozenset(pages), dresses=(dresses_css(before), dresses_css(after)))
    found = replace(found, pieces=found.pieces | _by_menus_and_files(before, after))
    if before.pages == after.pages and before.taxonomies == after.taxonomies:
        return found
    return replace(found, on_pages=_looking_elsewhere((before, before_index), (after, after_index)))


def _by_menus_and_files(before: SiteDocument, after: SiteDocument) -> frozenset[str]:
    """The pieces that show a menu or a picture that is another one now."""
    menus = before.layout.menus, after.layout.menus
    other_menus = {slug for slug in menus[0].keys() | menus[1].keys() if menus[0].get(slug) != menus[1].get(slug)}
    files = before.files_by_name, after.files_by_name
    other_files = {name for name in files[0].keys() | files[1].keys() if files[0].get(name) != files[1].get(name)}
    return frozenset(
        slug
        for slug, piece in after.layout.pieces.items()
        if other_menus.intersection((*piece.menus, *after.layout.menus_of(piece)))
        or (other_menus and any("menus" in item.get("code", "") for item in items_of(piece.content)))
        or (other_files and any(_may_show(item, other_files) for item in items_of(piece.content)))
    )


def _may_show(item: Mapping[str, Any], files: Set[str]) -> bool:
    """Whether an item shows one of some pictures; one whose picture a page setting says may, and so may markup."""
    if "code" in item:
        return any(name in item["code"] for name in files)
    name = item.get("file", "")
    return name in files if isinstance(name, str) else True


_State = tuple[SiteDocument, PageIndex]


def _looking_elsewhere(before: _State, after: _State) -> dict[str, frozenset[str]]:
    """For each page, the pieces whose items tell of other pages otherwise than before."""
    pieces = [(piece, items) for piece in after[0].layout.pieces.values() if (items := list(_looking_items(piece)))]
    if not pieces:
        return {}
    memories = Memory(), Memory()
    lens = Lens(Visitor(), after[0].now())
    found: dict[str, set[str]] = defaultdict(set)
    for page in after[1].tree.pages:
        old = before[1].tree.page(page.path)
        if old is None:
            continue
        places = (
            Place(before[0], before[1], old, lens, memory=memories[0]),
            Place(after[0], after[1], page, lens, memory=memories[1]),
        )
        for piece, items in pieces:
            if any(_told(kind, values, places[0]) != _told(kind, values, places[1]) for kind, values in items):
                found[page.path].add(piece.slug)
    return {path: frozenset(slugs) for path, slugs in found.items()}


def _looking_items(piece: Piece) -> Iterator[tuple[ItemType, Mapping[str, Any]]]:
    """The items of a piece that tell of other pages, each with its settings; what is bound is as by default."""
    for item in items_of(piece.content):
        if item.get("type") in _LOOKING:
            kind = ITEMS[item["type"]]
            stated = {part.name: item.get(part.name, part.default) for part in kind.parts}
            yield (
                kind,
                {
                    part.name: part.default if part.problem(stated[part.name]) else stated[part.name]
                    for part in kind.parts
                },
            )


def _told(kind: ItemType, values: Mapping[str, Any], place: Place) -> object:
    return _plain(kind.draw(values, place))


def _plain(value: object) -> object:
    """What an item is drawn from, with pages as far as they are shown elsewhere."""
    if isinstance(value, Page):
        return value.href, value.title, value.published
    if isinstance(value, Mapping):
        return {key: _plain(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(one) for one in value]
    return value
