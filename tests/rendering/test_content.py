"""A page's own content: what is let through, its slots, and its heading."""

import re
from dataclasses import replace

import pytest

from navrel.core.layout.form import with_form
from navrel.core.layout.model import IN_PLACE
from navrel.rendering.content import fill_slots, with_ids
from navrel.rendering.links import is_safe, stays_here
from navrel.rendering.page import Source, draw_piece
from navrel.rendering.sanitising import own_classes, sanitise

from .test_rendering import ANYONE, drawn, piece_with, put, source

#: Markup, and what is left of it.
CASES = {
    '<svg transform="scale(60)"><rect width="1"></rect></svg>': '<svg><rect width="1"></rect></svg>',
    '<svg><g transform="translate(9)"></g></svg>': "<svg><g></g></svg>",
    '<p class="tag">x</p>': "<p>x</p>",
    '<p class="slot mine outlined">x</p>': '<p class="mine">x</p>',
    '<p class="slot-header piece-header arrange-row tone-urgent">x</p>': "<p>x</p>",
    '<ul class="cards"><li>x</li></ul>': '<ul class="cards"><li>x</li></ul>',
    '<p style="position:fixed;inset:0">x</p>': "<p>x</p>",
    '<form action="https://evil.example/"><input name="q"></form>': '<form><input name="q"></form>',
    '<form action="//evil.example/"></form>': "<form></form>",
    '<form action="/\t/evil.example/"></form>': "<form></form>",
    '<form action="\\\\evil.example/"></form>': "<form></form>",
    '<form action="/search" method="get"></form>': '<form action="/search" method="get"></form>',
    '<button formaction="https://evil.example/">x</button>': "<button>x</button>",
    '<img src="https://evil.example/pixel.png" alt="x">': '<img alt="x">',
    '<img src="//evil.example/pixel.png" alt="x">': '<img alt="x">',
    '<img src="/boat.png" alt="x">': '<img src="/boat.png" alt="x">',
    '<img src="data:image/png;base64,AA==" alt="x">': '<img src="data:image/png;base64,AA==" alt="x">',
    '<img src="data:image/svg+xml,<svg/onload=alert(1)>" alt="x">': '<img alt="x">',
    '<a href="data:text/html,x">x</a>': "<a>x</a>",
    '<blockquote cite="https://evil.example/x">x</blockquote>': "<blockquote>x</blockquote>",
    '<video><track src="https://evil.example/x"></video>': "<video><track></video>",
    '<a href="https://ferries.example/" ping="https://evil.example/">x</a>': '<a href="https://ferries.example/">x</a>',
    '<a href="javascript:alert(1)">x</a>': "<a>x</a>",
    '<a href="java\tscript:alert(1)">x</a>': "<a>x</a>",
    '<a href="bitcoin:x">x</a>': "<a>x</a>",
    '<div role="banner">x</div><div role="main">y</div>': "<div>x</div><div>y</div>",
    '<div role="note">x</div>': '<div role="note">x</div>',
    '<svg><use href="#x"></use><image href="https://evil.example/x"></image></svg>': "<svg></svg>",
    '<svg><style>*{display:none}</style></svg>': "<svg></svg>",
    '<link rel="stylesheet" href="https://evil.example/x.css">': "",
    "<style>header{display:none}</style>x": "x",
    "<marquee>x</marquee><dialog open>y</dialog>": "xy",
    '<iframe src="/"></iframe><object data="/"></object><embed src="/">': "",
    '<p onclick="x" tabindex="9" contenteditable accesskey="k" popover="auto">x</p>': "<p>x</p>",
    '<base href="//evil.example"><meta http-equiv="refresh" content="0;url=//evil.example">x': "x",
    "<template><p>x</p></template>": "",
    "<noscript><p title=\"</noscript><img src=x onerror=alert(1)>\">": '&lt;p title="<img src="x">"&gt;',
    '<svg></p><style><a id="</style><img src=1 onerror=alert(1)>">': '<svg></svg><p></p><img src="1">"&gt;',
}  # fmt: skip


@pytest.mark.parametrize("markup", CASES)
def test_contents_keep_only_what_is_theirs(markup):
    assert sanitise(markup) == CASES[markup]


def test_own_class_names_are_those_of_the_style_sheet():
    assert {"slot", "piece", "tag", "outlined", "content", "menu", "unseen"} <= own_classes()
    assert "cards" not in own_classes()


@pytest.mark.parametrize(
    ("address", "here", "safe"),
    [
        ("/a", True, True), ("a/b?c#d", True, True), ("", True, True), ("//x", False, False), ("/\\x", False, False),
        ("https://x", False, True), ("https:x", False, True), ("HTTPS://x", False, True), ("data:x", False, False),
        ("\x01javascript:x", False, False), ("/\r\n/x", False, False), ("1a:b", True, True), ("a:b", False, False),
    ],
)  # fmt: skip
def test_addresses_are_read_as_a_browser_reads_them(address, here, safe):
    assert (stays_here(address), is_safe(address)) == (here, safe)


@pytest.mark.parametrize(
    ("content", "filled"),
    [
        ("<p>a</p>", "<p>a</p>"),
        ('a<slot name="x">old</slot>b', "a[x]b"),
        ('<slot name="none">old</slot>', "old"),
        ('<slot name="x">1</slot><slot name="x">2</slot>', "[x]2"),
        ('<slot name="x">a<slot name="y">b</slot>c</slot>d', "[x]d"),
        ('<slot name="empty">old</slot>!', "!"),
        ('<slot name="x">never closed', '<slot name="x">never closed'),
        ("</slot>a", "a"),
        ('<slot id="i" name="x" class="c"></slot>', "[x]"),
        ("<slot>no name</slot>", "no name"),
    ],
)
def test_slots_in_contents_are_filled_where_they_stand(content, filled):
    answers = {"x": "[x]", "y": "[y]", "empty": ""}
    assert fill_slots(content, answers.get) == filled


@pytest.mark.parametrize(
    ("content", "called"),
    [
        ("<p>x</p><h1>One</h1><h4>Two</h4>", "<p>x</p><h1>One</h1><h4>Two</h4>"),
        ('<h2 class="a">På <em>vei</em></h2>', '<h2 class="a" id="pa-vei">På <em>vei</em></h2>'),
        ('<h2 id="first">First</h2><h3 id="">None</h3>', '<h2 id="first">First</h2><h3 id="">None</h3>'),
        ("<h2>A</h2><h3>A</h3><h2>A 2</h2>", '<h2 id="a">A</h2><h3 id="a-2">A</h3><h2 id="a-2-2">A 2</h2>'),
        ('<p id="fares">x</p><h2>Fares</h2><h2>Content</h2>',
         '<p id="fares">x</p><h2 id="fares-2">Fares</h2><h2 id="content-2">Content</h2>'),
        ("<h2> <img alt='x'></h2><h2>?</h2>", "<h2> <img alt='x'></h2><h2 id=\"x\">?</h2>"),
        ("<h2>A</h3><h3>B</h3>", '<h2>A</h3><h3 id="b">B</h3>'),
    ],
)  # fmt: skip
def test_headings_without_an_id_are_called_by_their_words(content, called):
    assert with_ids(content) == called
    assert with_ids(called) == called


def test_a_table_of_contents_leads_to_headings_that_had_no_id():
    made = source([piece_with("widget", {"type": "contents"})], [put("after-content", "widget")])
    html = drawn(made, content="<h2>To the quay</h2><p>x</p><h3>On foot</h3>").html
    assert '<h2 id="to-the-quay">' in html and '<a href="#to-the-quay">To the quay</a>' in html
    assert '<h3 id="on-foot">' in html and '<a href="#on-foot">On foot</a>' in html


def test_the_picture_of_a_table_of_contents_leads_where_the_page_itself_does():
    pages = ({"path": "/", "title": "Home", "bound": ["after-content"]},)
    made = source([piece_with("widget", {"type": "contents"})], pages=pages)
    piece, page = made.document.layout.pieces["widget"], made.index.tree.pages[0]
    content = '<h2 id="quay">Quay</h2><h2 id="pier">Pier</h2><h2>Slip</h2>'
    assert re.findall(r'href="#(\w+)"', draw_piece(made, piece, page, ANYONE, content)) == ["quay", "pier", "slip"]
    # Drawn in its own HTML a page has the ids that stand there.
    layout = replace(made.document.layout, settings=with_form((), IN_PLACE))
    own = Source(replace(made.document, layout=layout), made.index)
    assert re.findall(r'href="#(\w+)"', draw_piece(own, piece, page, ANYONE, content)) == ["quay", "pier"]


PAGES = ({"path": "/", "title": "Home", "slots": ["offers"]},)
CONTENT = '<p>before</p><slot name="offers"><em>none today</em></slot><p>after</p>'


def test_a_widget_is_drawn_where_its_slot_stands_in_the_content():
    made = source([piece_with("widget", {"type": "text", "text": "Half fare"})], [put("offers", "widget")], PAGES)
    html = drawn(made, content=CONTENT).html
    assert html.index("<p>before</p>") < html.index("Half fare") < html.index("<p>after</p>") < html.index("</main>")
    assert html.count("Half fare") == 1
    assert "none today" not in html
    assert 'data-slot="offers"' in drawn(made, content=CONTENT, outlines={"widget": "#2F6DA8"}).html


def test_a_slot_in_the_content_keeps_its_own_where_nothing_is_set_and_goes_where_left_empty():
    assert "none today" in drawn(source([], [], PAGES), content=CONTENT).html
    rule = {"name": "none", "condition": {"include": "all"}, "actions": [{"do": "empty", "slot": "offers"}]}
    html = drawn(source([], [rule], PAGES), content=CONTENT).html
    assert "none today" not in html and "<p>after</p>" in html


EMPTY_TITLE = {"name": "no title", "condition": {"include": "all"}, "actions": [{"do": "empty", "slot": "title"}]}


@pytest.mark.parametrize(
    ("rules", "content", "headings"),
    [
        ([], "<p>x</p>", ["<h1>Home</h1>"]),
        ([EMPTY_TITLE], "<p>x</p>", ['<h1 class="unseen">Home</h1>']),
        ([EMPTY_TITLE], "<h1>Own</h1>", ["<h1>Own</h1>"]),
        ([put("title", "title")], "<p>x</p>", ["<h1>Home</h1>"]),
    ],
)
def test_every_page_has_one_heading_of_the_first_level(rules, content, headings):
    html = drawn(source([piece_with("title", {"type": "page-title"})], rules), content=content).html
    assert re.findall(r"<h1.*?</h1>", html) == headings


def test_a_title_that_names_nothing_leaves_a_heading_for_those_who_cannot_see():
    html = drawn(source([piece_with("title", {"type": "breadcrumbs"})], [put("title", "title")])).html
    assert '<h1 class="unseen">Home</h1>' in html
