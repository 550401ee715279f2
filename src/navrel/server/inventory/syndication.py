"""What the feeds of a site say of its pages: who wrote them, when, and what about (Atom, RFC 4287; RSS 2.0)."""

from __future__ import annotations

import datetime
from typing import Any

import feedparser

from navrel.core.layout.document import slugify
from navrel.core.pages.page import page_path
from navrel.core.text import fit

from .addresses import Around, address_of
from .decoding import Unreadable
from .head import MAX_FACT, MAX_TERMS

#: Most entries of one that are looked at.
MOST_ENTRIES = 5000


def read_feed(data: bytes, base_url: str, address: str) -> dict[str, dict[str, Any]]:
    """What a feed says of pages of the site, by their paths: author, day as ISO 8601, and terms with their names.

    Raises Unreadable.
    """
    if b"<!ENTITY" in data.upper():
        raise Unreadable("declares entities, of which a few lines can stand for billions of letters")
    around = Around(address, base_url)
    found: dict[str, dict[str, Any]] = {}
    for entry in feedparser.parse(data, sanitize_html=False, resolve_relative_uris=False).entries[:MOST_ENTRIES]:
        own = around.own(str(entry.get("link", "")))
        if own is not None:
            found.setdefault(page_path(address_of(own)), _facts(entry))
    return found


def _facts(entry: Any) -> dict[str, Any]:
    names = [_text(tag.get("label") or tag.get("term")) for tag in entry.get("tags", [])[:MAX_TERMS]]
    author = _text((entry.get("author_detail") or {}).get("name") or entry.get("author"))
    return {
        "author": slugify(author) if author else "",
        "published": _day(entry.get("published_parsed") or entry.get("updated_parsed")),
        "terms": {f"topic/{slugify(name)}": name for name in names if name},
    }


def _day(stamp: Any) -> str | None:
    try:
        return datetime.date(*stamp[:3]).isoformat() if stamp else None
    except ValueError:
        return None


def _text(stated: Any) -> str:
    return fit(" ".join(str(stated or "").split()), MAX_FACT)
