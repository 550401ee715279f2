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
    """Middleware that sets the Content-Security-Policy on every response, and how the answers of the API are kept."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        if request.path.startswith("/api/"):
            # Kept by the browser, but never used without asking whether it is still so (RFC 9111, section 5.2.2.4).
            response.headers.setdefault("Cache-Control", "private, no-cache")
        return response
