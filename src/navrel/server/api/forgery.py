"""What a write without the token against forged requests is answered."""

from __future__ import annotations

from django.http import HttpRequest, JsonResponse

from .errors import plain_problem


def refused(request: HttpRequest, reason: str = "") -> JsonResponse:
    """403 as Problem Details; ``reason`` is Django's."""
    return plain_problem(403, "forged", "The token against forged requests is missing", "Load the page anew.")
