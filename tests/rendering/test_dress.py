"""Dresses as CSS, and the fonts that they are written in."""

import struct

import pytest
import tinycss2

from navrel.core.files.reading import read_dresses
from navrel.core.layout.document import SiteFile
from navrel.core.layout.dress import COLOURS, FAMILIES, FONTS, MEASURES
from navrel.rendering.dress import dress_css
from navrel.rendering.environment import stylesheet
from navrel.rendering.files import read_file
from navrel.rendering.fonts import MAX_FONT_BYTES
from navrel.rendering.taken import BadFile

FONT = SiteFile("own.woff2", "font/woff2", "ab" * 32)


def css(form="", files=(), **tree):
    return dress_css(read_dresses([{"slug": "a", **tree}])["a"], {one.name: one for one in files}, form)


def declared(text):
    """The custom properties of the rules for the root, each with its value; what a media rule says under `dark`."""
    found: dict[str, dict[str, str]] = {"light": {}, "dark": {}}
    for rule in tinycss2.parse_stylesheet(text, skip_whitespace=True):
        assert rule.type != "error"
        if rule.type == "at-rule" and rule.at_keyword == "media":
            for inner in tinycss2.parse_rule_list(rule.content or [], skip_whitespace=True):
                found["dark"].update(_properties(inner))
        elif rule.type == "qualified-rule":
            found["light"].update(_properties(rule))
    return found


def _properties(rule):
    parts = tinycss2.parse_declaration_list(rule.content, skip_whitespace=True)
    assert all(one.type == "declaration" for one in parts)
    return {one.name: tinycss2.serialize(one.value).strip() for one in parts}  # type: ignore[arg-type]


def test_a_site_without_a_dress_has_no_css_for_it_and_one_that_says_nothing_neither():
    assert dress_css(None, {}) == ""
    assert css() == ""


def test_colours_fonts_and_measures_are_custom_properties():
    found = declared(css(colours={"paper": "#fff8ec"}, fonts={"head": "slab"}, measures={"corner": 14, "gap": 1.75}))
    assert found["light"]["--paper"] == "#fff8ec"
    assert found["light"]["--head"].startswith("Rockwell")
    assert (found["light"]["--corner"], found["light"]["--gap"]) == ("14px", "1.75rem")
    assert found["dark"] == {}


def test_a_dark_form_follows_the_device_or_is_shown_by_itself():
    both = {"colours": {"paper": "#fff", "ink": "#111"}, "dark": {"paper": "#000"}}
    followed = declared(css(**both))
    assert (followed["light"]["--paper"], followed["light"]["color-scheme"]) == ("#fff", "light dark")
    assert followed["dark"] == {"color-scheme": "dark", "--paper": "#000"}
    alone = declared(css("dark", **both))
    assert (alone["light"]["--paper"], alone["light"]["--ink"], alone["dark"]) == ("#000", "#111", {})
    assert declared(css("light", **both)) == {"light": {"--paper": "#fff", "--ink": "#111"}, "dark": {}}


def test_a_font_file_is_a_face_of_its_own_and_a_family_follows_while_it_loads():
    text = css(fonts={"text": "own.woff2"}, files=[FONT])
    assert f'url("/-/files/{"ab" * 32}/own.woff2")format("woff2")' in text
    assert declared(text)["light"]["--text"].startswith('site-abababababab,"Charter"')
    assert declared(css(fonts={"text": "own.woff2"}))["light"]["--text"].startswith('"Charter"')


def test_a_file_whose_name_would_leave_its_place_stays_in_it():
    hostile = SiteFile('x")}body{display:none}.woff2', "font/woff2", "ab" * 32)
    text = css(fonts={"text": hostile.name}, files=[hostile])
    assert "body{" not in text and declared(text)["light"].keys() == {"--text"}


def test_what_a_dress_does_not_state_is_as_the_style_sheet_has_it():
    root = next(
        _properties(rule)
        for rule in tinycss2.parse_stylesheet(stylesheet().decode(), skip_whitespace=True)
        if rule.type == "qualified-rule"
    )
    short = {"#fff": "#ffffff"}
    assert {name: short.get(root[f"--{name}"], root[f"--{name}"]) for name in COLOURS} == COLOURS
    usual = declared(css(fonts=dict(FONTS), measures={name: measure.usual for name, measure in MEASURES.items()}))[
        "light"
    ]
    assert {name: root[name].replace(", ", ",") for name in usual} == usual
    assert all(declared(css(fonts={"text": family}))["light"]["--text"] for family in FAMILIES)


def woff2(length=64, signature=b"wOF2", flavour=b"OTTO", tables=2, reserved=0, packed=10, stated=None):
    size = length if stated is None else stated
    head = struct.pack(">4s4sIHHII20x", signature, flavour, size, tables, reserved, 100, packed)
    return head.ljust(length, b"\0")[:length]


def test_a_font_is_told_by_its_head():
    found = read_file(woff2())
    assert (found.type, found.ending, found.width, found.data) == ("font/woff2", ".woff2", 0, woff2())


@pytest.mark.parametrize("data", [
    woff2(20), woff2(flavour=b"ttcf"), woff2(flavour=b"<svg"), woff2(tables=0), woff2(reserved=1), woff2(stated=65),
    woff2() + b"<script>", woff2(packed=64), woff2(MAX_FONT_BYTES + 1), b"wOFF" + woff2()[4:], b"OTTO" + b"\0" * 60,
])  # fmt: skip
def test_what_is_no_whole_font_is_refused(data):
    with pytest.raises(BadFile):
        read_file(data)
