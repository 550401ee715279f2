"""Where, for whom and when something holds."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from ..calendar.schedule import Schedule
from ..language.query import Query


class Audience(NamedTuple):
    """The part of a condition that asks about the lens, not about the page."""

    include: Query = Query()
    exclude: Query = Query()
    schedule: Schedule | None = None

    @property
    def is_everyone(self) -> bool:
        """Whether it asks nothing: anybody, always."""
        return not self.include and not self.exclude and self.schedule is None


@dataclass(frozen=True)
class Condition:
    """Where, for whom and when something holds. An empty ``visitors_include`` means everyone."""

    include: Query = Query()
    exclude: Query = Query()
    visitors_include: Query = Query()
    visitors_exclude: Query = Query()
    schedule: Schedule | None = None

    @cached_property
    def audience(self) -> Audience:
        return Audience(self.visitors_include, self.visitors_exclude, self.schedule)
