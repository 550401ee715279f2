"""The layout API as a program asks it: what it tells, when it tells it anew, and what it tells nobody."""

import json
import re
from datetime import timedelta
from pathlib import Path
from threading import Event

import jsonschema
import pytest
from django.contrib.auth import get_user_model
from django.test import Client, override_settings
from django.utils import timezone

from navrel.core.cascade.plain import resolve_page
from navrel.core.language.visitor import Lens
from navrel.core.language.visitor_terms import parse_visitor
from navrel.server.accounts.models import Membership, Token
from navrel.server.accounts.tokens import make_token, take_token_back
from navrel.server.delivery import changed, layout_asked, layouts
from navrel.server.delivery.layouts import urlpatterns
from navrel.server.inventory.models import Content, Page, Site
from navrel.server.inventory.services import make_empty_site
from navrel.server.publishing.live import live
from navrel.server.publishing.services import publish
from navrel.server.settings import delivery

from .test_delivery import PHONE, RULE, Public, public  # noqa: F401

DESCRIPTION = json.loads((Path(layouts.__file__).parent / "layout-v1.json").read_text())
HERE = "/-/layout/v1/marrowick"


@pytest.fixture
def user(api):
    return get_user_model().objects.get(username=api.client.get("/api/session").json()["username"])


@pytest.fixture
def token(user):
    layout_asked.TOKENS.clear()
    return make_token(user, Site.objects.get(slug="marrowick"), "shop", "published", 30)[1]


@pytest.fixture
def ask(token, site):
    """Ask as a program does; every answer is one that the description describes."""

    def asked(address, *, method="get", show=token, **more):
        headers = {**more.pop("headers", {}), **({"Authorization": f"Bearer {show}"} if show else {})}
        with override_settings(
            ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE, ALLOWED_HOSTS=["testserver"]
        ):
            answer = getattr(Client(), method)(address, headers=headers, **more)
            if answer.streaming:
                answer.lines = [json.loads(line) for line in b"".join(answer).splitlines()]
        return answer

    return asked


def is_described(value, name):
    jsonschema.validate(value, {"$ref": f"#/components/schemas/{name}", "components": DESCRIPTION["components"]})
    return value


def seen(site, path, visitor="", at=None):
    state = live(site)
    lens = Lens(parse_visitor(visitor, "en"), at or state.document.now())
    page = next(page for page in state.index.tree.pages if page.path == path)
    traces = resolve_page(state.index.tree, state.layout, page, lens)
    return {target.name: list(trace.outcome.pieces) for target, trace in traces.items() if target.kind == "slot"}


def test_a_table_of_contents_in_a_slot_leads_to_the_headings_of_the_page(ask, site, api):
    html = '<h2 id="fares">Fares</h2><p>By day.</p><h2>Aboard</h2><h3 id="dogs">Dogs &amp; cats</h3>'
    made = {"slug": "here", "kind": "widget", "name": "Here", "content": {"items": [{"type": "contents"}]}}
    assert api.post("pieces", made).status_code == 201
    rule = {**RULE, "actions": [{"do": "append", "slot": "after-content", "piece": "here"}]}
    assert api.post("rules", {**rule, "condition": {"include": "page:/about"}}).status_code == 201
    Page.objects.filter(site=site, path="/about").update(content=Content.objects.create(digest="0" * 64, html=html))
    publish("marrowick", None, "")
    shown = ask(f"{HERE}/slots/after-content", data={"path": "/about"}).content.decode()
    assert re.findall(r'href="([^"]+)"[^>]*>([^<]+)<', shown) == [("#fares", "Fares"), ("#dogs", "Dogs &amp; cats")]
    assert ask(HERE, data={"path": "/about", "html": "yes"}).json()["slots"]["after-content"]["html"] == shown


def test_the_layout_of_a_page_is_told_with_what_it_hangs_on(ask, site, api):
    api.post("rules", RULE)
    publish("marrowick", None, "")
    for visitor in ("", "device:phone"):
        answer = ask(HERE, data={"path": "/about", "visitor": visitor})
        told = is_described(answer.json(), "Layout")
        pieces = {name: one["pieces"] for name, one in told["slots"].items()}
        assert pieces == {name: found for name, found in seen(site, "/about", visitor).items() if name in pieces}
        assert told["path"] == "/about" and {"device", "signed"} <= {*told["facts"]}
        assert answer.headers["Vary"] == "Accept-Encoding, Authorization"
    assert told["slots"]["header"] == {"state": "filled", "pieces": ["slim-header"], "by": "On phones"}
    # Who states no visitor is seen as the headers of the request tell.
    own = ask(HERE, data={"path": "/about"}, headers={"User-Agent": PHONE})
    assert own.json()["slots"]["header"]["pieces"] == ["slim-header"]
    assert own.headers["Vary"] == "Accept-Encoding, Authorization, User-Agent"


def test_with_html_it_tells_what_the_slots_show(ask, public):  # noqa: F811
    told = is_described(ask(HERE, data={"path": "/about", "html": "yes"}).json(), "Layout")
    assert 'class="nv-' in told["slots"]["header"]["html"] and "About us" in told["title"]
    assert told["styles"].startswith('<link rel="stylesheet" href="/-/place-')
    for name, found in told["slots"].items():
        fragment = ask(f"{HERE}/slots/{name}", data={"path": "/about"})
        assert fragment.content.decode() == found["html"]
        assert fragment.headers["Content-Type"] == "text/html; charset=utf-8"
        assert bool(found["html"]) or not found["pieces"] or name in told["unseated"]
    assert ask(f"{HERE}/styles", data={"path": "/about"}).content.decode() == told["styles"]
    assert ask(f"{HERE}/slots/nowhere", data={"path": "/about"}).content == b""
    assert isinstance(public, Public)


def test_those_who_are_alike_in_what_matters_get_the_same_under_the_same_etag(ask):
    first = ask(HERE, data={"path": "/about", "visitor": "query.x:1 browser:firefox"})
    other = ask(HERE, data={"path": "/about", "visitor": "query.x:2 browser:safari"})
    member = ask(HERE, data={"path": "/about", "visitor": "signed:in"})
    assert first.content == other.content and first.headers["ETag"] == other.headers["ETag"]
    assert member.headers["ETag"] != first.headers["ETag"]
    known = ask(HERE, data={"path": "/about"}, headers={"If-None-Match": first.headers["ETag"]})
    assert known.status_code == 304 and known.headers["ETag"] == first.headers["ETag"]


def test_the_parameters_of_the_page_count_and_not_those_of_the_question(ask, api):
    shown = {"include": "page:/about", "visitors": {"include": "query.campaign:spring"}}
    asked = {"include": "page:/about", "visitors": {"include": "query.path:*"}}
    for condition, piece in ((shown, "slim-header"), (asked, "night-header")):
        actions = [{"do": "fill", "slot": "header", "piece": piece}]
        body = {**RULE, "name": piece, "priority": 91, "condition": condition, "actions": actions}
        assert api.post("rules", body).status_code == 201
    publish("marrowick", None, "")
    slim = b'data-piece="slim-header"'
    for path, wanted in (("/about", False), ("/about?campaign=spring", True), ("/about?campaign=autumn", False)):
        at_edge = ask(f"{HERE}/slots/header", headers={"Navrel-Page": path})
        stated = ask(f"{HERE}/slots/header", data={"path": path})
        assert at_edge.content == stated.content and (slim in stated.content) is wanted, path
        assert at_edge.headers["Vary"] == "Accept-Encoding, Authorization, Navrel-Page"
        assert stated.headers["Vary"] == "Accept-Encoding, Authorization"
        # What is stated counts before what an edge says.
        both = ask(f"{HERE}/slots/header", data={"path": path}, headers={"Navrel-Page": "/help"})
        assert both.content == stated.content
    line = json.dumps({"path": "/about?campaign=spring"}).encode()
    (one,) = ask(f"{HERE}/many", method="post", data=line, content_type="application/jsonl").lines
    assert one["slots"]["header"]["pieces"] == ["slim-header"]
    assert ask(f"{HERE}/slots/header", headers={"Navrel-Page": "/no/such"}).status_code == 404


def test_what_an_edge_says_of_the_page_is_kept_apart(public, token):  # noqa: F811
    shown = {"authorization": f"Bearer {token}"}
    pages = {
        path: public.get(f"{HERE}/slots/header", navrel_page=path, **shown) for path in ("/about", "/checkout/pay")
    }
    assert len({body for _, _, body in pages.values()}) == 2
    for path, answer in pages.items():
        assert public.get(f"{HERE}/slots/header", navrel_page=path, **shown) == answer


def test_a_slot_that_is_left_empty_is_told_from_one_that_nothing_is_set_in(ask, api):
    api.post(
        "rules",
        {
            **RULE,
            "name": "None",
            "condition": {"include": "page:/about"},
            "actions": [{"do": "empty", "slot": "header"}],
        },
    )
    publish("marrowick", None, "")
    assert ask(f"{HERE}/slots/header", data={"path": "/about"}).content == b"\n"
    assert ask(f"{HERE}/slots/nowhere", data={"path": "/about"}).content == b""


def test_a_known_answer_is_kept_and_nothing_is_drawn_again(public, token, monkeypatch):  # noqa: F811
    shown = {"authorization": f"Bearer {token}"}
    address = f"{HERE}?path=/about&html=yes"
    first = public.get(address, **shown)
    monkeypatch.setattr(layouts, "draw_fragments", None)
    assert public.get(address, **shown) == first and first[0] == "200"
    assert public.get(address, **shown, if_none_match=first[1]["ETag"])[0] == "304"
    # Kept or not, it is for whoever shows a token that holds.
    assert [public.get(address, **more)[0] for more in ({}, {"authorization": "Bearer navrel_x"})] == ["401", "401"]
    take_token_back(Token.objects.get().user, Token.objects.get().pk)
    layout_asked.TOKENS.clear()
    assert public.get(address, **shown)[0] == "401"


def test_many_are_asked_about_at_once_and_all(ask, site):
    lines = [{"path": "/about"}, {"path": "/help", "visitor": "device:phone", "at": "2026-12-04T19:00"}, {"path": "/no"},
             {"path": "/about", "visitor": "nonsense:1"}, {"path": "/about", "at": "soon"}, {"page": "/about"}, [], {"path": 5}]  # fmt: skip
    body = b"\n".join([*(json.dumps(line).encode() for line in lines), b"{", b"\xff", b""])
    answer = ask(f"{HERE}/many", method="post", data=body, content_type="application/jsonl")
    assert answer.headers["Content-Type"] == "application/jsonl" and len(answer.lines) == len(lines) + 2
    good, bad = answer.lines[:2], answer.lines[2:]
    assert [is_described(line, "Layout")["path"] for line in good] == ["/about", "/help"]
    assert good[0] == ask(HERE, data={"path": "/about", "visitor": ""}).json()
    assert [is_described(line, "Refused")["error"]["code"] for line in bad] == [
        "no-page", "unknown-fact", "bad-moment", "unknown-key", "not-asked", "not-asked", "not-json", "not-json",
    ]  # fmt: skip
    every = ask(f"{HERE}/all", data={"visitor": "device:phone"})
    assert [is_described(line, "Layout")["path"] for line in every.lines] == [
        page.path for page in live(site).index.tree.pages
    ]
    for line in every.lines:
        pieces = {name: one["pieces"] for name, one in line["slots"].items()}
        assert pieces.items() <= seen(site, line["path"], "device:phone").items()
    too_many = ask(f"{HERE}/many", method="post", data=b'{"path":"/"}\n' * 10_001, content_type="application/jsonl")
    too_large = ask(
        f"{HERE}/many", method="post", data=b" " * (layouts.MOST_BYTES + 1), content_type="application/jsonl"
    )
    assert [one.json()["code"] for one in (too_many, too_large)] == ["too-many", "too-large"]


def test_what_changed_since_a_revision_is_told(ask, api, site):
    before = live(site).revision.number
    nothing = is_described(ask(f"{HERE}/changes", data={"since": before}).json(), "Changes")
    assert nothing == {"since": before, "revision": before, "changed": [], "added": [], "gone": []}
    api.post("rules", {**RULE, "condition": {"include": "within:/harbours"}})
    publish("marrowick", None, "")
    told = is_described(ask(f"{HERE}/changes", data={"since": before}).json(), "Changes")
    harbours = sorted(page.path for page in live(site).document.pages if page.path.startswith("/harbours"))
    assert told == {"since": before, "revision": before + 1, "changed": harbours, "added": [], "gone": []}
    for since, code in (
        (before + 2, "not-yet"),
        (0, "no-revision"),
        ("x", "bad-since"),
        ("", "no-since"),
        ("9" * 30, "bad-since"),
    ):
        assert ask(f"{HERE}/changes", data={"since": since}).json()["code"] == code


def test_nobody_waits_long_for_what_changed(ask, api, site, monkeypatch):
    before = live(site).revision.number
    for path in ("/about", "/contact", "/help"):
        api.post("rules", {**RULE, "name": path, "condition": {"include": f"page:{path}"}})
        publish("marrowick", None, "")
    goes_on = Event()
    works_out = changed._compare
    monkeypatch.setattr(changed, "_compare", lambda *asked: goes_on.wait(60) and works_out(*asked))
    monkeypatch.setattr(changed, "_MOST_WAITING", 2)
    comparing = changed.Comparing(patience=0.05)
    monkeypatch.setattr(layouts, "COMPARING", comparing)
    try:
        for since, code in (
            (before, "not-ready"),
            (before + 1, "not-ready"),
            (before + 2, "busy"),
            (before, "not-ready"),
        ):
            answer = ask(f"{HERE}/changes", data={"since": since})
            assert (answer.status_code, answer.headers["Retry-After"]) == (503, "5")
            assert is_described(answer.json(), "Problem")["code"] == code
    finally:
        goes_on.set()
    comparing.patience = 60
    for since in (before, before + 1, before + 2):
        told = is_described(ask(f"{HERE}/changes", data={"since": since}).json(), "Changes")
        assert (told["since"], told["revision"]) == (since, before + 3)
        assert told["changed"] == ["/about", "/contact", "/help"][since - before :]


@pytest.mark.parametrize(
    ("data", "status", "code"),
    [
        ({}, 400, "no-path"),
        ({"path": "/no/such"}, 404, "no-page"),
        ({"path": "/about", "html": "1"}, 400, "bad-html"),
        ({"path": "/about", "colour": "red"}, 400, "unknown-parameter"),
        ({"path": ["/about", "/help"]}, 400, "repeated-parameter"),
        ({"path": "/about", "visitor": "role:crew"}, 422, "role-signed-out"),
        ({"path": "/about", "visitor": "x" * 9000}, 422, "no-colon"),
        ({"path": "/about", "at": "2026-99-99"}, 422, "bad-moment"),
    ],
)
def test_what_is_wrong_is_told(ask, data, status, code):
    answer = ask(HERE, data=data)
    assert (answer.status_code, answer.headers["Content-Type"]) == (status, "application/problem+json")
    assert is_described(answer.json(), "Problem")["code"] == code


def test_a_token_shows_its_site_and_what_is_published_alone(ask, api, user, token):
    assert ask(HERE, data={"path": "/about"}, show="").headers["WWW-Authenticate"] == 'Bearer realm="Navrel"'
    for show in ("", "x", "navrel_x", token[:-1]):
        assert ask(HERE, data={"path": "/about"}, show=show).status_code == 401
    for place in ("layout", "rules", "pages"):
        asked = Client().get(f"/api/sites/marrowick/{place}", headers={"Authorization": f"Bearer {token}"})
        assert (asked.status_code, asked.json()["code"]) == (401, "published-token")
    make_empty_site("skerry", "Skerry", by=user)
    assert ask("/-/layout/v1/skerry", data={"path": "/"}).json()["code"] == "no-site"
    other = make_token(user, Site.objects.get(slug="skerry"), "other", "viewer", 1)[1]
    assert ask(HERE, data={"path": "/about"}, show=other).json()["code"] == "no-site"
    assert ask("/-/layout/v1/skerry", data={"path": "/"}, show=other).json()["code"] == "nothing-published"
    Token.objects.filter(name="shop").update(ends=timezone.now() - timedelta(seconds=1))
    assert ask(HERE, data={"path": "/about"}).status_code == 401
    Token.objects.filter(name="shop").update(ends=timezone.now() + timedelta(days=1))
    Membership.objects.filter(user=user, site__slug="marrowick").delete()
    assert ask(HERE, data={"path": "/about"}).status_code == 404


def test_it_is_described_and_nothing_else_is_there(ask):
    told = ask("/-/layout/v1/openapi.json", show="")
    assert told.json() == DESCRIPTION
    shapes = {pattern.pattern.regex.pattern.removeprefix("^").removesuffix("$") for pattern in urlpatterns}
    assert len(shapes) == len(DESCRIPTION["paths"])
    for path, operations in DESCRIPTION["paths"].items():
        filled = path.replace("{site}", "marrowick").replace("{slot}", "header")
        for method in ("get", "post", "put", "delete"):
            status = ask(filled, method=method, show="").status_code
            assert (status == 405) == (method not in operations), (method, path)
    assert ask("/-/layout/v1/marrowick/else").status_code == 404
