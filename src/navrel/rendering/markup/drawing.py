"""Markup drawn at a place: filled in, cleaned, and named by its styles."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Any

from markupsafe import Markup

from navrel.core.layout.asked import asked_in

from ..items.place import Place
from .asking import parts_of
from .css import name_of_styles, scoped
from .filters import drawn_at
from .html import clean_markup
from .language import MarkupError, fill_in_markup, read_markup
from .losses import lost_in
from .told import told_on

#: The most items that a piece holds, and that markup draws, loops included.
MAX_ITEMS = 60
_STYLED = re.compile(r'data-styles="([0-9a-f]{16})"')


def markup(values: Mapping[str, Any], place: Place) -> dict[str, Any] | None:
    """What an item of markup draws, in ``parts``: HTML, and items it asks for; ``stops`` says why it draws nothing."""
    try:
        html = clean_markup(_filled_in(values["code"], place), in_place=place.in_place)
        parts = parts_of(html, asked_in(values["code"]))
        if sum(not isinstance(part, str) for part in parts) > MAX_ITEMS:
            raise MarkupError(f"markup draws at most {MAX_ITEMS} items")
    except MarkupError as error:
        return {"parts": (), "styles": "", "stops": str(error)}
    styles = name_of_styles(values["css"]) if scoped(values["css"]) else ""
    return {"parts": parts, "styles": styles, "stops": ""}


def lost_by(code: str, place: Place) -> Counter[str]:
    """What cleaning takes off markup at a place (`lost_in`); nothing where it says what stops it."""
    try:
        return lost_in(_filled_in(code, place), in_place=place.in_place)
    except MarkupError:
        return Counter()


def _filled_in(code: str, place: Place) -> str:
    """Markup with what is told to it at a place. Raises MarkupError."""
    token = drawn_at.set(place)
    try:
        return fill_in_markup(read_markup(code), told_on(place))
    finally:
        drawn_at.reset(token)


def problem_of_markup(code: str) -> str:
    """What is wrong with markup: in how it is written, or in what it does where nothing is told to it."""
    try:
        fill_in_markup(read_markup(code), {})
    except MarkupError as error:
        return str(error)
    return ""


def styles_of(items: Iterable[Mapping[str, Any]]) -> dict[str, str]:
    """The scoped CSS of the markup among some items, by its name."""
    written = (item["css"] for item in items if item.get("type") == "markup" and isinstance(item.get("css"), str))
    return {name_of_styles(css): found for css in written if (found := scoped(css))}


def styles_in(html: str, known: Mapping[str, str]) -> Markup:
    """The CSS that some HTML needs, each once, in the order in which it is needed."""
    names = dict.fromkeys(_STYLED.findall(html)) if known else ()
    return Markup("\n".join(known[name] for name in names if name in known))  # noqa: S704
