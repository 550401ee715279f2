"""The values that a fact can take on a site: what editors of a term offer."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from .document import SiteDocument
from .facts import BROWSERS, DEVICES, KINDS, PAGE_FACTS, SIGNED, VISITOR_FACTS, Value
from .index import PageIndex
from .query import Term

_PAGE_VALUED = ("page", "within", "under", "child")


@dataclass(frozen=True)
class Choice:
    """One value: ``text`` for the query, ``label`` for people, ``pages`` how many it would match (0 for visitors)."""

    text: str
    label: str
    about: str
    pages: int


def choices(index: PageIndex, document: SiteDocument, fact: str, text: str, limit: int) -> list[Choice]:
    """Up to ``limit`` values of ``fact`` whose text or label contains ``text`` in any case; best first.

    With an empty fact, the facts themselves. Those that start with the text come first, then those with most pages.
    """
    found = [] if fact and fact not in PAGE_FACTS and fact not in VISITOR_FACTS else list(_all(index, document, fact))
    word = text.lower()
    fitting = [choice for choice in found if word in choice.text.lower() or word in choice.label.lower()]
    if fact not in _PAGE_VALUED:
        fitting.sort(key=lambda choice: -choice.pages)
    fitting.sort(key=lambda choice: not (choice.text.lower().startswith(word) or choice.label.lower().startswith(word)))
    return fitting[:limit]


def _all(index: PageIndex, document: SiteDocument, fact: str) -> Iterable[Choice]:
    if not fact:
        return [Choice(name, name, known.about, 0) for name, known in PAGE_FACTS.items()]
    if fact in _PAGE_VALUED:
        return _page_choices(index, fact)
    if fact == "term":
        return [
            _counted(index, fact, f"{taxonomy.slug}/{term.slug}", term.name, taxonomy.name)
            for taxonomy in document.taxonomies
            for term in taxonomy.terms
        ]
    if fact in ("author", "type", "lang", "lists"):
        return [_counted(index, fact, value, value) for value in index.texts(fact)]
    if fact == "kind":
        return [_counted(index, fact, value, value) for value in KINDS]
    closed = {"signed": SIGNED, "device": DEVICES, "browser": BROWSERS, "role": document.roles}
    return [Choice(value, value, "", 0) for value in closed.get(fact, ())]


def _page_choices(index: PageIndex, fact: str) -> Iterable[Choice]:
    site = index.site
    for number, page in enumerate(site.pages):
        below = site.ends[number] - number - 1
        if fact != "page" and not below:
            continue
        if fact == "child":
            below = len(index.term(Term("child", (Value(page.path),))))
        yield Choice(page.path, page.title, page.type or page.kind, {"page": 1, "within": below + 1}.get(fact, below))


def _counted(index: PageIndex, fact: str, value: str, label: str, about: str = "") -> Choice:
    return Choice(value, label, about, len(index.term(Term(fact, (Value(value),)))))
