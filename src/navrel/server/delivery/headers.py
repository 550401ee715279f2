"""Security headers of the published site: on every answer, errors included."""

from __future__ import annotations

import re
from collections.abc import Callable
from http import HTTPStatus

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

_WRITTEN = re.compile(r"text/|application/(?:[\w.-]+\+)?(?:json|xml|javascript)|image/svg")

#: A page cannot run scripts, be framed elsewhere, or send anything but its own forms.
POLICY = (
    "default-src 'none'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; media-src 'self'; "
    "form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
)


def in_place_policy(*, scripts: bool) -> str:
    """The policy of a page in its own HTML, which brings what it brings; its scripts run where the owner says so."""
    runs = "* 'unsafe-inline' 'unsafe-eval' blob:" if scripts else "'none'"
    return f"default-src * data: blob: 'unsafe-inline'; script-src {runs}; object-src 'none'; frame-ancestors 'none'"


HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "strict-origin-when-cross-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=()",
    "Cross-Origin-Opener-Policy": "same-origin",
}


class Squeeze(GZipMiddleware):
    """Compress what is written; pictures, sound and fonts are compressed as they are."""

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        """The response, compressed where that makes it smaller."""
        # What is kept is squeezed where it is kept; a part tells where it stands in what is not squeezed.
        kept, part = hasattr(response, "hung"), response.status_code == HTTPStatus.PARTIAL_CONTENT
        if kept or part or not _WRITTEN.match(response.headers.get("Content-Type", "")):
            return response
        return super().process_response(request, response)


class SafeHeaders:
    """Middleware that stands first, so that what any other answers passes through it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response
