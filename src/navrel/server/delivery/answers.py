"""Pages as they were answered, kept: what is asked for again in the same way is not drawn again.

What is kept never becomes wrong, for it is kept under everything that it hangs on: the revision, the address, and what
of the visitor, the moment and the feeds makes a difference there.
"""

from __future__ import annotations

import gzip
import time
from collections import OrderedDict
from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cached_property
from threading import Lock

from django.conf import settings

from .hanging import Hung, Nature
from .meta import Meta

#: Below this many bytes squeezing makes nothing smaller.
_TOO_SMALL = 200
#: Fast and nearly as small: a page is squeezed while somebody waits.
_LEVEL = 5
#: For how long, in seconds, something is good that never changes by itself.
_EVER = 10**9
#: So many seconds before it changes by itself an answer is good no more: it is on its way for a while, and caches count
#: whole seconds, some of them one more (RFC 9111, section 4.2).
_ON_ITS_WAY = 1.5
#: What an answer takes beside its bytes, about.
_BESIDE = 2_000


@dataclass(frozen=True)
class Answer:
    """One answer to a plain request: its headers, but for those of its age and of the coding, and its bytes.

    ``asked``: what the request said, so that it can be made again.
    """

    headers: tuple[tuple[str, str], ...]
    body: bytes
    hung: Hung
    asked: Meta

    @cached_property
    def squeezed(self) -> bytes:
        """Its bytes in the coding `gzip` (RFC 9110, section 8.4.1.3); empty where that makes nothing smaller."""
        if len(self.body) < _TOO_SMALL:
            return b""
        squeezed = gzip.compress(self.body, _LEVEL, mtime=0)
        return squeezed if len(squeezed) < len(self.body) else b""

    @property
    def size(self) -> int:
        """How many bytes it takes to keep, about."""
        return len(self.body) * 2 + _BESIDE


@dataclass
class Place:
    """What is known of an address at one revision: what it hinges on, and its answers by what is alike.

    ``is_asked``: whether anybody has asked there; else its answers were drawn ahead.
    """

    site: int
    revision: int
    nature: Nature
    is_asked: bool = False
    answers: dict[Hashable, Answer] = field(default_factory=dict)

    @property
    def size(self) -> int:
        """How many bytes its answers take, about."""
        return sum(answer.size for answer in self.answers.values())


@dataclass
class Answers:
    """The answers that one process keeps: at most ``most`` bytes of them, those that were asked for last."""

    most: int
    size: int = 0
    _places: OrderedDict[Hashable, Place] = field(default_factory=OrderedDict)
    _lock: Lock = field(default_factory=Lock)

    def find(self, address: Hashable, revision: int) -> Place | None:
        """What is known of an address at a revision."""
        with self._lock:
            place = self._places.get((address, revision))
            if place is not None:
                place.is_asked = True
                self._places.move_to_end((address, revision))
            return place

    def keep(self, address: Hashable, answer: Answer, *, ahead: bool = False) -> None:
        """Keep an answer to what was asked at an address; ``ahead``: to what nobody has asked yet."""
        hung = answer.hung
        with self._lock:
            place = self._places.pop((address, hung.revision), None)
            self.size -= place.size if place else 0
            if place is None:
                place = Place(hung.site, hung.revision, hung.nature)
            if place.size + answer.size > self.most // 4:
                # One address that has very many looks does not push out all others.
                place.answers.clear()
            place.answers[hung.key] = answer
            place.is_asked = place.is_asked or not ahead
            self._places[address, hung.revision] = place
            self.size += place.size
            while self.size > self.most and len(self._places) > 1:
                self.size -= self._places.popitem(last=False)[1].size

    def leave(self, site: int, revision: int) -> None:
        """Keep of a site only what is of one revision."""
        with self._lock:
            gone = [key for key, one in self._places.items() if one.site == site and one.revision != revision]
            for key in gone:
                self.size -= self._places.pop(key).size

    def asked_last(self, site: int, most: int) -> list[Meta]:
        """What was asked of a site, those requests first that were made last: what anybody may be told."""
        with self._lock:
            places = [one for one in reversed(self._places.values()) if one.site == site and one.is_asked]
            answers = [answer for place in places for answer in place.answers.values()]
        return [one.asked for one in answers if not one.hung.is_private and not one.hung.asked_by][:most]

    def clear(self) -> None:
        """Keep nothing."""
        with self._lock:
            self._places.clear()
            self.size = 0


#: Those of this process.
ANSWERS = Answers(settings.MOST_KEPT)


def cache_control(hung: Hung, until: float | None, meta: Meta) -> str:
    """How long an answer may be used unasked (RFC 9111; RFC 5861): never beyond what it hangs on.

    ``until``: when that may change by itself, in seconds of the epoch, None for never; ``meta``: who asks.
    ``settings.MAX_AGE`` is for whoever asks, ``settings.SHARED_MAX_AGE`` for caches before the server, which are told
    when something is published. What members alone see is kept by nobody else.
    """
    if hung.is_for(meta):
        return "private, no-cache"
    left = _EVER if until is None else max(0, int(until - time.time() - _ON_ITS_WAY))
    own, shared = min(settings.MAX_AGE, left), min(settings.SHARED_MAX_AGE, left)
    if not shared and not own:
        return "no-cache"
    stale = min(settings.STALE_AGE, left - shared)
    meanwhile = f", stale-while-revalidate={stale}" if stale > 0 else ""
    return f"public, max-age={own}, s-maxage={shared}{meanwhile}"
