"""Draft and live: what changed, publishing it as a revision, and the live state that the public site serves."""

from __future__ import annotations

import gzip
import logging
import zlib
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

import orjson
from django.db import transaction

from navrel.core.files.reading import read_document
from navrel.core.files.writing import write_document
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument
from navrel.core.questions.changes import Change, changed_parts
from navrel.core.questions.impact import Impact, impact
from navrel.rendering.redrawing import redrawing
from navrel.server.inventory.models import Page, Site
from navrel.server.problems import InTheWay, Refused
from navrel.server.states import Kept, State, draft, lock_site

from .models import Revision

MAX_NOTE = 500


#: Revisions that are tried, newest first, where the newest cannot be read.
_MOST_TRIED = 20
log = logging.getLogger(__name__)


class Unreadable(Exception):
    """A revision's archive does not hold what it was published with."""


@dataclass(frozen=True)
class LiveState(State):
    """A published state: also knows its revision, and the content of every page by digest."""

    revision: Revision = field(kw_only=True)
    contents: dict[str, str] = field(kw_only=True)


@dataclass(frozen=True)
class Served:
    """What a site serves: its newest revision that can be read, and the numbers of newer ones that cannot."""

    state: LiveState | None
    passed_over: tuple[int, ...] = ()


_served: Kept[Served] = Kept()


def newest_revision(site: Site) -> Revision | None:
    """The newest revision, without its archive."""
    return Revision.objects.filter(site=site).defer("archive").select_related("by").first()


def served(site: Site) -> Served:
    """What the published site serves now."""
    newest = newest_revision(site)
    return _served.get(site.pk, newest.pk, lambda older: _newest_readable(site)) if newest else Served(None)


def live(site: Site) -> LiveState | None:
    """The state that is live, None before the first publication."""
    return served(site).state


def _newest_readable(site: Site) -> Served:
    passed_over: list[int] = []
    for revision in Revision.objects.filter(site=site).select_related("by")[:_MOST_TRIED]:
        try:
            return Served(open_revision(revision), tuple(passed_over))
        except Unreadable as reason:
            log.error("%s of %s cannot be read: %s", revision, site.slug, reason)
            passed_over.append(revision.number)
    return Served(None, tuple(passed_over))


def open_revision(revision: Revision) -> LiveState:
    """Read a revision's archive. Raises Unreadable."""
    document, contents = _unpacked(bytes(revision.archive))
    return LiveState(document, PageIndex(document.tree()), revision=revision, contents=contents)


def _packed(document: SiteDocument, contents: dict[str, str]) -> bytes:
    """A state as a revision keeps it. Raises Unreadable for one that would not come out again as it went in."""
    archive = {"document": write_document(document), "contents": contents}
    packed = gzip.compress(orjson.dumps(archive), 6)
    read, _ = _unpacked(packed)
    if write_document(read) != archive["document"]:
        raise Unreadable("what is read back differs from what was written")
    return packed


def _unpacked(archive: bytes) -> tuple[SiteDocument, dict[str, str]]:
    try:
        tree = orjson.loads(gzip.decompress(archive))
        return read_document(tree["document"]), tree["contents"]
    except (OSError, EOFError, zlib.error, ValueError, KeyError, TypeError) as error:
        raise Unreadable(str(error)) from error


def changes_since_live(site: Site) -> list[Change]:
    """The parts that differ between draft and live; everything, before the first publication."""
    before, current = _published(site), draft(site)
    contents = sum(before.contents.get(path, digest) != digest for path, digest in _draft_contents(site))
    more = [Change("pages", "changed", "contents of pages", count=contents)] if contents else []
    return changed_parts(before.document, current.document) + more


def impact_since_live(site: Site) -> Impact:
    """What publishing the draft would change, for all visitors and from now on. Kept for an hour of the clock."""
    newest = newest_revision(site)
    hour = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
    return _impacts.get(site.pk, (site.version, newest and newest.pk, hour), lambda older: _impact(site))


def _impact(site: Site) -> Impact:
    before, after = _published(site), draft(site)
    if before.revision.number == 0:
        # Where nothing is live, what each page gets is no difference to anything: it is all there is.
        return Impact(own=after.document.pages)
    contents = before.contents, dict(_draft_contents(site))
    drawn = redrawing(before.document, before.index, after.document, after.index, contents)
    # From the full hour on, as it is kept for that hour: whoever asks now asks about a moment within.
    since = after.document.now().replace(minute=0, second=0, microsecond=0)
    return impact(before.document, before.index, after.document, after.index, since, drawn)


_counted: Kept[int] = Kept()
_impacts: Kept[Impact] = Kept()


def edits_since_live(site: Site) -> int:
    """How many parts differ between draft and live. Counted once for each version."""
    revision = newest_revision(site)
    version = (site.version, revision.pk if revision else 0)
    return _counted.get(site.pk, version, lambda older: len(changes_since_live(site)))


def _published(site: Site) -> LiveState:
    """What is live; before the first publication a site without pages, pieces and rules."""
    found = live(site)
    if found is not None:
        return found
    nothing = SiteDocument(name=site.name, slug=site.slug)
    return LiveState(nothing, PageIndex(nothing.tree()), revision=Revision(site=site, number=0), contents={})


def _draft_contents(site: Site) -> Iterator[tuple[str, str]]:
    """The path and the content digest of every page of the draft."""
    pairs = Page.objects.filter(site=site, gone=False).values_list("path", "content_id")
    return ((path, digest or "") for path, digest in pairs.iterator())


@transaction.atomic
def publish(site_slug: str, user: Any, note: str = "", expected_version: int | None = None) -> Revision:
    """Freeze the draft as a revision, which is live from then on.

    ``expected_version`` is the site version whose changes were looked at; another one is refused.
    """
    locked = lock_site(site_slug)
    seen = locked.version - 1
    if expected_version is not None and expected_version != seen:
        raise InTheWay("edited-meanwhile", "The draft was edited while you looked at it", "Look at the changes again.")
    if len(note) > MAX_NOTE:
        raise Refused("long-note", f"This note has {len(note)} characters; {MAX_NOTE} is the most")
    summary = changes_since_live(locked)
    last = newest_revision(locked)
    if last is not None and not summary:
        raise InTheWay("nothing-to-publish", "The live site is already the same as the draft")
    state = draft(locked)
    try:
        archive = _packed(state.document, dict(_draft_contents(locked)))
    except Unreadable as reason:
        raise Refused("unreadable", "The draft cannot be published: it could not be read back", str(reason)) from None
    return Revision.objects.create(
        site=locked,
        number=(last.number if last else 0) + 1,
        by=user,
        note=note.strip(),
        summary=[{"what": one.what, "how": one.how, "name": one.name, "details": list(one.details),
                  "count": one.count} for one in summary][:200],
        site_version=locked.version,
        archive=archive,
    )  # fmt: skip
