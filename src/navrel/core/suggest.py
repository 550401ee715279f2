"""Conditions that a set of picked pages have in common, best first."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations

from .facts import Value
from .index import PageIndex
from .model import Page
from .pageset import PageSet
from .query import Clause, Query, Term

#: How many suggestions are made at the most.
MOST_SUGGESTIONS = 5
#: Suggestions that add more than this many pages for each one picked say too little about the picks.
_MOST_ADDED_RATIO = 20

#: How far a fact can be trusted to stay what pages have in common; smaller is better.
_PREFERENCE = {"child": 0, "type": 0, "term": 0, "kind": 1, "author": 1, "under": 1, "within": 2, "lang": 3}


@dataclass(frozen=True)
class Suggestion:
    """A condition that all picked pages meet. ``adds``: the pages it would add, in tree order.

    ``lasting``: it describes pages by what they are, so that later pages like them are met too.
    """

    query: Query
    adds: tuple[Page, ...]
    lasting: bool


def suggest(index: PageIndex, paths: Iterable[str]) -> list[Suggestion]:
    """Up to five conditions for these pages (unknown paths are passed over), the list of them the last resort.

    Fewest added pages first, then the shorter, then by the facts that last best.
    """
    picked = sorted({index.site.numbers[path] for path in paths if path in index.site.numbers})
    if not picked:
        return []
    pages = [index.site.pages[number] for number in picked]
    chosen = PageSet.of(picked, index.size)
    common = [(term, index.term(term)) for term in _common_terms(index, pages)]
    options: dict[PageSet, tuple[tuple[int, int, int, str], Clause]] = {}
    for size in (1, 2):
        for group in combinations(common, size):
            met = group[0][1] if size == 1 else group[0][1] & group[1][1]
            clause = Clause(tuple(term for term, _ in group))
            rank = (len(met), size, sum(_PREFERENCE[term.fact] for term in clause.terms), str(clause))
            if met not in options or rank < options[met][0]:
                options[met] = (rank, clause)
    described = [
        Suggestion(Query((clause,)), _pages(index, met - chosen), lasting=True)
        for met, (_, clause) in sorted(options.items(), key=lambda option: option[1][0])
        if _says_enough(len(met), len(picked))
    ]
    listed = Suggestion(Query((Clause((Term("page", tuple(Value(page.path) for page in pages)),)),)), (), lasting=False)
    return [*described[: MOST_SUGGESTIONS - 1], listed]


def _says_enough(met: int, picked: int) -> bool:
    """Whether a condition that meets so many pages still says something about those picked."""
    return met - picked <= _MOST_ADDED_RATIO * picked


def _common_terms(index: PageIndex, pages: list[Page]) -> list[Term]:
    """Single terms that hold on every one of the pages."""
    site = index.site
    found: list[Term] = []

    def add(fact: str, texts: Iterable[str]) -> None:
        found.extend(Term(fact, (Value(text),)) for text in texts if text)

    parents = {site.parent_path(page) or "" for page in pages}
    if len(parents) == 1:
        add("child", parents)
    above = _shared([site.ancestor_paths(page) for page in pages])
    add("under", above)
    add(
        "within",
        _shared([[page.path, *site.ancestor_paths(page)] for page in pages]) if len(pages) > 1 else (),
    )
    add(
        "term",
        sorted(_shared([[up for term in page.terms for up in site.term_lineage(term)] for page in pages])),
    )
    for fact, texts in (
        ("type", {page.type for page in pages}),
        ("kind", {page.kind for page in pages}),
        ("author", {page.author for page in pages}),
        ("lang", {page.language for page in pages}),
    ):
        if len(texts) == 1:
            add(fact, texts)
    return found


def _shared(lists: list[list[str]]) -> list[str]:
    """The texts that stand in every list, in the order of the first, without the root of the site."""
    sets = [set(texts) for texts in lists]
    return list(dict.fromkeys(text for text in lists[0] if text != "/" and all(text in found for found in sets)))


def _pages(index: PageIndex, pages: PageSet) -> tuple[Page, ...]:
    return tuple(index.site.pages[number] for number in pages.numbers())
