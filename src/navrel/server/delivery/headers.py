"""Security headers of the published site: on every answer, errors included."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

#: A page cannot run scripts, be framed elsewhere, or send anything but its own forms.
POLICY = (
    "default-src 'none'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; media-src 'self'; "
    "form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "strict-origin-when-cross-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=()",
    "Cross-Origin-Opener-Policy": "same-origin",
}


class SafeHeaders:
    """Middleware that stands first, so that what any other answers passes through it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response
