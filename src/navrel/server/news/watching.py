"""What the clock looks for by itself: guards that an edit broke, and what is live and is about to begin or to end."""

from __future__ import annotations

import hashlib
from datetime import timedelta
from functools import lru_cache
from typing import Any
from urllib.parse import quote, urlencode

from django.db.models import F

from navrel.core.calendar.schedule import write_moment
from navrel.core.questions.boundaries import boundaries, is_scheduled
from navrel.server.edits.models import Edit
from navrel.server.edits.services import last_edit
from navrel.server.guards.services import guard_info, guard_states
from navrel.server.inventory.models import Site
from navrel.server.publishing.live import layout_of, live, newest_revision
from navrel.server.publishing.models import Revision
from navrel.server.publishing.packing import Unreadable
from navrel.server.sitestate.draft import draft
from navrel.wording.audiences import moment
from navrel.wording.counts import count_words

from .models import Watched
from .services import tell

#: How long before something begins or ends it is told.
AHEAD = timedelta(hours=24)
#: How many rules and widgets are named that begin or end at one moment.
_MOST_NAMED = 5


def watch_guards() -> None:
    """Tell of the guards that are broken since it was looked last, and by whose edits."""
    # Asked every few seconds: a site that stands as it was looked at last is not even read.
    looked_at = Watched.objects.filter(version=F("site__version")).values("site")
    for site in Site.objects.exclude(pk__in=looked_at):
        _look_at_guards(site, Watched.objects.filter(site=site).first())


def _look_at_guards(site: Site, seen: Watched | None) -> None:
    state = draft(site)
    broken = [one for one in guard_states(site.slug, state) if one.is_broken]
    edit = last_edit(site)
    if seen is not None:
        edits = list(Edit.objects.filter(site=site, number__gt=seen.edit, number__lte=edit).select_related("by"))
        people = {one.by for one in edits}
        by = people.pop() if len(people) == 1 else None
        for one in broken:
            if one.guard.name not in seen.broken:
                to = f"checks/guards/{quote(one.guard.name, safe='')}"
                tell(site, "guard", _guard_words(guard_info(state, one), edits), to, by)
    found = {"version": state.version, "edit": edit, "broken": [one.guard.name for one in broken]}
    Watched.objects.update_or_create(site=site, defaults=found)


def _guard_words(told: dict[str, Any], edits: list[Edit]) -> str:
    first = told["breaches"][0]
    more = f" and {told['broken'] - 1} more" if told["broken"] > 1 else ""
    since = ""
    if len(edits) == 1:
        who = edits[0].by.get_username() if edits[0].by else "somebody"
        since = f", since {who} saved: {edits[0].words}"
    elif edits:
        since = f", since one of {count_words(len(edits), 'edit')}"
    return f"The guard {told['guard']['name']} is broken on {first['paths'][0]}{more} ({first['words']}){since}"


def watch_schedules() -> None:
    """Tell of what is live and begins or ends within a day, each moment once."""
    for site in Site.objects.all():
        newest = newest_revision(site)
        if newest is None or not _may_change(newest):
            continue
        state = live(site)
        if state is None:
            continue
        now = state.document.now()
        for one in boundaries(state.index, state.layout, now, now + AHEAD):
            happens = [
                f"{_named(names)} {verb}{'s' if len(names) == 1 else ''}"
                for names, verb in ((one.begins, "begin"), (one.ends, "end"))
                if names
            ]
            at = write_moment(one.moment)
            key = hashlib.sha256(repr((at, one.begins, one.ends)).encode()).hexdigest()
            words = f"{moment(one.moment)}: {'; '.join(happens)}"
            tell(site, "schedule", words, f"pages?{urlencode({'at': at})}", key=f"schedule {key}")


@lru_cache(maxsize=1000)
def _may_change(newest: Revision) -> bool:
    """Whether anything may begin or end where this is what was published last."""
    try:
        return is_scheduled(layout_of(newest))
    except Unreadable:
        # What was published before is live.
        return True


def _named(names: tuple[str, ...]) -> str:
    more = len(names) - _MOST_NAMED
    return ", ".join(names[:_MOST_NAMED]) + (f" and {more} more" if more > 0 else "")
