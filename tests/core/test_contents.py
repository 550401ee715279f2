"""What the cascade follows in the contents of pieces: slots, embedded pieces, menus, and loops of them."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import seated_slots
from navrel.core.errors import DocumentError
from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.asked import asked_in, asking
from navrel.core.layout.contents import (
    items_at,
    loop_through,
    menus_in,
    menus_told_in,
    pieces_in,
    renamed,
    slots_in,
    without_piece,
)
from navrel.core.layout.model import Layout, Menu, MenuEntry, Piece, Target
from navrel.core.questions.places import all_places

from .strategies import layouts, lenses, sites

EMBED = {"type": "piece", "piece": "call"}
SLIDES = {"type": "slides", "pieces": ["call", "note"]}
CONTENT = {
    "rows": [
        {"cells": [{"items": [EMBED, {"type": "slot", "name": "corner"}]}, {}]},
        {"cells": [{"items": [SLIDES, {"type": "menu", "menu": "main"}]}]},
    ]
}


def test_items_are_found_wherever_they_stand_with_their_pointers():
    assert [at for at, _ in items_at(CONTENT)] == [
        "/rows/0/cells/0/items/0", "/rows/0/cells/0/items/1", "/rows/1/cells/0/items/0", "/rows/1/cells/0/items/1",
    ]  # fmt: skip
    assert (pieces_in(CONTENT), slots_in(CONTENT), menus_in(CONTENT)) == (("call", "note"), ("corner",), ("main",))
    assert [at for at, _ in items_at({"items": [EMBED]})] == ["/items/0"]


ASKING = {
    "items": [
        {
            "type": "markup",
            "code": """<p>
{% item {"type": "slot", "name": "corner"} %}{%- item {"type": "piece", "piece": "call"}-%}
{% comment %}{% item {"type": "piece", "piece": "never"} %}{% endcomment %}{% item {"type": "piece", "piece": }%}
{% item {"type": "slides", "pieces": ["call", "note"], "label": "100 %\\u007d"} %}{{ menus.sail_on }}
{% item {"type": "menu", "menu": "main"} %}</p>""",
        }
    ]
}


def test_items_that_markup_asks_for_are_followed_like_any_other():
    assert [at for at, _ in items_at(ASKING)] == ["/items/0", *["/items/0/code"] * 4]
    assert (pieces_in(ASKING), slots_in(ASKING), menus_in(ASKING)) == (("call", "note"), ("corner",), ("main",))
    assert menus_told_in(ASKING) == {"sail-on"}
    assert ASKING["items"][0]["code"] == renamed(ASKING, {"other": "name"})["items"][0]["code"]
    left = without_piece(renamed(ASKING, {"call": "ring"}), "ring")
    assert pieces_in(left) == ("note",)
    code = left["items"][0]["code"]
    assert "100 %\\u007d" in code
    assert '"piece": "never"' in code
    assert '"piece": "call"' not in code


@given(st.recursive(st.text() | st.integers() | st.booleans(), lambda inner: st.lists(inner, max_size=3), max_leaves=5))
def test_any_item_is_asked_for_so_that_it_is_read_again(value):
    item = {"type": "text", "text": value}
    assert asked_in(f"{{{{ page.title }}}}{asking(item)}%}}") == (item,)


@pytest.mark.parametrize(
    "content", [{}, {"items": 3}, {"rows": [1, {"cells": "x"}, {"cells": [None, {"items": [2]}]}]}]
)
def test_what_is_not_shaped_as_it_should_be_is_passed_over(content):
    assert list(items_at(content)) == []


def test_a_piece_is_taken_out_or_called_otherwise_wherever_it_is_embedded():
    left = without_piece(CONTENT, "call")
    assert pieces_in(left) == ("note",)
    assert slots_in(left) == ("corner",)
    assert pieces_in(renamed(CONTENT, {"call": "ring"})) == ("ring", "note")
    assert pieces_in(CONTENT) == ("call", "note")


@pytest.mark.parametrize(
    ("embedded", "loop"),
    [
        ({"a": ["a"]}, ("a", "a")),
        ({"a": ["b"], "b": ["c"], "c": ["a"]}, ("a", "b", "c", "a")),
        ({"a": ["b", "c"], "b": ["d"], "c": ["a"], "d": ["b"]}, ("a", "c", "a")),
        ({"a": ["b"], "b": ["c"], "c": ["b"]}, ()),
        ({}, ()),
    ],
)
def test_the_shortest_loop_is_told(embedded, loop):
    assert loop_through("a", embedded) == loop


def test_what_is_inside_and_what_slots_are_held_is_told_however_deep_even_in_loops():
    def holds(slug, *items):
        return Piece(slug, "widget", slug, content={"items": list(items)})

    pieces = {
        one.slug: one
        for one in (
            holds("a", {"type": "piece", "piece": "b"}),
            holds("b", {"type": "piece", "piece": "c"}, {"type": "slot", "name": "s"}),
            holds("c", {"type": "piece", "piece": "a"}, {"type": "menu", "menu": "m"}),
            holds("d"),
        )
    }
    menus = {"m": Menu("m", "M", (MenuEntry("x", entries=(MenuEntry("y", panel="p"),)),))}
    layout = Layout(pieces, menus=menus)
    assert layout.inner == {slug: frozenset("abc") for slug in "abc"}
    assert layout.held_slots == {slug: frozenset("sp") for slug in "abc"}


def test_a_file_with_a_loop_or_with_what_is_no_widget_inside_is_refused():
    pieces = [
        {"slug": "a", "kind": "widget", "content": {"items": [{"type": "piece", "piece": "b"}]}},
        {
            "slug": "b",
            "kind": "widget",
            "content": {"items": [{"type": "piece", "piece": "a"}, {"type": "piece", "piece": "h"}]},
        },
        {"slug": "h", "kind": "header"},
    ]
    with pytest.raises(DocumentError) as refused:
        read_document({"navrel": 1, "site": {"name": "M"}, "pieces": pieces})
    assert [(one.pointer, one.message) for one in refused.value.problems] == [
        ("/pieces/1/content/items/1", "h is a header; this place takes a widget"),
        ("/pieces/0/content", "A would contain itself: A → B → A"),
        ("/pieces/1/content", "B would contain itself: B → A → B"),
    ]


@settings(max_examples=40)
@given(sites(), layouts(), lenses)
def test_all_places_agree_with_the_pages(site, layout, lens):
    """Where a slot has a place, what it shows there, and on how many pages, is as each page says for itself."""
    index = PageIndex(site)
    for place in all_places(index, layout, lens):
        seated, shown = 0, {}
        for page in site.pages:
            traces = resolve_page(site, layout, page, lens)
            outcomes = {target: one.outcome for target, one in traces.items()}
            if place.slot in seated_slots(layout, page, outcomes, lens, site):
                seated += 1
                here = outcomes.get(Target("slot", place.slot))
                for slug in here.pieces if here else ():
                    shown[slug] = shown.get(slug, 0) + 1
        assert (place.seated, dict(place.shown)) == (seated, shown)
