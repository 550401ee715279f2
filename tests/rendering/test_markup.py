"""Markup: what it is told, what it may ask for, and that everything in it comes to an end."""

import json
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import html5lib
import pytest

from navrel.core.errors import DocumentError
from navrel.core.files.reading import json_tree, read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.rendering.items.content import check_content, rows_of
from navrel.rendering.items.registry import ITEMS
from navrel.rendering.markup.css import BadStyles, check_styles, name_of_styles, scoped
from navrel.rendering.markup.drawing import problem_of_markup
from navrel.rendering.markup.html import clean_markup
from navrel.rendering.page import Source, draw_page, draw_piece
from navrel.rendering.turning import turned

DEMO = Path(__file__).parents[2] / "demo" / "layout.json"
NOW = datetime(2026, 12, 4, 12, 0)
LENS = Lens(Visitor("in", frozenset({"crew"}), "phone"), NOW)


def site(*items, kind="footer", slot="footer", **more):
    tree = {
        "navrel": 1,
        "site": {
            "name": "Marrowick Ferries", "base_url": "https://marrowick.example", "default_template": "plain",
            "settings": [{"name": "tone-of-page", "type": "text", "default": "calm"}],
        },
        "taxonomies": [{"slug": "topic", "name": "Topics", "terms": [{"slug": "food", "name": "Food & drink"}]}],
        "pages": [
            {"path": "/", "title": "Home"},
            {"path": "/journal", "title": "Journal"},
            {"path": "/journal/rye", "title": "Rye <b>&", "type": "article", "author": "osei-brannagh",
             "published": "2026-03-01", "words": 400, "terms": ["topic/food"], "fields": {"vessel": "Aurora"}},
            {"path": "/journal/tea", "title": "Tea", "type": "article", "published": "2026-04-01"},
        ],
        "menus": [{"slug": "sail-on", "name": "Sail", "entries": [{"page": "/journal", "entries": [{"text": "Far", "href": "https://far.example"}]}]}],
        "pieces": [
            {"slug": "plain", "kind": "template", "slots": ["header", "footer", "title"]},
            {"slug": "one", "kind": kind, "name": "One", "content": {"items": list(items)}},
        ],
        "rules": [{"name": "r", "condition": {"include": "all"}, "actions": [{"do": "fill", "slot": slot, "piece": "one"}]}],
        **more,
    }  # fmt: skip
    document = read_document(tree)
    return Source(document, PageIndex(document.tree))


def drawn(code, css="", path="/journal/rye", lens=LENS):
    source = site({"type": "markup", "code": code, "css": css})
    return draw_page(source, source.index.tree.page(path), "", lens).html


@pytest.mark.parametrize(
    ("code", "html"),
    [
        ("<p>{{ page.title }}, {{ page.published }}, {{ page.author }}</p>",
         "<p>Rye &lt;b&gt;&amp;, 1 March 2026, Osei Brannagh</p>"),
        ("{% for one in page.above %}<a href='{{ one.path }}'>{{ one.title }}</a>{% endfor %}",
         '<a href="/">Home</a><a href="/journal">Journal</a>'),
        ("{% for term in page.terms %}<b>{{ term.name }}</b>{% endfor %}", "<b>Food &amp; drink</b>"),
        ("<i>{{ page.fields.vessel }} {{ page.words | divided_by: 200 }}</i>", "<i>Aurora 2</i>"),
        ("<p>{{ site.name }} {{ today.year }} {{ today.date }}</p>", "<p>Marrowick Ferries 2026 4 December 2026</p>"),
        ("{% if visitor.signed == 'in' %}<p>{{ visitor.roles | join: ',' }} {{ visitor.device }}</p>{% endif %}",
         "<p>crew phone</p>"),
        ("<p>{{ settings.tone_of_page }}</p>", "<p>calm</p>"),
        ("{% for line in menus.sail_on %}<a href='{{ line.href }}'>{{ line.text }}{% if line.here %}!{% endif %}</a>"
         "{% for inner in line.entries %}<a href='{{ inner.href }}'>{{ inner.text }}</a>{% endfor %}{% endfor %}",
         '<a href="/journal">Journal!</a><a href="https://far.example">Far</a>'),
        ("{% assign all = 'type:article' | pages: 5, 'title' %}{% for one in all %}<i>{{ one.title }}</i>{% endfor %}",
         "<i>Rye &lt;b&gt;&amp;</i><i>Tea</i>"),
        ("<p>{{ nothing.at.all }}-</p>", "<p>-</p>"),
        ("<img src=\"{{ 'gone.svg' | file }}\" alt='x'>", '<img src="" alt="x">'),
    ],
)  # fmt: skip
def test_markup_is_told_of_page_site_visitor_settings_and_menus(code, html):
    assert html in drawn(code)


def test_what_draws_nothing_leaves_no_band_and_what_stops_is_told_in_the_editor_alone():
    assert "<footer" not in drawn("{% if page.path == '/' %}<p>x</p>{% endif %}")
    stops = "<p>x</p>{{ page.words | divided_by: 0 }}"
    assert "<footer" not in drawn(stops) or "x</p>" not in drawn(stops)
    source = site({"type": "markup", "code": stops})
    piece = source.document.layout.pieces["one"]
    page = source.index.tree.page("/journal/rye")
    assert "Draws nothing" in draw_piece(source, piece, page, LENS, marked=True)
    assert "Draws nothing" not in draw_piece(source, piece, page, LENS)


@pytest.mark.parametrize(("code", "why"), [
    ("a\n\n{% foo %}", "line 3: unexpected tag 'foo'"), ("{% if x %}", "expected tag endif"), ("{{ x | }}", "expected"),
    ("{{ 'a' | safe }}", "unknown filter 'safe'"), ("{% include 'x' %}", "unexpected tag 'include'"), ("{% render 'x' %}", "unexpected tag"),
    ("{% for i in (1..1000000000000) offset: 999999999999 %}{% endfor %}", "a range"), ("{% for i in (1..n) %}{% endfor %}", "a range"),
    ("{% assign x = (1..99999999) | join: ',' %}", "a range"), ("{{ (1..1001) | size }}x", None), ("{{ (1..5000) }}", "a range"),
    ("{% for a in (1..900) %}{% for b in (1..900) %}x{% endfor %}{% endfor %}", "loop iteration limit"),
    ("{% assign x = 9 %}{% for i in (1..900) %}{% assign x = x | times: x %}{% endfor %}", "fifteen digits"),
    ("{% assign s = 'aaaaaaaaaa' %}{% for i in (1..90) %}{% assign s = s | replace: 'a', s %}{% endfor %}", "characters"),
    ("{% assign s = 'a' %}{% for i in (1..900) %}{% assign s = s | append: s %}{% endfor %}", "characters"),
    ("{% assign a = 'a,b' | split: ',' %}{% for i in (1..20) %}{% assign a = a | concat: a %}{% endfor %}", "a list of more"),
    ("{% for i in (1..900) %}" + "{{ a }}{% if b %}{% endif %}" * 600 + "{% endfor %}", "takes longer"),
    ("{% capture x %}" + "y" * 10000 + "{% endcapture %}{% for i in (1..1000) %}{{ x }}{% endfor %}", "output stream limit"),
    ("{{ 'type:article' | pages: 1000 }}", None), ("x" * 100_001, "at most 100,000"), ("{{ 1 | divided_by: 0 }}", "divide by 0"),
    ("{% if x %}" * 200, "nesting"), ("{{ x" + "[0]" * 5000 + " }}", None),
])  # fmt: skip
def test_what_cannot_be_worked_out_is_refused_with_its_line(code, why):
    told = problem_of_markup(code)
    assert (why in told) if why else len(told) < 300


@pytest.mark.parametrize("css", [
    "@import 'x';", "a{background:url(https://evil.example)}", ".a{} } body{display:none}", "@keyframes x{from{color:red}}",
    "@property --paper{syntax:'*';inherits:false}", "@font-face{src:url(/x)}", "@scope(body){*{display:none}}", ".a{color:red;&:hover{color:blue}}",
    "a{b:image-set('https://e.example/1.png' 1x)}", "@media print{@import 'x';}", ".a:is(}){color:red}", "@media (x}) {.a{color:red}}",
    "a{background:u\\72l(//e.example)}", "@layer a{b{c:d}}", "@namespace x 'y';", "@charset 'x';", "a{b:url(javascript:x)}", "a{b:url('data:x')}",
    "a{", "a{b", "}", "a{b:(}", ".a{x:element(#b)}", ".a{x:-webkit-image-set(url(https://e.example/a) 1x)}",
])  # fmt: skip
def test_styles_that_cannot_stand_are_refused_and_written_without_what_they_would_reach(css):
    written = scoped(css)
    assert "evil" not in written and "e.example" not in written and "javascript" not in written
    if css not in ("a{", "a{b"):
        with pytest.raises(BadStyles, match="line 1: "):
            check_styles(css)
    assert written.count("{") == written.count("}") or "\\" in written
    if "body{display" in css:
        assert "body" not in written


@pytest.mark.parametrize("css", [
    ".a{color:red}", "@media (max-width:600px){.a{color:var(--brand)}}", ".a:hover::before{content:\"</style><script>\"}",
    ".a{background:url('/-/files/x.png')}", "a[b=\"}\"]{color:red}", "@supports (display:grid){.a{display:grid}}", ":scope{gap:1rem}",
    ".a{width:calc(100% - 2rem)!important}", "/* a } comment */ .a{color:red}", "@container (min-width: 10rem){.a{color:red}}",
])  # fmt: skip
def test_styles_stand_in_a_page_scoped_to_their_markup(css):
    check_styles(css)
    html = drawn("<div class='a'>x</div>", css)
    assert f'@scope([data-styles="{name_of_styles(css)}"])' in html
    assert f'<div data-styles="{name_of_styles(css)}">' in html
    assert html.count("</style") == 1
    html5lib.HTMLParser(strict=True).parse(html)


def test_styles_come_once_and_only_where_they_are_needed():
    item = {"type": "markup", "code": "<p class='a'>x</p>", "css": ".a{color:red}"}
    source = site(item, item)
    assert draw_page(source, source.index.tree.page("/"), "", LENS).html.count("@scope") == 1
    other = site({"type": "text", "text": "x"})
    assert "@scope" not in draw_page(other, other.index.tree.page("/"), "", LENS).html


@pytest.mark.parametrize(("html", "kept"), [
    ("<a href='javascript:x' onclick='y' id='z' style='position:fixed'>a</a>", "<a>a</a>"),
    ("<form action='https://evil.example'><input name='a'></form>", '<form><input name="a"></form>'),
    ("<form action='/search'><label>Q <input name='q'></label></form>", '<form action="/search"><label>Q <input name="q"></label></form>'),
    ("<img src='https://evil.example/a.png' srcset='/a 1x, https://evil.example 2x' alt='x'>", '<img alt="x">'),
    ("<img srcset='/-/files/a/a.png 480w, /-/files/b/b.png 960w' alt=''>", '<img srcset="/-/files/a/a.png 480w, /-/files/b/b.png 960w" alt="">'),
    ("<div popover>a</div><dialog open>b</dialog><main>c</main><header>d</header>", "<div>a</div>bcd"),
    ("<iframe src='/'></iframe><object data='/'></object><embed src='/'><base href='/'><meta http-equiv='refresh'><link rel='stylesheet'>", ""),
    ("<style>*{display:none}</style><script>x</script>", ""), ("<svg><use href='#a'/><script>x</script><path d='M0 0'/></svg>", '<svg><path d="M0 0"></path></svg>'),
    ("<div role='main' aria-label='x'>a</div>", '<div aria-label="x">a</div>'), ("<button popovertarget='x'>a</button>", "<button>a</button>"),
    ("<slot name='header'></slot>", ""), ("<video autoplay src='/x'></video><audio src='/x'></audio>", ""),
])  # fmt: skip
def test_html_of_markup_keeps_what_suits_layout(html, kept):
    assert clean_markup(html) == kept


def test_a_piece_keeps_markup_that_is_whole_and_refuses_other_with_its_place():
    check_content("footer", {"items": [{"type": "markup", "code": "<p>{{ page.title }}</p>", "css": ".a{color:red}"}]})
    with pytest.raises(DocumentError) as caught:
        check_content("footer", {"items": [{"type": "markup", "code": "{% x %}", "css": "@import 'x';"}]})
    assert [(one.pointer, one.message[:20]) for one in caught.value.problems] == [
        ("/content/items/0/code", "line 1: unexpected t"), ("/content/items/0/css", "line 1: only @media,"),
    ]  # fmt: skip


TURNED = [
    {"type": "logo", "href": "/"},
    {"type": "heading", "text": "On {page.title}, {today.year}, {{ page }} {% x %}"},
    {"type": "text", "text": "Of **{page.field.vessel}** & co"},
    {"type": "menu", "menu": "sail-on", "label": 'The "menu"'},
    {"type": "newest", "query": "type:article", "count": 3, "heading": "New"},
    {"type": "calendar"},
    {"type": "button", "text": "Go", "href": "/journal", "look": {"space": "large"}},
]


def of_content(source, content):
    """The same site with another content of its one piece."""
    return site(pieces=[
        {"slug": "plain", "kind": "template", "slots": ["header", "footer", "title"]},
        {"slug": "one", "kind": "footer", "content": json.loads(json.dumps(content))},
    ])  # fmt: skip


def types_in(content):
    return [item["type"] for row in content["rows"] for cell in row["cells"] for item in cell["items"]]


def test_a_piece_turned_into_markup_says_the_same_and_goes_on_following_the_site():
    source = site(*TURNED)
    content = source.document.layout.pieces["one"].content
    found = turned(content, source.document, source.index, LENS)
    check_content("footer", found)
    assert types_in(found) == ["markup", "markup"]
    other = of_content(source, found)
    for path in ("/journal/rye", "/"):
        before, after = (draw_page(one, one.index.tree.page(path), "", LENS).html for one in (source, other))
        for said in ("Marrowick Ferries", "2026", "{{ page }} {% x %}", "Tea", "April 2026", "Go"):
            assert said in before and said in after, said
        assert ("<strong>Aurora</strong>" in after) == (path == "/journal/rye")
        html5lib.HTMLParser(strict=True).parse(after)


def test_every_type_of_item_is_turned_into_markup():
    for kind in ITEMS.values():
        source = site()
        found = turned({"items": [{"type": kind.type}]}, source.document, source.index, LENS)
        check_content("footer", found)
        assert types_in(found) == ["markup"], kind.type


def said(html):
    """What a page says: its words, where its links lead, its pictures, and what of it is styled."""
    tree = html5lib.parse(html, namespaceHTMLElements=False)
    links = [link.get("href") for link in tree.iter("a")]
    pictures = [picture.get("srcset") for picture in tree.iter("img")]
    styled = {one.get("class", "") for one in tree.iter()} - {"markup"}
    return " ".join(" ".join(tree.find("body").itertext()).split()), links, pictures, styled


@pytest.mark.parametrize("kind", ["header", "footer", "title", "widget"])
def test_every_piece_of_the_demo_says_the_same_as_markup(kind):
    document = read_document(json_tree(DEMO.read_bytes()))
    pieces = {
        slug: replace(piece, content=turned(piece.content, document, PageIndex(document.tree), LENS))
        if piece.kind == kind else piece
        for slug, piece in document.layout.pieces.items()
    }  # fmt: skip
    written = replace(document, layout=replace(document.layout, pieces=pieces))
    one, other = (Source(each, PageIndex(each.tree)) for each in (document, written))
    for page in one.index.tree.pages[::9]:
        assert said(draw_page(other, page, "", LENS).html) == said(draw_page(one, page, "", LENS).html), page.path
    for piece in pieces.values():
        check_content(piece.kind, piece.content)
        assert "markup" in types_in({"rows": rows_of(piece.content)}) or piece.kind != kind or not piece.content


ASKS = '{% item {"type": "newest", "query": "page:/journal/tea", "heading": "Read"} %}'


@pytest.mark.parametrize(
    ("code", "shown"),
    [
        (ASKS, 1),
        ("{% for i in (1..3) %}" + ASKS + "{% endfor %}", 3),
        ("{% if page.type == 'event' %}" + ASKS + "{% endif %}<p>no</p>", 0),
        # Only where an element may stand, and only what is asked for.
        (f"<p title='{ASKS}'>x</p>", 0),
        (f"<textarea name='t'>{ASKS}</textarea>", 0),
        ("{% comment %}" + ASKS + "{% endcomment %}<p>no</p>", 0),
        ("<asked-item is='{&quot;type&quot;: &quot;calendar&quot;}'></asked-item><p>no</p>", 0),
        (ASKS + "<asked-item is='[]'>more</asked-item>", 1),
    ],
)
def test_markup_asks_for_items_where_elements_may_stand(code, shown):
    html = drawn(code)
    assert problem_of_markup(code) == ""
    assert html.count('<a href="/journal/tea">Tea</a>') == shown
    assert 'class="calendar"' not in html


@pytest.mark.parametrize(
    ("code", "message"),
    [
        ("{% item %}", "line 1: an item is an object in JSON: expecting value at column 1 of it"),
        ("<p>\n{% item {'type': 'calendar'} %}", "line 2: an item is an object in JSON: expecting property name"),
        ('{% item {"type": 4} %}', "line 1: an item is an object with a type"),
        ("{% item " + "[" * 9000 + " %}", "line 1: this is nested too deep"),
        ('{% item {"type": NaN} %}', "line 1: NaN is not JSON"),
        ('{% item {"type": "clock"} %}', "item clock, type: an item is one of logo"),
        ('{% item {"type": "calendar", "query": "typo:x"} %}', "item calendar, query: "),
        ('{% item {"type": "markup", "code": "x"} %}', "markup asks for items, not for more markup"),
        (ASKS * 60, "a piece holds at most 60 items"),
    ],
)
def test_a_wrong_item_in_markup_is_told_with_its_place(code, message):
    with pytest.raises(DocumentError) as caught:
        check_content("footer", {"items": [{"type": "markup", "code": code}]})
    assert message in str(caught.value.problems[0].message)


def test_markup_draws_no_more_items_than_a_piece_holds():
    code = "{% for i in (1..61) %}" + ASKS + "{% endfor %}"
    assert "Tea" not in drawn(code)
    source = site({"type": "markup", "code": code})
    piece, page = source.document.layout.pieces["one"], source.index.tree.page("/journal/rye")
    assert "Draws nothing: markup draws at most 60 items" in draw_piece(source, piece, page, LENS, marked=True)
