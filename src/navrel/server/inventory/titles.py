"""Titles without what every page of a site glues to its own: `Timetables · Marrowick Ferries` is `Timetables`."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Collection
from functools import partial, reduce

#: Pages of which that can be told, and how many of a hundred have to share it.
FEWEST_PAGES, MOST_OF = 4, 70
#: Parts that are taken off at the most.
MOST_PARTS = 3
_SEPARATOR = r"\s+(?:[-–—|·•:»«›/]|::|<|>)\s+|\s*[|·»]\s*|:\s+"
_BEHIND = re.compile(rf"(?P<own>.*[^\s\-–—|·•:»«›/<>])(?P<glued>(?:{_SEPARATOR})\S.*)")
_BEFORE = re.compile(rf"(?P<glued>\S.*?(?:{_SEPARATOR}))(?P<own>.+)")


def unglued(titles: Collection[str]) -> Callable[[str], str]:
    """What takes off a title what most titles of its site have behind their own, or before it, part by part."""
    steps: list[Callable[[str], str]] = []
    left = list(titles)
    while len(steps) < MOST_PARTS and (step := _shared(left)):
        steps.append(step)
        left = list(map(step, left))
    return lambda title: reduce(lambda found, step: step(found), steps, title)


def _shared(titles: Collection[str]) -> Callable[[str], str] | None:
    for pattern in (_BEHIND, _BEFORE):
        parts = Counter(found["glued"] for title in titles if (found := pattern.fullmatch(title)))
        glued, count = max(parts.items(), key=lambda one: one[1], default=("", 0))
        if len(titles) >= FEWEST_PAGES and count * 100 >= len(titles) * MOST_OF:
            return partial(_without, glued, pattern)
    return None


def _without(glued: str, pattern: re.Pattern[str], title: str) -> str:
    found = pattern.fullmatch(title)
    return found["own"] if found and found["glued"] == glued else title
