"""Asking a site on loopback for all that it leads to: its ways to mislead, and those to break off."""

import gzip
import threading
from concurrent.futures import ThreadPoolExecutor
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import psycopg
import pytest
from django.db import connection

from navrel.cli.site import intake as intake_command
from navrel.server.api.errors import Refused
from navrel.server.inventory import asking, crawling
from navrel.server.inventory.models import Intake, Visit
from navrel.server.inventory.services import make_empty_site, start_intake
from navrel.server.inventory.sources import take_in_address

pytestmark = pytest.mark.django_db


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
        if "ETag" in headers and self.headers.get("If-None-Match") == headers["ETag"]:
            status, body = 304, b""
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


@pytest.fixture(autouse=True)
def at_once(monkeypatch):
    monkeypatch.setattr(crawling, "PAUSE", 0)


@pytest.fixture
def skerry():
    return make_empty_site("skerry", "Skerry")


def open_intakes():
    return Intake.objects.filter(finished=None)


def begun(origin):
    intake = start_intake("skerry", None)
    crawling.begin_crawl(intake, origin, inner=True)
    return intake


def crawled(origin):
    """What a crawl read, by file: the reason why one was skipped, empty for what was read."""
    intake = begun(origin)
    while crawling.crawl_of(intake).waiting:
        crawling.crawl_on(intake)
    read = dict(intake.staged.values_list("file", "skipped"))
    return {**read, **dict.fromkeys((one[1:] for one in intake.staged_assets.values_list("address", flat=True)), "")}


def test_a_site_is_walked_from_its_start_and_its_sitemaps(served, skerry):
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
    assert {name for name, skipped in found.items() if not skipped} == {
        "index.html", "routes/index.html", "routes/north", "old", "hidden", "site.css", "more.css", "boat.png", "wave.svg",
    }  # fmt: skip
    assert found["private/x"] == "robots.txt asks that it is not read"
    assert "/private/x" not in served.asked and len(set(served.asked)) == len(served.asked)
    report = take_in_address("skerry", origin)
    assert (report["pages"], report["assets"]) == (4, 4)
    assert skerry.aliases.get(address="/old").target == "/routes/"


def test_other_names_of_a_site_are_the_site_and_a_page_that_is_there_alone_is_named(served, skerry):
    answers = {}
    origin = served(answers)
    other, by_tls = origin.replace("//", "//www."), origin.replace("http:", "https:")
    answers["/"] = page("Start", f"{other}/routes/", f"{by_tls}/fares/", f"{origin}1/x", "http://www.www.example/y")
    answers["/routes/"] = page("Routes", f"{other}/fares/#bikes", f"{other}/there")
    answers["/fares/"] = page("Fares", f"{by_tls}/")
    answers["/there"] = (301, {"Location": f"{other}/there"}, b"")
    answers["/sitemap.xml"] = f"<urlset><url><loc>{other}/hidden</loc></url></urlset>".encode()
    answers["/hidden"] = page("Only in the sitemap")
    report = take_in_address("skerry", origin)
    assert sorted(served.asked) == ["/", "/fares/", "/hidden", "/robots.txt", "/routes/", "/sitemap.xml", "/there"]
    assert report["pages"] == 4
    assert not skerry.aliases.filter(address="/there").exists()
    assert "/there" in str(report["skipped"])
    content = skerry.pages.get(path="/routes").content.html
    assert 'href="/fares/#bikes"' in content and "www." not in content


def test_a_site_that_never_ends_is_asked_so_far_and_says_so(served, skerry, monkeypatch):
    monkeypatch.setattr(crawling, "MOST_ADDRESSES", 12)
    answers = {f"/{number}": page(f"Page {number}", f"/{number + 1}") for number in range(100)}
    found = crawled(served({**answers, "/": page("Start", "/0")}))
    assert sum(not skipped for skipped in found.values()) == 12
    assert found["all others"] == "1 more addresses were not asked; 12 is the most"


def test_sitemaps_without_end_are_left_and_that_is_told(served, skerry, monkeypatch):
    monkeypatch.setattr(asking, "_MOST_SITEMAPS", 3)
    answers = {"/": page("Start"), "/robots.txt": b"Sitemap: /0.xml"}
    origin = served(answers)
    for number in range(9):
        answers[f"/{number}.xml"] = f"<sitemapindex><loc>{origin}/{number + 1}.xml</loc></sitemapindex>".encode()
    found = crawled(origin)
    assert found == {"index.html": "", "other sitemaps": "left unread: they are too many, or take too long"}
    assert "/1.xml" in served.asked and "/2.xml" not in served.asked


def test_a_ring_of_redirects_ends_and_what_breaks_off_is_named(served, skerry):
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
    assert found["short"].startswith("no whole answer") and found["bad"].startswith("no whole answer")
    assert found["error"] == "was answered with 500"
    assert served.asked.count("/short") == crawling.MAX_TRIES


def test_a_site_that_forbids_itself_is_left_alone(served, skerry):
    found = crawled(served({"/": page("Start"), "/robots.txt": (503, {}, b"")}))
    assert list(found.values()) == ["robots.txt asks that it is not read"]


@pytest.mark.parametrize("address", ["ftp://skerry.example/", "http://", "http://a:b@skerry.example/", "skerry"])
def test_what_is_no_address_of_a_site_is_refused(address, skerry):
    with pytest.raises(Refused):
        begun(address)


def test_a_site_where_nobody_answers_is_refused_and_nothing_is_left(skerry):
    with pytest.raises(Refused, match="does not answer"):
        crawled("http://127.0.0.1:9")
    assert not open_intakes().exists()


def test_a_site_that_has_moved_tells_where(served, skerry):
    elsewhere = served({"/": page("Here now")})
    with pytest.raises(Refused) as refused:
        crawled(served({"/": (301, {"Location": f"{elsewhere}/"}, b"")}))
    assert refused.value.detail == f"Take that address in, if it is the site: {elsewhere}/"


def test_a_start_that_leads_on_within_its_site_is_one(served, skerry):
    origin = served({"/": (302, {"Location": "/en/?from=start"}, b""), "/en/": page("Start", "http://LOCALHOST/")})
    host = origin.removeprefix("http://")
    assert list(crawled(origin)) == ["index.html"]
    answers = {"/": (302, {"Location": "/en/"}, b""), "/en/": page("Start", f"http://{host}/one", f"//{host}/one#x")}
    assert sorted(crawled(served(answers))) == ["en/index.html", "index.html"]


def test_an_answer_that_trickles_has_an_end(served, skerry, monkeypatch):
    monkeypatch.setattr(asking, "MAX_SECONDS", -1)
    found = crawled(served({"/": page("Start"), "/robots.txt": (404, {}, b"")}))
    assert found == {"index.html": "no whole answer: TimeoutError"}


def test_a_crawl_goes_on_where_it_stopped(served, skerry, monkeypatch):
    monkeypatch.setattr(crawling, "MOST_FAILURES", 2)
    numbers = range(1, 6)
    answers = {"/": page("Start", *(f"/{number}" for number in numbers)), "/1": page("Page 1")}
    broken = {f"/{number}": (200, {"Content-Length": "9999"}, b"short") for number in numbers if number > 1}
    origin = served({**answers, **broken})
    with pytest.raises(Refused, match="does not answer"):
        take_in_address("skerry", origin)
    assert open_intakes().get().staged.count() == 2 and not skerry.pages.exists()
    # The site stands again, elsewhere on this machine.
    answers |= {f"/{number}": page(f"Page {number}") for number in numbers}
    again = served(answers)
    intake = open_intakes().get()
    intake.source = f"{again}/"
    intake.save()
    report = take_in_address("skerry", again)
    assert report["pages"] == 6 and report["skipped_count"] == 0
    assert "/" not in served.asked and "/1" not in served.asked


def test_the_command_line_says_that_it_goes_on_and_does(served, skerry, monkeypatch, capsys):
    monkeypatch.setattr(crawling, "MOST_FAILURES", 0)
    answers = {"/": page("Start", "/one"), "/one": (200, {"Content-Length": "9999"}, b"short")}
    origin = served(answers)
    asked = {"source": origin, "site": "skerry", "look": False, "anew": False, "as_json": False}
    with pytest.raises(SystemExit):
        intake_command(**asked)
    assert "the same command goes on from there" in capsys.readouterr().err
    answers["/one"] = page("One")
    intake_command(**asked)
    assert capsys.readouterr().out.startswith("2 pages: 2 added")
    with pytest.raises(SystemExit):
        intake_command(**{**asked, "source": "http://127.0.0.1:9"})
    assert "goes on" not in capsys.readouterr().err


def test_a_site_that_lets_nothing_be_read_says_so_and_is_asked_anew(served, skerry):
    answers = {"/": page("Start"), "/robots.txt": (503, {}, b"")}
    origin = served(answers)
    with pytest.raises(Refused) as refused:
        take_in_address("skerry", origin)
    assert refused.value.detail == "index.html: robots.txt asks that it is not read"
    answers["/robots.txt"] = (404, {}, b"")
    assert take_in_address("skerry", origin)["pages"] == 1


def test_a_crawl_that_is_begun_anew_asks_everything(served, skerry):
    origin = served({"/": page("Start", "/one"), "/one": page("One")})
    crawling.crawl_on(begun(origin), seconds=-1)
    take_in_address("skerry", origin, anew=True)
    assert served.asked.count("/") == 2 and not open_intakes().exists()


def test_what_has_not_changed_is_not_sent_again(served, skerry):
    answers = {
        "/": (200, {"ETag": '"1"'}, page("Start", "/one", "/boat.svg")),
        "/one": (200, {"ETag": '"1"'}, page("One")),
        "/boat.svg": (200, {"ETag": '"1"', "Content-Type": "image/svg+xml"}, b"<svg/>"),
    }
    origin = served(answers)
    assert take_in_address("skerry", origin)["same"] == 0
    answers["/one"] = (200, {"ETag": '"2"'}, page("One, as it is now"))
    report = take_in_address("skerry", origin)
    assert (report["same"], report["pages"], report["assets"], report["gone"]) == (2, 2, 1, 0)
    assert skerry.pages.get(path="/one").title == "One, as it is now"
    assert Visit.objects.count() == 3  # Those of the first time are forgotten.


@pytest.mark.django_db(transaction=True)
def test_one_crawl_of_a_site_goes_on_at_a_time(served, skerry):
    intake = begun(served({"/": page("Start")}))
    with psycopg.connect(**connection.get_connection_params() | {"cursor_factory": psycopg.Cursor}) as another:
        another.execute("SELECT id FROM inventory_intake WHERE id = %s FOR UPDATE", [intake.pk])
        with pytest.raises(Refused, match="is being asked just now"):
            crawling.crawl_on(intake, patience=0.05)
        with ThreadPoolExecutor(1) as pool:
            letting_go = pool.submit(let_go_when_waited_for, another)
            # Whoever stopped a crawl and goes on at once comes while the last turn is on.
            assert crawling.crawl_on(intake).asked == 1
            assert letting_go.result()


def let_go_when_waited_for(holding):
    """Give up what a connection holds as soon as another waits for it. Whether one did."""
    waits = "SELECT EXISTS (SELECT 1 FROM pg_locks WHERE NOT granted AND pg_backend_pid() = ANY(pg_blocking_pids(pid)))"
    is_waited_for = any(holding.execute(waits).fetchone()[0] for _ in range(20_000))
    holding.rollback()
    return is_waited_for


def test_through_the_api_only_the_open_web_is_asked(api, served, settings):
    origin = served({"/": page("Start", "/one"), "/one": page("One")})
    refused = api.post("intakes", {"source": origin})
    assert refused.status_code == 422 and "usual ports" in refused.json()["title"] and not open_intakes().exists()
    settings.INNER_HOSTS = [origin.removeprefix("http://")]
    begun = api.post("intakes", {"source": origin}).json()
    assert (begun["asked"], begun["waiting"]) == (0, 1)
    assert api.get("intakes/unfinished").json() == [begun]
    while api.post(f"intakes/{begun['id']}/asked").json()["waiting"]:
        pass
    assert api.get(f"intakes/{begun['id']}").json()["files"] == 2
    assert api.post(f"intakes/{begun['id']}/finish").json()["pages"] == 2
    assert api.get("intakes/unfinished").json() == []
    files = api.post("intakes").json()
    assert api.post(f"intakes/{files['id']}/asked").json()["code"] == "no-address"
