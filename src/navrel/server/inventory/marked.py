"""Things that a page states in its markup: microdata (HTML Standard, 5) and RDFa Lite (W3C), as JSON-LD has them."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from lxml import etree

from navrel.core.text import fit

#: Most properties of one thing, and how deep things stand in each other.
MOST_PROPERTIES = 200
MOST_DEPTH = 5
_SPACES = re.compile(r"\s+")
_SCOPED = etree.XPath("descendant-or-self::*[@itemscope or @typeof]")
#: Attributes are found several times as fast as elements that have them.
_STATES_THINGS = etree.XPath("boolean(//@itemscope or //@typeof)")
#: The attribute in which an element states a value, before its text.
_VALUES = ("content", "datetime", "href", "src", "data", "value")


def things_in_markup(tree: Any) -> Iterator[dict[str, Any]]:
    """The things that stand in no other thing, each with its properties, in document order."""
    scoped: Any = _SCOPED(tree) if _STATES_THINGS(tree) else ()
    for element in scoped:
        if not (element.get("itemprop") or (element.get("typeof") and element.get("property"))):
            yield _thing(element, 0)


def _thing(element: Any, depth: int) -> dict[str, Any]:
    stated = (element.get("itemtype") or element.get("typeof") or "").split()
    found: dict[str, Any] = {"@type": [re.split(r"[/#:]", one)[-1] for one in stated]}
    for name, one in _properties(element):
        if len(found) > MOST_PROPERTIES:
            break
        is_thing = one.get("itemscope") is not None or one.get("typeof")
        value = _thing(one, depth + 1) if is_thing and depth < MOST_DEPTH else _value(one)
        known = found.get(name)
        if known is None:
            found[name] = value
        else:
            found[name] = [*(known if isinstance(known, list) else [known]), value]
    return found


def _properties(element: Any) -> Iterator[tuple[str, Any]]:
    """The properties of a thing: those of its elements, but for what stands in another thing."""
    waiting = list(reversed(element))
    while waiting:
        one = waiting.pop()
        if not isinstance(one.tag, str):
            continue
        for name in (one.get("itemprop") or one.get("property") or "").split():
            yield name.rpartition(":")[2], one
        if one.get("itemscope") is None and not one.get("typeof"):
            waiting.extend(reversed(one))


def _value(element: Any) -> str:
    stated = next((element.get(name) for name in _VALUES if element.get(name)), None)
    return fit(stated if stated is not None else _SPACES.sub(" ", element.text_content()).strip(), 500)
