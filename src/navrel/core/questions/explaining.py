"""Conditions that explain what pages show today: the fewest and simplest under which each shows just that."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from ..index.page_index import PageIndex
from ..language.query import EVERYWHERE, Query
from ..layout.condition import Condition
from ..pages.pageset import PageSet
from .suggest import Suggestion, naming, pages_in, suggest

#: Pages that one condition names at the most: more would be a list that nobody reads.
MOST_NAMED = 300
#: Pages that are no list yet.
_FEW_NAMED = 8
#: Pages that may be named beside a condition, as a share of those that it is for.
_NAMED_SHARE = 0.25


def explain(index: PageIndex, groups: Sequence[Collection[str]], alone: Collection[str]) -> list[Condition | None]:
    """A condition for each group of pages that show the same, the largest group first; None for what none explains.

    ``alone``: the paths of pages that show something else, which none of the conditions is to reach. What pages show
    nothing is of no account. The first group has all pages where it is most of them, or where else it were a list:
    the others are more specific.
    """
    if not groups:
        return []
    first, *more = (_pages(index, group) for group in groups)
    every = PageSet.union([first, *more, _pages(index, alone)], index.size)
    found = [_condition(index, pages, every - pages) for pages in more]
    told = (pages for pages, one in zip(more, found, strict=True) if one)
    others = every - PageSet.union([first, *told], index.size)
    everywhere = Condition(EVERYWHERE, _naming(index, others)) if len(others) <= MOST_NAMED else None
    if everywhere and 2 * len(first) > len(every):
        return [everywhere, *found]
    own = _condition(index, first, every - first)
    is_list = own is None or _named_in(own) > max(_FEW_NAMED, len(others))
    return [everywhere if everywhere and is_list else own, *found]


def _condition(index: PageIndex, pages: PageSet, against: PageSet) -> Condition | None:
    """A condition that reaches all of some pages and none of others."""
    suggested = suggest(index, [page.path for page in pages_in(index, pages)])
    mended = [_mended(index, one, pages, against) for one in suggested]
    best = min((one for one in mended if one is not None), key=lambda one: one[0], default=None)
    return best[1] if best else None


def _mended(
    index: PageIndex, one: Suggestion, pages: PageSet, against: PageSet
) -> tuple[tuple[int, int], Condition] | None:
    """A suggestion with what it misses named, and what it adds taken out; and how much that is. None for too much."""
    met = index.query(one.include)
    if one.exclude:
        met = met - index.query(one.exclude)
    misses, adds = pages - met, met & against
    named = len(misses) + len(adds) + _named_in(one)
    if named > (MOST_NAMED if not one.lasting else max(1, int(_NAMED_SHARE * len(pages)))):
        return None
    include = Query((*one.include.clauses, *_naming(index, misses).clauses))
    exclude = Query((*one.exclude.clauses, *_naming(index, adds).clauses))
    # Pages that show nothing may be reached, but the fewer the better.
    return (named, len(met - pages)), Condition(include, exclude)


def _named_in(one: Suggestion | Condition) -> int:
    """How many pages are named."""
    terms = (*one.include.terms, *one.exclude.terms)
    return sum(len(term.values) for term in terms if term.fact == "page")


def _naming(index: PageIndex, pages: PageSet) -> Query:
    return Query((naming(pages_in(index, pages)),)) if pages else Query()


def _pages(index: PageIndex, paths: Collection[str]) -> PageSet:
    return PageSet.of(sorted(index.tree.numbers[path] for path in paths if path in index.tree.numbers), index.size)
