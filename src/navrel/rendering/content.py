"""A page's own content: its slots filled in their places (HTML Standard, the slot element), its headings to lead to."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable
from html import unescape

from markupsafe import Markup

from navrel.core.layout.document import slugify

#: The tags of the slot element in sanitised markup, which writes tags in lower case and quotes attributes.
_SLOT_TAG = re.compile(r"<(/?)slot\b([^>]*)>")
_NAME = re.compile(r'\bname="([^"]*)"')

#: The headings that a table of contents lists, in such markup: their attributes, and what is in them.
HEADING = re.compile(r"<h(?P<level>[23])\b(?P<attributes>[^>]*)>(?P<inner>.*?)</h(?P=level)>", re.DOTALL)
ID = re.compile(r'\sid="([^"]*)"')
#: What the page around the content calls itself.
_TAKEN = "content"

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


def with_ids(content: str) -> str:
    """Content in which each second and third heading can be led to: one without an id is called by its words."""
    taken = {_TAKEN, *ID.findall(content)}
    alike: Counter[str] = Counter()

    def called(heading: re.Match[str]) -> str:
        words = words_of(heading)
        if ID.search(heading["attributes"]) or not words:
            return heading[0]
        name = base = slugify(words)
        while name in taken:
            alike[base] += 1
            name = f"{base}-{alike[base] + 1}"
        taken.add(name)
        return heading[0].replace(">", f' id="{name}">', 1)

    return HEADING.sub(called, content)


def words_of(heading: re.Match[str]) -> str:
    """What a heading says, without its tags."""
    return Markup(heading["inner"]).striptags()  # noqa: S704
