"""Where the slots of pages that have HTML of their own are in it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal, NamedTuple

from ..language.query import Query

How = Literal["element", "before", "after", "start", "end"]
HOWS: tuple[How, ...] = ("element", "before", "after", "start", "end")
#: Most bindings of a site, and the longest selector.
MAX_BINDINGS = 60
MAX_SELECTOR = 300


@dataclass(frozen=True)
class Binding:
    """The place of a slot: the first element that a selector matches (Selectors Level 4), in document order.

    ``how``: the element is the place itself; or the place is beside it, or inside at its start or end, and empty.
    ``where``: the pages that are built so, a page query; an empty one means all.
    """

    slot: str
    selector: str
    how: How = "element"
    where: Query = Query()

    @property
    def place(self) -> tuple[How, str]:
        """What is looked for in a page, whichever slot it is for."""
        return self.how, self.selector


class Place(NamedTuple):
    """A part of a file, from a byte to the one behind it; ``matches``: how many elements the selector finds."""

    start: int
    end: int
    matches: int = 1


class Seat(NamedTuple):
    """The place of a slot in the HTML of a page."""

    slot: str
    start: int
    end: int


def seats(bindings: Iterable[Binding], place_of: Callable[[Binding], Place | None]) -> tuple[Seat, ...]:
    """The places of slots in a page, in document order. Of the bindings of a slot, the first counts that finds one.

    What lies inside another slot's place has none: it goes where that goes.
    """
    first: dict[str, Place] = {}
    for binding in bindings:
        if binding.slot not in first and (place := place_of(binding)) is not None:
            first[binding.slot] = place
    found: list[Seat] = []
    for slot, place in sorted(first.items(), key=lambda one: (one[1].start, -one[1].end)):
        if not found or place.start >= found[-1].end:
            found.append(Seat(slot, place.start, place.end))
    return tuple(found)
