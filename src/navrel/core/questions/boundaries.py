"""When anything changes by itself: the moments at which rules, and widgets in sidebars, begin or end to be in force."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from ..calendar.schedule import Schedule
from ..index.page_index import PageIndex
from ..layout.model import Layout, Rule, SidebarEntry
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
    for name, one, schedule in _scheduled(layout):
        if pages is not None and not _reached(index, one) & pages:
            continue
        for number, span in enumerate(schedule.spans(since)):
            if number == most or (span.start and span.start > until):
                break
            if span.start and span.start > since:
                begins.setdefault(span.start, []).append(name)
            if span.end and span.end <= until:
                ends.setdefault(span.end, []).append(name)
    moments = sorted({*begins, *ends})[:most]
    return [Boundary(at, tuple(begins.get(at, ())), tuple(ends.get(at, ()))) for at in moments]


def is_scheduled(layout: Layout) -> bool:
    """Whether anything begins or ends at all."""
    return next(_scheduled(layout), None) is not None


def _scheduled(layout: Layout) -> Iterator[tuple[str, Rule | SidebarEntry, Schedule]]:
    """What has a schedule and is on: what it is called, itself, and the schedule."""
    for rule in layout.rules:
        if rule.on and rule.condition.schedule:
            yield rule.name, rule, rule.condition.schedule
    for sidebar in layout.pieces.values():
        for entry in sidebar.entries_on:
            if entry.condition.schedule:
                yield f"{layout.pieces[entry.piece].name} in {sidebar.name}", entry, entry.condition.schedule


def _reached(index: PageIndex, one: Rule | SidebarEntry) -> PageSet:
    return rule_pages(index, one) if isinstance(one, Rule) else index.entry(one.condition)
