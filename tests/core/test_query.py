"""The query language: the cases of `cases/queries.json`, which any implementation can run, and its laws."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.errors import QueryError
from navrel.core.language.query import Counts, Query, parse_query, parse_search
from navrel.core.language.tokens import MAX_QUERY_LENGTH

from .strategies import page_terms, queries, visitor_terms

CASES = json.loads((Path(__file__).parent / "cases" / "queries.json").read_text())


@pytest.mark.parametrize("case", CASES["read"], ids=lambda case: case["text"])
def test_reads_to_its_normal_form(case):
    assert str(parse_query(case["text"])) == case["normal"]


@pytest.mark.parametrize("case", CASES["errors"], ids=lambda case: case["text"])
def test_error_names_its_place(case):
    with pytest.raises(QueryError) as caught:
        parse_query(case["text"])
    found = caught.value
    assert (found.column, found.code) == (case["column"], case["code"])
    assert found.message == case.get("message", found.message)
    assert found.hint == case.get("hint", found.hint)


@given(queries(page_terms()))
def test_printing_then_reading_gives_the_same_query(query: Query):
    assert parse_query(str(query)) == query


@given(queries(visitor_terms()))
def test_visitor_queries_round_trip_too(query: Query):
    assert parse_query(str(query), "visitor") == query


@given(st.text(alphabet='ab:,|"\\- /*\n', max_size=30))
def test_any_text_reads_or_fails_inside_itself(text: str):
    """A query text either round-trips or fails at a column from 1 to one past its end."""
    try:
        query = parse_query(text)
    except QueryError as error:
        assert 1 <= error.column <= len(text) + 1
    else:
        assert parse_query(str(query)) == query


@pytest.mark.parametrize(
    ("text", "counts"),
    [
        ("all", (0, 0, 0)),
        ("page:/a", (2, 0, 0)),
        ("page:/a,/b", (1, 0, 0)),
        ("path:/a", (2, 0, 0)),
        ("path:/a,/b", (1, 0, 0)),
        ("path:/a/*", (0, 1, 0)),
        ("path:/a,/b/*", (0, 1, 0)),
        ("within:/a type:x -author:y", (0, 1, 1)),
        ("kind:single type:x lang:nb", (0, 1, 2)),
    ],
)
def test_specificity_counts_positive_terms(text, counts):
    assert parse_query(text).clauses[0].counts == Counts(*counts)


def test_a_search_takes_bare_words_and_a_query_does_not():
    assert str(parse_search('tern -gull "two words" type:article')) == 'tern -gull "two words" type:article'


@pytest.mark.parametrize(
    ("title", "words"),
    [
        ("Mussels, and why not", ["Mussels,", "and", "why", "not"]),
        ("Terns,gulls", ["Terns,gulls"]),
        ("The 10:30 boat", ["The", "10:30", "boat"]),
        ("Tides: a table", ["Tides:", "a", "table"]),
        ("Ferries - a history", ["Ferries", "-", "a", "history"]),
        ("What is on? (now)", ["What", "is", "on?", "(now)"]),
    ],
)
def test_a_title_is_found_as_it_is_typed(title, words):
    found = parse_search(title)
    assert [term.values[0].text for term in found.clauses[0].terms] == words
    assert parse_search(str(found)) == found


def test_a_fact_that_is_mistyped_is_still_told():
    with pytest.raises(QueryError, match="there is no fact tpye"):
        parse_search("tpye:article")
    with pytest.raises(QueryError):
        parse_query("tern")


def test_ten_megabytes_are_refused_at_once():
    with pytest.raises(QueryError) as caught:
        parse_query("type:a " * 1_500_000)
    assert caught.value.code == "too-long"
    assert caught.value.column == MAX_QUERY_LENGTH + 1


def test_columns_count_characters_and_not_bytes():
    with pytest.raises(QueryError) as caught:
        parse_query('author:"Åse Ødegård" x:1')
    assert caught.value.column == 22
