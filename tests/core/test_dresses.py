"""Dresses: how they are read and written, and the setting that chooses among them."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.errors import DocumentError
from navrel.core.files.reading import read_document, read_dresses, read_settings
from navrel.core.files.writing import write_dress, write_json, write_setting
from navrel.core.layout.dress import COLOURS, FAMILIES, FONTS, MEASURES, Dress
from navrel.core.layout.dressing import with_dress_setting
from navrel.core.layout.model import Layout

from .test_document import SCHEMA

colours = st.dictionaries(st.sampled_from(list(COLOURS)), st.from_regex(r"#([0-9a-f]{3}|[0-9A-F]{6})", fullmatch=True))
dresses = st.lists(
    st.builds(
        lambda slug, colours, dark, fonts, measures: {
            "slug": slug, "name": slug.title(), "colours": colours, "dark": dark, "fonts": fonts, "measures": measures,
        },
        st.sampled_from(("day", "night", "gala")), colours, colours,
        st.dictionaries(st.sampled_from(list(FONTS)), st.sampled_from((*FAMILIES, "own.woff2"))),
        st.fixed_dictionaries({}, optional={
            name: st.floats(measure.least, measure.most) for name, measure in MEASURES.items()
        }),
    ),
    unique_by=lambda tree: tree["slug"],
)  # fmt: skip


@given(dresses)
def test_what_is_written_is_read_again_as_it_was_and_fits_the_schema(trees):
    whole = read_document({"navrel": 1, "site": {"name": "Marrowick"}, "dresses": trees})
    text = write_json(whole)
    SCHEMA.validate(json.loads(text))
    assert read_document(json.loads(text)) == whole
    assert write_json(read_document(json.loads(text))) == text
    assert [one.colours for one in whole.layout.dresses.values()] == [tree["colours"] for tree in trees]


@pytest.mark.parametrize(
    ("tree", "pointer"),
    [
        ({"slug": "Day"}, "/slug"), ({"slug": "a", "name": "x" * 81}, "/name"),
        ({"slug": "a", "colours": {"paper": "white"}}, "/colours/paper"),
        ({"slug": "a", "colours": {"paper": "#fff}body{display:none"}}, "/colours/paper"),
        ({"slug": "a", "colours": {"paper": "#ffff"}}, "/colours/paper"), ({"slug": "a", "colours": {"wall": "#fff"}}, "/colours"),
        ({"slug": "a", "colours": {"paper": 3}}, "/colours/paper"), ({"slug": "a", "dark": {"ink": "red"}}, "/dark/ink"),
        ({"slug": "a", "fonts": {"text": "Comic"}}, "/fonts/text"), ({"slug": "a", "fonts": ["book"]}, "/fonts"),
        ({"slug": "a", "measures": {"corner": -1}}, "/measures/corner"), ({"slug": "a", "measures": {"corner": True}}, "/measures/corner"),
        ({"slug": "a", "measures": {"text": "46rem"}}, "/measures/text"), ({"slug": "a", "measures": {"page": 1e9}}, "/measures/page"),
    ],
)  # fmt: skip
def test_what_is_no_dress_is_refused_where_it_stands(tree, pointer):
    with pytest.raises(DocumentError) as caught:
        read_dresses([tree])
    assert [one.pointer.startswith(f"/dresses/0{pointer}") for one in caught.value.problems] == [True]


def test_a_slug_stands_once():
    with pytest.raises(DocumentError, match="day"):
        read_dresses([{"slug": "day"}, {"slug": "day"}])


def settings_for(settings, *slugs):
    found = with_dress_setting(read_settings(settings), {slug: Dress(slug, slug) for slug in slugs})
    return [write_setting(one) for one in found]


WIDTH = {"name": "width", "type": "switch", "default": True}


def test_the_setting_comes_with_the_second_dress_and_keeps_in_step():
    assert settings_for([WIDTH], "day") == [WIDTH]
    made = settings_for([WIDTH], "day", "night")
    assert [one["name"] for one in made] == ["width", "dress"]
    assert (made[1]["choices"], made[1]["default"]) == (["day", "night"], "day")
    kept = {"name": "dress", "type": "choice", "choices": ["day", "night"], "default": "night", "help": "Which"}
    assert settings_for([kept, WIDTH], "night") == [{**kept, "choices": ["night"]}, WIDTH]
    assert settings_for([kept], "gala", "day") == [{**kept, "choices": ["gala", "day"], "default": "gala"}]
    assert settings_for([{"name": "dress", "type": "text", "default": "x"}], "day")[0]["type"] == "choice"
    assert settings_for([kept]) == [kept]


def test_a_page_wears_what_its_setting_says_else_the_first():
    layout = Layout(dresses=read_dresses([{"slug": "day"}, {"slug": "night"}]))
    worn = [layout.dress(value) for value in ("night", "day", "gone", None, True)]
    assert [one and one.slug for one in worn] == ["night", "day", "day", "day", "day"]
    assert Layout().dress("day") is None


def test_the_same_dress_is_written_the_same_whatever_the_order_of_its_keys():
    tree = {"slug": "a", "colours": {"ink": "#000", "paper": "#fff"}, "measures": {"gap": 1, "text": 40}}
    turned = {"measures": {"text": 40, "gap": 1}, "colours": {"paper": "#fff", "ink": "#000"}, "slug": "a"}
    one, other = (write_dress(read_dresses([each])["a"]) for each in (tree, turned))
    assert json.dumps(one) == json.dumps(other)
