"""Trails: the line on a page that leads from the site down to it, however its build calls and writes that."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from itertools import islice
from typing import Any

from lxml import etree

from navrel.rendering.in_place.places import compiled

from .content import stands_in, text_of

#: Trails as sites of any build call them.
_NAMED = (
    "[aria-label*=readcrumb], [typeof$=BreadcrumbList], [itemtype$=BreadcrumbList], .breadcrumbs, .breadcrumb, "
    "#breadcrumbs, #breadcrumb, .breadcrumb-trail, .crumbs"
)
#: Whether a page may have one that is called so: attributes are found several times as fast as elements with them.
_HAS_NAMED = etree.XPath("boolean(//@*[contains(., 'crumb')])")
#: Signs that lead on from one link to the next. A slash or a bar stands between links of any kind, arrows in code.
_SIGN = re.compile("([»›>⟩▸▶❯])")
#: Links at the most that are looked at, and that one line has.
_MOST_LOOKED_AT, _MOST_LINKS = 100, 20
_LINES = ("ul", "ol", "p", "div", "td", "nav", "header")
_CODE = ("pre", "code")

#: The path of the page of the site that a link leads to; empty for elsewhere.
LedTo = Callable[[Any], str]


def named_trails(tree: Any) -> list[Any]:
    """The trails of a page that are called so."""
    found: Any = compiled(_NAMED)(tree) if _HAS_NAMED(tree) else ()
    return list(found)


def last_before(trail: Any, path: str, led_to: LedTo) -> str:
    """Where a trail leads last before the page at a path: an item without a link, or with one to itself, is that."""
    before = ""
    for one in trail.iter("a", "li"):
        to = led_to(one) if one.tag == "a" else ""
        is_unlinked = one.tag == "li" and text_of(one) and next(one.iter("a"), None) is None
        if before and (is_unlinked or to == path):
            break
        if to and to != path:
            before = one.get("href")
    return before


def written_before(tree: Any, heading: Any, title: str, path: str, led_to: LedTo) -> str:
    """Where the line leads last that is a trail by how it is written: links that signs lead on from, down to the page.

    It stands before ``heading``; what ends it is a link to the page, or its name: words of the heading or of ``title``.
    Where nothing stands behind the last sign, two of them are a trail: one may lead to what is read next. What stands
    in code and mails too, `>`, says nothing there.
    """
    for line in dict.fromkeys(_lines_with_signs(tree, heading)):
        steps = _steps(line)
        signs = [number for number, one in enumerate(steps) if isinstance(one, str) and _SIGN.fullmatch(one)]
        if not signs:
            continue
        led = [one for one in steps[: signs[-1]] if not isinstance(one, str) and led_to(one) not in ("", path)]
        behind = next(iter(steps[signs[-1] + 1 :]), None)
        if behind is None:
            is_trail = len(signs) > 1 and steps[-1] != ">"
        elif isinstance(behind, str):
            is_trail = any(stands_in(behind, words) for words in (text_of(heading), title))
        else:
            is_trail = not behind.get("href") or led_to(behind) == path
        if is_trail and led:
            return str(led[-1].get("href"))
    return ""


def _lines_with_signs(tree: Any, heading: Any) -> Iterator[Any]:
    """What holds a link that a sign stands behind, before the heading."""
    tags = ("a",) if heading is None else ("a", heading.tag)
    for one in islice(tree.iter(*tags), _MOST_LOOKED_AT):
        if one is heading:
            return
        if _is_led_on_from(one):
            line = next(one.iterancestors(*_LINES, *_CODE), None)
            if line is not None and line.tag not in _CODE:
                yield line


def _is_led_on_from(link: Any) -> bool:
    """Whether a sign stands behind a link, or behind the item that it is the last of, or begins the next one."""
    behind = link
    while not (behind.tail or "").strip() and behind.getnext() is None and behind.getparent() is not None:
        behind = behind.getparent()
    following = behind.getnext()
    texts = (behind.tail, following.text if following is not None and isinstance(following.tag, str) else None)
    return any(_SIGN.match((text or "").lstrip()) for text in texts)


def _steps(line: Any) -> list[Any]:
    """The links of a line, and what is written between them, in turn: each sign, and what is none.

    Nothing of what holds very many links: that is no line.
    """
    if next(islice(line.iter("a"), _MOST_LINKS, None), None) is not None:
        return []
    steps: list[Any] = []
    text: list[str] = []

    def put_text() -> None:
        parts = _SIGN.split(" ".join("".join(text).split()))
        steps.extend(words for part in parts if (words := part.strip()))
        text.clear()

    inside = None
    for event, one in etree.iterwalk(line, events=("start", "end")):
        if event == "start":
            if inside is None and one.tag == "a":
                put_text()
                steps.append(one)
                inside = one
            elif inside is None and isinstance(one.tag, str) and one.tag not in ("script", "style"):
                text.append(one.text or "")
        elif inside is None or one is inside:
            inside = None
            text.append((one.tail or "") if one is not line else "")
    put_text()
    return steps


def lists_to(tree: Any, heading: Any, path: str, led_to: LedTo) -> Iterator[tuple[Any, bool]]:
    """Lists before the heading in which the page at a path stands behind others, and whether they end there.

    One that is a trail does so on each page; one of all pages of a site on the last of them alone.
    """
    if heading is None:
        return
    words = text_of(heading)
    for one in islice(tree.iter("ul", "ol", heading.tag), _MOST_LOOKED_AT):
        if one is heading:
            return
        items = list(islice(one.iterchildren("li"), _MOST_LINKS))
        here = next((at for at, item in enumerate(items) if _is_here(item, words, path, led_to)), 0)
        led = [{to for link in item.iter("a") if (to := led_to(link))} for item in items]
        before, behind = set[str]().union(*led[:here]), set[str]().union(*led[here:])
        if before:
            yield one, behind <= before | {path}


def _is_here(item: Any, words: str, path: str, led_to: LedTo) -> bool:
    """Whether an item of a list is the page at a path itself, that is called by some words."""
    links = list(item.iter("a"))
    return any(led_to(link) == path for link in links) if links else stands_in(text_of(item), words)
