"""What of a visitor and of a moment makes a difference on a page: lenses that are alike in it get the same layout.

A rule asks about visitors by the terms of its audience and about time by its schedule, and so does an entry of a
sidebar. Nothing else of a lens is asked about, so that lenses for whom the same of these hold are never told apart.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from ..calendar.schedule import Schedule
from ..cascade.plain import is_locked
from ..cascade.strength import Match
from ..cascade.unbeaten import unbeaten
from ..language.holding import visitor_term_holds
from ..language.query import Term
from ..language.visitor import Visitor
from ..layout.condition import Audience
from ..layout.model import Layout, Rule
from ..pages.page import Page
from ..pages.tree import PageTree
from .looks import audiences_on


@dataclass(frozen=True)
class Relevance:
    """``terms``: positive, each of one value and once; ``schedules``: each once."""

    terms: tuple[Term, ...] = ()
    schedules: tuple[Schedule, ...] = ()

    @classmethod
    def of(cls, audiences: Iterable[Audience]) -> Relevance:
        """What some audiences ask about."""
        terms: dict[Term, None] = {}
        schedules: dict[Schedule, None] = {}
        for audience in audiences:
            for query in (audience.include, audience.exclude):
                for term in query.terms:
                    singles = (Term(term.fact, (value,), term.key, domain="visitor") for value in term.values)
                    terms.update(dict.fromkeys(singles))
            if audience.schedule is not None:
                schedules[audience.schedule] = None
        return cls(tuple(terms), tuple(schedules))

    @cached_property
    def facts(self) -> frozenset[str]:
        """The facts about visitors that are asked about, a parameter of the address as `query.NAME`."""
        return frozenset(f"{term.fact}.{term.key}" if term.key else term.fact for term in self.terms)

    def of_visitor(self, visitor: Visitor) -> tuple[bool, ...]:
        """Which of the terms hold for a visitor."""
        return tuple(visitor_term_holds(visitor, term) for term in self.terms)

    def at(self, moment: datetime) -> tuple[bool, ...]:
        """Which of the schedules are in force at a moment."""
        return tuple(schedule.holds(moment) for schedule in self.schedules)

    def until(self, moment: datetime) -> datetime | None:
        """The first moment after this one at which one of the schedules begins or ends; None for never again."""
        changes = (_change_after(schedule, moment) for schedule in self.schedules)
        return min((change for change in changes if change is not None), default=None)


def _change_after(schedule: Schedule, moment: datetime) -> datetime | None:
    span = next(schedule.spans(moment), None)
    if span is None:
        return None
    return span.end if moment in span else span.start


def page_relevance(tree: PageTree, layout: Layout, page: Page, matches: Iterable[Match]) -> Relevance:
    """What makes a difference on a page, of which ``matches`` are the rules that let it through.

    What is beaten whoever looks asks nothing, nor does what acts on locked slots alone. Pages of one class agree.
    """
    acting = [match for match in matches if _acts_on(match.rule, page)]
    return Relevance.of(audiences_on(tree, layout, page, unbeaten(acting, named=False).matches))


def _acts_on(rule: Rule, page: Page) -> bool:
    return any(not is_locked(page, action.target) for action in rule.actions)
