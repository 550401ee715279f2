"""Tokens: how a program acts as somebody, without their password, for a while (RFC 6750)."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any, cast

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from navrel.server.api.errors import Forbidden, InTheWay, Missing
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note

from .models import PUBLISHED, ROLES, Role, Token
from .rights import role_of

#: Tokens that one account can have, and the days that one can last.
MOST_TOKENS = 20
LONGEST = 366
#: How a token begins, so that one that lies about is known for what it is.
PREFIX = "navrel_"


def tokens_of(user: Any) -> QuerySet[Token]:
    """The tokens of an account that have not ended, newest first."""
    return Token.objects.filter(user=user, ends__gt=timezone.now()).select_related("site")


@transaction.atomic
def make_token(user: Any, site: Site, name: str, role: str, days: int) -> tuple[Token, str]:
    """Make a token: how it is kept, and the token itself, which nobody is told again.

    Raises Missing, Forbidden, and InTheWay.
    """
    own = role_of(user, site.slug)
    if own is None:
        raise Missing("no-site", f"There is no site {site.slug}")
    if role != PUBLISHED and ROLES.index(cast(Role, role)) > ROLES.index(own):
        raise Forbidden("role-lacking", f"A token can do no more than whoever makes it; you are {own} here")
    if tokens_of(user).count() >= MOST_TOKENS:
        raise InTheWay("many-tokens", f"{MOST_TOKENS} tokens are the most", "Take back one that is not used.")
    token = PREFIX + secrets.token_urlsafe(32)
    ends = timezone.now() + timedelta(days=days)
    kept = Token.objects.create(user=user, site=site, name=name, digest=_digest(token), role=role, ends=ends)
    note(site, user, "rights", f"Made the token {name}: {role} until {ends:%Y-%m-%d}")
    return kept, token


@transaction.atomic
def take_token_back(user: Any, number: int) -> None:
    """End a token of an account. Raises Missing."""
    found = tokens_of(user).filter(pk=number).first()
    if found is None:
        raise Missing("no-token", "There is no such token")
    note(found.site, user, "rights", f"Took the token {found.name} back")
    found.delete()


def find_token(text: str) -> Token | None:
    """The token that a text is, where it has not ended, and whoever made it is still there."""
    found = Token.objects.filter(digest=_digest(text), ends__gt=timezone.now(), user__is_active=True)
    token = found.select_related("user", "site").first()
    if token is not None:
        # To the hour, so that reading does not become writing.
        now = timezone.now().replace(minute=0, second=0, microsecond=0)
        if token.used != now:
            Token.objects.filter(pk=token.pk).update(used=now)
    return token


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
