"""Proposals of recipes: places in which facts stand on the pages of a site, and what each would tell."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from navrel.core.files.reading import read_recipe
from navrel.core.files.writing import write_fact
from navrel.core.layout.document import slugify
from navrel.core.layout.recipe import full
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.models import Page, Site
from navrel.server.inventory.originals import bytes_of
from navrel.server.inventory.reader import Reader, read_beside
from navrel.server.inventory.rereading import name_of, with_files
from navrel.server.inventory.sampling import spread_paths

from .services import as_texts, taken_facts

#: Pages that are looked at, and places that are proposed for one fact.
MOST_ASKED = 100
MOST_FOR_FACT = 4
#: On how many of the pages a place has to have something.
LEAST_SHARE = 0.04
FEWEST = 2
#: Facts of which many pages have the same, and those of which nearly every page has its own.
_SHARED = ("kind", "type", "language", "terms/section")
_OWN = ("title",)


@dataclass
class Seen:
    """What one place has on the pages that were looked at. ``told``: what, by path."""

    fact: str
    place: Mapping[str, Any]
    told: dict[str, str] = field(default_factory=dict)
    same: int = 0
    more: int = 0

    @property
    def values(self) -> Counter[str]:
        """What it has, and on how many pages."""
        return Counter(self.told.values())

    @property
    def is_telling(self) -> bool:
        """Whether what it has is of the sort that the fact is."""
        pages, distinct = len(self.told), len(self.values)
        # A site has one home page.
        if self.fact == "kind" and self.values["home"] > 1:
            return False
        if self.fact in _SHARED:
            return 3 * distinct <= 2 * pages
        if self.fact in _OWN:
            return 2 * distinct > pages
        # What is the same everywhere is of the site, not of its pages.
        return distinct > 1 or pages < 5

    @property
    def is_known(self) -> bool:
        """Whether all that it tells is told already."""
        return self.more == 0 and self.same == len(self.told)


def propose(site: Site) -> tuple[list[Seen], int]:
    """Places where facts stand, the most telling of each fact first; and on how many pages it was looked."""
    pages = list(with_files(site, path__in=spread_paths(site, MOST_ASKED)))

    def look(reader: Reader, page: Page) -> list[Any]:
        assert page.original is not None
        try:
            return reader.candidates(name_of(page), bytes_of(page.original.digest), site.base_url)
        except (OSError, Unreadable):
            return []

    seen: dict[tuple[str, str], Seen] = {}
    lines = map(write_fact, full(read_recipe(site.recipe)))
    left_out = {(line["fact"], _key(place)) for line in lines for place in line["places"]}
    for page, told in zip(pages, read_beside(pages, look), strict=True):
        now = as_texts(page.path, taken_facts(page))
        # What one page shows to be no place of a fact is none.
        left_out |= {(fact, _key(place)) for fact, place, values in told if not values}
        for fact, place, values in told:
            one = seen.setdefault((fact, _key(place)), Seen(fact, place))
            one.told[page.path] = ", ".join(map(slugify, values) if fact.startswith("terms/") else values)
            one.same += one.told[page.path] == now.get(fact, "")
            one.more += not now.get(fact)
    fewest = max(FEWEST, LEAST_SHARE * len(pages))
    likely = [one for key, one in seen.items() if key not in left_out and len(one.told) >= fewest]
    return _first_of_each([one for one in likely if one.is_telling and not one.is_known]), len(pages)


def _key(place: Mapping[str, Any]) -> str:
    return json.dumps(place, sort_keys=True)


def _first_of_each(seen: Sequence[Seen]) -> list[Seen]:
    """Of the places of each fact the most telling ones, no two of which tell the same."""
    found: dict[str, list[Seen]] = {}
    for one in sorted(seen, key=lambda one: (-one.more, -len(one.told))):
        of_fact = found.setdefault(one.fact, [])
        if len(of_fact) < MOST_FOR_FACT and all(other.told != one.told for other in of_fact):
            of_fact.append(one)
    return [one for of_fact in found.values() for one in of_fact]
