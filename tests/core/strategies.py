"""Made sites, layouts and queries for property tests. Small alphabets, so that rules meet each other often."""

from __future__ import annotations

import datetime

from hypothesis import strategies as st

from navrel.core.calendar.rrule import read_recurrence
from navrel.core.calendar.schedule import Repeats, Schedule
from navrel.core.language.facts import Value
from navrel.core.language.query import Clause, Query, Term, parse_query
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.condition import Condition
from navrel.core.layout.model import (
    FORM_SETTING,
    FORMS,
    IN_PLACE,
    SLOTS,
    Action,
    Layout,
    Piece,
    Rule,
    Setting,
    SidebarEntry,
)
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree

PATHS = ("/", "/a", "/a/b", "/a/b/c", "/a/d", "/e", "/e/f", "/e/f/g", "/h i", "/j")
TYPES = ("article", "route", "")
TERMS = ("topic/sea", "topic/gulls", "topic/food")
#: Gulls stand below the sea.
TERM_PARENTS = {"topic/gulls": "topic/sea"}
AUTHORS = ("imre", "tove", "")
SLOTS_USED = ("header", "footer", "aside-end", "above-footer")
TEMPLATES = ("standard", "plain")
SETTINGS = (
    Setting("header-style", "choice", "solid", ("solid", "clear")),
    Setting("crumbs", "switch", True),
    Setting(FORM_SETTING, "choice", IN_PLACE, FORMS),
)
NOW = datetime.datetime(2026, 11, 23, 12)
ANYONE = Lens(Visitor(), NOW)

PIECES = {
    piece.slug: piece
    for piece in (
        Piece("main", "header", "Main"),
        Piece("slim", "header", "Slim"),
        Piece("foot", "footer", "Foot", content={"items": [{"type": "piece", "piece": "call"}]}),
        Piece("note", "widget", "Note"),
        Piece("call", "widget", "Call", slots=("inner",)),
        Piece(
            "desk",
            "sidebar",
            "Desk",
            entries=(
                SidebarEntry("note", Condition(exclude=parse_query("under:/a"))),
                SidebarEntry("call", Condition(visitors_include=parse_query("role:crew", "visitor"))),
                SidebarEntry("call", Condition(include=parse_query("within:/e"))),
                SidebarEntry("call", on=False),
            ),
        ),
        Piece("shelf", "sidebar", "Shelf", entries=(SidebarEntry("note"),)),
        Piece("standard", "template", "Standard", slots=SLOTS),
        Piece("plain", "template", "Plain", slots=("header", "title", "footer")),
    )
}
_FILLERS = {
    "header": ("main", "slim"),
    "footer": ("foot",),
    "aside-end": ("desk", "shelf"),
    "above-footer": ("note", "call"),
}


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
        bound=draw(st.sampled_from((None, None, (), ("header", "aside-end", "inner"), ("footer",)))),
    )


@st.composite
def sites(draw: st.DrawFn) -> PageTree:
    paths = draw(st.lists(st.sampled_from(PATHS), unique=True, min_size=1))
    return PageTree([draw(pages(path)) for path in paths], TERM_PARENTS)


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


_VISITOR_VALUES = (
    ("signed", "in"), ("role", "crew"), ("device", "phone"), ("browser", "safari"), ("accepts", "nb"),
    ("accepts", "en-GB"), ("referrer", "news.example"), ("referrer", "example"),
)  # fmt: skip


@st.composite
def visitor_terms(draw: st.DrawFn) -> Term:
    fact, key, value = draw(
        st.sampled_from(
            (
                *((fact, "", Value(text)) for fact, text in _VISITOR_VALUES),
                ("query", "ref", Value("mail")),
                ("query", "ref", Value("*", wild=True)),
            )
        )
    )
    return Term(fact, (value,), key, negated=draw(st.booleans()), domain="visitor")


def queries(terms: st.SearchStrategy[Term], most: int = 3) -> st.SearchStrategy[Query]:
    clauses = st.lists(terms, min_size=1, max_size=3, unique=True).map(lambda found: Clause(tuple(found)))
    return st.lists(clauses, max_size=most).map(lambda found: Query(tuple(found)))


DAY = datetime.timedelta(days=1)


@st.composite
def schedules(draw: st.DrawFn) -> Schedule | None:
    """None half of the time; else times within a few weeks of NOW, so that schedules meet."""
    days = st.sampled_from((None, None, -8, -1, 0, 1, 6))
    low, high = draw(days), draw(days)
    repeats = None
    if draw(st.booleans()):
        start = NOW + DAY * draw(st.integers(-9, 3))
        rrule = draw(
            st.sampled_from(("FREQ=DAILY;INTERVAL=2", "FREQ=WEEKLY", "FREQ=DAILY;COUNT=3", "FREQ=WEEKLY;COUNT=2"))
        )
        lasting = draw(st.sampled_from((DAY / 2, DAY, DAY * 2)))
        repeats = Repeats(rrule, read_recurrence(rrule, start), lasting)
    begins, ends = (None if days is None else NOW + DAY * days for days in (low, high))
    found = Schedule(begins, ends, repeats)
    return found if found != Schedule() and draw(st.booleans()) else None


conditions = st.builds(
    Condition,
    include=queries(page_terms()),
    exclude=queries(page_terms(), 1),
    visitors_include=queries(visitor_terms(), 1),
    visitors_exclude=queries(visitor_terms(), 1),
    schedule=schedules(),
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
    if draw(st.booleans()):
        found.append(Action("set", setting="header-style", value=draw(st.sampled_from(("solid", "clear")))))
    if draw(st.booleans()):
        found.append(Action("set", setting="crumbs", value=draw(st.booleans())))
    if draw(st.booleans()):
        found.append(Action("set", setting=FORM_SETTING, value=draw(st.sampled_from(FORMS))))
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
    return Layout(PIECES, rules, draw(st.sampled_from((None, "standard"))), SETTINGS)


visitors = st.builds(
    lambda signed, roles, device, accepts, query, referrer: Visitor(
        "in" if signed else "out",
        roles if signed else frozenset(),
        device,
        accepts=accepts,
        query=query,
        referrer=referrer,
    ),
    st.booleans(),
    st.sampled_from((frozenset(), frozenset({"crew"}))),
    st.sampled_from(("desktop", "phone")),
    st.sampled_from(((), ("nb",), ("en-GB", "nb-NO"), ("EN",))),
    st.sampled_from(({}, {"ref": "mail"}, {"ref": "print"}, {"other": "mail"})),
    st.sampled_from(("", "news.example", "example", "an-example", "www.news.example")),
)
moments = st.integers(-10 * 24, 20 * 24).map(lambda hours: NOW + datetime.timedelta(hours=hours))
lenses = st.builds(Lens, visitors, moments)
