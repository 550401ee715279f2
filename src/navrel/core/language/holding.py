"""Whether a term holds: on one page, for one visitor."""

from __future__ import annotations

from ..pages.page import Page
from ..pages.tree import PageTree
from .facts import PAGE_FACTS, VISITOR_FACTS
from .query import Term
from .visitor import Visitor


def page_term_holds(tree: PageTree, page: Page, term: Term) -> bool:
    """Whether a positive page term holds on ``page``."""
    if term.fact == "all":
        return True
    fact = PAGE_FACTS[term.fact]
    return any(fact.holds(tree, page, value, term.key) for value in term.values)


def visitor_term_holds(visitor: Visitor, term: Term) -> bool:
    """Whether a positive visitor term holds for ``visitor``."""
    if term.fact == "all":
        return True
    fact = VISITOR_FACTS[term.fact]
    return any(fact.holds(visitor, value, term.key) for value in term.values)
