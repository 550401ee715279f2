"""Members of a site, known by what the site's own sign-in says of them: a signed token (JWT, RFC 7519).

``settings.SIGN_IN`` names a JSON file that says for each site, by its slug, where the token is and how it is signed:

    {"marrowick": {"cookie": "ferries_member", "algorithm": "RS256", "key_file": "ferries.pem", "issuer": "ferries"}}

``cookie`` or ``header`` says where it is (a header may begin with `Bearer`); ``algorithm`` is RS256, ES256 or HS256,
``key_file`` holds the public key, or the secret of HS256 alone; ``issuer`` and ``audience`` are asked for where they
are stated; ``roles`` is the claim that lists the roles, `roles` where nothing is said, and `access.roles` one inside
of another. A token has to say when it ends (`exp`). Whoever has none that holds is a signed-out visitor.
"""

from __future__ import annotations

import json
import time
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

import jwt
from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.http import parse_cookie

from .meta import Meta

ALGORITHMS = ("RS256", "ES256", "HS256")
#: A secret that is shorter is guessed (RFC 7518, section 3.2).
_SHORTEST_SECRET = 32
_STATED = {"cookie", "header", "algorithm", "key_file", "issuer", "audience", "roles"}
_LONGEST_TOKEN = 8_000
_MOST_ROLES, _LONGEST_ROLE = 100, 100


@dataclass(frozen=True)
class SignIn:
    """How the members of one site are known. One of ``cookie`` and ``header`` is a name, the other empty."""

    algorithm: str
    key: str
    cookie: str = ""
    header: str = ""
    issuer: str | None = None
    audience: str | None = None
    roles: str = "roles"

    @property
    def told_by(self) -> str:
        """The header of a request by which members are told from others."""
        return "Cookie" if self.cookie else self.header

    def token_of(self, meta: Meta) -> str:
        """What stands in a request where a token has to be, whether it holds or not; empty for nothing."""
        if self.cookie:
            return parse_cookie(meta.get("HTTP_COOKIE", "")).get(self.cookie, "")
        return meta.get(f"HTTP_{self.header.upper().replace('-', '_')}", "").removeprefix("Bearer ").strip()

    def member(self, meta: Meta) -> frozenset[str] | None:
        """The roles of whoever asks; None for a signed-out visitor."""
        token = self.token_of(meta)
        if not token or len(token) > _LONGEST_TOKEN:
            return None
        told = _read_token(self, token)
        return told[0] if told and told[1] > time.time() else None


@lru_cache(maxsize=4096)
def _read_token(sign_in: SignIn, token: str) -> tuple[frozenset[str], float] | None:
    """The roles that a token names, and when it ends, in seconds of the epoch; None for one that does not hold."""
    try:
        claims = jwt.decode(
            token,
            sign_in.key,
            algorithms=[sign_in.algorithm],
            issuer=sign_in.issuer,
            audience=sign_in.audience,
            options={"require": ["exp"], "verify_aud": sign_in.audience is not None},
        )
    except (jwt.InvalidTokenError, ValueError, RecursionError):
        return None
    return _roles(claims, sign_in.roles), float(claims["exp"])


def _roles(claims: Any, name: str) -> frozenset[str]:
    for part in name.split("."):
        claims = claims.get(part) if isinstance(claims, dict) else None
    named = claims.split() if isinstance(claims, str) else claims
    if not isinstance(named, list):
        return frozenset()
    return frozenset(one for one in named[:_MOST_ROLES] if isinstance(one, str) and 0 < len(one) <= _LONGEST_ROLE)


def sign_in_of(slug: str) -> SignIn | None:
    """How the members of a site are known; None where nobody ever is."""
    return _read_file(settings.SIGN_IN).get(slug) if settings.SIGN_IN else None


def knows_members(slug: str) -> bool:
    """Whether anybody is known as a member of a site where it is served; nobody is by what cannot be read."""
    try:
        return sign_in_of(slug) is not None
    except ImproperlyConfigured:
        return False


@cache
def _read_file(name: str) -> dict[str, SignIn]:
    """What the file says, read once. Raises ImproperlyConfigured."""
    path = Path(name)
    try:
        stated = json.loads(path.read_text())
    except (OSError, ValueError) as error:
        raise ImproperlyConfigured(f"NAVREL_SIGN_IN: {name} cannot be read: {error}") from None
    if not isinstance(stated, dict):
        raise ImproperlyConfigured(f"NAVREL_SIGN_IN: {name} has to be an object with a sign-in for each site")
    return {slug: _read_one(one, f"NAVREL_SIGN_IN: {name}: {slug}", path.parent) for slug, one in stated.items()}


def _read_one(stated: Any, where: str, folder: Path) -> SignIn:
    def wrong(why: str) -> ImproperlyConfigured:
        return ImproperlyConfigured(f"{where}: {why}")

    if not isinstance(stated, dict) or not all(isinstance(value, str) and value for value in stated.values()):
        raise wrong("this has to be an object of texts")
    if unknown := sorted(set(stated) - _STATED):
        raise wrong(f"there is no {unknown[0]} here; there is {', '.join(sorted(_STATED))}")
    if ("cookie" in stated) == ("header" in stated):
        raise wrong("say cookie or header, and one of them")
    if stated.get("algorithm") not in ALGORITHMS:
        raise wrong(f"algorithm has to be one of {', '.join(ALGORITHMS)}")
    try:
        key = (folder / stated["key_file"]).read_text().strip()
    except KeyError:
        raise wrong("there is no key_file") from None
    except (OSError, ValueError) as error:
        raise wrong(f"key_file cannot be read: {error}") from None
    if stated["algorithm"] == "HS256":
        if "-----BEGIN" in key or len(key.encode()) < _SHORTEST_SECRET:
            raise wrong(f"the secret of HS256 has to be {_SHORTEST_SECRET} bytes or more, and none of a pair of keys")
    elif "-----BEGIN PUBLIC KEY-----" not in key:
        raise wrong(f"key_file has to hold a public key in PEM for {stated['algorithm']}")
    return SignIn(key=key, **{name: value for name, value in stated.items() if name != "key_file"})
