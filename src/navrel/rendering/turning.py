"""A piece made of items turned into markup, as far as markup can say the same on every page.

What it said by placeholders, menus and queries, the markup asks for, so that it goes on following them. Items that tell
each page more than markup is told (related pages, a calendar) stay what they are, in their places.
"""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Callable, Mapping
from functools import cached_property
from typing import Any

from markupsafe import escape

from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page

from .items.content import rows_of
from .items.parts import bound_to
from .items.place import Place
from .items.registry import ITEMS
from .pieces import Drawing, item_markup
from .placeholders import Filling

Item = Mapping[str, Any]

#: Items that draw the same on every page but for their placeholders.
_SAME = (
    "logo", "search", "social", "newsletter", "heading", "text", "button", "notice", "links", "image", "divider",
    "space", "page-title",
)  # fmt: skip
_LINES = """<ul>{% for line in LIST %}<li>{% if line.href %}<a href="{{ line.href }}"{% if line.here %} aria-current="true"{% endif %}>{{ line.text }}</a>{% else %}<span class="head">{{ line.text }}</span>{% endif %}</li>{% endfor %}</ul>"""  # noqa: E501
_TRAIL = """<nav class="breadcrumbs" aria-label="LABEL"><ol>{% for one in page.above %}<li><a href="{{ one.path }}">{{ one.title }}</a></li>{% endfor %}<li aria-current="page">{{ page.title }}</li></ol></nav>"""  # noqa: E501
_PAGES = """<ul>{% assign found = "QUERY" | pages: MOST, "ORDER" %}{% for one in found %}<li><a href="{{ one.path }}">{{ one.title }}</a> <time>{{ one.published }}</time></li>{% endfor %}</ul>"""  # noqa: E501


#: Around a name that is asked for, until what is written by people is told apart from it: private use in Unicode.
_ASKS, _ENDS = "\ue000", "\ue001"


@dataclasses.dataclass(frozen=True)
class Turned:
    """A content in which markup stands for items, and the names of the types of items that stay."""

    content: dict[str, Any]
    stays: tuple[str, ...]


class _Asking(Place):
    """A place whose placeholders are asked for in the language of markup instead of being told."""

    @cached_property
    def told(self) -> Filling:
        return lambda name: f"{_ASKS}{name.replace('page.field.', 'page.fields.')}{_ENDS}"


def turned(content: Mapping[str, Any], document: SiteDocument, index: PageIndex, lens: Lens) -> Turned:
    """A content of items as markup. Its rows and cells stay; neighbours in a cell become one."""
    place = _Asking(document, index, Page("/", f"{_ASKS}page.title{_ENDS}"), lens)
    drawing = Drawing(place)
    stays: dict[str, None] = {}

    def in_cell(cell: Item) -> dict[str, Any]:
        return {**cell, "items": _turned_items(cell.get("items", []), drawing, stays)}

    rows = [{**row, "cells": [in_cell(cell) for cell in row["cells"]]} for row in rows_of(content)]
    kept = {key: value for key, value in content.items() if key not in ("items", "rows")}
    if "style" in kept:
        kept["style"] = {key: value for key, value in kept["style"].items() if key != "arrange"}
    return Turned({**kept, "rows": rows}, tuple(stays))


def _turned_items(items: list[Item], drawing: Drawing, stays: dict[str, None]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    for item in items:
        code = _code(item, drawing)
        if code is None:
            if item["type"] != "markup":
                stays[ITEMS[item["type"]].name] = None
            found.append(dict(item))
        elif found and found[-1]["type"] == "markup" and not (item.get("look") or found[-1].get("look")):
            found[-1] = {**found[-1], "code": f"{found[-1]['code']}\n{code}"}
        else:
            found.append({"type": "markup", "code": code, **({"look": item["look"]} if item.get("look") else {})})
    return found


def _code(item: Item, drawing: Drawing) -> str | None:
    """An item as markup; None for one that stays."""
    if any(bound_to(value) is not None for value in item.values()):
        return None
    plain = {key: value for key, value in item.items() if key != "look"}
    if item["type"] in _SAME:
        return _tidy(item_markup(plain, "", drawing)) or None
    ask = _ASKED.get(item["type"])
    return ask(plain, drawing) if ask else None


def _tidy(html: str) -> str:
    """Drawn markup as it is written: braces of people stay what they are, names are asked for."""
    lines = re.sub(r"(</(?:h\d|p|ul|ol|li|div|nav|form|figure)>|<[uo]l>)(?=<)", r"\1\n", html)
    plain = re.sub(r"\s*\n\s*", "\n", lines).strip()
    literal = re.sub(r"\{[{%]", lambda found: f'{{{{ "{found[0]}" }}}}', plain)
    return literal.replace(_ASKS, "{{ ").replace(_ENDS, " }}")


def _menu(item: Item, drawing: Drawing) -> str | None:
    if item.get("shows", "menu") != "menu":
        return None
    links = [f'<li><a href="{escape(one["href"])}">{escape(one["text"])}</a></li>' for one in item.get("links", [])]
    lines = f"<ul>{_tidy(''.join(links))}</ul>"
    if item.get("menu"):
        lines = _LINES.replace("LIST", f"menus.{item['menu'].replace('-', '_')}")
    return f'<nav class="menu" aria-label="{_tidy(escape(item.get("label", "Main")))}">{lines}</nav>'


def _trail(item: Item, drawing: Drawing) -> str:
    return _TRAIL.replace("LABEL", _tidy(escape(item.get("label") or drawing.place.words["here"])))


def _pages(item: Item, drawing: Drawing) -> str | None:
    query = item.get("query", "")
    if '"' in query:
        return None
    stated = item.get("heading")
    heading = _tidy(item_markup({"type": "heading", "text": stated}, "", drawing)) if stated else ""
    asked = _PAGES.replace("QUERY", query or "all").replace("MOST", str(item.get("count", 4)))
    return f'<div class="links pages">{heading}{asked.replace("ORDER", item.get("order", "newest"))}</div>'


_ASKED: Mapping[str, Callable[[Item, Drawing], str | None]] = {
    "menu": _menu, "breadcrumbs": _trail, "newest": _pages,
}  # fmt: skip
