"""What was found when guards were asked, for the next time: an edit leaves most rules and pages as they were."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import Any, Generic, TypeVar

from ..cascade.strength import Match
from ..cascade.unbeaten import Unbeaten, unbeaten
from ..index.page_index import PageIndex
from ..layout.model import Guard, Layout, Rule, Target
from .narrowing import narrowed

Found = TypeVar("Found")


class _Lasting:
    """Values by key. Those of the time before are taken over as they are asked for again; the others are forgotten."""

    def __init__(self, earlier: _Lasting | None) -> None:
        self._earlier = earlier._now if earlier else {}
        self._now: dict[Hashable, Any] = {}

    def get(self, key: Hashable, make: Callable[[], Any]) -> Any:
        if key not in self._now:
            self._now[key] = self._earlier[key] if key in self._earlier else make()
        return self._now[key]


class GuardMemory(Generic[Found]):
    """What guards came to on pages by what those get of their rules; and what is left of rules that meet on a page.

    The first lasts as long as the pages, the pieces, the settings and the moment from which is looked, whatever becomes
    of the rules; the second as long as the rules are the same objects. ``earlier``: what is remembered of the last
    time, which is left as it is.
    """

    def __init__(self, earlier: GuardMemory[Found] | None = None) -> None:
        self._before = earlier
        self._ground: tuple[PageIndex, Layout, datetime] | None = None
        self._found = _Lasting(None)
        # Rules are told apart by their ids, so each value holds on to the rules that its key tells of.
        self._rules: _Lasting = _Lasting(earlier._rules if earlier else None)
        self._left: _Lasting = _Lasting(earlier._left if earlier else None)

    def begin(self, index: PageIndex, layout: Layout, since: datetime) -> None:
        """Guards are about to be asked of these pages."""
        self._ground = index, replace(layout, rules=(), guards=()), since
        if self._before is not None and self._before._ground == self._ground:
            self._found = _Lasting(self._before._found)
        self._before = None

    def token(self, guards: tuple[Guard, ...]) -> Hashable:
        """What stands for some guards, the same as the last time."""
        return self._rules.get(guards, object)  # type: ignore[no-any-return]

    def recall(self, token: Hashable, likeness: Hashable, find: Callable[[], Found]) -> Found:
        """What guards come to on pages that are alike in this; found now where that is not remembered."""
        found: Found = self._found.get((token, likeness), find)
        return found

    def narrowed(self, rules: Iterable[Rule], targets: frozenset[Target]) -> list[Rule]:
        """The rules that act on some targets, each with those of its actions alone, as the same objects as before."""

        def one(rule: Rule) -> tuple[Rule, tuple[Rule, ...]]:
            return rule, narrowed([rule], targets)

        return [some for rule in rules for some in self._rules.get((id(rule), targets), partial(one, rule))[1]]

    def asking(self, guard: Guard) -> Rule:
        """A rule that does nothing where a guard asks: it parts the pages and the visitors as far as the guard does."""
        return self._rules.get(guard, lambda: Rule(guard.name, guard.condition))  # type: ignore[no-any-return]

    def unbeaten(self, matches: list[Match]) -> Unbeaten:
        """What is left of the matches of a page, told apart by the names of rules; see `cascade.unbeaten`."""

        def look() -> tuple[list[Rule], list[int], Hashable]:
            left, likeness = unbeaten(matches, named=True)
            places = {match.place for match in left}
            numbers = [number for number, match in enumerate(matches) if match.place in places]
            return [match.rule for match in matches], numbers, likeness

        _, numbers, likeness = self._left.get(tuple((id(match.rule), match.counts) for match in matches), look)
        return Unbeaten([matches[number] for number in numbers], likeness)
