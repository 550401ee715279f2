"""An installation without the demo: nobody knows a password there, and the first account is made at a told address."""

import json
import re

import pytest
from navrel_faults.installation import Installation

pytestmark = pytest.mark.xdist_group("running")
DEMO = {"username": "demo", "password": "marrowick"}


@pytest.fixture
def here(tmp_path):
    made = Installation(tmp_path)
    yield made
    made.end()


def test_the_first_account_is_made_once_at_the_told_address_and_makes_the_first_site(here):
    here.start("--empty")
    assert "demo" not in here.said().lower()
    told = re.search(r"First account +http://\S+/_first/(\S+)", here.said())
    assert told
    token = told[1]
    assert json.loads(here.ask("/api/session")[1])["demo"] is None
    assert here.enter("/api/session", DEMO) == 401

    owner = {"username": "maren", "password": "kettle on the hob"}
    assert here.ask("/api/first/forged")[0] == 404
    assert here.enter(f"/api/first/{token}", {**owner, "password": "short"}) == 422
    assert here.enter(f"/api/first/{token}", owner) == 200
    assert here.enter(f"/api/first/{token}", {**owner, "username": "una"}) == 404
    assert json.loads(here.ask("/api/sites")[1])["items"] == []
    assert here.ask("/api/sites", "POST", {"name": "Marrowick Ferries", "slug": "marrowick"})[0] == 201
    assert json.loads(here.ask("/api/sites/marrowick")[1])["your_role"] == "owner"

    # Another start is without the demo too, and tells of no first account any more.
    assert here.run("stop").returncode == 0
    here.start()
    assert "First account" not in here.said()
    assert "Demo sign-in" not in here.said()
    assert here.enter("/api/session", DEMO) == 401
    assert here.enter("/api/session", owner) == 200
    assert [one["slug"] for one in json.loads(here.ask("/api/sites")[1])["items"]] == ["marrowick"]
