"""Schedules have a budget: what would take long is refused when it is read, and the rest answers at once."""

import time
from datetime import datetime

import pytest

from navrel.core.calendar.rrule import read_recurrence
from navrel.core.calendar.schedule import Repeats, Schedule, read_duration
from navrel.core.errors import ScheduleError

HOURS, MINUTES = ",".join(map(str, range(24))), ",".join(map(str, range(60)))
NOW = datetime(2026, 12, 4, 18, 30)

#: RRULEs with their starts, and the code of the refusal; None for those that are taken.
CASES = [
    ("FREQ=YEARLY;BYWEEKNO=53;BYDAY=MO;COUNT=10000", "2020-12-28T00:00", "too-far"),
    (f"FREQ=YEARLY;BYDAY=MO;BYHOUR={HOURS};BYMINUTE={MINUTES};BYSECOND={MINUTES}", "2026-01-05T00:00", "too-often"),
    (
        f"FREQ=MONTHLY;BYMONTHDAY=1,2;BYHOUR={HOURS};BYMINUTE={MINUTES};BYSECOND={MINUTES}",
        "2026-01-01T00:00",
        "too-often",
    ),
    (f"FREQ=WEEKLY;BYDAY=MO,TU;BYHOUR={HOURS};BYMINUTE={MINUTES};BYSECOND={MINUTES}", "2026-01-05T00:00", "too-often"),
    ("FREQ=YEARLY;COUNT=400", "2020-01-01T00:00", "too-far"),
    ("FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=29;COUNT=100", "2020-02-29T00:00", "too-far"),
    ("FREQ=DAILY;COUNT=10001", "2026-01-01T00:00", "bad-rrule"),
    ("FREQ=DAILY;INTERVAL=100001", "2026-01-01T00:00", "bad-rrule"),
    ("FREQ=DAILY;BYHOUR=24", "2026-01-01T00:00", "bad-rrule"),
    ("FREQ=DAILY;" + "X" * 1000, "2026-01-01T00:00", "too-long"),
    ("FREQ=DAILY;COUNT=²", "2026-01-01T00:00", "bad-rrule"),
    ("FREQ=DAILY;COUNT=" + "9" * 500, "2026-01-01T00:00", "bad-rrule"),
    ("FREQ=SECONDLY", "2020-01-01T00:00", None),
    ("FREQ=SECONDLY;BYMONTH=2;BYMONTHDAY=29;BYDAY=MO", "2044-02-29T00:00", None),
    ("FREQ=MINUTELY;COUNT=10000", "2026-12-01T00:00", None),
    ("FREQ=HOURLY;BYMONTHDAY=" + ",".join(map(str, range(1, 32))), "2020-01-01T00:00", None),
    ("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29;BYDAY=MO", "2016-02-29T00:00", None),
    ("FREQ=YEARLY;INTERVAL=1000", "2020-01-01T00:00", None),
    ("FREQ=DAILY;BYMONTH=2;BYMONTHDAY=29;INTERVAL=7", "2024-02-29T00:00", None),
    ("FREQ=WEEKLY;COUNT=10000", "2026-01-01T00:00", None),
    (f"FREQ=DAILY;BYHOUR={HOURS};BYMINUTE={MINUTES};BYSECOND={MINUTES}", "2026-01-05T00:00", None),
    (f"FREQ=YEARLY;BYMONTH=12;BYMONTHDAY=24;BYHOUR={HOURS};BYMINUTE={MINUTES}", "2026-12-24T00:00", None),
    ("FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1", "2026-01-30T00:00", None),
]


@pytest.mark.parametrize(("rrule", "start", "code"), CASES, ids=lambda value: str(value)[:60])
@pytest.mark.parametrize("duration", ["PT1S", "P3650D"])
def test_a_schedule_is_refused_or_answers_at_once(rrule, start, code, duration):
    # Ten times what the slowest of them takes on a slow machine, and a hundredth of what it once took.
    begun = time.process_time()
    try:
        recurrence = read_recurrence(rrule, datetime.fromisoformat(start))
    except ScheduleError as error:
        assert error.code == code
        assert time.process_time() - begun < 2
        return
    assert code is None
    schedule = Schedule(repeats=Repeats(rrule, recurrence, read_duration(duration)))
    begun = time.process_time()
    schedule.holds(NOW)
    assert time.process_time() - begun < 0.2
