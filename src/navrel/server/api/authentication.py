"""Who asks: Django's sessions."""

from __future__ import annotations

from rest_framework.authentication import SessionAuthentication
from rest_framework.request import Request


class SessionOr401(SessionAuthentication):
    """Whoever has no session is told so with 401, where the base class says 403."""

    def authenticate_header(self, request: Request) -> str:
        """The challenge that goes with 401 (RFC 9110, section 11.6.1)."""
        return CHALLENGE


CHALLENGE = 'Session realm="Navrel"'
