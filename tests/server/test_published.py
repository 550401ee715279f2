"""The published site at its border: where it leads, what it answers with, what it never does."""

from urllib.parse import unquote

import pytest
from django.test import Client, override_settings

from navrel.server.delivery.headers import HEADERS
from navrel.server.publishing.models import Revision
from navrel.server.settings import delivery


@pytest.fixture
def public(site):
    with override_settings(
        ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE, ALLOWED_HOSTS=["testserver"]
    ):
        yield Client(raise_request_exception=False)


#: Paths, and where each leads: a path of the site, or nowhere (404).
REDIRECTS = {
    "/about/": "/about", "/about//": "/about", "//about": "/about", "/about/?q=1&r=a%20b": "/about?q=1&r=a%20b",
    "//evil.example/": None, "///evil.example": None, "/%2f/evil.example/": None, "/%2F%2Fevil.example/..": None,
    "/%5cevil.example/": None, "/\\evil.example/": None, "//evil.example/%2f..": None, "/%09/evil.example": None,
    "/.evil.example/": None, "/about/%0d%0aSet-Cookie:x": None, "/about%00": None, "/about/../contact/": None,
    "/http://evil.example/": None, "/about;x": None, "/ABOUT": None,
}  # fmt: skip


@pytest.mark.parametrize("path", REDIRECTS)
def test_a_redirect_never_leaves_the_site_and_keeps_the_query(public, path):
    # Written into the request as a web server does: the client's own reading of addresses would take hosts out.
    shown, _, query = path.partition("?")
    answer = public.request(REQUEST_METHOD="GET", PATH_INFO=unquote(shown), QUERY_STRING=query)
    target = REDIRECTS[path]
    if target is None:
        assert answer.status_code == 404 and "Location" not in answer.headers
    else:
        assert (answer.status_code, answer.headers["Location"]) == (308, target)
    assert "Set-Cookie" not in answer.headers


@pytest.mark.parametrize(
    "path", ["/", "/about", "/about/", "/no/such", "/admin/", "/static/x", "/search?q=a", "/%ff", "/" + "a" * 5000]
)
@pytest.mark.parametrize("method", ["get", "head", "post", "put", "delete", "options", "trace", "patch"])
def test_every_answer_carries_the_safe_headers(public, path, method):
    answer = getattr(public, method)(path)
    for name, value in HEADERS.items():
        assert answer.headers[name] == value
    reads = method in ("get", "head")
    assert answer.status_code in ((200, 308, 404) if reads else (405,))
    if path in ("/admin/", "/static/x") and reads:
        assert answer.status_code == 404


def test_failures_carry_them_too(public, monkeypatch):
    def broken(*arguments, **more):
        raise ZeroDivisionError

    monkeypatch.setattr("navrel.server.delivery.views.draw_page", broken)
    answer = public.get("/about")
    assert answer.status_code == 500
    assert answer.headers["Content-Security-Policy"] == HEADERS["Content-Security-Policy"]


def test_a_database_that_does_not_answer_is_one_clear_503(public, api, monkeypatch, settings):
    from django.db import OperationalError

    def gone(*arguments, **more):
        raise OperationalError("connection refused\nIs the server running?")

    monkeypatch.setattr("navrel.server.api.outages.connections.close_all", lambda: None)
    monkeypatch.setattr("navrel.server.delivery.views.served_meanwhile", gone)
    answer = public.get("/about")
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "3")
    assert answer.content == b"This is not available for a moment. Try again in a few seconds.\n"


def test_the_application_says_so_as_a_problem(api, monkeypatch):
    from django.db import OperationalError

    def gone(*arguments, **more):
        raise OperationalError("connection refused")

    monkeypatch.setattr("navrel.server.api.outages.connections.close_all", lambda: None)
    monkeypatch.setattr("navrel.server.api.views.draft", gone)
    answer = api.get("layout")
    assert (answer.status_code, answer.headers["Retry-After"], answer.json()["code"]) == (503, "3", "unavailable")
    assert answer.headers["Content-Type"] == "application/problem+json"


def test_no_revision_at_all_is_told_apart_from_one_that_cannot_be_read(public):
    Revision.objects.all().delete()
    assert public.get("/").content == b"Nothing is published here yet.\n"
