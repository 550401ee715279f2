"""What an answer hangs on: the revision, and what of the request and the moment makes a difference at its address."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Hashable
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import cached_property
from urllib.parse import quote
from zoneinfo import ZoneInfo

from navrel.core.calendar.zones import unchanged_until
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.pages.page import Page
from navrel.rendering.environment import drawing_digest
from navrel.rendering.hinges import Hinges
from navrel.server.library.feeds import entries_of
from navrel.server.publishing.live import LiveState

from .meta import Meta
from .sign_in import SignIn, sign_in_of
from .visitors import MEMBERS, asked_parameters, is_member_at_edge, told_by, visitor_of


@dataclass
class Nature:
    """What makes a difference at an address of a site in ``language`` whose clocks show the time of ``zone``.

    ``sign_in``: how its members are known, None where it has none. ``stated_visitor`` and ``stated_moment``: as whom
    and when it is asked for, where that is not who asks, and now. ``stated_query``: the parameters of the page's
    address, where that is not the one which is asked.
    """

    hinges: Hinges
    language: str
    zone: ZoneInfo
    sign_in: SignIn | None = None
    stated_visitor: Visitor | None = None
    stated_moment: datetime | None = None
    stated_query: str | None = None
    #: What of now makes a difference, and until when that is so, in seconds of the epoch.
    _now: tuple[Hashable, float | None] = field(default=((), 0.0), repr=False)

    def visitor(self, meta: Meta) -> Visitor:
        """As whom a request is made."""
        if self.stated_visitor:
            return self.stated_visitor
        query = meta.get("QUERY_STRING", "") if self.stated_query is None else self.stated_query
        return visitor_of(meta, self.language, self.sign_in, query)

    @property
    def told_by(self) -> list[str]:
        """The headers of a request that make a difference."""
        return [] if self.stated_visitor else told_by(self.hinges.facts, self.sign_in)

    def key(self, meta: Meta) -> tuple[Hashable, float | None]:
        """What is alike for all requests that get the same answer now, and until when that goes on to be so."""
        now = self._now
        if now[1] is not None and time.time() >= now[1]:
            moment = self.moment()
            now = self._now = self.hinges.at(moment.replace(tzinfo=None)), self.until(moment)
        return self._key(self.visitor(meta) if self.hinges.facts else None, now[0]), now[1]

    def key_of(self, lens: Lens) -> Hashable:
        """What is alike for all requests that get what is drawn through a lens."""
        return self._key(lens.visitor, self.hinges.at(lens.moment))

    def _key(self, visitor: Visitor | None, moment: Hashable) -> Hashable:
        told = self.hinges.of_visitor(visitor) if visitor and self.hinges.facts else ()
        return told, moment, self.hinges.said(entries_of)

    def moment(self) -> datetime:
        """When a request is made, or for when it asks, in the zone of the clocks of the site."""
        return self.stated_moment.replace(tzinfo=self.zone) if self.stated_moment else datetime.now(self.zone)

    def until(self, now: datetime) -> float | None:
        """Until when, in seconds of the epoch, nothing that hangs on the moment is another; None for always."""
        if self.stated_moment is not None or not self.hinges.is_timed:
            return None
        return unchanged_until(now, self.hinges.until(now.replace(tzinfo=None))).timestamp()


@dataclass(frozen=True)
class Hung:
    """What one answer hangs on. ``until``: in seconds of the epoch, None for without end.

    ``revision`` is the key of the revision, ``number`` what people call it. ``asked_by``: the headers by which programs
    ask, none for the pages themselves.
    """

    site: int
    revision: int
    number: int
    nature: Nature
    lens: Lens
    key: Hashable
    etag: str
    until: float | None
    asked_by: tuple[str, ...]
    #: By which caches that are told of publications may drop it: site, revision, page, pieces.
    surrogate_keys: str

    @cached_property
    def is_private(self) -> bool:
        """Whether it is another for whoever is signed out."""
        visitor, hinges = self.lens.visitor, self.nature.hinges
        if visitor.signed == "out" or not hinges.facts & MEMBERS:
            return False
        return hinges.of_visitor(replace(visitor, signed="out", roles=frozenset())) != hinges.of_visitor(visitor)

    def is_for(self, meta: Meta) -> bool:
        """Whether it is for whoever asks so alone: no cache may give it to others.

        A cache does not read tokens: one that has ended looks to it like one that holds. So what is answered to a
        request with one is kept by nobody, where members may see another.
        """
        if self.is_private or self.nature.stated_visitor or not self.nature.hinges.facts & MEMBERS:
            return self.is_private
        sign_in = self.nature.sign_in
        return sign_in is not None and (is_member_at_edge(meta) or bool(sign_in.token_of(meta)))

    @property
    def vary(self) -> str:
        """The headers by which requests are told apart that get another answer (RFC 9110, section 12.5.5)."""
        return ", ".join(["Accept-Encoding", *self.asked_by, *self.nature.told_by])

    @property
    def no_vary_search(self) -> str:
        """Which parameters of the address make a difference, to caches (No-Vary-Search, an Internet-Draft)."""
        names = " ".join(f'"{name}"' for name in asked_parameters(self.nature.hinges.facts))
        return f"params, except=({names})" if names else "params"


def nature_of(state: LiveState, page: Page) -> Nature:
    """What makes a difference to what is shown of a page."""
    document = state.document
    zone, sign_in = ZoneInfo(document.time_zone), sign_in_of(document.slug)
    return Nature(state.hinges.of(page), document.language, zone, sign_in)


def hung_on(
    state: LiveState, page: Page, nature: Nature, meta: Meta, kind: Hashable, asked_by: tuple[str, ...] = ()
) -> Hung:
    """What an answer hangs on that shows a page to a request; ``kind`` tells what of it is shown, and how."""
    # What is drawn is of the very moment that it is kept under: something may begin while a request is answered.
    now = nature.moment()
    lens = Lens(nature.visitor(meta), now.replace(tzinfo=None))
    key, until = nature.key_of(lens), nature.until(now)
    revision = state.revision
    told = (revision.pk, page.path, kind, key, drawing_digest())
    etag = hashlib.blake2b(repr(told).encode(), digest_size=16).hexdigest()
    keys = _surrogate_keys(state, page, nature.hinges)
    return Hung(revision.site_id, revision.pk, revision.number, nature, lens, key, f'W/"{etag}"', until, asked_by, keys)


#: How long the names of pages and pieces may be, in characters, to be told one by one: servers before this one take
#: only so much of what an answer says of itself.
_LONGEST_PAGE, _LONGEST_PIECES = 500, 2_000


def _surrogate_keys(state: LiveState, page: Page, hinges: Hinges) -> str:
    slug, path = state.document.slug, quote(page.path)
    if len(path) > _LONGEST_PAGE:
        path = hashlib.blake2b(path.encode(), digest_size=16).hexdigest()
    pieces = " ".join(f"piece:{slug}:{piece}" for piece in hinges.pieces)
    if len(pieces) > _LONGEST_PIECES:
        pieces = f"piece:{slug}:*"
    return f"site:{slug} revision:{slug}:{state.revision.number} page:{slug}:{path} {pieces}".rstrip()
