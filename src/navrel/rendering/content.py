"""A page's own content, with the slots that stand in it filled in their places (HTML Standard, the slot element)."""

from __future__ import annotations

import re
from collections.abc import Callable
from html import unescape

#: The tags of the slot element in sanitised markup, which writes tags in lower case and quotes attributes.
_SLOT_TAG = re.compile(r"<(/?)slot\b([^>]*)>")
_NAME = re.compile(r'\bname="([^"]*)"')

#: What a slot shows, given its name and its own fallback content; None to keep the fallback.
Filling = Callable[[str], str | None]


def fill_slots(content: str, filling: Filling) -> str:
    """Content with each outermost slot replaced by what ``filling`` gives; the first of a name counts.

    A slot whose filling is None shows its fallback content.
    """
    parts: list[str] = []
    seen: set[str] = set()
    at = depth = 0
    name, begun = "", 0
    for tag in _SLOT_TAG.finditer(content):
        closes = bool(tag[1])
        if not closes and depth == 0:
            parts.append(content[at : tag.start()])
            found = _NAME.search(tag[2])
            name, begun = unescape(found[1]) if found else "", tag.end()
        depth = max(0, depth + (-1 if closes else 1))
        if closes and depth == 0:
            given = None if name in seen else filling(name)
            seen.add(name)
            parts.append(content[begun : tag.start()] if given is None else given)
            at = tag.end()
    return "".join([*parts, content[at:]])
