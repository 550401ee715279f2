"""Which revision each process of the published site holds, and whose turn it is: locks that end with the process.

Whoever is told of a publication asks at once for what is new; so nobody is told while a process still serves what was
there before. Processes of one machine make ready what is new one after the other: meanwhile the others answer.
"""

from __future__ import annotations

import socket
import time
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import connection
from django.db.backends.utils import CursorWrapper
from psycopg import Cursor

#: The first of the two numbers of these locks (PostgreSQL: advisory locks), the second is the key of a revision.
_PURPOSE = 0x4E61
#: The lock by which processes take turns: the second number tells their machine.
_TURN = [0x4E62, zlib.crc32(socket.gethostname().encode()) & 0x7FFFFFFF]
#: So often it is looked whose turn it is, in seconds, and no longer than so many.
_EVERY, _PATIENCE = 0.02, 60.0


def hold(cursor: CursorWrapper | Cursor[Any], revisions: set[int], before: set[int]) -> None:
    """Say that these revisions are served from here on, and those of before no more."""
    for revision in revisions - before:
        cursor.execute("SELECT pg_advisory_lock_shared(%s, %s)", [_PURPOSE, revision])
    for revision in before - revisions:
        cursor.execute("SELECT pg_advisory_unlock_shared(%s, %s)", [_PURPOSE, revision])


@contextmanager
def in_turn(cursor: CursorWrapper | Cursor[Any]) -> Iterator[None]:
    """Wait until no other process of this machine is in its turn; but not for ever: one of them may hang."""
    until = time.monotonic() + _PATIENCE
    while not (is_own := _take_turn(cursor)) and time.monotonic() < until:
        time.sleep(_EVERY)
    try:
        yield
    finally:
        if is_own:
            cursor.execute("SELECT pg_advisory_unlock(%s, %s)", _TURN)


def _take_turn(cursor: CursorWrapper | Cursor[Any]) -> bool:
    """Whether it is the turn of this process from here on."""
    cursor.execute("SELECT pg_try_advisory_lock(%s, %s)", _TURN)
    row = cursor.fetchone()
    return row is not None and bool(row[0])


def served_by_all(site: int, revision: int) -> bool:
    """Whether no process serves an older revision of a site any more."""
    with connection.cursor() as cursor:
        cursor.execute(_HELD, [_PURPOSE, site, revision])
        return cursor.fetchone() is None


_HELD = """
SELECT 1 FROM pg_locks held JOIN publishing_revision older ON older.id = held.objid::bigint
WHERE held.locktype = 'advisory' AND held.objsubid = 2 AND held.classid::bigint = %s
    AND held.database = (SELECT oid FROM pg_database WHERE datname = current_database())
    AND older.site_id = %s AND older.id < %s
LIMIT 1
"""
