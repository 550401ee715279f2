"""Marks of where a reader is, said in Liquid: drawn on every page they stand where they stood, whatever is in them."""

from datetime import datetime
from html import escape

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.rendering.items.place import Memory, Place
from navrel.rendering.markup.drawing import markup as draw
from navrel.server.bindings.marking import MOST_NAMED, marked_markup
from navrel.server.inventory.blocks import Mark, place_of

PATHS = ["/", "/fares", "/fares/bikes", "/fares/cars", "/fares/cars/long", "/routes", "/routes/hestan"]
MANY = [f"/news/{number}" for number in range(MOST_NAMED + 20)]


def made(paths):
    document = read_document(
        {"navrel": 1, "site": {"name": "Marrowick"}, "pages": [{"path": path, "title": path} for path in paths]}
    )
    return document, PageIndex(document.tree)


def drawn(code, document, index):
    """What a piece with some code draws in HTML of the site's own, by page."""
    lens = Lens(Visitor(), datetime(2026, 11, 30, 12))
    found = {}
    for page in document.pages:
        place = Place(document, index, page, lens, memory=Memory(), in_place=True)
        told = draw({"code": code, "css": ""}, place)
        assert told is not None and not told["stops"]
        (found[page.path],) = told["parts"]
    return found


def link(path, at, text="Boats"):
    return f'<a href="{path}" class="entry {place_of(at)}">{text}</a>'


@given(st.sets(st.sampled_from(PATHS)), st.sets(st.sampled_from(PATHS)), st.sampled_from(PATHS))
def test_a_mark_stands_on_just_the_pages_on_which_it_stood(pages, shown, target):
    document, index = made(PATHS)
    shown &= pages
    assume(shown)
    mark = Mark(0, "class", "active")
    code, _ = marked_markup(link(target, 0), [[target]], {mark: shown}, pages, index.tree)
    for path, html in drawn(code, document, index).items():
        if path in pages:
            assert html == f'<a href="{target}" class="entry{" active" * (path in shown)}">Boats</a>'


def test_a_section_is_said_in_a_few_words_and_what_takes_too_many_is_left_out():
    paths = [*PATHS, "/news", *MANY]
    document, index = made(paths)
    marks = {Mark(0, "class", "open"): {"/news", *MANY}, Mark(1, "class", "current"): set(MANY[1:])}
    code, _ = marked_markup(
        link("/news", 0) + link("/fares", 1), [["/news"], ["/fares"]], marks, set(paths), index.tree
    )
    assert len(code) < 300
    told = drawn(code, document, index)
    assert {path for path, html in told.items() if " open" in html} == {"/news", *MANY}
    assert not any("current" in html for html in told.values())


def test_marks_are_attributes_too_and_the_only_class():
    document, index = made(PATHS)
    markup = f'<ul data-{place_of(0)}=""><li><a href="/fares" data-{place_of(1)}="">Fares</a></li></ul>'
    marks = {Mark(0, "class", "current"): {"/fares"}, Mark(2, "aria-current", "page"): {"/fares"}}
    told = drawn(marked_markup(markup, [["/fares"], ["/fares"]], marks, set(PATHS), index.tree)[0], document, index)
    assert told["/fares"] == '<ul class="current"><li><a href="/fares" aria-current="page">Fares</a></li></ul>'
    assert told["/routes"] == '<ul><li><a href="/fares">Fares</a></li></ul>'


@pytest.mark.parametrize("text", ["{{ page.title }}", "{% endraw %}{{ page.title }}", "{{% raw %}", "{ {%", "}}{{{"])
def test_what_was_found_has_no_meaning_as_liquid(text):
    document, index = made(PATHS)
    mark = Mark(0, "class", "active")
    code, _ = marked_markup(link("/fares", 0, text), [["/fares"]], {mark: {"/fares"}}, set(PATHS), index.tree)
    told = drawn(code, document, index)
    assert told["/fares"] == f'<a href="/fares" class="entry active">{text}</a>'
    assert told["/routes"] == f'<a href="/fares" class="entry">{text}</a>'


@pytest.mark.parametrize("value", ['active"onclick', "active{{", "active}}", "active %}"])
def test_a_mark_that_cannot_be_said_is_left_out(value):
    document, index = made(PATHS)
    mark = Mark(0, "class", value)
    told = drawn(marked_markup(link("/", 0), [["/"]], {mark: {"/"}}, set(PATHS), index.tree)[0], document, index)
    assert set(told.values()) == {'<a href="/" class="entry">Boats</a>'}


@pytest.mark.parametrize("path", ['/a"b', "/a{{b", "/a%}b"])
def test_a_page_whose_path_ends_a_text_of_liquid_is_not_named(path):
    document, index = made([*PATHS, path])
    mark = Mark(0, "class", "active")
    code, _ = marked_markup(link("/x", 0), [[path]], {mark: {path, "/fares"}}, {*PATHS, path}, index.tree)
    assert set(drawn(code, document, index).values()) == {'<a href="/x" class="entry">Boats</a>'}


@given(st.sets(st.sampled_from(PATHS), min_size=1), st.sampled_from(["yes", 'a "quote"', "two words", "{ %}"]))
def test_the_value_of_a_hidden_input_is_what_it_was_on_each_page(pages, value):
    document, index = made(PATHS)
    marks = {Mark(0, "value", value): pages}
    markup = f'<input type="hidden" data-{place_of(0)}="">'
    code, lacking = marked_markup(markup, [[]], marks, set(PATHS), index.tree)
    assert lacking == 0
    bare = '<input type="hidden">'
    for path, html in drawn(code, document, index).items():
        assert html == (f'<input type="hidden" value="{escape(value)}">' if path in pages else bare)
