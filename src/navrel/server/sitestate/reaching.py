"""Whether the database can be reached."""

from __future__ import annotations

from django.db import DatabaseError, connection


def database_answers() -> bool:
    """Whether it answers now."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return False
    finally:
        connection.close()
    return True
