"""When one target of a page last began to come to what it does, and when it will come to something else."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import datetime, timedelta
from itertools import islice
from typing import NamedTuple

from ..calendar.schedule import Schedule, plus
from ..cascade.conditions import lets_through
from ..cascade.plain import Outcome, match_rules, trace
from ..language.visitor import Lens
from ..layout.model import Layout, Target
from ..lenses.looks import shown
from ..pages.page import Page
from ..pages.tree import PageTree

#: How far ahead and back is looked.
HORIZON = timedelta(days=400)
#: Windows into the past, each looked through before the next wider one.
_WINDOWS = (timedelta(days=1), timedelta(days=8), timedelta(days=64), HORIZON)
#: Moments at which something begins or ends that are looked at in one window.
_MOST_EDGES = 2000


class Turn(NamedTuple):
    """A moment at which a target changes by itself, and what it comes to on the far side of it.

    ``inside``: it is the widgets of a sidebar that change, not what stands there.
    """

    moment: datetime
    outcome: Outcome
    inside: bool


class Turns(NamedTuple):
    """The last and the next change, for one visitor; None where there is none within the horizon."""

    last: Turn | None
    next: Turn | None


def turns(tree: PageTree, layout: Layout, page: Page, target: Target, lens: Lens) -> Turns:
    """When a target of a page changes by itself for the visitor of a lens, before and after its moment."""
    rules = tuple(
        match.rule
        for match in match_rules(tree, layout, page)[0]
        if any(action.target == target for action in match.rule.actions)
    )
    near = replace(layout, rules=rules)
    schedules = tuple(_schedules(near, target))
    if not schedules:
        return Turns(None, None)

    known: dict[tuple[bool, ...], tuple[object, Outcome]] = {}

    def at(moment: datetime) -> tuple[object, Outcome]:
        # All that a moment changes is which schedules hold, and these come in few combinations.
        holding = tuple(schedule.holds(moment) for schedule in schedules)
        if holding not in known:
            known[holding] = _state(tree, near, page, target, replace(lens, moment=moment))
        return known[holding]

    return Turns(_last(schedules, lens.moment, at), _next(schedules, lens.moment, at))


def _schedules(layout: Layout, target: Target) -> Iterator[Schedule]:
    """The schedules of the rules, and of the entries of the sidebars that they put on a target."""
    for rule in layout.rules:
        if rule.condition.schedule:
            yield rule.condition.schedule
        for action in rule.actions:
            piece = layout.pieces.get(action.piece or "") if action.target == target else None
            for entry in piece.entries_on if piece else ():
                if entry.condition.schedule:
                    yield entry.condition.schedule


def _state(tree: PageTree, layout: Layout, page: Page, target: Target, lens: Lens) -> tuple[object, Outcome]:
    """What a target comes to with the widgets that its sidebars show, and the outcome alone."""
    outcome = trace(tree, layout, page, lens, target).outcome
    widgets = tuple(
        entry.piece
        for slug in outcome.pieces
        for entry in layout.pieces[slug].entries_on
        if lets_through(tree, page, lens, entry.condition)
    )
    return (shown(outcome), widgets), outcome


#: What a target comes to at a moment: all that makes it another one, and the outcome alone.
At = Callable[[datetime], tuple[object, Outcome]]


def _next(schedules: tuple[Schedule, ...], moment: datetime, at: At) -> Turn | None:
    now, before = at(moment)
    for edge in _edges(schedules, moment, plus(moment, HORIZON)):
        then, outcome = at(edge)
        if then != now:
            return Turn(edge, outcome, shown(outcome) == shown(before))
    return None


def _last(schedules: tuple[Schedule, ...], moment: datetime, at: At) -> Turn | None:
    now, after = at(moment)
    for window in _WINDOWS:
        since = plus(moment, -window)
        edges = list(_edges(schedules, since, moment))
        for number in range(len(edges) - 1, -1, -1):
            # Between two edges nothing changes, so the earlier one tells of all up to the later.
            earlier, outcome = at(edges[number - 1] if number else since)
            if earlier != now:
                return Turn(edges[number], outcome, shown(outcome) == shown(after))
    return None


def _edges(schedules: tuple[Schedule, ...], since: datetime, until: datetime) -> Iterator[datetime]:
    """The moments after ``since``, up to ``until``, at which any of some schedules begins or ends, in order."""

    def of(schedule: Schedule) -> Iterator[datetime]:
        for span in schedule.spans(since):
            if span.start and span.start > until:
                return
            yield from (edge for edge in (span.start, span.end) if edge and since < edge <= until)

    merged = heapq.merge(*map(of, schedules))
    last = None
    for edge in islice(merged, _MOST_EDGES):
        if edge != last:
            yield edge
        last = edge
