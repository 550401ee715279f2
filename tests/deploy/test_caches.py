"""No cache ever serves one visitor another's look: nginx and Varnish before the published site, while it is published."""

import hashlib
import http.client
import json
import os
import random
import signal
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime, timedelta
from threading import Event

import jwt
import pytest
from navrel_faults.installation import wait_for

from .edges import fetched
from .place import COOKIE, SECRET

#: They ask the same servers, one after the other.
pytestmark = pytest.mark.xdist_group("edges")

REQUESTS, AT_ONCE = 5_000, 6
#: From publication to publication the header of these pages is another, and who gets it.
CONDITIONS = {
    "/about": ("device:phone", "device:tablet", "browser:firefox"),
    "/help": ("accepts:nb", "device:phone", "accepts:de"),
    "/contact": ("referrer:news.example", "accepts:nb", "referrer:news.example"),
    "/tickets": ("query.campaign:spring", "query.campaign:autumn", "device:phone query.campaign:spring"),
    "/routes": ("browser:firefox", "role:crew", "browser:chrome device:desktop"),
    "/harbours": ("signed:in", "device:tablet | accepts:de", "signed:out"),
}
TIMED = "/accessibility"
PATHS = (*CONDITIONS, TIMED, "/", "/crew", "/no/such")
AGENTS = {
    "": ("desktop", "other"),
    "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1": ("phone", "safari"),
    "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0": ("desktop", "firefox"),
    "Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) Version/18.0 Safari/604.1": ("tablet", "safari"),
    "Mozilla/5.0 Chrome/140.0 Edg/140.0": ("desktop", "edge"),
    "Mozilla/5.0 (Android 15; Mobile; rv:140.0) Firefox/140.0": ("phone", "firefox"),
    "Mozilla/5.0 (Linux; Android 15; Tab) Chrome/140.0 Safari/537.36": ("tablet", "chrome"),
}
LANGUAGES = {"": [], "nb-NO,nb;q=0.9,en;q=0.8": ["nb-NO", "nb", "en"], "de": ["de"]}
REFERRERS = {"": "", "https://news.example/a": "news.example", "https://other.example/": "other.example"}
QUERIES = {"": {}, "?campaign=spring": {"campaign": "spring"}, "?campaign=autumn&x=1": {"campaign": "autumn", "x": "1"}}


def cookie(*roles, ends=3600):
    claims = {"exp": int(time.time()) + ends, "roles": roles}
    return f"a=b; {COOKIE}={jwt.encode(claims, SECRET, 'HS256')}"


#: What a browser sends, and who that is: the roles of a member, None for whoever is none.
COOKIES = {
    "": None,
    "a=b": None,
    cookie("crew"): ["crew"],
    cookie("deck"): ["deck"],
    cookie("crew", ends=-60): None,
    f"{COOKIE}=x": None,
}


@dataclass(frozen=True)
class Asker:
    """Somebody who asks: the headers and the parameters that they send, and who they are."""

    headers: tuple[tuple[str, str], ...]
    query: str
    told: str

    @classmethod
    def any(cls, dice):
        agent, languages, referrer, query = (
            dice.choice([*one.items()]) for one in (AGENTS, LANGUAGES, REFERRERS, QUERIES)
        )
        # Most people are no members.
        member = dice.choice([*COOKIES.items()]) if dice.random() < 0.3 else ("", None)
        device, browser = agent[1]
        visitor = {
            "signed": "out" if member[1] is None else "in", "roles": member[1] or [], "device": device,
            "browser": browser, "accepts": languages[1], "query": query[1], "referrer": referrer[1],
        }  # fmt: skip
        sent = {"User-Agent": agent[0], "Accept-Language": languages[0], "Referer": referrer[0], "Cookie": member[0]}
        # What an edge says of who asks nobody else can say.
        sent |= {"Navrel-Device": "phone", "Navrel-Member": "1", "Navrel-Page": "/help"} if dice.random() < 0.1 else {}
        return cls(tuple((name, value) for name, value in sent.items() if value), query[0], json.dumps(visitor))


@dataclass
class Asked:
    """What was asked, from when to when on the clock of the machine, and what was answered."""

    edge: str
    path: str
    asker: Asker
    sent: float
    answered: float
    status: int
    digest: str


def ask(place, edge, connections, path, asker):
    """Ask an edge over a connection that is kept; nginx may have closed one that it knew before it was told anew."""
    origin = place.edges[edge].removeprefix("http://")
    while True:
        connection = connections.setdefault(edge, http.client.HTTPConnection(origin, timeout=30))
        sent = time.time()
        try:
            connection.putrequest("GET", path + asker.query, skip_accept_encoding=True)
            for name, value in asker.headers:
                connection.putheader(name, value)
            connection.endheaders()
            answer = connection.getresponse()
            body = answer.read()
        except (http.client.RemoteDisconnected, ConnectionError):
            connections.pop(edge).close()
            continue
        return Asked(edge, path, asker, sent, time.time(), answer.status, hashlib.sha256(body).hexdigest())


def load(place, turn, seed, ended, asked):
    """Ask both edges as anybody, until it ends; what was asked is added to what all have asked."""
    dice, connections = random.Random(seed), {}
    while not ended.is_set():
        edge = dice.choice([*place.edges])
        # What changes at the moment is asked for more often.
        path = TIMED if dice.random() < 0.2 else dice.choice(PATHS)
        asked.append(ask(place, edge, connections, path, Asker.any(dice)))
        if time.time() < turn.boundary:
            # The moment is not there yet: it is not to be over before.
            ended.wait(0.02)


@dataclass(frozen=True)
class Turn:
    """When a page changes by itself, on the clock of the machine, and a moment before and one after on the site's."""

    boundary: float
    before: str
    after: str

    @classmethod
    def coming(cls, desk):
        """A full minute of the clock that is not long in coming, and not there yet."""
        minute = datetime.fromisoformat(desk("now"))
        begun = int(time.time()) // 60 * 60
        boundary = begun + 60 if begun + 60 - time.time() > 15 else begun + 120
        after = minute + timedelta(seconds=boundary - begun)
        return cls(boundary, minute.isoformat(timespec="minutes"), after.isoformat(timespec="minutes"))


def expected(place, turn, one):
    """What may be answered: of the revisions and the moments that there were between asking and the answer."""
    numbers = [
        number for number, begun in place.begun.items()
        if begun < one.answered and place.told.get(number + 1, float("inf")) > one.sent
    ]  # fmt: skip
    moments = [turn.before] * (one.sent < turn.boundary) + [turn.after] * (one.answered >= turn.boundary)
    asked = ({"number": number, "at": at} for number in numbers for at in moments)
    return [tuple(place.desk("drawn", path=one.path, told=one.asker.told, **each)) for each in asked]


def test_everybody_gets_their_own_look_from_nginx_and_from_varnish(place):
    turn = Turn.coming(place.desk)
    place.desk.header("From the minute on", TIMED, schedule={"from": turn.after})
    ended, asked = Event(), []
    with ThreadPoolExecutor(AT_ONCE) as several:
        try:
            for stretch in range(3):
                for path, visitors in CONDITIONS.items():
                    place.desk.header(f"On {path} {stretch}", path, visitors[stretch])
                place.publish()
                if not stretch:
                    askers = [several.submit(load, place, turn, seed, ended, asked) for seed in range(AT_ONCE)]
            wait_for("the moment to be over", lambda: time.time() > turn.boundary + 3, 120)
            # How many are answered until then is the machine's affair, and how many are compared the test's.
            wait_for("enough to be asked", lambda: len(asked) >= REQUESTS or any(one.done() for one in askers), 300)
        finally:
            ended.set()
    for asker in askers:
        asker.result()
    wrong = [one for one in asked if (one.status, one.digest) not in expected(place, turn, one)]
    assert [(one.edge, one.path, one.asker, one.sent - turn.boundary) for one in wrong] == []
    # Both were asked, before and after the moment, and by members too.
    counted = Counter((one.edge, one.sent > turn.boundary) for one in asked if one.path == TIMED)
    assert len(counted) == 4 and min(counted.values()) > 20
    assert sum('"in"' in one.asker.told for one in asked) > 300


PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1"


def test_while_navrel_is_down_what_is_there_is_served_and_nobody_gets_what_is_not_theirs(place):
    place.desk.header("On phones", "/about", "device:phone")
    place.publish()
    before = {(edge, path): fetched(place.edges[edge] + path) for edge in place.edges for path in PATHS}
    place.end_navrel()
    for (edge, path), (status, _, body) in before.items():
        again = fetched(place.edges[edge] + path)
        assert (again[0], again[2]) == (status, body), (edge, path)
        assert again[1]["Cache-Control"] == "no-cache"
        # What a phone would see there was not asked for yet.
        assert fetched(place.edges[edge] + "/about", User_Agent=PHONE)[0] in (502, 503)
    place.restart()
    for edge in place.edges.values():
        assert b'data-piece="slim-header"' in fetched(f"{edge}/about", User_Agent=PHONE)[2]


def test_what_has_grown_old_is_given_once_more_while_navrel_is_asked(place):
    place.restart(NAVREL_SHARED_MAX_AGE="1", NAVREL_STALE_AGE="3600")
    place.desk(
        "rule",
        name="Fresh",
        priority=99,
        condition={"include": "all"},
        actions=[{"do": "set", "setting": "document-title", "value": "Fresh"}],
    )
    place.publish()
    first = {edge: fetched(f"{origin}/help")[2] for edge, origin in place.edges.items()}
    assert all(b"<title>Fresh" in body for body in first.values())
    server = place.stage.servers["published site"]
    # Nothing is answered, and no connection refused.
    os.killpg(server.pid, signal.SIGSTOP)
    try:
        for edge, is_old in (("nginx", lambda told: "STALE" in told["Cache-Status"] or "UPDATING" in told["Cache-Status"]),
                             ("varnish", lambda told: int(told["Age"]) >= 2)):  # fmt: skip

            def old(edge=edge, is_old=is_old):
                status, told, body = fetched(f"{place.edges[edge]}/help")
                assert (status, body) == (200, first[edge])
                return is_old(told)

            wait_for("it to have grown old", old)
            assert old()
    finally:
        os.killpg(server.pid, signal.SIGCONT)
    place.restart()
