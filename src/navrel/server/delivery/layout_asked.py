"""What a program asks the layout API for: about which site, with which token, as which visitor, and when."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from functools import wraps

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from navrel.core.calendar.schedule import read_moment
from navrel.core.errors import QueryError, ScheduleError
from navrel.core.language.visitor import Visitor
from navrel.core.language.visitor_terms import parse_visitor
from navrel.core.pages.page import Page
from navrel.server.accounts.rights import role_of
from navrel.server.accounts.tokens import find_token
from navrel.server.api.errors import Malformed, Missing, ParameterProblem, Refused, Unavailable, Unknown, plain_problem
from navrel.server.publishing.hosts import served_sites
from navrel.server.publishing.live import LiveState, served_meanwhile

from .hanging import Nature, nature_of
from .meta import Meta

#: Where the layout API is: no site has a page there.
BEGINNING = "/-/layout/v1/"
#: By which an edge says on which page what it asks for is going to stand, with its parameters.
PAGE_HEADER, PAGE_META = "Navrel-Page", "HTTP_NAVREL_PAGE"
#: For how long, in seconds, a token that held is taken to hold, at the most; whoever takes one back is told of at once.
_REMEMBERED = 60.0
_MOST_REMEMBERED = 1_000
_LONGEST = 4_000


class Tokens:
    """The tokens that held when they were asked about: for which site, and until when that is remembered."""

    def __init__(self) -> None:
        self._held: dict[str, tuple[int, float]] = {}

    def holds(self, token: str, site: int) -> bool:
        """Whether a token is known to hold for a site."""
        known = self._held.get(token)
        return known is not None and known[0] == site and time.monotonic() < known[1]

    def remember(self, token: str, site: int, seconds: float) -> None:
        """That a token holds for a site, for so many seconds from now on."""
        if len(self._held) >= _MOST_REMEMBERED:
            self._held.clear()
        self._held[token] = site, time.monotonic() + min(seconds, _REMEMBERED)

    def clear(self) -> None:
        """Remember none."""
        self._held.clear()


TOKENS = Tokens()
#: What a program is asked to show (RFC 6750, section 3).
_CHALLENGE = 'Bearer realm="Navrel"'
#: Headers of what is refused; after so many seconds it is worth asking again (RFC 9110, section 10.2.3).
_TOLD_BESIDE = {Unknown: {"WWW-Authenticate": _CHALLENGE}, Unavailable: {"Retry-After": "5"}}


@dataclass(frozen=True)
class Asking:
    """A program whose token holds for a site that serves something; ``meta`` are the headers of what it asks."""

    state: LiveState
    meta: Meta

    def page(self, address: str) -> Page:
        """The page that an address means, parameters and all. Raises Missing."""
        page = self.state.index.tree.meant(address.partition("?")[0])
        if page is None:
            raise Missing("no-page", f"There is no page at {address[:200]}")
        return page

    def asked_page(self, stated: Mapping[str, str]) -> str:
        """The address of a page that a request states, or that an edge says in PAGE_HEADER. Raises Malformed."""
        address = stated.get("path") or self.meta.get(PAGE_META, "")
        if not address:
            raise Malformed("no-path", "This asks for path")
        return address

    def nature(self, page: Page, stated: Mapping[str, str], address: str) -> Nature:
        """What makes a difference to a page, for a visitor and a moment that are stated, or else for who asks now.

        ``address``: that of the page, whose parameters count as those of who asks. Raises Refused.
        """
        nature = replace(nature_of(self.state, page), stated_query=address.partition("?")[2])
        if "visitor" in stated:
            nature = replace(nature, stated_visitor=self._visitor(stated["visitor"]))
        return replace(nature, stated_moment=self._moment(stated["at"])) if stated.get("at") else nature

    def _visitor(self, text: str) -> Visitor:
        try:
            return parse_visitor(text[:_LONGEST], self.state.document.language)
        except QueryError as error:
            raise Refused.for_parameter(ParameterProblem.of("visitor", error)) from None

    def _moment(self, text: str) -> datetime:
        try:
            return read_moment(text[:_LONGEST])
        except ScheduleError as error:
            raise Refused.for_parameter(ParameterProblem.of("at", error)) from None


def parameters(request: HttpRequest, *known: str) -> dict[str, str]:
    """The parameters of an address, each once. Raises Malformed for one that is not known, or comes twice."""
    for name in request.GET:
        if name not in known:
            told = f"There is {', '.join(known)}." if known else "There is none."
            raise Malformed("unknown-parameter", f"There is no parameter {name[:100]} here", told)
        if len(request.GET.getlist(name)) > 1:
            raise Malformed("repeated-parameter", f"{name} is said twice")
    return {name: str(request.GET[name]) for name in request.GET}


def asks_layouts(view: Callable[..., HttpResponseBase]) -> Callable[..., HttpResponseBase]:
    """A view of the layout API, given who asks; what it refuses is told as a problem (RFC 9457)."""

    @wraps(view)
    def asked(request: HttpRequest, site: str, *more: str) -> HttpResponseBase:
        try:
            return view(request, _asking(request, site), *more)
        except Refused as error:
            headers = next((told for kind, told in _TOLD_BESIDE.items() if isinstance(error, kind)), {})
            return plain_problem(error.status, error.code, error.title, error.detail, **headers)

    return asked


def token_of(meta: Meta) -> str:
    """The token of a request (RFC 6750, section 2.1); empty where there is none."""
    scheme, _, token = meta.get("HTTP_AUTHORIZATION", "").partition(" ")
    return token.strip() if scheme.lower() == "bearer" else ""


def _asking(request: HttpRequest, slug: str) -> Asking:
    text = token_of(request.META)
    if not text:
        raise Unknown("token-wanted", "This takes a token", "Send it as Authorization: Bearer and the token.")
    token = find_token(text)
    if token is None:
        raise Unknown("wrong-token", "This token does not hold", "It has ended, or was taken back.")
    site = served_sites().filter(slug=slug, pk=token.site_id).first()
    if site is None or role_of(token.user, slug) is None:
        raise Missing("no-site", f"There is no site {slug} that this token is for")
    state = served_meanwhile(site, settings.READERS_WAIT).state
    if state is None:
        raise Unavailable("nothing-published", "Nothing is published here yet")
    TOKENS.remember(text, site.pk, token.ends.timestamp() - time.time())
    return Asking(state, request.META)
