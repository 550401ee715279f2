"""Single pages brought into a condition or left out of it: those and no others change, over any site and condition."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.cascade.conditions import page_clauses
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.layout.condition import Condition
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.amending import NothingLeft, with_pages, without_pages

from .strategies import page_terms, queries, sites


def reached(index, condition):
    tree = index.tree
    return {
        page.path
        for page in tree.pages
        if page_matches(tree, page, condition.include) and not page_matches(tree, page, condition.exclude)
    }


def page_matches(tree, page, query):
    """Term by term, as the plain reference has it."""
    return bool(page_clauses(tree, page, query))


@st.composite
def amended(draw):
    tree = draw(sites())
    condition = Condition(draw(queries(page_terms())), draw(queries(page_terms())))
    chosen = draw(st.lists(st.sampled_from(tree.pages), min_size=1, max_size=4, unique_by=lambda page: page.path))
    return PageIndex(tree), condition, chosen


@given(amended())
def test_pages_come_in_and_every_other_stays_as_it_was(case):
    index, condition, pages = case
    after = with_pages(index, condition, pages)
    assert reached(index, after) == reached(index, condition) | {page.path for page in pages}
    assert with_pages(index, after, pages) == after


@given(amended())
def test_pages_go_out_and_every_other_stays_as_it_was(case):
    index, condition, pages = case
    before, gone = reached(index, condition), {page.path for page in pages}
    if before <= gone:
        with pytest.raises(NothingLeft):
            without_pages(index, condition, pages)
    else:
        after = without_pages(index, condition, pages)
        assert reached(index, after) == before - gone
        assert without_pages(index, after, pages) == after


@pytest.mark.parametrize(
    ("include", "exclude", "added", "then", "and_not"),
    [
        ("type:article", "", "/b", "type:article | page:/b", ""),
        ("page:/a,/c", "", "/b", "page:/a,/c,/b", ""),
        ("page:/a", "", "/b", "page:/a | page:/b", ""),
        ("all", "page:/b,/c", "/b", "all", "page:/c"),
        ("all", "page:/b", "/b", "all", ""),
        ("all", "within:/b", "/b", "all", "within:/b -page:/b"),
        ("all", "all -page:/a", "/b", "all", "all -page:/a,/b"),
        ("all", "", "/b", "all", ""),
    ],
)
def test_a_condition_stays_readable_when_a_page_comes_in(tree, include, exclude, added, then, and_not):
    condition = Condition(parse_query(include), parse_query(exclude))
    after = with_pages(PageIndex(tree), condition, [tree.page(added)])
    assert (str(after.include), str(after.exclude)) == (then, and_not)


@pytest.mark.parametrize(
    ("include", "exclude", "gone", "then", "and_not"),
    [
        ("page:/a,/b,/c", "", "/b", "page:/a,/c", ""),
        ("page:/b | page:/a", "", "/b", "page:/a", ""),
        ("all", "", "/b", "all", "page:/b"),
        ("all", "page:/a,/c", "/b", "all", "page:/a,/c,/b"),
        ("page:/a,/b | within:/b", "", "/b", "page:/a | within:/b", "page:/b"),
    ],
)
def test_a_condition_stays_readable_when_a_page_goes_out(tree, include, exclude, gone, then, and_not):
    condition = Condition(parse_query(include), parse_query(exclude))
    after = without_pages(PageIndex(tree), condition, [tree.page(gone)])
    assert (str(after.include), str(after.exclude)) == (then, and_not)


@pytest.fixture
def tree():
    return PageTree([Page(path, path) for path in ("/a", "/b", "/b/d", "/c")])
