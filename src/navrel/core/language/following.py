"""Queries that name pages, after these have moved."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from .facts import Value
from .query import Clause, Query, Term

#: The facts whose values are paths of pages.
_NAMING = ("page", "within", "under", "child")


def follow(query: Query, moves: Mapping[str, str]) -> Query:
    """The same query with the pages that it names where they are now; ``moves``: from old paths to new ones."""
    return Query(tuple(Clause(tuple(_term(term, moves) for term in clause.terms)) for clause in query.clauses))


def _term(term: Term, moves: Mapping[str, str]) -> Term:
    if term.fact not in _NAMING or not any(value.text in moves for value in term.values):
        return term
    found = dict.fromkeys(Value(moves.get(value.text, value.text), value.wild) for value in term.values)
    return replace(term, values=tuple(found))
