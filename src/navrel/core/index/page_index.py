"""Every page term answered for all pages at once, each computed a single time."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable, Iterator
from functools import cache, cached_property
from typing import Any
from weakref import WeakValueDictionary

import numpy as np
from numpy.typing import NDArray

from ..language.facts import SEARCH_WORD, Interval, Value, interval, is_plain_path, language_in_range, path_pattern
from ..language.query import Clause, Counts, Query, Term
from ..layout.condition import Condition
from ..layout.model import Target
from ..pages.pageset import Codes, PageSet
from ..pages.tree import PageTree

Postings = dict[str, list[int]]

#: Facts of which every page has one text, or none, by what queries call them.
_ONE_TEXT = {"author": "author", "lang": "language", "kind": "kind", "type": "type", "lists": "lists"}

#: Bytes of page sets that are kept before all are let go: enough for any one layout, whatever was typed before.
_MOST_BYTES_KEPT = 128 * 2**20


class PageIndex:
    """Answers page queries over one site. Keeps a PageSet for each distinct term and clause it is asked about."""

    def __init__(self, tree: PageTree) -> None:
        self.tree = tree
        self.size = len(tree)
        self._most_kept = max(1000, _MOST_BYTES_KEPT // max(1, self.size // 8))
        self._terms: dict[Term, PageSet] = {}
        self._clauses: dict[Clause, PageSet] = {}
        #: Answers about whole targets that `bulk.py` keeps here, as long as the pages stay the same.
        self.kept: dict[Target, tuple[Any, ...]] = {}
        #: What each fact can take here, made by `choices.py` when it is first asked for.
        self.tables: dict[tuple[str, str], Any] = {}
        #: The page classes (`classes.py`) by the clauses that they tell apart, while somebody has them.
        self.classes: WeakValueDictionary[tuple[Clause, ...], Any] = WeakValueDictionary()
        self._postings: dict[str, Postings] = {}
        self._levels: dict[tuple[Query, Query], tuple[tuple[Counts, PageSet], ...]] = {}

    def query(self, query: Query) -> PageSet:
        """The pages that a query matches."""
        found = PageSet.none(self.size)
        for clause in query.clauses:
            found = found | self.clause(clause)
        return found

    def entry(self, condition: Condition) -> PageSet:
        """The pages that the condition of a sidebar's entry lets through. An empty include means every page."""
        included = self.query(condition.include) if condition.include else PageSet.everything(self.size)
        return included - self.query(condition.exclude)

    def clause(self, clause: Clause) -> PageSet:
        """The pages on which every term of a clause holds."""
        found = self._clauses.get(clause)
        if found is None:
            found = self._all_hold(clause)
            if len(self._clauses) >= self._most_kept:
                self._clauses.clear()
            self._clauses[clause] = found
        return found

    def _all_hold(self, clause: Clause) -> PageSet:
        first, *others = clause.terms
        found = ~self.term(first.positive) if first.negated else self.term(first)
        for term in others:
            holds = self.term(term.positive)
            found = found - holds if term.negated else found & holds
        return found

    def term(self, term: Term) -> PageSet:
        """The pages on which a positive term holds."""
        found = self._terms.get(term)
        if found is None:
            found = self._answer(term)
            if len(self._terms) >= self._most_kept:
                self._terms.clear()
            self._terms[term] = found
        return found

    def levels(self, condition: Condition) -> tuple[tuple[Counts, PageSet], ...]:
        """The pages that a condition's include and exclude let through, parted by the specificity they get there.

        Greatest counts first; counts without a page are left out.
        """
        key = (condition.include, condition.exclude)
        found = self._levels.get(key)
        if found is None:
            found = self._part(*key)
            if len(self._levels) >= self._most_kept:
                self._levels.clear()
            self._levels[key] = found
        return found

    def _part(self, include: Query, exclude: Query) -> tuple[tuple[Counts, PageSet], ...]:
        by_counts: dict[Counts, PageSet] = {}
        for clause in include.clauses:
            pages = self.clause(clause)
            known = by_counts.get(clause.counts)
            by_counts[clause.counts] = pages if known is None else known | pages
        left = ~self.query(exclude) if exclude else None
        levels = []
        for counts in sorted(by_counts, reverse=True):
            pages = by_counts[counts] if left is None else by_counts[counts] & left
            if pages:
                levels.append((counts, pages))
                left = ~pages if left is None else left - pages
        return tuple(levels)

    def _answer(self, term: Term) -> PageSet:
        if term.fact == "all":
            return PageSet.everything(self.size)
        mask = np.zeros(self.size, dtype=np.bool_)
        answer = _ANSWERS[term.fact]
        for value in term.values:
            answer(self, mask, value, term.key)
        return PageSet.from_mask(mask)

    @cached_property
    def search_texts(self) -> list[str]:
        """What a search word is looked for in, a text a page."""
        titles, paths = self.tree.pages.column("title"), self.tree.pages.column("path")
        return [f"{title}\n{path}".lower() for title, path in zip(titles, paths, strict=True)]

    @cached_property
    def own_slots(self) -> Codes:
        """A number for each page, the same where the slots in the pages' own content and HTML are."""
        pages = self.tree.pages
        return _numbered(zip(pages.column("slots"), pages.column("bound"), strict=True), _slots_alike)

    @cached_property
    def slots_in_pages(self) -> frozenset[str]:
        """The slots that stand in the content of a page, or are bound in its HTML."""
        columns = self.tree.pages.column("slots"), self.tree.pages.column("bound")
        return frozenset(slot for column in columns for slots in column for slot in slots or ())

    @cached_property
    def with_html(self) -> PageSet:
        """The pages that have HTML of their own."""
        return PageSet.from_mask(np.array([one is not None for one in self.tree.pages.column("bound")], dtype=np.bool_))

    @cached_property
    def own_locks(self) -> Codes:
        """A number for each page, the same where the locked slots are."""
        return _numbered(self.tree.pages.column("locks"), frozenset)

    @cached_property
    def paths(self) -> Paths:
        """The paths in alphabetical order, for patterns."""
        return Paths(self.tree.pages.column("path"))

    @cached_property
    def words(self) -> NDArray[np.int64]:
        """Words of each page, shape (pages,)."""
        return np.array(self.tree.pages.column("words"), dtype=np.int64)

    @cached_property
    def dates(self) -> NDArray[np.int64]:
        """Publication dates as proleptic ordinals, 0 for none, shape (pages,)."""
        days = self.tree.pages.column("published")
        return np.array([day.toordinal() if day else 0 for day in days], dtype=np.int64)

    def postings(self, fact: str) -> Postings:
        """For a fact that compares texts: which pages have which text."""
        found = self._postings.get(fact)
        if found is None:
            found = defaultdict(list)
            name, _, key = fact.partition(".")
            if name == "field":
                for number, fields in enumerate(self.tree.pages.column("fields")):
                    if key in fields:
                        found[fields[key]].append(number)
            elif name in ("term", "locks"):
                for number, texts in enumerate(self._lineages if name == "term" else self.tree.pages.column("locks")):
                    for text in texts:
                        found[text].append(number)
            else:
                one_text = self.tree.parents if name == "parent" else self.tree.pages.column(_ONE_TEXT[name])
                for number, text in enumerate(one_text):
                    if text:
                        found[text].append(number)
            # Whatever field is typed, no more is kept than pages have.
            if found:
                self._postings[fact] = found
        return found

    @property
    def _lineages(self) -> Iterator[set[str]]:
        """The terms of each page, with those above them."""
        lineage = self.tree.term_lineage

        # Many pages have the same terms.
        @cache
        def lineages(terms: tuple[str, ...]) -> set[str]:
            return {above for carried in terms for above in lineage(carried)}

        return map(lineages, self.tree.pages.column("terms"))

    def locking(self, target: Target) -> PageSet:
        """The pages on which another system owns a target; never the template."""
        return self._locking.get(target.name, self._nowhere) if target.kind == "slot" else self._nowhere

    @cached_property
    def _locking(self) -> dict[str, PageSet]:
        return {slot: PageSet.of(numbers, self.size) for slot, numbers in self.postings("locks").items()}

    @cached_property
    def _nowhere(self) -> PageSet:
        return PageSet.none(self.size)

    def texts(self, fact: str) -> dict[str, int]:
        """The texts that pages have for a fact, each with its number of pages."""
        return {text: len(numbers) for text, numbers in self.postings(fact).items()}

    def texts_where(self, fact: str, test: Callable[[str], bool]) -> Iterable[list[int]]:
        """The pages of every text that passes ``test``."""
        return (numbers for text, numbers in self.postings(fact).items() if test(text))


def _numbered(values: Iterable[Hashable], alike: Callable[[Any], Hashable]) -> Codes:
    """A number for each, from 0 in the order in which they come up; equal where what is made of them is."""
    numbers: dict[Hashable, int] = {}
    # There are few of them, over and over.
    known = cache(alike)
    return np.array([numbers.setdefault(known(one), len(numbers)) for one in values], dtype=np.int32)


def _slots_alike(slots_and_bound: tuple[Iterable[str], Iterable[str] | None]) -> Hashable:
    """The slots in a page's own content and those that are bound in its HTML, in whatever order; None without HTML."""
    slots, bound = slots_and_bound
    return frozenset(slots), None if bound is None else frozenset(bound)


#: Paths that the URL Pattern Standard compares as they are written: nothing to encode, no dots to walk.
_USUAL_PATH = re.compile(r"(/|(/[A-Za-z0-9_~-][A-Za-z0-9_.~-]*)+)\Z")
#: What a pattern surely starts with: letters before the first sign of its syntax.
_BEGINNING = re.compile(r"(?:/[A-Za-z0-9_~-][A-Za-z0-9_.~-]*)*/?")


class Paths:
    """Paths sorted for finding those that begin alike. ``unusual``: the numbers of those to be asked one by one."""

    def __init__(self, paths: list[str]) -> None:
        usual = [number for number, path in enumerate(paths) if _USUAL_PATH.match(path)]
        self._order = sorted(usual, key=paths.__getitem__)
        self._sorted = [paths[number] for number in self._order]
        self.unusual = sorted(set(range(len(paths))).difference(usual))

    def beginning_with(self, beginning: str) -> list[int]:
        """The numbers of the usual paths that start with a text."""
        low = bisect_left(self._sorted, beginning)
        high = bisect_left(self._sorted, beginning + "\U0010ffff")
        return self._order[low:high]


def literal_beginning(pattern: str) -> tuple[str, bool]:
    """What every usual path that a pattern matches starts with, and whether all paths that do are matched."""
    match = _BEGINNING.match(pattern)
    beginning = match.group() if match else ""
    if pattern == beginning + "*":
        return beginning, True
    # What stands before a group may belong to it, and be optional with it.
    return beginning.rpartition("/")[0], False


Mask = NDArray[np.bool_]
_Answer = Callable[[PageIndex, Mask, Value, str], None]


def _posted(fact: str) -> _Answer:
    def answer(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
        mask[index.postings(fact).get(value.text, [])] = True

    return answer


def _section(first: int) -> _Answer:
    """The unbroken range of a page's section, from the page itself (0) or the one after it (1); those of a folder."""

    def answer(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
        number = index.tree.numbers.get(value.text)
        if number is not None:
            mask[number + first : index.tree.ends[number]] = True
            return
        for number in index.tree.in_folder(value.text):
            mask[number : index.tree.ends[number]] = True

    return answer


def _child(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    mask[index.postings("parent").get(value.text, [])] = True
    folder, paths = value.text.rstrip("/"), index.tree.pages.column("path")
    mask[[number for number in index.tree.in_folder(value.text) if paths[number].rpartition("/")[0] == folder]] = True


def _page(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    number = index.tree.numbers.get(value.text)
    if number is not None:
        mask[number] = True


def _path(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    if is_plain_path(value.text):
        _page(index, mask, value, key)
        return
    pattern = path_pattern(value.text)
    beginning, ends_open = literal_beginning(value.text)
    paths = index.paths
    likely = paths.beginning_with(beginning)
    asked = paths.unusual if ends_open else [*likely, *paths.unusual]
    if ends_open:
        mask[likely] = True
    for number in asked:
        if pattern.test({"pathname": index.tree.pages[number].path}):
            mask[number] = True


def _lists(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    prefix = value.text[:-1]
    for numbers in index.texts_where(
        "lists", lambda text: text.startswith(prefix) if value.wild else text == value.text
    ):
        mask[numbers] = True


def _language(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    for numbers in index.texts_where("lang", lambda text: language_in_range(text, value.text)):
        mask[numbers] = True


def _field(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    for numbers in index.texts_where(f"field.{key}", lambda text: value.wild or text == value.text):
        mask[numbers] = True


def _between(numbers: NDArray[np.int64], bounds: Interval) -> Mask:
    found = np.ones(len(numbers), dtype=np.bool_)
    if bounds.low is not None:
        found &= numbers >= bounds.low
    if bounds.high is not None:
        found &= numbers <= bounds.high
    return found


def _words(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    mask |= _between(index.words, interval(value.text, False))


def _published(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    mask |= _between(index.dates, interval(value.text, True)) & (index.dates > 0)


def _word(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    word = value.text.lower()
    mask |= np.fromiter((word in text for text in index.search_texts), dtype=np.bool_, count=index.size)


_ANSWERS: dict[str, _Answer] = {
    "page": _page,
    "path": _path,
    "within": _section(0),
    "under": _section(1),
    "child": _child,
    "term": _posted("term"),
    "lists": _lists,
    "author": _posted("author"),
    "lang": _language,
    "words": _words,
    "published": _published,
    "field": _field,
    "kind": _posted("kind"),
    "type": _posted("type"),
    SEARCH_WORD.name: _word,
}
