"""The RRULE of RFC 5545 section 3.3.10, read from its text."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import datetime
from functools import lru_cache

from ..errors import ScheduleError
from .recurrence import FREQUENCIES, SHORT_UNITS, WEEKDAYS, Recurrence

#: Longest RRULE that is read, in characters.
MAX_RRULE_LENGTH = 1000
#: Most occurrences that COUNT may ask for: they have to be counted out from the start.
MAX_COUNT = 10_000
#: Days that are looked at to count a COUNT out.
MAX_DAYS_COUNTED = 100_000
#: Most occurrences in one period of the frequency: every second of a day, and some more.
MAX_A_PERIOD = 100_000

_BY_DAY = re.compile(r"([+-]?\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)\Z", re.ASCII)
_UNTIL = re.compile(r"(\d{4})(\d\d)(\d\d)(?:T(\d\d)(\d\d)(\d\d))?\Z", re.ASCII)

#: The numbers that each part takes, and whether they may count from the end.
_NUMBERS = {
    "BYMONTH": (1, 12, False),
    "BYWEEKNO": (1, 53, True),
    "BYYEARDAY": (1, 366, True),
    "BYMONTHDAY": (1, 31, True),
    "BYHOUR": (0, 23, False),
    "BYMINUTE": (0, 59, False),
    "BYSECOND": (0, 60, False),
    "BYSETPOS": (1, 366, True),
}
#: What RFC 5545 does not allow together with a frequency.
_NOT_WITH = {
    "BYWEEKNO": (*SHORT_UNITS, "DAILY", "WEEKLY", "MONTHLY"),
    "BYYEARDAY": ("DAILY", "WEEKLY", "MONTHLY"),
    "BYMONTHDAY": ("WEEKLY",),
}


@lru_cache(maxsize=4096)
def read_recurrence(text: str, start: datetime) -> Recurrence:
    """Read an RRULE whose first occurrence is ``start``. Raises ScheduleError.

    What would take long to answer questions about is refused: too many occurrences in one period, or too few.
    """
    if len(text) > MAX_RRULE_LENGTH:
        raise ScheduleError("too-long", f"the RRULE is {len(text):,} characters long; {MAX_RRULE_LENGTH:,} is the most")
    parts = _split(text)
    frequency = parts.pop("FREQ", "")
    if frequency not in FREQUENCIES:
        what = f"{frequency} is no frequency" if frequency else "the RRULE has no FREQ"
        raise ScheduleError("bad-rrule", what, "write FREQ=WEEKLY, or one of " + ", ".join(FREQUENCIES))
    interval = _whole("INTERVAL", parts.pop("INTERVAL", "1"), 1, 100_000)
    week_start = _weekday(parts.pop("WKST", "MO"))
    until_text, count_text = parts.pop("UNTIL", None), parts.pop("COUNT", None)
    if until_text is not None and count_text is not None:
        raise ScheduleError("bad-rrule", "UNTIL and COUNT stand together", "keep one of them")
    weekdays = _by_day(parts.pop("BYDAY"), frequency, "BYWEEKNO" in parts) if "BYDAY" in parts else ()
    numbers = {name: _numbers(name, value, frequency) for name, value in parts.items()}
    if "BYSETPOS" in numbers and len(numbers) == 1 and not weekdays:
        raise ScheduleError("bad-rrule", "BYSETPOS chooses from another BY part, and there is none", "add BYDAY")
    days_given = weekdays or any(name in numbers for name in ("BYYEARDAY", "BYMONTHDAY"))
    # What the rule does not say is taken from the start (RFC 5545 section 3.3.10).
    if not days_given:
        if frequency == "WEEKLY" or "BYWEEKNO" in numbers:
            weekdays = ((0, start.weekday()),)
        elif frequency in ("MONTHLY", "YEARLY"):
            numbers["BYMONTHDAY"] = (start.day,)
            if frequency == "YEARLY":
                numbers.setdefault("BYMONTH", (start.month,))
    made = Recurrence(
        start,
        frequency,
        interval,
        week_start,
        weekdays,
        tuple(sorted(numbers.items())),
        _until(until_text) if until_text is not None else None,
    )
    if (most := made.most_in_a_period()) > MAX_A_PERIOD:
        raise ScheduleError(
            "too-often", f"{text} occurs {most:,} times in one period; {MAX_A_PERIOD:,} is the most",
            "let it occur less often and last longer",
        )  # fmt: skip
    if made.latest(start, start) != start:
        raise ScheduleError(
            "bad-start", f"the start {start.isoformat()} is no occurrence of {text}", "let it be the first occurrence"
        )
    return _counted_out(made, _whole("COUNT", count_text, 1, MAX_COUNT)) if count_text is not None else made


def _counted_out(endless: Recurrence, count: int) -> Recurrence:
    """The same recurrence, ended at its ``count``-th occurrence. Raises ScheduleError where that is too far away."""
    last = endless.start
    for number, occurrence in enumerate(endless.ascending(endless.start), start=1):
        last = occurrence
        if number == count:
            break
        if (occurrence - endless.start).days > MAX_DAYS_COUNTED * endless.interval:
            raise ScheduleError(
                "too-far", f"COUNT={count} reaches beyond the year {occurrence.year}", "write UNTIL=… instead"
            )
    return replace(endless, until=last)


def _split(text: str) -> dict[str, str]:
    """The parts of an RRULE by name. Raises ScheduleError for what RFC 5545 does not know."""
    known = ("FREQ", "INTERVAL", "WKST", "UNTIL", "COUNT", "BYDAY", *_NUMBERS)
    found: dict[str, str] = {}
    for part in text.strip().upper().split(";"):
        name, equals, value = part.partition("=")
        if not equals or not value:
            raise ScheduleError(
                "bad-rrule", f"{part or 'nothing'} is no part of an RRULE", "write NAME=VALUE;NAME=VALUE"
            )
        if name not in known:
            raise ScheduleError("bad-rrule", f"RFC 5545 knows no {name}", "parts are " + ", ".join(known))
        if name in found:
            raise ScheduleError("bad-rrule", f"{name} stands twice")
        found[name] = value
    return found


def _whole(name: str, text: str, least: int, most: int) -> int:
    if not re.fullmatch(r"\d{1,9}", text, re.ASCII) or not least <= int(text) <= most:
        raise ScheduleError("bad-rrule", f"{name} has to be a whole number from {least:,} to {most:,}")
    return int(text)


def _weekday(text: str) -> int:
    if text not in WEEKDAYS:
        raise ScheduleError("bad-rrule", f"{text} is no weekday", "weekdays are " + ", ".join(WEEKDAYS))
    return WEEKDAYS.index(text)


def _by_day(text: str, frequency: str, by_week_number: bool) -> tuple[tuple[int, int], ...]:
    found = []
    for one in text.split(","):
        match = _BY_DAY.match(one)
        if match is None:
            raise ScheduleError("bad-rrule", f"{one} is no weekday", "weekdays are " + ", ".join(WEEKDAYS))
        ordinal = int(match[1]) if match[1] else 0
        if match[1] and (not 1 <= abs(ordinal) <= 53):
            raise ScheduleError("bad-rrule", f"{one} counts from 1 to 53, or from -53 to -1")
        if ordinal and (frequency not in ("MONTHLY", "YEARLY") or by_week_number):
            raise ScheduleError("bad-rrule", f"{one} can be counted only in a month or a year", f"write {match[2]}")
        found.append((ordinal, WEEKDAYS.index(match[2])))
    return tuple(found)


def _numbers(name: str, text: str, frequency: str) -> tuple[int, ...]:
    least, most, from_end = _NUMBERS[name]
    if frequency in _NOT_WITH.get(name, ()):
        raise ScheduleError("bad-rrule", f"{name} cannot stand with FREQ={frequency}")
    found = []
    for one in text.split(","):
        size = one.lstrip("+-") if from_end else one
        if not re.fullmatch(r"\d{1,3}", size, re.ASCII) or not least <= int(size) <= most or len(one) > len(size) + 1:
            raise ScheduleError("bad-rrule", f"{name} takes numbers from {least} to {most}, not {one or 'nothing'}")
        found.append(-int(size) if one.startswith("-") else int(size))
    return tuple(sorted(set(found)))


def _until(text: str) -> datetime:
    match = _UNTIL.match(text)
    try:
        if match is None:
            raise ValueError
        return datetime(*(int(number or 0) for number in match.groups()))  # type: ignore[arg-type]
    except ValueError:
        raise ScheduleError(
            "bad-rrule", f"UNTIL={text} is no local date-time", "write UNTIL=20261231T235959, without a Z"
        ) from None
