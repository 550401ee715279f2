"""Single pages brought into a condition, or left out of it, with every other page as it was."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from ..index.page_index import PageIndex
from ..language.facts import Value
from ..language.query import Clause, Query, Term
from ..layout.condition import Condition
from ..pages.page import Page


class NothingLeft(Exception):
    """Without these pages the condition would reach none."""


def with_pages(index: PageIndex, condition: Condition, pages: Sequence[Page]) -> Condition:
    """The condition that reaches these pages too.

    Clauses of the exclude that take one out are narrowed by it; pages that no clause includes are named in one.
    """
    paths = [page.path for page in pages]
    exclude = Query(
        tuple(kept for clause in condition.exclude.clauses if (kept := _sparing(index, clause, paths)) is not None)
    )
    included = index.query(condition.include)
    missing = [path for path in paths if index.tree.numbers[path] not in included]
    return replace(condition, include=_naming(condition.include, missing), exclude=exclude)


def without_pages(index: PageIndex, condition: Condition, pages: Sequence[Page]) -> Condition:
    """The condition that does not reach these pages. Raises NothingLeft where it would reach none at all.

    Where the include names a page it is taken out of there; else the exclude names it.
    """
    gone = {page.path for page in pages}
    include = Query(
        tuple(
            kept
            for clause in condition.include.clauses
            if (kept := _without(clause, gone) if _names_pages(clause) else clause) is not None
        )
    )
    left = index.query(include) - index.query(condition.exclude)
    still = [page.path for page in pages if index.tree.numbers[page.path] in left]
    if len(left) == len(still):
        raise NothingLeft
    return replace(condition, include=include, exclude=_naming(condition.exclude, still))


def _names_pages(clause: Clause) -> bool:
    """Whether a clause is a list of pages and nothing else."""
    return len(clause.terms) == 1 and clause.terms[0].fact == "page" and not clause.terms[0].negated


def _pages_term(paths: Iterable[str], *, negated: bool = False) -> Term:
    return Term("page", tuple(Value(path) for path in dict.fromkeys(paths)), negated=negated)


def _paths(term: Term) -> list[str]:
    return [value.text for value in term.values]


def _naming(query: Query, paths: Sequence[str]) -> Query:
    """A query that meets these pages as well.

    The longest list of pages in it takes them up. A single page that is named keeps a clause of its own, as that
    is what makes it more specific than a list (cascade: Specificity).
    """
    if not paths:
        return query
    lists = [clause for clause in query.clauses if _names_pages(clause) and len(clause.terms[0].values) > 1]
    home = max(lists, key=lambda clause: len(clause.terms[0].values), default=None)
    if home is None:
        return Query((*query.clauses, Clause((_pages_term(paths),))))
    longer = Clause((_pages_term([*_paths(home.terms[0]), *paths]),))
    return Query(tuple(longer if clause is home else clause for clause in query.clauses))


def _without(clause: Clause, gone: set[str]) -> Clause | None:
    """A list of pages without some of them; None where none is left."""
    kept = [path for path in _paths(clause.terms[0]) if path not in gone]
    return Clause((_pages_term(kept),)) if kept else None


def _sparing(index: PageIndex, clause: Clause, paths: Sequence[str]) -> Clause | None:
    """A clause that meets none of these pages; None where it is about them alone."""
    met = index.clause(clause)
    spared = [path for path in paths if index.tree.numbers[path] in met]
    if not spared:
        return clause
    if _names_pages(clause):
        return _without(clause, set(spared))
    known = next((term for term in clause.terms if term.fact == "page" and term.negated), None)
    if known is None:
        return Clause((*clause.terms, _pages_term(spared, negated=True)))
    wider = _pages_term([*_paths(known), *spared], negated=True)
    return Clause(tuple(wider if term is known else term for term in clause.terms))
