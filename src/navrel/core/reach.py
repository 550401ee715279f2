"""The reach of one rule: the pages it matches, where it wins, what beats it, and what it misses by one term."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .bulk import acting_on, rule_levels, sweep_all
from .conditions import Specificity
from .index import PageIndex
from .model import Layout, Lens, Page, Rule, Target
from .pageset import PageSet
from .query import Query, Term

#: Near misses that are told of; more would be no hint.
MOST_NEAR_MISSES = 50


@dataclass(frozen=True)
class Reach:
    """How far a rule reaches. ``wins``: for each target, the pages where one of its actions decides or adds."""

    pages: PageSet
    wins: dict[Target, PageSet]

    @property
    def wins_somewhere(self) -> PageSet:
        """The pages where it decides or adds to at least one target."""
        found = PageSet.none(self.pages.size)
        for pages in self.wins.values():
            found = found | pages
        return found


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
    return [Reach(rule_pages(index, rule), mine) for rule, mine in zip(layout.rules, wins, strict=True)]


def rule_pages(index: PageIndex, rule: Rule) -> PageSet:
    """The pages that a rule's include matches and its exclude does not, over all visitors."""
    return PageSet.union((pages for _, pages in index.levels(rule.condition)), index.size)


def usual_specificity(index: PageIndex, rule: Rule) -> tuple[Specificity, Literal["all", "most", "none"]]:
    """The page counts that the rule has on most of its pages (the audience left 0), and whether on all."""
    levels = index.levels(rule.condition)
    if not levels:
        return Specificity(), "none"
    counts, _ = max(levels, key=lambda level: len(level[1]))
    return Specificity(*counts), "all" if len(levels) == 1 else "most"


def excluded_pages(index: PageIndex, rule: Rule, limit: int) -> tuple[list[ExcludedPage], int]:
    """Up to ``limit`` pages that the exclude takes out of the include, in tree order, and how many there are."""
    left = index.query(rule.condition.include)
    found: dict[int, str] = {}
    for clause in rule.condition.exclude.clauses:
        taken = left & index.clause(clause)
        found.update((int(number), str(clause)) for number in taken.numbers())
        left = left - taken
    shown = sorted(found)[:limit]
    return [ExcludedPage(index.site.pages[number], found[number]) for number in shown], len(found)


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
    return [NearMiss(index.site.pages[number], found[number]) for number in sorted(fewest[:MOST_NEAR_MISSES])]
