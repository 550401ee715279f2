"""Which revision each site serves, as PostgreSQL tells it (LISTEN and NOTIFY): no request has to ask.

What was just published is made ready before anybody asks for it; until it is, what was served before is.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Iterable
from contextlib import nullcontext
from dataclasses import dataclass
from threading import Thread
from typing import NamedTuple

import psycopg
from django.conf import settings
from django.db import DatabaseError, connection
from django.http.response import HttpResponseBase

from navrel.server.inventory.models import Site
from navrel.server.publishing.holding import hold, in_turn
from navrel.server.publishing.hosts import served_site, served_sites
from navrel.server.publishing.live import LiveState, newest_key, newest_served, served
from navrel.server.sitestate.lasting import MANY_PAGES, let_go, made_to_last

from .answers import ANSWERS
from .layout_asked import TOKENS
from .meta import AHEAD, Meta, again, asked_at

#: On which what concerns the published site is told; by triggers of the tables.
CHANNEL = "navrel_published"
#: So many sites, those that were made first, are made ready before anybody asks for them.
_READY_AT_ONCE = 16
#: So many pages are drawn ahead.
_DRAWN_AHEAD = 50
#: After so many seconds in which nothing was told it is looked all the same.
_LOOKED_EVERY = 20.0
#: After so many seconds a database that did not answer is asked again.
_PATIENCE = 1.0
log = logging.getLogger(__name__)


class Serving(NamedTuple):
    """A site by its key, and the key of the revision that it serves."""

    site: int
    revision: int


@dataclass(frozen=True)
class _Known:
    """What was found out last. ``by_name`` remembers what is served under which name, port and path."""

    sites: tuple[Site, ...]
    revisions: dict[int, int]
    by_name: dict[tuple[str, str, str], int | None]

    def serving(self, site: int | None) -> Serving | None:
        """What a site serves; None where that is nothing."""
        revision = None if site is None else self.revisions.get(site)
        return None if site is None or revision is None else Serving(site, revision)


#: Most names that are remembered: anybody may ask under any name.
_MOST_NAMES = 1000


class Watch:
    """Knows what is served, for as long as the database tells it."""

    def __init__(self, application: Callable[..., Iterable[bytes]]) -> None:
        self._application = application
        self._known: _Known | None = None
        #: Until when, on the clock of the process, what is kept is not given: what was told of may be ready by then.
        self._waits_until = 0.0
        #: The revisions that it holds, as others may see it.
        self._held: set[int] = set()

    def start(self) -> None:
        """Watch for as long as the process lasts, in a thread of its own."""
        Thread(target=self._watch, name="watch", daemon=True).start()

    @property
    def is_ready(self) -> bool:
        """Whether it is known what every site serves, and ready to be served, but for the later ones of many."""
        return self._known is not None

    def serving(self, host: str, port: str, mount: str) -> Serving | None:
        """What is served under a name, on a port, below a path; None where that has to be asked."""
        known = self._known
        if known is None or time.monotonic() < self._waits_until:
            return None
        name = (host, port, mount)
        if name not in known.by_name:
            site = served_site(known.sites, host, port, settings.SITE_PREFIXES.get(mount, ""))
            if len(known.by_name) >= _MOST_NAMES:
                known.by_name.clear()
            known.by_name[name] = site.pk if site else None
        return known.serving(known.by_name[name])

    def site_at(self, host: str, port: str, mount: str) -> Site | None:
        """The site under a name, whether it serves anything yet or not; None where there is none."""
        sites = self._known.sites if self._known else ()
        return served_site(sites, host, port, settings.SITE_PREFIXES.get(mount, ""))

    def serving_site(self, slug: str) -> Serving | None:
        """What the site of a slug serves; None where that has to be asked."""
        known = self._known
        if known is None or time.monotonic() < self._waits_until:
            return None
        return known.serving(next((site.pk for site in known.sites if site.slug == slug), None))

    def _watch(self) -> None:
        while True:
            try:
                self._listen()
            except (DatabaseError, psycopg.Error) as error:
                # What is kept is given meanwhile: nothing can be published while the database does not answer.
                log.debug("what is published is not told: %s", error)
            except Exception:
                log.exception("what was published could not be made ready")
                self._known = None
            connection.close()
            time.sleep(_PATIENCE)

    def _listen(self) -> None:
        # What was held ended with the connection on which that was said.
        self._held = set()
        with connection.cursor() as cursor:
            cursor.execute(f"LISTEN {CHANNEL}")
        while True:
            self._look()
            self._waits_until = 0.0
            for _ in connection.connection.notifies(timeout=_LOOKED_EVERY, stop_after=1):
                # Whoever asks now waits for what is new as long as readers wait, and then gets what was there before.
                self._waits_until = time.monotonic() + settings.READERS_WAIT
                TOKENS.clear()

    def _look(self) -> None:
        sites = tuple(served_sites())
        newest = {key for key in map(newest_key, sites) if key is not None}
        self._hold(self._held | newest)
        with connection.cursor() as cursor, in_turn(cursor) if self._lacks(newest) else nullcontext():
            self._serve(sites)

    def _lacks(self, newest: set[int]) -> bool:
        """Whether some of these revisions are not served yet, while others are."""
        return self._known is not None and not newest <= set(self._known.revisions.values())

    def _serve(self, sites: tuple[Site, ...]) -> None:
        revisions, gone = self._make_ready(sites)
        self._known = _Known(sites, revisions, {})
        for key, revision in revisions.items():
            ANSWERS.leave(key, revision)
        self._hold(set(revisions.values()))
        let_go(gone)
        for key in revisions:
            state = newest_served(key)
            if state is not None:
                # Until that is done each page is resolved by itself.
                with made_to_last(many=state.index.size > MANY_PAGES):
                    state.resolver.make_ready()

    def _make_ready(self, sites: Iterable[Site]) -> tuple[dict[int, int], list[list[object]]]:
        """Make the newest of each site ready: its revision by site, and the parts of what was served before.

        Nobody else holds those then, or but for as long as an answer takes. Of many sites, those that nobody asked for
        yet are read when somebody does.
        """
        revisions: dict[int, int] = {}
        gone: list[list[object]] = []
        for number, site in enumerate(sites):
            older = newest_served(site.pk)
            if older is None and number >= _READY_AT_ONCE and site.slug not in settings.OLD_SITES:
                if newest := newest_key(site):
                    revisions[site.pk] = newest
                continue
            state = served(site, self._draw_ahead).state
            if state is not None:
                revisions[site.pk] = state.revision.pk
            if older is not None and older is not state:
                gone += older.parts(state)
        return revisions, gone

    def _hold(self, revisions: set[int]) -> None:
        with connection.cursor() as cursor:
            hold(cursor, revisions, self._held)
        self._held = revisions

    def _draw_ahead(self, state: LiveState) -> None:
        """Draw what was asked for last of what is about to be served: readers find it drawn.

        Where nothing was asked for yet it is the first page: what all pages are drawn from is there then. In a thread
        of its own: the connection of this one listens, and requests take theirs and give them back.
        """
        first = [asked_at(page.href) for page in state.index.tree.pages[:1]]
        asked = ANSWERS.asked_last(state.revision.site_id, _DRAWN_AHEAD) or first
        drawing = Thread(target=self._ask_again, args=(asked, state), name="draw-ahead", daemon=True)
        drawing.start()
        drawing.join()

    def _ask_again(self, asked: list[Meta], state: LiveState) -> None:
        try:
            for one in asked:
                answer = self._application({**again(one), AHEAD: state}, lambda status, headers: None)
                for _ in answer:
                    pass
                if isinstance(answer, HttpResponseBase):
                    answer.close()
        finally:
            connection.close()
