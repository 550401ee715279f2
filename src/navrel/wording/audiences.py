"""Who and when, in words for people: visitor queries, schedules and spans of time.

The one place that words them, for the interface and the command line alike.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timedelta

from navrel.core.calendar.recurrence import WEEKDAYS, Recurrence
from navrel.core.calendar.schedule import Repeats, Schedule, Span
from navrel.core.language.query import Clause, Query, Term
from navrel.core.language.visitor import Visitor
from navrel.core.layout.condition import Audience
from navrel.core.lenses.space import Sighting

#: Spans that are told one by one; more are told as a number.
MOST_SPANS = 3

_DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip
_DAY_SETS = {(0, 1, 2, 3, 4): ("weekdays", "weeknights"), (5, 6): ("weekends", "weekend nights")}
_ORDINALS = {1: "first", 2: "second", 3: "third", 4: "fourth", 5: "fifth", -1: "last", -2: "last but one"}
_DEVICES = {"phone": "a phone", "tablet": "a tablet", "desktop": "a desktop"}
_BROWSERS = {"chrome": "Chrome", "edge": "Edge", "firefox": "Firefox", "safari": "Safari", "other": "another browser"}


def who(query: Query) -> str:
    """The visitors that a query lets in: `signed-out visitors`, `Firefox visitors on a phone`, `everyone`."""
    if not query:
        return "everyone"
    return ", or ".join(_visitors(clause) for clause in query.clauses)


def _visitors(clause: Clause) -> str:
    before: list[str] = []
    after: list[str] = []
    for term in clause.terms:
        found = _described(term)
        (before if found.endswith(" ") else after).append(found)
    return " ".join([*(word.strip() for word in before), "visitors", *after])


def _described(term: Term) -> str:
    """A term as words; those that stand before `visitors` end with a space."""
    values = [value.text for value in term.values]
    listed = " or ".join(values)
    against = term.negated
    match term.fact:
        case "all":
            return "of no kind" if against else "of any kind"
        case "signed":
            signed = (values[0] == "in") != against
            return "signed-in " if signed else "signed-out "
        case "role":
            return f"{'without' if against else 'with'} the role {listed}"
        case "device":
            return ("not " if against else "") + "on " + " or ".join(_DEVICES[text] for text in values)
        case "browser":
            names = " or ".join(_BROWSERS[text] for text in values)
            plain = not against and len(values) == 1 and values != ["other"]
            return f"{names} " if plain else f"{'not ' if against else ''}using {names}"
        case "accepts":
            language = "any language" if values == ["*"] else listed
            return f"who {'do not ' if against else ''}read {language}"
        case "referrer":
            return f"{'not ' if against else ''}coming from {listed}"
    given = " or ".join(f"{term.key}={text}" for text in values if text != "*") or term.key
    return f"{'without' if against else 'with'} {given} in the address"


def audience_words(audience: Audience, since: datetime) -> str:
    """For whom and when a condition holds: `members, but not crew, until 8 March`; `everyone`."""
    told = who(audience.include)
    if audience.exclude:
        told += f", but not {who(audience.exclude)}"
    return f"{told}, {scheduled(audience.schedule, since)}" if audience.schedule else told


def visitor_words(visitor: Visitor, language: str) -> list[str]:
    """One visitor in words, the most telling first: who, on what; then what is not usual."""
    signed = "Signed-out visitor"
    if visitor.signed == "in":
        signed = f"Signed-in {' and '.join(sorted(visitor.roles))}" if visitor.roles else "Signed-in visitor"
    told = [signed, visitor.device.capitalize()]
    if visitor.browser != "other":
        told.append(_BROWSERS[visitor.browser])
    if visitor.accepts != (language,):
        told.append(f"reads {', '.join(visitor.accepts)}")
    told += [f"{name}={value}" for name, value in sorted(visitor.query.items())]
    return [*told, f"from {visitor.referrer}"] if visitor.referrer else told


def when(seen: Sighting, since: datetime) -> str:
    """The times of a sighting from ``since`` on: `always`, `weeknights from 22:00 to 10:00`."""
    if seen.schedule is not None and seen.schedule.repeats is not None:
        told = scheduled(seen.schedule, since)
        return f"at all times but {told}" if seen.outside else told
    return _spans(seen.spans, since, seen.repeats_after)


def scheduled(schedule: Schedule, since: datetime) -> str:
    """When a schedule is in force, from ``since`` on."""
    repeats = _repeats(schedule.repeats) if schedule.repeats else ""
    last = schedule.repeats.recurrence.until if schedule.repeats else None
    ends = min((end for end in (schedule.ends, last) if end is not None), default=None)
    starts = max(
        (
            edge
            for edge in (schedule.starts, schedule.repeats and _first_of(schedule.repeats.recurrence, since))
            if edge
        ),
        default=None,
    )
    edges = _edges(Span(starts if starts and starts > since else None, ends))
    return ", ".join(part for part in (repeats, edges) if part) or "always"


def _first_of(recurrence: Recurrence, since: datetime) -> datetime | None:
    """The first occurrence, where there would be others before it, from ``since`` on, had it begun earlier."""
    if recurrence.start <= since:
        return None
    try:
        earlier = replace(recurrence, start=recurrence.start - timedelta(days=recurrence.period_days))
    except OverflowError:
        return recurrence.start
    return None if next(earlier.ascending(since), None) == recurrence.start else recurrence.start


def _repeats(repeats: Repeats) -> str:
    days = _repeated_days(repeats.recurrence, _crosses_midnight(repeats))
    if days is None:
        return f"times that repeat by {repeats.rrule}, each {_lasting(repeats.duration)}"
    clock = _clock(repeats)
    return f"{days} {clock}".strip()


def _crosses_midnight(repeats: Repeats) -> bool:
    start = repeats.recurrence.start
    last = start + repeats.duration - timedelta(microseconds=1)
    return repeats.duration < timedelta(days=1) and last.date() > start.date()


def _clock(repeats: Repeats) -> str:
    start, duration = repeats.recurrence.start, repeats.duration
    midnight = (start.hour, start.minute, start.second) == (0, 0, 0)
    if duration == timedelta(days=1) and midnight:
        return ""
    if duration < timedelta(days=1):
        end = start + duration
        return f"from {start:%H:%M} to {'midnight' if end == end.replace(hour=0, minute=0) else format(end, '%H:%M')}"
    return f"from {start:%H:%M} for {_lasting(duration)}"


def _lasting(duration: timedelta) -> str:
    hours, rest = divmod(int(duration.total_seconds()), 3600)
    days, hours = divmod(hours, 24)
    minutes, seconds = divmod(rest, 60)
    parts = ((days, "day"), (hours, "hour"), (minutes, "minute"), (seconds, "second"))
    return " and ".join(f"{count} {name}{'' if count == 1 else 's'}" for count, name in parts if count)


def _repeated_days(recurrence: Recurrence, nights: bool) -> str | None:
    """The days of a recurrence; None for one that has no simple name."""
    numbers = dict(recurrence.numbers)
    if recurrence.interval > 2:
        return None
    other = "other " if recurrence.interval == 2 else ""
    days = tuple(sorted({day for ordinal, day in recurrence.weekdays if not ordinal}))
    match recurrence.frequency:
        case "DAILY" if not numbers and not recurrence.weekdays:
            return f"every {other}{'night' if nights else 'day'}"
        case "DAILY" | "WEEKLY" if not numbers and days and not (other and recurrence.frequency == "DAILY"):
            return ("every other week on " if other else "") + _named_days(days, nights)
        case "MONTHLY" if set(numbers) == {"BYMONTHDAY"} and not recurrence.weekdays:
            return f"on the {_ordered(numbers['BYMONTHDAY'])} of every {other}month"
        case "MONTHLY" if not numbers and len(recurrence.weekdays) == 1 and recurrence.weekdays[0][0] in _ORDINALS:
            ordinal, day = recurrence.weekdays[0]
            return f"on the {_ORDINALS[ordinal]} {_DAYS[day]} of every {other}month"
        case "YEARLY" if set(numbers) == {"BYMONTH", "BYMONTHDAY"} and not recurrence.weekdays:
            if len(numbers["BYMONTH"]) == 1 and len(numbers["BYMONTHDAY"]) == 1 and numbers["BYMONTHDAY"][0] > 0:
                return f"every {other}year on {numbers['BYMONTHDAY'][0]} {_MONTHS[numbers['BYMONTH'][0] - 1]}"
    return None


def _named_days(days: Sequence[int], nights: bool) -> str:
    if len(days) == len(WEEKDAYS):
        return "every night" if nights else "every day"
    if tuple(days) in _DAY_SETS:
        return _DAY_SETS[tuple(days)][nights]
    return _listed([f"{_DAYS[day]} nights" if nights else f"{_DAYS[day]}s" for day in days])


def _ordered(days: Sequence[int]) -> str:
    return _listed(
        [_ordinal(day) if day > 0 else ("last day" if day == -1 else f"{_ordinal(-day)} last") for day in days]
    )


def _ordinal(number: int) -> str:
    ending = "th" if number % 100 in (11, 12, 13) else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{ending}"


def _listed(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def _spans(spans: tuple[Span, ...], since: datetime, repeats_after: datetime | None) -> str:
    told = [_edges(Span(span.start if span.start and span.start > since else None, span.end)) for span in spans]
    if not told or told == [""]:
        return "always"
    shown = "; ".join(one or "always" for one in told[:MOST_SPANS])
    more = f"; and {len(told) - MOST_SPANS:,} more times" if len(told) > MOST_SPANS else ""
    goes_on = "; then on and on in the same way" if repeats_after else ""
    return shown + more + goes_on


def _edges(span: Span) -> str:
    start = f"from {moment(span.start)}" if span.start else ""
    end = f"until {moment(span.end)}" if span.end else ""
    return f"{start} {end}".strip() or ""


def moment(at: datetime) -> str:
    """A moment: `1 December 2026`, with the clock where it is not midnight."""
    clock = "" if (at.hour, at.minute, at.second) == (0, 0, 0) else f", {at:%H:%M}"
    return f"{at.day} {_MONTHS[at.month - 1]} {at.year}{clock}"


def seen_by(seen: Sequence[Sighting], since: datetime) -> str:
    """Who sees something and when, in one phrase: `signed-out visitors`, `everyone, weeknights from 22:00 to 10:00`."""
    told = []
    for one in seen:
        time = when(one, since)
        told.append(who(one.visitors) if time == "always" else f"{who(one.visitors)}, {time}")
    return "; ".join(told)
