"""Pages in their own HTML: where selectors find their places, and what is spliced in."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.rendering.in_place.places import BadSelector, Marks, compiled, title_place
from navrel.rendering.in_place.previewing import css_in_preview, in_preview
from navrel.rendering.in_place.styles import in_place_stylesheet, with_beginnings
from navrel.rendering.in_place.tokens import AT, inside, is_one_element, marked, tags_of

NAMES = ("div", "p", "nav", "header", "ul", "li", "span", "section")


@st.composite
def trees(draw, depth=0):
    """A tree of elements as HTML with every tag written, and its elements by id with their own HTML."""
    name = draw(st.sampled_from(NAMES if depth else ("div", "section", "header")))
    key = f"e{draw(st.uuids()).hex[:10]}"
    quote = draw(st.sampled_from(("'", '"', "")))
    inner, known = "", {}
    for _ in range(draw(st.integers(0, 3 if depth < 3 else 0))):
        if draw(st.booleans()) or name in ("p", "ul", "span"):
            inner += draw(
                st.sampled_from(("Tern &amp; gull", "<br>", "<!-- <div id=x> -->", "<img alt='a>b' src=x>", ""))
            )
            continue
        html, more = draw(trees(depth + 1))
        if not re.match(r"<(?:li|p)\b", html):
            inner, known = inner + html, known | more
    html = f"<{name} id={quote}{key}{quote}>{inner}</{name}>"
    return html, {**known, key: html}


@given(trees())
def test_an_element_is_found_from_its_first_byte_to_its_last(tree):
    html, known = tree
    data = f"<!doctype html><html><head><title>x</title></head><body>{html}</body></html>".encode()
    marks = Marks(data, "utf-8")
    for key, written in known.items():
        place = marks.find("element", f"#{key}")
        assert place is not None and data[place.start : place.end].decode() == written
        inside = marks.find("start", f"#{key}"), marks.find("end", f"#{key}")
        assert data[inside[0].start : inside[1].start].decode() == written[written.index(">") + 1 : written.rindex("<")]
        assert marks.find("before", f"#{key}").end == place.start
        assert marks.find("after", f"#{key}").start == place.end


@given(st.text(alphabet="<>/!-'\"= abdivsript\n", max_size=80))
def test_whatever_is_read_is_marked_and_comes_back_as_it_was(text):
    data = text.encode()
    told = marked(data)
    assert re.sub(rb' %s="\d+"' % AT.encode(), b"", told) == data
    for tag in tags_of(data):
        assert data[tag.start : tag.start + 1] == b"<" and 0 <= tag.start < tag.end <= len(data)


@pytest.mark.parametrize(
    ("html", "selector", "found"),
    [
        ("<TABLE><TR><TD CLASS=left>a<TD>b</TABLE>", "td.left", "<TD CLASS=left>a"),
        ("<ul><li id=a>one<li id=b>two</ul>", "#a", "<li id=a>one"),
        ("<ul><li id=a>one<li id=b>two</ul>", "#b", "<li id=b>two"),
        ("<p id=a>open <b>bold<p>next", "#a", "<p id=a>open <b>bold"),
        ("<div id=a><script>'</div>'</script>x</div>y", "#a", "<div id=a><script>'</div>'</script>x</div>"),
        ("<div id=a><!-- </div> -->x</div>y", "#a", "<div id=a><!-- </div> -->x</div>"),
        ("<div title='a>b' id=a>x</div>y", "#a", "<div title='a>b' id=a>x</div>"),
        ("<div id=a><textarea><div></textarea></div>", "#a", "<div id=a><textarea><div></textarea></div>"),
        ("<img id=a src=x>y", "#a", "<img id=a src=x>"),
        ("<div id=a>never closed", "#a", "<div id=a>never closed"),
    ],
)
def test_ends_that_are_left_out_are_found(html, selector, found):
    data = f"<html><body>{html}".encode()
    place = Marks(data, "utf-8").find("element", selector)
    assert data[place.start : place.end].decode() == found


def test_a_place_that_is_the_whole_page_or_in_a_void_element_is_none():
    marks = Marks(b"<html><body class=x><br id=a></body></html>", "utf-8")
    assert marks.find("element", "body") is None and marks.find("element", "*").start == 20
    assert marks.find("start", "body").start == 20
    assert marks.find("start", "#a") is None and marks.find("before", "#a").start == 20


def test_a_byte_that_a_page_claims_itself_is_none_of_an_element():
    data = f'<body><p {AT}="0">x</p><textarea><b {AT}="6"></b></textarea>'.encode()
    assert Marks(data, "utf-8").find("element", "p").start == 6


@pytest.mark.parametrize(
    ("encoding", "word"),
    [("euc-kr", "설치"), ("shift_jis", "表示"), ("gb18030", "安装"), ("big5", "安裝"), ("koi8-r", "Причал"), ("cp1252", "“Øyer”"),
     ("utf-8", "安装"), ("cp949", "똠방각하")],
)  # fmt: skip
def test_places_are_found_in_files_of_any_encoding(encoding, word):
    data = f"<body><p>{word}</p><div title='{word}' id=foot>{word}</div></body>".encode(encoding)
    place = Marks(data, encoding).find("element", f"div[title='{word}']")
    assert data[place.start : place.end].decode(encoding) == f"<div title='{word}' id=foot>{word}</div>"


@pytest.mark.parametrize("selector", ["", ">", "div >", "a:nope", "p:nth-child(", "x" * 5000 + "["])
def test_what_is_no_selector_says_so(selector):
    with pytest.raises(BadSelector, match="no selector"):
        compiled(selector)


@pytest.mark.parametrize(
    ("html", "title"),
    [
        ("<html><head><title>Boats</title>", "Boats"),
        ("<title>a <b> c</title>", "a <b> c"),
        ("<body><svg><title>no</title>", None),
        ("<title>open", None),
    ],
)
def test_the_title_of_a_file_is_found(html, title):
    place = title_place(html.encode())
    assert (html[slice(*place)] if place else None) == title


@pytest.mark.parametrize(
    ("html", "content"),
    [
        ("<footer class='a>b'>By sea</footer>", "By sea"),
        ("<DIV><div>in</div>out</DIV >", "<div>in</div>out"),
        ("<td>open<br>", "open<br>"),
        ("<site-nav><a>Routes</a></site-nav>", "<a>Routes</a>"),
        ("<div><!-- </div> --></div>", "<!-- </div> -->"),
        ("<ul><li>one</ul>", "<ul><li>one</ul>"),
        ("<p>Boats</p>", "<p>Boats</p>"),
        ("<img src=a>", "<img src=a>"),
        ("Boats", "Boats"),
    ],
)
def test_what_may_be_added_to_an_element_stands_inside_of_one_that_holds_anything(html, content):
    data = f"<body><b>x</b>{html}<i>y</i>".encode()
    start = data.index(html.encode())
    begin, end = inside(data, start, start + len(html))
    assert data[begin:end].decode() == content


@pytest.mark.parametrize(
    ("html", "whole"),
    [
        ("<div><div>a</div><br><img></div>", True),
        ("<div>a</div><div>b</div>", False),
        ("<div>a</div> b", False),
        ("<div><div>a</div>", False),
        ("text", False),
    ],
)
def test_one_element_is_told_from_several(html, whole):
    assert is_one_element(html.encode()) is whole


def test_neither_the_project_s_styles_nor_the_page_s_reach_the_other():
    css = in_place_stylesheet().decode()
    assert css.startswith("@scope (.nv-place) to (.nv-markup>*>*){")
    assert not re.search(r"(?:^|\})\s*(?:html|body)\{", css) and ".nv-piece" in css
    assert not re.search(r"[^-\w](?<!nv-)\.(?:piece|menu|row|cell)\b", css)
    drawn = '<div class="piece piece-header mine"><p class="-site-menu other">'
    assert with_beginnings(drawn) == '<div class="nv-piece nv-piece-header mine"><p class="menu other">'


def test_what_a_page_brings_comes_from_the_files_of_the_draft_in_a_preview():
    def own(reference):
        return None if "//" in reference else f"/docs/{reference}" if not reference.startswith("/") else reference

    html = (
        '<base href="/x/"><link rel=stylesheet href="a.css"><img srcset="b.png 1x, /c.png 2x" src=d.png>'
        '<a href="e.html">e</a><a href="#f">f</a><script src="g.js"></script><meta http-equiv="refresh" content="9">'
        "<p style='background:url(h.png)'></p><style>p{background:url('/i.png')}</style>"
        '<img src="https://elsewhere.example/j.png"><link href="/-/place-1.css">'
    )
    told = in_preview(html, own, "/files")
    for wanted in (
        'href="/files/docs/a.css"', 'srcset="/files/docs/b.png 1x, /files/c.png 2x"', 'src="/files/docs/d.png"',
        'href="/docs/e.html"', 'href="#f"', 'data-src="g.js"', 'data-http-equiv="refresh"', 'data-href="/x/"',
        "url(/files/docs/h.png)", "url('/files/i.png')", 'src="https://elsewhere.example/j.png"', 'href="/-/place-1.css"',
    ):  # fmt: skip
        assert wanted in told, wanted
    css = css_in_preview("@import '/a.css';p{background:url(b.png),url(/c.png),url(//elsewhere/d.png)}", "/files")
    assert css == "@import '/files/a.css';p{background:url(b.png),url(/files/c.png),url(//elsewhere/d.png)}"
