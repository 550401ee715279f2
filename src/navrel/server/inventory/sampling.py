"""Some of many: pages from all sections of a site."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

from .models import Site

Item = TypeVar("Item")


def spread(items: Sequence[Item], most: int) -> list[Item]:
    """At most so many of some items, from the whole length of them."""
    if len(items) <= most:
        return list(items)
    return [items[number * (len(items) - 1) // (most - 1)] for number in range(most)]


def spread_paths(site: Site, most: int) -> list[str]:
    """The paths of at most so many pages with a file of their own, from the whole length of the site."""
    listed = site.pages.filter(gone=False, original__isnull=False).order_by("position").values_list("path", flat=True)
    return spread(list(listed), most)
