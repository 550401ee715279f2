"""Every item: drawn with what it has by default and with all that it can have, valid, harmless, in its own place."""

import re
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import Any

import html5lib
import pytest

from navrel.core.errors import DocumentError
from navrel.core.files.reading import read_menus
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.document import SiteFile
from navrel.rendering.items.content import check_content, rows_of
from navrel.rendering.items.place import Memory
from navrel.rendering.items.registry import ITEMS
from navrel.rendering.links import is_safe
from navrel.rendering.page import Source, draw_page
from navrel.server.library.starters import piece_from, starters

from .test_rendering import ANYONE, NASTY, drawn, piece_with, put, source

PAGES = (
    {"path": "/", "title": "Home", "kind": "home"},
    {"path": "/journal", "title": "Journal", "kind": "listing", "lists": "type/article"},
    *(
        {"path": f"/journal/{n}", "title": f"Story {n}", "type": "article", "published": f"2026-11-{n:02}",
         "terms": ["topic/boats"], "author": "imre-halloran", "words": 700}
        for n in range(1, 8)
    ),
    {"path": "/nb", "title": "Hjem", "language": "nb"},
    {"path": "/nb/1", "title": "Historie 1", "language": "nb", "fields": {"translation-of": "/journal/1"}},
    {"path": "/404", "title": "Nothing here", "kind": "missing"},
)  # fmt: skip
FULL: dict[str, dict[str, Any]] = {
    "social": {"links": [{"text": "There", "href": "https://social.example/@us"}]},
    "hours": {"hours": [{"day": "mon", "from": "08:00", "until": "12:00"}, {"day": "mon", "from": "13:00", "until": "17:00"}]},
    "heading": {"text": "{page.title} in {today.year}"},
    "text": {"text": "A **word**, [a way](/journal)\n\n- one\n- two"},
    "button": {"text": "Go"},
    "notice": {"text": "Wind", "dismiss": True},
    "links": {"heading": "Ways", "links": [{"text": "Journal", "href": "/journal"}]},
    "image": {"file": "quay.svg", "alt": "A quay", "caption": "At dawn"},
    "slides": {"pieces": ["inner"]},
    "piece": {"piece": "inner"},
    "slot": {"name": "corner"},
    "menu": {"shows": "below", "page": "/", "depth": 2},
    "logo": {"file": "quay.svg"},
    "page-title": {"kicker": "K", "intro": "I", "file": "quay.svg"},
    "byline": {"reading": True, "terms": True},
}  # fmt: skip
FILE = SiteFile("quay.svg", "image/svg+xml", "a" * 64, 40, 20, (480,))


def site(*pieces, rules=(), **more):
    made = source(
        [{"slug": "inner", "kind": "widget", "content": {"items": [{"type": "text", "text": "Inside"}]}}, *pieces],
        rules, PAGES, [{"slug": "topic", "terms": [{"slug": "boats"}]}], base_url="https://marrowick.example", **more,
    )  # fmt: skip
    return Source(replace(made.document, files=(FILE,)), made.index)


def valid(html):
    parser = html5lib.HTMLParser(strict=True)
    parser.parse(html)
    ids = re.findall(r'\bid="([^"]+)"', html)
    assert len(ids) == len(set(ids))


CONTENT = '<h2 id="first">First</h2><p>Words</p><h2 id="second">Second &amp; last</h2>'


@pytest.mark.parametrize("kind", ITEMS)
@pytest.mark.parametrize("slot", ["header", "footer"])
@pytest.mark.parametrize("full", [False, True], ids=["bare", "full"])
def test_every_item_is_valid_wherever_it_stands(kind, slot, full):
    item = {"type": kind, **(FULL.get(kind, {}) if full else {})}
    made = site(piece_with(slot, item), rules=[put(slot, slot)])
    check_content(slot, made.document.layout.pieces[slot].content)
    for path in ("/", "/journal/3", "/nb/1", "/404"):
        valid(drawn(made, path, CONTENT).html)


@pytest.mark.parametrize("starter", starters(), ids=lambda one: one["slug"])
def test_every_starter_is_whole_and_valid(starter):
    tree = {**piece_from(starter, starter["name"]), "slug": "started"}
    check_content(tree["kind"], tree["content"])
    use = {"name": "R", "condition": {"include": "all"}, "actions": [
        {"do": "use", "template": "started"} if tree["kind"] == "template"
        else {"do": "append", "slot": "above-footer", "piece": "started"} if tree["kind"] == "widget"
        else {"do": "fill", "slot": {"sidebar": "aside-end"}.get(tree["kind"], tree["kind"]), "piece": "started"}
    ]}  # fmt: skip
    valid(drawn(site(tree, rules=[use]), "/journal/3", CONTENT).html)


def test_a_piece_that_draws_nothing_leaves_no_band():
    made = site(piece_with("footer", {"type": "breadcrumbs"}, {"type": "contents"}, style={"background": "#123"}),
                rules=[put("footer", "footer")], settings=[{"name": "breadcrumbs", "type": "switch"}])  # fmt: skip
    assert "<footer" not in drawn(made).html


def test_a_menu_of_the_site_marks_where_one_is_and_follows_its_pages():
    menu = {"slug": "main", "name": "Main", "entries": [
        {"page": "/journal", "panel": "corner", "entries": [{"text": "Newest", "page": "/journal/7"}]},
        {"text": "Out", "href": "https://else.example/"},
    ]}  # fmt: skip
    made = site(piece_with("header", {"type": "menu", "menu": "main"}), rules=[
        put("header", "header"), {"name": "P", "condition": {"include": "all"},
                                  "actions": [{"do": "fill", "slot": "corner", "piece": "inner"}]}])  # fmt: skip
    layout = replace(made.document.layout, menus=read_menus([menu]))
    made = Source(replace(made.document, layout=layout), made.index)
    html = drawn(made, "/journal/7").html
    assert '<a href="/journal" aria-current="true">Journal</a>' in html
    assert '<a href="/journal/7" aria-current="page">Newest</a>' in html
    assert html.index("<details") < html.index('data-slot="corner"') < html.index("Inside") < html.index("</details>")
    assert drawn(made, "/journal/7").seated >= {"corner"}
    valid(html)


def test_a_property_bound_to_a_page_setting_follows_it():
    item = {"type": "newest", "count": {"setting": "how-many"}}
    rule = {"name": "S", "condition": {"include": "page:/journal/1"},
            "actions": [{"do": "set", "setting": "how-many", "value": 2}]}  # fmt: skip
    wrong = {"name": "W", "condition": {"include": "page:/journal/2"},
             "actions": [{"do": "set", "setting": "how-many", "value": 0}]}  # fmt: skip
    made = site(piece_with("footer", item), rules=[put("footer", "footer"), rule, wrong],
                settings=[{"name": "how-many", "type": "number", "default": 3}])  # fmt: skip
    listed = [drawn(made, path).html.count("<time") for path in ("/", "/journal/1", "/journal/2")]
    assert listed == [3, 2, 4]


def test_what_is_drawn_alike_is_drawn_once_and_what_differs_is_not_mixed_up():
    items = [{"type": "heading", "text": "On {page.title}"}, {"type": "text", "text": "Always"}, {"type": "alike"}]
    made = site(piece_with("footer", *items), rules=[put("footer", "footer")])
    for _ in range(2):
        for path in ("/journal/1", "/journal/2", "/nb/1"):
            fresh = Source(made.document, made.index)
            assert drawn(made, path).html == drawn(fresh, path).html


def test_a_sign_in_link_differs_by_visitor_and_hours_by_moment():
    made = site(piece_with("footer", {"type": "sign-in"}, {"type": "hours", **FULL["hours"]}),
                rules=[put("footer", "footer")])  # fmt: skip
    page = made.index.tree.page("/")
    monday = Lens(Visitor(signed="in"), datetime(2026, 11, 23, 12, 30))
    html = draw_page(made, page, "", monday).html
    assert "Sign out" in html and "Closed now" in html
    assert "Open now" in draw_page(made, page, "", replace(monday, moment=datetime(2026, 11, 23, 13, 30))).html
    assert "Sign in" in draw_page(made, page, "", ANYONE).html


def test_another_language_leads_to_the_same_page_in_it():
    made = site(piece_with("header", {"type": "languages"}), rules=[put("header", "header")])
    assert '<a href="/nb/1" hreflang="nb" lang="nb">Norsk bokmål</a>' in drawn(made, "/journal/1").html
    assert '<a href="/journal/1" hreflang="en" lang="en">English</a>' in drawn(made, "/nb/1").html
    assert '<a href="/nb" hreflang="nb" lang="nb">' in drawn(made, "/journal/2").html


def test_slots_and_pieces_inside_of_pieces_are_seen_and_loops_end():
    outer = piece_with("footer", {"type": "piece", "piece": "holder"})
    holder = {"slug": "holder", "kind": "widget", "content": {"items": [{"type": "slot", "name": "corner"}]}}
    fill = {
        "name": "F",
        "condition": {"include": "all"},
        "actions": [{"do": "fill", "slot": "corner", "piece": "holder"}],
    }
    made = site(outer, holder, rules=[put("footer", "footer"), fill])
    result = drawn(made)
    assert "corner" in result.seated
    assert result.html.count('data-slot="corner"') <= 1


@pytest.mark.parametrize("text", [
    NASTY, "[x](javascript:alert(1))", "[x](data:text/html,<script>)", "<b onclick=x>", "![x](https://evil.example/x.png)",
    "[x]( //evil.example)", "`</script>`", "{page.title}<img src=x>", "[x](\\\\evil.example)", "<!-- x --> <svg onload=x>",
])  # fmt: skip
def test_rich_text_holds_no_markup_of_its_own_and_leads_nowhere_bad(text):
    made = site(piece_with("footer", {"type": "text", "text": text}, {"type": "notice", "text": text}),
                rules=[put("footer", "footer")])  # fmt: skip
    html = drawn(made).html
    tree = html5lib.parse(html, namespaceHTMLElements=False)
    assert not tree.findall(".//script") and not tree.findall(".//footer//img") and not tree.findall(".//svg")
    assert all(is_safe(link.get("href") or "") for link in tree.findall(".//footer//a"))
    assert not any(name.startswith("on") for one in tree.iter() if isinstance(one.tag, str) for name in one.attrib)


def test_a_placeholder_is_filled_in_as_text():
    page = {"path": "/x", "title": "<script>alert(1)</script>", "fields": {"vessel": '"><b>'}}
    made = source([piece_with("footer", {"type": "text", "text": "On {page.title} by {page.field.vessel} {page.nothing}"})],
                  [put("footer", "footer")], [page])  # fmt: skip
    html = drawn(made, "/x").html
    assert "On &lt;script&gt;alert(1)&lt;/script&gt; by &#34;&gt;&lt;b&gt; {page.nothing}" in html


@pytest.mark.parametrize(
    ("content", "pointer"),
    [
        ({"rows": [{"cells": [{"items": [{"type": "x"}]}]}]}, "/content/rows/0/cells/0/items/0/type"),
        ({"rows": [{"cells": [{"width": 13}]}]}, "/content/rows/0/cells/0/width"),
        ({"rows": [{"cells": [{"flow": "river"}]}]}, "/content/rows/0/cells/0/flow"),
        ({"rows": [{"cells": [{}] * 7}]}, "/content/rows/0/cells"),
        ({"rows": [{}] * 21}, "/content/rows"),
        ({"rows": [{"cells": []}], "items": [{"type": "logo"}]}, "/content/items"),
        ({"rows": "x"}, "/content/rows"),
        ({"items": [{"type": "logo", "look": {"space": "vast"}}]}, "/content/items/0/look/space"),
        ({"items": [{"type": "logo", "look": {"hide": ["watch"]}}]}, "/content/items/0/look/hide"),
        ({"items": [{"type": "logo", "look": {"ink": "url(x)"}}]}, "/content/items/0/look/ink"),
        ({"items": [{"type": "hours", "hours": [{"day": "mon", "from": "25:00", "until": "26:00"}]}]},
         "/content/items/0/hours"),
        ({"items": [{"type": "hours", "hours": [{"day": "mon", "from": "12:00", "until": "08:00"}]}]},
         "/content/items/0/hours"),
        ({"items": [{"type": "newest", "order": "best"}]}, "/content/items/0/order"),
        ({"items": [{"type": ["logo"]}]}, "/content/items/0/type"),
        ({"items": [{"type": "slot", "name": "Not a slot"}]}, "/content/items/0/name"),
        ({"items": [{"type": "slot", "name": "content"}]}, "/content/items/0/name"),
        ({"style": {"over-ink": "red"}}, "/content/style/over-ink"),
    ],
)  # fmt: skip
def test_what_a_content_cannot_hold_is_told_where_it_stands(content, pointer):
    with pytest.raises(DocumentError) as refused:
        check_content("header", content)
    assert pointer in [problem.pointer for problem in refused.value.problems]


@pytest.mark.parametrize(("arrange", "cells"), [("stack", 1), ("row", 1), ("split", 1), ("columns", 3)])
def test_items_without_rows_stand_as_the_style_says(arrange, cells):
    items = [{"type": "divider"}] * 3
    assert len(rows_of({"items": items, "style": {"arrange": arrange}})[0]["cells"]) == cells
    assert rows_of({}) == []


def test_what_is_kept_is_bounded_and_single_pages_push_out_nothing_shared():
    memory = Memory(3)
    memory.get("shared", lambda: "kept")
    for page in range(9):
        memory.get(("page", page), partial(int, page), of_page=True)
    assert memory.get("shared", lambda: "made anew") == "kept"
    # Of single pages those that were asked for last are kept.
    memory.get(("page", 7), lambda: -1, of_page=True)
    memory.get(("page", 9), lambda: 9, of_page=True)
    assert [memory.get(("page", page), lambda: -1, of_page=True) for page in (7, 9)] == [7, 9]
    assert memory.get(("page", 0), lambda: -1, of_page=True) == -1


def test_many_threads_draw_from_one_memory():
    memory = Memory(5)
    with ThreadPoolExecutor(8) as pool:
        found = pool.map(lambda n: memory.get(n % 11, lambda: n % 11, of_page=n % 2 == 0), range(5000))
    assert list(found) == [n % 11 for n in range(5000)]


_AT_ONCE = """
import sys, threading
from navrel.rendering.text import rich
sys.setswitchinterval(1e-6)
start, found = threading.Barrier(8), []

def draw(number):
    start.wait()
    try:
        found.append(rich(f"{number} [a](/b?c=d&e=é/f#g) <https://marrowick.example/a%20b>", lambda name: "").partition(" ")[2])
    except Exception as error:
        found.append(repr(error))

threads = [threading.Thread(target=draw, args=[number]) for number in range(8)]
for thread in threads: thread.start()
for thread in threads: thread.join()
print(len(found), *set(found))
"""


def test_several_who_draw_the_first_text_at_once_draw_the_same():
    # In a program of its own, as what comes first comes once.
    link = '<a href="/b?c=d&amp;e=%C3%A9/f#g">a</a> <a href="https://marrowick.example/a%20b">https://marrowick.example/a b</a></p>'
    for _ in range(5):
        done = subprocess.run([sys.executable, "-c", _AT_ONCE], capture_output=True, text=True, check=True)
        assert done.stdout == f"8 {link}\n"
