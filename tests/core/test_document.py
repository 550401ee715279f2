"""The layout file: what is read, what is refused and where, and that writing is exact."""

import json
from pathlib import Path

import pytest
from hypothesis import given, settings

from navrel.core.document import SiteDocument, Taxonomy, TaxonomyTerm, slugify
from navrel.core.errors import DocumentError, Problem
from navrel.core.model import SLOTS
from navrel.core.reading import read_document, read_json
from navrel.core.writing import write_document, write_json

from .strategies import layouts, sites

DEMO = Path(__file__).parents[2] / "demo" / "layout.json"


def problems(tree):
    with pytest.raises(DocumentError) as caught:
        read_document(tree)
    return {(problem.pointer, problem.message) for problem in caught.value.problems}


def document(**parts):
    return {"navrel": 1, "site": {"name": "Marrowick Ferries"}, **parts}


def test_a_short_file_takes_its_defaults():
    found = read_document(
        document(
            pages=[{"path": "/tickets"}],
            pieces=[{"slug": "slim-header", "kind": "header"}, {"slug": "wide", "kind": "template"}],
            rules=[{"name": "r", "condition": {"include": "all"}}],
        )
    )
    page, rule = found.pages[0], found.layout.rules[0]
    assert (found.slug, found.language, page.kind, page.title, page.words) == (
        "marrowick-ferries",
        "en",
        "single",
        "/tickets",
        0,
    )
    assert (rule.on, rule.priority, rule.actions) == (True, 0, ())
    assert found.layout.pieces["slim-header"].name == "Slim header"
    assert found.layout.pieces["slim-header"].slots == ()
    assert found.layout.pieces["wide"].slots == SLOTS


@pytest.mark.parametrize(
    ("tree", "found"),
    [
        ([], {("", "this has to be an object"), ("/navrel", "this has to be 1, the version of the layout file"), ("/site", "name is missing")}),
        (document(colour=1), {("/colour", "there is no colour here")}),
        (document(pages=[{"path": "a"}]), {("/pages/0/path", "a is no path: it starts with / and has no query, fragment or closing slash")}),
        (document(pages=[{}]), {("/pages/0", "path is missing")}),
        (document(pages=[{"path": "/a"}, {"path": "/a"}]), {("/pages/1", "the path /a stands twice; first at /pages/0")}),
        (document(pages=[{"path": "/a", "parent": "/b"}]), {("/pages/0/parent", "there is no page /b")}),
        (document(pages=[{"path": "/a", "parent": "/b"}, {"path": "/b", "parent": "/a"}]), {("/pages", "parents form a loop: /a → /b → /a")}),
        (document(pages=[{"path": "/a", "terms": ["topic/x"]}]), {("/pages/0/terms/0", "there is no term topic/x")}),
        (document(pages=[{"path": "/a", "published": "soon"}]), {("/pages/0/published", "soon is not a date; write it as 2026-03-01")}),
        (document(pages=[{"path": "/a", "words": -1}]), {("/pages/0/words", "this has to be a whole number from 0 to 2147483647")}),
        (document(pieces=[{"slug": "A b", "kind": "header"}]), {("/pieces/0/slug", "A b is no slug: lower-case letters, digits and single hyphens")}),
        (document(pieces=[{"slug": "a"}]), {("/pieces/0", "kind is missing")}),
        (document(rules=[{"name": "x" * 81}]), {("/rules/0/name", "this name has 81 characters; 80 is the most")}),
        (document(rules=[{"name": "a"}, {"name": "a"}]), {("/rules/1", "the rule name a stands twice; first at /rules/0")}),
        (document(rules=[{"name": "a", "priority": 1001}]), {("/rules/0/priority", "this has to be a whole number from -1000 to 1000")}),
        (document(rules=[{"name": "a", "condition": {"include": "typ:x"}}]), {("/rules/0/condition/include", "column 1: there is no fact typ (did you mean type?)")}),
        (document(rules=[{"name": "a", "actions": [{"do": "fill", "slot": "header", "piece": "x"}]}]), {("/rules/0/actions/0/piece", "there is no piece x")}),
        (document(rules=[{"name": "a", "actions": [{"do": "fill", "slot": "header"}]}]), {("/rules/0/actions/0", "piece is missing")}),
        (document(rules=[{"name": "a", "actions": [{"do": "empty", "slot": "footer"}, {"do": "empty", "slot": "footer"}]}]), {("/rules/0/actions/1", "the decision on footer stands twice; first at /rules/0/actions/0")}),
        (document(taxonomies=[{"slug": "topic", "terms": [{"slug": "a", "parent": "a"}]}]), {("/taxonomies", "parents form a loop: topic/a → topic/a")}),
    ],
    ids=str,
)  # fmt: skip
def test_a_problem_names_its_place(tree, found):
    assert problems(tree) == found


def test_a_piece_of_the_wrong_kind_is_refused():
    tree = document(
        pieces=[{"slug": "foot", "kind": "footer"}],
        rules=[{"name": "r", "actions": [{"do": "fill", "slot": "header", "piece": "foot"}]}],
    )
    assert problems(tree) == {("/rules/0/actions/0/piece", "foot is a footer; this place takes a header")}


def test_all_problems_come_at_once_and_in_order():
    with pytest.raises(DocumentError) as caught:
        read_document(document(pages=[{"path": "x"}, {"path": "/y", "kind": "poster"}], rules=[{}]))
    assert [problem.pointer for problem in caught.value.problems] == ["/pages/0/path", "/pages/1/kind", "/rules/0"]


def test_what_is_no_json_says_where():
    with pytest.raises(DocumentError) as caught:
        read_json('{"navrel": 1,}')
    assert caught.value.problems == [
        Problem("", "this is not JSON: Expecting property name enclosed in double quotes: line 1 column 14 (char 13)", "syntax")
    ]  # fmt: skip


def test_deep_nesting_is_refused_and_does_not_recurse_away():
    with pytest.raises(DocumentError):
        read_json("[" * 200_000)


def test_the_demo_file_is_written_as_it_was_read():
    text = DEMO.read_text()
    assert write_json(read_json(text)) == text


@settings(max_examples=60, deadline=None)
@given(sites(), layouts())
def test_writing_and_reading_gives_the_same_document(site, layout):
    terms = (TaxonomyTerm("sea", "Sea"), TaxonomyTerm("gulls", "Gulls", "sea"), TaxonomyTerm("food", "Food"))
    pages = tuple(page for page in site.pages if " " not in page.path)
    whole = SiteDocument(
        "Marrowick", "marrowick", taxonomies=(Taxonomy("topic", "Topics", terms),), pages=pages, layout=layout
    )
    tree = json.loads(json.dumps(write_document(whole)))
    again = read_document(tree)
    assert again == whole
    assert write_json(again) == write_json(whole)


@pytest.mark.parametrize(("name", "slug"), [("Slim header", "slim-header"), ("  Ø 7 ", "7"), ("—", "x")])
def test_slugs_are_made_from_names(name, slug):
    assert slugify(name) == slug
