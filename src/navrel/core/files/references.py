"""What conditions name: where each value stands in the layout file, and whether the site has it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from ..errors import Problem
from ..language.query import Query, Term
from ..layout.condition import Condition
from ..layout.document import SiteDocument

_PAGES = ("page", "within", "under", "child")


@dataclass(frozen=True)
class Owner:
    """What has a condition: a rule, or an entry of a sidebar. ``pointer`` leads to it (RFC 6901).

    ``on`` is false for a rule that is switched off.
    """

    kind: Literal["rule", "entry"]
    pointer: str
    name: str
    condition: Condition
    on: bool = True


@dataclass(frozen=True)
class Reference:
    """A value of a term. ``pointer`` leads to the query text that it stands in (RFC 6901)."""

    pointer: str
    owner: Owner
    term: Term
    text: str


def owners(document: SiteDocument) -> Iterator[Owner]:
    """Everything in a layout that has a condition."""
    layout = document.layout
    for number, rule in enumerate(layout.rules):
        yield Owner("rule", f"/rules/{number}", rule.name, rule.condition, rule.on)
    for number, piece in enumerate(layout.pieces.values()):
        for place, entry in enumerate(piece.entries):
            widget = layout.pieces.get(entry.piece)
            name = f"{widget.name if widget else entry.piece} in {piece.name}"
            yield Owner("entry", f"/pieces/{number}/entries/{place}", name, entry.condition)


def references(document: SiteDocument) -> Iterator[Reference]:
    """Every value of every term of every condition."""
    for owner in owners(document):
        for name, query in _queries(owner.condition):
            for term in query.terms:
                for value in term.values:
                    yield Reference(f"{owner.pointer}/condition/{name}", owner, term, value.text)


def _queries(condition: Condition) -> tuple[tuple[str, Query], ...]:
    return (
        ("include", condition.include),
        ("exclude", condition.exclude),
        ("visitors/include", condition.visitors_include),
        ("visitors/exclude", condition.visitors_exclude),
    )


def missing_references(document: SiteDocument) -> Iterator[Reference]:
    """The references to pages, terms, types, authors and roles that the site does not have."""
    paths = {page.path for page in document.pages}
    known = {
        **dict.fromkeys(_PAGES, paths.union(document.tree.folders)),
        "page": paths,
        "term": {f"{taxonomy.slug}/{term.slug}" for taxonomy in document.taxonomies for term in taxonomy.terms},
        "type": {page.type for page in document.pages},
        "author": {page.author for page in document.pages},
        "role": set(document.roles),
    }
    for reference in references(document):
        if reference.term.fact in known and reference.text not in known[reference.term.fact]:
            yield reference


def warnings_of(document: SiteDocument) -> list[Problem]:
    """What a layout file names that it does not hold: no error, as a page or a term may come later."""
    return [
        Problem(
            reference.pointer,
            f"there is no {'term' if reference.term.fact == 'term' else 'page'} {reference.text}",
            "gone",
            reference.term.column,
            reference.term.length,
        )
        for reference in missing_references(document)
        if reference.term.fact in (*_PAGES, "term")
    ]
