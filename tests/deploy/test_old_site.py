"""An old site with nginx and Navrel before it: its pages drawn in place, and all else as it comes."""

import gzip
import http.client

import jwt
import pytest
from navrel_faults.installation import wait_for

from navrel.server.delivery.passing import OldSite

from .edges import fetched
from .old import AFTER, BEFORE, OWN, PAGE
from .place import COOKIE, SECRET

#: They ask the same servers, one after the other.
pytestmark = pytest.mark.xdist_group("edges")

PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1"
SLIM = b'data-piece="slim-header"'


@pytest.fixture(scope="module")
def old(place):
    """The same site, drawn over an old one: the header of its pages is Navrel's."""
    place.desk("clear")
    place.desk("bindings", header="body > header")
    place.desk.header("Over the old one, on phones", "/harbours", "device:phone")
    place.desk.header("Over the old one, crew", "/authors", "role:crew")
    place.publish()
    place.restart(NAVREL_OLD_SITES=f"marrowick=http://{place.old.host}")
    yield place
    place.old.fails = ""
    place.desk("bindings")
    place.publish()
    place.restart()


def visit(place, path, **headers):
    return fetched(place.nginx.origins["old-site"] + path, **headers)


def is_drawn(body):
    return body.startswith(BEFORE) and body.endswith(AFTER) and OWN not in body and b"data-piece=" in body


def test_pages_are_drawn_in_however_they_come(old):
    # Whole, in chunks, and from one that compresses where it is asked to.
    for path in ("/about", "/help", "/harbours"):
        status, told, body = visit(old, path, Accept_Encoding="gzip, br", Range="bytes=0-9")
        assert status == 200 and is_drawn(body), path
        assert int(told["Content-Length"]) == len(body)
        asked = next(asked for asked in reversed(old.old.asked) if asked[1] == path)
        assert "Range" not in asked[2] and asked[2]["Accept-Encoding"] == "identity"
        assert not any(name.startswith("Navrel-") for name in asked[2])
    # Its styles are Navrel's.
    styles = body.partition(b'<link rel="stylesheet" href="')[2].partition(b'"')[0].decode()
    assert visit(old, styles)[2].startswith(b"@scope")


def test_what_is_compressed_all_the_same_goes_as_it_is(old):
    status, told, body = visit(old, "/contact")
    assert (status, told["Content-Encoding"], gzip.decompress(body)) == (200, "gzip", PAGE)


def test_what_is_no_page_and_what_is_sent_goes_as_it_comes(old):
    assert visit(old, "/boat.png")[2] == b"boat" * 1000
    assert visit(old, "/no/such/page?a=1&b=%20")[2] == PAGE
    assert old.old.asked[-1][1] == "/no/such/page?a=1&b=%20"
    # Who asks is told by the edge, and not by whoever asks.
    forged = {"X-Forwarded-For": "198.51.100.7", "X-Forwarded-Host": "other.example", "X-Forwarded-Proto": "https"}
    status, _, body = fetched(old.nginx.origins["old-site"] + "/cart", b"tickets=2", **forged)
    assert status == 200 and body == b'{"took": "tickets=2"}'
    asked = old.old.asked[-1]
    told = {name: value for name, value in asked[2].items() if name.startswith("X-Forwarded-")}
    assert asked[0] == "POST" and asked[2]["Host"] == "127.0.0.1"
    assert told == {"X-Forwarded-For": "127.0.0.1", "X-Forwarded-Host": "127.0.0.1", "X-Forwarded-Proto": "http"}
    # In chunks, whose length nobody has said.
    connection = http.client.HTTPConnection(old.nginx.origins["old-site"].removeprefix("http://"), timeout=20)
    connection.request(
        "POST", "/cart", body=iter([b"one ", b"two"]), encode_chunked=True, headers={"Transfer-Encoding": "chunked"}
    )
    assert connection.getresponse().read() == b'{"took": "one two"}'
    connection.close()


@pytest.mark.parametrize(("edge", "host"), [(False, "shop.example"), (True, "said.example")])
def test_only_an_edge_says_for_whom_it_asks(old, settings, edge, host):
    settings.EDGE = edge
    environ = {
        "REQUEST_METHOD": "GET", "PATH_INFO": "/asked", "QUERY_STRING": "a=1", "HTTP_HOST": "shop.example",
        "HTTP_X_FORWARDED_HOST": "said.example", "HTTP_CONNECTION": "close, X-Hop", "HTTP_X_HOP": "1", "REMOTE_ADDR": "192.0.2.1",
    }  # fmt: skip
    told = []
    answer = OldSite(f"http://{old.old.host}")(environ, lambda *stated: told.append(stated[0]) or bytes)
    assert (b"".join(answer), told) == (PAGE, ["200 OK"])
    _, path, headers, _ = old.old.asked[-1]
    assert path == "/asked?a=1" and headers["X-Forwarded-Host"] == host and headers["X-Forwarded-For"] == "192.0.2.1"
    assert "X-Hop" not in headers


def test_cookies_and_redirects_come_as_they_are(old):
    connection = http.client.HTTPConnection(old.nginx.origins["old-site"].removeprefix("http://"), timeout=20)
    connection.request("GET", "/tickets", headers={"Cookie": "basket=0"})
    answer = connection.getresponse()
    assert is_drawn(answer.read())
    assert answer.headers.get_all("Set-Cookie") == ["basket=1; Path=/; HttpOnly", "seen=2"]
    assert answer.headers["Cache-Control"] == "private, no-cache"
    assert next(asked for asked in reversed(old.old.asked) if asked[1] == "/tickets")[2]["Cookie"] == "basket=0"
    connection.request("GET", "/routes")
    answer = connection.getresponse()
    answer.read()
    assert (answer.status, answer.headers["Location"]) == (302, "http://127.0.0.1/about")
    connection.request("HEAD", "/about")
    answer = connection.getresponse()
    assert (answer.status, answer.read()) == (200, b"")
    connection.close()


def test_what_the_old_site_lets_be_kept_is_kept_for_each_as_they_see_it(old):
    def asked():
        return sum(asked[1] == "/harbours?kept" for asked in old.old.asked)

    for agent, is_slim in (("", False), (PHONE, True)) * 3:
        _, told, body = visit(old, "/harbours?kept", User_Agent=agent)
        assert (SLIM in body) is is_slim and is_drawn(body)
    assert asked() == 2 and "HIT" in told["Cache-Status"]
    # What it says nothing of is asked for each time.
    before = len(old.old.asked)
    for _ in range(3):
        visit(old, "/about")
    assert len(old.old.asked) == before + 3


def test_members_see_what_is_theirs(old):
    crew = {"Cookie": f"{COOKIE}={jwt.encode({'exp': 4102444800, 'roles': ['crew']}, SECRET, 'HS256')}"}
    plain, own, again = (visit(old, "/authors", **headers) for headers in ({}, crew, {}))
    assert SLIM in own[2] and SLIM not in plain[2] and plain[2] == again[2]
    assert own[1]["Cache-Control"] == "private, no-cache"


def test_what_fails_is_told_and_what_is_kept_is_given_meanwhile(old):
    kept = visit(old, "/harbours?kept")[2]
    old.old.fails = "broken"
    status, _, body = visit(old, "/about")
    assert (status, body) == (500, PAGE)
    old.old.fails = "cut"
    status, _, body = visit(old, "/about")
    assert status == 502 and b"does not answer for the moment" in body
    assert visit(old, "/harbours?kept")[2] == kept
    old.old.fails = ""
    assert is_drawn(visit(old, "/about")[2])


def test_where_there_is_no_old_site_any_more_it_is_told(old):
    old.start_again(NAVREL_OLD_SITES="marrowick=http://127.0.0.1:9")
    try:
        wait_for("Navrel", lambda: visit(old, "/-/ready")[0] == 200)
        status, told, body = visit(old, "/about")
        assert status == 502 and told["Retry-After"] == "5" and b"does not answer" in body
    finally:
        old.restart(NAVREL_OLD_SITES=f"marrowick=http://{old.old.host}")
