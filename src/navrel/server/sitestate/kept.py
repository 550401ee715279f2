"""Values that are made once for a key and a version, and given to all who ask."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock
from typing import Generic, TypeVar

#: Values kept in one process for one purpose; a site takes one.
_MOST_KEPT = 16


Value = TypeVar("Value")


@dataclass
class _Place(Generic[Value]):
    """Where one value is kept. ``building`` is held by whoever makes it."""

    building: Lock = field(default_factory=Lock)
    version: object = None
    value: Value | None = None


class Kept(Generic[Value]):
    """Values by a key and a version: asked again with the same version, the kept value is given.

    A key has one builder at a time; others wait for that key only.
    """

    def __init__(self) -> None:
        self._places: dict[object, _Place[Value]] = {}
        self._lock = Lock()

    def get(self, key: object, version: object, make: Callable[[Value | None], Value]) -> Value:
        """The value for ``key`` at ``version``; ``make`` is given the older value, if there is one."""
        place = self._place(key)
        with place.building:
            if place.value is None or place.version != version:
                place.value, place.version = make(place.value), version
            return place.value

    def newest(self, key: object) -> Value | None:
        """The value that is kept for ``key`` now, whatever its version."""
        return self._place(key).value

    def _place(self, key: object) -> _Place[Value]:
        with self._lock:
            place = self._places.pop(key, None) or _Place[Value]()
            self._places[key] = place
            while len(self._places) > _MOST_KEPT:
                del self._places[next(iter(self._places))]
            return place
