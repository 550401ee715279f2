"""Commands on the site that is being edited: they need the database."""

from __future__ import annotations

import ctypes
import os
import sys
import time
from argparse import ArgumentParser
from collections.abc import Sequence
from pathlib import Path
from threading import Thread

from .files import cannot_use, print_json, say, takes_json


def set_up_options(parser: ArgumentParser) -> None:
    """It takes none."""


def first_account_options(parser: ArgumentParser) -> None:
    """It takes none."""


def manage_options(parser: ArgumentParser) -> None:
    """Django reads them itself."""


def intake_options(parser: ArgumentParser) -> None:
    told = "the folder of a site, a ZIP or tar of one, a WARC file, or the address of the site itself"
    parser.add_argument("source", metavar="FOLDER", help=told)
    parser.add_argument("--site", default="marrowick", metavar="SLUG", help="the slug of the site")
    parser.add_argument("--look", action="store_true", help="tell what would come of it, and take nothing in")
    parser.add_argument("--anew", action="store_true", help="ask an address anew, where it stopped before")
    takes_json(parser)


def feeds_options(parser: ArgumentParser) -> None:
    """It takes none."""


def clock_options(parser: ArgumentParser) -> None:
    """It takes none."""


def with_django() -> None:
    """Have Django ready, for the database that is being edited."""
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
    django.setup()


def set_up() -> None:
    """Migrate the database, and in demo mode load the demo site into an empty one."""
    with_django()
    from django.core.management import call_command

    from navrel.server.demo import set_up as demo

    call_command("migrate", verbosity=0, interactive=False)
    demo()


def first_account() -> None:
    """Print the path at which the first account is made; nothing where that is there, or a demo runs."""
    with_django()
    from navrel.server.accounts.first import is_wanted, token

    if is_wanted():
        say(f"/_first/{token()}")


def manage(arguments: Sequence[str]) -> None:
    """Run a Django management command on the database that is being edited."""
    with_django()
    from django.core.management import execute_from_command_line

    execute_from_command_line(["./navrel manage", *arguments])


def feeds() -> None:
    """Fetch the feeds of other services that pieces show, where what is kept of them is not fresh."""
    with_django()
    from navrel.server.inventory.models import Site
    from navrel.server.library.feeds import feeds_in
    from navrel.server.library.refreshing import refresh_due
    from navrel.server.publishing.live import live
    from navrel.server.sitestate.draft import draft

    states = [state for site in Site.objects.all() for state in (draft(site), live(site)) if state is not None]
    shown = feeds_in(piece.content for state in states for piece in state.layout.pieces.values())
    for feed in refresh_due(shown):
        say(f"{feed.url}: {feed.problem or f'{len(feed.entries)} entries'}")


#: How often it is looked for what is to be sent, for publications that are due and guards that were broken, and for all
#: else, in seconds.
_VERY_OFTEN, _OFTEN, _NOW_AND_THEN = 0.5, 2, 300


def clock() -> None:
    """Do what is due by itself, for ever: publish what was planned for this moment, fetch feeds, tell news, send."""
    with_django()
    from django.db import Error, connection

    from navrel.server.inventory.assets import forget_unnamed
    from navrel.server.news.services import forget_old
    from navrel.server.news.watching import watch_guards, watch_schedules
    from navrel.server.publishing.planning import publish_due
    from navrel.server.webhooks.services import forget_old_sendings

    # Whoever is slow to take what is sent keeps nothing else waiting.
    Thread(target=_post, name="post", daemon=True).start()
    last = -float(_NOW_AND_THEN)
    while True:
        try:
            for planned in publish_due():
                say(f"{planned}: {planned.told or f'revision {planned.revision} is live'}")
            watch_guards()
            if time.monotonic() - last >= _NOW_AND_THEN:
                last = time.monotonic()
                watch_schedules()
                forget_old()
                forget_old_sendings()
                forget_unnamed()
                feeds()
        except Error:
            # The database may be starting again just now.
            connection.close()
        time.sleep(_OFTEN)


def _post() -> None:
    """Send what is due to whoever is told of publications, for ever."""
    from django.db import Error, connection

    from navrel.server.webhooks.sending import send_due

    while True:
        try:
            send_due()
        except Error:
            connection.close()
        time.sleep(_VERY_OFTEN)


#: So many files are named of which the same is said.
_FEW = 3
_GOES_ON = "What was asked so far is kept: the same command goes on from there"


#: Of mallopt(3): from how many free bytes at the end of the heap these go back to the system.
_TRIM_THRESHOLD = -1


def _give_memory_back() -> None:
    """Have memory go back to the system once it is free: pages come and go, none as large as the one before.

    That also ends that glibc takes for granted that what was large once is large again. Other libraries know no such
    thing.
    """
    if option := getattr(ctypes.CDLL(None), "mallopt", None):
        option(_TRIM_THRESHOLD, 128 * 1024)


def intake(source: str, site: str, look: bool, anew: bool, as_json: bool) -> None:
    """Take in a site from a folder, an archive, a WARC file, a table, or its address: update, add, mark as gone."""
    with_django()
    from rich.console import Console

    from navrel.server.api.errors import Refused
    from navrel.server.inventory.crawling import goes_on, unfinished_crawls
    from navrel.server.inventory.services import describe
    from navrel.server.inventory.sources import is_source, take_in_address, take_in_folder
    from navrel.server.publishing.weighing import weigh_intake
    from navrel.wording.counts import count_pages

    path = Path(source)
    is_address = source.startswith(("http://", "https://"))
    if not (is_address or is_source(path)):
        cannot_use([f"There is no folder, no ZIP or tar archive, no WARC file and no table {source}"])
    look_first = weigh_intake if look else None
    # What reads and writes files waits for its turn behind what writes to the database, up to this long each time.
    sys.setswitchinterval(0.001)
    _give_memory_back()
    try:
        with Console(stderr=True).status("Reading …") as status:

            def progress(count: int) -> None:
                status.update(f"Asked {count:,} addresses …" if is_address else f"Reading … {count:,} files")

            report = (
                take_in_address(site, source, progress, look_first, anew=anew)
                if is_address
                else take_in_folder(site, path, progress, look_first)
            )
    except (KeyboardInterrupt, Refused) as why:
        told = f"{why.title}. {why.detail}" if isinstance(why, Refused) else "Stopped; the site is as it was"
        on = [_GOES_ON] if is_address and any(map(goes_on, unfinished_crawls(site))) else []
        cannot_use([told, *on])
    if as_json:
        print_json(report)
        return
    changed = report.pop("changed", None)
    told = f". Looks different on {count_pages(changed)}. Nothing was taken in" if changed is not None else ""
    say(f"{describe(report)}{told}")
    if report["dropped"]:
        told = ", ".join(f"{one['element']} {one['count']:,}" for one in report["dropped"])
        say(f"  elements that texts do not keep, as they could run, reach out, or are of no standard: {told}")
    for kind, total in (("moved", "moved_count"), ("skipped", "skipped_count"), ("remarks", "remark_count")):
        _tell(report[kind], report[total])


def _tell(notes: list[dict[str, str]], total: int) -> None:
    """Tell what is to be said of files, ``total`` in all; of many of which the same is said a few are named."""
    together: dict[str, list[str]] = {}
    for note in notes:
        together.setdefault(note["reason"], []).append(note["file"])
    for reason, files in together.items():
        for file in files[:_FEW]:
            say(f"  {file}: {reason}")
        if len(files) > _FEW:
            say(f"  … the same of {len(files) - _FEW:,} more")
    if total > len(notes):
        say(f"  … and something of {total - len(notes):,} more")
