"""The facts that a query can ask about a site, and the values that a fact can take there: what editors offer."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..language.facts import BROWSERS, DEVICES, KINDS, PAGE_FACTS, SIGNED, VISITOR_FACTS, Value
from ..language.query import Domain, Term
from ..layout.document import SiteDocument
from .finding import TextFinder
from .page_index import PageIndex

_PAGE_VALUED = ("page", "within", "under", "child")
#: Numbers of words that tell short pages from long ones.
_LENGTHS = ("<100", "<300", ">=300", ">=1000")
_MOST_YEARS = 8


@dataclass(frozen=True)
class Choice:
    """One fact or value: ``text`` for the query, ``label`` for people, ``pages`` how many it would match.

    ``wild``: the text ends in a wildcard. Visitor facts match no pages: 0.
    """

    text: str
    label: str
    about: str
    pages: int
    wild: bool = False


def choices(
    index: PageIndex, document: SiteDocument, fact: str, text: str, limit: int, domain: Domain = "page"
) -> list[Choice]:
    """Up to ``limit`` values of ``fact`` whose text or label contains ``text`` in any case; best first.

    With an empty fact, the facts of ``domain`` themselves. Those that start with the text come first, then those
    with most pages. What a fact can take is made once for the pages of an index.
    """
    table = index.tables.get((domain, fact))
    if table is None:
        table = _table(index, document, fact, domain)
        # Roles are no matter of the pages: they may change while the index stays.
        if fact != "role":
            index.tables[domain, fact] = table
    return [table.choice(number) for number in table.finder.find(text, limit)]


@dataclass(frozen=True)
class _Table:
    """What can be chosen, in order, and how to find it by its letters."""

    finder: TextFinder
    choice: Callable[[int], Choice]


def _table(index: PageIndex, document: SiteDocument, fact: str, domain: Domain) -> _Table:
    if fact in _PAGE_VALUED or fact == "path":
        return _page_table(index, fact)
    found = list(_facts(index, domain) if not fact else _values(index, document, fact))
    if fact:
        found.sort(key=lambda choice: -choice.pages)
    return _Table(TextFinder([(choice.text, choice.label) for choice in found]), found.__getitem__)


def _facts(index: PageIndex, domain: Domain) -> Iterable[Choice]:
    """The facts of a half of the language; each page fact with the pages that have anything to tell about it."""
    every = Choice("all", "all", "every page" if domain == "page" else "every visitor", index.size)
    if domain == "visitor":
        known = [
            Choice(f"{name}." if fact.keyed else name, name, fact.about, 0) for name, fact in VISITOR_FACTS.items()
        ]
        return [*known, every]
    told = {
        "child": sum(index.texts("parent").values()),
        "under": sum(index.texts("parent").values()),
        "term": sum(map(bool, index.tree.pages.column("terms"))),
        "published": int((index.dates > 0).sum()),
        **{fact: sum(index.texts(fact).values()) for fact in ("author", "lang", "lists", "type", "kind")},
    }
    found = [
        Choice(name, name, fact.about, told.get(name, index.size))
        for name, fact in PAGE_FACTS.items()
        if not fact.keyed
    ]
    keys = Counter(key for fields in index.tree.pages.column("fields") for key in fields)
    found += [Choice(f"field.{key}", f"field.{key}", PAGE_FACTS["field"].about, n) for key, n in sorted(keys.items())]
    return [*found, every]


def _values(index: PageIndex, document: SiteDocument, fact: str) -> Iterable[Choice]:
    base, _, key = fact.partition(".")
    if fact == "term":
        return [
            _counted(index, fact, f"{taxonomy.slug}/{term.slug}", term.name, taxonomy.name)
            for taxonomy in document.taxonomies
            for term in taxonomy.terms
        ]
    if base == "field" and key:
        present = Choice("*", "any value", "", sum(index.texts(fact).values()), wild=True)
        return [present, *(Choice(text, text, "", pages) for text, pages in index.texts(fact).items())]
    if fact in ("author", "type", "lang", "lists"):
        return [_counted(index, fact, value, value) for value in index.texts(fact)]
    if fact == "kind":
        return [_counted(index, fact, value, value) for value in KINDS]
    if fact == "words":
        return [_counted(index, fact, value, f"{value} words") for value in _LENGTHS]
    if fact == "published":
        years = sorted({day.year for day in index.tree.pages.column("published") if day}, reverse=True)
        return [_counted(index, fact, f">={year:04}-01-01", f"since {year}") for year in years[:_MOST_YEARS]]
    closed = {"signed": SIGNED, "device": DEVICES, "browser": BROWSERS, "role": document.roles,
              "accepts": tuple(index.texts("lang"))}  # fmt: skip
    return [Choice(value, value, "", 0) for value in closed.get(fact, ())]


def _page_table(index: PageIndex, fact: str) -> _Table:
    """The pages that a fact can name, in tree order, then the folders; all pages below one for a path pattern."""
    tree = index.tree
    folders = [] if fact == "page" else index.tree.folders
    children = index.texts("parent")
    paths, titles = tree.pages.column("path"), tree.pages.column("title")
    wanted = [
        number
        for number, path in enumerate(paths)
        if fact == "page" or (tree.ends[number] - number > 1 and not (fact == "path" and path == "/"))
    ]

    def choice(at: int) -> Choice:
        if at >= len(wanted):
            folder = folders[at - len(wanted)]
            value, label = (f"{folder}/*", f"below {folder}") if fact == "path" else (folder, folder)
            return _counted(index, fact, value, label, "folder")
        number = wanted[at]
        page = tree.pages[number]
        below = tree.ends[number] - number - 1
        if fact == "path":
            return Choice(f"{page.path}/*", f"below {page.title}", page.type or page.kind, below)
        count = {"page": 1, "within": below + 1, "child": children.get(page.path, 0)}.get(fact, below)
        return Choice(page.path, page.title, page.type or page.kind, count)

    named = [*((paths[number], titles[number]) for number in wanted), *((folder, "") for folder in folders)]
    return _Table(TextFinder(named), choice)


def _counted(index: PageIndex, fact: str, value: str, label: str, about: str = "") -> Choice:
    return Choice(value, label, about, len(index.term(Term(fact, (Value(value),)))))
