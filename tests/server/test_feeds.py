"""Feeds of other services: fetched carefully from a server on loopback, shown safely, kept where fetching fails."""

import threading
from datetime import date
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest

from navrel.server.library import feeds, fetching, refreshing
from navrel.server.library.fetching import BadFeed, fetch
from navrel.server.library.models import Feed

ATOM = """<?xml version="1.0"?><feed xmlns="http://www.w3.org/2005/Atom"><title>Tides</title>
<entry><title>High &lt;b&gt;water&lt;/b&gt; at noon</title><link href="https://tides.example/1"/><updated>2026-03-01T10:00:00Z</updated></entry>
<entry><title type="html">&lt;script&gt;alert(1)&lt;/script&gt;Low &amp;amp; calm</title><link href="javascript:alert(1)"/></entry>
</feed>"""
RSS = """<rss version="2.0"><channel><title>Wind</title><item><title>A breeze</title><link>https://wind.example/a</link>
<pubDate>Tue, 03 Mar 2026 08:00:00 GMT</pubDate></item></channel></rss>"""


class Service(BaseHTTPRequestHandler):
    """A service whose answers a test writes: by path, a status, headers and a body."""

    answers: dict[str, tuple[int, dict[str, str], bytes]] = {}
    asked: list[dict[str, str]] = []

    def do_GET(self):
        self.asked.append(dict(self.headers))
        status, headers, body = self.answers.get(self.path, (404, {}, b""))
        if headers.get("ETag") and self.headers.get("If-None-Match") == headers["ETag"]:
            status, body = 304, b""
        self.send_response(status)
        for name, value in headers.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *told):
        """Nothing is printed."""


@pytest.fixture
def service(settings):
    server = ThreadingHTTPServer(("127.0.0.1", 0), Service)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    Service.answers, Service.asked = {}, []
    host = f"127.0.0.1:{server.server_port}"
    settings.INNER_HOSTS = [host]
    yield lambda path, status=200, body="", **headers: (
        Service.answers.__setitem__(
            path, (status, {k.replace("_", "-"): v for k, v in headers.items()}, body.encode())
        ),
        f"http://{host}{path}",
    )[1]
    server.shutdown()
    server.server_close()


def test_atom_and_rss_are_read_as_plain_titles_safe_links_and_dates(service):
    found = fetch(service("/atom", body=ATOM))
    assert [(one.title, one.link, one.date) for one in found.entries] == [
        ("High water at noon", "https://tides.example/1", date(2026, 3, 1)),
        ("Low & calm", "", None),
    ]
    assert found.title == "Tides"
    (entry,) = fetch(service("/rss", body=RSS)).entries
    assert (entry.title, entry.date) == ("A breeze", date(2026, 3, 3))


def test_redirects_are_followed_within_bounds(service):
    service("/atom", body=ATOM)
    assert len(fetch(service("/a", 302, Location="/atom")).entries) == 2
    with pytest.raises(BadFeed, match="leads on and on"):
        fetch(service("/loop", 302, Location="/loop"))
    with pytest.raises(BadFeed, match="network of its own"):
        fetch(service("/inside", 302, Location="http://127.0.0.2/x"))
    with pytest.raises(BadFeed, match="begins with"):
        fetch(service("/file", 302, Location="file:///etc/passwd"))


@pytest.mark.parametrize(("url", "why"), [
    ("http://127.0.0.1/a", "network of its own"), ("http://localhost/a", "network of its own"), ("http://10.0.0.1/", "network of its own"),
    ("http://169.254.169.254/latest/meta-data", "network of its own"), ("http://[::1]/", "network of its own"), ("http://192.168.1.1/", "network"),
    ("http://0.0.0.0/", "network of its own"), ("http://[::ffff:127.0.0.1]/", "network of its own"), ("http://2130706433/", "network of its own"),
    ("ftp://a.example/", "begins with"), ("file:///etc/passwd", "begins with"), ("http://a:b@a.example/", "a name and a password"),
    ("http://a.example:22/", "usual ports"), ("http://nowhere.invalid/", "there is no"), ("http://a.example:99999/", "no address"), ("//a.example", "begins"),
    ("http://" + "a" * 2001, "too long"), ("", "begins with"),
])  # fmt: skip
def test_only_the_open_web_is_asked(url, why):
    with pytest.raises(BadFeed, match=why):
        fetch(url)


@pytest.mark.parametrize(("body", "why"), [
    ("<html><p>no feed</p></html>", "neither"), ("", "neither"), ("x" * (fetching.MAX_BYTES + 1), "more than 1 MiB"),
    ('<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>' + ATOM, "entities"),
])  # fmt: skip
def test_what_is_no_feed_is_refused(service, body, why):
    with pytest.raises(BadFeed, match=why):
        fetch(service("/x", body=body))


def test_an_answer_that_is_none_is_told(service):
    with pytest.raises(BadFeed, match="answers 500"):
        fetch(service("/x", 500))


@pytest.mark.django_db
def test_what_was_fetched_is_kept_where_fetching_fails_and_not_sent_again_where_nothing_is_new(service):
    url = service("/atom", body=ATOM, ETag='"one"')
    first = refreshing.refresh(url)
    assert (len(first.entries), first.problem) == (2, "")
    assert refreshing.refresh(url).problem == "" and Service.asked[-1]["If-None-Match"] == '"one"'
    service("/atom", 500)
    failed = refreshing.refresh(url)
    assert len(failed.entries) == 2
    assert failed.fetched and failed.tried and failed.fetched < failed.tried
    assert failed.problem == "127.0.0.1 answers 500"
    assert [one.title for one in feeds.entries_of(url)] == ["High water at noon", "Low & calm"]


@pytest.mark.django_db
def test_feeds_that_are_due_are_fetched_and_those_that_nothing_shows_forgotten(service):
    shown = service("/atom", body=ATOM)
    Feed.objects.create(url="https://gone.example/")
    contents = [{"items": [{"type": "feed", "url": shown}, {"type": "feed"}, {"type": "text", "url": "x"}]}]
    assert [one.url for one in refreshing.refresh_due(feeds.feeds_in(contents))] == [shown]
    assert refreshing.refresh_due(feeds.feeds_in(contents)) == []
    assert list(Feed.objects.values_list("url", flat=True)) == [shown]


def test_a_feed_is_fetched_from_the_editor_and_shown_on_pages(api, service):
    url = service("/atom", body=ATOM)
    told = api.client.post("/api/feeds", {"url": url}, content_type="application/json").json()
    assert (told["title"], told["entries"], told["problem"]) == ("Tides", 2, "")
    piece = api.get("pieces/call-us").json()
    tree = {key: piece[key] for key in ("name", "kind", "note", "slots", "entries")}
    item = {"type": "feed", "heading": "Tides", "url": url, "count": 5}
    assert api.put("pieces/call-us", {**tree, "content": {"items": [item]}}, piece["version"]).status_code == 200
    html = api.get("preview", path="/help/wind").json()["html"]
    assert '<a href="https://tides.example/1" rel="noopener">High water at noon</a>' in html
    assert "Low &amp; calm" in html and "javascript" not in html and "alert" not in html
    refused = api.client.post("/api/feeds", {"url": "file:///etc/passwd"}, content_type="application/json")
    assert refused.status_code == 422
