"""Which pages, in words for people: queries about pages, by titles and names instead of paths and slugs."""

from __future__ import annotations

from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import Clause, Query, Term
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import person_name

#: Values of a term that are named; of more, the number is told.
_MOST_NAMED = 3

_PAGE_VALUED = ("page", "within", "under", "child")

_KINDS = {
    "home": "that are the home page", "single": "of one subject", "listing": "that are listings",
    "search": "with search results", "missing": "that are not found",
}  # fmt: skip
_NOT_KINDS = {
    "home": "that are not the home page", "single": "not of one subject", "listing": "that are no listings",
    "search": "without search results", "missing": "that are found",
}  # fmt: skip


class PageWords:
    """Words for the pages of one site."""

    def __init__(self, document: SiteDocument, index: PageIndex) -> None:
        self._document = document
        self._index = index

    def where(self, include: Query, exclude: Query = Query()) -> str:  # noqa: B008, a query never changes
        """What follows `pages`: `of type article on Food, but not below Legal`. Empty for no page."""
        if not include:
            return ""
        told = self._query(include)
        return f"{told}, but not {self._query(exclude)}" if exclude else told

    def _query(self, query: Query) -> str:
        return ", or ".join(self._clause(clause) for clause in query.clauses)

    def _clause(self, clause: Clause) -> str:
        return " ".join(map(self.term, clause.terms))

    def name_of(self, fact: str, value: str) -> str:
        """What people call a value of a page fact: a page by its title, an author by name; else the value itself."""
        name_of = {
            **dict.fromkeys(_PAGE_VALUED, self._title),
            "term": self._name_of_term,
            "lists": self._name_of_listed,
            "author": person_name,
        }.get(fact, str)
        return name_of(value)

    def _title(self, path: str) -> str:
        page = self._index.tree.page(path)
        return page.title or path if page else path

    def _name_of_term(self, term: str) -> str:
        return self._document.term_names.get(term, term)

    def _name_of_listed(self, listed: str) -> str:
        """What a page lists: `term/topic/food` is Food."""
        sort, _, name = listed.partition("/")
        name_of = {"term": self._name_of_term, "author": person_name}.get(sort, str)
        return name_of(name or "anything")

    def _listed(self, term: Term) -> str:
        if len(term.values) > _MOST_NAMED:
            return f"{len(term.values)} named ones"
        return " or ".join(self.name_of(term.fact, value.text) for value in term.values)

    def term(self, term: Term) -> str:
        """What a term about pages asks for: `not of type article`."""
        no = "not " if term.negated else ""
        if term.fact in _PAGE_VALUED:
            lead = {"page": "", "within": "in ", "under": "below ", "child": "right below "}[term.fact]
            return f"{no}{lead}{self._listed(term)}"
        match term.fact:
            case "all":
                return "nowhere" if term.negated else "everywhere"
            case "kind":
                names = _NOT_KINDS if term.negated else _KINDS
                return (" and " if term.negated else " or ").join(names[value.text] for value in term.values)
            case "type":
                return f"{no}of type {self._listed(term)}"
            case "term":
                return f"{no}on {self._listed(term)}"
            case "lists":
                return f"{no}listing {self._listed(term)}"
            case "author":
                return f"{no}by {self._listed(term)}"
            case "lang":
                return f"{no}in the language {self._listed(term)}"
            case "path":
                return f"{no}at {self._listed(term)}"
            case "words":
                return f"{no}of {self._listed(term)} words"
            case "published":
                return f"{no}published {self._listed(term)}"
        return f"{'without' if term.negated else 'with'} {term.key} {self._listed(term)}"
