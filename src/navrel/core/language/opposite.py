"""The opposite of two queries, an include and an exclude: what matches exactly where they do not."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import product

from .query import Clause, Query, Term

#: Terms that an opposite may have; more would be no condition that anybody reads.
MOST_TERMS = 200


class TooLong(Exception):
    """The opposite would need more terms than a query may have."""


def opposite(include: Query, exclude: Query) -> tuple[Query, Query]:
    """The include and exclude that match exactly what ``include`` without ``exclude`` does not. Raises TooLong.

    Where one of the two does the work alone, they change places: `all` without A for A, and A for `all` without A.
    Else everything that is excluded, or fails each clause of the include.
    """
    if not include.clauses:
        return _all_like(exclude), Query()
    if not exclude.clauses:
        return (Query(), Query()) if _is_all(include) else (_all_like(include), include)
    if _is_all(include):
        return exclude, Query()
    ways = math.prod(len(clause.terms) for clause in include.clauses)
    if len(exclude.terms) + ways * len(include.clauses) > MOST_TERMS:
        raise TooLong
    failing = (
        Clause(tuple(dict.fromkeys(replace(term, negated=not term.negated) for term in one)))
        for one in product(*(clause.terms for clause in include.clauses))
    )
    return Query((*exclude.clauses, *failing)), Query()


def _is_all(query: Query) -> bool:
    return any(all(term.fact == "all" and not term.negated for term in clause.terms) for clause in query.clauses)


def _all_like(query: Query) -> Query:
    """Everything, in the words of the same half of the language."""
    everything = Term("all", domain=query.terms[0].domain) if query.terms else Term("all")
    return Query((Clause((everything,)),))
