"""Security headers of the application's own pages."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

#: The interface styles itself from script, so inline styles are allowed; scripts come from its own files alone.
POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
    "font-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)


class SecurityHeaders:
    """Middleware that sets the Content-Security-Policy on every response, static files included."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response
