"""Nothing changes before the moment that is told, also where clocks are put forward and back."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.calendar.schedule import Schedule
from navrel.core.calendar.zones import HORIZON, unchanged_until
from navrel.core.lenses.relevance import Relevance

OSLO = ZoneInfo("Europe/Oslo")
#: Around the hours at which clocks there are put back and forward.
BACK, FORWARD = datetime(2026, 10, 25, 1, tzinfo=UTC), datetime(2026, 3, 29, 1, tzinfo=UTC)
_around = st.tuples(st.sampled_from((BACK, FORWARD)), st.integers(-300, 300)).map(
    lambda at: at[0] + timedelta(minutes=at[1])
)


@given(_around, _around, _around, st.integers(0, 26 * 60))
def test_what_is_in_force_stays_so_until_then(now, starts, ends, minutes):
    face = lambda moment: moment.astimezone(OSLO).replace(tzinfo=None)  # noqa: E731
    schedule = Schedule(face(starts), max(face(starts) + timedelta(minutes=1), face(ends)))
    relevance = Relevance(schedules=(schedule,))
    until = unchanged_until(now.astimezone(OSLO), relevance.until(face(now)))
    then = now + timedelta(minutes=minutes)
    assert now <= until <= now + HORIZON
    if then < until:
        assert relevance.at(face(then)) == relevance.at(face(now))


@pytest.mark.parametrize(
    ("now", "shown", "until"),
    [
        (datetime(2026, 6, 1, 10), datetime(2026, 6, 1, 12), datetime(2026, 6, 1, 12)),
        (datetime(2026, 6, 1, 10), None, datetime(2026, 6, 2, 10)),
        (datetime(2026, 6, 1, 10), datetime(2026, 6, 9), datetime(2026, 6, 2, 10)),
    ],
)
def test_on_common_days_it_is_when_the_clock_shows_it(now, shown, until):
    assert unchanged_until(now.replace(tzinfo=OSLO), shown) == until.replace(tzinfo=OSLO)


def test_a_clock_that_is_put_back_is_a_change():
    found = unchanged_until(datetime(2026, 10, 24, 20, tzinfo=OSLO), None)
    assert timedelta(0) <= BACK - found < timedelta(seconds=1)
