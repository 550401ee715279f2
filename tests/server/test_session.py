"""Sign-in, the API's border, and its published schema."""

from pathlib import Path

import pytest
from django.conf import settings
from django.test import Client

ROOT = Path(__file__).parents[2]


@pytest.fixture
def visitor(db, settings, django_user_model):
    settings.ALLOWED_HOSTS = ["testserver"]
    django_user_model.objects.create_user("una", password="kettle")
    return Client(enforce_csrf_checks=True)


def token(client):
    client.get("/api/session")
    return {"X-CSRFToken": client.cookies[settings.CSRF_COOKIE_NAME].value}


def sign_in(client, password="kettle", headers=None):
    body = {"username": "una", "password": password}
    return client.post("/api/session", body, content_type="application/json", headers=headers or token(client))


def test_signing_in_and_out(visitor):
    assert visitor.get("/api/session").json()["username"] is None
    assert sign_in(visitor).json()["username"] == "una"
    assert visitor.get("/api/sites").status_code == 200
    assert visitor.delete("/api/session", headers=token(visitor)).status_code == 204
    assert visitor.get("/api/sites").status_code == 401


def test_a_wrong_password_is_refused_without_saying_which_was_wrong(visitor):
    answer = sign_in(visitor, "tea")
    assert (answer.status_code, answer.json()["title"]) == (401, "This name and password do not belong together")


def test_a_write_without_the_csrf_token_is_refused(visitor):
    assert sign_in(visitor, headers={"X-None": "x"}).status_code == 403
    sign_in(visitor)
    answer = visitor.post("/api/sites/marrowick/rules", {"name": "x"}, content_type="application/json")
    assert answer.status_code == 403


@pytest.mark.parametrize(
    "path", ["rules", "pages", "layout", "pieces", "impact", "edits", "revisions", "preview?path=/"]
)
def test_nothing_is_told_to_those_not_signed_in(visitor, path):
    answer = visitor.get(f"/api/sites/marrowick/{path}")
    assert (answer.status_code, answer.headers["WWW-Authenticate"]) == (401, 'Session realm="Navrel"')
    assert answer.headers["Content-Type"] == "application/problem+json"


def test_the_demo_account_is_offered_in_demo_mode_only(visitor, settings):
    settings.DEMO = True
    assert visitor.get("/api/session").json()["demo"] == {"username": "demo", "password": "marrowick"}
    settings.DEMO = False
    assert visitor.get("/api/session").json()["demo"] is None


def test_the_interface_is_served_for_its_own_addresses_with_a_policy(visitor):
    answer = visitor.get("/marrowick/rules/3")
    assert answer.status_code == 200
    assert "script-src 'self'" in answer.headers["Content-Security-Policy"]
    assert visitor.get("/assets/old.js").status_code == 404


def test_a_body_that_is_no_json_is_a_problem(visitor):
    sign_in(visitor)
    answer = visitor.post("/api/sites/marrowick/rules", "{", content_type="application/json", headers=token(visitor))
    assert answer.status_code == 400
    assert answer.headers["Content-Type"] == "application/problem+json"
