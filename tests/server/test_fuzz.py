"""Whatever is sent, the API answers as it says it does, and never with an error of its own."""

import json
import os
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis.core import NOT_SET

from navrel.server.accounts import people
from navrel.server.sitestate.locking import find_site
from navrel.server.walks import sharing

from .contract import description

#: Requests for each operation; more for a longer look.
EXAMPLES = int(os.environ.get("NAVREL_FUZZ_EXAMPLES", "6"))
#: What stands in an address where it is to lead somewhere.
KNOWN = {
    "key": "0" * 64,
    "site": "marrowick",
    "piece": "main-header",
    "number": 1,
    "name": "quay.svg",
    "starter": "header-bar",
    "other": 1,
}


def _known(key, path):
    """Something that is there, for a place in an address."""
    if key != "token":
        return KNOWN[key]
    site = find_site("marrowick")
    if "invited" in path:
        return people.token_of(people.open_invitations(site).first() or people.invite(site, "viewer", None))
    return sharing.token_of(sharing.open_links(site).first() or sharing.share(site, ["/about"], "", "", 1, None))


@pytest.fixture(scope="session")
def schema():
    return schemathesis.openapi.from_dict(description())


def _names():
    """Every operation but signing out, after which nothing is answered."""
    return [
        f"{method.upper()} {path}"
        for path, methods in description()["paths"].items()
        for method in methods
        if f"{method} {path}" != "delete /api/session" and path != "/api/schema"
    ]


def _text(value):
    """A value of the address as text; what no address can hold is left to the tests of the gate."""
    return str(value).encode("utf-8", "replace").decode()


def pytest_generate_tests(metafunc):
    """The description needs Django, which is there when the tests are collected."""
    if "name" in metafunc.fixturenames:
        metafunc.parametrize("name", _names())


@settings(
    max_examples=EXAMPLES,
    deadline=None,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
    derandomize=True,
)
@given(st.data())
def test_no_request_is_answered_with_what_is_not_described(api, schema, name, data):
    method, path = name.split(" ", 1)
    case = data.draw(schema[path][method].as_strategy())
    known = data.draw(st.booleans())
    for key in case.path_parameters or {}:
        unknown = 99 if key in ("number", "other") else "nowhere"
        case.path_parameters[key] = _known(key, path) if known else unknown
    headers = {
        key: _text(value).encode("latin-1", "replace").decode("latin-1") for key, value in (case.headers or {}).items()
    }
    query = {key: _text(value) for key, value in (case.query or {}).items()}
    more: dict[str, Any] = {}
    if case.body is not NOT_SET and case.media_type == "multipart/form-data":
        more = {"data": {"names": ["a.html"], "files": []}}
    elif case.body is not NOT_SET:
        more = {"data": json.dumps(case.body, default=str), "content_type": "application/json"}
    ask = getattr(api.client, method.lower())
    response = ask(path.format(**(case.path_parameters or {})), **more, query_params=query, headers=headers)
    assert response.status_code < 500
