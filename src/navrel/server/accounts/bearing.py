"""Who asks, where that is a program with a token."""

from __future__ import annotations

from typing import Any

from rest_framework.authentication import BaseAuthentication, get_authorization_header
from rest_framework.request import Request

from navrel.server.api.authentication import CHALLENGE
from navrel.server.api.errors import Unknown

from .models import PUBLISHED, Token
from .tokens import find_token


class Bearer(BaseAuthentication):
    """A token in the Authorization header (RFC 6750, section 2.1)."""

    def authenticate(self, request: Request) -> tuple[Any, Token] | None:
        """Whoever made the token, and the token; None where there is none. Raises Unknown where it does not hold."""
        scheme, _, text = get_authorization_header(request).decode("latin-1").partition(" ")
        if scheme.lower() != "bearer":
            return None
        return _by(text.strip())

    def authenticate_header(self, request: Request) -> str:
        """The challenge that goes with 401."""
        return CHALLENGE


class AddressToken(Bearer):
    """A token in the address, as `token`: for feeds, whose readers send no headers of one's own."""

    def authenticate(self, request: Request) -> tuple[Any, Token] | None:
        """As `Bearer`."""
        text = request.query_params.get("token")
        return None if text is None else _by(text)


def _by(text: str) -> tuple[Any, Token]:
    token = find_token(text)
    if token is None:
        raise Unknown("wrong-token", "This token does not hold", "It has ended, or was taken back.")
    if token.role == PUBLISHED:
        raise Unknown("published-token", "This token asks for published layouts alone", "Make one that does more.")
    return token.user, token
