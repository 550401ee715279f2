"""Values that are made once for a key and a version, and given to all who ask."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from threading import Lock, Thread
from typing import Generic, TypeVar

#: Values kept in one process for one purpose, if nothing else is said; a site takes one.
_MOST_KEPT = 16


Value = TypeVar("Value")

_keeps = ContextVar("keeps", default=True)


@contextmanager
def keeping_nothing() -> Iterator[None]:
    """For what is taken back: what is made within is given to whoever asks there, and kept for nobody."""
    token = _keeps.set(False)
    try:
        yield
    finally:
        _keeps.reset(token)


@dataclass
class _Place(Generic[Value]):
    """Where one value is kept. ``building`` is held by whoever makes it; ``beside`` is the thread that does, if any."""

    building: Lock = field(default_factory=Lock)
    beside: Thread | None = None
    version: object = None
    value: Value | None = None


class Kept(Generic[Value]):
    """Values by a key and a version: asked again with the same version, the kept value is given.

    A key has one builder at a time; others wait for that key only. ``most``: how many are kept, those that were asked
    for last.
    """

    def __init__(self, most: int = _MOST_KEPT) -> None:
        self._most = most
        self._places: dict[object, _Place[Value]] = {}
        self._lock = Lock()

    def get(self, key: object, version: object, make: Callable[[Value | None], Value]) -> Value:
        """The value for ``key`` at ``version``; ``make`` is given the older value, if there is one."""
        place = self._place(key)
        if not _keeps.get():
            return make(place.value)
        with place.building:
            if place.value is None or place.version != version:
                place.value, place.version = make(place.value), version
            return place.value

    def meanwhile(self, key: object, version: object, make: Callable[[Value | None], Value], patience: float) -> Value:
        """The value for ``key`` at ``version``; the older one, while the new takes longer than ``patience`` seconds.

        One thread makes the new one beside, however many ask. Without an older one it is waited for.
        """
        place = self._place(key)
        if place.value is None:
            return self.get(key, version, make)
        if place.version != version:
            with self._lock:
                maker = place.beside
                if maker is None or not maker.is_alive():
                    maker = Thread(target=self.get, args=(key, version, make), daemon=True)
                    place.beside = maker
                    maker.start()
            maker.join(patience)
        return place.value

    def newest(self, key: object) -> Value | None:
        """The value that is kept for ``key`` now, whatever its version."""
        with self._lock:
            place = self._places.get(key)
        return place.value if place else None

    def _place(self, key: object) -> _Place[Value]:
        with self._lock:
            place = self._places.pop(key, None) or _Place[Value]()
            self._places[key] = place
            while len(self._places) > self._most:
                del self._places[next(iter(self._places))]
            return place
