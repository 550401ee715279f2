"""What changed since an earlier revision, worked out beside the requests that ask for it, once for all who do."""

from __future__ import annotations

from collections.abc import Hashable
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as NotReady
from datetime import datetime
from threading import Lock
from typing import Any

from navrel.server.api.errors import InTheWay, Unavailable
from navrel.server.inventory.models import Site
from navrel.server.publishing.live import LiveState, archive_of, drawn_from, find_revision, open_revision
from navrel.server.publishing.models import Revision
from navrel.server.publishing.packing import Unreadable
from navrel.server.publishing.services import impact_between

#: Seconds for which whoever asks waits.
_PATIENCE = 5.0
#: Answers that are kept, and most that may wait to be worked out: anybody with a token may ask for any revision.
_MOST_KEPT = 8
_MOST_WAITING = 4

Changed = dict[str, Any]


class Comparing:
    """Compares revisions one after the other, in a thread of its own, and keeps what came of it last.

    ``patience``: seconds for which whoever asks waits.
    """

    def __init__(self, patience: float = _PATIENCE) -> None:
        self.patience = patience
        self._beside = ThreadPoolExecutor(1, thread_name_prefix="compare")
        self._found: dict[Hashable, Future[Changed]] = {}
        self._lock = Lock()

    def since(self, number: int, newer: LiveState) -> Changed:
        """The paths that are another for somebody, from this hour on, than they were in the revision of a number.

        Raises Missing, InTheWay for a revision that cannot be read, and Unavailable where it takes longer; whoever
        asks again later finds it.
        """
        site = newer.revision.site_id
        hour = newer.document.now().replace(minute=0, second=0, microsecond=0)
        found = self._asked((site, number, newer.revision.number, hour), number, newer)
        try:
            return found.result(self.patience)
        except NotReady:
            raise _later("not-ready", "What changed is still being worked out") from None
        except Unreadable:
            raise InTheWay("unreadable", f"Revision {number} cannot be read") from None

    def _asked(self, key: tuple[int, int, int, datetime], number: int, newer: LiveState) -> Future[Changed]:
        with self._lock:
            if key in self._found:
                return self._found[key]
            if sum(not one.done() for one in self._found.values()) >= _MOST_WAITING:
                raise _later("busy", "Others are being compared")
            # The database is asked here: a thread of its own would leave a connection behind.
            site = newer.revision.site
            older = find_revision(site, number)
            archive = archive_of(older)
            done = [one for one, future in self._found.items() if future.done()]
            for one in done[: max(0, len(self._found) + 1 - _MOST_KEPT)]:
                del self._found[one]
            found = self._found[key] = self._beside.submit(_compare, site, older, archive, newer)
            return found


def _later(code: str, title: str) -> Unavailable:
    return Unavailable(code, title, "Ask again in a few seconds.")


def _compare(site: Site, revision: Revision, archive: bytes, newer: LiveState) -> Changed:
    older = newer if revision.pk == newer.revision.pk else open_revision(revision, newer, archive=archive)
    now, before = (state.index.tree.numbers.keys() for state in (newer, older))
    found = impact_between(older, newer, (drawn_from(site, older), drawn_from(site, newer)))
    differing = (*(one.pages for one in found.shifts), *(one.pages for one in found.redraws), found.own, found.untold)
    changed = {page.path for pages in differing for page in pages} & now
    return {
        "since": revision.number,
        "revision": newer.revision.number,
        "changed": sorted(changed - (now - before)),
        "added": sorted(now - before),
        "gone": sorted(before - now),
    }


COMPARING = Comparing()
