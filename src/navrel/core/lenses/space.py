"""Every lens that makes a difference to some audiences: the satisfiable visitors, and the spans of time.

A visitor has one device, one browser, one referrer and one value a parameter; roles only when signed in; and a
language that is accepted is accepted by every wider range too. What the audiences do not ask about is left out.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache

import numpy as np

from ..calendar.schedule import Epoch, Schedule, Span, Timeline, timeline
from ..language.holding import visitor_term_holds
from ..language.query import Query
from ..language.visitor import Lens
from ..layout.condition import Audience
from .visitors import MOST_COMBINATIONS, TooManyCombinations, VisitorSpace

#: The fourth count of the specificity that each audience gives a lens; None where it refuses it.
Grades = tuple[int | None, ...]


@dataclass(frozen=True)
class Sighting:
    """Who sees something, and when. An empty query is everybody; one span without ends is always.

    ``repeats_after``: the moment after which the spans go on as before, None where they do not; ``period``: after how
    long they come again.
    ``schedule``: where the spans are just the times at which one schedule is in force, or with ``outside`` all
    others, that schedule.
    """

    visitors: Query
    spans: tuple[Span, ...]
    repeats_after: datetime | None = None
    schedule: Schedule | None = None
    outside: bool = False
    period: timedelta | None = None

    def admits(self, lens: Lens) -> bool:
        """Whether it is seen through a lens, of a moment that is not before the one from which was looked."""
        visitor = lens.visitor
        if self.visitors and not self.visitors.matching(lambda term: visitor_term_holds(visitor, term)):
            return False
        if self.schedule is not None:
            return self.schedule.holds(lens.moment) != self.outside
        moment = lens.moment
        if self.period and self.repeats_after is not None and moment >= self.repeats_after:
            # As many periods earlier as lead to where the spans are known.
            moment -= ((moment - self.repeats_after) // self.period + 1) * self.period
        return not self.spans or any(moment in span for span in self.spans)


class LensSpace:
    """All lenses that some audiences can tell apart, from a moment on; each stands for those that grade alike.

    Raises TooManyCombinations.
    """

    def __init__(self, audiences: Iterable[Audience], since: datetime) -> None:
        self.audiences = tuple(dict.fromkeys(audiences))
        self.place_of = {audience: number for number, audience in enumerate(self.audiences)}
        self.since = since
        queries = (query for audience in self.audiences for query in (audience.include, audience.exclude))
        self.visitors = VisitorSpace(term for query in queries for term in query.terms)
        schedules = [audience.schedule for audience in self.audiences]
        self._schedules = tuple(dict.fromkeys(schedule for schedule in schedules if schedule is not None))
        self.timeline = _timeline(self._schedules, since)
        count = len(self.visitors) * len(self.timeline.epochs)
        if count > MOST_COMBINATIONS:
            raise TooManyCombinations(count)
        columns = [self.visitors.grades(audience) for audience in self.audiences]
        columns.append(np.zeros(len(self.visitors), dtype=np.int16))
        kinds, kind_of = np.unique(np.stack(columns, axis=1), axis=0, return_inverse=True)
        #: The kinds of visitors that the audiences tell apart, and of which kind each visitor is.
        self._kinds = kinds[:, :-1]
        self._kind_of = kind_of.reshape(-1)

    @cached_property
    def cells(self) -> dict[Grades, list[tuple[int, int]]]:
        """Every combination of grades that some lens gets: the kinds of visitors and the epochs that give it."""
        number_of = {schedule: number for number, schedule in enumerate(self._schedules)}
        places = [number_of.get(audience.schedule) if audience.schedule else None for audience in self.audiences]
        found: dict[Grades, list[tuple[int, int]]] = {}
        for time, epoch in enumerate(self.timeline.epochs):
            in_force = {None, *epoch.in_force}
            for kind, visitor_grades in enumerate(self._kinds.tolist()):
                grades = tuple(
                    None if grade < 0 or place not in in_force else grade + (place is not None)
                    for grade, place in zip(visitor_grades, places, strict=True)
                )
                found.setdefault(grades, []).append((kind, time))
        return found

    def lens(self, cell: tuple[int, int]) -> Lens:
        """One of the lenses of a cell: the first visitor, at the beginning of the first span."""
        kind, time = cell
        visitor = self.visitors.visitor(int(np.flatnonzero(self._kind_of == kind)[0]))
        return Lens(visitor, self.timeline.epochs[time].spans[0].start or self.since)

    def sightings(self, cells: Iterable[tuple[int, int]]) -> tuple[Sighting, ...]:
        """Who sees what is so in these cells, and when: a sighting for each set of visitors."""
        kinds_at: dict[int, set[int]] = {}
        for kind, time in cells:
            kinds_at.setdefault(time, set()).add(kind)
        times_of: dict[frozenset[int], list[int]] = {}
        for time, kinds in sorted(kinds_at.items()):
            times_of.setdefault(frozenset(kinds), []).append(time)
        return tuple(self.sighting(kinds, times) for kinds, times in times_of.items())

    def sighting(self, kinds: Iterable[int], times: list[int]) -> Sighting:
        """These kinds of visitors at these times."""
        visitors = self.visitors.query(np.isin(self._kind_of, sorted(kinds)))
        return Sighting(visitors, *self._times(times), period=self.timeline.period)

    @property
    def shape(self) -> tuple[int, int]:
        """How many kinds of visitors and how many epochs there are."""
        return len(self._kinds), len(self.timeline.epochs)

    def _times(self, times: list[int]) -> tuple[tuple[Span, ...], datetime | None, Schedule | None, bool]:
        """Some epochs as a sighting tells them: spans, repeats, and the one schedule that they come from."""
        epochs = self.timeline.epochs
        spans = _joined([epochs[time] for time in times])
        if len(times) == len(epochs):
            # What goes on as before goes on always.
            always = (Span(self.since, None),)
            return always if self.timeline.seen_until is None else spans, None, None, False
        chosen = set(times)
        for number, schedule in enumerate(self._schedules):
            in_force = {time for time, epoch in enumerate(epochs) if number in epoch.in_force}
            if chosen == in_force or (chosen.isdisjoint(in_force) and len(chosen) + len(in_force) == len(epochs)):
                goes_on = self.timeline.repeats_after if schedule.repeats else None
                return spans, goes_on, schedule, chosen != in_force
        return spans, self.timeline.repeats_after, None, False


@lru_cache(maxsize=2048)
def _timeline(schedules: tuple[Schedule, ...], since: datetime) -> Timeline:
    return timeline(schedules, since)


def _joined(epochs: list[Epoch]) -> tuple[Span, ...]:
    """The spans of some epochs in order of time, those that touch as one."""
    found: list[Span] = []
    for span in sorted((span for epoch in epochs for span in epoch.spans), key=lambda span: span.start or datetime.min):
        if found and found[-1].end == span.start:
            found[-1] = Span(found[-1].start, span.end)
        else:
            found.append(span)
    return tuple(found)
