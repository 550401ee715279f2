"""Processes of one machine take turns, by locks of the database."""

import threading
from contextlib import ExitStack

import psycopg
import pytest
from django.db import connection

from navrel.server.publishing import holding

pytestmark = pytest.mark.django_db


@pytest.fixture
def processes():
    """Cursors as processes have them, each of a connection of its own."""
    known = connection.get_connection_params()
    told = {name: known[name] for name in ("dbname", "user", "password", "host", "port")}
    with ExitStack() as stack:
        yield [stack.enter_context(psycopg.connect(**told, autocommit=True)).cursor() for _ in range(2)]


def test_whoever_is_not_in_turn_waits_until_the_other_is_done(processes):
    one, other = processes
    done = []

    def wait():
        with holding.in_turn(other):
            done.append("other")

    with holding.in_turn(one):
        waiting = threading.Thread(target=wait)
        waiting.start()
        # It looks again and again, and does not come to its turn.
        waiting.join(5 * holding._EVERY)
        assert waiting.is_alive()
        done.append("one")
    waiting.join(30)
    assert done == ["one", "other"]
    with holding.in_turn(one):
        done.append("one again")
    assert done[-1] == "one again"


def test_for_one_that_hangs_nobody_waits_for_ever(processes, monkeypatch):
    one, other = processes
    monkeypatch.setattr(holding, "_PATIENCE", 0.0)
    with holding.in_turn(one):
        with holding.in_turn(other):
            pass
        # What is the one's stays so, whatever comes of it.
        with pytest.raises(LookupError), holding.in_turn(other):
            raise LookupError
        assert not holding._take_turn(other)
    assert holding._take_turn(other)
