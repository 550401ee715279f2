"""Conditions that a set of picked pages have in common, best first."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations

from ..index.page_index import PageIndex, literal_beginning
from ..language.facts import Value
from ..language.query import Clause, Query, Term
from ..pages.page import Page
from ..pages.pageset import PageSet

#: How many suggestions are made at the most.
MOST_SUGGESTIONS = 5
#: Suggestions that add more than this many pages for each one picked say too little about the picks.
_MOST_ADDED_RATIO = 20
#: Terms that are tried, alone and in pairs; the commonest among the picks come first.
_MOST_TERMS = 24
#: Picked pages whose terms are looked at.
_MOST_LOOKED_AT = 300
#: Pages that are named beside a term, to take them out or to put them in, and how many picked ones there have to be
#: for each: more would be a list again.
_MOST_NAMED = 5
_PICKED_FOR_EACH_NAMED = 4

#: How far a fact can be trusted to stay what pages have in common; smaller is better.
_PREFERENCE = {"child": 0, "type": 0, "term": 0, "kind": 1, "author": 1, "under": 1, "field": 1, "within": 2,
               "path": 2, "lang": 3}  # fmt: skip


@dataclass(frozen=True)
class Suggestion:
    """A condition for the picked pages: an include and an exclude.

    ``adds``: the pages it would add today; ``misses``: those picked that it leaves out; both in tree order.
    ``lasting``: it describes pages by what they are, so that later pages like them are met too.
    """

    include: Query
    exclude: Query
    adds: tuple[Page, ...]
    misses: tuple[Page, ...]
    lasting: bool


@dataclass(frozen=True)
class _Option:
    """A clause, the pages it meets, and how good it is among those that meet as many."""

    clause: Clause
    met: PageSet

    @property
    def rank(self) -> tuple[int, int, str]:
        return (
            len(self.clause.terms),
            sum(_PREFERENCE[term.fact] for term in self.clause.terms),
            str(self.clause),
        )


def suggest(index: PageIndex, paths: Iterable[str]) -> list[Suggestion]:
    """Up to five conditions for these pages (unknown paths are passed over), the list of them the last resort.

    First those that meet exactly the picked pages, by themselves or with a few pages named beside; then those that
    add or miss fewest.
    """
    picked = sorted({index.tree.numbers[path] for path in paths if path in index.tree.numbers})
    if not picked:
        return []
    chosen = PageSet.of(picked, index.size)
    pages = [index.tree.pages[number] for number in picked]
    ranked = sorted(
        (
            (_rank(index, found, option), found)
            for option in _options(index, pages, chosen)
            for found in _suggestions(index, chosen, option)
        ),
        key=lambda one: one[0],
    )
    # Of those that come to the same pages in the same way, one is enough.
    best: dict[object, Suggestion] = {}
    for _, found in ranked:
        best.setdefault((found.adds, found.misses, bool(found.exclude)), found)
    listed = Suggestion(Query((naming(pages),)), Query(), (), (), lasting=False)
    return [*list(best.values())[: MOST_SUGGESTIONS - 1], listed]


def _rank(index: PageIndex, found: Suggestion, option: _Option) -> tuple[object, ...]:
    """Exact ones first, then the fewest pages wrong; then the fewest named, then the shorter and the surer."""
    named = sum(len(term.values) for term in (*found.exclude.terms, *found.include.terms) if term.fact == "page")
    return (len(found.adds) + len(found.misses), named, *option.rank)


def _options(index: PageIndex, pages: list[Page], chosen: PageSet) -> list[_Option]:
    """Clauses of one or two terms that meet most of the picked pages and say enough about them; one a set of pages."""
    terms = [(term, index.term(term)) for term in _common_terms(index, pages)]
    best: dict[PageSet, _Option] = {}
    for size in (1, 2):
        for group in combinations(terms, size):
            met = group[0][1] if size == 1 else group[0][1] & group[1][1]
            option = _Option(Clause(tuple(term for term, _ in group)), met)
            hit = len(met & chosen)
            if len(pages) - hit > _most_named(len(pages)):
                continue
            if len(met) - hit > _MOST_ADDED_RATIO * len(pages):
                continue
            if met not in best or option.rank < best[met].rank:
                best[met] = option
    return list(best.values())


def _suggestions(index: PageIndex, chosen: PageSet, option: _Option) -> Iterable[Suggestion]:
    """A clause as it is, and mended with a few pages named: those it adds taken out, those it misses put in."""
    adds, misses = pages_in(index, option.met - chosen), pages_in(index, chosen - option.met)
    include = Query((option.clause,))
    if not misses:
        yield Suggestion(include, Query(), adds, (), lasting=True)
    if not adds and not misses:
        return
    if len(adds) + len(misses) <= _most_named(len(chosen)):
        whole = Query((option.clause, naming(misses))) if misses else include
        yield Suggestion(whole, Query((naming(adds),)) if adds else Query(), (), (), lasting=True)
    elif misses:
        yield Suggestion(include, Query(), adds, misses, lasting=True)


def _most_named(picked: int) -> int:
    """How many pages may be named beside a condition for so many picked ones."""
    return min(_MOST_NAMED, picked // _PICKED_FOR_EACH_NAMED)


def naming(pages: Iterable[Page]) -> Clause:
    """A clause that names some pages."""
    return Clause((Term("page", tuple(Value(page.path) for page in pages)),))


def _common_terms(index: PageIndex, pages: list[Page]) -> list[Term]:
    """Single terms that hold on about half of the pages or more, the commonest first.

    Of very many pages, some that stand evenly among them are looked at: what they have not in common, all have not.
    """
    looked_at = pages[:: max(1, len(pages) // _MOST_LOOKED_AT)]
    counts: Counter[Term] = Counter()
    for page in looked_at:
        counts.update(_terms_of(index, page))
    most = [(term, count) for term, count in counts.items() if 2 * count >= len(looked_at)]
    most.sort(key=lambda one: (-one[1], _PREFERENCE[one[0].fact], str(one[0])))
    return [term for term, _ in most[:_MOST_TERMS]]


def _terms_of(index: PageIndex, page: Page) -> set[Term]:
    """The terms that hold on one page, each of one value, those about the whole site left out."""
    tree = index.tree

    def term(fact: str, text: str, key: str = "") -> Term:
        return Term(fact, (Value(text),), key)

    found = {
        term(fact, text)
        for fact, text in (("type", page.type), ("kind", page.kind), ("author", page.author), ("lang", page.language))
        if text
    }
    parent = tree.parent_path(page)
    if parent is not None:
        found.add(term("child", parent))
    above = [path for path in tree.ancestor_paths(page) if path != "/"]
    found.update(term("under", path) for path in above)
    if tree.ends[tree.numbers[page.path]] - tree.numbers[page.path] > 1:
        above.append(page.path)
    found.update(term("within", path) for path in above if path != "/")
    # Sections that no page stands for.
    found.update(term("path", f"{folder}/*") for folder in _folders_of(page.path) if folder not in tree.numbers)
    found.update(term("term", up) for carried in page.terms for up in tree.term_lineage(carried))
    found.update(term("field", text, key) for key, text in page.fields.items() if text != "*")
    return found


def _folders_of(path: str) -> Iterable[str]:
    """The folders in which a path stands, innermost first, as far as it is found at once what begins like them."""
    while path := path.rpartition("/")[0]:
        if literal_beginning(f"{path}/*")[1]:
            yield path


def pages_in(index: PageIndex, pages: PageSet) -> tuple[Page, ...]:
    """The pages of a set, in tree order."""
    return tuple(index.tree.pages[number] for number in pages.numbers().tolist())
