"""Who and when, in words."""

from datetime import datetime

import pytest

from navrel.core.calendar.rrule import read_recurrence
from navrel.core.calendar.schedule import Repeats, Schedule, Span, read_duration
from navrel.core.language.query import Query, parse_query
from navrel.core.layout.condition import Audience
from navrel.core.lenses.space import LensSpace, Sighting
from navrel.wording.audiences import scheduled, seen_by, when, who

SINCE = datetime(2026, 11, 23, 12)


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("", "everyone"),
        ("signed:out", "signed-out visitors"),
        ("-signed:out", "signed-in visitors"),
        ("browser:firefox", "Firefox visitors"),
        ("signed:in browser:safari device:phone", "signed-in Safari visitors on a phone"),
        ("-browser:firefox", "visitors not using Firefox"),
        ("browser:firefox,edge", "visitors using Firefox or Edge"),
        ("browser:other", "visitors using another browser"),
        ("role:crew", "visitors with the role crew"),
        ("-role:crew,passholder", "visitors without the role crew or passholder"),
        ("-device:desktop", "visitors not on a desktop"),
        ("accepts:nb", "visitors who read nb"),
        ("accepts:*", "visitors who read any language"),
        ("referrer:ferries.example", "visitors coming from ferries.example"),
        ("query.campaign:spring", "visitors with campaign=spring in the address"),
        ("-query.campaign:*", "visitors without campaign in the address"),
        ("role:crew | signed:out", "visitors with the role crew, or signed-out visitors"),
        ("all", "visitors of any kind"),
    ],
)
def test_visitors_in_words(query, words):
    assert who(parse_query(query, "visitor")) == words


def repeating(rrule, start, duration, **edges):
    begin = datetime.fromisoformat(start)
    return Schedule(**edges, repeats=Repeats(rrule, read_recurrence(rrule, begin), read_duration(duration)))


@pytest.mark.parametrize(
    ("rrule", "start", "duration", "words"),
    [
        ("FREQ=DAILY", "2026-01-01T09:00", "PT8H", "every day from 09:00 to 17:00"),
        ("FREQ=DAILY", "2026-01-01T22:00", "PT12H", "every night from 22:00 to 10:00"),
        ("FREQ=DAILY;INTERVAL=2", "2026-01-01T00:00", "P1D", "every other day"),
        ("FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR", "2026-11-23T22:00", "PT12H", "weeknights from 22:00 to 10:00"),
        ("FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR", "2026-11-23T09:00", "PT8H", "weekdays from 09:00 to 17:00"),
        ("FREQ=WEEKLY;BYDAY=SA,SU", "2026-11-21T00:00", "P1D", "weekends"),
        ("FREQ=WEEKLY;BYDAY=TH", "2026-11-19T00:00", "P1D", "Thursdays"),
        ("FREQ=WEEKLY;BYDAY=FR,SA", "2026-11-20T18:00", "PT8H", "Friday nights and Saturday nights from 18:00 to 02:00"),
        ("FREQ=WEEKLY;INTERVAL=2;BYDAY=MO", "2026-11-23T18:00", "PT1H", "every other week on Mondays from 18:00 to 19:00"),
        ("FREQ=DAILY;BYDAY=MO,TU,WE,TH,FR,SA,SU", "2026-11-23T18:00", "PT1H", "every day from 18:00 to 19:00"),
        ("FREQ=MONTHLY;BYMONTHDAY=1,-1", "2026-01-01T00:00", "P1D", "on the last day and 1st of every month"),
        ("FREQ=MONTHLY;BYDAY=-1FR", "2026-01-30T18:00", "P2DT6H", "on the last Friday of every month from 18:00 for 2 days and 6 hours"),
        ("FREQ=YEARLY;BYMONTH=12;BYMONTHDAY=24", "2025-12-24T00:00", "P1D", "every year on 24 December"),
        ("FREQ=HOURLY", "2026-01-01T00:00", "PT1M", "times that repeat by FREQ=HOURLY, each 1 minute"),
        ("FREQ=DAILY;UNTIL=20271231T000000", "2026-01-01T09:00", "PT1H", "every day from 09:00 to 10:00, until 31 December 2027"),
    ],
)  # fmt: skip
def test_schedules_in_words(rrule, start, duration, words):
    assert scheduled(repeating(rrule, start, duration), SINCE) == words


def test_edges_are_told_where_they_lie_ahead():
    one = repeating("FREQ=DAILY", "2026-12-01T09:00", "PT1H", ends=datetime(2027, 1, 1, 18))
    assert (
        scheduled(one, SINCE)
        == "every day from 09:00 to 10:00, from 1 December 2026, 09:00 until 1 January 2027, 18:00"
    )


def test_times_without_a_schedule_of_their_own_are_told_one_by_one():
    spans = tuple(Span(datetime(2026, 12, day), datetime(2026, 12, day, 6)) for day in range(1, 6))
    told = when(Sighting(Query(), spans, datetime(2027, 1, 1)), SINCE)
    assert told == (
        "from 1 December 2026 until 1 December 2026, 06:00; from 2 December 2026 until 2 December 2026, 06:00; "
        "from 3 December 2026 until 3 December 2026, 06:00; and 2 more times; then on and on in the same way"
    )
    assert when(Sighting(Query(), (Span(SINCE, None),)), SINCE) == "always"


def test_the_rest_of_the_time_is_told_by_what_it_leaves_out():
    night = repeating("FREQ=DAILY", "2026-01-01T22:00", "PT8H")
    space = LensSpace([Audience(schedule=night)], SINCE)
    told = sorted(seen_by(space.sightings(cells), SINCE) for cells in space.cells.values())
    assert told == [
        "everyone, at all times but every night from 22:00 to 06:00",
        "everyone, every night from 22:00 to 06:00",
    ]
