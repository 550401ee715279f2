"""The API's description, and whether an answer is one that it describes."""

from __future__ import annotations

import json
import re
from copy import deepcopy
from functools import cache
from typing import Any

from drf_spectacular.generators import SchemaGenerator
from drf_spectacular.renderers import OpenApiJsonRenderer
from jsonschema import Draft202012Validator
from referencing import Registry, Resource
from referencing.jsonschema import DRAFT202012

METHODS = ("get", "put", "post", "delete", "patch")
_ROOT = "urn:navrel"


@cache
def description() -> dict[str, Any]:
    """The OpenAPI document, as the API gives it."""
    document = SchemaGenerator().get_schema(request=None, public=True)
    return json.loads(OpenApiJsonRenderer().render(document, renderer_context={}))


@cache
def _registry() -> Registry:
    """The document with every shape closed: what a shape does not name has no place in an answer."""
    closed = deepcopy(description())
    for shape in closed["components"]["schemas"].values():
        if shape.get("type") == "object" and "properties" in shape:
            shape.setdefault("additionalProperties", False)
    return Registry().with_resource(_ROOT, Resource.from_contents(closed, default_specification=DRAFT202012))


@cache
def _paths() -> list[tuple[re.Pattern[str], str]]:
    found = []
    for path in description()["paths"]:
        pattern = re.sub(r"\\\{number\\\}", r"\\d+", re.escape(path))
        found.append((re.compile(re.sub(r"\\\{\w+\\\}", "[-.:a-zA-Z0-9_]+", pattern) + r"\Z"), path))
    return found


def what_is_wrong(method: str, address: str, status: int, media_type: str, body: bytes) -> str:
    """What the description does not say of an answer; empty where it says all of it, and for other addresses."""
    path = next((path for pattern, path in _paths() if pattern.match(address)), None)
    operation = description()["paths"].get(path or "", {}).get(method.lower())
    if operation is None:
        return ""
    answer = operation["responses"].get(str(status))
    if answer is None:
        return f"{method} {path} answered {status}, which it does not describe"
    content = answer.get("content", {})
    if not body:
        # Of no lines there is nothing.
        return (
            ""
            if not content or status == 304 or "application/jsonl" in content
            else f"{method} {path} answered {status} without a body"
        )
    kind = media_type.split(";")[0]
    if kind not in content:
        return f"{method} {path} answered {status} with {kind}, which it does not describe"
    steps = ("paths", path, method.lower(), "responses", str(status), "content", kind, "schema")
    pointer = "/".join(str(step).replace("~", "~0").replace("/", "~1") for step in steps)
    validator = Draft202012Validator({"$ref": f"{_ROOT}#/{pointer}"}, registry=_registry())
    # What is no text is described as text all the same (OpenAPI, binary).
    told = json.loads(body) if kind.endswith("json") else body.decode(errors="replace")
    errors = [f"{error.json_path}: {error.message[:200]}" for error in validator.iter_errors(told)]
    return f"{method} {path} {status}: {'; '.join(errors[:3])}" if errors else ""
