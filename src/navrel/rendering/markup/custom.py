"""Elements and attributes that a site made up for itself, in markup that was found on its pages.

What they do, if anything, the site's own scripts and styles do, as with `data-` attributes: so they may stand where the
markup stood. Source: the HTML Standard, 4.13.2 (valid custom element names).
"""

from __future__ import annotations

import re
from typing import NamedTuple

#: More names than these are not looked at.
MOST_NAMES = 200
_ELEMENT = re.compile(r"<([a-z][a-z0-9._]*-[a-z0-9._-]*)", re.IGNORECASE)
#: Wherever an attribute may begin; text that looks so does no harm, as attributes alone are let through by it.
_ATTRIBUTE = re.compile(r"(?<=[\s\"'/])([a-z_][a-z0-9_-]*)(?=[\s=/>])", re.IGNORECASE)
#: Elements of SVG and MathML with a dash in their names, which nobody may make up.
_RESERVED = {
    "annotation-xml", "color-profile", "font-face", "font-face-src", "font-face-uri", "font-face-format",
    "font-face-name", "missing-glyph",
}  # fmt: skip
#: Attributes that programs in pages read as code or fetch by, and handlers of events.
_ACTING = re.compile(r"on|(?:ng|x|v|hx|up)-|is\Z|srcdoc|html|template")
#: What makes a value more than a word or an address: markup, and code in braces.
_CODE = re.compile(r"[<>{}]")


class Names(NamedTuple):
    """Names in lower case: of elements, of attributes that any element may have, and of those of the elements alone."""

    elements: set[str]
    anywhere: set[str]
    theirs: set[str]


def names_in(markup: str) -> Names:
    """What markup may have made up. Which values stay is another question: `may_stay`."""
    elements = sorted({name.lower() for name in _ELEMENT.findall(markup)} - _RESERVED)[:MOST_NAMES]
    called = {name.lower() for name in _ATTRIBUTE.findall(markup)}
    names = sorted(name for name in called if not _ACTING.match(name))[:MOST_NAMES]
    anywhere = {name for name in names if _is_made_up(name)}
    return Names(set(elements), anywhere, set(names) if elements else set())


def may_stay(tag: str, name: str, value: str) -> bool:
    """Whether an attribute of no standard's may: what only marks its element, and a plain value on one made up."""
    if _is_made_up(tag):
        return not _CODE.search(value)
    return _is_made_up(name) and not value


def _is_made_up(name: str) -> bool:
    """Whether an element or attribute is called as none of the HTML Standard is."""
    return "-" in name or name.startswith("_")
