"""What pages do not say themselves, out of the feeds of their site."""

import pytest

from navrel.server.inventory.filling_in import MAX_FEED
from navrel.server.inventory.rereading import read_anew
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.sitestate.locking import lock_site

pytestmark = pytest.mark.django_db

PAGE = "<!doctype html><title>{0}</title>{1}<body><main><h1>{0}</h1><p>Boats to the skerries.</p></main>"
ATOM = """<?xml version="1.0"?><feed xmlns="http://www.w3.org/2005/Atom"><title>Skerry</title>
<entry><title>Tides</title><link href="/tides.html"/><author><name>Sigrun Vale</name></author>
<published>2026-03-01T10:00:00Z</published><category term="sea" label="The sea"/><category term="Boats"/></entry>
<entry><title>Fares</title><link href="https://skerry.example/fares"/><author><name>Sigrun Vale</name></author>
<updated>2026-03-02T10:00:00Z</updated></entry>
<entry><title>Elsewhere</title><link href="https://elsewhere.example/tides.html"/><author><name>Nobody</name></author></entry>
</feed>"""
RSS = """<rss version="2.0"><channel><title>Skerry</title><item><title>Crew</title><link>https://skerry.example/crew.html</link>
<author>Tove Marr</author><pubDate>Tue, 03 Mar 2026 08:00:00 GMT</pubDate><category>Crew</category></item>
<item><title>Tides</title><link>https://skerry.example/tides.html</link><author>Somebody else</author></item></channel></rss>"""


@pytest.fixture
def skerry():
    return make_empty_site("skerry", "Skerry", "https://skerry.example")


def taken(folder, **feeds):
    own = '<meta name="author" content="Ove Strand"><meta property="article:tag" content="Money">'
    for name, head in {"index": "", "tides": "", "fares": own, "crew": ""}.items():
        (folder / f"{name}.html").write_text(PAGE.format(name.title(), head))
    for name, text in feeds.items():
        (folder / name.replace("_", ".")).write_text(text)
    return take_in_folder("skerry", folder)


def facts(site, path):
    page = site.pages.get(path=path)
    return page.author, str(page.published or ""), page.terms


def test_what_pages_do_not_say_their_feeds_do(skerry, tmp_path):
    taken(tmp_path, feed_atom=ATOM, news_xml=RSS)
    assert facts(skerry, "/tides") == ("sigrun-vale", "2026-03-01", ["topic/the-sea", "topic/boats"])
    assert facts(skerry, "/crew") == ("tove-marr", "2026-03-03", ["topic/crew"])
    assert skerry.taxonomies.get(slug="topic").terms.get(slug="the-sea").name == "The sea"


def test_what_a_page_says_itself_stands(skerry, tmp_path):
    taken(tmp_path, feed_atom=ATOM)
    author, day, terms = facts(skerry, "/fares")
    assert (author, day) == ("ove-strand", "2026-03-02") and "topic/money" in terms
    assert facts(skerry, "/") == ("", "", [])


def test_reading_facts_anew_fills_in_as_well(skerry, tmp_path):
    taken(tmp_path, feed_atom=ATOM)
    always = [{"fact": "author", "places": [{"at": "fixed", "of": "The crew"}]}]
    read_anew(lock_site("skerry"), always)
    assert facts(skerry, "/tides") == ("the-crew", "2026-03-01", ["topic/the-sea", "topic/boats"])
    read_anew(lock_site("skerry"), [])
    assert facts(skerry, "/tides")[0] == "sigrun-vale"


@pytest.mark.parametrize("text", [
    '<?xml version="1.0"?><!DOCTYPE feed [<!ENTITY a "x">]><feed><entry><link href="/tides.html"/></entry></feed>',
    ATOM[:300], f"{ATOM}{' ' * MAX_FEED}", "<feed", "<rss><channel><item><link>http://[/</link></item></channel></rss>",
    ATOM.replace("2026-03-01", "9999999-99-99").replace("Sigrun Vale", "S" * 5000).replace('term="sea"', 'term=""'),
], ids=["entity", "cut-short", "too-large", "unclosed", "bad-link", "long-facts"])  # fmt: skip
def test_a_feed_that_is_none_does_no_harm(skerry, tmp_path, text):
    report = taken(tmp_path, feed_atom=text)
    assert report["pages"] == 4 and report["assets"] == 1
    assert len(facts(skerry, "/tides")[0]) <= 200
