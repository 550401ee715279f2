"""Drawing in place over applications: what changes, what does not by one byte, and what is said of it to caches."""

import asyncio
import gzip
import json
import re
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import pytest

import navrel
from navrel.asgi import InPlace as OverAsgi
from navrel.core.files.writing import write_rule
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Visitor
from navrel.core.layout.binding import Seat
from navrel.core.layout.condition import Condition
from navrel.core.layout.model import Action, Rule
from navrel.redraw import LARGEST, Redrawing
from navrel.rendering.in_place.drawing import Original
from navrel.rendering.in_place.places import BadSelector
from navrel.wsgi import InPlace as OverWsgi

DEMO = json.loads((Path(__file__).parents[2] / "demo" / "layout.json").read_text())
PLACES = {"header": "body > header"}
BEFORE, OWN, AFTER = (
    b"<!doctype html><title>Shop</title><body>\n",
    b"<header>Own &amp; </header>",
    b"<main>Pay &euro;</main>",
)
PAGE = BEFORE + OWN + AFTER
HTML = [("Content-Type", "text/html; charset=utf-8")]
PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1"


@pytest.fixture(scope="module")
def site() -> navrel.Site:
    picture = {"name": "boat.png", "type": "image/png", "digest": "5" * 64, "width": 2, "height": 2}
    return navrel.load({**DEMO, "files": [picture]})


@pytest.fixture(scope="module", params=["wsgi", "asgi"])
def ask(request, site):
    """Ask an application over which it is drawn, of either kind: the status, the headers and the body."""

    def write(part):
        raise AssertionError(part)

    def over_wsgi(parts, status, headers, path, method, sent, **more):
        def application(environ, start_response):
            asked.append({name: value for name, value in environ.items() if name.startswith("HTTP_")})
            start_response(f"{status} Told", headers)
            return iter(parts)

        asked, told = [], {}
        environ = {
            "REQUEST_METHOD": method,
            "PATH_INFO": path.partition("?")[0],
            "QUERY_STRING": path.partition("?")[2],
        }
        environ |= {f"HTTP_{name.upper().replace('-', '_')}": value for name, value in sent.items()}
        answer = OverWsgi(application, site, **more)(
            environ, lambda *stated: told.update(status=stated[0], headers=stated[1]) or write
        )
        body = b"".join(answer)
        return int(told["status"][:3]), dict(told["headers"]), body, asked

    def over_asgi(parts, status, headers, path, method, sent, **more):
        async def application(scope, receive, send):
            asked.append(
                {f"HTTP_{name.decode().upper().replace('-', '_')}": value.decode() for name, value in scope["headers"]}
            )
            stated = [(name.encode(), value.encode()) for name, value in headers]
            await send({"type": "http.response.start", "status": status, "headers": stated})
            for number, part in enumerate(parts, 1):
                await send({"type": "http.response.body", "body": part, "more_body": number < len(parts)})

        async def send(message):
            messages.append(message)

        async def receive():
            raise AssertionError("nothing is sent to it")

        asked, messages = [], []
        scope = {
            "type": "http", "method": method, "path": path.partition("?")[0], "query_string": path.partition("?")[2].encode(),
            "headers": [(name.lower().encode(), value.encode()) for name, value in sent.items()],
        }  # fmt: skip
        # In a thread of its own: a browser that another test left open runs a loop in this one.
        with ThreadPoolExecutor(1) as aside:
            aside.submit(asyncio.run, OverAsgi(application, site, **more)(scope, receive, send)).result()
        begun, *rest = messages
        told = {name.decode().title(): value.decode() for name, value in begun["headers"]}
        assert [one.get("more_body", False) for one in rest][-1] is False
        return begun["status"], told, b"".join(one["body"] for one in rest), asked

    over = over_wsgi if request.param == "wsgi" else over_asgi

    def asks(path="/about", parts=(PAGE,), status=200, headers=HTML, method="GET", sent=None, **more):
        return over(list(parts), status, headers, path, method, sent or {}, **{"places": PLACES, **more})

    return asks


def test_what_is_decided_stands_in_its_place_and_nothing_else_changes(ask):
    status, told, body, _ = ask()
    assert status == 200 and body.startswith(BEFORE) and body.endswith(AFTER)
    inner = body.removeprefix(BEFORE).removesuffix(AFTER)
    assert b'data-piece="main-header"' in inner and OWN not in inner
    assert told["Content-Length"] == str(len(body))
    # In pieces as they come, it is the same.
    assert ask(parts=[PAGE[:20], b"", PAGE[20:60], PAGE[60:]])[2] == body


@pytest.mark.parametrize("mark", [b"<div id='__next'>", b"<script>window.__NUXT__={}</script>", b"<p data-reactroot>"])
def test_what_scripts_would_take_back_from_a_page_that_they_draw_anew_is_kept(ask, mark):
    old = b"<header>Own &amp; <script>'</script>'</script></header>"
    page = BEFORE + old + AFTER + mark + b"<SCRIPT src=app.js></SCRIPT></body>"
    body = ask(parts=[page])[2]
    placed = re.findall(rb"<!--nv-kept 0-->(.*)<!--nv-kept-until 0-->(.*)", body, re.DOTALL)[0]
    assert b'data-piece="main-header"' in placed[0] and placed[1].startswith(AFTER)
    # It comes before the first script behind what is kept, and ends nowhere else than where it ends.
    first = min(at for one in (b"<script>window", b"<SCRIPT") if (at := placed[1].find(one)) >= 0)
    script = placed[1][:first].removeprefix(AFTER + (mark if b"<script" not in mark else b""))
    assert script.startswith(b"<script>((") and script.endswith(b");</script>") and script.count(b"</script") == 1
    told = json.loads(script[script.rindex(b'({"places"') + 1 : -len(b");</script>")])
    assert told == {"places": [{"ways": [["element", "body > header"]], "stood": old.decode()}], "title": False}
    # A page on which nothing is decided is as it was, and one that draws nothing anew has no such script.
    assert ask(path="/no/such", parts=[page])[2] == page
    told = b"<p>&lt;script>self.__next_f window.__NUXT__ id=__next data-reactroot</p>"
    assert b"nv-kept" not in ask(parts=[page.replace(mark, told)])[2]


@pytest.mark.parametrize(
    "more",
    [
        {"path": "/no/such"},
        {"status": 404},
        {"headers": [("Content-Type", "application/json")]},
        {"headers": [("Content-Type", "text/html; charset=utf-16")]},
        {"headers": [*HTML, ("Content-Encoding", "gzip")], "parts": [gzip.compress(PAGE)]},
        {"parts": [PAGE, b" " * LARGEST, b"end"]},
        {"method": "POST"},
    ],
    ids=["unknown", "error", "json", "utf-16", "compressed", "large", "posted"],
)
def test_what_is_no_page_goes_as_it_is(ask, more):
    more = {"parts": (PAGE,), "headers": HTML, **more}
    headers = [*more["headers"], ("ETag", '"own"')]
    status, told, body, _ = ask(**{**more, "headers": headers})
    assert body == b"".join(more["parts"]) and status == more.get("status", 200)
    assert {name.lower(): value for name, value in told.items()} == {name.lower(): value for name, value in headers}


@pytest.mark.parametrize(
    "page",
    [b"", b"\0\xff<<<", b"<header", b"<p>No such place</p>", b"<body><header>" * 500],
    ids=["empty", "binary", "cut", "none", "deep"],
)
def test_a_page_without_a_place_stays_and_nonsense_does_no_harm(ask, page):
    status, _, body, _ = ask(parts=[page])
    assert status == 200 and (body == page or b"<header" in page)


def test_each_is_shown_what_is_theirs_and_caches_keep_none_of_it(ask, site):
    def crew(environ, plain):
        return replace(plain, signed="in", roles=frozenset({"crew"}))

    # What the demo shows on this page hangs on whether somebody is of the crew.
    signed_out, signed_in = ask("/crew"), ask("/crew", visitor=crew)
    assert b"crew-header" in signed_in[2] and b"crew-header" not in signed_out[2]
    for _, told, _, _ in (signed_out, signed_in):
        assert told["Cache-Control"] == "private, no-cache" and "Cookie" in told["Vary"]
    stated = [
        *HTML,
        ("Cache-Control", "public, max-age=600"),
        ("Vary", "X-Own"),
        ("ETag", '"own"'),
        ("Last-Modified", "x"),
    ]
    told = ask("/crew", headers=stated)[1]
    assert told["Cache-Control"] == "private, no-cache" and told["Vary"].startswith("X-Own, ")
    assert "Etag" not in {name.title() for name in told} and "Last-Modified" not in told


def test_an_application_is_not_asked_for_what_is_not_drawn_in(ask):
    sent = {
        "Accept-Encoding": "gzip",
        "If-None-Match": '"own"',
        "Range": "bytes=0-5",
        "User-Agent": PHONE,
        "X-Own": "1",
    }
    *_, asked = ask(sent=sent)
    assert asked == [{"HTTP_USER_AGENT": PHONE, "HTTP_X_OWN": "1"}]
    *_, asked = ask("/no/such", sent=sent)
    assert len(asked[0]) == len(sent)


def test_a_title_that_scripts_would_take_back_is_kept_where_nothing_else_is_decided(site):
    rule = Rule("t", Condition(parse_query("all")), (Action("set", setting="document-title", value="Ferry"),), 900)
    layout = replace(site.document.layout, rules=(rule,))
    titled = navrel.load({**DEMO, "rules": [write_rule(one) for one in layout.rules]})
    (about,) = (one for one in titled.tree.pages if one.path == "/about")
    page = b"<head><script>before()</script><title>Old</title><script>__NUXT__</script></head><header>Own</header>"
    drawn = Redrawing(titled, {"footer": "footer"}).draw(about, page, "utf-8", Visitor())
    kept = re.fullmatch(
        rb"<head><script>before\(\)</script><title>Ferry</title>(<script>.*</script>)<script>__NUXT__</script>"
        rb"</head><header>Own</header>",
        drawn,
        re.DOTALL,
    )
    assert kept and b'{"places": [], "title": true}' in kept[1]


def test_what_a_piece_shows_that_stands_in_a_page_as_it_was_taken_in_stays(site):
    drawing = Redrawing(site, PLACES)
    page = site.tree.page("/about")
    stands = frozenset({("header", "main-header")})

    def drawn(data, taken):
        before = Original(
            taken, "utf-8", (Seat("header", taken.index(b"<header"), taken.index(b"<main")),), None, stands
        )
        return drawing.draw(page, data, "utf-8", Visitor(), taken=lambda: before)

    elsewhere = PAGE.replace(b"Pay", b"Pay here")
    assert drawn(PAGE, elsewhere) == PAGE and drawn(elsewhere, PAGE) == elsewhere
    assert OWN not in drawn(PAGE.replace(b"Own", b"Our"), PAGE) and b"main-header" in drawn(
        PAGE, PAGE.replace(b"Own", b"Our")
    )


def test_head_has_the_headers_and_no_body(ask):
    status, told, body, _ = ask(method="HEAD", parts=[b""], headers=[*HTML, ("Content-Length", "70")])
    assert (status, body) == (200, b"") and "Content-Length" not in told


def test_the_styles_and_the_files_of_pieces_are_served_beside(ask, site, tmp_path):
    link = ask()[2].partition(b'<link rel="stylesheet" href="')[2].partition(b'"')[0].decode()
    status, told, body, asked = ask(link)
    assert status == 200 and body.startswith(b"@scope") and told["Content-Type"].startswith("text/css") and asked == []
    assert ask(link, method="HEAD")[2] == b""
    picture = site.document.files[0]
    address = picture.address()
    (tmp_path / address[1:]).parent.mkdir(parents=True)
    (tmp_path / address[1:]).write_bytes(b"picture")
    (tmp_path / "secret").write_bytes(b"secret")
    assert ask(address, files=tmp_path)[2] == b"picture"
    for other in (
        f"/-/files/{picture.digest}/..",
        "/-/files/../secret",
        f"/-/files/{'0' * 64}/secret",
        f"/-/files/{picture.digest}/none",
    ):
        assert ask(other, files=tmp_path)[2] == PAGE, other


def test_an_application_below_a_path_answers_for_addresses_of_the_site(site):
    def application(environ, start_response):
        start_response("200 OK", HTML)
        return [PAGE]

    environ = {"REQUEST_METHOD": "GET", "SCRIPT_NAME": "/crew", "PATH_INFO": "/galley"}
    answer = OverWsgi(application, site, places=PLACES)(environ, lambda *stated: bytes)
    assert b"data-piece=" in b"".join(answer)


def test_a_selector_that_is_none_is_told_when_it_is_made(site):
    with pytest.raises(BadSelector):
        Redrawing(site, {"header": "p["})


def test_an_application_that_writes_and_starts_late_is_read_whole_and_closed_once(site):
    class Answer:
        closed = 0

        def __init__(self, start_response):
            self.start_response = start_response

        def __iter__(self):
            write = self.start_response("200 OK", HTML)
            write(BEFORE)
            yield OWN
            write(AFTER)

        def close(self):
            self.closed += 1

    def ask_once(path, **more):
        def application(environ, start_response):
            answers.append(Answer(start_response))
            return answers[0]

        answers = []
        environ = {"REQUEST_METHOD": "GET", "PATH_INFO": path}
        answer = OverWsgi(application, site, places=PLACES)(environ, lambda *stated: lambda part: written.append(part))
        body = b"".join(answer)
        if hasattr(answer, "close"):
            answer.close()
        assert answers[0].closed == 1
        return body

    written = []
    assert b'data-piece="main-header"' in ask_once("/about") and written == []
    # What is no page writes to the server itself.
    assert ask_once("/no/such") == OWN and written == [BEFORE, AFTER]
