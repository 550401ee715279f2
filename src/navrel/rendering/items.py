"""What pieces are made of: the shape of each item, and what its template is given."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from navrel.core.errors import DocumentError, Problem, QueryError
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.layout.model import SettingValue
from navrel.core.pages.page import Page

from .links import as_read, is_safe, stays_here
from .settings import shows_breadcrumbs

MAX_ITEMS = 60
MAX_LINKS = 60
MAX_TEXT = 5000
MOST_NEWEST = 20

_COLOUR = re.compile(r"#(?:[0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})\Z")
_AREA_ROW = re.compile(r"(?:[a-z][a-z0-9-]*|\.)(?: (?:[a-z][a-z0-9-]*|\.))*\Z")
_MAX_TRACKS = 24
_MAX_ROWS = 60
#: One track of a grid (CSS Grid Layout): a breadth, or minmax() or fit-content() of some.
_BREADTH = r"(?:(?:\d{1,5}(?:\.\d{1,3})?|\.\d{1,3})(?:fr|px|rem|em|ch|vw|%)|auto|min-content|max-content|0)"
_TRACK = re.compile(rf"{_BREADTH}|minmax\( *{_BREADTH} *, *{_BREADTH} *\)|fit-content\( *{_BREADTH} *\)")
_REPEAT = re.compile(r"repeat\( *([1-9]\d?) *, *((?:[^()]|\([^()]*\))*)\)")
_MINIMUM_FR = re.compile(r"minmax\( *[\d.]+fr|fit-content\( *(?:[\d.]+fr|auto|m)")

ARRANGEMENTS = ("stack", "row", "columns", "split")
TONES = ("plain", "calm", "warm", "urgent")


@dataclass(frozen=True)
class Place:
    """Where an item is being drawn: on this page, of this site, with the page's settings."""

    site_name: str
    index: PageIndex
    page: Page
    settings: Mapping[str, SettingValue | None] = field(default_factory=dict)


def safe_href(text: str) -> str:
    """The address if it is one that a link may lead to, else `#`."""
    return text.strip() if is_safe(text) else "#"


@dataclass(frozen=True)
class Part:
    """One setting of an item: its name, what it takes, and what it is when absent."""

    name: str
    takes: str
    default: Any = ""


#: Each type of item and its settings. `takes`: line, text, href, own-href, links, number, query, tone.
ITEMS: Mapping[str, tuple[Part, ...]] = {
    "logo": (Part("text", "line"), Part("href", "href", "/")),
    "menu": (Part("label", "line", "Main"), Part("links", "links")),
    "links": (Part("heading", "line"), Part("links", "links")),
    "heading": (Part("text", "line"),),
    "text": (Part("text", "text"),),
    "button": (Part("text", "line"), Part("href", "href", "/")),
    "notice": (Part("text", "text"), Part("href", "href"), Part("tone", "tone", "calm")),
    "search": (Part("label", "line", "Search"), Part("action", "own-href", "/search")),
    "newest": (Part("heading", "line"), Part("query", "query", "type:article"), Part("count", "number", 4)),
    "page-title": (Part("kicker", "line"),),
    "breadcrumbs": (Part("label", "line", "You are here"),),
    "byline": (Part("prefix", "line", "By"),),
}


def check_content(kind: str, content: Mapping[str, Any]) -> None:
    """Check a piece's content. Raises DocumentError whose pointers count from the piece."""
    problems: list[Problem] = []
    known = {"items", "style", "areas", "columns"} if kind == "template" else {"items", "style"}
    problems += [Problem(f"/content/{key}", f"there is no {key} here") for key in content if key not in known]
    items = content.get("items", [])
    if not isinstance(items, list) or len(items) > MAX_ITEMS:
        problems.append(Problem("/content/items", f"this has to be a list of at most {MAX_ITEMS} items"))
        items = []
    for number, item in enumerate(items):
        problems += _check_item(item, f"/content/items/{number}")
    problems += _check_style(content.get("style", {}))
    problems += _check_arrangement(content)
    if problems:
        raise DocumentError(problems)


def _check_item(item: Any, at: str) -> list[Problem]:
    if not isinstance(item, Mapping) or item.get("type") not in ITEMS:
        return [Problem(f"{at}/type", f"an item is one of {', '.join(ITEMS)}")]
    parts = {part.name: part for part in ITEMS[item["type"]]}
    problems = [Problem(f"{at}/{key}", f"{item['type']} has no {key}") for key in item if key not in (*parts, "type")]
    for name, part in parts.items():
        if name in item and (message := _CHECKS[part.takes](item[name])):
            problems.append(Problem(f"{at}/{name}", message))
    return problems


def _check_line(value: Any) -> str:
    return (
        "" if isinstance(value, str) and len(value) <= 300 and "\n" not in value else "this has to be one line of text"
    )


def _check_text(value: Any) -> str:
    return "" if isinstance(value, str) and len(value) <= MAX_TEXT else f"this has to be at most {MAX_TEXT} characters"


def _check_href(value: Any) -> str:
    if not isinstance(value, str) or len(value) > 2000:
        return "this has to be an address"
    if as_read(value).startswith("//"):
        return "this leads to another host; write it out, with https:"
    return "" if is_safe(value) else "an address starts with /, #, https:, mailto: or tel:"


def _check_own_href(value: Any) -> str:
    if _check_href(value):
        return _check_href(value)
    return "" if stays_here(value) else "this has to be an address of the site itself, such as /search"


def _check_links(value: Any) -> str:
    whole = (
        isinstance(value, list)
        and len(value) <= MAX_LINKS
        and all(
            isinstance(link, Mapping) and set(link) == {"text", "href"} and not _check_line(link["text"])
            for link in value
        )
    )
    if not whole:
        return f"this has to be at most {MAX_LINKS} links, each with a text and an href"
    return next((message for link in value if (message := _check_href(link["href"]))), "")


def _check_number(value: Any) -> str:
    allowed = isinstance(value, int) and not isinstance(value, bool) and 1 <= value <= MOST_NEWEST
    return "" if allowed else f"this has to be a number from 1 to {MOST_NEWEST}"


def _check_query(value: Any) -> str:
    try:
        parse_query(value if isinstance(value, str) else "?")
    except QueryError as error:
        return str(error)
    return ""


def _check_tone(value: Any) -> str:
    return "" if value in TONES else f"a tone is one of {', '.join(TONES)}"


_CHECKS: Mapping[str, Callable[[Any], str]] = {
    "line": _check_line,
    "text": _check_text,
    "href": _check_href,
    "own-href": _check_own_href,
    "links": _check_links,
    "number": _check_number,
    "query": _check_query,
    "tone": _check_tone,
}


def _check_style(style: Any) -> list[Problem]:
    if not isinstance(style, Mapping):
        return [Problem("/content/style", "this has to be an object")]
    problems = []
    for key, value in style.items():
        if key in ("background", "ink"):
            fits = isinstance(value, str) and _COLOUR.match(value) is not None
            message = "a colour is written as #1C4E80"
        else:
            fits = key == "arrange" and value in ARRANGEMENTS
            message = f"arrange is one of {', '.join(ARRANGEMENTS)}" if key == "arrange" else f"there is no {key} here"
        if not fits:
            problems.append(Problem(f"/content/style/{key}", message))
    return problems


def _check_arrangement(content: Mapping[str, Any]) -> list[Problem]:
    """The grid of a template: CSS Grid template areas, a row a text, and its column tracks."""
    areas = content.get("areas", [])
    problems = []
    rows = (
        [row.split() for row in areas if isinstance(row, str) and _AREA_ROW.match(row)]
        if isinstance(areas, list)
        else []
    )
    if not isinstance(areas, list) or len(rows) != len(areas) or len({len(row) for row in rows}) > 1:
        problems.append(Problem("/content/areas", "rows of area names, all of one length, as in CSS Grid"))
    elif len(rows) > _MAX_ROWS or (rows and len(rows[0]) > _MAX_TRACKS):
        problems.append(Problem("/content/areas", f"at most {_MAX_ROWS} rows of {_MAX_TRACKS} columns"))
    elif broken := _not_a_rectangle(rows):
        problems.append(Problem("/content/areas", f"{broken} has to be one rectangle, as in CSS Grid"))
    if "columns" not in content:
        return problems
    columns = content["columns"]
    tracks = _tracks(columns) if isinstance(columns, str) else None
    if tracks is None:
        problems.append(Problem("/content/columns", "track sizes, as in CSS Grid: 1fr 18rem"))
    elif rows and len(tracks) != len(rows[0]):
        message = f"{len(tracks)} tracks for areas of {len(rows[0])} columns"
        problems.append(Problem("/content/columns", message))
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


def drawn_item(item: Mapping[str, Any], place: Place) -> dict[str, Any]:
    """What an item's template is given: its settings with their defaults, and what it asks of the site."""
    drawn = {part.name: item.get(part.name, part.default) for part in ITEMS[item["type"]]}
    drawn["type"] = item["type"]
    for name in ("href", "action"):
        if name in drawn:
            drawn[name] = safe_href(drawn[name]) if drawn[name] else ""
    if "links" in drawn:
        drawn["links"] = [
            {"text": link["text"], "href": safe_href(link["href"]), "here": link["href"] == place.page.path}
            for link in drawn["links"] or []
        ]
    match item["type"]:
        case "newest":
            drawn["pages"] = newest_pages(place.index, drawn["query"], drawn["count"], place.page)
        case "breadcrumbs":
            drawn["trail"] = _trail(place)
            drawn["hidden"] = not shows_breadcrumbs(place.settings)
        case "text" | "notice":
            drawn["paragraphs"] = [part.strip() for part in drawn["text"].split("\n\n") if part.strip()]
    return drawn


def newest_pages(index: PageIndex, query: str, count: int, here: Page) -> list[Page]:
    """The newest pages that a query matches, newest first, without the page one is on."""
    numbers = index.query(parse_query(query)).numbers().tolist()
    newest = sorted((n for n in numbers if index.dates[n] > 0), key=lambda number: (-index.dates[number], number))
    return [page for page in (index.tree.pages[number] for number in newest[: count + 1]) if page != here][:count]


def _trail(place: Place) -> list[Page]:
    above = [place.index.tree.page(path) for path in place.index.tree.ancestor_paths(place.page)]
    return [page for page in reversed(above) if page is not None]
