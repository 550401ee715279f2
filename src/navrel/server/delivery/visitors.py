"""What a plain request tells of who asks, and by which of its headers."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from django.conf import settings

from navrel.core.language.facts import BROWSERS, DEVICES
from navrel.core.language.visitor import Visitor
from navrel.request import PLAINLY_TOLD, plain_visitor, read_languages

from .meta import Meta
from .sign_in import SignIn

#: By which header each fact is told by an edge that has said it shorter already.
_AT_EDGE = {
    "device": "Navrel-Device", "browser": "Navrel-Browser", "accepts": "Navrel-Languages",
    "referrer": "Navrel-Referrer",
}  # fmt: skip


#: The facts about members, and by which header an edge tells that somebody may be one.
MEMBERS, _MEMBER_AT_EDGE = frozenset({"signed", "role"}), "Navrel-Member"


def visitor_of(meta: Meta, language: str, sign_in: SignIn | None = None, query: str = "") -> Visitor:
    """The visitor of a request to a site in ``language``, whose members are known by a sign-in of its own.

    ``query``: the parameters of the address of the page.
    """
    visitor = plain_visitor(meta, language, query)
    if settings.EDGE:
        device, browser = meta.get("HTTP_NAVREL_DEVICE", ""), meta.get("HTTP_NAVREL_BROWSER", "")
        visitor = replace(
            visitor,
            device=device if device in DEVICES else "desktop",
            browser=browser if browser in BROWSERS else "other",
            accepts=read_languages(meta.get("HTTP_NAVREL_LANGUAGES", "")) or (language,),
            referrer=meta.get("HTTP_NAVREL_REFERRER", ""),
        )
    roles = sign_in.member(meta) if sign_in else None
    return visitor if roles is None else replace(visitor, signed="in", roles=roles)


def told_by(facts: frozenset[str], sign_in: SignIn | None = None) -> list[str]:
    """The headers of a request by which some facts are told, as `Vary` lists them (RFC 9110, section 12.5.5)."""
    headers = _AT_EDGE if settings.EDGE else PLAINLY_TOLD
    found = {headers[fact] for fact in facts if fact in headers}
    if sign_in and facts & MEMBERS:
        found.add(_MEMBER_AT_EDGE if settings.EDGE else sign_in.told_by)
    return sorted(found)


def is_member_at_edge(meta: Meta) -> bool:
    """Whether an edge says that a request carries the token of a member, which may hold or not."""
    return settings.EDGE and bool(meta.get("HTTP_NAVREL_MEMBER"))


def asked_parameters(facts: Iterable[str]) -> list[str]:
    """The names of the parameters of the address that are among some facts."""
    return sorted(fact.removeprefix("query.") for fact in facts if fact.startswith("query."))
