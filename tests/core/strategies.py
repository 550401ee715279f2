"""Made sites, layouts and queries for property tests. Small alphabets, so that rules meet each other often."""

from __future__ import annotations

import datetime

from hypothesis import strategies as st

from navrel.core.facts import Value
from navrel.core.model import SLOTS, Action, Condition, Layout, Page, Piece, Rule, SidebarEntry, Visitor
from navrel.core.query import Clause, Query, Term
from navrel.core.site import Site

PATHS = ("/", "/a", "/a/b", "/a/b/c", "/a/d", "/e", "/e/f", "/e/f/g", "/h i", "/j")
TYPES = ("article", "route", "")
TERMS = ("topic/sea", "topic/gulls", "topic/food")
#: Gulls stand below the sea.
TERM_PARENTS = {"topic/gulls": "topic/sea"}
AUTHORS = ("imre", "tove", "")
SLOTS_USED = ("header", "footer", "aside-end", "above-footer")
TEMPLATES = ("standard", "plain")

PIECES = {
    piece.slug: piece
    for piece in (
        Piece("main", "header", "Main"),
        Piece("slim", "header", "Slim"),
        Piece("foot", "footer", "Foot"),
        Piece("note", "widget", "Note"),
        Piece("call", "widget", "Call", slots=("inner",)),
        Piece("desk", "sidebar", "Desk", entries=(SidebarEntry("note"), SidebarEntry("call"))),
        Piece("standard", "template", "Standard", slots=SLOTS),
        Piece("plain", "template", "Plain", slots=("header", "title", "footer")),
    )
}
_FILLERS = {"header": ("main", "slim"), "footer": ("foot",), "aside-end": ("desk",), "above-footer": ("note", "call")}


@st.composite
def pages(draw: st.DrawFn, path: str) -> Page:
    return Page(
        path=path,
        title=draw(st.sampled_from(("Tern", "Gull", "Fares"))),
        kind=draw(st.sampled_from(("single", "listing", "home"))),
        type=draw(st.sampled_from(TYPES)),
        terms=tuple(draw(st.sets(st.sampled_from(TERMS)))),
        lists=draw(st.sampled_from(("", "term/topic/sea", "type/article"))),
        author=draw(st.sampled_from(AUTHORS)),
        language=draw(st.sampled_from(("en", "nb", "nb-NO"))),
        published=draw(st.sampled_from((None, datetime.date(2026, 1, 1), datetime.date(2026, 6, 30)))),
        words=draw(st.integers(0, 400)),
        fields=draw(st.sampled_from(({}, {"vessel": "Aurora"}, {"vessel": "*"}))),
        slots=draw(st.sampled_from(((), ("inner",), ("header",)))),
        locks=draw(st.sampled_from(((), ("footer",), ("header", "aside-end")))),
    )


@st.composite
def sites(draw: st.DrawFn) -> Site:
    paths = draw(st.lists(st.sampled_from(PATHS), unique=True, min_size=1))
    return Site([draw(pages(path)) for path in paths], TERM_PARENTS)


_VALUES: dict[str, st.SearchStrategy[Value]] = {
    **{fact: st.sampled_from(PATHS).map(Value) for fact in ("page", "within", "under", "child")},
    "path": st.sampled_from(("/a/*", "/e", "/:top", "/*/b{/*}?")).map(Value),
    "term": st.sampled_from(TERMS).map(Value),
    "lists": st.sampled_from((Value("term/topic/sea"), Value("type/*", wild=True), Value("*", wild=True))),
    "author": st.sampled_from(("imre", "nobody")).map(Value),
    "lang": st.sampled_from(("nb", "en", "NB-no")).map(Value),
    "words": st.sampled_from(("<100", ">=100", "50..300", "0", "<=200", ">399")).map(Value),
    "published": st.sampled_from(("2026-01-01", ">2026-01-01", "2025-01-01..2026-03-01")).map(Value),
    "kind": st.sampled_from(("single", "home")).map(Value),
    "type": st.sampled_from(("article", "route")).map(Value),
}


@st.composite
def page_terms(draw: st.DrawFn) -> Term:
    if draw(st.integers(0, 9)) == 0:
        return Term("all", negated=draw(st.booleans()))
    if draw(st.integers(0, 9)) == 0:
        value = draw(st.sampled_from((Value("Aurora"), Value("*"), Value("*", wild=True))))
        return Term("field", (value,), "vessel", draw(st.booleans()))
    fact = draw(st.sampled_from(sorted(_VALUES)))
    values = draw(st.lists(_VALUES[fact], min_size=1, max_size=2, unique=True))
    return Term(fact, tuple(values), negated=draw(st.booleans()))


@st.composite
def visitor_terms(draw: st.DrawFn) -> Term:
    fact, value = draw(
        st.sampled_from((("signed", "in"), ("role", "crew"), ("device", "phone"), ("browser", "safari")))
    )
    return Term(fact, (Value(value),), negated=draw(st.booleans()), domain="visitor")


def queries(terms: st.SearchStrategy[Term], most: int = 3) -> st.SearchStrategy[Query]:
    clauses = st.lists(terms, min_size=1, max_size=3, unique=True).map(lambda found: Clause(tuple(found)))
    return st.lists(clauses, max_size=most).map(lambda found: Query(tuple(found)))


conditions = st.builds(
    Condition,
    include=queries(page_terms()),
    exclude=queries(page_terms(), 1),
    visitors_include=queries(visitor_terms(), 1),
    visitors_exclude=queries(visitor_terms(), 1),
)


@st.composite
def rule_actions(draw: st.DrawFn) -> tuple[Action, ...]:
    found = []
    for slot in draw(st.lists(st.sampled_from(SLOTS_USED), min_size=1, max_size=3, unique=True)):
        if draw(st.booleans()):
            found.append(Action("empty", slot))
        else:
            found.append(Action("fill", slot, draw(st.sampled_from(_FILLERS[slot])), draw(st.booleans())))
    for slot in draw(st.lists(st.sampled_from(SLOTS_USED), max_size=2)):
        found.append(
            Action(draw(st.sampled_from(("prepend", "append"))), slot, draw(st.sampled_from(("note", "call"))))
        )
    if draw(st.booleans()):
        found.append(Action("use", piece=draw(st.sampled_from(TEMPLATES))))
    return tuple(draw(st.permutations(found)))


@st.composite
def layouts(draw: st.DrawFn) -> Layout:
    count = draw(st.integers(0, 6))
    rules = tuple(
        Rule(
            f"rule {number}",
            draw(conditions),
            draw(rule_actions()),
            draw(st.sampled_from((0, 0, 0, 5, -5))),
            draw(st.sampled_from((True, True, True, False))),
        )
        for number in range(count)
    )
    return Layout(PIECES, rules, draw(st.sampled_from((None, "standard"))))


visitors = st.builds(
    lambda signed, roles, device: Visitor("in" if signed else "out", roles if signed else frozenset(), device),
    st.booleans(),
    st.sampled_from((frozenset(), frozenset({"crew"}))),
    st.sampled_from(("desktop", "phone")),
)
