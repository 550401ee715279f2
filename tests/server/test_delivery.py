"""What is kept of the published site, what is told of it, and that nobody gets what is another's."""

import gzip
from datetime import datetime
from itertools import product
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.core.handlers.wsgi import WSGIHandler
from django.core.signals import request_started
from django.db import OperationalError, close_old_connections, connection
from django.test import RequestFactory, override_settings
from django.test.utils import CaptureQueriesContext

from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout import document
from navrel.rendering.hinges import Hinges, SiteHinges, Telling
from navrel.rendering.page import draw_page
from navrel.server.delivery import answers, hanging, keeping, swift, views, watching
from navrel.server.delivery.answers import Answers
from navrel.server.delivery.keeping import takes_gzip
from navrel.server.delivery.visitors import told_by, visitor_of
from navrel.server.delivery.watching import Serving, Watch
from navrel.server.inventory import contents
from navrel.server.inventory.contents import read_content
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import finish_intake, make_empty_site, start_intake
from navrel.server.inventory.staging import stage_files
from navrel.server.library.services import make_piece
from navrel.server.publishing import live as live_module
from navrel.server.publishing.hosts import served_site, served_sites
from navrel.server.publishing.live import live, newest_key, newest_revision
from navrel.server.publishing.live import open_revision as read
from navrel.server.publishing.services import publish
from navrel.server.settings import delivery
from navrel.server.sitestate.kept import Kept

PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1"
DESK = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"
OTHER_DESK = "Mozilla/5.0 (X11; Linux x86_64) Chrome/140.0"
RULE: dict[str, Any] = {
    "name": "On phones", "on": True, "note": "", "priority": 90,
    "condition": {"include": "page:/about", "exclude": "", "visitors": {"include": "device:phone", "exclude": ""}, "schedule": None},
    "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
}  # fmt: skip


class _Watch(Watch):
    """Knows what is served by asking; the published site is told it."""

    def serving(self, host, port, mount):
        site = served_site(list(served_sites()), host, port)
        newest = newest_revision(site) if site else None
        return Serving(site.pk, newest.pk) if newest else None

    def serving_site(self, slug):
        return self.serving(f"{slug}.localhost", "", "")


class Public:
    """The published site as its server has it: what is kept comes first."""

    def __init__(self):
        self.drawn = 0
        with override_settings(ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE):
            handler = WSGIHandler()
        self.application = swift.Swift(handler, _Watch(handler))

    def get(self, path, method="GET", **headers):
        with override_settings(ROOT_URLCONF=delivery.ROOT_URLCONF, ALLOWED_HOSTS=["testserver"]):
            environ = RequestFactory(headers=headers).generic(method, path).environ
            told = {}
            # The connection of the test, in which all that it wrote is taken back, is not closed.
            request_started.disconnect(close_old_connections)

            def start(status, headers, failed=None, /):
                told.update(status=status, headers=dict(headers))
                return told.update

            answer = self.application(environ, start)
            body = b"".join(answer)
            request_started.connect(close_old_connections)
        if told["headers"].get("Content-Encoding") == "gzip":
            body = gzip.decompress(body)
        return told["status"][:3], told["headers"], body


@pytest.fixture
def public(site, monkeypatch):
    kept = Answers(64 * 2**20)
    for module in (answers, swift, keeping, watching):
        monkeypatch.setattr(module, "ANSWERS", kept)
    found = Public()

    def counted(*arguments, **more):
        found.drawn += 1
        return draw_page(*arguments, **more)

    monkeypatch.setattr(views, "draw_page", counted)
    monkeypatch.setattr("navrel.server.api.outages.connections.close_all", lambda: None)
    return found


def test_what_was_drawn_is_not_drawn_again_for_whom_it_is_the_same(public):
    first = public.get("/about", user_agent=DESK)
    assert first[0] == "200" and public.drawn == 1
    for agent, path in product((DESK, PHONE), ("/about", "/about?campaign=x")):
        assert public.get(path, user_agent=agent) == first
    assert public.drawn == 1
    assert first[1]["Vary"] == "Accept-Encoding" and first[1]["No-Vary-Search"] == "params"
    assert "Set-Cookie" not in first[1]
    squeezed = public.get("/about", accept_encoding="gzip, br")
    assert squeezed[1]["Content-Encoding"] == "gzip" and squeezed[2] == first[2]
    assert public.get("/about", method="HEAD")[1:] == (first[1], b"")


def test_a_content_is_read_once_for_all_the_looks_of_its_page(api, public):
    api.post("rules", RULE)
    publish("marrowick", None, "")
    contents._read.cache.clear()
    with CaptureQueriesContext(connection) as asked:
        told = {public.get("/about", user_agent=agent)[2] for agent in (DESK, PHONE)}
    assert len(told) == public.drawn == 2
    assert sum("inventory_content" in one["sql"] for one in asked) == 1


def test_an_answer_that_is_known_already_is_not_drawn(public):
    etag = public.get("/about")[1]["ETag"]
    answers.ANSWERS.clear()
    assert etag.startswith('W/"') and public.drawn == 1
    for stated in (etag, f'"other", {etag}', "*", etag.removeprefix("W/")):
        for _ in range(2):
            status, headers, body = public.get("/about", if_none_match=stated)
            assert (status, body, headers["ETag"], headers["Vary"]) == ("304", b"", etag, "Accept-Encoding")
    assert public.drawn == 1
    assert public.get("/about", if_none_match='"other"')[0] == "200"


def test_a_visitor_never_gets_what_is_anothers(public, api):
    before = public.get("/about", user_agent=PHONE)[2]
    api.post("rules", RULE)
    publish("marrowick", None, "")
    phone, desk, other = (public.get("/about", user_agent=agent) for agent in (PHONE, DESK, OTHER_DESK))
    assert b'data-piece="slim-header"' in phone[2] and b'data-piece="slim-header"' not in desk[2]
    assert phone[1]["ETag"] != desk[1]["ETag"] and desk == other and desk[2] == before
    assert phone[1]["Vary"] == "Accept-Encoding, User-Agent"
    assert public.get("/about", user_agent=PHONE) == phone
    assert public.get("/about", user_agent=PHONE, if_none_match=desk[1]["ETag"])[0] == "200"
    assert public.drawn == 3


def test_a_publication_is_seen_at_once_and_names_what_to_drop(public, api):
    before = public.get("/help")
    keys = before[1]["Surrogate-Key"].split()
    number = newest_revision(Site.objects.get(slug="marrowick")).number
    assert {
        "site:marrowick",
        f"revision:marrowick:{number}",
        "page:marrowick:/help",
        "piece:marrowick:main-header",
    } <= {*keys}
    api.post(
        "rules",
        {
            **RULE,
            "condition": {**RULE["condition"], "include": "page:/help", "visitors": {"include": "", "exclude": ""}},
        },
    )
    publish("marrowick", None, "")
    after = public.get("/help", if_none_match=before[1]["ETag"])
    assert after[0] == "200" and b'data-piece="slim-header"' in after[2]


def test_what_was_asked_for_last_is_drawn_before_it_is_asked_for_again(public, api):
    for path in ("/about", "/help"):
        public.get(path, user_agent=PHONE)
    api.post("rules", RULE)
    publish("marrowick", None, "")
    state = live(Site.objects.get(slug="marrowick"))
    assert state is not None and public.drawn == 2
    watch = public.application.watch
    with override_settings(ROOT_URLCONF=delivery.ROOT_URLCONF, ALLOWED_HOSTS=["testserver"]):
        watch._draw_ahead(state)
    assert public.drawn == 4
    assert b'data-piece="slim-header"' in public.get("/about", user_agent=PHONE)[2]
    assert public.drawn == 4
    # What nobody asked for since is not drawn ahead once more.
    answers.ANSWERS.leave(state.revision.site_id, state.revision.pk)
    assert [asked["PATH_INFO"] for asked in answers.ANSWERS.asked_last(state.revision.site_id, 50)] == ["/about"]
    assert public.get("/help", user_agent=PHONE)[0] == "200" and public.drawn == 4


def test_where_nothing_was_asked_for_yet_the_first_page_is_drawn_ahead(public):
    state = live(Site.objects.get(slug="marrowick"))
    assert state is not None and public.drawn == 0
    with override_settings(ROOT_URLCONF=delivery.ROOT_URLCONF, ALLOWED_HOSTS=["testserver"]):
        public.application.watch._draw_ahead(state)
    assert public.drawn == 1
    assert {"resolver", "hinges"} <= vars(state).keys()
    assert answers.ANSWERS.asked_last(state.revision.site_id, 50) == []


def test_what_is_good_until_a_moment_is_not_kept_beyond_it(public, api, monkeypatch):
    schedule = {"from": "2026-12-04T18:00"}
    condition = {
        "include": "page:/about",
        "exclude": "",
        "visitors": {"include": "", "exclude": ""},
        "schedule": schedule,
    }
    api.post("rules", {**RULE, "condition": condition})
    publish("marrowick", None, "")
    zone = ZoneInfo(live(Site.objects.get(slug="marrowick")).document.time_zone)

    def at(moment):
        """The clocks of the server show it."""
        now = moment.replace(tzinfo=zone)
        clock = type("Clock", (datetime,), {"now": classmethod(lambda cls, tz=None: now.astimezone(tz))})
        for module in (hanging, document):
            monkeypatch.setattr(module, "datetime", clock)
        for module in (hanging, answers):
            monkeypatch.setattr(module.time, "time", now.timestamp)

    with override_settings(MAX_AGE=60, SHARED_MAX_AGE=86400):
        at(datetime(2026, 12, 4, 17, 0))
        plain = public.get("/about")
        assert plain[1]["Cache-Control"] == "public, max-age=60, s-maxage=3598"
        at(datetime(2026, 12, 4, 17, 59, 40))
        later = public.get("/about")
        assert later[1]["Cache-Control"] == "public, max-age=18, s-maxage=18" and later[2] == plain[2]
        assert public.drawn == 1
        at(datetime(2026, 12, 4, 18, 0))
        begun = public.get("/about", if_none_match=plain[1]["ETag"])
        assert (
            begun[0] == "200"
            and b'data-piece="slim-header"' in begun[2]
            and b'data-piece="slim-header"' not in plain[2]
        )
    assert public.get("/about")[1]["Cache-Control"] == "no-cache"
    with override_settings(SHARED_MAX_AGE=600, STALE_AGE=30):
        assert public.get("/help")[1]["Cache-Control"] == "public, max-age=0, s-maxage=600, stale-while-revalidate=30"


def test_what_a_feed_says_is_part_of_it(public, monkeypatch):
    said = ["Fog"]
    hinges = Hinges(telling=Telling(feeds=frozenset({"https://feeds.example/a"})))
    monkeypatch.setattr(SiteHinges, "of", lambda self, page: hinges)
    monkeypatch.setattr(hanging, "entries_of", lambda url: tuple(said))
    first = public.get("/about")
    assert public.get("/about") == first and public.drawn == 1
    said.append("Wind")
    assert public.get("/about")[1]["ETag"] != first[1]["ETag"] and public.drawn == 2

    def away(url):
        raise OperationalError("connection refused")

    monkeypatch.setattr(hanging, "entries_of", away)
    assert public.get("/about")[0] == "503"


def test_what_is_found_by_words_and_what_is_nowhere_is_answered_anew(public):
    assert b"for \xe2\x80\x9cfog\xe2\x80\x9d" in public.get("/search?q=fog")[2]
    assert b"for \xe2\x80\x9cfog\xe2\x80\x9d" not in public.get("/search?q=quay")[2]
    assert public.get("/no/such")[0] == "404"
    assert public.get("/no/such", if_none_match="*")[0] == "404"
    assert public.get("/about/")[0] == "308"
    assert public.get("/about", method="POST")[0] == "405"


def test_every_page_is_answered_as_it_is_drawn_for_whoever_asks(public, api):
    api.post("rules", RULE)
    api.post(
        "rules",
        {
            **RULE,
            "name": "In Norwegian",
            "condition": {
                **RULE["condition"],
                "include": "within:/harbours",
                "visitors": {"include": "accepts:nb query.campaign:spring", "exclude": ""},
            },
        },
    )
    publish("marrowick", None, "")
    state = live(Site.objects.get(slug="marrowick"))
    assert state is not None
    source = state.source
    asked = [
        ({"user_agent": PHONE}, ""),
        ({"user_agent": DESK, "accept_language": "nb"}, "?campaign=spring"),
        ({"user_agent": DESK}, "?campaign=spring"),
    ]
    pages = [page for page in state.index.tree.pages if page.kind not in ("search", "missing")]
    for page in pages[:40]:
        for headers, query in asked:
            for _ in range(2):
                status, _, body = public.get(page.href + query, **headers)
                meta = RequestFactory(headers=headers).get(page.href + query).META
                lens = Lens(visitor_of(meta, state.document.language, query=query[1:]), state.document.now())
                content = read_content(state.contents.get(page.path, ""))
                assert (status, body) == ("200", draw_page(source, page, content, lens).data), page.path
    # Every second answer came from what was kept.
    assert public.drawn <= len(pages[:40]) * len(asked)


def test_no_more_is_kept_than_may_be():
    nature = hanging.Nature(Hinges(), language="en", zone=ZoneInfo("UTC"))

    def kept(address, key, size, revision=1):
        hung = hanging.Hung(1, revision, revision, nature, Lens(Visitor(), datetime.min), key, 'W/"x"', None, (), "")
        answers_kept.keep(address, answers.Answer((), b"x" * size, hung, {}))

    answers_kept = Answers(100_000)
    for number in range(50):
        kept(f"/{number}", "", 5_000)
    assert answers_kept.size <= 100_000
    assert answers_kept.find("/0", 1) is None and answers_kept.find("/49", 1) is not None
    for number in range(50):
        kept("/49", number, 5_000)
    assert answers_kept.size <= 100_000 and answers_kept.find("/48", 1) is not None
    kept("/49", "", 5_000, revision=2)
    assert set(answers_kept.find("/49", 2).answers) == {""} and "" not in answers_kept.find("/49", 1).answers
    before = answers_kept.size
    answers_kept.leave(1, 2)
    assert answers_kept.find("/49", 1) is None and answers_kept.find("/49", 2) is not None
    assert answers_kept.size == answers_kept.find("/49", 2).size < before
    answers_kept.leave(5, 1)
    assert answers_kept.find("/49", 2) is not None
    answers_kept.clear()
    assert answers_kept.size == 0 and answers_kept.find("/49", 2) is None


@pytest.mark.parametrize(
    ("stated", "takes"),
    [("gzip", True), ("gzip, deflate, br", True), ("br;q=1.0, gzip;q=0.8", True), ("*", True), ("", False), ("br", False),
     ("gzip;q=0", False), ("gzip; q=0.000", False), ("GZIP", True), ("identity", False), ("gzip;q=0.01", True)],
)  # fmt: skip
def test_only_who_takes_it_gets_it_squeezed(stated, takes):
    assert takes_gzip(stated) is takes


def test_behind_an_edge_its_words_count_and_without_one_they_do_not(settings):
    meta = {"HTTP_USER_AGENT": DESK, "HTTP_NAVREL_DEVICE": "phone", "HTTP_NAVREL_BROWSER": "safari",
            "HTTP_NAVREL_LANGUAGES": "nb,en", "HTTP_NAVREL_REFERRER": "news.example"}  # fmt: skip
    own = visitor_of(meta, "en", query="a=1&a=2&b=")
    assert (own.device, own.browser, own.accepts, own.referrer) == ("desktop", "firefox", ("en",), "")
    assert own.query == {"a": "2", "b": ""}
    assert told_by(frozenset({"device", "browser", "accepts", "query.a"})) == ["Accept-Language", "User-Agent"]
    settings.EDGE = True
    told = visitor_of(meta, "en")
    assert (told.device, told.browser, told.accepts, told.referrer) == ("phone", "safari", ("nb", "en"), "news.example")
    assert told_by(frozenset({"device", "referrer"})) == ["Navrel-Device", "Navrel-Referrer"]
    nonsense = {"HTTP_NAVREL_DEVICE": "<b>", "HTTP_NAVREL_BROWSER": "x" * 500, "HTTP_NAVREL_LANGUAGES": ";;,"}
    assert (visitor_of(nonsense, "en").device, visitor_of(nonsense, "en").browser) == ("desktop", "other")


@pytest.mark.django_db
def test_the_database_tells_of_publications_and_of_other_names(site, api):
    with connection.cursor() as cursor:
        cursor.execute("SELECT tgname FROM pg_trigger WHERE tgname LIKE 'navrel_%%told' ORDER BY tgname")
        tables = ("membership", "revision", "site", "sites", "token")
        assert [name for (name,) in cursor.fetchall()] == [f"navrel_{table}_told" for table in tables]


@pytest.mark.django_db
def test_of_many_sites_only_those_are_read_that_somebody_asks_for(site, monkeypatch):
    monkeypatch.setattr(watching, "_READY_AT_ONCE", 1)
    opened = []
    monkeypatch.setattr(live_module, "open_revision", lambda one, older=None: opened.append(one.site.slug) or read(one))
    others = [make_empty_site(slug, slug) for slug in ("skerry", "moor")]
    for one in others:
        intake = start_intake(one.slug, None)
        stage_files(intake, [("index.html", b"<title>Isles</title><body><main>Boats</main>")])
        finish_intake(intake)
        publish(one.slug, None, "")
    newest = {one.slug: newest_key(one) for one in (site, *others)}
    served = Kept()
    monkeypatch.setattr(live_module, "_served", served)
    opened.clear()
    watch = Watch(lambda environ, start: ())
    for _ in range(3):
        assert watch._make_ready(tuple(served_sites()))[0] == {one.pk: newest[one.slug] for one in (site, *others)}
    assert opened == ["marrowick"]
    assert live(others[0]).revision.pk == newest["skerry"]
    # Another process publishes.
    monkeypatch.setattr(live_module, "_served", Kept())
    for one in others:
        make_piece(one.slug, {"kind": "widget", "name": "Tide table", "content": {"items": []}})
        publish(one.slug, None, "")
    monkeypatch.setattr(live_module, "_served", served)
    opened.clear()
    revisions, gone = watch._make_ready(tuple(served_sites()))
    assert revisions == {one.pk: newest_key(one) for one in (site, *others)}
    assert opened == ["skerry"] and gone, "what is served is made ready before anybody asks for it"
    # What stands over an old site is drawn only where it is ready.
    with override_settings(OLD_SITES={"moor": "http://127.0.0.1:9"}):
        watch._make_ready(tuple(served_sites()))
    assert opened == ["skerry", "moor"]
