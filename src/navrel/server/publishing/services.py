"""What publishing the draft would change, and publishing it as a revision."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from navrel.core.questions.impact import impact
from navrel.core.questions.shifts import Impact
from navrel.rendering.redrawing import redrawing
from navrel.server.api.errors import InTheWay, Refused
from navrel.server.edits.services import last_edit
from navrel.server.guards.services import check_now
from navrel.server.inventory.models import Site
from navrel.server.publishing.changes import changes_between
from navrel.server.publishing.live import Unreadable, draft_contents, newest_revision, packed, published
from navrel.server.publishing.models import Revision
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.locking import lock_site
from navrel.server.sitestate.state import SiteState
from navrel.wording.counts import count_words

MAX_NOTE = 500
#: Changes that a revision remembers in words.
MOST_SUMMED_UP = 200


def impact_since_live(site: Site) -> Impact:
    """What publishing the draft would change, for all visitors and from now on. Kept for an hour of the clock."""
    newest = newest_revision(site)
    hour = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
    return _impacts.get(site.pk, (site.version, newest and newest.pk, hour), lambda older: _impact(site))


def _impact(site: Site) -> Impact:
    before, after = published(site), draft(site)
    if before.revision.number == 0:
        # Where nothing is live, what each page gets is no difference to anything: it is all there is.
        return Impact(own=after.document.pages)
    contents = before.contents, dict(draft_contents(site))
    drawn = redrawing(before.document, before.index, after.document, after.index, contents)
    # From the full hour on, as it is kept for that hour: whoever asks now asks about a moment within.
    since = after.document.now().replace(minute=0, second=0, microsecond=0)
    return impact(before.document, before.index, after.document, after.index, since, drawn)


_impacts: Kept[Impact] = Kept()


@transaction.atomic
def publish(
    site_slug: str, user: Any, note: str = "", expected_version: int | None = None, overrule: str = ""
) -> Revision:
    """Freeze the draft as a revision, which is live from then on.

    ``expected_version`` is the site version whose changes were looked at; another one is refused. ``overrule``: why it
    is published in spite of guards that are broken; without a reason these stop it. Raises InTheWay, and Refused.
    """
    locked = lock_site(site_slug)
    frozen = freeze(locked, user, note, expected_version, overrule)
    return Revision.objects.create(site=locked, number=next_number(locked), **frozen)


def next_number(site: Site) -> int:
    """The number of the next revision of a locked site."""
    last = newest_revision(site)
    return (last.number if last else 0) + 1


def freeze(locked: Site, user: Any, note: str, expected_version: int | None, overrule: str) -> dict[str, Any]:
    """The draft of a locked site as it is published. Raises InTheWay, and Refused."""
    seen = locked.version - 1
    if expected_version is not None and expected_version != seen:
        raise InTheWay("edited-meanwhile", "The draft was edited while you looked at it", "Look at the changes again.")
    for text, what in ((note, "note"), (overrule, "reason")):
        if len(text) > MAX_NOTE:
            raise Refused(f"long-{what}", f"This {what} has {len(text)} characters; {MAX_NOTE} is the most")
    summary = changes_between(locked, published(locked))
    if newest_revision(locked) is not None and not summary:
        raise InTheWay("nothing-to-publish", "The live site is already the same as the draft")
    state = draft(locked)
    overruled = ask_guards(state, overrule)
    try:
        archive = packed(locked, state.document)
    except Unreadable as reason:
        raise Refused("unreadable", "The draft cannot be published: it could not be read back", str(reason)) from None
    return {
        "by": user,
        "note": note.strip(),
        "summary": [asdict(one) for one in summary[:MOST_SUMMED_UP]],
        "last_edit": last_edit(locked),
        "site_version": locked.version,
        "overruled": overruled,
        "archive": archive,
    }


def ask_guards(state: SiteState, overrule: str) -> dict[str, Any] | None:
    """Whether a state may be published: the guards that are overruled, with why; None where none is broken.

    Raises InTheWay where some are broken and no reason is given.
    """
    broken = [one.guard.name for one in check_now(state) if one.is_broken]
    if broken and not overrule.strip():
        raise InTheWay(
            "guards-broken",
            f"{count_words(len(broken), 'guard')} would be broken: {', '.join(broken)}",
            "Change what breaks them, or say why they are overruled.",
        )
    return {"guards": broken, "reason": overrule.strip()} if broken else None
