"""A piece's content: rows of cells of items, its style, and for a template its grid."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from navrel.core.errors import DocumentError, Problem
from navrel.core.layout.contents import in_markup, items_at

from ..colours import is_colour
from ..markup.drawing import MAX_ITEMS
from .grid import check_grid
from .parts import bound_to
from .registry import ITEMS

MAX_ROWS = 20
MAX_CELLS = 6
MAX_WIDTH = 12

#: How the items of a piece that states no rows are arranged.
ARRANGEMENTS = ("stack", "row", "columns", "split")
#: How wide a piece runs: as its place has it, or as wide as headers and footers do.
REACHES = ("place", "page")
#: How the items of a cell follow each other, and where they stand in it.
FLOWS, ALIGNS = ("stack", "line"), ("start", "center", "end", "apart")
#: The widths at which an item may be hidden, and the room around it.
SCREENS, SPACES = ("phone", "tablet", "desktop"), ("none", "small", "medium", "large")
_COLOURS = ("background", "ink", "pointer", "over-background", "over-ink", "over-pointer")


def check_content(kind: str, content: Mapping[str, Any]) -> None:
    """Check a piece's content. Raises DocumentError whose pointers count from the piece."""
    grids = ("areas", "columns", "tablet", "phone") if kind == "template" else ()
    problems = _unknown(content, ("items", "rows", "style", *grids), "/content")
    problems += _check_rows(content)
    for at, item in items_at(content):
        problems += (_check_asked if in_markup(at) else _check_item)(item, f"/content{at}")
    problems += _check_style(content.get("style", {}))
    problems += check_grid(content) if kind == "template" else []
    if problems:
        raise DocumentError(problems)


def rows_of(content: Mapping[str, Any]) -> list[dict[str, Any]]:
    """The rows of a content; items that stand in none are arranged as the style says."""
    if content.get("rows"):
        return list(content["rows"])
    items = content.get("items") or []
    match content.get("style", {}).get("arrange", "stack"):
        case "columns":
            cells = [{"items": [item], "width": 1} for item in items]
        case "row":
            cells = [{"items": items, "flow": "line"}]
        case "split":
            cells = [{"items": items, "flow": "line", "align": "apart"}]
        case _:
            cells = [{"items": items}]
    return [{"cells": cells}] if items else []


def _unknown(tree: Mapping[str, Any], known: tuple[str, ...], at: str) -> list[Problem]:
    return [Problem(f"{at}/{key}", f"there is no {key} here") for key in tree if key not in known]


def _check_rows(content: Mapping[str, Any]) -> list[Problem]:
    items, rows = content.get("items", []), content.get("rows", [])
    if not _is_list_of_tables(items, MAX_ITEMS):
        return [Problem("/content/items", f"this has to be a list of at most {MAX_ITEMS} items")]
    if not _is_list_of_tables(rows, MAX_ROWS):
        return [Problem("/content/rows", f"this has to be a list of at most {MAX_ROWS} rows")]
    if items and rows:
        return [Problem("/content/items", "items stand in rows or by themselves, not both")]
    problems = []
    for number, row in enumerate(rows):
        at = f"/content/rows/{number}"
        problems += _unknown(row, ("cells",), at)
        cells = row.get("cells", [])
        if not _is_list_of_tables(cells, MAX_CELLS):
            problems.append(Problem(f"{at}/cells", f"this has to be a list of at most {MAX_CELLS} cells"))
            continue
        for place, cell in enumerate(cells):
            problems += _check_cell(cell, f"{at}/cells/{place}")
    if not problems and sum(1 for _ in items_at(content)) > MAX_ITEMS:
        problems.append(Problem("/content/rows", f"a piece holds at most {MAX_ITEMS} items"))
    return problems


def _check_cell(cell: Mapping[str, Any], at: str) -> list[Problem]:
    problems = _unknown(cell, ("items", "width", "flow", "align"), at)
    if not _is_list_of_tables(cell.get("items", []), MAX_ITEMS):
        problems.append(Problem(f"{at}/items", f"this has to be a list of at most {MAX_ITEMS} items"))
    width = cell.get("width", 0)
    if not isinstance(width, int) or isinstance(width, bool) or not 0 <= width <= MAX_WIDTH:
        problems.append(Problem(f"{at}/width", f"this has to be a number from 0 to {MAX_WIDTH}"))
    for key, choices in (("flow", FLOWS), ("align", ALIGNS)):
        if cell.get(key, choices[0]) not in choices:
            problems.append(Problem(f"{at}/{key}", f"this is one of {', '.join(choices)}"))
    return problems


def _is_list_of_tables(value: Any, most: int) -> bool:
    return isinstance(value, list) and len(value) <= most and all(isinstance(one, Mapping) for one in value)


def _check_item(item: Mapping[str, Any], at: str) -> list[Problem]:
    kind = item.get("type")
    if not isinstance(kind, str) or kind not in ITEMS:
        return [Problem(f"{at}/type", f"an item is one of {', '.join(ITEMS)}")]
    parts = {part.name: part for part in ITEMS[kind].parts}
    problems = [Problem(f"{at}/{key}", f"{kind} has no {key}") for key in item if key not in (*parts, "type", "look")]
    for name, part in parts.items():
        if name not in item:
            continue
        if bound_to(item[name]) is None:
            message = part.problem(item[name])
        else:
            message = "" if part.bindable else "a page setting cannot say this"
        if message:
            problems.append(Problem(f"{at}/{name}", message))
    return problems + _check_look(item.get("look", {}), f"{at}/look")


def _check_asked(item: Mapping[str, Any], at: str) -> list[Problem]:
    """What is wrong with an item that markup asks for: all of it is said of the markup."""
    if item["type"] == "markup":
        return [Problem(at, "markup asks for items, not for more markup")]
    found = ((one.pointer.removeprefix(at).strip("/"), one.message) for one in _check_item(item, at))
    return [Problem(at, f"item {item['type']}{f', {part}' if part else ''}: {message}") for part, message in found]


def _check_look(look: Any, at: str) -> list[Problem]:
    if not isinstance(look, Mapping):
        return [Problem(at, "this has to be an object")]
    problems = _unknown(look, ("space", "align", "background", "ink", "hide"), at)
    for key, choices in (("space", SPACES), ("align", ALIGNS[:3])):
        if key in look and look[key] not in choices:
            problems.append(Problem(f"{at}/{key}", f"this is one of {', '.join(choices)}"))
    for key in ("background", "ink"):
        if key in look and not is_colour(look[key]):
            problems.append(Problem(f"{at}/{key}", "a colour is one of the dress, or is written as #1C4E80"))
    hide = look.get("hide", [])
    if not isinstance(hide, list) or any(one not in SCREENS for one in hide):
        problems.append(Problem(f"{at}/hide", f"this is a list of {', '.join(SCREENS)}"))
    return problems


def _check_style(style: Any) -> list[Problem]:
    if not isinstance(style, Mapping):
        return [Problem("/content/style", "this has to be an object")]
    problems = _unknown(style, (*_COLOURS, "arrange", "width"), "/content/style")
    for key in _COLOURS:
        if key in style and not is_colour(style[key]):
            problems.append(Problem(f"/content/style/{key}", "a colour is one of the dress, or is written as #1C4E80"))
    for key, choices in (("arrange", ARRANGEMENTS), ("width", REACHES)):
        if key in style and style[key] not in choices:
            problems.append(Problem(f"/content/style/{key}", f"{key} is one of {', '.join(choices)}"))
    return problems
