"""One shape for every error: Problem Details (RFC 9457), with the single problems as an extension."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.http import JsonResponse
from rest_framework import status

from navrel.core.errors import Problem, QueryError, ScheduleError

CONTENT_TYPE = "application/problem+json"


@dataclass(frozen=True)
class ParameterProblem:
    """One thing that is wrong with a parameter of the address, or with a header; else as `Problem`."""

    parameter: str
    message: str
    code: str = "invalid"
    column: int = 0
    length: int = 0
    hint: str = ""

    @classmethod
    def of(cls, parameter: str, error: QueryError | ScheduleError) -> ParameterProblem:
        """The problem that a parameter's text has."""
        column, length = (error.column, error.length) if isinstance(error, QueryError) else (0, 0)
        return cls(parameter, error.message, error.code, column, length, error.hint)


class Refused(Exception):
    """A service refuses: a title that says what is wrong, a detail that says what to do, and a code for machines.

    ``more`` goes into the response as it is, such as both versions of a rule that two people edited.
    """

    status: int = status.HTTP_422_UNPROCESSABLE_ENTITY

    def __init__(
        self,
        code: str,
        title: str,
        detail: str = "",
        problems: list[Problem | ParameterProblem] | None = None,
        **more: Any,
    ) -> None:
        super().__init__(title)
        self.code = code
        self.title = title
        self.detail = detail
        self.problems = problems or []
        self.more = more

    @classmethod
    def for_parameter(cls, problem: ParameterProblem) -> Refused:
        """What is wrong with a parameter, or with a header."""
        return cls(problem.code, problem.message, problem.hint, [problem])


class Malformed(Refused):
    """The request is not written as it has to be."""

    status = status.HTTP_400_BAD_REQUEST


class Unknown(Refused):
    """Nobody is signed in, or not as whom they say (RFC 9110, section 15.5.2)."""

    status = status.HTTP_401_UNAUTHORIZED


class Forbidden(Refused):
    """Whoever asks may not do that (RFC 9110, section 15.5.4)."""

    status = status.HTTP_403_FORBIDDEN


class Missing(Refused):
    """What is asked about is not there."""

    status = status.HTTP_404_NOT_FOUND


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


class TooMany(Refused):
    """It was asked for too often (RFC 6585, section 4)."""

    status = status.HTTP_429_TOO_MANY_REQUESTS


class Unavailable(Refused):
    """There is nothing to answer with yet (RFC 9110, section 15.6.4)."""

    status = status.HTTP_503_SERVICE_UNAVAILABLE


class NoVersion(Refused):
    """A write has to name the version that it was made from (RFC 6585, section 3)."""

    status = status.HTTP_428_PRECONDITION_REQUIRED


def body_of_problem(code_number: int, code: str, title: str, detail: str = "", **more: Any) -> dict[str, Any]:
    """An error as Problem Details; ``problems`` are the single ones where there are any."""
    return {
        "type": f"about:blank#{code}", "title": title, "status": code_number, "detail": detail, "code": code,
        "problems": [], **more,
    }  # fmt: skip


def plain_problem(code_number: int, code: str, title: str, detail: str = "", **headers: str) -> JsonResponse:
    """An error outside of any view of the API."""
    body = body_of_problem(code_number, code, title, detail)
    return JsonResponse(body, status=code_number, content_type=CONTENT_TYPE, headers=headers)
