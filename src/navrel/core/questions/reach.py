"""The reach of one rule: the pages it matches, where it wins, what beats it, and what it misses by one term."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from ..cascade.bulk import acting_on, in_place_pages, resolve_all, rule_levels, seated_pages, sweep_all
from ..cascade.conditions import Specificity, Unmet, weigh_audience
from ..index.page_index import PageIndex
from ..language.query import Query, Term
from ..language.visitor import Lens
from ..layout.condition import Condition
from ..layout.model import FORM, Layout, Rule, Target
from ..pages.page import Page
from ..pages.pageset import PageSet

#: Near misses that are told of; more would be no hint.
MOST_NEAR_MISSES = 50


@dataclass(frozen=True)
class Reach:
    """How far a rule reaches. ``wins``: for each target, the pages where one of its actions decides or adds.

    ``unplaced``: those of them whose slot has no place on the page, so that nothing of it is to be seen. Where all
    that a rule does to a slot is to leave it empty, there is nothing that a place would show.
    """

    pages: PageSet
    wins: dict[Target, PageSet]
    unplaced: dict[Target, PageSet] = field(default_factory=dict)

    def seen(self, target: Target) -> PageSet:
        """The pages where it decides or adds to a target, and that is to be seen."""
        unplaced = self.unplaced.get(target)
        return self.wins[target] - unplaced if unplaced is not None else self.wins[target]

    @property
    def wins_somewhere(self) -> PageSet:
        """The pages where it decides or adds to at least one target, to be seen."""
        return PageSet.union((self.seen(target) for target in self.wins), self.pages.size)

    @property
    def unplaced_everywhere(self) -> PageSet:
        """The pages where it decides or adds to something, but nothing of it is to be seen."""
        return PageSet.union(self.unplaced.values(), self.pages.size) - self.wins_somewhere


@dataclass(frozen=True)
class NearMiss:
    """A page that one include clause would match but for one term."""

    page: Page
    term: Term


@dataclass(frozen=True)
class ExcludedPage:
    """A page that the include matches and an exclude clause takes out."""

    page: Page
    clause: str


def reaches(index: PageIndex, layout: Layout, lens: Lens) -> list[Reach]:
    """The reach of every rule of the layout, in their order, through one lens. Rules that are off win nowhere."""
    nowhere = PageSet.none(index.size)
    wins = [{action.target: nowhere for action in rule.actions} for rule in layout.rules]
    targets = dict.fromkeys(target for mine in wins for target in mine)
    for target, sweep in sweep_all(index, acting_on(rule_levels(index, layout, lens), targets)).items():
        for share in (*sweep.deciding, *sweep.adding):
            mine = wins[-share.level.strength.order - 1]
            mine[target] = mine[target] | share.pages
    seated = seated_pages(index, layout, lens, resolve_all(index, layout, lens))
    return [
        Reach(rule_pages(index, rule), mine, {target: mine[target] - seated[target.name] for target in _showing(rule)})
        for rule, mine in zip(layout.rules, wins, strict=True)
    ]


@dataclass(frozen=True)
class TargetMeasures:
    """How many pages a rule wins a target on: to be seen, and where the slot has no place.

    ``unbound``: those of the latter that are drawn in their own HTML, no element of which is bound to it;
    ``templates``: where there are others, the slugs of the templates that have the slot.
    """

    target: Target
    seen: int
    unplaced: int
    unbound: int
    templates: tuple[str, ...]


@dataclass(frozen=True)
class Measures:
    """The numbers of a rule.

    ``wins``: pages where it decides or adds to something, to be seen; ``unplaced``: further ones where nothing of it
    is. ``specificity``: that on ``specificity_on`` of its pages. ``lets_in``: whether it lets the lens through.
    """

    wins: int
    unplaced: int
    by_target: tuple[TargetMeasures, ...]
    lets_in: bool
    specificity: Specificity
    specificity_on: Literal["all", "most", "none"]


def measure(index: PageIndex, layout: Layout, lens: Lens, rule: Rule, reach: Reach) -> Measures:
    """The numbers of a rule whose reach through the lens is known."""
    specificity, on = usual_specificity(index, rule)
    by_target = []
    nowhere = PageSet.none(index.size)
    in_place = (
        in_place_pages(index, resolve_all(index, layout, lens, [FORM])) if any(reach.unplaced.values()) else nowhere
    )
    for target in reach.wins:
        unplaced = reach.unplaced.get(target, nowhere)
        counts = len(unplaced), len(unplaced & in_place)
        templates = templates_with(layout, target.name) if counts[0] > counts[1] else []
        by_target.append(TargetMeasures(target, len(reach.seen(target)), *counts, tuple(templates)))
    return Measures(
        len(reach.wins_somewhere),
        len(reach.unplaced_everywhere),
        tuple(by_target),
        not isinstance(weigh_audience(lens, rule.condition.audience), Unmet),
        specificity,
        on,
    )


def _showing(rule: Rule) -> set[Target]:
    """The slots into which a rule puts a piece."""
    return {action.target for action in rule.actions if action.slot and action.piece}


def templates_with(layout: Layout, slot: str) -> list[str]:
    """The slugs of the templates in which a slot has a place."""
    return [slug for slug, piece in layout.pieces.items() if piece.kind == "template" and slot in piece.slots]


def audience_count(condition: Condition) -> int:
    """The fourth count of a rule's specificity, for the visitors whom its greatest visitor clause lets in."""
    terms = max((clause.positive_terms for clause in condition.visitors_include.clauses), default=0)
    return terms + (condition.schedule is not None)


def rule_pages(index: PageIndex, rule: Rule) -> PageSet:
    """The pages that a rule's include matches and its exclude does not, over all visitors."""
    return PageSet.union((pages for _, pages in index.levels(rule.condition)), index.size)


def usual_specificity(index: PageIndex, rule: Rule) -> tuple[Specificity, Literal["all", "most", "none"]]:
    """The specificity that the rule has on most of its pages, for those whom it lets in; and whether on all."""
    levels = index.levels(rule.condition)
    audience = audience_count(rule.condition)
    if not levels:
        return Specificity(audience=audience), "none"
    counts, _ = max(levels, key=lambda level: len(level[1]))
    return Specificity(*counts, audience), "all" if len(levels) == 1 else "most"


def excluded_pages(index: PageIndex, rule: Rule, limit: int) -> tuple[list[ExcludedPage], int]:
    """Up to ``limit`` pages that the exclude takes out of the include, in tree order, and how many there are."""
    left = index.query(rule.condition.include)
    found: dict[int, str] = {}
    for clause in rule.condition.exclude.clauses:
        taken = left & index.clause(clause)
        found.update((int(number), str(clause)) for number in taken.numbers())
        left = left - taken
    shown = sorted(found)[:limit]
    return [ExcludedPage(index.tree.pages[number], found[number]) for number in shown], len(found)


def near_misses(index: PageIndex, include: Query) -> list[NearMiss]:
    """Pages that a clause of at least two terms would match but for one of them, at most MOST_NEAR_MISSES."""
    matched = index.query(include)
    found: dict[int, Term] = {}
    for clause in include.clauses:
        if len(clause.terms) < 2:
            continue
        holds = [~index.term(t.positive) if t.negated else index.term(t) for t in clause.terms]
        failing = np.zeros(index.size, dtype=np.int16)
        for pages in holds:
            failing += ~pages.mask()
        for number in np.flatnonzero((failing == 1) & ~matched.mask()).tolist():
            missing = next(t for t, pages in zip(clause.terms, holds, strict=True) if number not in pages)
            found.setdefault(number, missing)
    # A term that few pages lack says more about each of them than one that many lack.
    commonness = Counter(found.values())
    fewest = sorted(found, key=lambda number: (commonness[found[number]], number))
    return [NearMiss(index.tree.pages[number], found[number]) for number in sorted(fewest[:MOST_NEAR_MISSES])]
