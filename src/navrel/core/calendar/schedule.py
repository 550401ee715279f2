"""When something holds: from, until, and repeats. All times are wall-clock times in the site's zone.

The arithmetic is on the clock's face too: twelve hours from 20:00 is 08:00 on every night, also when the clocks
are changed. So no zone appears here; whoever asks says what the clock shows.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from heapq import heappop, heappush
from itertools import chain
from math import lcm
from typing import NamedTuple

from ..errors import ScheduleError
from .recurrence import Recurrence

#: After so many occurrences joined into one span it is asked whether the whole pattern touches.
_JOINED_AT_ONCE = 10_000
#: Occurrences that are joined into one span before it is taken to have no end.
MAX_JOINED = 100_000
#: Spans that a timeline looks at before it says that it has not seen everything.
MAX_SPANS = 20_000

#: More days than the calendar has, from year 1 to year 9999.
_MOST_DAYS = 4_000_000

_MOMENT = re.compile(r"\d{4}-\d\d-\d\d(T\d\d:\d\d(:\d\d)?)?\Z", re.ASCII)
_OFFSET = re.compile(r"T.*(Z|[+-]\d\d:?\d\d)\Z")
_NUMBER = r"(\d{1,9}(?:[.,]\d{1,6})?)"
_DURATION = re.compile(rf"P(?:{_NUMBER}W|(?:{_NUMBER}D)?(T(?:{_NUMBER}H)?(?:{_NUMBER}M)?(?:{_NUMBER}S)?)?)\Z", re.ASCII)
_CALENDAR_DURATION = re.compile(r"P\d+(Y|M)|P.*\dY|P\d+Y.*", re.ASCII)


class Span(NamedTuple):
    """An unbroken time: ``start`` inclusive, ``end`` exclusive; None where there is none."""

    start: datetime | None
    end: datetime | None

    def __contains__(self, moment: object) -> bool:
        assert isinstance(moment, datetime)
        return (self.start is None or self.start <= moment) and (self.end is None or moment < self.end)


@dataclass(frozen=True)
class Repeats:
    """Occurrences, each of them ``duration`` long. ``rrule`` is the text that the recurrence was read from."""

    rrule: str
    recurrence: Recurrence
    duration: timedelta


@dataclass(frozen=True)
class Schedule:
    """When something is in force (cascade: Conditions). ``starts`` inclusive, ``ends`` exclusive."""

    starts: datetime | None = None
    ends: datetime | None = None
    repeats: Repeats | None = None

    def holds(self, moment: datetime) -> bool:
        """Whether it is in force at a moment."""
        if moment not in Span(self.starts, self.ends):
            return False
        return self.repeats is None or self._occurrence_end(moment) is not None

    def spans(self, since: datetime) -> Iterator[Span]:
        """The times in force that end after ``since``, in order, parted by times that are not.

        A span that is under way at ``since`` starts there.
        """
        low = max(since, self.starts or datetime.min)
        if self.ends is not None and low >= self.ends:
            return
        if self.repeats is None:
            yield Span(low, self.ends)
            return
        for span in self._joined(low):
            assert span.start is not None
            if self.ends is not None and span.start >= self.ends:
                return
            open_end = self.ends is not None and (span.end is None or span.end > self.ends)
            yield Span(span.start, self.ends if open_end else span.end)

    def current(self, moment: datetime) -> Span | None:
        """The span that holds a moment, None where it is not in force."""
        span = next(self.spans(moment), None)
        return span if span and moment in span else None

    def next_start(self, moment: datetime) -> datetime | None:
        """When it comes into force next after a moment at which it is not; None for never again."""
        span = next(self.spans(moment), None)
        return span.start if span else None

    def _occurrence_end(self, moment: datetime) -> datetime | None:
        """The end of the last occurrence that holds a moment."""
        assert self.repeats is not None
        duration = self.repeats.duration
        began = self.repeats.recurrence.latest(moment, plus(moment, -duration))
        end = None if began is None else plus(began, duration)
        return end if end is not None and end > moment else None

    def _joined(self, low: datetime) -> Iterator[Span]:
        """Occurrences from ``low`` on, those that touch or overlap as one."""
        assert self.repeats is not None
        end = self._occurrence_end(low)
        start = low if end is not None else None
        joined = 0
        for occurrence in self.repeats.recurrence.ascending(low):
            finish = plus(occurrence, self.repeats.duration)
            if start is None or end is None:
                start, end = occurrence, finish
            elif occurrence <= end:
                end, joined = finish, joined + 1
                if joined % _JOINED_AT_ONCE == 0 and (self._touches(start, end) or joined == MAX_JOINED):
                    yield Span(start, self._last_end(start) if self._touches(start, end) else None)
                    return
            else:
                yield Span(start, end)
                start, end, joined = occurrence, finish, 0
        if start is not None:
            yield Span(start, None if end == datetime.max else end)

    def _touches(self, start: datetime, end: datetime) -> bool:
        """Whether occurrences that are one from ``start`` to ``end`` are one for ever: a whole period is full."""
        assert self.repeats is not None
        return end - start >= timedelta(days=min(self.repeats.recurrence.period_days, _MOST_DAYS))

    def _last_end(self, start: datetime) -> datetime | None:
        """The end of the last of all occurrences; None where there is no last one."""
        assert self.repeats is not None
        recurrence = self.repeats.recurrence
        if recurrence.until is None:
            return None
        last = recurrence.latest(recurrence.until, start)
        return None if last is None else plus(last, self.repeats.duration)


def plus(moment: datetime, duration: timedelta) -> datetime:
    """Clock arithmetic that stops at the ends of the calendar."""
    try:
        return moment + duration
    except OverflowError:
        return datetime.max if duration > timedelta(0) else datetime.min


@dataclass(frozen=True)
class Epoch:
    """All moments at which exactly these schedules are in force (their places in the list asked about)."""

    in_force: frozenset[int]
    spans: tuple[Span, ...]


@dataclass(frozen=True)
class Timeline:
    """Every combination of schedules that comes up from a moment on, in order of its first span.

    ``repeats_after``: the moment after which everything goes on as before, None where nothing repeats for ever; and
    ``period`` after how long it comes again.
    ``seen_until``: the moment up to which was looked, where more may come up after it; else None.
    """

    epochs: tuple[Epoch, ...]
    repeats_after: datetime | None
    seen_until: datetime | None
    period: timedelta | None = None


def timeline(schedules: tuple[Schedule, ...], since: datetime) -> Timeline:
    """Cut the time from ``since`` on at the boundaries of some schedules.

    Repeats are followed through one whole period of their common pattern after the last single boundary.
    """
    horizon, period = _horizon(schedules, since)
    changes: list[_Waiting] = []
    for number, schedule in enumerate(schedules):
        _push(changes, number, chain.from_iterable(schedule.spans(since)))
    found: dict[frozenset[int], list[Span]] = {}
    in_force: frozenset[int] = frozenset()
    at, count = since, 0
    while changes and count < MAX_SPANS and changes[0][0] <= horizon:
        moment = changes[0][0]
        if moment > at:
            found.setdefault(in_force, []).append(Span(at, moment))
            at, count = moment, count + 1
        while changes and changes[0][0] == moment:
            _, number, edges = heappop(changes)
            in_force = in_force ^ {number}
            _push(changes, number, edges)
    found.setdefault(in_force, []).append(Span(at, changes[0][0] if changes else None))
    epochs = tuple(Epoch(key, tuple(spans)) for key, spans in found.items())
    if not changes:
        return Timeline(epochs, None, None)
    goes_on = changes[0][0] > horizon
    return Timeline(epochs, changes[0][0], None, period) if goes_on else Timeline(epochs, None, at)


#: The next edge of a schedule, its place in the list, and its later edges.
_Waiting = tuple[datetime, int, Iterator[datetime | None]]


def _push(changes: list[_Waiting], number: int, edges: Iterator[datetime | None]) -> None:
    """Wait for the next edge of a schedule, if it has one."""
    edge = next(edges, None)
    if edge is not None:
        heappush(changes, (edge, number, edges))


def _horizon(schedules: tuple[Schedule, ...], since: datetime) -> tuple[datetime, timedelta]:
    """The moment after which the schedules only repeat what they have done before, and the period they share."""
    single = [since]
    period = 1
    repeating = False
    for schedule in schedules:
        single += [edge for edge in (schedule.starts, schedule.ends) if edge is not None]
        if schedule.repeats:
            recurrence = schedule.repeats.recurrence
            edges = (recurrence.start, recurrence.until)
            single += [plus(edge, schedule.repeats.duration) for edge in edges if edge is not None]
            days = recurrence.period_days
            period = min(lcm(period, days), _MOST_DAYS)
            repeating = True
    lasting = timedelta(days=period if repeating else 0)
    return plus(max(single), lasting), lasting


def read_moment(text: str, *, what: str = "moment") -> datetime:
    """Read a local date-time, or a date for its midnight (ISO 8601). Raises ScheduleError."""
    hint = "write it as 2026-12-01T18:00"
    if _OFFSET.search(text):
        raise ScheduleError(
            "offset", f"the {what} {text} has an offset; times are wall-clock times in the site's zone", hint
        )
    try:
        if not _MOMENT.match(text):
            raise ValueError
        return datetime.fromisoformat(text)
    except ValueError:
        raise ScheduleError("bad-moment", f"{text or 'nothing'} is no local date-time", hint) from None


def read_duration(text: str) -> timedelta:
    """Read a duration in weeks, days, hours, minutes and seconds (ISO 8601). Raises ScheduleError."""
    hint = "write it as PT6H or P1DT12H"
    match = _DURATION.match(text)
    if match is None:
        if _CALENDAR_DURATION.match(text):
            raise ScheduleError("bad-duration", f"{text} counts months or years, which are not always as long", hint)
        raise ScheduleError("bad-duration", f"{text or 'nothing'} is no duration", hint)
    weeks, days, clock, hours, minutes, seconds = match.groups()
    given = [one for one in (weeks, days, hours, minutes, seconds) if one is not None]
    if not given or clock == "T":
        raise ScheduleError("bad-duration", f"{text} is no duration", hint)
    if any(re.search("[.,]", one) for one in given[:-1]):
        raise ScheduleError("bad-duration", f"in {text} only the last number can have decimals", hint)
    weeks, days, hours, minutes, seconds = (
        float(one.replace(",", ".")) if one else 0 for one in (weeks, days, hours, minutes, seconds)
    )
    try:
        found = timedelta(weeks=weeks, days=days, hours=hours, minutes=minutes, seconds=seconds)
    except OverflowError:
        raise ScheduleError("bad-duration", f"{text} is longer than the calendar", hint) from None
    if not found:
        raise ScheduleError("bad-duration", f"{text} is no time at all", hint)
    return found


def write_moment(moment: datetime) -> str:
    """A local date-time as `read_moment` reads it: minutes, and seconds where there are any."""
    return moment.isoformat(timespec="seconds" if moment.second else "minutes")


def write_duration(duration: timedelta) -> str:
    """A duration as `read_duration` reads it."""
    minutes, seconds = divmod(duration.seconds, 60)
    hours, minutes = divmod(minutes, 60)
    part = f"{seconds}.{duration.microseconds:06}".rstrip("0") if duration.microseconds else str(seconds)
    clock = (f"{hours}H" if hours else "") + (f"{minutes}M" if minutes else "") + (f"{part}S" if part != "0" else "")
    return "P" + (f"{duration.days}D" if duration.days else "") + (f"T{clock}" if clock else "")
