"""Every page term answered for all pages at once, each computed a single time."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .facts import SEARCH_WORD, Interval, Value, interval, is_plain_path, language_in_range, path_pattern
from .model import Target
from .pageset import PageSet
from .query import Clause, Query, Term
from .site import Site

Postings = dict[str, list[int]]


class PageIndex:
    """Answers page queries over one site. Grows by one PageSet for each distinct term it is asked about."""

    def __init__(self, site: Site) -> None:
        self.site = site
        self.size = len(site)
        self._terms: dict[Term, PageSet] = {}

    def query(self, query: Query) -> PageSet:
        """The pages that a query matches."""
        found = PageSet.none(self.size)
        for clause in query.clauses:
            found = found | self.clause(clause)
        return found

    def clause(self, clause: Clause) -> PageSet:
        """The pages on which every term of a clause holds."""
        found = PageSet.everything(self.size)
        for term in clause.terms:
            holds = self.term(term.positive)
            found = found - holds if term.negated else found & holds
        return found

    def term(self, term: Term) -> PageSet:
        """The pages on which a positive term holds."""
        found = self._terms.get(term)
        if found is None:
            found = self._terms[term] = self._answer(term)
        return found

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
        return [f"{page.title}\n{page.path}".lower() for page in self.site.pages]

    @cached_property
    def words(self) -> NDArray[np.int64]:
        """Words of each page, shape (pages,)."""
        return np.array([page.words for page in self.site.pages], dtype=np.int64)

    @cached_property
    def dates(self) -> NDArray[np.int64]:
        """Publication dates as proleptic ordinals, 0 for none, shape (pages,)."""
        return np.array(
            [page.published.toordinal() if page.published else 0 for page in self.site.pages], dtype=np.int64
        )

    @cached_property
    def postings(self) -> dict[str, Postings]:
        """For each fact that compares texts: which pages have which text."""
        found: dict[str, Postings] = defaultdict(lambda: defaultdict(list))
        for number, page in enumerate(self.site.pages):
            for fact, text in (
                ("author", page.author),
                ("lang", page.language),
                ("kind", page.kind),
                ("type", page.type),
                ("lists", page.lists),
                ("parent", self.site.parent_path(page) or ""),
            ):
                if text:
                    found[fact][text].append(number)
            for term in {above for carried in page.terms for above in self.site.term_lineage(carried)}:
                found["term"][term].append(number)
            for key, text in page.fields.items():
                found[f"field.{key}"][text].append(number)
            for slot in page.locks:
                found["locks"][slot].append(number)
        return found

    def locking(self, target: Target) -> PageSet:
        """The pages on which another system owns a target; never the template."""
        numbers = self.postings["locks"].get(target.name, []) if target.kind == "slot" else []
        return PageSet.of(numbers, self.size)

    def texts(self, fact: str) -> dict[str, int]:
        """The texts that pages have for a fact, each with its number of pages."""
        return {text: len(numbers) for text, numbers in self.postings[fact].items()}

    def texts_where(self, fact: str, test: Callable[[str], bool]) -> Iterable[list[int]]:
        """The pages of every text that passes ``test``."""
        return (numbers for text, numbers in self.postings[fact].items() if test(text))


Mask = NDArray[np.bool_]
_Answer = Callable[[PageIndex, Mask, Value, str], None]


def _posted(fact: str) -> _Answer:
    def answer(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
        mask[index.postings[fact].get(value.text, [])] = True

    return answer


def _section(first: int) -> _Answer:
    """The unbroken range of a page's section, from the page itself (0) or the one after it (1)."""

    def answer(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
        number = index.site.numbers.get(value.text)
        if number is not None:
            mask[number + first : index.site.ends[number]] = True

    return answer


def _page(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    number = index.site.numbers.get(value.text)
    if number is not None:
        mask[number] = True


def _path(index: PageIndex, mask: Mask, value: Value, key: str) -> None:
    if is_plain_path(value.text):
        _page(index, mask, value, key)
        return
    pattern = path_pattern(value.text)
    for number, page in enumerate(index.site.pages):
        if pattern.test({"pathname": page.path}):
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
    "child": _posted("parent"),
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
