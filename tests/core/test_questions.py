"""Suggestions, choices, changes, visitors: what else is asked of a site."""

import time
from dataclasses import replace

import pytest

from navrel.core.errors import QueryError, TreeError
from navrel.core.files.reading import read_document
from navrel.core.index.choices import choices
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Visitor
from navrel.core.language.visitor_terms import parse_visitor, print_visitor
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Layout
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.changes import Change, changed_parts
from navrel.core.questions.impact import impact
from navrel.core.questions.shifts import Impact
from navrel.core.questions.suggest import suggest

from .strategies import NOW

PAGES = [
    Page("/", kind="home"),
    Page("/tickets", kind="listing"),
    *(Page(f"/tickets/{name}", type="checkout") for name in ("choose", "pay", "done")),
    Page("/tickets/help"),
    Page("/pass/renew", type="checkout"),
    Page("/journal", kind="listing"),
    *(Page(f"/journal/{n}", type="article", author="imre" if n % 2 else "tove") for n in range(6)),
]


def index_of(pages):
    return PageIndex(PageTree(pages))


def test_picked_pages_get_the_condition_that_fits_them_exactly():
    found = suggest(index_of(PAGES), ["/tickets/choose", "/tickets/pay", "/tickets/done"])
    assert str(found[0].include) == "child:/tickets type:checkout"
    assert found[0].adds == ()
    assert found[0].lasting
    assert str(found[-1].include) == "page:/tickets/choose,/tickets/pay,/tickets/done"
    assert not found[-1].lasting


def test_a_wider_condition_says_which_pages_it_would_add():
    found = suggest(index_of(PAGES), ["/tickets/choose", "/pass/renew"])
    assert str(found[0].include) == "type:checkout"
    assert [page.path for page in found[0].adds] == ["/tickets/pay", "/tickets/done"]


def test_suggestions_pass_over_pages_that_are_not_there():
    assert suggest(index_of(PAGES), ["/nowhere"]) == []
    assert len(suggest(index_of(PAGES), ["/nowhere", "/tickets/pay"])) > 1


def test_every_suggestion_meets_what_was_picked():
    index = index_of(PAGES)
    picked = ["/journal/1", "/journal/3"]
    found = suggest(index, picked)
    assert 1 < len(found) <= 5
    for one in found:
        met = index.query(one.include) - index.query(one.exclude)
        paths = {index.tree.pages[number].path for number in met.numbers()}
        assert paths == {*picked, *(page.path for page in one.adds)} - {page.path for page in one.misses}


def test_suggesting_for_many_pages_of_a_large_site_is_quick():
    """The work grows with the pages, not with their square: ten times the pages, far less than a hundred times the time."""

    def seconds(count):
        pages = [
            Page("/"),
            *(Page(f"/s{n % 50}") for n in range(50)),
            *(Page(f"/s{n % 50}/p{n}", type="route") for n in range(count)),
        ]
        index = index_of(pages)
        picked = [page.path for page in pages if page.path.startswith("/s7/")]
        suggest(index, picked)
        started = time.perf_counter()
        suggest(index, picked)
        return time.perf_counter() - started

    assert seconds(10_000) < 60 * max(seconds(1_000), 1e-3)


def test_choices_offer_what_the_site_has_with_counts():
    site = SiteDocument("Marrowick", "marrowick", pages=tuple(PAGES), roles=("crew",))
    index = PageIndex(site.tree)
    assert [(one.text, one.pages) for one in choices(index, site, "type", "", 5)] == [("article", 6), ("checkout", 4)]
    assert [one.text for one in choices(index, site, "within", "jour", 5)] == ["/journal"]
    assert [one.text for one in choices(index, site, "child", "tick", 5)] == ["/tickets"]
    assert [one.text for one in choices(index, site, "role", "", 5)] == ["crew"]
    assert [one.text for one in choices(index, site, "", "wi", 5)] == ["within"]
    assert choices(index, site, "colour", "", 5) == []


def test_the_tree_is_a_range_for_each_section():
    site = PageTree(PAGES)
    tickets = site.numbers["/tickets"]
    assert [page.path for page in site.pages[tickets + 1 : site.ends[tickets]]] == [
        "/tickets/choose", "/tickets/pay", "/tickets/done", "/tickets/help",
    ]  # fmt: skip
    assert site.parent_path(site.pages[site.numbers["/pass/renew"]]) == "/"


def test_search_and_missing_pages_stand_last():
    site = PageTree([Page("/"), Page("/404", kind="missing"), Page("/a"), Page("/search", kind="search"), Page("/z")])
    assert [page.path for page in site.pages] == ["/", "/a", "/z", "/search", "/404"]


def test_a_stated_parent_counts_before_the_path():
    site = PageTree([Page("/a"), Page("/b"), Page("/a/x", parent="/b")])
    assert site.ancestor_paths(site.pages[site.numbers["/a/x"]]) == ["/b"]


def test_a_loop_of_parents_is_named():
    with pytest.raises(TreeError) as caught:
        PageTree([Page("/a", parent="/b"), Page("/b", parent="/a"), Page("/c")])
    assert caught.value.loop == ("/a", "/b", "/a")


def test_a_chain_of_ten_thousand_pages_needs_no_recursion():
    site = PageTree([Page("/0"), *(Page(f"/{n}", parent=f"/{n - 1}") for n in range(1, 10_000))])
    assert site.depths[-1] == 9_999
    assert len(PageIndex(site).query(parse_query("under:/0"))) == 9_999


def test_visitors_read_and_print():
    text = "signed:in role:crew,passholder device:phone accepts:nb,en query.campaign:spring referrer:example.org"
    visitor = parse_visitor(text, "en")
    assert visitor.roles == {"crew", "passholder"}
    assert parse_visitor(print_visitor(visitor, "en"), "en") == visitor
    assert parse_visitor("", "en") == Visitor(accepts=("en",))


@pytest.mark.parametrize(
    "text", ["role:crew", "-signed:in", "all", "signed:in | device:phone", "device:phone,tablet", "type:x"]
)
def test_what_is_no_visitor_is_refused(text):
    with pytest.raises(QueryError):
        parse_visitor(text, "en")


def state(*rules):
    return read_document(
        {
            "navrel": 1,
            "site": {"name": "Marrowick"},
            "pages": [{"path": "/"}, {"path": "/a"}, {"path": "/b"}],
            "pieces": [{"slug": "main", "kind": "header"}, {"slug": "slim", "kind": "header"}],
            "rules": list(rules),
        }
    )


def header(name, include, piece, **more):
    return {
        "name": name,
        "condition": {"include": include},
        "actions": [{"do": "fill", "slot": "header", "piece": piece}],
        **more,
    }


def test_changes_are_named_by_part():
    before = state(header("site", "all", "main"), header("old", "page:/a", "slim"))
    after = state(header("new", "page:/b", "slim"), header("site", "all", "main", priority=3))
    assert changed_parts(before, after) == [
        Change("rule", "added", "new"),
        Change("rule", "removed", "old"),
        Change("rule", "changed", "site", ("priority",)),
    ]
    swapped = replace(before, layout=replace(before.layout, rules=before.layout.rules[::-1]))
    assert changed_parts(before, swapped) == [Change("order", "moved", "the order of the rules")]
    notice = replace(before.layout.pieces["slim"], note="for the season")
    pieces = {**before.layout.pieces, "slim": notice}
    other = replace(before, language="nb", layout=replace(before.layout, pieces=pieces, default_template="plain"))
    assert changed_parts(before, other) == [
        Change("piece", "changed", notice.name, ("note",)),
        Change("site", "changed", before.name, ("language", "default_template")),
    ]
    fewer = replace(before, pages=(*before.pages[1:], Page("/more")))
    assert changed_parts(before, fewer) == [Change("pages", "added", "pages"), Change("pages", "removed", "pages")]
    assert changed_parts(before, before) == []


def test_an_empty_site_can_be_asked_anything():
    empty = SiteDocument("Empty", "empty", layout=Layout())
    index = PageIndex(empty.tree)
    assert len(index.query(parse_query("all | within:/"))) == 0
    assert suggest(index, ["/"]) == []
    assert impact(empty, index, empty, index, NOW) == Impact()
