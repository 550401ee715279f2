"""What a plain HTTP request tells of who asks: on the published site, and in programs that draw in place.

Headers are as a WSGI server gives them (PEP 3333): `HTTP_USER_AGENT` and its like.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from urllib.parse import parse_qsl

from navrel.core.language.visitor import Visitor

#: How much of what may be long is looked at.
MOST_TAGS, _MOST_PARAMETERS = 20, 50
PHONE = re.compile(r"iphone|android.*mobile|mobile.*firefox", re.IGNORECASE)
TABLET = re.compile(r"ipad|tablet|android(?!.*mobile)", re.IGNORECASE)
#: In turn: some browsers name others too.
BROWSER_MARKS = (("edge", "Edg/"), ("firefox", "Firefox/"), ("chrome", "Chrome/"), ("safari", "Safari/"))
_TAG = re.compile(r"[A-Za-z0-9-]+")
_HOST = re.compile(r"https?://([^/:?#]+)")

#: By which header each fact is told.
PLAINLY_TOLD = {
    "device": "User-Agent", "browser": "User-Agent", "accepts": "Accept-Language", "referrer": "Referer",
}  # fmt: skip


def plain_visitor(meta: Mapping[str, str], language: str, query: str) -> Visitor:
    """Who asks for a page of a site in ``language`` with these headers, signed out.

    ``query``: the parameters of the address of the page.
    """
    device, browser = _read_agent(meta.get("HTTP_USER_AGENT", ""))
    named = _HOST.match(meta.get("HTTP_REFERER", ""))
    return Visitor(
        device=device,
        browser=browser,
        accepts=read_languages(meta.get("HTTP_ACCEPT_LANGUAGE", "")) or (language,),
        query=dict(parse_qsl(query, keep_blank_values=True)[:_MOST_PARAMETERS]),
        referrer=named[1] if named else "",
    )


@lru_cache(maxsize=4096)
def _read_agent(agent: str) -> tuple[str, str]:
    """The device and the browser that call themselves so."""
    device = "tablet" if TABLET.search(agent) else "phone" if PHONE.search(agent) else "desktop"
    return device, next((name for name, mark in BROWSER_MARKS if mark in agent), "other")


@lru_cache(maxsize=4096)
def read_languages(text: str) -> tuple[str, ...]:
    """The languages that are read, as they are listed (RFC 9110, section 12.5.4); how gladly is not asked."""
    tags = (part.split(";")[0].strip() for part in text.split(",")[:MOST_TAGS])
    return tuple(tag for tag in tags if _TAG.fullmatch(tag))
