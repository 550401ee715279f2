"""What a page hinges on: all that its HTML may be another for, besides the site itself.

It is known before anything is drawn. Lenses that are alike in it are shown the same HTML, to the byte.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import IntEnum
from functools import cached_property, lru_cache
from typing import Any

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.strength import Match
from navrel.core.language.visitor import Visitor
from navrel.core.layout.contents import CODE, items_of
from navrel.core.layout.model import Piece
from navrel.core.lenses.relevance import Relevance, page_relevance
from navrel.core.pages.page import Page

from .items.feeds import Feeds
from .items.registry import ITEMS, by_day, by_minute, by_sign_in
from .markup.language import MarkupError, read_markup
from .placeholders import named_in


class Clock(IntEnum):
    """How finely a text tells the time; the finest of several counts."""

    NEVER, YEAR, DAY = range(3)

    def at(self, moment: datetime) -> datetime | None:
        """The beginning of the time in which it tells the same."""
        day = moment.replace(hour=0, minute=0, second=0, microsecond=0)
        return (None, day.replace(month=1, day=1), day)[self]

    def until(self, moment: datetime) -> datetime | None:
        """When it tells something else; None for never."""
        began = self.at(moment)
        if began is None or began.year == datetime.max.year:
            return None
        return began.replace(year=began.year + 1) if self is Clock.YEAR else began + timedelta(days=1)


#: What a text may tell of a visitor as it is.
_TOLD = ("signed", "role", "device", "browser")
#: What markup calls them, where that is another word.
_NAMES = {"roles": "role"}
#: What markup is told of other pages than the one it is drawn on: parts of a name; None for the whole of it.
_ELSEWHERE = {"page": {"above", "terms"}, "menus": None}


@dataclass(frozen=True)
class Telling:
    """What texts tell by themselves, whatever the rules say: facts of the visitor, the time, feeds by address.

    ``times``: those of the day at which something else is told, as `18:30`; with them the clock is at least the day.
    """

    facts: frozenset[str] = frozenset()
    clock: Clock = Clock.NEVER
    times: frozenset[str] = frozenset()
    feeds: frozenset[str] = frozenset()

    @classmethod
    def together(cls, tellings: Iterable[Telling]) -> Telling:
        """What several tell."""
        each = tuple(tellings)
        return cls(
            frozenset[str]().union(*(one.facts for one in each)),
            max((one.clock for one in each), default=Clock.NEVER),
            frozenset[str]().union(*(one.times for one in each)),
            frozenset[str]().union(*(one.feeds for one in each)),
        )

    def at(self, moment: datetime) -> tuple[Hashable, ...]:
        """What of a moment it tells."""
        shown = f"{moment:%H:%M}"
        return (self.clock.at(moment), *(time <= shown for time in sorted(self.times)))

    def until(self, moment: datetime) -> datetime | None:
        """When it tells something else; None for never."""
        shown = f"{moment:%H:%M}"
        today = moment.replace(second=0, microsecond=0)
        later = (time.split(":") for time in self.times if time > shown)
        changes = [today.replace(hour=int(hour), minute=int(minute)) for hour, minute in later]
        return min((*changes, *filter(None, [self.clock.until(moment)])), default=None)


@dataclass(frozen=True)
class Hinges:
    """What one page hinges on: what its rules ask about, and what its texts tell.

    ``pieces``: the slugs of all that may stand there, in alphabetical order.
    """

    relevance: Relevance = Relevance()
    telling: Telling = Telling()
    pieces: tuple[str, ...] = ()

    @cached_property
    def facts(self) -> frozenset[str]:
        """The facts about visitors that make a difference; a parameter of the address as `query.NAME`."""
        return self.relevance.facts | self.telling.facts

    @property
    def is_timed(self) -> bool:
        """Whether anything hangs on the moment."""
        return bool(self.relevance.schedules) or self.telling.clock is not Clock.NEVER

    def of_visitor(self, visitor: Visitor) -> tuple[Hashable, ...]:
        """What of a visitor makes a difference."""
        if not self.telling.facts:
            return (self.relevance.of_visitor(visitor),)
        roles = tuple(sorted(visitor.roles))
        known = {"signed": visitor.signed, "role": roles, "device": visitor.device, "browser": visitor.browser}
        told: Iterator[Hashable] = (known[fact] for fact in _TOLD if fact in self.telling.facts)
        return (self.relevance.of_visitor(visitor), *told)

    def at(self, moment: datetime) -> tuple[Hashable, ...]:
        """What of a moment makes a difference."""
        return (self.relevance.at(moment), self.telling.at(moment))

    def until(self, moment: datetime) -> datetime | None:
        """The first moment after this one at which something else may be shown; None for never again."""
        changes = (self.relevance.until(moment), self.telling.until(moment))
        return min((change for change in changes if change is not None), default=None)

    def said(self, feeds: Feeds) -> tuple[Hashable, ...]:
        """What the feeds say that it shows."""
        return tuple(tuple(feeds(url)) for url in sorted(self.telling.feeds))


class SiteHinges:
    """What the pages of one state hinge on, worked out once for those that are alike."""

    def __init__(self, resolver: PageResolver) -> None:
        self._resolver = resolver
        self._layout = resolver.layout
        self._pieces: dict[str, Telling] = {}
        #: By what pages match, and their own slots and locks: pages that agree in these are alike.
        self._known: dict[Hashable, Hinges] = {}

    def of(self, page: Page) -> Hinges:
        """What a page hinges on."""
        number = self._resolver.index.tree.numbers[page.path]
        alike = (tuple(self._resolver.classes.matching(number)), page.slots, page.bound, page.locks)
        found = self._known.get(alike)
        if found is None:
            matches, _ = self._resolver.matches(number)
            relevance = page_relevance(self._resolver.index.tree, self._layout, page, matches)
            pieces = tuple(sorted(self._pieces_of(matches)))
            telling = Telling.together((self._told_by_settings(matches), *map(self._told_by_piece, pieces)))
            found = self._known[alike] = Hinges(relevance, telling, pieces)
        return found

    def _told_by_settings(self, matches: list[Match]) -> Telling:
        """What the values tell that settings may have on a page."""
        texts = [setting.default for setting in self._layout.settings]
        texts += [action.value or "" for match in matches for action in match.rule.actions]
        return told_by_texts(text for text in texts if isinstance(text, str))

    def _told_by_piece(self, slug: str) -> Telling:
        if slug not in self._pieces:
            self._pieces[slug] = told_by_piece(self._layout.pieces[slug])
        return self._pieces[slug]

    def _pieces_of(self, matches: list[Match]) -> set[str]:
        """The pieces that may stand on a page, those inside of others among them."""
        pieces = self._layout.pieces
        named = {self._layout.default_template, *(one.piece for match in matches for one in match.rule.actions)}
        known = {slug for slug in named if slug is not None and slug in pieces}
        known |= {entry.piece for slug in known for entry in pieces[slug].entries_on} & pieces.keys()
        return known.union(*(self._layout.inner.get(slug, ()) for slug in known)) & pieces.keys()


def told_by_texts(texts: Iterable[str]) -> Telling:
    """What texts tell by their placeholders."""
    names = named_in(texts)
    return Telling(clock=_clock_of(name.removeprefix("today.") for name in names if name.startswith("today.")))


def told_by_piece(piece: Piece) -> Telling:
    """What a piece tells by its items, those aside that stand in other pieces."""
    return Telling.together(_told_by_item(item) for item in items_of(piece.content))


def _told_by_item(item: Mapping[str, Any]) -> Telling:
    kind = ITEMS[item["type"]]
    texts = told_by_texts(value for value in item.values() if isinstance(value, str))
    facts = frozenset({"signed"}) if kind.sees is by_sign_in else frozenset[str]()
    clock = Clock.DAY if kind.sees in (by_day, by_minute) else Clock.NEVER
    own = Telling(facts, clock, frozenset(_times_of(item)), frozenset(_feeds_of(item)))
    return Telling.together((texts, own, told_by_markup(item[CODE]) if CODE in item else Telling()))


def _times_of(item: Mapping[str, Any]) -> Iterator[str]:
    """When something opens and closes, where it is told whether it is open."""
    if item["type"] == "hours" and item.get("now", True):
        for one in item.get("hours", ()):
            yield from (one["from"], one["until"])


def _feeds_of(item: Mapping[str, Any]) -> Iterator[str]:
    if item["type"] == "feed" and (url := item.get("url")):
        yield url


@lru_cache(maxsize=512)
def told_by_markup(code: str) -> Telling:
    """What markup tells, by the names that it asks for; where that cannot be said, all that there is to tell."""
    try:
        asked = read_markup(code).global_variable_segments()
    except MarkupError:
        # It draws nothing, whoever looks.
        return Telling()
    facts: set[str] = set()
    clock = Clock.NEVER
    for name, *more in asked:
        part = more[0] if more else None
        if name == "visitor" or not isinstance(name, str):
            known = _NAMES.get(part, part) if isinstance(part, str) else None
            facts.update([known] if known in _TOLD else _TOLD)
        if name == "today" or not isinstance(name, str):
            clock = max(clock, _clock_of([part if isinstance(part, str) else ""]))
    return Telling(frozenset(facts), clock)


@lru_cache(maxsize=512)
def looks_elsewhere(code: str) -> bool:
    """Whether markup may tell of other pages than the one it is drawn on."""
    try:
        read = read_markup(code)
    except MarkupError:
        # It draws nothing, wherever it stands.
        return False
    if "pages" in read.filter_names():
        return True
    for name, *more in read.global_variable_segments():
        if isinstance(name, str) and name not in _ELSEWHERE:
            continue
        parts = _ELSEWHERE.get(name) if isinstance(name, str) else None
        # What is asked for by a name that is worked out may be anything, and so may what is asked for as a whole.
        if parts is None or not more or not isinstance(more[0], str) or more[0] in parts:
            return True
    return False


def _clock_of(names: Iterable[str]) -> Clock:
    """How finely parts of `today` tell the time."""
    return max((Clock.YEAR if name == "year" else Clock.DAY for name in names), default=Clock.NEVER)
