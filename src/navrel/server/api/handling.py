"""Every exception that leaves a view, as Problem Details."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework import exceptions, status
from rest_framework.response import Response
from rest_framework.views import exception_handler

from navrel.core.errors import DocumentError, Problem, QueryError
from navrel.server.api.errors import CONTENT_TYPE, Malformed, ParameterProblem, Refused, body_of_problem

from .authentication import CHALLENGE

#: Codes of problems that lie in how a request is written, not in what it asks for: those of the layout file's reader,
#: and those of the fields of requests.
_MALFORMED_TREE = frozenset({"type", "character", "syntax"})
_MALFORMED_FIELD = frozenset({"required", "invalid", "null", "not_a_list", "not_a_dict", "not_a_file", "no_name"})
#: Single problems in one answer.
MOST_PROBLEMS = 100


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Django REST framework's exception handler."""
    if isinstance(error, DocumentError):
        error = _refusal(error.problems, _MALFORMED_TREE)
    if isinstance(error, QueryError):
        error = Refused("invalid-query", error.message, error.hint, [Problem.of_query("/query", error)])
    if isinstance(error, Refused):
        return _respond(error)
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, exceptions.ValidationError):
        return _respond(_refusal(_flatten("", error.detail), _MALFORMED_FIELD))
    refused = Refused("error", "The request failed")
    if isinstance(error, exceptions.NotAuthenticated):
        refused = Refused("not-signed-in", "Nobody is signed in", "Sign in, then try again.")
    elif isinstance(error, exceptions.APIException):
        refused = Refused(str(error.default_code), str(error.detail))
    elif isinstance(error, Http404):
        refused = Refused("not-found", str(error) or "There is nothing at this address")
    elif isinstance(error, PermissionDenied):
        refused = Refused("forbidden", "This account may not do that")
    refused.status = response.status_code
    return _respond(refused, response.headers)


def _respond(refused: Refused, headers: Mapping[str, str] | None = None) -> Response:
    told = {"problems": [_told(problem) for problem in refused.problems[:MOST_PROBLEMS]], **refused.more}
    body = body_of_problem(refused.status, refused.code, refused.title, refused.detail, **told)
    kept = {key: value for key, value in (headers or {}).items() if key.lower() != "content-type"}
    if refused.status == status.HTTP_401_UNAUTHORIZED:
        kept["WWW-Authenticate"] = CHALLENGE
    return Response(body, status=refused.status, headers=kept, content_type=CONTENT_TYPE)


def _told(problem: Problem | ParameterProblem) -> dict[str, Any]:
    return {"pointer": "", "parameter": "", **asdict(problem)}


def _refusal(problems: list[Problem], malformed: frozenset[str]) -> Refused:
    """What a body that cannot be used comes to."""
    kind = Malformed if any(problem.code in malformed for problem in problems) else Refused
    title = problems[0].message if problems else "The request cannot be used"
    more = f"And {len(problems) - 1} more." if len(problems) > 1 else ""
    return kind("invalid", title, more, list(problems))


def _flatten(pointer: str, detail: Any) -> list[Problem]:
    """A serializer's nested errors as a list of problems."""
    if isinstance(detail, dict):
        return [problem for key, value in detail.items() for problem in _flatten(f"{pointer}/{key}", value)]
    if isinstance(detail, list) and any(isinstance(item, dict | list) for item in detail):
        return [problem for number, item in enumerate(detail) for problem in _flatten(f"{pointer}/{number}", item)]
    texts = detail if isinstance(detail, list) else [detail]
    return [Problem(pointer, str(text), getattr(text, "code", "invalid")) for text in texts]
