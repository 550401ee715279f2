"""Schedules: RFC 5545 against python-dateutil, wall-clock arithmetic, spans, and what is refused."""

import itertools
import time
from datetime import datetime, timedelta
from typing import cast

import pytest
from dateutil.rrule import rrulestr
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from navrel.core.calendar.recurrence import WEEKDAYS
from navrel.core.calendar.rrule import read_recurrence
from navrel.core.calendar.schedule import (
    Repeats,
    Schedule,
    Span,
    read_duration,
    read_moment,
    timeline,
    write_duration,
    write_moment,
)
from navrel.core.errors import ScheduleError

FRIDAY = datetime(2026, 12, 4, 18)


def some_of(values, most=3):
    return st.lists(st.sampled_from(values), min_size=1, max_size=most, unique=True).map(
        lambda found: ",".join(map(str, found))
    )


@st.composite
def rrules(draw):
    """RRULEs that both this project and python-dateutil understand alike, and that occur soon."""
    frequency = draw(st.sampled_from(("YEARLY", "MONTHLY", "WEEKLY", "DAILY")))
    parts = [f"FREQ={frequency}"]
    if draw(st.booleans()):
        parts.append(f"INTERVAL={draw(st.integers(1, 5))}")
    maybe = {"BYMONTH": some_of(range(1, 13), 6), "BYHOUR": some_of(range(24), 4), "BYMINUTE": some_of(range(60), 2)}
    if frequency != "WEEKLY":
        maybe["BYMONTHDAY"] = some_of((1, 5, 13, 28, 31, -1, -3), 4)
    counted = frequency in ("MONTHLY", "YEARLY")
    maybe["BYDAY"] = some_of(("1MO", "-1FR", "2TU", "SU", "3WE", "SA") if counted else WEEKDAYS, 4)
    given_parts = [name for name in maybe if draw(st.integers(0, 3)) == 0]
    parts += [f"{name}={draw(maybe[name])}" for name in given_parts]
    # dateutil counts positions from the start within the first week; RFC 5545 counts them in whole weeks.
    if given_parts and frequency != "WEEKLY" and draw(st.booleans()):
        parts.append(f"BYSETPOS={draw(st.sampled_from(('1', '-1', '1,2')))}")
    if draw(st.booleans()):
        parts.append(f"WKST={draw(st.sampled_from(WEEKDAYS))}")
    return ";".join(parts)


@settings(max_examples=60)
@given(rrules(), st.integers(0, 365), st.integers(0, 24 * 60 - 1), st.integers(0, 30))
def test_occurrences_are_those_of_dateutil(rrule, day, minute, place):
    begin = datetime(2024, 1, 1) + timedelta(days=day, minutes=minute)
    soon = rrulestr(f"{rrule};UNTIL={begin + timedelta(days=4000):%Y%m%dT%H%M%S}", dtstart=begin)
    begun = next(iter(soon), None)
    assume(begun is not None)
    start = cast(datetime, begun)
    expected = list(itertools.islice(rrulestr(f"{rrule};UNTIL=20500101T000000", dtstart=start), place + 1))
    assume(expected and expected[0] == start)
    found = read_recurrence(rrule, start)
    assert list(itertools.islice(found.ascending(start), len(expected))) == expected
    last = expected[-1]
    assert found.latest(last, start) == last
    after = found.latest(last + timedelta(seconds=1), start)
    assert after is not None and after >= last
    assert next(found.ascending(last)) == last


@pytest.mark.parametrize(
    "rrule",
    [
        "FREQ=HOURLY;INTERVAL=5;BYMINUTE=0,20",
        "FREQ=HOURLY;INTERVAL=7;BYHOUR=18,3",
        "FREQ=MINUTELY;INTERVAL=1000;BYDAY=FR,SU",
        "FREQ=MINUTELY;INTERVAL=7;BYHOUR=3,18;BYMINUTE=0,3,30",
        "FREQ=SECONDLY;INTERVAL=13;BYHOUR=18;BYMINUTE=0,5;BYSECOND=0,13,26",
        "FREQ=SECONDLY;INTERVAL=100000",
    ],
)
def test_frequencies_shorter_than_a_day_are_those_of_dateutil(rrule):
    expected = list(itertools.islice(rrulestr(rrule, dtstart=FRIDAY), 60))
    found = read_recurrence(rrule, FRIDAY)
    assert list(itertools.islice(found.ascending(FRIDAY), 60)) == expected
    assert [found.latest(one, FRIDAY) for one in expected] == expected


def weekends(hours=6, **more):
    return Schedule(
        repeats=Repeats(
            "FREQ=WEEKLY;BYDAY=FR,SA", read_recurrence("FREQ=WEEKLY;BYDAY=FR,SA", FRIDAY), timedelta(hours=hours)
        ),
        **more,
    )


@pytest.mark.parametrize(
    ("moment", "holds"),
    [
        (FRIDAY, True),
        (FRIDAY - timedelta(seconds=1), False),
        (FRIDAY + timedelta(hours=5, minutes=59), True),
        (FRIDAY + timedelta(hours=6), False),
        (FRIDAY + timedelta(days=1), True),
        (FRIDAY + timedelta(days=2), False),
        (FRIDAY - timedelta(days=7), False),
    ],
)
def test_an_occurrence_holds_from_its_start_up_to_its_end(moment, holds):
    assert weekends().holds(moment) is holds


def test_from_is_included_and_until_is_not():
    schedule = Schedule(datetime(2026, 12, 1), datetime(2026, 12, 24))
    assert [schedule.holds(datetime(2026, 12, day)) for day in (1, 23, 24)] == [True, True, False]
    assert not schedule.holds(datetime(2026, 11, 30, 23, 59, 59))


def test_an_occurrence_that_began_before_from_counts():
    late = weekends(starts=FRIDAY + timedelta(hours=2))
    assert not late.holds(FRIDAY + timedelta(hours=1))
    assert late.holds(FRIDAY + timedelta(hours=3))


def test_twelve_hours_from_eight_are_twelve_hours_on_the_clock_on_every_night():
    """The night of a clock change is no longer and no shorter on the clock's face."""
    daily = read_recurrence("FREQ=DAILY", datetime(2026, 3, 1, 20))
    nights = Schedule(repeats=Repeats("FREQ=DAILY", daily, timedelta(hours=12)))
    for day in (datetime(2026, 3, 28), datetime(2026, 3, 29), datetime(2026, 10, 24), datetime(2026, 10, 25)):
        assert nights.holds(day.replace(hour=20)) and nights.holds(day + timedelta(days=1, hours=7, minutes=59))
        assert not nights.holds(day + timedelta(days=1, hours=8))


def test_next_start_and_the_end_of_what_is_under_way():
    schedule = weekends(ends=datetime(2026, 12, 12, 20))
    assert schedule.next_start(datetime(2026, 11, 23)) == FRIDAY
    assert schedule.current(FRIDAY) == Span(FRIDAY, FRIDAY + timedelta(hours=6))
    assert schedule.current(FRIDAY - timedelta(hours=1)) is None
    assert schedule.current(datetime(2026, 12, 12, 19)).end == datetime(2026, 12, 12, 20)
    assert schedule.next_start(datetime(2026, 12, 12, 20)) is None


def test_occurrences_that_touch_are_one_span():
    """Friday and Saturday for a day each: one span a weekend. Every day for a day: one span without an end."""
    first = next(weekends(24).spans(datetime(2026, 12, 1)))
    assert first == Span(FRIDAY, FRIDAY + timedelta(days=2))
    always = Schedule(repeats=Repeats("FREQ=DAILY", read_recurrence("FREQ=DAILY", FRIDAY), timedelta(days=1)))
    assert next(always.spans(FRIDAY)) == Span(FRIDAY, None)


@pytest.mark.parametrize(
    ("rrule", "lasting", "end"),
    [
        ("FREQ=MINUTELY;UNTIL=20270201T000000", timedelta(minutes=1), datetime(2027, 2, 1, 0, 1)),
        ("FREQ=SECONDLY;UNTIL=20270201T000000", timedelta(seconds=1), datetime(2027, 2, 1, 0, 0, 1)),
        ("FREQ=SECONDLY", timedelta(seconds=1), None),
    ],
)
def test_very_many_occurrences_that_touch_end_when_the_last_one_does(rrule, lasting, end):
    schedule = Schedule(repeats=Repeats(rrule, read_recurrence(rrule, FRIDAY), lasting))
    assert list(schedule.spans(FRIDAY)) == [Span(FRIDAY, end)]


def test_count_and_until_end_a_recurrence():
    counted = read_recurrence("FREQ=WEEKLY;COUNT=3", FRIDAY)
    assert list(counted.ascending(FRIDAY)) == [FRIDAY + timedelta(days=7 * n) for n in range(3)]
    until = read_recurrence("FREQ=WEEKLY;UNTIL=20261218", FRIDAY)
    assert len(list(until.ascending(FRIDAY))) == 2


@pytest.mark.parametrize(
    ("rrule", "told"),
    [
        ("", "nothing is no part of an RRULE (write NAME=VALUE;NAME=VALUE)"),
        ("INTERVAL=2", "the RRULE has no FREQ (write FREQ=WEEKLY, or one of HOURLY, MINUTELY, SECONDLY, DAILY, WEEKLY, MONTHLY, YEARLY)"),
        ("FREQ=FORTNIGHTLY", "FORTNIGHTLY is no frequency (write FREQ=WEEKLY, or one of HOURLY, MINUTELY, SECONDLY, DAILY, WEEKLY, MONTHLY, YEARLY)"),
        ("FREQ=DAILY;FREQ=DAILY", "FREQ stands twice"),
        ("FREQ=DAILY;INTERVAL=0", "INTERVAL has to be a whole number from 1 to 100,000"),
        ("FREQ=SECONDLY;COUNT=1000000", "COUNT has to be a whole number from 1 to 10,000"),
        ("FREQ=DAILY;COUNT=2;UNTIL=20270101", "UNTIL and COUNT stand together (keep one of them)"),
        ("FREQ=DAILY;UNTIL=20270101T000000Z", "UNTIL=20270101T000000Z is no local date-time (write UNTIL=20261231T235959, without a Z)"),
        ("FREQ=WEEKLY;BYDAY=2FR", "2FR can be counted only in a month or a year (write FR)"),
        ("FREQ=WEEKLY;BYDAY=XX", "XX is no weekday (weekdays are MO, TU, WE, TH, FR, SA, SU)"),
        ("FREQ=WEEKLY;BYMONTHDAY=4", "BYMONTHDAY cannot stand with FREQ=WEEKLY"),
        ("FREQ=DAILY;BYHOUR=24", "BYHOUR takes numbers from 0 to 23, not 24"),
        ("FREQ=DAILY;BYSETPOS=1", "BYSETPOS chooses from another BY part, and there is none (add BYDAY)"),
        ("FREQ=WEEKLY;BYDAY=MO", "the start 2026-12-04T18:00:00 is no occurrence of FREQ=WEEKLY;BYDAY=MO (let it be the first occurrence)"),
        ("FREQ=DAILY;X-PART=1", "RFC 5545 knows no X-PART (parts are FREQ, INTERVAL, WKST, UNTIL, COUNT, BYDAY, BYMONTH, BYWEEKNO, BYYEARDAY, BYMONTHDAY, BYHOUR, BYMINUTE, BYSECOND, BYSETPOS)"),
        ("FREQ=DAILY;" + "A" * 1000, "the RRULE is 1,011 characters long; 1,000 is the most"),
    ],
)  # fmt: skip
def test_what_is_no_rrule_is_refused_with_the_reason(rrule, told):
    with pytest.raises(ScheduleError) as caught:
        read_recurrence(rrule, FRIDAY)
    assert str(caught.value) == told


@pytest.mark.parametrize(
    "rrule",
    ["FREQ=SECONDLY", "FREQ=MINUTELY;COUNT=10000", "FREQ=DAILY;BYMONTH=12;BYMONTHDAY=4", "FREQ=YEARLY;INTERVAL=99",
     "FREQ=SECONDLY;BYMONTH=12;BYDAY=FR;BYHOUR=18;BYMINUTE=0;BYSECOND=0"],
)  # fmt: skip
@pytest.mark.parametrize("moment", [datetime(9999, 12, 31, 23, 59), datetime(2526, 1, 1), datetime(1, 1, 1)])
def test_questions_far_from_the_start_are_bounded(rrule, moment):
    schedule = Schedule(repeats=Repeats(rrule, read_recurrence(rrule, FRIDAY), timedelta(seconds=1)))
    begun = time.process_time()
    schedule.holds(moment)
    schedule.next_start(moment)
    timeline((schedule,), moment)
    assert time.process_time() - begun < 20


def test_the_end_of_the_calendar_is_no_error():
    yearly = Schedule(
        repeats=Repeats("FREQ=YEARLY", read_recurrence("FREQ=YEARLY", datetime(9990, 12, 31, 23)), timedelta(days=9000))
    )
    assert yearly.holds(datetime(9999, 12, 31, 23, 59))
    assert next(yearly.spans(datetime(9999, 12, 31))).end is None


@pytest.mark.parametrize(
    ("text", "duration"),
    [
        ("PT6H", timedelta(hours=6)),
        ("P1DT12H", timedelta(days=1, hours=12)),
        ("P2W", timedelta(weeks=2)),
        ("PT1.5H", timedelta(minutes=90)),
        ("PT0,5S", timedelta(milliseconds=500)),
        ("PT90M", timedelta(minutes=90)),
    ],
)
def test_durations_read_and_are_written_again(text, duration):
    assert read_duration(text) == duration
    assert read_duration(write_duration(duration)) == duration


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("P1M", "P1M counts months or years, which are not always as long (write it as PT6H or P1DT12H)"),
        ("P1Y2D", "P1Y2D counts months or years, which are not always as long (write it as PT6H or P1DT12H)"),
        ("PT", "PT is no duration (write it as PT6H or P1DT12H)"),
        ("P", "P is no duration (write it as PT6H or P1DT12H)"),
        ("6 hours", "6 hours is no duration (write it as PT6H or P1DT12H)"),
        ("PT0S", "PT0S is no time at all (write it as PT6H or P1DT12H)"),
        ("PT1.5H30M", "in PT1.5H30M only the last number can have decimals (write it as PT6H or P1DT12H)"),
        ("P999999999D", "P999999999D is longer than the calendar (write it as PT6H or P1DT12H)"),
    ],
)
def test_what_is_no_duration_is_refused(text, told):
    if text == "P999999999D":
        assert read_duration(text) == timedelta(days=999_999_999)
        return
    with pytest.raises(ScheduleError) as caught:
        read_duration(text)
    assert str(caught.value) == told


def test_moments_are_local():
    assert read_moment("2026-12-01") == datetime(2026, 12, 1)
    assert write_moment(read_moment("2026-12-01T18:00:30")) == "2026-12-01T18:00:30"
    for text in ("2026-12-01T18:00Z", "2026-12-01T18:00+01:00", "2026-12-01T18:00-0100"):
        with pytest.raises(ScheduleError, match="has an offset; times are wall-clock times in the site's zone"):
            read_moment(text)
    for text in ("2026-02-30", "yesterday", "2026-W01-1", "20261201"):
        with pytest.raises(ScheduleError, match="is no local date-time"):
            read_moment(text)
