"""Pages as a table: the same pages, whether they were there or are made of their facts."""

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.pages.page import Page
from navrel.core.pages.table import FACTS, PageTable, joined

from .strategies import sites

pages_of_sites = sites().map(lambda site: list(site.pages))


def by_facts(pages):
    """A table that knows its pages by their facts alone."""
    return PageTable.by_facts(PageTable.of(pages).part(slice(None)))


@given(pages_of_sites)
def test_pages_made_of_their_facts_are_those_that_were_there(pages):
    table = by_facts(pages)
    assert (len(table), list(table), table[:]) == (len(pages), pages, tuple(pages))
    assert [table[at] for at in range(-len(pages), 0)] == pages
    assert all(table[at] is table[at] for at in range(len(pages)))
    assert {fact: table.column(fact) for fact in FACTS} == {
        fact: [getattr(page, fact) for page in pages] for fact in FACTS
    }


@given(pages_of_sites, st.data())
def test_another_order_has_the_same_pages(pages, data):
    order = data.draw(st.permutations(range(len(pages))))
    for table in (PageTable.of(pages), by_facts(pages)):
        other = table.ordered(order)
        assert list(other) == [pages[at] for at in order]
        assert all(other[at] is table[place] for at, place in enumerate(order))
        assert other.column("path") == [page.path for page in other]
        assert (other is table) == (order == sorted(order))


@given(pages_of_sites, st.data())
def test_parts_of_a_table_make_it_again(pages, data):
    table = by_facts(pages)
    ends = sorted(data.draw(st.sets(st.integers(0, len(pages)))) | {0, len(pages)})
    parts = [table.part(slice(one, other)) for one, other in pairwise(ends)]
    assert PageTable.by_facts(joined(parts)) == table


@given(pages_of_sites)
def test_tables_are_equal_where_their_pages_are(pages):
    table = by_facts(pages)
    assert table == PageTable.of(pages) == tuple(pages) == table
    assert table != pages[1:]
    assert table != [replace(pages[0], words=pages[0].words + 1), *pages[1:]]
    assert table != {page.path for page in pages}
    with pytest.raises(TypeError):
        hash(table)


def test_a_page_is_made_when_it_is_looked_at():
    table = by_facts([Page("/"), Page("/a")])
    assert (table.parts[0], table[1].path) == ([None, None], "/a")
    assert table.parts[0] == [None, Page("/a")]
    assert PageTable.of(table) is table
