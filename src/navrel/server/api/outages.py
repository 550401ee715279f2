"""One clear answer while the database does not answer: 503 with Retry-After (RFC 9110, sections 10.2.3 and 15.6.4)."""

from __future__ import annotations

import logging
from collections.abc import Callable

from django.db import InterfaceError, OperationalError, connections
from django.http import HttpRequest, HttpResponse

from navrel.server.api.errors import plain_problem

#: Seconds after which asking again is worth it: the launcher starts the database anew within them.
RETRY_AFTER = 3
log = logging.getLogger(__name__)


class Outages:
    """Middleware that answers for whatever could not reach the database, and lets go of the broken connection."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        if not isinstance(error, OperationalError | InterfaceError):
            return None
        log.warning(
            "The database did not answer %s: %s", request.path, str(error).splitlines()[0] if str(error) else ""
        )
        connections.close_all()
        headers = {"Retry-After": str(RETRY_AFTER)}
        if not request.path.startswith("/api"):
            text = "This is not available for a moment. Try again in a few seconds.\n"
            return HttpResponse(text, status=503, content_type="text/plain", headers=headers)
        return plain_problem(
            503,
            "unavailable",
            "The database does not answer",
            "It is being started again. Try again in a few seconds.",
            **headers,
        )
