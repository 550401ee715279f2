"""Repeating starts: the RRULE of RFC 5545 section 3.3.10, on wall-clock time.

A question about one moment looks at the periods around it, never at all occurrences since the start, so that a
rule that has repeated a million times costs no more than a new one.
"""

from __future__ import annotations

import calendar
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import cached_property
from itertools import product
from math import gcd, lcm

#: Days that one question looks at for an occurrence: more than lie between two Mondays that are a leap day.
MAX_DAYS_LOOKED_AT = 20_000

WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
#: Seconds of the frequencies that are shorter than a day.
SHORT_UNITS = {"HOURLY": 3600, "MINUTELY": 60, "SECONDLY": 1}
FREQUENCIES = (*SHORT_UNITS, "DAILY", "WEEKLY", "MONTHLY", "YEARLY")
_DAY = 86_400
#: The days of four hundred years, a whole number of weeks.
_CALENDAR_DAYS = 146_097
_DAY_PARTS = ("BYMONTH", "BYWEEKNO", "BYYEARDAY", "BYMONTHDAY")


@dataclass(frozen=True)
class Recurrence:
    """The occurrences of one RRULE from its first one on. Make it with `read_recurrence`.

    ``numbers`` holds the parts that are lists of numbers; ``weekdays`` the BYDAY part as (ordinal or 0, weekday).
    ``until`` is the last moment at which an occurrence may start; a COUNT has become one.
    """

    start: datetime
    frequency: str
    interval: int
    week_start: int
    weekdays: tuple[tuple[int, int], ...]
    numbers: tuple[tuple[str, tuple[int, ...]], ...]
    until: datetime | None = None

    def ascending(self, moment: datetime, most_days: int = MAX_DAYS_LOOKED_AT) -> Iterator[datetime]:
        """The occurrences at or after ``moment``, in order.

        Ends where none comes for as many days of the periods looked at; `read_recurrence` refuses what is so rare.
        """
        last = self.until or datetime.max
        moment = max(moment, self.start)
        number, looked_at = self._period_of(moment), 0
        while looked_at < most_days and moment <= last:
            days = self._span(number)
            if days is None:
                return
            number, looked_at = number + 1, looked_at + max(1, len(days))
            for occurrence in self._occurrences(days, moment):
                if occurrence > last:
                    return
                looked_at = 0
                yield occurrence

    def latest(self, moment: datetime, not_before: datetime) -> datetime | None:
        """The last occurrence at or before ``moment``, None where there is none from ``not_before`` on."""
        moment = min(moment, self.until or datetime.max)
        earliest = max(not_before, self.start)
        if moment < earliest:
            return None
        oldest = self._period_of(earliest)
        number, looked_at = self._period_of(moment), 0
        while number >= oldest and looked_at < MAX_DAYS_LOOKED_AT:
            days = self._span(number) or range(0)
            number, looked_at = number - 1, looked_at + max(1, len(days))
            found = self._last_of(days, moment)
            if found is not None:
                return found if found >= earliest else None
        return None

    @property
    def period_days(self) -> int:
        """After how many days the pattern has repeated itself."""
        if self.frequency == "MONTHLY":
            return lcm(self.interval, 4800) // 4800 * _CALENDAR_DAYS
        if self.frequency == "YEARLY":
            return lcm(self.interval, 400) // 400 * _CALENDAR_DAYS
        if self.frequency in SHORT_UNITS:
            step = self.interval * SHORT_UNITS[self.frequency]
            days = step // gcd(step, _DAY)
        else:
            days = self.interval * (7 if self.frequency == "WEEKLY" else 1)
        if any(name in _DAY_PARTS for name, _ in self.numbers):
            return lcm(days, _CALENDAR_DAYS)
        return lcm(days, 7) if self.weekdays else days

    @cached_property
    def _parts(self) -> dict[str, tuple[int, ...]]:
        return dict(self.numbers)

    @cached_property
    def _offsets(self) -> tuple[int, ...]:
        """Seconds after the beginning of the unit (a day, an hour …) at which occurrences stand, ascending."""
        start = self.start
        lists = [
            (self._parts.get("BYHOUR", (start.hour,)), 3600, _DAY),
            (self._parts.get("BYMINUTE", (start.minute,)), 60, 3600),
            (self._parts.get("BYSECOND", (start.second,)), 1, 60),
        ]
        unit = SHORT_UNITS.get(self.frequency, _DAY)
        # A sixtieth second, which RFC 5545 allows for leap seconds, never comes on this clock.
        inside = [[n * size for n in numbers if n * size < whole] for numbers, size, whole in lists if whole <= unit]
        offsets = sorted({sum(parts) for parts in product(*inside)})
        return tuple(self._at_positions(offsets) if unit < _DAY else offsets)

    def _period_of(self, moment: datetime) -> int:
        """The number of the period (from 0, the one of the start) that holds ``moment``, or the one before it."""
        start = self.start
        match self.frequency:
            case "YEARLY":
                steps = moment.year - start.year
            case "MONTHLY":
                steps = (moment.year - start.year) * 12 + moment.month - start.month
            case "WEEKLY":
                steps = (moment.date() - self._week_of_start).days // 7
            case "DAILY":
                steps = (moment.date() - start.date()).days
            case _:
                return (moment.date() - start.date()).days
        return steps // self.interval

    @cached_property
    def _week_of_start(self) -> date:
        back = (self.start.weekday() - self.week_start) % 7
        day = self.start.date()
        return day - timedelta(days=back) if day.toordinal() > back else date.min

    def _occurrences(self, days: range, moment: datetime) -> Iterator[datetime]:
        """The occurrences on some days that make one period, from ``moment`` on, ascending."""
        moment = max(moment, self.start)
        if "BYSETPOS" in self._parts and self.frequency not in SHORT_UNITS:
            yield from (one for one in self._whole_period(days) if one >= moment)
            return
        for ordinal in range(max(days.start, moment.toordinal()), days.stop):
            day = date.fromordinal(ordinal)
            if not self._takes(day):
                continue
            begin = self._start_of(day)
            times = self._times_of(day)
            first = bisect_left(times, (moment - begin).total_seconds()) if moment > begin else 0
            yield from (begin + timedelta(seconds=at) for at in times[first:])

    def _last_of(self, days: range, moment: datetime) -> datetime | None:
        """The last occurrence up to ``moment`` on some days that make one period, not before the start."""
        if "BYSETPOS" in self._parts and self.frequency not in SHORT_UNITS:
            found = [one for one in self._whole_period(days) if self.start <= one <= moment]
            return found[-1] if found else None
        for ordinal in reversed(range(max(days.start, self.start.toordinal()), min(days.stop, moment.toordinal() + 1))):
            day = date.fromordinal(ordinal)
            if not self._takes(day):
                continue
            begin = self._start_of(day)
            times = self._times_of(day)
            place = bisect_right(times, (moment - begin).total_seconds())
            if place:
                found_last = begin + timedelta(seconds=times[place - 1])
                return found_last if found_last >= self.start else None
        return None

    def _whole_period(self, days: range) -> list[datetime]:
        """The occurrences that BYSETPOS chooses from all of a period, ascending."""
        chosen = (day for day in map(date.fromordinal, days) if self._takes(day))
        return self._at_positions(
            [self._start_of(day) + timedelta(seconds=at) for day in chosen for at in self._offsets]
        )

    def _times_of(self, day: date) -> Sequence[int]:
        """The seconds of a day at which it occurs, ascending; the day tests are not asked."""
        return tuple(self._seconds_of(day)) if self.frequency in SHORT_UNITS else self._offsets

    def most_in_a_period(self) -> int:
        """How many occurrences the period of the start may hold: what a question about one moment may have to make."""
        days = sum(self._takes(date.fromordinal(day)) for day in self._span(0) or range(0))
        if self.frequency in SHORT_UNITS:
            blocks = sum(end - begin for begin, end in self._blocks)
            return days * max(1, blocks // SHORT_UNITS[self.frequency]) * len(self._offsets)
        return days * len(self._offsets)

    @staticmethod
    def _start_of(day: date) -> datetime:
        return datetime(day.year, day.month, day.day)

    def _span(self, number: int) -> range | None:
        """The days of a period, as ordinals; None past the end of the calendar."""
        start, steps = self.start, number * self.interval
        try:
            match self.frequency:
                case "YEARLY":
                    first = date(start.year + steps, 1, 1)
                    count = _year_length(first)
                case "MONTHLY":
                    year, month = divmod(start.year * 12 + start.month - 1 + steps, 12)
                    first = date(year, month + 1, 1)
                    count = _month_length(first)
                case "WEEKLY":
                    first, count = self._week_of_start + timedelta(days=7 * steps), 7
                case "DAILY":
                    first, count = start.date() + timedelta(days=steps), 1
                case _:
                    first, count = start.date() + timedelta(days=number), 1
        except (OverflowError, ValueError):
            return None
        return range(first.toordinal(), min(first.toordinal() + count, date.max.toordinal() + 1))

    def _takes(self, day: date) -> bool:
        """Whether every day part lets a day through."""
        return all(test(day) for test in self._day_tests)

    @cached_property
    def _day_tests(self) -> tuple[Callable[[date], bool], ...]:
        """One test for each day part that is given, or that the start stands in for."""
        found: list[Callable[[date], bool]] = []
        parts = self._parts
        if "BYMONTH" in parts:
            found.append(lambda day: day.month in parts["BYMONTH"])
        if "BYMONTHDAY" in parts:
            found.append(
                lambda day: _counted(day.day, calendar.monthrange(day.year, day.month)[1], parts["BYMONTHDAY"])
            )
        if "BYYEARDAY" in parts:
            found.append(lambda day: _counted(_day_of_year(day), _year_length(day), parts["BYYEARDAY"]))
        if "BYWEEKNO" in parts:
            found.append(lambda day: _counted(*_week_number(day, self.week_start), parts["BYWEEKNO"]))
        if self.weekdays:
            found.append(self._on_weekday)
        return tuple(found)

    def _on_weekday(self, day: date) -> bool:
        within_month = self.frequency == "MONTHLY" or "BYMONTH" in self._parts
        for ordinal, weekday in self.weekdays:
            if day.weekday() != weekday:
                continue
            if not ordinal:
                return True
            place = day.day if within_month else _day_of_year(day)
            whole = _month_length(day) if within_month else _year_length(day)
            if ordinal == ((place - 1) // 7 + 1 if ordinal > 0 else -((whole - place) // 7 + 1)):
                return True
        return False

    def _seconds_of(self, day: date) -> Iterator[int]:
        """The seconds of a day at which a frequency shorter than a day occurs."""
        unit = SHORT_UNITS[self.frequency]
        step = unit * self.interval
        whole = self.start.hour * 3600 + self.start.minute * 60 + self.start.second
        since = (day - self.start.date()).days * _DAY - whole // unit * unit
        seconds = self._parts.get("BYSECOND") if unit == 1 else None
        for begin, end in self._blocks:
            for at in range(begin + (-since - begin) % step, end, step):
                if seconds is None or at % 60 in seconds:
                    yield from (at + offset for offset in self._offsets)

    @cached_property
    def _blocks(self) -> tuple[tuple[int, int], ...]:
        """The stretches of a day, in seconds, that BYHOUR and BYMINUTE leave to a frequency shorter than a day."""
        hours = self._parts.get("BYHOUR", range(24))
        minutes = self._parts.get("BYMINUTE")
        if minutes and SHORT_UNITS[self.frequency] <= 60:
            return tuple((at, at + 60) for hour in hours for minute in minutes for at in (hour * 3600 + minute * 60,))
        return tuple((hour * 3600, hour * 3600 + 3600) for hour in hours)

    def _at_positions(self, found: list) -> list:  # type: ignore[type-arg]
        """Those at the places that BYSETPOS names, counted in one period."""
        positions = self._parts.get("BYSETPOS")
        if not positions:
            return found
        places = {place - 1 if place > 0 else len(found) + place for place in positions}
        return [one for number, one in enumerate(found) if number in places]


def _month_length(day: date) -> int:
    return calendar.monthrange(day.year, day.month)[1]


def _year_length(day: date) -> int:
    return 365 + calendar.isleap(day.year)


def _day_of_year(day: date) -> int:
    return day.timetuple().tm_yday


def _counted(place: int, whole: int, wanted: tuple[int, ...]) -> bool:
    """Whether a place, counted from 1 or from the end of ``whole``, is wanted."""
    return place in wanted or place - whole - 1 in wanted


def _week_number(day: date, week_start: int) -> tuple[int, int]:
    """The number of the week that holds a day, and of the last week of that week's year (ISO 8601, any first day)."""
    # The year of a week is the one that holds its fourth day.
    ordinal = day.toordinal() - (day.weekday() - week_start) % 7 + 3
    year = date.fromordinal(min(max(ordinal, 1), date.max.toordinal())).year
    fourths = [date(year, 1, 1).toordinal(), date(year, 12, 31).toordinal()]
    first = fourths[0] + (week_start + 3 - date(year, 1, 1).weekday()) % 7
    return (ordinal - first) // 7 + 1, (fourths[1] - first) // 7 + 1
