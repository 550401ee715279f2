"""Crawling a site in turns: each asks some addresses and keeps what was answered, so that it goes on from there.

Whoever takes the site in names the address. What a crawl met, and what was answered, stands in the database: it may be
stopped, or break off, at any point. The answers of the last crawl that was taken in are asked with the next time.
"""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from django.db import OperationalError, connection, transaction
from django.db.models import QuerySet
from psycopg.errors import LockNotAvailable

from navrel.server.api.errors import Refused
from navrel.server.outward import AGENT, NotAsked, looked_up, web_address

from .archives import MAX_TOTAL
from .asking import Known, Origin, Silent, rules_of
from .assets import keep, place_of
from .bringing_in import staged_pages
from .decoding import Unreadable
from .folders import File
from .models import Intake, Visit
from .services import find_intake
from .staging import BATCH, put_staged, read_files
from .warc import file_name

#: Addresses that are asked, how far from the first, how often one where nothing comes back, and how many of those may
#: follow each other.
MOST_ADDRESSES = 50_000
MAX_DEPTH = 50
MAX_TRIES = 2
MOST_FAILURES = 20
#: Seconds between two requests, more where robots.txt asks for more.
PAUSE, MOST_PAUSE = 0.02, 10.0
#: Seconds that a turn takes, about, and that one waits for another to end.
TURN = 1.0
PATIENCE = 10.0
_ONE_AT_A_TIME = "Only one crawl of it goes on at a time. Try again in a moment."


@dataclass(frozen=True)
class Crawl:
    """How far one has come: addresses that were asked, those of them that were as before, those that wait."""

    asked: int
    same: int
    waiting: int


def begin_crawl(intake: Intake, address: str, *, inner: bool = False) -> None:
    """Have an intake crawl a site from an address on. ``inner``: in whatever network it is. Raises Refused."""
    try:
        parts = web_address(address, inner=inner)
        ip = looked_up(parts, inner=inner)
    except NotAsked as why:
        told = "Write it as https://example.org/"
        raise Refused("bad-address", f"{address} is not asked: {why}", told) from None
    intake.source = address if parts.path else f"{address}/"
    intake.crawl = {"ip": ip, "same": 0, "bytes": 0, "failed": 0}
    intake.save(update_fields=["source", "crawl"])


def crawl_of(intake: Intake) -> Crawl:
    """How far the crawl of an intake has come."""
    asked = intake.visits.filter(is_asked=True).count()
    waiting = _waiting(intake).count() if asked < MOST_ADDRESSES else 0
    return Crawl(asked, intake.crawl.get("same", 0), waiting or int(not asked))


def goes_on(intake: Intake) -> bool:
    """Whether a crawl has something to go on with, or to take in."""
    return crawl_of(intake).waiting > 0 or staged_pages(intake).exists()


def unfinished_crawls(slug: str) -> QuerySet[Intake]:
    """The crawls of a site that have begun and were neither taken in nor given up, newest first."""
    return Intake.objects.filter(site__slug=slug, finished=None).exclude(source="").order_by("-pk")


def crawl_on(intake: Intake, seconds: float = TURN, *, patience: float = PATIENCE) -> Crawl:
    """Take a turn: ask some more addresses, at least one.

    A turn that is on is waited for, ``patience`` seconds at most: whoever stops a crawl in a browser stops waiting for
    its answer, and may go on at once. Raises Refused where nobody answers: what was read is kept, and a crawl on which
    nothing was is given up.
    """
    with transaction.atomic():
        turn = _Turn(_taken(intake, patience), seconds)
        turn.take()
    if turn.problem:
        if not staged_pages(intake).exists():
            intake.delete()
        raise turn.problem
    intake.refresh_from_db(fields=["crawl"])
    return crawl_of(intake)


def _taken(intake: Intake, patience: float) -> Intake:
    """An intake, locked until the transaction ends. Raises Refused, Missing."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT set_config('lock_timeout', %s, true)", [f"{patience * 1000:.0f}ms"])
            locked = find_intake(intake.site.slug, intake.pk, lock=True)
            cursor.execute("SET LOCAL lock_timeout TO DEFAULT")
            return locked
    except OperationalError as error:
        if not isinstance(error.__cause__, LockNotAvailable):
            raise
        raise Refused("busy", "This site is being asked just now", _ONE_AT_A_TIME) from None


def _waiting(intake: Intake) -> QuerySet[Visit]:
    return intake.visits.filter(is_asked=False).order_by("tries", "pk")


class _Turn:
    """One turn of a crawl. ``problem``: why it cannot go on now."""

    def __init__(self, intake: Intake, seconds: float) -> None:
        self.problem: Refused | None = None
        self.intake = intake
        self._origin = Origin(intake.source, intake.crawl["ip"])
        self._until = time.monotonic() + seconds
        self._visits: list[Visit] = []
        self._met: dict[str, int] = {}

    def take(self) -> None:
        if "robots" not in self.intake.crawl and not self._set_out():
            return
        left = MOST_ADDRESSES - self.intake.visits.filter(is_asked=True).count()
        visits = list(_waiting(self.intake)[: min(BATCH, left)])
        # Files are read by threads, which have no part in this transaction: what they need is read before.
        put_staged(read_files(self.intake, self._files(visits, self._before(visits))))
        Visit.objects.bulk_update(self._visits, ["is_asked", "tries", "digest", "type", "asks"])
        Visit.objects.bulk_create(
            [Visit(intake=self.intake, path=path, depth=depth) for path, depth in self._met.items()],
            batch_size=1000,
            ignore_conflicts=True,
        )
        self.intake.save(update_fields=["crawl"])
        waiting = _waiting(self.intake).count()
        if waiting and left <= len(self._visits):
            self._tell("all others", f"{waiting:,} more addresses were not asked; {MOST_ADDRESSES:,} is the most")

    def _tell(self, what: str, reason: str) -> None:
        """Have the report name what was not read."""
        put_staged(read_files(self.intake, [(what, Unreadable(reason))]))

    def _set_out(self) -> bool:
        """Learn what the site allows and names. Whether it answers."""
        try:
            robots = self._origin.robots()
        except Silent as silent:
            self.problem = self._unanswered(silent)
            return False
        self.intake.crawl["robots"] = robots
        start = self._origin.path_of(self.intake.source) or "/"
        named, left = self._origin.from_sitemaps(rules_of(robots).site_maps() or [], MOST_ADDRESSES)
        paths = list(dict.fromkeys((start, *named)))[:MOST_ADDRESSES]
        Visit.objects.bulk_create([Visit(intake=self.intake, path=path, depth=0) for path in paths], batch_size=1000)
        if left:
            self._tell("other sitemaps", "left unread: they are too many, or take too long")
        return True

    def _files(self, visits: list[Visit], before: Mapping[str, Visit]) -> Iterator[File]:
        """What is answered at some addresses, one after the other, until the turn is over."""
        rules = rules_of(self.intake.crawl["robots"])
        pause = max(PAUSE, min(float(rules.crawl_delay(AGENT) or 0), MOST_PAUSE))
        for visit in visits:
            if self.problem or (self._visits and time.monotonic() > self._until):
                return
            self._visits.append(visit)
            if rules.can_fetch(AGENT, visit.path):
                time.sleep(pause)
                data = self._asked(visit, before.get(visit.path))
            else:
                visit.is_asked, data = True, Unreadable("robots.txt asks that it is not read")
            if visit.is_asked:
                yield file_name(visit.path), data

    def _asked(self, visit: Visit, before: Visit | None) -> bytes | Unreadable:
        answer = self._origin.answer(visit.path, _known(before) if before else None)
        crawl = self.intake.crawl
        if isinstance(answer.data, Silent):
            visit.tries += 1
            visit.is_asked = visit.tries >= MAX_TRIES
            crawl["failed"] += 1
            if crawl["failed"] > MOST_FAILURES:
                crawl["failed"] = 0
                self.problem = self._unanswered(answer.data)
            return answer.data
        visit.is_asked, crawl["failed"] = True, 0
        visit.type, visit.asks = answer.type, dict(answer.asks)
        if answer.away and visit.path == self._origin.path_of(self.intake.source):
            told = f"Take that address in, if it is the site: {answer.away}"
            self.problem = Refused("leads-away", f"{self.intake.source} leads to another site", told)
        if isinstance(answer.data, bytes):
            visit.digest = keep(answer.data) if answer.asks else ""
            crawl["same"] += answer.is_same
            crawl["bytes"] += len(answer.data)
        if crawl["bytes"] > MAX_TOTAL:
            self.problem = Refused("too-large", f"The answers come to more than {MAX_TOTAL // 1024**3} GB")
        if visit.depth < MAX_DEPTH:
            self._met |= {path: visit.depth + 1 for path in answer.leads_to if path not in self._met}
        return answer.data

    def _before(self, visits: list[Visit]) -> dict[str, Visit]:
        """What was answered at some addresses when the site was last asked there."""
        earlier = Visit.objects.filter(intake__site=self.intake.site, path__in=[one.path for one in visits])
        found = earlier.filter(intake__source=self.intake.source).exclude(intake=self.intake).exclude(asks={})
        return {one.path: one for one in found.order_by("pk")}

    def _unanswered(self, why: object) -> Refused:
        return Refused("no-answer", f"{self.intake.source} does not answer", str(why))


def _known(before: Visit) -> Known | None:
    """What was answered before, as long as it is kept."""
    try:
        return Known(place_of(before.digest).read_bytes(), before.type, before.asks)
    except OSError:
        return None
