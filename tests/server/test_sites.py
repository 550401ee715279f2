"""Several sites beside each other: made, set up, served each under its own name, put away and brought back."""

import pytest
from django.test import Client, override_settings
from django.utils import timezone

from navrel.server.inventory.models import Site
from navrel.server.inventory.services import finish_intake, make_empty_site, start_intake
from navrel.server.inventory.staging import stage_files
from navrel.server.publishing.hosts import published_origin
from navrel.server.publishing.services import publish
from navrel.server.settings import delivery

SET_UP = {
    "name": "Skerry Line", "base_url": "https://skerry.example", "language": "nb", "time_zone": "Europe/Oslo",
    "roles": ["deck"], "default_template": "", "form": "in-place", "scripts": True,
}  # fmt: skip


@pytest.fixture
def second(api):
    """A second site, which una owns too, with one page that is live."""
    una = api.client.get("/api/session").json()["username"]
    user = Site.objects.get(slug="marrowick").memberships.get(user__username=una).user
    site = make_empty_site("skerry", "Skerry", by=user)
    intake = start_intake("skerry", user)
    stage_files(intake, [("index.html", b"<title>Skerry</title><body><main>Boats to the skerries</main>")])
    finish_intake(intake)
    publish("skerry", user, "")
    return site


@pytest.fixture
def public(site):
    with override_settings(
        ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE, ALLOWED_HOSTS=["127.0.0.1"]
    ):
        yield lambda host, path="/", **more: Client().get(path, headers={"Host": host}, **more)


def say_anew(api, facts, site="skerry"):
    version = api.get(f"/api/sites/{site}/set-up").json()["version"]
    return api.put(f"/api/sites/{site}/set-up", facts, version)


def names(api, **query):
    return [one["name"] for one in api.get("/api/sites", **query).json()["items"]]


def test_each_site_is_served_under_its_own_name_and_the_first_under_the_servers(api, second, public):
    assert "Boats to the skerries" in public("skerry.localhost:8421").content.decode()
    assert "Marrowick" in public("127.0.0.1:8421").content.decode()
    assert "Marrowick" in public("MARROWICK.localhost").content.decode()
    assert public("nobody.example").status_code == 404
    # Where one is alone, every name is its own but those below localhost.
    Site.objects.filter(slug="skerry").update(archived=timezone.now())
    assert (public("nobody.example").status_code, public("skerry.localhost").status_code) == (200, 404)
    Site.objects.filter(slug="skerry").update(archived=None)
    # On a port of its own it is served under every name, and told to be there.
    with override_settings(SITE_PORTS={"8430": "skerry", "8431": "nobody"}):
        assert "Boats to the skerries" in public("127.0.0.1:8430", SERVER_PORT="8430").content.decode()
        assert public("127.0.0.1:8431", SERVER_PORT="8431").status_code == 404
        assert published_origin(second) == "http://127.0.0.1:8430"
    # One that was read from the server itself does not take its name.
    Site.objects.filter(slug="skerry").update(base_url="http://127.0.0.1:8421")
    assert "Marrowick" in public("127.0.0.1:8421").content.decode()
    # The host of its address is its own as well.
    with override_settings(ROOT_URLCONF="navrel.server.urls", ALLOWED_HOSTS=["testserver"]):
        assert say_anew(api, SET_UP).status_code == 200
    assert "Boats to the skerries" in public("skerry.example").content.decode()


def test_a_site_is_served_below_a_path_of_the_host_of_another(second, public):
    page = (
        b"""<title>Inner</title><link rel=stylesheet href="/site.css"><body><main>Inner <a href="/">back</a></main>"""
    )
    intake = start_intake("skerry", None)
    stage_files(intake, [("index.html", b"<title>Skerry</title><body><main>Boats</main>"), ("inner.html", page),
                         ("site.css", b"p{background:url(/boat.svg)}"), ("boat.svg", b"<svg/>")])  # fmt: skip
    finish_intake(intake)
    publish("skerry", None, "")
    with override_settings(SITE_PREFIXES={"/out/skerry": "skerry", "/gone": "nobody"}):
        assert published_origin(second) == "http://127.0.0.1:8421/out/skerry"
        assert public("127.0.0.1:8421", "/out/skerry?q=1").headers["Location"] == "/out/skerry/?q=1"
        assert public("127.0.0.1:8421", "/out/skerry/inner").headers["Location"] == "/out/skerry/inner.html"
        inner = public("127.0.0.1:8421", "/out/skerry/inner.html").content.decode()
        assert '<a href="/out/skerry/">back</a>' in inner and 'href="/out/skerry/-/site-' in inner
        style = public("127.0.0.1:8421", "/out/skerry/site.css")
        assert style.content == b"p{background:url(/out/skerry/boat.svg)}" and style.headers["ETag"]
        assert b"".join(public("127.0.0.1:8421", "/out/skerry/boat.svg")) == b"<svg/>"
        own = next(part for part in inner.split('"') if "/-/site-" in part)
        assert public("127.0.0.1:8421", own).headers["Content-Type"].startswith("text/css")
        assert public("127.0.0.1:8421", "/gone/x").status_code == 404
        assert "Marrowick" in public("127.0.0.1:8421", "/").content.decode()
        assert public("127.0.0.1:8421", "/out/skerryx").status_code == 404


def test_what_a_site_is_is_an_edit_that_can_be_undone_and_published(api, second):
    assert say_anew(api, SET_UP).json()["facts"] == SET_UP
    info = api.get("/api/sites/skerry").json()
    assert (info["name"], info["language"], info["edits"]) == ("Skerry Line", "nb", 1)
    assert info["undo"]["words"] == ("Site: name Skerry Line, address https://skerry.example, language nb, and 4 more")
    assert api.get("/api/sites/skerry/page", path="/").json()["language"] == "nb"
    words = [one["words"] for one in api.get("/api/sites/skerry/impact").json()["changes"]]
    assert words == [info["undo"]["words"], "1 page with other facts"]
    api.post(f"/api/sites/skerry/edits/{info['undo']['number']}/undo")
    assert api.get("/api/sites/skerry/set-up").json()["facts"]["name"] == "Skerry"
    assert api.get("/api/sites/skerry/page", path="/").json()["language"] == "en"


@pytest.mark.parametrize(
    ("fact", "value"),
    [
        ("name", ""), ("name", "x" * 81), ("base_url", "skerry"), ("base_url", "javascript:alert(1)"), ("language", "Norwegian!"),
        ("time_zone", "Mars/Olympus"), ("time_zone", "../etc/passwd"), ("roles", ["x" * 51]), ("default_template", "main-header"),
        ("default_template", "gone"),
    ],
)  # fmt: skip
def test_what_a_site_cannot_be_is_refused_in_its_place(api, fact, value):
    kept = api.get("set-up").json()["facts"]
    answer = say_anew(api, {**kept, fact: value}, "marrowick")
    assert answer.status_code in (400, 422)
    assert fact in str(answer.json()["problems"])
    assert api.get("set-up").json()["facts"] == kept


def test_two_who_set_a_site_up_at_once_are_told(api):
    kept = api.get("set-up").json()
    assert api.put("set-up", {**kept["facts"], "roles": ["crew"]}, kept["version"]).status_code == 200
    late = api.put("set-up", {**kept["facts"], "name": "Late"}, kept["version"])
    assert late.status_code == 412
    assert late.json()["theirs"]["roles"] == ["crew"]


def test_a_site_that_is_put_away_is_neither_listed_nor_served_and_comes_back_as_it_was(api, second, public):
    with override_settings(ROOT_URLCONF="navrel.server.urls", ALLOWED_HOSTS=["testserver"]):
        before = api.get("/api/sites/skerry/pages").json()
        assert api.client.put("/api/sites/skerry/archived").status_code == 204
        assert (names(api), names(api, archived="true")) == (["Marrowick Ferries"], ["Skerry"])
        assert api.get("/api/sites/skerry").json()["archived"] is True
    assert public("skerry.localhost").status_code == 404
    with override_settings(ROOT_URLCONF="navrel.server.urls", ALLOWED_HOSTS=["testserver"]):
        assert api.client.delete("/api/sites/skerry/archived").status_code == 204
        assert names(api) == ["Marrowick Ferries", "Skerry"]
        assert api.get("/api/sites/skerry/pages").json() == before
    assert public("skerry.localhost").status_code == 200


def test_taking_pages_into_one_site_leaves_the_other_as_it_is(api, second):
    before = api.get("pages").json()
    intake = start_intake("skerry", None)
    stage_files(intake, [("other.html", b"<title>Other</title><body><main>Now</main>")])
    assert finish_intake(intake)["gone"] == 1
    assert api.get("pages").json() == before


def test_a_demo_is_run_by_its_own_account(api, settings, django_user_model):
    settings.DEMO = True
    body = {"name": "Skerry", "slug": "skerry", "address": ""}
    assert api.post("/api/sites", body).status_code == 403
    demo, _ = django_user_model.objects.get_or_create(username=settings.DEMO_ACCOUNT[0])
    api.client.force_login(demo)
    assert api.client.get("/api/session").json()["runs"] is True
    made = api.post("/api/sites", body)
    assert (made.status_code, made.json()["published_origin"]) == (201, "http://skerry.localhost:8421")
    assert api.get("/api/sites/skerry").json()["your_role"] == "owner"
    assert api.post("/api/sites", body).status_code == 422
