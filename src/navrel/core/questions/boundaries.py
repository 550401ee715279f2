"""When anything changes by itself: the moments at which rules, and widgets in sidebars, begin or end to be in force."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from ..index.page_index import PageIndex
from ..layout.condition import Condition
from ..layout.model import Layout
from ..pages.pageset import PageSet
from .reach import rule_pages


@dataclass(frozen=True)
class Boundary:
    """A moment at which something begins or ends to be in force: the names of what does."""

    moment: datetime
    begins: tuple[str, ...]
    ends: tuple[str, ...]


def boundaries(
    index: PageIndex, layout: Layout, since: datetime, until: datetime, pages: PageSet | None = None, most: int = 200
) -> list[Boundary]:
    """The first boundaries after ``since``, up to ``until``, of what reaches one of ``pages``: all, when not given."""
    begins: dict[datetime, list[str]] = {}
    ends: dict[datetime, list[str]] = {}
    for name, condition in _scheduled(index, layout, pages):
        assert condition.schedule is not None
        for number, span in enumerate(condition.schedule.spans(since)):
            if number == most or (span.start and span.start > until):
                break
            if span.start and span.start > since:
                begins.setdefault(span.start, []).append(name)
            if span.end and span.end <= until:
                ends.setdefault(span.end, []).append(name)
    moments = sorted({*begins, *ends})[:most]
    return [Boundary(at, tuple(begins.get(at, ())), tuple(ends.get(at, ()))) for at in moments]


def is_scheduled(index: PageIndex, layout: Layout) -> bool:
    """Whether anything begins or ends at all."""
    return next(_scheduled(index, layout, None), None) is not None


def _scheduled(index: PageIndex, layout: Layout, pages: PageSet | None) -> Iterator[tuple[str, Condition]]:
    """The conditions with a schedule that can hold on some of the pages, each with the name of what has it."""
    for rule in layout.rules:
        if rule.on and rule.condition.schedule and (pages is None or rule_pages(index, rule) & pages):
            yield rule.name, rule.condition
    for sidebar in layout.pieces.values():
        for entry in sidebar.entries_on:
            if entry.condition.schedule and (pages is None or index.entry(entry.condition) & pages):
                yield f"{layout.pieces[entry.piece].name} in {sidebar.name}", entry.condition
