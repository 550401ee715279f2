"""What is offered at the caret, in texts that are whole and in texts that are not."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.index.completion import complete
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.layout.document import SiteDocument, Taxonomy, TaxonomyTerm
from navrel.core.pages.page import Page

DOCUMENT = SiteDocument(
    "Marrowick",
    "marrowick",
    roles=("crew", "passholder"),
    taxonomies=(Taxonomy("topic", "Topics", (TaxonomyTerm("sea", "The sea"),)),),
    pages=(
        Page("/", "Home", "home"),
        Page("/journal", "Journal", "listing"),
        Page("/journal/fog", "Fog", type="article", author="imre", terms=("topic/sea",), fields={"vessel": "Aurora B"}),
        Page("/journal/gulls", "Gulls", type="article", author="o, tove"),
        Page("/routes", "Routes", type="route"),
    ),
)
INDEX = PageIndex(DOCUMENT.tree)


def offered(marked, domain="page"):
    """The completion where the text holds | at the caret."""
    text, after = marked.split("^")
    return complete(INDEX, DOCUMENT, text + after, len(text), domain)


@pytest.mark.parametrize(
    ("marked", "start", "end", "what", "first"),
    [
        ("^", 0, 0, "fact", ("page:", 5)),
        ("ty^", 0, 2, "fact", ("type:", 3)),
        ("t^ype:article", 0, 4, "fact", ("term:", 1)),
        ("type:article -ki^", 14, 16, "fact", ("kind:", 5)),
        ("type:^", 5, 5, "value", ("article", 2)),
        ("type:route,^", 11, 11, "value", ("article", 2)),
        ("-type:^", 6, 6, "value", ("article", 3)),
        ("kind:home | page:/j^ all", 17, 19, "value", ("/journal", 1)),
        ("within:/j^", 7, 9, "value", ("/journal", 3)),
        ("under:/j^", 6, 8, "value", ("/journal", 2)),
        ("child:^", 6, 6, "value", ("/", 2)),
        ("path:/jou^", 5, 9, "value", ("/journal/*", 2)),
        ("term:sea^", 5, 8, "value", ("topic/sea", 1)),
        ('author:"o, ^', 7, 11, "value", ('"o, tove"', 1)),
        ("field.vessel:^", 13, 13, "value", ("*", 1)),
        ("field.vessel:Aur^", 13, 16, "value", ('"Aurora B"', 1)),
        ("fie^", 0, 3, "fact", ("field.vessel:", 1)),
        ("words:^", 6, 6, "value", ("<100", 5)),
        ("al^", 0, 2, "fact", ("all", 5)),
        ("type:route topic:se^", 11, 19, "value", ("term:topic/sea", 1)),
        ("-topic:^", 1, 7, "value", ("term:topic/sea", 4)),
    ],
)
def test_facts_and_values_come_with_the_pages_that_they_match(marked, start, end, what, first):
    found = offered(marked)
    assert (found.start, found.end, found.what) == (start, end, what)
    assert (found.offers[0].insert, found.offers[0].pages) == first


@pytest.mark.parametrize("marked", ["topic:sea,^", "topic:x^", "tone:^"])
def test_what_is_no_fact_and_begins_no_term_is_offered_nothing(marked):
    assert offered(marked).offers == ()


def test_visitor_queries_are_offered_visitor_facts_without_counts():
    assert [(one.insert, one.pages) for one in offered("si^", "visitor").offers] == [("signed:", None)]
    assert [one.insert for one in offered("role:^", "visitor").offers] == ["crew", "passholder"]
    assert [one.insert for one in offered("que^", "visitor").offers] == ["query."]
    assert offered("type:^", "visitor").offers == ()
    assert offered("colour:^").offers == ()


def test_what_is_offered_can_be_read_and_matches_as_many_pages_as_it_says():
    for fact in ("type", "kind", "author", "within", "under", "child", "path", "term", "words", "field.vessel", "lang"):
        for offer in offered(f"{fact}:^").offers:
            assert len(INDEX.query(parse_query(f"{fact}:{offer.insert}"))) == offer.pages
            negated = next(one for one in offered(f"-{fact}:^").offers if one.insert == offer.insert)
            assert len(INDEX.query(parse_query(f"-{fact}:{offer.insert}"))) == negated.pages


@given(st.text('abtype:-|,"\\ /*', max_size=30), st.data())
def test_any_text_can_be_asked_about(text, data):
    caret = data.draw(st.integers(0, len(text)))
    found = complete(INDEX, DOCUMENT, text, caret)
    assert 0 <= found.start <= found.end <= len(text)


def test_a_caret_outside_of_the_text_is_an_error():
    with pytest.raises(ValueError, match="the caret 9 is outside of a text of 3 characters"):
        complete(INDEX, DOCUMENT, "all", 9)
