"""What a check finds: where, what, why, and how to mend it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from ...cascade.bulk import TargetOutcomes, resolve_all
from ...cascade.shown import places_showing
from ...index.page_index import PageIndex
from ...language.visitor import Lens
from ...layout.document import SiteDocument
from ...layout.model import Layout, Rule, Target
from ...lenses.contests import Contest, Lenses, contests
from ...pages.content import ContentFacts
from ...pages.page import Page
from ...pages.pageset import PageSet
from ..guards import GuardState, check_guards

#: `error`: it does not work at all; `warning`: it probably does not do what is meant; `hint`: it could be simpler.
Severity = Literal["error", "warning", "hint"]
SEVERITIES: tuple[Severity, ...] = ("error", "warning", "hint")

#: Pages that a finding names; it counts all of them.
MOST_PAGES = 20


@dataclass(frozen=True)
class Finding:
    """One thing that a check found.

    ``check`` names the kind of finding, ``pointer`` leads to what it is about in the layout file (RFC 6901),
    ``subject`` is its name, ``about`` what else there is to say of it, each kind its own. ``rules`` are the other
    rules that have to do with it, ``pages`` some of the ``page_count`` pages that it is about, in tree order.
    """

    check: str
    severity: Severity
    pointer: str
    subject: str
    about: Mapping[str, Any] = field(default_factory=dict, hash=False)
    rules: tuple[str, ...] = ()
    pages: tuple[Page, ...] = ()
    page_count: int = 0


#: Which of some addresses, written as paths of pages, are answered though no page is there: by files, or by others.
Answered = Callable[[Collection[str]], Collection[str]]


class Survey:
    """A site that is being checked: what several checks need, worked out once."""

    def __init__(
        self,
        document: SiteDocument,
        index: PageIndex,
        lens: Lens,
        guards: list[GuardState] | None = None,
        written: Mapping[str, ContentFacts] | None = None,
        answered: Answered = lambda addresses: (),
    ) -> None:
        self.document = document
        self.index = index
        self.lens = lens
        self.lenses = Lenses()
        self.written = written or {}
        self.answered = answered
        self._guards = guards

    @property
    def layout(self) -> Layout:
        return self.document.layout

    @cached_property
    def contests(self) -> list[Contest]:
        """The contest of every target, over all lenses."""
        return contests(self.index, self.layout, self.lenses)

    @cached_property
    def guards(self) -> list[GuardState]:
        """How every guard stands, over all lenses from the moment of this one on."""
        known = self._guards
        return check_guards(self.document, self.index, self.lens.moment) if known is None else known

    @cached_property
    def resolved(self) -> dict[Target, TargetOutcomes]:
        """Every page through the lens: that of a visitor of whom nothing is known, now."""
        return resolve_all(self.index, self.layout, self.lens)

    @cached_property
    def places(self) -> dict[str, list[PageSet]]:
        """Where each piece shows through the lens."""
        return places_showing(self.index, self.layout, self.lens, self.resolved)

    @cached_property
    def piece_pointers(self) -> dict[str, str]:
        """Where each piece stands in the layout file."""
        return {slug: f"/pieces/{number}" for number, slug in enumerate(self.layout.pieces)}

    def rule_pointer(self, place: int) -> str:
        """Where the rule at a place of the list (from 1) stands in the layout file."""
        return f"/rules/{place - 1}"

    def rules(self) -> list[tuple[str, Rule]]:
        """Every rule with its pointer."""
        return [(self.rule_pointer(place), rule) for place, rule in enumerate(self.layout.rules, start=1)]

    def some(self, pages: PageSet) -> tuple[tuple[Page, ...], int]:
        """The first pages of a set, and how many it has."""
        numbers = pages.numbers()
        return tuple(self.index.tree.pages[number] for number in numbers[:MOST_PAGES].tolist()), len(numbers)

    def name_of(self, slug: str) -> str:
        """The name of a piece."""
        piece = self.layout.pieces.get(slug)
        return piece.name if piece else slug
