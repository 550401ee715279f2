"""Checks of what the pages say in their own content."""

import pytest

from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.content import ContentFacts
from navrel.core.pages.page import Page
from navrel.core.questions.checks import check
from navrel.rendering.outline import MOST, content_facts
from navrel.rendering.sanitising import sanitise
from navrel.wording.findings import finding_words

PATHS = ("/", "/routes", "/routes/north", "/help", "/help/wind")


def told(kind, answered=(), **written):
    """The findings of one kind, where pages have these contents: by path with underscores for slashes.

    ``answered``: the addresses at which something else is.
    """
    document = SiteDocument(
        "Ferries", "ferries", pages=tuple(Page(path, path.rpartition("/")[2] or "Home") for path in PATHS)
    )
    contents = {"/" + path.strip("_").replace("_", "/"): content_facts(html) for path, html in written.items()}
    found = check(document, PageIndex(document.tree), written=contents, answered={*answered}.intersection)
    return [one for one in found if one.check == kind]


def test_links_that_lead_nowhere_are_told_by_where_they_lead_with_the_pages_that_have_them():
    gone = '<p><a href="/gone#top">a</a><a href="/gone?x=1">b</a><a href="/routes/">c</a></p>'
    first, second = told("page-link", help=gone, help_wind=gone + '<a href="/lost">d</a>')
    assert (first.subject, first.page_count, [page.path for page in first.pages]) == (
        "/gone",
        2,
        ["/help", "/help/wind"],
    )
    assert (second.subject, second.page_count) == ("/lost", 1)
    assert finding_words(first).what == "2 pages lead to /gone, where there is no page"
    assert finding_words(second).what == "1 page leads to /lost, where there is no page"


@pytest.mark.parametrize(
    "href", ["/", "/routes", "/routes/north/#boats", "#here", "north", "?page=2", "//else.example/x", "https://else.example/x",
             "mailto:desk@marrowick.example", "/files/timetable.pdf", "/-/files/abc/boat.webp", ""],
)  # fmt: skip
def test_what_leads_to_a_page_a_file_or_elsewhere_is_no_finding(href):
    assert told("page-link", help=f'<a href="{href}">x</a>') == []


def test_what_leads_to_where_something_else_is_is_no_finding():
    links = '<a href="/plan.html">x</a><a href="/old/#top">x</a><a href="/gone">x</a>'
    (found,) = told("page-link", answered=["/plan.html", "/old"], help=links)
    assert found.subject == "/gone"


def test_of_very_many_addresses_that_lead_nowhere_some_are_told_and_the_rest_counted():
    found = told("page-link", help="".join(f'<a href="/gone-{number}">x</a>' for number in range(80)))
    assert len(found) == 51
    assert found[-1].about["more"] == 29
    assert "and 29 more" in finding_words(found[-1]).what


def test_pictures_without_words():
    named = '<img src="a.png" alt=""><img src="b.png" alt="A boat"><img src="c.png" role="presentation">'
    (found,) = told("no-alt", help=named, routes=named + '<img src="d.png">')
    assert [page.path for page in found.pages] == ["/routes"]


@pytest.mark.parametrize(
    ("html", "skips"),
    [
        ("<h2>a</h2><h3>b</h3><h2>c</h2>", False),
        ("<h2>a</h2><h4>b</h4>", True),
        ("<h3>a</h3>", False),
        ("<h1>a</h1><h2>b</h2><h4>c</h4>", True),
    ],
)
def test_headings_that_skip_a_level(html, skips):
    assert bool(told("heading-order", help=html)) is skips


def test_ids_that_stand_twice():
    assert told("id-twice", help='<p id="a"></p><p id="b"></p>') == []
    (found,) = told("id-twice", help='<p id="a"></p><section><p id="a"></p></section>', routes="<p>x</p>")
    assert found.page_count == 1


@pytest.mark.parametrize(
    ("html", "facts"),
    [
        ('<IMG SRC=a.png ALT="a > b" ID=x><p id="x">', ContentFacts(twice=("x",))),
        ("<a class=y href='/a&amp;b'>x</a>", ContentFacts(links=("/a&b",))),
        ('<p>Write &lt;h2 id="a"&gt; and id="a" again, or &lt;img&gt;.</p>', ContentFacts()),
        ('<h2 id="a">x</h2><pre>&lt;p id="a"&gt;</pre>', ContentFacts(headings=(2,))),
    ],
)
def test_what_is_read_is_what_stands_in_the_page_however_it_was_written(html, facts):
    assert content_facts(sanitise(html)) == facts


def test_without_contents_nothing_is_told_of_them():
    assert {one.check for one in told("page-link")} == set()


@pytest.mark.parametrize("html", ["", " ", "plain words", "<!-- only this -->", "<p>unclosed <b>a", "<" * 5000])
def test_whatever_stands_there_can_be_read(html):
    assert content_facts(html) == ContentFacts()


def test_what_is_kept_of_one_content_is_bounded():
    facts = content_facts("".join(f'<h2 id="x"><a href="/{number}">x</a></h2>' for number in range(2 * MOST)))
    assert (len(facts.links), len(facts.headings), facts.twice) == (MOST, MOST, ("x",))
