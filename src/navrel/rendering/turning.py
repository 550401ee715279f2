"""A piece made of items turned into markup that says the same on every page.

What it said by placeholders, menus and queries, the markup asks for, so that it goes on following them. Of items that
tell each page more than markup is told (related pages, a calendar), or follow a page setting, it asks for the item.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from functools import cached_property
from typing import Any

from markupsafe import escape

from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens
from navrel.core.layout.asked import asking
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page

from .items.content import rows_of
from .items.parts import bound_to
from .items.place import Place
from .items.registry import ITEMS
from .markup.language import MAX_CODE
from .pieces import Drawing, item_markup
from .placeholders import Filling

Item = Mapping[str, Any]

#: Items that draw the same on every page but for their placeholders.
_SAME = (
    "logo", "search", "social", "newsletter", "heading", "text", "button", "notice", "links", "image", "divider",
    "space", "page-title",
)  # fmt: skip
_LINES = """<ul>{% for line in LIST %}<li>{% if line.href %}<a href="{{ line.href }}"{% if line.here %} aria-current="true"{% endif %}>{{ line.text }}</a>{% else %}<span class="head">{{ line.text }}</span>{% endif %}</li>{% endfor %}</ul>"""  # noqa: E501
_TRAIL = """<nav class="breadcrumbs" aria-label="LABEL"><ol>{% for one in page.above %}<li><a href="{{ one.href }}">{{ one.title }}</a></li>{% endfor %}<li aria-current="page">{{ page.title }}</li></ol></nav>"""  # noqa: E501
_PAGES = """<ul>{% assign found = "QUERY" | pages: MOST, "ORDER" %}{% for one in found %}<li><a href="{{ one.href }}">{{ one.title }}</a> <time>{{ one.published }}</time></li>{% endfor %}</ul>"""  # noqa: E501


#: Around a name that is asked for, until what is written by people is told apart from it: private use in Unicode.
_ASKS, _ENDS = "\ue000", "\ue001"


class _Asking(Place):
    """A place whose placeholders are asked for in the language of markup instead of being told."""

    @cached_property
    def told(self) -> Filling:
        return lambda name: f"{_ASKS}{name.replace('page.field.', 'page.fields.')}{_ENDS}"


def turned(content: Mapping[str, Any], document: SiteDocument, index: PageIndex, lens: Lens) -> dict[str, Any]:
    """A content of items as one of markup. Its rows and cells stay; neighbours in a cell become one."""
    place = _Asking(document, index, Page("/", f"{_ASKS}page.title{_ENDS}"), lens)
    drawing = Drawing(place)

    def in_cell(cell: Item) -> dict[str, Any]:
        return {**cell, "items": _turned_items(cell.get("items", []), drawing)}

    rows = [{**row, "cells": [in_cell(cell) for cell in row["cells"]]} for row in rows_of(content)]
    kept = {key: value for key, value in content.items() if key not in ("items", "rows")}
    if "style" in kept:
        kept["style"] = {key: value for key, value in kept["style"].items() if key != "arrange"}
    return {**kept, "rows": rows}


def _turned_items(items: list[Item], drawing: Drawing) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    for item in items:
        if item["type"] == "markup":
            found.append(dict(item))
            continue
        code = _code(item, drawing)
        before = found[-1] if found else {}
        plain = not (item.get("look") or before.get("look") or before.get("css"))
        if before and plain and len(before.get("code", "")) + len(code) < MAX_CODE:
            found[-1] = {**before, "code": f"{before.get('code', '')}\n{code}".lstrip()}
        else:
            found.append({"type": "markup", "code": code, **({"look": item["look"]} if item.get("look") else {})})
    return found


def _code(item: Item, drawing: Drawing) -> str:
    """An item as markup; as one that is asked for where markup cannot say the same."""
    parts = (part.name for part in ITEMS[item["type"]].parts)
    plain = {name: item[name] for name in ("type", *parts) if name in item}
    return _written_out(plain, drawing) or asking(plain)


def _written_out(item: Item, drawing: Drawing) -> str | None:
    if any(bound_to(value) is not None for value in item.values()):
        return None
    if item["type"] in _SAME:
        return _tidy(item_markup(item, "", drawing))
    ask = _ASKED.get(item["type"])
    return ask(item, drawing) if ask else None


def _tidy(html: str) -> str:
    """Drawn markup as it is written: braces of people stay what they are, names are asked for."""
    lines = re.sub(r"(</(?:h\d|p|ul|ol|li|div|nav|form|figure)>|<[uo]l>)(?=<)", r"\1\n", str(html))
    plain = re.sub(r"\s*\n\s*", "\n", lines).strip()
    literal = re.sub(r"\{[{%]", lambda found: f'{{{{ "{found[0]}" }}}}', plain)
    return literal.replace(_ASKS, "{{ ").replace(_ENDS, " }}")


def _menu(item: Item, drawing: Drawing) -> str | None:
    made = drawing.place.document.layout.menus.get(item.get("menu", ""))
    lines = made.entries if made else item.get("links", [])
    folds = item.get("fold", True) and len(lines) > 2
    if item.get("shows", "menu") != "menu" or folds or (made and any(one.entries or one.panel for one in made.entries)):
        return None
    own = [f'<li><a href="{escape(one["href"])}">{escape(one["text"])}</a></li>' for one in item.get("links", [])]
    listed = (
        _LINES.replace("LIST", f"menus.{made.slug.replace('-', '_')}") if made else f"<ul>{_tidy(''.join(own))}</ul>"
    )
    return f'<nav class="menu" aria-label="{_tidy(escape(item.get("label", "Main")))}">{listed}</nav>'


def _trail(item: Item, drawing: Drawing) -> str:
    return _TRAIL.replace("LABEL", _tidy(escape(item.get("label") or drawing.place.words["here"])))


def _pages(item: Item, drawing: Drawing) -> str | None:
    query = item.get("query", "")
    if '"' in query or item.get("form", "list") != "list":
        return None
    stated = item.get("heading")
    heading = _tidy(item_markup({"type": "heading", "text": stated}, "", drawing)) if stated else ""
    asked = _PAGES.replace("QUERY", query or "all").replace("MOST", str(item.get("count", 4)))
    return f'<div class="links pages as-list">{heading}{asked.replace("ORDER", item.get("order", "newest"))}</div>'


_ASKED: Mapping[str, Callable[[Item, Drawing], str | None]] = {
    "menu": _menu, "breadcrumbs": _trail, "newest": _pages,
}  # fmt: skip
