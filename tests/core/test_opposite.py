"""Conditions turned round."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.index.page_index import PageIndex
from navrel.core.language.opposite import MOST_TERMS, TooLong, opposite
from navrel.core.language.query import parse_query

from .strategies import page_terms, queries, sites


@settings(max_examples=50)
@given(sites(), queries(page_terms()), queries(page_terms(), 2), st.booleans())
def test_the_opposite_matches_exactly_where_the_condition_does_not(site, include, exclude, everything):
    index = PageIndex(site)
    include = parse_query("all") if everything else include
    turned, left = opposite(include, exclude)
    before = index.query(include) - index.query(exclude)
    assert index.query(turned) - index.query(left) == ~before
    assert parse_query(str(turned)) == turned


@pytest.mark.parametrize(
    ("include", "exclude", "turned"),
    [
        ("type:article", "", ("all", "type:article")),
        ("all", "type:article", ("type:article", "")),
        ("type:article | within:/a", "", ("all", "type:article | within:/a")),
        ("", "", ("all", "")),
        ("all", "", ("", "")),
        ("", "type:article", ("all", "")),
        ("type:article lang:en", "page:/a", ("page:/a | -type:article | -lang:en", "")),
        ("type:a | type:b", "page:/a", ("page:/a | -type:a -type:b", "")),
        ("-type:article", "page:/a", ("page:/a | type:article", "")),
    ],
)
def test_opposites_are_written_as_shortly_as_they_can_be(include, exclude, turned):
    found = opposite(parse_query(include), parse_query(exclude))
    assert tuple(map(str, found)) == turned


def test_visitors_have_opposites_too():
    found = opposite(parse_query("role:crew", "visitor"), parse_query("device:phone", "visitor"))
    assert tuple(map(str, found)) == ("device:phone | -role:crew", "")
    assert str(opposite(parse_query("signed:in", "visitor"), parse_query("", "visitor"))[0]) == "all"


def test_an_opposite_that_nobody_could_read_is_none():
    many = " | ".join(f"type:a{n} author:b{n}" for n in range(10))
    with pytest.raises(TooLong):
        opposite(parse_query(many), parse_query("page:/a"))
    most = " ".join(f"field.f{n}:x" for n in range(MOST_TERMS - 1))
    assert len(opposite(parse_query(most), parse_query("page:/a"))[0].terms) == MOST_TERMS
