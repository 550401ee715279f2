"""What was found when guards were asked, for the next time: an edit leaves most pages as they were."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import replace
from datetime import datetime
from typing import Generic, TypeVar

from ..index.page_index import PageIndex
from ..layout.model import Guard, Layout

Found = TypeVar("Found")


class GuardMemory(Generic[Found]):
    """What guards came to on pages by what those get of their rules.

    It lasts as long as the pages, the pieces, the settings and the moment from which is looked; the rules may change.
    ``earlier``: what is remembered of the last time, which is left as it is.
    """

    def __init__(self, earlier: GuardMemory[Found] | None = None) -> None:
        self._earlier = earlier
        self._ground: tuple[PageIndex, Layout, datetime] | None = None
        self._known: dict[Hashable, Found] = {}
        self._from: dict[Hashable, Found] = {}

    def begin(self, index: PageIndex, layout: Layout, since: datetime) -> None:
        """Guards are about to be asked of these pages."""
        self._ground = index, replace(layout, rules=(), guards=()), since
        if self._earlier is not None and self._earlier._ground == self._ground:
            self._from = self._earlier._known
        self._earlier = None

    def recall(self, guards: tuple[Guard, ...], likeness: Hashable, find: Callable[[], Found]) -> Found:
        """What some guards come to on pages that are alike in this; found now where that is not remembered."""
        key = guards, likeness
        if key not in self._known:
            self._known[key] = self._from[key] if key in self._from else find()
        return self._known[key]
