"""The contents of pages, kept by what they say: one is read once, for all the looks that it is drawn in."""

from __future__ import annotations

from threading import Lock

from cachetools import LRUCache, cached
from django.conf import settings

from .models import Content


def read_content(digest: str) -> str:
    """The content that is filed under a digest, as sanitised HTML; nothing where there is none."""
    try:
        return _read(digest) if digest else ""
    except Content.DoesNotExist:
        return ""


# Beside the drawn pages, and a quarter of what they may take. What is under a digest is never another.
@cached(LRUCache[str, str](settings.MOST_KEPT // 4, getsizeof=len), key=str, lock=Lock())
def _read(digest: str) -> str:
    return str(Content.objects.values_list("html", flat=True).get(pk=digest))
