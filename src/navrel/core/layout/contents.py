"""What pieces are made of, as far as the cascade is concerned: the items that hold a slot, or another piece.

A content's ``items`` stand for one row of one cell; its ``rows`` hold ``cells``, which hold items. All else about items
is the rendering's.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

from .asked import asked_in, rewritten

#: The types of the items that the cascade follows.
SLOT_ITEM, PIECE_ITEM, SLIDES_ITEM, MENU_ITEM = "slot", "piece", "slides", "menu"
#: The part of an item that is markup, which may ask for items of its own.
CODE = "code"
_MENU = re.compile(r"""\bmenus\s*(?:\.\s*|\[\s*["'])([a-z0-9_-]+)""")


def items_of(content: Mapping[str, Any]) -> Iterator[Mapping[str, Any]]:
    """Every item of a content, in reading order, those that markup asks for behind it. What has no shape is left."""
    return (item for _, item in items_at(content))


def items_at(content: Mapping[str, Any]) -> Iterator[tuple[str, Mapping[str, Any]]]:
    """The same, each with its JSON Pointer (RFC 6901) from the content; one that markup asks for with the markup's."""
    for at, item in _stated_at(content):
        yield at, item
        if isinstance(code := item.get(CODE), str):
            yield from ((f"{at}/{CODE}", asked) for asked in asked_in(code))


def markup_alone(content: Mapping[str, Any]) -> str | None:
    """The markup that is all of a content; None for any other content."""
    match content:
        case {"items": [{"type": "markup", "code": str(code), **rest}], **more} if not rest and not more:
            return code
    return None


def in_markup(at: str) -> bool:
    """Whether an item with such a pointer is one that markup asks for."""
    return at.endswith(f"/{CODE}")


def pointer_in(at: str, part: str) -> str:
    """Where a part of an item is: in the item, or in the markup that asks for it."""
    return at if in_markup(at) else f"{at}/{part}"


def _stated_at(content: Mapping[str, Any]) -> Iterator[tuple[str, Mapping[str, Any]]]:
    yield from _numbered(content.get("items"), "/items")
    for row_at, row in _numbered(content.get("rows"), "/rows"):
        for cell_at, cell in _numbered(row.get("cells"), f"{row_at}/cells"):
            yield from _numbered(cell.get("items"), f"{cell_at}/items")


def slots_in(content: Mapping[str, Any]) -> tuple[str, ...]:
    """The names of the slots that a content's items hold, in reading order, each once."""
    return _named(content, SLOT_ITEM, "name")


def menus_in(content: Mapping[str, Any]) -> tuple[str, ...]:
    """The slugs of the menus of the site that a content's items show, each once."""
    return _named(content, MENU_ITEM, "menu")


def menus_told_in(content: Mapping[str, Any]) -> frozenset[str]:
    """The slugs of the menus that a content's markup is told of by name, if there are such."""
    codes = (item.get(CODE) for item in items_of(content))
    named = (name for code in codes if isinstance(code, str) for name in _MENU.findall(code))
    # Markup has underscores where slugs have hyphens.
    return frozenset(name.replace("_", "-") for name in named)


def is_menu_open(content: Mapping[str, Any]) -> bool:
    """Whether a page setting says which menu one of its items shows, so that it may be any."""
    return any(item.get("type") == MENU_ITEM and isinstance(item.get("menu"), Mapping) for item in items_of(content))


def _named(content: Mapping[str, Any], kind: str, key: str) -> tuple[str, ...]:
    names = (item.get(key) for item in items_of(content) if item.get("type") == kind)
    return tuple(dict.fromkeys(name for name in names if isinstance(name, str) and name))


def pieces_in(content: Mapping[str, Any]) -> tuple[str, ...]:
    """The slugs of the pieces that a content's items embed, in reading order, each once."""
    return tuple(dict.fromkeys(slug for item in items_of(content) for slug in embedded_in(item)))


def without_piece(content: Mapping[str, Any], slug: str) -> dict[str, Any]:
    """A content without the items that embed a piece; slides keep their other pieces."""
    return _with_items(content, lambda item: None if _is_only(item, slug) else _less(item, slug))


def renamed(content: Mapping[str, Any], slugs: Mapping[str, str]) -> dict[str, Any]:
    """A content that embeds the same pieces under other slugs."""
    return _with_items(content, lambda item: _renamed_item(item, slugs))


def _renamed_item(item: Mapping[str, Any], slugs: Mapping[str, str]) -> Mapping[str, Any]:
    if item.get("type") == PIECE_ITEM and item.get("piece") in slugs:
        return {**item, "piece": slugs[item["piece"]]}
    if item.get("type") == SLIDES_ITEM:
        return {**item, "pieces": [slugs.get(slug, slug) for slug in embedded_in(item)]}
    return item


_Made = Callable[[Mapping[str, Any]], Mapping[str, Any] | None]


def _with_items(content: Mapping[str, Any], made: _Made) -> dict[str, Any]:
    """A content with what is made of each of its items, and of those that markup asks for; None for none."""

    def of_list(items: object) -> list[Mapping[str, Any]]:
        each = (made(item) for item in _tables(items))
        return [_with_code(item, made) for item in each if item is not None]

    found = dict(content)
    if "items" in found:
        found["items"] = of_list(found["items"])
    if "rows" in found:
        found["rows"] = [
            {**row, "cells": [{**cell, "items": of_list(cell.get("items"))} for cell in _tables(row.get("cells"))]}
            for row in _tables(found["rows"])
        ]
    return found


def _with_code(item: Mapping[str, Any], made: _Made) -> Mapping[str, Any]:
    return {**item, CODE: rewritten(item[CODE], made)} if isinstance(item.get(CODE), str) else item


def loop_through(slug: str, embedded: Mapping[str, Sequence[str]]) -> tuple[str, ...]:
    """The shortest way from a piece through what is embedded back to it, itself at both ends; empty for none."""
    ways: list[tuple[str, ...]] = [(slug,)]
    seen: set[str] = set()
    for way in ways:
        for inner in embedded.get(way[-1], ()):
            if inner == slug:
                return (*way, inner)
            if inner not in seen:
                seen.add(inner)
                ways.append((*way, inner))
    return ()


def loop_words(loop: Sequence[str], known: Mapping[str, str]) -> str:
    """The way of a loop in words, by the names of its pieces, which are known by slug."""
    names = [known.get(slug, slug) for slug in loop]
    return f"{names[0]} would contain itself: {' → '.join(names)}"


def embedded_in(item: Mapping[str, Any]) -> list[str]:
    """The slugs of the pieces that an item embeds."""
    slugs: object = []
    if item.get("type") == PIECE_ITEM:
        slugs = [item.get("piece")]
    elif item.get("type") == SLIDES_ITEM:
        slugs = item.get("pieces")
    return [slug for slug in slugs if isinstance(slug, str) and slug] if isinstance(slugs, list) else []


def _is_only(item: Mapping[str, Any], slug: str) -> bool:
    return item.get("type") == PIECE_ITEM and item.get("piece") == slug


def _less(item: Mapping[str, Any], slug: str) -> Mapping[str, Any]:
    if slug not in embedded_in(item):
        return item
    return {**item, "pieces": [one for one in item["pieces"] if one != slug]}


def _tables(value: object) -> Iterator[Mapping[str, Any]]:
    return (table for _, table in _numbered(value, ""))


def _numbered(value: object, at: str) -> Iterator[tuple[str, Mapping[str, Any]]]:
    """The tables of a list with their pointers."""
    if isinstance(value, list):
        yield from ((f"{at}/{number}", one) for number, one in enumerate(value) if isinstance(one, Mapping))
