"""What HTML loses where it becomes markup: what could run, or reach out, or leave its box."""

from __future__ import annotations

from collections import Counter
from typing import NamedTuple

from lxml import html

from .html import clean_markup


def lost_in(found: str, *, in_place: bool) -> Counter[str]:
    """How many elements and attributes are lost, by name: `script`, `a[onclick]`; with an element all that it has.

    ``in_place``: it stands in HTML of a page's own (`clean_markup`).
    """
    before, after = _held(found), _held(clean_markup(found, in_place=in_place))
    elements = before.elements - after.elements
    attributes = before.attributes - after.attributes
    lost = Counter(elements)
    lost.update({f"{tag}[{name}]": number for (tag, name), number in attributes.items() if tag not in elements})
    return lost


class _Held(NamedTuple):
    """The elements and the attributes of some HTML."""

    elements: Counter[str]
    attributes: Counter[tuple[str, str]]


def _held(markup: str) -> _Held:
    held = _Held(Counter(), Counter())
    for element in html.fragment_fromstring(markup, create_parent="body").iterdescendants():
        if isinstance(element.tag, str):
            tag = element.tag.lower()
            held.elements[tag] += 1
            held.attributes.update((tag, name.lower()) for name in element.attrib)
    return held
