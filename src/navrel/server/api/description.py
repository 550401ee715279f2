"""What the description of the API says beyond what the views say themselves."""

from __future__ import annotations

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """Sessions, as OpenAPI describes them. Found by drf-spectacular because the settings load this module."""

    target_class = "navrel.server.api.authentication.SessionOr401"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """The cookie that has the session; its name may differ from one installation to the next."""
        return {"type": "apiKey", "in": "cookie", "name": "navrel-session"}


class BearerScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """Tokens, as OpenAPI describes them."""

    target_class = "navrel.server.accounts.bearing.Bearer"
    name = "token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """A token in the Authorization header (RFC 6750)."""
        return {"type": "http", "scheme": "bearer"}


class AddressTokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """Tokens in addresses, as OpenAPI describes them."""

    target_class = "navrel.server.accounts.bearing.AddressToken"
    name = "address-token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """A token as a parameter, for feeds."""
        return {"type": "apiKey", "in": "query", "name": "token"}
