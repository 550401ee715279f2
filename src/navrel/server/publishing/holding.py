"""Which revision each process of the published site holds: as locks of the database that end with the process.

Whoever is told of a publication asks at once for what is new; so nobody is told while a process still serves what was
there before.
"""

from __future__ import annotations

from typing import Any

from django.db import connection
from django.db.backends.utils import CursorWrapper
from psycopg import Cursor

#: The first of the two numbers of these locks (PostgreSQL: advisory locks), the second is the key of a revision.
_PURPOSE = 0x4E61


def hold(cursor: CursorWrapper | Cursor[Any], revisions: set[int], before: set[int]) -> None:
    """Say that these revisions are served from here on, and those of before no more."""
    for revision in revisions - before:
        cursor.execute("SELECT pg_advisory_lock_shared(%s, %s)", [_PURPOSE, revision])
    for revision in before - revisions:
        cursor.execute("SELECT pg_advisory_unlock_shared(%s, %s)", [_PURPOSE, revision])


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
