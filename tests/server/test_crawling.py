"""Asking a site on loopback for all that it leads to: its ways to mislead, and those to break off."""

import gzip
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest

from navrel.server.api.errors import Refused
from navrel.server.inventory.crawling import Crawl
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder


def page(title, *links):
    led = "".join(f'<a href="{link}">there</a>' for link in links)
    return f"<!doctype html><title>{title}</title><body><main><h1>{title}</h1><p>Boats.</p>{led}</main>".encode()


class Told(BaseHTTPRequestHandler):
    """Answers by what the test wrote down: a body, or a status with headers and a body."""

    answers: dict = {}
    asked: list = []

    def do_GET(self):
        self.asked.append(self.path)
        answer = self.answers.get(self.path.partition("?")[0], (404, {}, b""))
        status, headers, body = answer if isinstance(answer, tuple) else (200, {}, answer)
        kind = "text/css" if self.path.endswith(".css") else "text/html"
        self.send_response(status)
        for name, value in {"Content-Type": kind, "Content-Length": str(len(body)), **headers}.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *told):
        """Tests are told of what matters alone."""


class Serving:
    """Sites on loopback, each answering by a table: called with one, it tells its address. ``asked``: of the newest."""

    def __init__(self):
        self.servers: list[ThreadingHTTPServer] = []
        self.asked: list[str] = []

    def __call__(self, answers):
        self.asked = []
        handler = type("Handler", (Told,), {"answers": answers, "asked": self.asked})
        server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
        self.servers.append(server)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        return f"http://127.0.0.1:{server.server_port}"


@pytest.fixture
def served():
    serving = Serving()
    yield serving
    for server in serving.servers:
        server.shutdown()
        server.server_close()


def crawled(origin, **more):
    return dict(Crawl(origin, pause=0, **more).files())


@pytest.mark.django_db
def test_a_site_is_walked_from_its_start_and_its_sitemaps(served):
    index = b"<sitemapindex><sitemap><loc>ORIGIN/more.xml.gz</loc></sitemap></sitemapindex>"
    answers = {
        "/": page(
            "Start", "routes/", "/boat.png?v=3", "https://elsewhere.example/", "mailto:x@y.example", "#top", "?page=2"
        ),
        "/routes/": page("Routes", "../routes/#there", "north", "/old"),
        "/routes/north": page("North", "/", "/private/x", "https://127.0.0.1:1/"),
        "/old": (301, {"Location": "/routes/"}, b""),
        "/hidden": page("Only in the sitemap"),
        "/private/x": page("Private"),
        "/site.css": b"@import 'more.css'; p{background:url(wave.svg?1)}",
        "/boat.png": (200, {"Content-Type": "image/png"}, b"\x89PNG"),
        "/wave.svg": (200, {"Content-Type": "image/svg+xml"}, b"<svg/>"),
        "/more.css": b"",
        "/robots.txt": b"User-agent: *\nDisallow: /private/",
    }
    origin = served(answers)
    answers["/"] += b'<link rel=stylesheet href="site.css?v=2"><img srcset="boat.png 1x, boat.png 2x">'
    answers["/sitemap.xml"] = index.replace(b"ORIGIN", origin.encode())
    answers["/more.xml.gz"] = gzip.compress(f"<urlset><url><loc>{origin}/hidden</loc></url></urlset>".encode())
    found = crawled(origin)
    assert {name for name, data in found.items() if isinstance(data, bytes)} == {
        "index.html", "routes/index.html", "routes/north", "old", "hidden", "site.css", "more.css", "boat.png", "wave.svg",
    }  # fmt: skip
    assert str(found["private/x"]) == "robots.txt asks that it is not read"
    assert "/private/x" not in served.asked and len(set(served.asked)) == len(served.asked)
    site = make_empty_site("skerry", "Skerry", origin)
    report = take_in_folder("skerry", origin)
    assert (report["pages"], report["assets"]) == (4, 4)
    assert site.aliases.get(address="/old").target == "/routes/"


def test_a_site_that_never_ends_is_asked_so_far_and_says_so(served):
    answers = {f"/{number}": page(f"Page {number}", f"/{number + 1}") for number in range(100)}
    found = crawled(served({**answers, "/": page("Start", "/0")}), most=12)
    assert sum(isinstance(data, bytes) for data in found.values()) == 12
    assert str(found["all others"]) == "1 more addresses were not asked; 12 is the most"


def test_a_ring_of_redirects_ends_and_what_breaks_off_is_named(served):
    answers = {
        "/": page("Start", "/a", "/short", "/bad", "/error"),
        "/a": (302, {"Location": "/b"}, b""),
        "/b": (302, {"Location": "/a"}, b""),
        "/short": (200, {"Content-Length": "9999"}, b"short"),
        "/bad": (200, {"Content-Encoding": "gzip"}, b"no gzip"),
        "/error": (500, {}, b""),
    }
    found = crawled(served(answers))
    assert {"a", "b"} <= found.keys() and served.asked.count("/a") == 1
    assert {name: isinstance(found[name], Unreadable) for name in ("short", "bad", "error")} == {
        "short": True, "bad": True, "error": True,
    }  # fmt: skip
    assert str(found["error"]) == "was answered with 500"


def test_a_site_that_forbids_itself_is_left_alone(served):
    found = crawled(served({"/": page("Start"), "/robots.txt": (503, {}, b"")}))
    assert [str(one) for one in found.values()] == ["robots.txt asks that it is not read"]


@pytest.mark.parametrize("address", ["ftp://skerry.example/", "http://", "http://a:b@skerry.example/", "skerry"])
def test_what_is_no_address_of_a_site_is_refused(address):
    with pytest.raises(Refused):
        Crawl(address)


def test_a_site_where_nobody_answers_is_refused(served):
    with pytest.raises(Refused, match="does not answer"):
        crawled("http://127.0.0.1:9")
