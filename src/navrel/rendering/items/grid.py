"""The grid of a template: CSS Grid template areas, a row a text, and its column tracks (CSS Grid Layout)."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from navrel.core.errors import Problem

#: The widths for which a template may state a grid of its own; the first is what the others fall back on.
WIDTHS = ("desktop", "tablet", "phone")

_AREA_ROW = re.compile(r"(?:[a-z][a-z0-9-]*|\.)(?: (?:[a-z][a-z0-9-]*|\.))*\Z")
_MAX_TRACKS = 24
_MAX_ROWS = 60
#: One track of a grid (CSS Grid Layout): a breadth, or minmax() or fit-content() of some.
_BREADTH = r"(?:(?:\d{1,5}(?:\.\d{1,3})?|\.\d{1,3})(?:fr|px|rem|em|ch|vw|%)|auto|min-content|max-content|0)"
_TRACK = re.compile(rf"{_BREADTH}|minmax\( *{_BREADTH} *, *{_BREADTH} *\)|fit-content\( *{_BREADTH} *\)")
_REPEAT = re.compile(r"repeat\( *([1-9]\d?) *, *((?:[^()]|\([^()]*\))*)\)")
_MINIMUM_FR = re.compile(r"minmax\( *[\d.]+fr|fit-content\( *(?:[\d.]+fr|auto|m)")


def check_grid(content: Mapping[str, Any]) -> list[Problem]:
    """What is wrong with a template's grids; pointers count from the piece."""
    problems = _check_one(content, "/content")
    for width in WIDTHS[1:]:
        grid = content.get(width, {})
        if not isinstance(grid, Mapping):
            problems.append(Problem(f"/content/{width}", "this has to be an object of areas and columns"))
            continue
        known = [key for key in grid if key not in ("areas", "columns")]
        problems += [Problem(f"/content/{width}/{key}", f"there is no {key} here") for key in known]
        problems += _check_one(grid, f"/content/{width}")
    return problems


def _check_one(content: Mapping[str, Any], at: str) -> list[Problem]:
    areas = content.get("areas", [])
    problems = []
    rows = (
        [row.split() for row in areas if isinstance(row, str) and _AREA_ROW.match(row)]
        if isinstance(areas, list)
        else []
    )
    if not isinstance(areas, list) or len(rows) != len(areas) or len({len(row) for row in rows}) > 1:
        problems.append(Problem(f"{at}/areas", "rows of area names, all of one length, as in CSS Grid"))
    elif len(rows) > _MAX_ROWS or (rows and len(rows[0]) > _MAX_TRACKS):
        problems.append(Problem(f"{at}/areas", f"at most {_MAX_ROWS} rows of {_MAX_TRACKS} columns"))
    elif broken := _not_a_rectangle(rows):
        problems.append(Problem(f"{at}/areas", f"{broken} has to be one rectangle, as in CSS Grid"))
    if "columns" not in content:
        return problems
    columns = content["columns"]
    tracks = _tracks(columns) if isinstance(columns, str) else None
    if tracks is None:
        problems.append(Problem(f"{at}/columns", "track sizes, as in CSS Grid: 1fr 18rem"))
    elif rows and len(tracks) != len(rows[0]):
        message = f"{len(tracks)} tracks for areas of {len(rows[0])} columns"
        problems.append(Problem(f"{at}/columns", message))
    return problems


def _not_a_rectangle(rows: list[list[str]]) -> str:
    """An area whose cells are no rectangle, with which a browser would drop the whole grid; empty for none."""
    cells: dict[str, list[tuple[int, int]]] = {}
    for down, row in enumerate(rows):
        for across, name in enumerate(row):
            if name != ".":
                cells.setdefault(name, []).append((down, across))
    for name, places in cells.items():
        height = places[-1][0] - places[0][0] + 1
        width = max(across for _, across in places) - min(across for _, across in places) + 1
        if height * width != len(places):
            return name
    return ""


def _tracks(columns: str, *, repeats: bool = True) -> list[str] | None:
    """The tracks of a list as in CSS Grid, with repeat() written out; None for what is none."""
    found: list[str] = []
    at = 0
    while at < len(columns):
        if columns[at] == " ":
            at += 1
            continue
        repeated = _REPEAT.match(columns, at) if repeats else None
        track = repeated or _TRACK.match(columns, at)
        if track is None:
            return None
        inner = _tracks(repeated[2], repeats=False) if repeated else [track[0]]
        if not inner or any(_MINIMUM_FR.match(one) for one in inner):
            return None
        found += inner * (int(repeated[1]) if repeated else 1)
        at = track.end()
        if len(found) > _MAX_TRACKS or (at < len(columns) and columns[at] != " "):
            return None
    return found or None
