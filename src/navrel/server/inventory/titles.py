"""Titles among those of their site: without what every page has, `Timetables · Marrowick Ferries` is `Timetables`."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Collection, Iterable, Mapping
from functools import partial, reduce
from typing import Any

from .content import stands_in

#: Pages of which that can be told, and how many of a hundred have to share it.
FEWEST_PAGES, MOST_OF = 4, 70
#: Parts that are taken off at the most.
MOST_PARTS = 3
_SEPARATOR = r"\s+(?:-{1,3}|[–—|·•:»«›/]|::|<|>)\s+|\s*[|·»]\s*|:\s+"
_BEHIND = re.compile(rf"(?P<own>.*[^\s\-–—|·•:»«›/<>])(?P<glued>(?:{_SEPARATOR})\S.*)")
_BEFORE = re.compile(rf"(?P<glued>\S.*?(?:{_SEPARATOR}))(?P<own>.+)")
#: What stands in brackets behind: `Fares (Marrowick Ferries)`.
_IN_BRACKETS = re.compile(r"(?P<own>.*?\S)(?P<glued>\s+\(.+\))")
_ALL = (_BEHIND, _BEFORE, _IN_BRACKETS)
#: What stands around a name that is glued to a title.
_SEPARATING = " -–—|·•:»«›/<>()"


def titles_of(
    recipe: Iterable[Mapping[str, Any]], read: Iterable[tuple[str, Mapping[str, Any]]]
) -> Callable[[str, Mapping[str, Any]], str]:
    """What makes of a page's path and facts its title on its site; as stated where a recipe says where it stands.

    ``read``: the paths of all pages, and their facts: ``title``; ``in_head``, what the title element says; and
    ``shows_head``, whether the page shows just that before its heading.
    """
    if any(one["fact"] == "title" for one in recipe):
        return lambda path, facts: str(facts["title"])
    stated, shown = [], []
    for path, facts in read:
        stated.append((path, facts["title"], facts.get("in_head") or ""))
        shown += [facts["in_head"]] if facts.get("shows_head") else []
    in_heads = _unglued_by_part([(path, head) for path, _, head in stated if head])
    shared = _shared_headings([(title, head, in_heads(path, head)) for path, title, head in stated])
    # What they show is not the name of the site.
    by_head = frozenset(shown if len({*shown}) > 1 and len({*shown}) * 2 > len(shown) else ())

    def own(path: str, title: str, in_head: str) -> str:
        title = in_head if (title in shared or in_head in by_head) and in_head else title
        # A page without a heading has what all title elements share, though most pages have no title of theirs.
        return in_heads(path, title) if title == in_head else title

    taken = unglued([own(*one) for one in stated])
    return lambda path, facts: taken(own(path, facts["title"], facts.get("in_head") or ""))


def _unglued_by_part(heads: Collection[tuple[str, str]]) -> Callable[[str, str], str]:
    """What takes off the title element of a page what is of its site, or behind it of its first folder.

    That is what most of them share, and the name of the home page. A site of several manuals, or in several languages,
    is called otherwise in each.
    """
    shared = unglued([head for _, head in heads])
    home = next((shared(head) for path, head in heads if path == "/"), "")

    def of_site(head: str) -> str:
        return _without_name(home, shared(head))

    parts: dict[str, list[str]] = {}
    for path, head in heads:
        parts.setdefault(_part_of(path), []).append(of_site(head))
    steps = {part: step for part, found in parts.items() if part and (step := _shared(found, (_BEHIND, _IN_BRACKETS)))}

    def taken(path: str, head: str) -> str:
        step = steps.get(_part_of(path))
        return step(of_site(head)) if step else of_site(head)

    return taken


def _without_name(name: str, title: str) -> str:
    """A title without a name that is glued to it."""
    for pattern in _ALL if name else ():
        found = pattern.fullmatch(title)
        if found and found["glued"].strip(_SEPARATING) == name:
            return found["own"]
    return title


def _part_of(path: str) -> str:
    """The first folder of a path: that of its own pages for `/harbours`; empty for the home page."""
    return path.split("/")[1]


def _shared_headings(stated: Collection[tuple[str, str, str]]) -> frozenset[str]:
    """The headings that name none of the pages that have them: these are told apart by their title elements.

    One is the site's own, as most pages have it, or all of a few; one is that of a section, or of the site, as no title
    element has it as its own. ``stated``: heading and title element of each page, and what of that is not shared.
    """
    heads: dict[str, list[tuple[str, str]]] = {}
    for title, head, own in stated:
        heads.setdefault(title, []).append((head, own))

    def names_none(title: str, found: list[tuple[str, str]]) -> bool:
        apart = len({head for head, _ in found})
        is_of_section = len(found) >= FEWEST_PAGES and apart * 2 > len(found)
        is_of_all = len(stated) == len(found) == apart
        return apart > 1 and (
            is_of_all
            or _is_of_most(len(found), stated)
            or (is_of_section and not any(stands_in(title, own) for _, own in found if own != title))
        )

    return frozenset(title for title, found in heads.items() if names_none(title, found))


def _is_of_most(count: int, titles: Collection[object]) -> bool:
    return len(titles) >= FEWEST_PAGES and count * 100 >= len(titles) * MOST_OF


def unglued(titles: Collection[str]) -> Callable[[str], str]:
    """What takes off a title what most titles of its site have behind their own, or before it, part by part."""
    steps: list[Callable[[str], str]] = []
    left = list(titles)
    while len(steps) < MOST_PARTS and (step := _shared(left, _ALL)):
        steps.append(step)
        left = list(map(step, left))
    return lambda title: reduce(lambda found, step: step(found), steps, title)


def _shared(titles: Collection[str], patterns: Iterable[re.Pattern[str]]) -> Callable[[str], str] | None:
    for pattern in patterns:
        parts = Counter(found["glued"] for title in titles if (found := pattern.fullmatch(title)))
        glued, count = max(parts.items(), key=lambda one: one[1], default=("", 0))
        if _is_of_most(count, titles):
            return partial(_without, glued, pattern)
    return None


def _without(glued: str, pattern: re.Pattern[str], title: str) -> str:
    found = pattern.fullmatch(title)
    return found["own"] if found and found["glued"] == glued else title
