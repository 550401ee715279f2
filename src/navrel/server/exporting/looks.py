"""The looks of a page that a static host can tell apart: by what a plain request tells, members aside."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

from navrel.core.language.facts import BROWSERS, DEVICES, Value
from navrel.core.language.holding import visitor_term_holds
from navrel.core.language.query import Term
from navrel.core.language.visitor import Visitor
from navrel.core.lenses.visitors import TooManyCombinations, VisitorSpace
from navrel.rendering.hinges import Hinges
from navrel.server.delivery.visitors import MEMBERS

#: Most kinds of visitors that a page is drawn for.
MOST_LOOKS = 64


@dataclass(frozen=True)
class Distinction:
    """What tells the looks of a page apart: single terms about visitors, as a static host can ask them.

    The facts that they ask about are called in `Visitor` as they are in terms.
    """

    terms: tuple[Term, ...] = ()

    @classmethod
    def of(cls, hinges: Hinges) -> Distinction:
        """What tells apart those who may see a page otherwise."""
        asked = [term for term in hinges.relevance.terms if term.fact not in MEMBERS]
        for fact, values in (("device", DEVICES), ("browser", BROWSERS)):
            if fact in hinges.telling.facts:
                asked += [Term(fact, (Value(value),), domain="visitor") for value in values]
        return cls(tuple(dict.fromkeys(asked)))

    def mark(self, visitor: Visitor) -> str:
        """Which of the terms hold for a visitor, as ones and zeros."""
        return "".join("1" if visitor_term_holds(visitor, term) else "0" for term in self.terms)

    @cached_property
    def kinds(self) -> tuple[Visitor, ...] | None:
        """A visitor of each kind that the terms tell apart; None where there are more than MOST_LOOKS."""
        try:
            space = VisitorSpace(self.terms)
        except TooManyCombinations:
            return None
        return tuple(map(space.visitor, range(len(space)))) if len(space) <= MOST_LOOKS else None

    def visitors(self, base: Visitor) -> dict[str, Visitor]:
        """For each mark a visitor who has it, else as ``base`` is; none where there are too many."""
        facts = {term.fact for term in self.terms}
        found = {}
        for kind in self.kinds or ():
            visitor = replace(base, **{fact: getattr(kind, fact) for fact in facts})
            found[self.mark(visitor)] = visitor
        return found
