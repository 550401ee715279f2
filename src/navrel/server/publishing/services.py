"""Draft and live: what changed, publishing it as a revision, and the live state that the public site serves."""

from __future__ import annotations

import gzip
from dataclasses import dataclass
from typing import Any

import orjson
from django.db import transaction

from navrel.core.changes import Change, changed_parts
from navrel.core.index import PageIndex
from navrel.core.reading import read_document
from navrel.core.writing import write_document
from navrel.server.inventory.models import Page, Site
from navrel.server.problems import Refused
from navrel.server.states import Kept, State, draft, lock_site

from .models import Revision

MAX_NOTE = 500


@dataclass(frozen=True)
class LiveState(State):
    """A published state: also knows its revision, and the content of every page by digest."""

    revision: Revision
    contents: dict[str, str]


_live = Kept()


def newest_revision(site: Site) -> Revision | None:
    """The revision that is live, without its archive."""
    return Revision.objects.filter(site=site).defer("archive").select_related("by").first()


def live(site: Site) -> LiveState | None:
    """The state that is live, None before the first publication."""
    revision = newest_revision(site)
    if revision is None:
        return None
    found = _live.get(site.pk, revision.number, lambda older: open_revision(revision))
    assert isinstance(found, LiveState)
    return found


def open_revision(revision: Revision) -> LiveState:
    """Read a revision's archive."""
    archive = orjson.loads(gzip.decompress(bytes(revision.archive)))
    document = read_document(archive["document"])
    return LiveState(document, PageIndex(document.site()), revision, archive["contents"])


def changes_since_live(site: Site) -> list[Change]:
    """The parts that differ between draft and live; everything, before the first publication."""
    published = live(site)
    current = draft(site).document
    if published is not None:
        contents = _changed_contents(site, published.contents)
        more = [Change("pages", "changed", "contents of pages", count=contents)] if contents else []
        return changed_parts(published.document, current) + more
    empty = read_document({"navrel": 1, "site": {"name": site.name, "slug": site.slug}})
    return changed_parts(empty, current)


_counted: dict[int, tuple[object, int]] = {}


def edits_since_live(site: Site) -> int:
    """How many parts differ between draft and live. Counted once for each version."""
    revision = newest_revision(site)
    key = (site.version, revision.number if revision else 0)
    known = _counted.get(site.pk)
    if known is None or known[0] != key:
        known = _counted[site.pk] = (key, len(changes_since_live(site)))
    return known[1]


def _changed_contents(site: Site, published: dict[str, str]) -> int:
    pairs = Page.objects.filter(site=site, gone=False).values_list("path", "content_id")
    return sum(path in published and published[path] != (digest or "") for path, digest in pairs.iterator())


@transaction.atomic
def publish(site_slug: str, user: Any, note: str = "", expected_version: int | None = None) -> Revision:
    """Freeze the draft as a revision, which is live from then on.

    ``expected_version`` is the site version whose changes were looked at; another one is refused.
    """
    locked = lock_site(site_slug)
    seen = locked.version - 1
    if expected_version is not None and expected_version != seen:
        raise Refused("edited-meanwhile", "The draft was edited while you looked at it", "Look at the changes again.")
    if len(note) > MAX_NOTE:
        raise Refused("long-note", f"This note has {len(note)} characters; {MAX_NOTE} is the most")
    summary = changes_since_live(locked)
    last = newest_revision(locked)
    if last is not None and not summary:
        raise Refused("nothing-to-publish", "The live site is already the same as the draft")
    state = draft(locked)
    contents = dict(Page.objects.filter(site=locked, gone=False).values_list("path", "content_id"))
    archive = {
        "document": write_document(state.document),
        "contents": {path: digest or "" for path, digest in contents.items()},
    }
    return Revision.objects.create(
        site=locked,
        number=(last.number if last else 0) + 1,
        by=user,
        note=note.strip(),
        summary=[{"what": one.what, "how": one.how, "name": one.name, "details": list(one.details),
                  "count": one.count} for one in summary][:200],
        site_version=locked.version,
        archive=gzip.compress(orjson.dumps(archive), 6),
    )  # fmt: skip
