"""What a plain request tells of who asks, and by which of its headers."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from urllib.parse import parse_qsl

from django.conf import settings

from navrel.core.language.facts import BROWSERS, DEVICES
from navrel.core.language.visitor import Visitor

from .meta import Meta
from .sign_in import SignIn

#: How much of what may be long is looked at.
MOST_TAGS, _MOST_PARAMETERS = 20, 50
PHONE = re.compile(r"iphone|android.*mobile|mobile.*firefox", re.IGNORECASE)
TABLET = re.compile(r"ipad|tablet|android(?!.*mobile)", re.IGNORECASE)
#: In turn: some browsers name others too.
BROWSER_MARKS = (("edge", "Edg/"), ("firefox", "Firefox/"), ("chrome", "Chrome/"), ("safari", "Safari/"))
_TAG = re.compile(r"[A-Za-z0-9-]+")
_HOST = re.compile(r"https?://([^/:?#]+)")

#: By which header each fact is told: by the browser itself, and by an edge that has said it shorter already.
PLAINLY_TOLD = {
    "device": "User-Agent", "browser": "User-Agent", "accepts": "Accept-Language", "referrer": "Referer",
}  # fmt: skip
_AT_EDGE = {
    "device": "Navrel-Device", "browser": "Navrel-Browser", "accepts": "Navrel-Languages",
    "referrer": "Navrel-Referrer",
}  # fmt: skip


#: The facts about members, and by which header an edge tells that somebody may be one.
MEMBERS, _MEMBER_AT_EDGE = frozenset({"signed", "role"}), "Navrel-Member"


def visitor_of(meta: Meta, language: str, sign_in: SignIn | None = None) -> Visitor:
    """The visitor of a request to a site in ``language``, whose members are known by a sign-in of its own."""
    if settings.EDGE:
        device, browser = meta.get("HTTP_NAVREL_DEVICE", ""), meta.get("HTTP_NAVREL_BROWSER", "")
        device = device if device in DEVICES else "desktop"
        browser = browser if browser in BROWSERS else "other"
        accepts, referrer = meta.get("HTTP_NAVREL_LANGUAGES", ""), meta.get("HTTP_NAVREL_REFERRER", "")
    else:
        device, browser = _read_agent(meta.get("HTTP_USER_AGENT", ""))
        accepts = meta.get("HTTP_ACCEPT_LANGUAGE", "")
        named = _HOST.match(meta.get("HTTP_REFERER", ""))
        referrer = named[1] if named else ""
    roles = sign_in.member(meta) if sign_in else None
    return Visitor(
        signed="out" if roles is None else "in",
        roles=roles or frozenset(),
        device=device,
        browser=browser,
        accepts=_read_languages(accepts) or (language,),
        query=dict(parse_qsl(meta.get("QUERY_STRING", ""), keep_blank_values=True)[:_MOST_PARAMETERS]),
        referrer=referrer,
    )


def told_by(facts: frozenset[str], sign_in: SignIn | None = None) -> list[str]:
    """The headers of a request by which some facts are told, as `Vary` lists them (RFC 9110, section 12.5.5)."""
    headers = _AT_EDGE if settings.EDGE else PLAINLY_TOLD
    found = {headers[fact] for fact in facts if fact in headers}
    if sign_in and facts & MEMBERS:
        found.add(_MEMBER_AT_EDGE if settings.EDGE else sign_in.told_by)
    return sorted(found)


def asked_parameters(facts: Iterable[str]) -> list[str]:
    """The names of the parameters of the address that are among some facts."""
    return sorted(fact.removeprefix("query.") for fact in facts if fact.startswith("query."))


@lru_cache(maxsize=4096)
def _read_agent(agent: str) -> tuple[str, str]:
    """The device and the browser that call themselves so."""
    device = "tablet" if TABLET.search(agent) else "phone" if PHONE.search(agent) else "desktop"
    return device, next((name for name, mark in BROWSER_MARKS if mark in agent), "other")


@lru_cache(maxsize=4096)
def _read_languages(text: str) -> tuple[str, ...]:
    """The languages that are read, as they are listed (RFC 9110, section 12.5.4); how gladly is not asked."""
    tags = (part.split(";")[0].strip() for part in text.split(",")[:MOST_TAGS])
    return tuple(tag for tag in tags if _TAG.fullmatch(tag))
