"""What the API says of itself: complete, in rooms, the same as the front end's types; and held to by its answers."""

import json
from pathlib import Path

import pytest

from navrel.server.urls import ROOMS

from .contract import METHODS, description, what_is_wrong

ROOT = Path(__file__).parents[2]


def operations():
    for path, methods in description()["paths"].items():
        for method in METHODS:
            if method in methods:
                yield path, method, methods[method]


def test_every_operation_stands_in_a_room_and_says_what_it_does():
    for path, method, operation in operations():
        assert operation["tags"][0] in (*ROOMS, "views"), (method, path)
        assert len(operation.get("description", "")) > 10, (method, path)


def test_every_parameter_and_property_is_described():
    lacking = [
        f"{method} {path} {parameter['name']}"
        for path, method, operation in operations()
        for parameter in operation.get("parameters", [])
        if parameter["in"] != "path" and not parameter.get("description")
    ]
    for name, shape in description()["components"]["schemas"].items():
        if shape.get("type") == "object" and not name.endswith("List"):
            assert shape.get("description"), name
        lacking += [
            f"{name}.{key}" for key, value in shape.get("properties", {}).items() if not value.get("description")
        ]
    assert lacking == []


def test_every_operation_gives_the_errors_that_any_like_it_gives():
    for path, method, operation in operations():
        given = set(operation["responses"])
        if path.startswith("/api/schema"):
            continue
        assert "503" in given
        if "{site}" in path:
            assert {"401", "404"} <= given, (method, path)
        if method != "get":
            assert {"400", "403"} <= given, (method, path)
        for code in given:
            if code >= "400":
                assert list(operation["responses"][code]["content"]) == ["application/problem+json"]


def test_what_is_written_of_the_api_is_what_it_is():
    """`./navrel api` writes the description, and the front end's types from it, anew."""
    assert json.loads((ROOT / "docs" / "openapi.json").read_text("utf-8")) == description(), "run ./navrel api"
    types = (ROOT / "frontend" / "src" / "api" / "schema.d.ts").read_text("utf-8")
    for path, _, operation in operations():
        assert f'"{path}"' in types and f"{operation['operationId']}: {{" in types, "run ./navrel api"
    for name, shape in description()["components"]["schemas"].items():
        assert all(key in types for key in (name, *shape.get("properties", {}))), "run ./navrel api"


@pytest.mark.parametrize(
    ("method", "address", "status", "media_type", "body", "wrong"),
    [
        ("GET", "/api/sites/x/rules/3", 418, "application/json", b"{}", "answered 418"),
        ("GET", "/api/sites/x/rules/3", 200, "text/html", b"<p>", "with text/html"),
        ("GET", "/api/sites/x/rules/3", 200, "application/json", b'{"id": "three"}', "$.id"),
        ("GET", "/api/sites", 200, "application/json", b'{"total":0,"offset":0,"items":[],"x":1}', "x"),
        ("GET", "/api/sites", 200, "application/json", b'{"total":0,"offset":0,"items":[]}', ""),
        ("DELETE", "/api/session", 204, "", b"", ""),
        ("GET", "/elsewhere", 200, "text/html", b"<p>", ""),
    ],
)
def test_an_answer_that_is_not_described_is_noticed(method, address, status, media_type, body, wrong):
    found = what_is_wrong(method, address, status, media_type, body)
    assert wrong in found if wrong else found == ""
