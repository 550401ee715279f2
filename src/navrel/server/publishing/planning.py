"""Publishing at a moment: frozen when it is planned, so that what was looked at is what goes live."""

from __future__ import annotations

import logging
from collections.abc import Collection
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from navrel.core.calendar.schedule import read_moment
from navrel.core.errors import ScheduleError
from navrel.server.api.errors import InTheWay, Missing, ParameterProblem, Refused
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note as write_down
from navrel.server.news.services import tell
from navrel.server.sitestate.locking import lock_site

from .live import newest_revision, open_archive
from .models import Plan, Revision
from .packing import Unreadable
from .services import ask_guards, broken_guards, freeze, make_revision, pack_ahead

#: Plans of one site that wait at the most, and how far ahead.
MOST_WAITING = 20
FURTHEST = timedelta(days=366)
log = logging.getLogger(__name__)


def plan(
    site_slug: str,
    user: Any,
    at: str,
    note: str = "",
    expected_version: int | None = None,
    overrule: str = "",
    chosen: Collection[str] | None = None,
) -> Plan:
    """Freeze the draft, to be published at a moment on the site's clock; else as `publish`."""
    ahead = pack_ahead(site_slug, expected_version) if chosen is None else None
    with transaction.atomic():
        locked = lock_site(site_slug)
        moment = _moment(locked, at)
        if Plan.objects.filter(site=locked, state="waiting").count() >= MOST_WAITING:
            raise InTheWay("too-many-plans", f"{MOST_WAITING} publications wait already", "Drop one of them first.")
        frozen = freeze(locked, user, note, expected_version, overrule, chosen, ahead)
        last = newest_revision(locked)
        write_down(locked, user, "publication", f"Planned a publication at {at}")
        return Plan.objects.create(site=locked, at=moment, after=last.number if last else 0, **frozen)


def _moment(site: Site, text: str) -> datetime:
    try:
        moment = read_moment(text).replace(tzinfo=ZoneInfo(site.time_zone))
    except ScheduleError as error:
        raise Refused.for_parameter(ParameterProblem.of("at", error)) from None
    now = datetime.now(UTC)
    if not now < moment <= now + FURTHEST:
        raise Refused.for_parameter(
            ParameterProblem("at", "this moment is past, or more than a year away", "bad-moment")
        )
    return moment


@transaction.atomic
def drop(site_slug: str, user: Any, number: int) -> None:
    """Let go of a publication that waits. Raises Missing."""
    locked = lock_site(site_slug)
    if not Plan.objects.filter(site=locked, pk=number, state="waiting").update(state="dropped"):
        raise Missing("no-plan", "No such publication waits")
    write_down(locked, user, "publication", "Dropped a planned publication")


def publish_due(now: datetime | None = None) -> list[Plan]:
    """Publish what is due, the earliest first, each in a transaction of its own; what stands in the way is kept."""
    due = Plan.objects.filter(state="waiting", at__lte=now or datetime.now(UTC)).order_by("at", "pk")
    found = [_carry_out(site, number) for site, number in due.values_list("site__slug", "pk")]
    return [one for one in found if one is not None]


@transaction.atomic
def _carry_out(site_slug: str, number: int) -> Plan | None:
    locked = lock_site(site_slug)
    # Another process may have done it while this one waited.
    planned = Plan.objects.filter(pk=number, state="waiting").first()
    if planned is None:
        return None
    try:
        made = _published(locked, planned)
    except (Refused, Unreadable) as reason:
        planned.state, planned.told = "refused", str(reason)[:500]
        log.warning("%s of %s was refused: %s", planned, locked.slug, reason)
        words = f"The {planned} was refused: {reason}"
        write_down(locked, None, "publication", words)
        tell(locked, "publication", words, "publish")
    else:
        planned.state, planned.revision = "done", made.number
    planned.save(update_fields=["state", "told", "revision"])
    return planned


def _published(locked: Site, planned: Plan) -> Revision:
    """The revision that a plan becomes. Raises InTheWay, and Unreadable."""
    last = newest_revision(locked)
    if (last.number if last else 0) != planned.after:
        assert last is not None
        # It would take back what was published meanwhile.
        raise InTheWay("published-meanwhile", f"Revision {last.number} was published after this was planned")
    state = open_archive(bytes(planned.archive))
    overruled = ask_guards(broken_guards(state), (planned.overruled or {}).get("reason", ""))
    return make_revision(locked, {**planned.frozen, "overruled": overruled}, planned=True)
