"""Some of many."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

Item = TypeVar("Item")


def spread(items: Sequence[Item], most: int) -> list[Item]:
    """At most so many of some items, from the whole length of them."""
    if len(items) <= most:
        return list(items)
    return [items[number * (len(items) - 1) // (most - 1)] for number in range(most)]
