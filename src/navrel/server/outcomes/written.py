"""What is found in the pages' own content, kept until pages change; a content that was read is not read again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from navrel.core.pages.content import ContentFacts
from navrel.rendering.outline import content_facts
from navrel.server.inventory.models import Content, Page
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.state import SiteState

#: Contents that are fetched at once.
_AT_ONCE = 500


@dataclass(frozen=True)
class _Read:
    by_path: Mapping[str, ContentFacts] = field(default_factory=dict)
    by_digest: Mapping[str, ContentFacts] = field(default_factory=dict)


_written: Kept[_Read] = Kept()


def written(site: str, state: SiteState) -> Mapping[str, ContentFacts]:
    """What is found in the content of every page of a draft, by path."""
    return _written.get(site, state.inventory_version, lambda older: _read(site, older or _Read())).by_path


def _read(site: str, older: _Read) -> _Read:
    pages = Page.objects.filter(site__slug=site, gone=False, content__isnull=False)
    digests = dict(pages.values_list("path", "content_id"))
    known = {digest: older.by_digest[digest] for digest in digests.values() if digest in older.by_digest}
    new = sorted({digest for digest in digests.values() if digest not in known})
    for start in range(0, len(new), _AT_ONCE):
        some = Content.objects.filter(digest__in=new[start : start + _AT_ONCE]).values_list("digest", "html")
        known.update((digest, content_facts(html)) for digest, html in some)
    return _Read({path: known[digest] for path, digest in digests.items() if digest in known}, known)
