"""How an operation of the API describes itself: its room, and every error that it gives."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from drf_spectacular.openapi import AutoSchema
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework.permissions import AllowAny

from navrel.server.accounts.rights import needed

from .errors import CONTENT_TYPE
from .shapes import ProblemDetails

#: What each error says of a request.
_ERRORS = {
    400: "The request is not written as it has to be",
    401: "Nobody is signed in",
    403: "This account may not do that, or the token against forged requests is missing",
    404: "What is asked about is not there",
    409: "The state of the site stands in the way",
    412: "Somebody else changed it meanwhile; the other version comes along",
    413: "The body is too large",
    415: "The body is of a kind that is not read here",
    422: "What was sent cannot be used; each problem has its place",
    428: "The request names no version",
    429: "It was asked for too often",
    503: "The database does not answer; Retry-After says when to ask again",
}
_WRITES = ("POST", "PUT", "DELETE", "PATCH")


class RoomSchema(AutoSchema):
    """Describes an operation under the room of the server that answers it."""

    def get_tags(self) -> list[str]:
        """The name of the room: the package that the view stands in."""
        return [type(self.view).__module__.split(".")[-2]]

    def get_operation(self, *args: Any, **kwargs: Any) -> Any:
        """The operation, with the errors that any like it gives."""
        operation = super().get_operation(*args, **kwargs)
        if operation is not None:
            if "{site}" in self.path:
                operation["x-role"] = needed(self.view, self.method)
            if self.method == "GET":
                known = {"description": "What is known by If-None-Match still holds"}
                operation["responses"].setdefault("304", known)
            for code in self._usual_errors():
                operation["responses"].setdefault(str(code), self._problem(code))
        return operation

    def _usual_errors(self) -> list[int]:
        # Anybody may ask who is signed in, and sign in; but then with the token against forged requests.
        found = [] if not self.view.permission_classes or self._is_open() else [401]
        if self.method in _WRITES:
            found += [403, 413, 415]
        # Whatever an address holds passes a gate first.
        found.append(400)
        if "{site}" in self.path:
            found.append(404)
            if needed(self.view, self.method) != "viewer":
                found.append(403)
        return [*found, 503]

    def _is_open(self) -> bool:
        return any(one is AllowAny for one in self.view.permission_classes)

    def _problem(self, code: int) -> Any:
        return self._get_response_for_code(problem_response(code), str(code), [CONTENT_TYPE])  # type: ignore[no-untyped-call]


def problem_response(code: int) -> OpenApiResponse:
    """An error as an operation states it."""
    return OpenApiResponse(ProblemDetails, description=_ERRORS[code])


def operation(
    name: str,
    *,
    parameters: Sequence[OpenApiParameter] = (),
    request: Any = None,
    responses: Any = None,
    errors: Sequence[int] = (),
    role: str | None = None,
) -> Callable[[Any], Any]:
    """State an operation: its name, what it takes, what it gives, and the errors beyond those that all give.

    ``responses`` is a shape, which then is that of 200, or a shape for each status. ``role``: the role at the site that
    it takes, where that is not `viewer` for what asks and `editor` for what writes.
    """
    found = dict(responses) if isinstance(responses, dict) else {200: responses}
    for code in errors:
        found[(code, CONTENT_TYPE)] = problem_response(code)
    stated = extend_schema(operation_id=name, parameters=list(parameters), request=request, responses=found)

    def state(method: Any) -> Any:
        method.role = role
        return stated(method)

    return state
