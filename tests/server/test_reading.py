"""Reading pages: facts from where sites put them, and every kind of file that is no page."""

import html

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.files.reading import read_recipe
from navrel.rendering.sanitising import sanitise
from navrel.server.inventory.bringing_in import in_reading_order
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.reading import read_page

HERE = "https://marrowick.example"


def page(main="<p>Text</p>", head="", lang="en", wrap="<main>{}</main>"):
    return f'<!doctype html><html lang="{lang}"><head>{head}</head><body>{wrap.format(main)}</body></html>'.encode()


@pytest.mark.parametrize(
    ("data", "language"),
    [
        (b"<html><head><meta http-equiv=Content-Language content=en-us></head><body>Boats</body></html>", "en-US"),
        (b"<html lang=nb><head><meta http-equiv=content-language content=en></head><body>Boats</body></html>", "nb"),
        (b"<html><head><meta http-equiv=content-language content='en, nb'></head><body>Boats</body></html>", ""),
        (b"<html lang=sr@latin><body>Boats</body></html>", "sr-Latn"),
    ],
    ids=["pragma", "element first", "several", "locale"],
)
def test_a_page_tells_its_language(data, language):
    assert read_page("boats.html", data, HERE).facts["language"] == language


def linked(data):
    return f'<script type="application/ld+json">{data}</script>'


def test_an_article_tells_its_facts():
    head = (
        '<title>Terns · Marrowick</title><link rel="canonical" href="https://marrowick.example/journal/terns/">'
        '<meta property="og:type" content="article"><meta property="article:published_time" content="2026-05-09T05:40:00Z">'
        '<meta property="article:tag" content="Seabirds"><meta property="article:tag" content="Walks &amp; paths">'
        '<meta name="author" content="Maren Dufay">'
    )
    found = read_page(
        "anything.html", page("<h1>The terns</h1><p>Forty pairs, and it's loud.</p>", head, "en-IE"), HERE
    )
    assert found.path == "/journal/terns"
    assert found.facts == {
        "title": "The terns", "in_head": "Terns · Marrowick", "shows_head": False, "kind": "single", "type": "article", "parent": "", "terms": ["topic/seabirds", "topic/walks-paths"],
        "lists": "", "author": "maren-dufay", "language": "en-IE", "published": "2026-05-09", "words": 5, "fields": {}, "slots": [],
    }  # fmt: skip
    assert found.term_names == {"topic/seabirds": "Seabirds", "topic/walks-paths": "Walks & paths"}
    assert found.html == "<p>Forty pairs, and it's loud.</p>", "the heading belongs to the title slot"


@pytest.mark.parametrize(
    ("name", "path"),
    [("index.html", "/"), ("a/index.html", "/a"), ("a/b.html", "/a/b"), ("a b/c.htm", "/a-b/c"), ("../x.html", "/x")],
)
def test_a_path_comes_from_the_file_where_no_link_states_it(name, path):
    assert read_page(name, page()).path == path


@pytest.mark.parametrize(
    ("data", "fact", "value"),
    [
        ('{"@type": "CheckoutPage"}', "type", "checkout"),
        ('{"@type": "NewsArticle", "author": [{"name": "Osei Brannagh"}]}', "author", "osei-brannagh"),
        ('{"@type": "SearchResultsPage"}', "kind", "search"),
        ('{"@type": "CollectionPage", "about": {"@type": "DefinedTerm", "name": "Food", "inDefinedTermSet": "topic"}}', "lists", "term/topic/food"),
        ('{"@type": "CollectionPage", "about": {"@type": "Person", "name": "Tove Lindqvist"}}', "lists", "author/tove-lindqvist"),
        ('{"@type": "Blog"}', "lists", "type/article"),
        ('{"@type": "WebPage", "additionalProperty": {"@type": "PropertyValue", "name": "Vessel", "value": "Aurora"}}', "fields", {"vessel": "Aurora"}),
        ('{"@graph": [{"@type": "WebPage"}, {"@type": "Article", "datePublished": "2026-02-03"}]}', "published", "2026-02-03"),
    ],
)  # fmt: skip
def test_facts_stand_in_linked_data(data, fact, value):
    assert read_page("a.html", page(head=linked(data))).facts[fact] == value


@pytest.mark.parametrize(
    ("said", "is_one"),
    [
        ('<meta property="og:type" content="article">', False),
        ('<meta property="og:type" content="article"><meta property="article:tag" content="Seabirds">', True),
        ('<meta property="og:type" content="article"><meta name="author" content="Maren Dufay">', True),
        ('<meta property="og:type" content="Article"><meta property="article:published_time" content="2026-05-09">', True),
        ('<div itemscope itemtype="https://schema.org/Article"><div itemprop="articleBody">Terns</div></div>', False),
        ('<div itemscope itemtype="https://schema.org/Article"><b itemprop="headline">Terns</b></div>', True),
        ('<div itemscope itemtype="https://schema.org/BlogPosting"><div itemprop="articleBody">Terns</div></div>', True),
        (linked('{"@type": "Article", "dateModified": "2026-05-09"}'), True),
    ],
)  # fmt: skip
def test_what_calls_a_page_an_article_and_tells_nothing_of_it_is_a_theme(said, is_one):
    assert read_page("a.html", page(said)).facts["type"] == ("article" if is_one else "")


def test_breadcrumbs_name_another_parent_than_the_path():
    crumbs = '{"@type": "BreadcrumbList", "itemListElement": [{"item": "https://m.example/passes"}, {"item": {"@id": "https://m.example/a/b"}}]}'
    head = '<link rel="canonical" href="https://m.example/a/b">' + linked(crumbs)
    assert read_page("x.html", page(head=head), "https://m.example").facts["parent"] == "/passes"


@pytest.mark.parametrize("data", ["{", "[" * 100_000, "null", '"text"', '{"@type": 3, "author": 4, "about": []}'])
def test_broken_linked_data_is_passed_over(data):
    assert read_page("a.html", page(head=linked(data))).facts["type"] == ""


def test_custom_types_of_open_graph_lose_their_namespace():
    assert (
        read_page("a.html", page(head='<meta property="og:type" content="marrowick:route">')).facts["type"] == "route"
    )


def test_a_page_without_main_is_guessed_at_and_says_so():
    body = "<header><nav>Home</nav></header><div><div><h1>Fares</h1><p>Fourteen across.</p></div></div><footer>Small print</footer>"
    found = read_page("a.html", page(body, wrap="{}"))
    assert found.facts["title"] == "Fares"
    assert "Small print" not in found.text
    assert "Fourteen across." in found.text
    assert found.remark == "has no main element; the content is a guess"


@pytest.mark.parametrize(
    "source",
    [
        "<!-- made by a program -->\n{% macro head() %}<link rel=stylesheet href=a.css>{% endmacro %}",
        "{%- extends 'layout.html' -%}\n<p>Boats</p>",
        "{# of every page #}<nav>Routes</nav>",
        '{{ define "main" }}<p>Boats</p>{{ end }}',
    ],
)
def test_a_template_that_pages_are_made_of_is_none(source):
    with pytest.raises(Unreadable, match="is a template"):
        read_page("_static/macros.html", source.encode())


def test_braces_in_a_page_make_it_no_template():
    assert read_page("a.html", page("<p>{{ tide }} {% raw %}</p>")).facts["words"]
    assert read_page("a.html", b"<p>{% if %} is how it begins</p>").facts["words"]


@pytest.mark.parametrize(
    ("data", "reason"),
    [
        (b"", "holds no HTML"),
        (b"just words", "holds no HTML"),
        (b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR<html>", "binary, not text"),
        (b"<" + b"x" * (5 * 1024 * 1024), "larger than 5 MB"),
    ],
)
def test_what_is_no_page_says_why(data, reason):
    with pytest.raises(Unreadable, match=reason):
        read_page("a.html", data)


def test_other_encodings_are_decoded_with_a_remark():
    found = read_page("a.html", page("<p>Ødegård på kaia</p>").decode().encode("windows-1252"))
    assert "Ødegård på kaia" in found.text
    assert found.remark == "decoded as windows-1252"
    utf16 = read_page("a.html", page("<p>Kittiwake</p>").decode().encode("utf-16"))
    assert "Kittiwake" in utf16.text
    declared = page("<p>caf\u00e9</p>", '<meta charset="iso-8859-15">').decode().encode("iso-8859-15")
    assert read_page("a.html", declared).remark == "decoded as iso-8859-15"


def test_broken_markup_is_read_as_far_as_it_goes():
    found = read_page("a.html", b"<html><body><main><h1>Half<p>open <b>tags<main><div>" + b"<div>" * 5000)
    assert "open" in found.text


@pytest.mark.parametrize(
    "markup",
    [
        "<script>alert(1)</script>",
        '<img src=x onerror="alert(1)">',
        '<a href="javascript:alert(1)">x</a>',
        "<svg><script>alert(1)</script></svg>",
        '<svg onload="alert(1)"><a xlink:href="javascript:alert(1)"><text>x</text></a></svg>',
        '<iframe src="https://evil.example"></iframe>',
        '<form action="javascript:alert(1)"><button formaction="javascript:alert(1)">x</button></form>',
        '<p style="background:url(javascript:alert(1))">x</p>',
        "<math><mtext><table><mglyph><style><img src=x onerror=alert(1)>",
        '<base href="https://evil.example/"><meta http-equiv="refresh" content="0;url=x">',
    ],
)
def test_nothing_that_runs_is_kept(markup):
    clean = sanitise(markup).lower()
    for danger in ("<script", "onerror", "onload", "javascript:", "<iframe", "style=", "<base", "<meta", "formaction"):
        assert danger not in clean


def test_drawings_forms_and_slots_are_kept():
    markup = '<svg viewBox="0 0 9 9"><path d="M0 0h9" fill="#0f5c7a"></path></svg><label for="q">Q</label><input id="q" name="q"><slot name="offers"></slot>'
    assert sanitise(markup) == markup


@pytest.mark.parametrize(
    "markup",
    [
        '<p dir="rtl">שלום</p>',
        '<h2 id="fares">Fares</h2>',
        '<details open=""><summary>More</summary><p>Text</p></details>',
        '<picture><source srcset="/b.webp 1x, /b2.webp 2x" type="image/webp"><img src="/b.png" alt="A boat" sizes="50vw"></picture>',
        '<video src="/v.mp4" controls="" poster="/v.png"><track src="/v.vtt" kind="captions" srclang="en"></video>',
        '<audio src="/horn.ogg" controls=""></audio>',
        '<math display="block"><mfrac><mi>a</mi><mn>2</mn></mfrac></math>',
    ],
)
def test_what_a_text_needs_survives(markup):
    assert sanitise(markup) == markup


def test_a_formula_loses_its_second_form_whole():
    markup = "<math><semantics><mi>x</mi><annotation>\\mathbf x</annotation></semantics></math>"
    assert sanitise(markup) == "<math><semantics><mi>x</mi></semantics></math>"


@pytest.mark.parametrize(
    "value", ["https://evil.example/x 1x", "/a 1x, //evil.example/x 2x", "/a, data:text/html,x 2x"]
)
def test_sizes_of_a_picture_come_from_the_site_alone(value):
    assert "evil" not in sanitise(f'<img srcset="{value}" src="/a.png" alt="">')


@pytest.mark.parametrize(
    ("link", "path", "address", "also"),
    [
        ("https://marrowick.example/isles/hestan/", "/isles/hestan", "/isles/hestan/", ["/a/x.html"]),
        ("/isles/hestan.html?x=1#y", "/isles/hestan", "/isles/hestan.html", ["/a/x.html"]),
        ("hestan.html", "/a/hestan", "/a/hestan.html", ["/a/x.html"]),
        ("https://elsewhere.example/isles", "/a/x", "/a/x.html", []),
        ("http://[broken", "/a/x", "/a/x.html", []),
        ("javascript:alert(1)", "/a/x", "/a/x.html", []),
        ("", "/a/x", "/a/x.html", []),
    ],
)
def test_a_canonical_link_is_trusted_only_where_it_is_of_this_site(link, path, address, also):
    found = read_page("a/x.html", page(head=f'<link rel="canonical" href="{link}">'), HERE)
    assert (found.path, found.address, found.also) == (path, address, also)


@pytest.mark.parametrize(
    ("base", "link", "leads_to"),
    [
        ("", "../fares.html#dogs", "/fares.html#dogs"),
        ("", "north.html?day=1", "/routes/north.html?day=1"),
        ("", "/tickets/", "/tickets/"),
        ("", "#top", "#top"),
        ("", "https://marrowick.example/help/", "/help/"),
        ("", "https://elsewhere.example/help/", "https://elsewhere.example/help/"),
        ("", "https://marrowick.example//elsewhere.example/", "/elsewhere.example/"),
        ("", "mailto:quay@marrowick.example", "mailto:quay@marrowick.example"),
        ("", "./", "/routes/"),
        ("../help/", "dogs.html", "/help/dogs.html"),
    ],
)
def test_what_a_content_leads_to_it_leads_to_from_anywhere(base, link, leads_to):
    head = f'<base href="{base}">' if base else ""
    found = read_page("routes/index.html", page(f'<p><a href="{link}">there</a></p>', head), HERE)
    assert found.html == f'<p><a href="{leads_to}">there</a></p>'


def test_pictures_are_found_from_anywhere_also_where_there_are_several_sizes():
    for several in ("b.png 1x, big/b.png 2x", "b.png 1x,big/b.png 2x"):
        found = read_page("routes/index.html", page(f'<p><img src="b.png" srcset="{several}" alt=""></p>'))
        assert 'src="/routes/b.png"' in found.html
        assert 'srcset="/routes/b.png 1x, /routes/big/b.png 2x"' in found.html


@pytest.mark.parametrize(
    ("content", "leads_to"),
    [("0; url=../b/", "/b/"), ("0;URL='/c.html'", "/c.html"), ("3; https://marrowick.example/d", "/d")],
)
def test_a_page_that_leads_on_by_itself_is_none(content, leads_to):
    found = read_page("a/x.html", page(head=f'<meta http-equiv="Refresh" content="{content}">'), HERE)
    assert (found.address, found.leads_to) == ("/a/x.html", leads_to)


def test_one_that_would_lead_on_without_scripts_does_if_these_do_too():
    head = '<noscript><meta http-equiv="refresh" content="0; url=b.html"></noscript><title>Fares</title>'
    assert read_page("x.html", page(head=head), HERE).facts["title"] == "Fares"
    for script in ('location.href = "b.html"', "window.location='b.html'", 'location.replace("b.html")'):
        assert read_page("x.html", page(head=f"{head}<script>{script}</script>"), HERE).leads_to == "/b.html"
    for script in ("if (location.href == x) y()", "relocation = 1", "say(location)"):
        assert read_page("x.html", page(head=f"{head}<script>{script}</script>"), HERE).leads_to == ""


def test_one_that_leads_on_elsewhere_is_named_and_one_that_waits_is_a_page():
    with pytest.raises(Unreadable, match=r"leads on to https://elsewhere\.example/, which is elsewhere"):
        read_page("x.html", page(head='<meta http-equiv="refresh" content="0; url=https://elsewhere.example/">'), HERE)
    assert read_page("x.html", page(head='<meta http-equiv="refresh" content="300">')).leads_to == ""
    # A page that is shown anew every other second leads nowhere.
    for itself in ("x.html", "/a/x.html#now", "https://www.marrowick.example/a/x.html"):
        read = read_page("a/x.html", page(head=f'<meta http-equiv="refresh" content="2; url={itself}">'), HERE)
        assert (read.leads_to, read.path) == ("", "/a/x")


@pytest.mark.parametrize(
    ("heading", "title"),
    [
        ('<h1>Fares<a class="headerlink" href="#fares">¶</a></h1>', "Fares"),
        ('<h1><a class="anchor" href="#f"></a>Fares</h1>', "Fares"),
        ("<h1><span>4.</span> Fares<br>and passes</h1>", "4. Fares and passes"),
        ("<h1>Fa<b>re</b>s</h1>", "Fares"),
        ("<h1><div>Fares</div><div>2026</div></h1>", "Fares 2026"),
    ],
)
def test_a_title_is_what_is_read_of_the_heading(heading, title):
    assert read_page("x.html", page(f"{heading}<p>Text</p>")).facts["title"] == title


@pytest.mark.parametrize(
    ("site", "title"),
    [('<a href="/">Marrowick 3</a>', "Fares"), ('<a href="#top">Marrowick 3</a>', "Marrowick 3"), ("Quay", "Fares")],
)
def test_a_heading_that_leads_away_names_no_page_where_there_is_another(site, title):
    found = read_page("x.html", page(f"<h1>{site}</h1><h1>Fares</h1><p>x</p>", "<title>Fares · Marrowick 3</title>"))
    assert found.facts["title"] == title
    assert read_page("x.html", page(f"<h1>{site}</h1><p>x</p>")).facts["title"] != "Fares"


def bare(body):
    return f"<!doctype html><html><head><title>Fares</title></head><body>{body}</body></html>".encode()


_LEADS = "".join(f'<a href="/{number}">Harbour number {number}</a> ' for number in range(9))
_SHORT = '<div id="text"><h1>Fares</h1><p>Half fare.</p></div>'


@pytest.mark.parametrize(
    ("around", "is_left"),
    [
        (f'<div class="nav">{_LEADS}</div>', False), (f'<ul id="global-nav"><li>{_LEADS}</ul>', False),
        (f'<table class="navheader"><tr><td>{_LEADS}</table>', False), (f'<div class="Breadcrumbs">{_LEADS}</div>', False),
        (f'<div class="with-sidebar">{_LEADS}</div>', True), (f'<div class="navy">{_LEADS}</div>', True),
        (f'<div class="menu"><h2>Today</h2>{_LEADS}</div>', True),
        ('<div class="menu">Soup of the day, herring with rye bread, and a cup of <a href="/tea">tea</a></div>', True),
    ],
)  # fmt: skip
def test_what_leads_about_a_site_is_no_part_of_a_short_page(around, is_left):
    found = read_page("x.html", bare(f"{around}{_SHORT}"))
    assert (found.text == "Half fare.") is not is_left


def test_what_opens_a_text_belongs_to_it_however_long_its_first_section_is():
    long = f"<div><h2>By sea</h2><p>{'Half fare. ' * 200}</p></div><div><h2>On foot</h2><p>No fare.</p></div>"
    opening = "<p>What it costs to sail, for people who walk aboard, and for people who bring a bicycle along.</p>"
    for opens, begin in ((opening, "What it costs"), ("<p>Sail with us</p>", "By sea"), (f"<p>{_LEADS}</p>", "By sea")):
        found = read_page("x.html", bare(f'<div id="page"><h1>Fares</h1>{opens}{long}</div><div>Quay 1</div>'))
        assert found.text.startswith(begin)
        assert found.text.endswith("No fare.") is (opens == opening)


@pytest.mark.parametrize(
    ("before", "words"),
    [
        ("<div><h2>Knots</h2><p>Of ropes.</p></div>", 202),
        ("<div><h2><a href=/>Knots</a></h2><p>Of ropes.</p></div>", 200),
        ("<div><h2>Marrowick</h2><p>Of ropes.</p></div>", 200),
        ("<div><h1>Knots</h1><p>Of ropes.</p></div>", 200),
    ],
    ids=["named", "leads away", "named otherwise", "of the first rank"],
)
def test_a_part_that_stands_behind_the_name_of_its_page_is_not_all_of_it(before, words):
    section = f"<div><h3>All</h3><p>{'Bowline ' * 199}</p></div>"
    data = page(f"{before}{section}", "<title>Knots: a manual</title>", wrap="<div>{}</div><p>1</p>")
    assert read_page("knots.html", data, HERE).facts["words"] == words


def test_a_page_of_nothing_but_what_leads_about_keeps_its_text():
    assert read_page("x.html", bare(f'<div class="nav">{_LEADS}</div>')).text == ""
    assert "number 8" in read_page("x.html", bare(f'<div class="nav"><h1>Map</h1>{_LEADS}</div>')).text


def test_headings_of_sections_name_no_page():
    sections = "<h1>1. Overview</h1><p>Text</p><h1>2. More</h1>"
    found = read_page("x.html", page(sections, "<title>Quirks of the quay</title>"))
    assert found.facts["title"] == "Quirks of the quay"
    assert "1. Overview" in found.html
    named = read_page("x.html", page(f"{sections}<h1>Quirks</h1>", "<title>Quirks of the quay</title>"))
    assert named.facts["title"] == "Quirks"
    assert "<h1>Quirks" not in named.html


@pytest.mark.parametrize(("shown", "is_shown"), [
    ("<p class=caption>Marrowick.Moor</p>", True), ("<div>Marrowick.Moor</div>", True), ("", False), ("<p>Moor</p>", False),
    ("<ul><li><p>Marrowick.Moor</p></ul>", False), ("<nav><p>Marrowick.Moor</p></nav>", False),
])  # fmt: skip
def test_what_a_title_element_says_may_stand_before_the_heading_of_a_section(shown, is_shown):
    head = "<title>Marrowick.Moor</title>"
    read = [read_page("x.html", page(main, head)).facts for main in (f"{shown}<h1>Moor</h1>", f"<h1>Moor</h1>{shown}")]
    assert [facts["shows_head"] for facts in read] == [is_shown, False]
    assert [facts["title"] for facts in read] == ["Moor", "Moor"]


@pytest.mark.parametrize(("listed", "parent"), [
    ("<li><a href=2.html>Two</a><ul><li><a href=3.html>Three</a></ul>", "/quay/2"),
    ("<li><a href=2.html>Two</a><li><ol><li><a href=1.html>One</a><li><a href=3.html>Three</a></ol>", "/quay/2"),
    ("<li><a href=2.html>Two</a></li><ul><li><a href=1.html>One</a><li><a href=3.html>Three</a></ul>", "/quay/2"),
    # A label leads nowhere, and what stands before it is not above it.
    ("<li><a href=2.html>Two</a><li><b>More</b><ul><li><a href=1.html>One</a><li><a href=3.html>Three</a></ul>", ""),
    ("<li><ol><li><a href=3.html>Three</a></ol>", ""),
    # A button opens its list, and leads to the first of it where there are no scripts.
    ("<li><a role=button href=1.html>More</a><ul><li><a href=1.html>One</a><li><a href=3.html>Three</a></ul>", ""),
    ("<li><a href=2.html>Two</a><li><a href=3.html>Three</a>", ""),
])  # fmt: skip
def test_the_page_above_is_that_in_whose_list_one_stands_wherever_the_list_stands(listed, parent):
    recipe = read_recipe([{"fact": "parent", "places": [{"at": "navigation"}]}])
    found = read_page("quay/3.html", page(f"<nav><ul>{listed}</ul></nav>"), recipe=recipe)
    assert found.facts["parent"] == parent


def test_what_a_link_element_is_called_is_no_author():
    head = '<link rel="author" title="About these pages" href="about.html">'
    assert read_page("x.html", page(head=head)).facts["author"] == ""
    assert (
        read_page("x.html", page('<p>By <a rel="author" href="/imre">Imre Holt</a></p>', head)).facts["author"]
        == "imre-holt"
    )


@pytest.mark.parametrize(
    ("written", "author"), [("Maren Dufay", "maren-dufay"), ("https://marrowick.example/crew/maren", "")]
)
def test_open_graph_names_an_author_unless_it_leads_to_a_profile(written, author):
    head = f'<meta property="article:author" content="{written}">'
    assert read_page("a.html", page(head=head), HERE).facts["author"] == author


def test_an_author_s_address_is_no_part_of_the_name():
    assert (
        read_page("x.html", page(head='<meta name="author" content="Imre Holt &lt;i@example.org>">')).facts["author"]
        == "imre-holt"
    )
    assert (
        read_page("x.html", page(head='<meta name="author" content="&lt;https://example.org>">')).facts["author"] == ""
    )


def test_pages_that_say_which_is_the_next_stand_in_that_order():
    order = in_reading_order(["/", "/a", "/b", "/b/x", "/c"], {"/": "/c", "/c": "/a", "/b": "/a", "/b/x": "/gone"})
    assert order == ["/", "/c", "/a", "/b", "/b/x"]
    assert in_reading_order(["/a", "/b", "/c"], {"/b": "/c", "/c": "/b"}) == ["/a", "/b", "/c"]


@given(st.dictionaries(st.sampled_from("abcdefg"), st.sampled_from("abcdefgh")))
def test_each_page_stands_once_whatever_is_said_to_be_next(nexts):
    assert sorted(in_reading_order("abcdefg", nexts)) == list("abcdefg")


@pytest.mark.parametrize(
    "wrap",
    [
        '<div role="main">{}</div>', '<div id="content">{}</div>', '<div class="document"><div class="body">{}</div></div>',
        '<div class="post-content wide">{}</div>',
    ],
)  # fmt: skip
def test_a_content_is_known_by_the_usual_marks(wrap):
    found = read_page("x.html", page(wrap=f"<div><p>Menu of many words, more than the text</p></div>{wrap}"))
    assert (found.html, found.remark) == ("<p>Text</p>", "")


def test_the_text_has_no_scripts_and_a_space_where_a_box_ends():
    found = read_page(
        "x.html", page("<h4>Moor</h4>Ties<br>a boat<div>F<b>a</b>st</div><script>no()</script><style>p{}</style>")
    )
    assert (found.text, found.facts["words"]) == ("Moor Ties a boat Fast", 5)


@pytest.mark.parametrize("odd", ["\x01", "\x0b", "\x1f", "\uffff", "&#11;", "&#x1F;", "&#65535;", "&#xfffe;", "&#1;"])
def test_characters_that_no_tree_can_hold_are_left_out(odd):
    found = read_page("x.html", page(f"<h1>Quay{odd}</h1><i>a</i><script>x</script>{odd}b <a href='#c{odd}'>c</a>"))
    assert (found.facts["title"], found.text) == ("Quay", "ab c")
    assert 'href="#c"' in found.html


@pytest.mark.parametrize("plain", ["&#160;", "&#110;", "&#x1F6A2;", "&#8212;", "&#13;", "\ufffd"])
def test_all_other_characters_stay(plain):
    assert html.unescape(plain).strip() in read_page("x.html", page(f"<p>a{plain}b</p>")).text


def test_a_page_that_leaves_out_its_tags_is_read():
    found = read_page("x.html", b"<!doctype html><title>Quay</title><main><p>Boats</p></main>")
    assert (found.facts["title"], found.html) == ("Quay", "<p>Boats</p>")


def test_a_table_that_is_most_of_a_page_is_read_with_its_rows():
    rows = "".join(f"<tr><td>Pier {number}</td><td>A long line of words about it</td></tr>" for number in range(9))
    found = read_page("x.html", f"<title>Piers</title><body><p>Piers:</p><div><table>{rows}</table></div>".encode())
    assert found.html.count("<tr>") == 9
    assert found.dropped == {}


def test_an_article_is_the_content_unless_it_is_a_small_part_of_what_is_called_so():
    def words(article: str) -> int:
        around = f"<div id=content><p>{'A line about a module. ' * 20}</p>{article}</div>"
        return read_page("x.html", f"<body>{around}<p>{'Beside it. ' * 20}</p>".encode()).facts["words"]

    assert words("<article><h4>moor</h4> Ties a boat.</article>") == 104
    assert words("<article><h2>Moor</h2> Ties a boat.</article>") == 4
    assert words(f"<article>{'Ties a boat. ' * 50}</article>") == 150


@pytest.mark.parametrize(
    ("heading", "title"),
    [
        ("<h3>2.1 Mooring</h3>", "2.1 Mooring"),
        ("<h2>Boats</h2><h3>2.1 Mooring</h3>", "Handbook: 2.1 Mooring (Marrowick)"),
        ("<h3>Moor</h3>", "Handbook: 2.1 Mooring (Marrowick)"),
    ],
)
def test_without_one_of_the_first_rank_the_first_heading_names_a_page_if_its_title_element_has_it(heading, title):
    found = read_page("x.html", page(f"{heading}<p>Text</p>", "<title>Handbook: 2.1 Mooring (Marrowick)</title>"))
    assert found.facts["title"] == title


@pytest.mark.parametrize(
    ("trail", "parent"),
    [
        (
            '<li><a href="/">Docs</a> »</li><li><a href="a.html">A</a></li><li>Here</li><li><a href="x.txt">Source</a></li>',
            "/quay/a",
        ),
        (
            '<li>You are at</li><li><a href="a.html">A</a></li><li><a href="node3.html">Here</a></li><li><a href="b.html">Edit</a></li>',
            "/quay/a",
        ),
        ('<li><a href="node3.html">Here</a></li>', ""),
        ('<li><a href="/">Docs</a></li><li><a href="b.html">B</a></li>', "/quay/b"),
    ],
)
def test_a_trail_ends_at_the_page_itself(trail, parent):
    assert read_page("quay/node3.html", page(f"<ul class=breadcrumbs>{trail}</ul>")).facts["parent"] == parent


@pytest.mark.parametrize(
    ("line", "parent"),
    [
        ('<p>You are here: <a href="/">Docs</a> &gt; <a href="a.html">A</a> &gt; Here</p>', "/quay/a"),
        (
            '<ul><li><a href="b.html">next</a> |</li><li><a href="a.html">A</a> »</li><li><a href="">1. Here</a></li></ul>',
            "/quay/a",
        ),
        ('<div><span><a href="a.html">A</a></span><span>› <a href="node3.html#x">Here</a></span></div>', "/quay/a"),
        ('<ul><li><a href="/">Docs</a> »</li><li><a href="a.html">A</a> »</li></ul>', "/quay/a"),
        (
            '<table><tr><td><a href="https://elsewhere.example/">Ferries</a> » <a href="a.html">A</a> » Here</table>',
            "/quay/a",
        ),
        # What is read next, what another page is called, code, links side by side, and what stands behind the heading.
        ('<p><a href="b.html">Read on</a> »</p>', ""),
        ('<p><a href="b.html">News</a> » A boat was found</p>', ""),
        ('<p><a href="b.html">News</a> » <a href="c.html">A boat was found</a></p>', ""),
        ('<pre><a href="b.html">News</a> &gt; Here</pre>', ""),
        ('<p><a href="b.html">News</a> | <a href="a.html">A</a> | Here</p>', ""),
        ('<p>Text</p><h1>Here</h1><p><a href="a.html">A</a> » Here</p>', ""),
    ],
)
def test_a_line_that_leads_down_to_the_page_is_a_trail_whatever_it_is_called(line, parent):
    heading = "" if "<h1>" in line else "<h1>Here</h1>"
    assert read_page("quay/node3.html", page(f"{line}{heading}")).facts["parent"] == parent


@pytest.mark.parametrize(
    ("heading", "in_head", "title"),
    [
        ('<a href="/">Gig</a><span class=sep></span>row_home', "Gig.row_home", "Gig.row_home"),
        ('<a href="/">Gig</a><span class=sep></span>row_home', "Gig.row_home – Manual", "Gig row_home"),
        ("Moor<span id=moor></span>ing", "Moor.ing", "Mooring"),
        ("<i class=icon></i>What’s new?", "What's new", "What’s new?"),
    ],
)
def test_a_sign_that_styles_draw_in_a_heading_is_told_by_the_title_element(heading, in_head, title):
    assert read_page("x.html", page(f"<h1>{heading}</h1>", f"<title>{in_head}</title>")).facts["title"] == title


def test_the_home_page_stands_below_none():
    assert read_page("index.html", page('<p><a href="all.html">All</a> » Home</p><h1>Home</h1>')).facts["parent"] == ""


def test_a_folder_may_be_called_as_a_page_is():
    read = read_page("policy.html/index.html", page("<h1>Policy</h1>"))
    assert (read.path, read.address) == ("/policy.html", "/policy.html/")
    assert read_page("policy.html/fares.html", page("<h1>Fares</h1>")).path == "/policy.html/fares"
    assert read_page("policy.html", page("<h1>Policy</h1>")).path == "/policy"


@pytest.mark.parametrize(
    ("link", "parent"),
    [
        ('<a href="node1.html"><img alt="up" src="up.png"></a>', "/quay/node1"),
        ('Up: <a href="../node2.html"> Up </a>', "/node2"),
        ('<a rel="up" href="said.html">x</a> <a href="node1.html">Up</a>', "/quay/said"),
        ('<a href="#top">Up</a>', ""),
        ('<a href="node1.html">Upper quay</a>', ""),
    ],
)
def test_a_link_that_older_generators_call_up_leads_to_the_page_above(link, parent):
    assert read_page("quay/node3.html", page(f"<p>{link}</p>")).facts["parent"] == parent


@pytest.mark.parametrize(
    ("bar", "title"),
    [
        ("<div class=bar><h1>Mooring</h1></div>", "Mooring"),
        ("<header><h1>Mooring</h1></header>", "Mooring | Marrowick"),
        ("<div class=bar><h1><a href=/>Marrowick</a></h1></div>", "Mooring | Marrowick"),
        ("<div class=bar><h1>A line of boats</h1></div>", "Mooring | Marrowick"),
    ],
)
def test_a_heading_around_the_content_names_the_page_where_it_is_no_name_of_the_site(bar, title):
    found = read_page(
        "x.html", page(head="<title>Mooring | Marrowick</title>", wrap=f"{bar}<main><h2>How</h2>{{}}</main>")
    )
    assert found.facts["title"] == title


def test_of_contents_in_each_other_the_innermost_is_the_content():
    wrap = '<div><p>Menu of many words</p></div><div class="content"><p>Path</p><div class="content">{}</div></div>'
    assert read_page("x.html", page(wrap=wrap)).html == "<p>Text</p>"


def test_what_is_called_content_and_holds_the_whole_page_is_not_its_content():
    page = "<header><h1>Marrowick</h1></header><ul><li>Boats</ul><div class=text><h2>Fares</h2><p>{}</p></div>"
    whole = f"<body><div id=content>{page.format('A long line of words about it. ' * 40)}</div>"
    found = read_page("x.html", whole.encode())
    assert "Marrowick" not in found.html
    assert found.remark == "has no main element; the content is a guess"
    beside = read_page("x.html", f"{whole}<p>{'What stands around it. ' * 9}</p>".encode())
    assert not beside.remark, "what leaves something beside it is what it says"
