"""One shape for every error: Problem Details (RFC 9457), with the problems of a document as an extension."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework import exceptions, status
from rest_framework.response import Response
from rest_framework.views import exception_handler

from navrel.core.errors import DocumentError, Problem, QueryError

CONTENT_TYPE = "application/problem+json"
#: Codes of problems that lie in how a request is written, not in what it asks for.
_MALFORMED = ("type", "character", "syntax")


class Refused(Exception):
    """A service refuses: a title that says what is wrong, a detail that says what to do, and a code for machines.

    ``more`` goes into the response as it is, such as both versions of a rule that two people edited.
    """

    status: int = status.HTTP_422_UNPROCESSABLE_ENTITY

    def __init__(
        self, code: str, title: str, detail: str = "", problems: list[Problem] | None = None, **more: Any
    ) -> None:
        super().__init__(title)
        self.code = code
        self.title = title
        self.detail = detail
        self.problems = problems or []
        self.more = more


class Malformed(Refused):
    """The request is not written as it has to be."""

    status = status.HTTP_400_BAD_REQUEST


class Missing(Refused):
    """What is asked about is not there."""

    status = status.HTTP_404_NOT_FOUND


class NoVersion(Refused):
    """A write has to name the version that it was made from (RFC 6585, section 3)."""

    status = status.HTTP_428_PRECONDITION_REQUIRED


class InTheWay(Refused):
    """The state of the site stands in the way of what is asked for."""

    status = status.HTTP_409_CONFLICT


class Outdated(Refused):
    """The version that the change was made from is no longer the newest (RFC 9110, If-Match)."""

    status = status.HTTP_412_PRECONDITION_FAILED

    @classmethod
    def check(cls, name: str, version: int, made_from: int, theirs: dict[str, Any]) -> None:
        """Raise unless a change was made from the newest version; ``theirs`` is that one."""
        if version != made_from:
            raise cls(
                "changed-meanwhile",
                f"{name} was changed while you edited it",
                "Compare the two versions, then keep yours or take theirs.",
                theirs=theirs,
                version=version,
            )


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Django REST framework's exception handler."""
    if isinstance(error, DocumentError):
        malformed = any(problem.code in _MALFORMED for problem in error.problems)
        error = (Malformed if malformed else Refused)("invalid", _summary(error.problems), problems=error.problems)
    if isinstance(error, QueryError):
        error = Refused("invalid-query", str(error), problems=[Problem.of_query("/query", error)])
    if isinstance(error, Refused):
        return _respond(
            error.status, error.code, error.title, error.detail, {"problems": _listed(error.problems), **error.more}
        )
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, exceptions.ValidationError):
        problems = _flatten("", error.detail)
        title = _summary(problems)
        return _respond(response.status_code, "invalid", title, "", {"problems": _listed(problems)})
    code, title = "error", "The request failed"
    if isinstance(error, exceptions.APIException):
        code, title = str(error.default_code), str(error.detail)
    elif isinstance(error, Http404):
        code, title = "not-found", str(error) or "There is nothing at this address"
    elif isinstance(error, PermissionDenied):
        code, title = "forbidden", "This account may not do that"
    return _respond(response.status_code, code, title, "", {}, dict(response.headers))


def _respond(
    code_number: int, code: str, title: str, detail: str, more: dict[str, Any], headers: dict[str, str] | None = None
) -> Response:
    body = {"type": f"about:blank#{code}", "title": title, "status": code_number, "detail": detail, "code": code}
    kept = {key: value for key, value in (headers or {}).items() if key.lower() != "content-type"}
    return Response({**body, **more}, status=code_number, headers=kept, content_type=CONTENT_TYPE)


def _summary(problems: list[Problem]) -> str:
    if not problems:
        return "The request cannot be used"
    more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
    return f"{problems[0].message}{more}"


def _listed(problems: list[Problem]) -> list[dict[str, Any]]:
    return [
        {
            "pointer": problem.pointer, "message": problem.message, "code": problem.code,
            "column": problem.column, "length": problem.length,
        }
        for problem in problems[:100]
    ]  # fmt: skip


def _flatten(pointer: str, detail: Any) -> list[Problem]:
    """A serializer's nested errors as a list of problems."""
    if isinstance(detail, dict):
        return [problem for key, value in detail.items() for problem in _flatten(f"{pointer}/{key}", value)]
    if isinstance(detail, list) and any(isinstance(item, dict | list) for item in detail):
        return [problem for number, item in enumerate(detail) for problem in _flatten(f"{pointer}/{number}", item)]
    texts = detail if isinstance(detail, list) else [detail]
    return [Problem(pointer, str(text), getattr(text, "code", "invalid")) for text in texts]
