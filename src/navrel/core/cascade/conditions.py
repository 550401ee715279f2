"""Whether a condition lets one page and one lens through, and on the strength of which clauses."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, NamedTuple

from ..language.holding import page_term_holds, visitor_term_holds
from ..language.query import Counts, Query
from ..language.visitor import Lens
from ..layout.condition import Audience, Condition
from ..pages.page import Page
from ..pages.tree import PageTree

#: Why a condition does not hold, in the order in which the reasons are looked for.
Refusal = Literal["not-included", "excluded", "visitor", "time"]


class Specificity(NamedTuple):
    """Four counts compared left to right. ``audience`` counts visitor terms and a schedule."""

    exact: int = 0
    narrow: int = 0
    broad: int = 0
    audience: int = 0

    def __str__(self) -> str:
        return " · ".join(map(str, self))


@dataclass(frozen=True)
class Unmet:
    """The condition does not hold. ``clause``: the exclude clause that did it, empty where no include matched."""

    state: Refusal
    clause: str = ""


def page_clauses(tree: PageTree, page: Page, query: Query) -> list[int]:
    """The indices of the query's clauses that match ``page``."""
    return query.matching(lambda term: page_term_holds(tree, page, term))


def weigh_page(tree: PageTree, page: Page, condition: Condition, *, empty_is_all: bool = False) -> Counts | Unmet:
    """The page counts of the specificity, or why this page is not let through."""
    included = page_clauses(tree, page, condition.include)
    if not included and not (empty_is_all and not condition.include):
        return Unmet("not-included")
    excluded = page_clauses(tree, page, condition.exclude)
    if excluded:
        return Unmet("excluded", str(condition.exclude.clauses[excluded[0]]))
    return max((condition.include.clauses[index].counts for index in included), default=Counts())


def weigh_audience(lens: Lens, audience: Audience) -> int | Unmet:
    """The fourth count of the specificity, or why this visitor, or this moment, is not let through."""
    included = audience.include.matching(lambda term: visitor_term_holds(lens.visitor, term))
    if audience.include and not included:
        return Unmet("visitor")
    excluded = audience.exclude.matching(lambda term: visitor_term_holds(lens.visitor, term))
    if excluded:
        return Unmet("visitor", str(audience.exclude.clauses[excluded[0]]))
    if audience.schedule is not None and not audience.schedule.holds(lens.moment):
        return Unmet("time")
    terms = max((audience.include.clauses[index].positive_terms for index in included), default=0)
    return terms + (audience.schedule is not None)


def lets_through(tree: PageTree, page: Page, lens: Lens, condition: Condition) -> bool:
    """Whether a sidebar's entry of this condition shows on a page through a lens. An empty include means every page."""
    return not isinstance(weigh_page(tree, page, condition, empty_is_all=True), Unmet) and not isinstance(
        weigh_audience(lens, condition.audience), Unmet
    )
