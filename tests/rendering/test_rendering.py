"""Rendering: the grid, the landmarks, the items, and that no text from outside runs."""

import re
from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.rendering.items.place import found_pages
from navrel.rendering.links import safe_href
from navrel.rendering.page import Source, draw_page, draw_piece
from navrel.rendering.palette import COLOURS, colour


def source(pieces, rules=(), pages=({"path": "/", "title": "Home"},), taxonomies=(), **site):
    document = read_document(
        {
            "navrel": 1,
            "site": {"name": "Marrowick", **site},
            "taxonomies": list(taxonomies),
            "pages": list(pages),
            "pieces": pieces,
            "rules": list(rules),
        }
    )
    return Source(document, PageIndex(document.tree))


def put(slot, piece):
    return {
        "name": f"{slot} {piece}",
        "condition": {"include": "all"},
        "actions": [{"do": "fill", "slot": slot, "piece": piece}],
    }


ANYONE = Lens(Visitor(), datetime(2026, 11, 23, 12))


def drawn(made, path="/", content="<p>Words</p>", **more):
    return draw_page(made, made.index.tree.page(path), content, ANYONE, **more)


def piece_with(kind, *items, **content):
    return {"slug": kind, "kind": kind, "content": {"items": list(items), **content}}


def test_pieces_stand_in_landmarks_in_reading_order():
    made = source(
        [
            piece_with("header", {"type": "logo", "text": "Marrowick"}),
            piece_with("footer", {"type": "text", "text": "Quay"}),
        ],
        [put("header", "header"), put("footer", "footer")],
    )
    html = drawn(made).html
    assert html.index("<header") < html.index("<main") < html.index("<footer")
    assert html.count("<main") == 1


def test_the_template_lays_out_the_grid_and_leaves_out_what_it_lacks():
    plain = {"slug": "plain", "kind": "template", "slots": ["header", "aside-end"],
             "content": {"areas": ["header header", "content aside-end"], "columns": "1fr 18rem"}}  # fmt: skip
    made = source(
        [plain, piece_with("header"), piece_with("footer")],
        [put("header", "header"), put("footer", "footer")],
        default_template="plain",
    )
    result = drawn(made)
    assert 'grid-template-areas:"header header" "content aside-end"' in result.html
    assert "grid-template-columns:1fr 18rem" in result.html
    assert 'data-slot="footer"' not in result.html
    assert result.seated == {"header", "aside-end"}


def test_the_pages_own_heading_shows_where_no_title_is_set():
    assert "<h1>Home</h1>" in drawn(source([])).html
    titled = source([piece_with("title", {"type": "page-title"})], [put("title", "title")])
    assert drawn(titled).html.count("<h1>") == 1
    emptied = source(
        [], [{"name": "e", "condition": {"include": "all"}, "actions": [{"do": "empty", "slot": "title"}]}]
    )
    assert "<h1>" not in drawn(emptied).html


def test_outlines_have_the_colour_of_the_piece_and_show_what_is_left_empty():
    made = source(
        [piece_with("header")],
        [
            put("header", "header"),
            {"name": "e", "condition": {"include": "all"}, "actions": [{"do": "empty", "slot": "footer"}]},
        ],
    )
    html = drawn(made, outlines={"header": "#2F6DA8"}).html
    assert 'data-slot="header" style="--piece:#2F6DA8' in html
    assert '<footer class="slot slot-footer empty" data-slot="footer"' in html
    assert "slot-footer" not in drawn(made).html


NASTY = '"><script>alert(1)</script><img src=x onerror=alert(1)>'


@pytest.mark.parametrize(
    "item",
    [
        {"type": "logo", "text": NASTY, "href": NASTY},
        {"type": "menu", "label": NASTY, "links": [{"text": NASTY, "href": "javascript:alert(1)"}]},
        {"type": "notice", "text": NASTY, "href": NASTY},
        {"type": "button", "text": NASTY, "href": NASTY},
        {"type": "search", "label": NASTY, "action": NASTY},
        {"type": "newest", "heading": NASTY},
        {"type": "page-title", "kicker": NASTY},
        {"type": "breadcrumbs", "label": NASTY},
        {"type": "byline", "prefix": NASTY},
    ],
    ids=lambda item: item["type"],
)
def test_no_setting_of_an_item_can_bring_markup(item):
    made = source(
        [piece_with("widget", item)],
        [put("above-footer", "widget")],
        [
            {"path": "/", "title": NASTY, "author": NASTY, "type": "article", "published": "2026-01-01"},
            {"path": "/a", "title": NASTY},
        ],
    )
    html = drawn(made, "/a").html + draw_piece(
        made, made.document.layout.pieces["widget"], made.index.tree.pages[0], ANYONE
    )
    assert "<script>" not in html
    assert "<img" not in html
    assert "javascript:" not in html


@pytest.mark.parametrize(
    "href", ["/a", "a/b", "#top", "https://x.example/?q=1", "mailto:a@x.example", "tel:+123", "?q=1"]
)
def test_links_may_lead_to(href):
    assert safe_href(href) == href


@pytest.mark.parametrize(
    "href",
    [
        "javascript:x",
        " JAVASCRIPT:x",
        "data:text/html,x",
        "vbscript:x",
        "file:///etc",
        "\\\\host\\x",
        "java\tscript:x",
        "http://[x",
    ],
)
def test_links_may_not_lead_to(href):
    assert safe_href(href) == "#"


@given(st.text())
def test_a_safe_address_never_runs(text):
    assert (
        not safe_href(text)
        .lower()
        .replace("\t", "")
        .replace("\n", "")
        .startswith(("javascript:", "data:", "vbscript:"))
    )


def test_newest_pages_come_newest_first_without_the_page_itself():
    pages = [{"path": f"/{n}", "title": f"P{n}", "type": "article", "published": f"2026-0{n}-01"} for n in (1, 3, 2)]
    pages.append({"path": "/9", "type": "article"})
    made = source([], pages=pages)
    assert [page.path for page in found_pages(made.index, "type:article", "newest", 9)] == ["/3", "/2", "/1"]
    assert [page.path for page in found_pages(made.index, "type:article", "oldest", 2)] == ["/1", "/2"]
    listed = source([piece_with("footer", {"type": "newest", "count": 2})], [put("footer", "footer")], pages)
    html = drawn(listed, "/3").html
    assert re.findall(r'<li><a href="([^"]+)"', html) == ["/2", "/1"]


@pytest.mark.parametrize(
    ("order", "first"),
    [
        ("newest", ["/e", "/b", "/d", "/a"]),
        ("oldest", ["/a", "/b", "/d", "/e"]),
        ("title", ["/a", "/d", "/c", "/b"]),
        ("site", ["/a", "/b", "/c", "/d"]),
    ],
)
def test_pages_that_are_alike_in_what_they_are_ordered_by_stand_as_in_the_site(order, first):
    facts = {"a": ("ebb", "01"), "b": ("Tide", "02"), "c": ("FLOOD", ""), "d": ("Ebb", "02"), "e": ("tide", "03")}
    dates = {one: {"published": f"2026-{month}-01"} if month else {} for one, (_, month) in facts.items()}
    pages = [{"path": f"/{one}", "title": title, **dates[one]} for one, (title, _) in facts.items()]
    found = found_pages(source([], pages=pages).index, "all", order, 4)
    assert [page.path for page in found] == first


def test_breadcrumbs_lead_down_to_the_page():
    made = source(
        [piece_with("title", {"type": "breadcrumbs"})],
        [put("title", "title")],
        [{"path": "/", "title": "Home"}, {"path": "/a", "title": "A"}, {"path": "/a/b", "title": "B"}],
    )
    html = drawn(made, "/a/b").html
    trail = html[html.index("breadcrumbs") : html.index("</ol>")]
    assert trail.index(">Home<") < trail.index(">A<") < trail.index(">B<")
    assert 'aria-current="page">B<' in trail


def test_a_template_is_drawn_as_its_plan():
    made = source(
        [
            {
                "slug": "plain",
                "kind": "template",
                "content": {"areas": [*["header", ". ", "content"][:1], "content"]},
                "slots": ["header"],
            }
        ]
    )
    html = draw_piece(made, made.document.layout.pieces["plain"], made.index.tree.pages[0], ANYONE)
    assert html.count('class="area ') == 2


def test_colours_repeat_after_the_palette_and_are_all_different():
    assert len(set(COLOURS)) == len(COLOURS)
    assert colour(len(COLOURS)) == colour(0)


TRAIL = [{"slug": "trail", "kind": "title", "content": {"items": [{"type": "breadcrumbs"}, {"type": "page-title"}]}}]
DECLARED = [
    {"name": "measure", "type": "choice", "choices": ["normal", "wide", 'x" onload="y'], "default": "normal"},
    {"name": "breadcrumbs", "type": "switch", "default": True},
    {"name": "document-title", "type": "text", "default": "{page.title} · {site.name}"},
]


def with_settings(**values):
    """The page /a of a site that declares settings, with some set by a rule."""
    actions = [{"do": "set", "setting": name.replace("_", "-"), "value": value} for name, value in values.items()]
    rule = {"name": "set", "condition": {"include": "page:/a"}, "actions": actions}
    pages = [{"path": "/", "title": "Home"}, {"path": "/a", "title": "Fares"}]
    found = source(TRAIL, [put("title", "trail"), *([rule] if actions else [])], pages, settings=DECLARED)
    return draw_page(found, found.index.tree.pages[1], "<p>Hello</p>", ANYONE).html


def test_the_measure_of_a_page_is_told_to_the_style_sheet_where_it_knows_the_value():
    assert 'data-measure="normal"' in with_settings()
    assert 'data-measure="wide"' in with_settings(measure="wide")
    strange = with_settings(measure='x" onload="y')
    assert "data-measure=" not in strange.split("<body")[1].split(">")[0] and "onload" not in strange


def test_breadcrumbs_can_be_switched_off_for_a_page():
    assert 'class="breadcrumbs"' in with_settings()
    assert 'class="breadcrumbs"' not in with_settings(breadcrumbs=False)


@pytest.mark.parametrize(
    ("pattern", "title"),
    [
        ("{page.title} · {site.name}", "Fares · Marrowick"),
        ("{site.name}: {page.title} at {page.path}", "Marrowick: Fares at /a"),
        ("Ferries", "Ferries"),
        ("{page.titel} {secret.key}", "{page.titel} {secret.key}"),
        ("<b>{page.title}", "&lt;b&gt;Fares"),
        ("   ", "Fares · Marrowick"),
    ],
)
def test_the_title_of_the_document_is_written_from_a_setting(pattern, title):
    assert f"<title>{title}</title>" in with_settings(document_title=pattern)


def test_a_site_that_declares_no_settings_is_drawn_as_ever():
    html = draw_page(found := source(TRAIL, [put("title", "trail")]), found.index.tree.pages[0], "", ANYONE).html
    assert "<title>Home · Marrowick</title>" in html and "data-measure=" not in html.split("<body")[1].split(">")[0]
