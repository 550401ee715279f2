"""What publishing the draft would change, and publishing it as a revision."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from navrel.core.questions.impact import impact
from navrel.core.questions.shifts import Impact, Standing, nowhere
from navrel.rendering.redrawing import redrawing
from navrel.server.api.errors import InTheWay, Refused
from navrel.server.bindings.standing import standing_in
from navrel.server.edits.services import last_edit
from navrel.server.guards.services import check_now
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note as write_down
from navrel.server.news.services import tell
from navrel.server.publishing.changes import Change, changes_between, changes_of, changes_since_live
from navrel.server.publishing.choosing import only
from navrel.server.publishing.live import (
    LiveState,
    Own,
    drawn_from,
    find_revision,
    newest_revision,
    open_revision,
    packed,
    published,
)
from navrel.server.publishing.models import Revision
from navrel.server.publishing.packing import Unreadable
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.locking import find_site, lock_site
from navrel.server.sitestate.state import SiteState
from navrel.server.webhooks.services import announce
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
    return _impact_of(published(site), draft(site), site)


def _impact_of(before: LiveState, after: SiteState, site: Site) -> Impact:
    """What differs between what was published and another state of a site."""
    if before.revision.number == 0:
        # Where nothing is live, what each page gets is no difference to anything: it is all there is.
        return Impact(own=tuple(after.document.pages))
    own = drawn_from(site, before), drawn_from(site, after)
    return impact_between(before, after, own, standing_in(site, before, after))


def impact_between(
    before: SiteState,
    after: SiteState,
    own: tuple[Mapping[str, Own], Mapping[str, Own]],
    standing: Standing = nowhere,
) -> Impact:
    """What differs between two states, for all visitors; ``own``: what their pages are drawn from in themselves.

    ``standing``: see `impact`.
    """
    others = {path for path in own[0].keys() & own[1].keys() if own[0][path].differs(own[1][path])}
    drawn = redrawing(before.document, before.index, after.document, after.index, others)
    # From the full hour on, as it is kept for that hour: whoever asks now asks about a moment within.
    since = after.document.now().replace(minute=0, second=0, microsecond=0)
    return impact(before.document, before.index, after.document, after.index, since, drawn, standing)


@dataclass(frozen=True)
class Weighed:
    """What differs between a state and another: in words, and on pages.

    ``broken``: the names of the guards that the other state breaks; None where nobody asked for them.
    """

    before: SiteState
    after: SiteState
    changes: list[Change]
    impact: Impact
    broken: list[str] | None = None


def weigh_draft(site: Site) -> Weighed:
    """What publishing the draft would change."""
    before = published(site)
    return Weighed(before, draft(site), changes_since_live(site, before), impact_since_live(site))


def weigh_chosen(site_slug: str, chosen: Collection[str]) -> Weighed:
    """What publishing only some of the draft's changes would change. Raises Missing, and InTheWay."""
    with transaction.atomic():
        locked = lock_site(site_slug)
        before = published(locked)
        with only(locked, chosen):
            state = replace(draft(locked), version=locked.version - 1)
            impact = _impact_of(before, state, locked)
            changes = changes_between(locked, before)
            broken = broken_guards(state)
        # Nothing was written: the site's version is as it was, and whoever saves waits no longer.
        transaction.set_rollback(True)
    return Weighed(before, state, changes, impact, broken)


def compare(site: Site, older: LiveState, newer: LiveState) -> Weighed:
    """What differs between two published states."""
    return Weighed(older, newer, changes_of(site, older, newer), _impact_of(older, newer, site))


_impacts: Kept[Impact] = Kept()


@dataclass(frozen=True)
class Packed:
    """A version of a draft as it would be published, and the guards that it breaks."""

    version: int
    archive: bytes
    broken: list[str]


def pack_ahead(site_slug: str, expected_version: int | None) -> Packed | None:
    """Pack the draft before its site is locked, so that nobody who saves waits for that; None where it is refused.

    What is refused is told once it is locked, when it is looked at anew.
    """
    site = find_site(site_slug)
    state = draft(site)
    if expected_version not in (None, state.version):
        return None
    try:
        return Packed(state.version, packed(site, state), broken_guards(state))
    except Unreadable:
        return None


def publish(
    site_slug: str,
    user: Any,
    note: str = "",
    expected_version: int | None = None,
    overrule: str = "",
    chosen: Collection[str] | None = None,
) -> Revision:
    """Freeze the draft, or some of its changes, as a revision, which is live from then on.

    ``expected_version`` is the site version whose changes were looked at; another one is refused. ``overrule``: why it
    is published in spite of guards that are broken; without a reason these stop it. ``chosen``: the keys of the
    changes that go along, None for all. Raises InTheWay, Missing, and Refused.
    """
    ahead = pack_ahead(site_slug, expected_version) if chosen is None else None
    with transaction.atomic():
        locked = lock_site(site_slug)
        return make_revision(locked, freeze(locked, user, note, expected_version, overrule, chosen, ahead))


def make_revision(locked: Site, frozen: dict[str, Any], *, planned: bool = False) -> Revision:
    """Make what was frozen the newest revision of a locked site, which is live from then on.

    ``planned``: whether it is done by the clock, so that whoever planned it is told too.
    """
    revision = Revision.objects.create(site=locked, number=next_number(locked), **frozen)
    told = f": {revision.note}" if revision.note else ""
    overruled = f", in spite of {', '.join(revision.overruled['guards'])}" if revision.overruled else ""
    words = f"Revision {revision.number} is live{overruled}{told}"
    write_down(locked, revision.by, "publication", words)
    by = None if planned else revision.by
    who = f", published by {revision.by.get_username()}" if revision.by and not planned else ""
    tell(locked, "publication", f"{words}{who}", "publish", by)
    announce(locked, revision.number, revision.pk, revision.note)
    return revision


@transaction.atomic
def publish_again(site_slug: str, user: Any, number: int, note: str = "", overrule: str = "") -> Revision:
    """Make a revision live again, as a new one. The draft stays as it is. Raises InTheWay, Missing, and Refused."""
    locked = lock_site(site_slug)
    again = find_revision(locked, number)
    now = published(locked)
    if now.revision.number == number:
        raise InTheWay("live-already", f"Revision {number} is live")
    _check_texts(note, overrule)
    try:
        state = open_revision(again, now)
    except Unreadable:
        raise InTheWay("unreadable", f"Revision {number} cannot be read") from None
    changes = changes_of(locked, now, state)
    frozen = {
        **again.frozen,
        "by": user,
        "note": note.strip() or f"Revision {number} again",
        "summary": [asdict(one) for one in changes[:MOST_SUMMED_UP]],
        "overruled": ask_guards(broken_guards(state), overrule),
    }
    return make_revision(locked, frozen)


def next_number(site: Site) -> int:
    """The number of the next revision of a locked site."""
    last = newest_revision(site)
    return (last.number if last else 0) + 1


def freeze(
    locked: Site,
    user: Any,
    note: str,
    expected_version: int | None,
    overrule: str,
    chosen: Collection[str] | None = None,
    ahead: Packed | None = None,
) -> dict[str, Any]:
    """The draft of a locked site as it is published, or some of its changes. Raises InTheWay, Missing, and Refused.

    ``ahead``: the draft as it was packed before it was locked; of no use where somebody has saved since.
    """
    seen = locked.version - 1
    if expected_version is not None and expected_version != seen:
        raise InTheWay("edited-meanwhile", "The draft was edited while you looked at it", "Look at the changes again.")
    _check_texts(note, overrule)
    before = published(locked)
    with only(locked, chosen):
        summary = changes_between(locked, before)
        if newest_revision(locked) is not None and not summary:
            raise InTheWay("nothing-to-publish", "The live site is already the same as the draft")
        if ahead is None or ahead.version != seen:
            ahead = _packed_now(locked)
        overruled = ask_guards(ahead.broken, overrule)
    return {
        "by": user,
        "note": note.strip(),
        "summary": [asdict(one) for one in summary[:MOST_SUMMED_UP]],
        "last_edit": last_edit(locked) if chosen is None else before.revision.last_edit,
        "site_version": locked.version,
        "overruled": overruled,
        "chosen": chosen is not None,
        "archive": ahead.archive,
    }


def _packed_now(locked: Site) -> Packed:
    """The draft of a locked site, packed. Raises Refused."""
    state = draft(locked)
    try:
        return Packed(locked.version - 1, packed(locked, state), broken_guards(state))
    except Unreadable as reason:
        title = "The draft cannot be published: it could not be read back"
        raise Refused("unreadable", title, str(reason)) from None


def _check_texts(note: str, overrule: str) -> None:
    for text, what in ((note, "note"), (overrule, "reason")):
        if len(text) > MAX_NOTE:
            raise Refused(f"long-{what}", f"This {what} has {len(text)} characters; {MAX_NOTE} is the most")


def broken_guards(state: SiteState) -> list[str]:
    """The names of the guards that a state breaks."""
    return [one.guard.name for one in check_now(state) if one.is_broken]


def ask_guards(broken: list[str], overrule: str) -> dict[str, Any] | None:
    """Whether a state that breaks some guards may be published: those that are overruled, with why; None for none.

    Raises InTheWay where some are broken and no reason is given.
    """
    if broken and not overrule.strip():
        raise InTheWay(
            "guards-broken",
            f"{count_words(len(broken), 'guard')} would be broken: {', '.join(broken)}",
            "Change what breaks them, or say why they are overruled.",
        )
    return {"guards": broken, "reason": overrule.strip()} if broken else None
