"""What a page hinges on: all that its HTML may be another for, besides the site itself.

It is known before anything is drawn. Lenses that are alike in it are shown the same HTML, to the byte.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import IntEnum
from functools import cached_property
from typing import Any

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.strength import Match
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.contents import CODE, items_of
from navrel.core.layout.model import Layout, Piece
from navrel.core.lenses.relevance import Relevance, page_relevance
from navrel.core.pages.page import Page

from .items.feeds import Feeds
from .items.registry import ITEMS, by_day, by_minute, by_sign_in
from .markup.language import MarkupError, read_markup
from .placeholders import named_in


class Clock(IntEnum):
    """How finely a text tells the time; the finest of several counts."""

    NEVER, YEAR, DAY, MINUTE = range(4)

    def at(self, moment: datetime) -> datetime | None:
        """The beginning of the time in which it tells the same."""
        day = moment.replace(hour=0, minute=0, second=0, microsecond=0)
        return (None, day.replace(month=1, day=1), day, moment.replace(second=0, microsecond=0))[self]

    def until(self, moment: datetime) -> datetime | None:
        """When it tells something else; None for never."""
        began = self.at(moment)
        if began is None or began.year == datetime.max.year:
            return None
        if self is Clock.YEAR:
            return began.replace(year=began.year + 1)
        return began + (timedelta(days=1) if self is Clock.DAY else timedelta(minutes=1))


#: What a text may tell of a visitor as it is.
_TOLD = ("signed", "role", "device", "browser")
#: What markup calls them, where that is another word.
_NAMES = {"roles": "role"}


@dataclass(frozen=True)
class Telling:
    """What texts tell by themselves, whatever the rules say: facts of the visitor, the time, feeds by address."""

    facts: frozenset[str] = frozenset()
    clock: Clock = Clock.NEVER
    feeds: frozenset[str] = frozenset()

    @classmethod
    def together(cls, tellings: Iterable[Telling]) -> Telling:
        """What several tell."""
        facts: set[str] = set()
        feeds: set[str] = set()
        clock = Clock.NEVER
        for one in tellings:
            facts |= one.facts
            feeds |= one.feeds
            clock = max(clock, one.clock)
        return cls(frozenset(facts), clock, frozenset(feeds))


@dataclass(frozen=True)
class Hinges:
    """What one page hinges on: what its rules ask about, and what its texts tell."""

    relevance: Relevance = Relevance()
    telling: Telling = Telling()

    @cached_property
    def facts(self) -> frozenset[str]:
        """The facts about visitors that make a difference; a parameter of the address as `query.NAME`."""
        return self.relevance.facts | self.telling.facts

    def of_visitor(self, visitor: Visitor) -> tuple[Hashable, ...]:
        """What of a visitor makes a difference."""
        known: dict[str, Hashable] = {
            "signed": visitor.signed, "role": visitor.roles, "device": visitor.device, "browser": visitor.browser,
        }  # fmt: skip
        return (self.relevance.of_visitor(visitor), *(known[fact] for fact in _TOLD if fact in self.telling.facts))

    def at(self, moment: datetime) -> tuple[Hashable, ...]:
        """What of a moment makes a difference."""
        return (self.relevance.at(moment), self.telling.clock.at(moment))

    def until(self, moment: datetime) -> datetime | None:
        """The first moment after this one at which something else may be shown; None for never again."""
        changes = (self.relevance.until(moment), self.telling.clock.until(moment))
        return min((change for change in changes if change is not None), default=None)

    def said(self, feeds: Feeds) -> tuple[Hashable, ...]:
        """What the feeds say that it shows."""
        return tuple(tuple(feeds(url)) for url in sorted(self.telling.feeds))

    def key(self, lens: Lens, feeds: Feeds) -> Hashable:
        """What is alike for all lenses that are shown the same."""
        return self.of_visitor(lens.visitor), self.at(lens.moment), self.said(feeds)


class SiteHinges:
    """What the pages of one state hinge on, worked out once for each class of pages."""

    def __init__(self, resolver: PageResolver) -> None:
        self._resolver = resolver
        self._layout = resolver.layout
        self._pieces: dict[str, Telling] = {}
        self._by_class: dict[int, Hinges] = {}

    def of(self, page: Page) -> Hinges:
        """What a page hinges on."""
        number = self._resolver.index.tree.numbers[page.path]
        page_class = int(self._resolver.classes.numbers[number])
        found = self._by_class.get(page_class)
        if found is None:
            matches, _ = self._resolver.matches(number)
            relevance = page_relevance(self._resolver.index.tree, self._layout, page, matches)
            telling = Telling.together(self._tellings(matches))
            found = self._by_class[page_class] = Hinges(relevance, telling)
        return found

    def _tellings(self, matches: list[Match]) -> Iterator[Telling]:
        """What those texts tell that may stand on a page: of pieces that rules put there, and of settings."""
        texts = [setting.default for setting in self._layout.settings]
        slugs = {self._layout.default_template}
        for match in matches:
            for action in match.rule.actions:
                slugs.add(action.piece)
                texts.append(action.value or "")
        yield told_by_texts(text for text in texts if isinstance(text, str))
        for slug in self._with_all_inside(slugs):
            if slug not in self._pieces:
                self._pieces[slug] = told_by_piece(self._layout.pieces[slug])
            yield self._pieces[slug]

    def _with_all_inside(self, slugs: Iterable[str | None]) -> Iterator[str]:
        known = {slug for slug in slugs if slug is not None and slug in self._layout.pieces}
        widgets = {entry.piece for slug in known for entry in self._layout.pieces[slug].entries_on}
        for slug in known | (widgets & self._layout.pieces.keys()):
            yield slug
            yield from (inner for inner in self._layout.inner.get(slug, ()) if inner in self._layout.pieces)


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
    clock = Clock.DAY if kind.sees is by_day else Clock.MINUTE if kind.sees is by_minute else Clock.NEVER
    own = Telling(facts, clock, frozenset(_feeds_of(item)))
    return Telling.together((texts, own, told_by_markup(item[CODE]) if CODE in item else Telling()))


def _feeds_of(item: Mapping[str, Any]) -> Iterator[str]:
    if item["type"] == "feed" and (url := item.get("url")):
        yield url


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


def _clock_of(names: Iterable[str]) -> Clock:
    """How finely parts of `today` tell the time."""
    return max((Clock.YEAR if name == "year" else Clock.DAY for name in names), default=Clock.NEVER)
