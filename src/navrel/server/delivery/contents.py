"""The contents of pages, kept by what they say: one is read once, for all the looks that it is drawn in."""

from __future__ import annotations

from threading import Lock

from cachetools import LRUCache, cached
from django.conf import settings

from navrel.server.inventory.models import Content
from navrel.server.publishing.live import LiveState


def content_of(state: LiveState, path: str) -> str:
    """The content of a page as HTML; nothing where it has none."""
    digest = state.contents.get(path, "")
    try:
        return _read(digest) if digest else ""
    except Content.DoesNotExist:
        return ""


# Beside the drawn pages, and a quarter of what they may take. What is under a digest is never another.
@cached(LRUCache[str, str](settings.MOST_KEPT // 4, getsizeof=len), key=str, lock=Lock())
def _read(digest: str) -> str:
    return str(Content.objects.values_list("html", flat=True).get(pk=digest))
