"""Bring the demo site of the end-to-end tests back to how it comes, once for each line that is read.

Run as a program, with the tests' environment, while the site is as it comes. It answers each line with one of its own.
"""

import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from django.apps import apps  # noqa: E402
from django.db import OperationalError, connection, transaction  # noqa: E402
from django.db.models import F  # noqa: E402
from psycopg import sql  # noqa: E402

from navrel.server.accounts.models import SignedIn  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402
from navrel.server.publishing.models import Revision  # noqa: E402

#: How much higher the versions of the site are after each reset, so that no server takes it for an earlier state.
STEP = 1_000
#: How often that is tried where it meets what is still being written.
TRIES = 5

TABLES = [
    sql.Identifier(model._meta.db_table)
    for config in apps.get_app_configs()
    if config.name.startswith("navrel.")
    for model in config.get_models(include_auto_created=True)
    if model is not SignedIn
]
KEPT = sql.Identifier("as_it_comes")
#: Notes in a table that something was written, whatever it was.
WATCH = sql.SQL(
    """
    CREATE TABLE {kept}.written ();
    CREATE FUNCTION {kept}.note() RETURNS trigger LANGUAGE plpgsql AS
        $$ BEGIN INSERT INTO {kept}.written DEFAULT VALUES; RETURN NULL; END $$;
    """
)
WATCHED = sql.SQL(
    """
    CREATE TRIGGER as_it_comes AFTER INSERT OR UPDATE OR DELETE OR TRUNCATE ON {table}
        EXECUTE FUNCTION {kept}.note();
    """
)


def keep() -> None:
    """Copy everything that a site is made of, and watch it. Who is signed in is none of it."""
    with connection.cursor() as cursor:
        cursor.execute(sql.SQL("DROP SCHEMA IF EXISTS {} CASCADE").format(KEPT))
        cursor.execute(sql.SQL("CREATE SCHEMA {}").format(KEPT))
        cursor.execute(WATCH.format(kept=KEPT))
        for table in TABLES:
            cursor.execute(sql.SQL("CREATE TABLE {}.{} AS TABLE {}").format(KEPT, table, table))
            cursor.execute(WATCHED.format(kept=KEPT, table=table))


def put_back(times: int) -> None:
    """Put the copies in the place of what there is now, where anything was written since.

    Keys that were given since then are not given again.
    """
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(sql.SQL("SELECT EXISTS (TABLE {}.written)").format(KEPT))
        if cursor.fetchone() == (False,):
            return
        cursor.execute(sql.SQL("TRUNCATE {}").format(sql.SQL(", ").join(TABLES)))
        for table in TABLES:
            cursor.execute(sql.SQL("INSERT INTO {} SELECT * FROM {}.{}").format(table, KEPT, table))
        higher = times * STEP
        Site.objects.update(version=F("version") + higher, inventory_version=F("inventory_version") + higher)
        Revision.objects.update(site_version=F("site_version") + higher)
        cursor.execute(sql.SQL("TRUNCATE {}.written").format(KEPT))


def put_back_at_last(times: int) -> None:
    """Put it back also where a request of the test before is still being answered, and holds what is needed."""
    for left in reversed(range(TRIES)):
        try:
            put_back(times)
        except OperationalError:
            if not left:
                raise
        else:
            return


keep()
for times, _ in enumerate(sys.stdin, start=1):
    put_back_at_last(times)
    print("as it comes", flush=True)
