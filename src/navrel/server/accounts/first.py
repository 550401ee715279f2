"""The first account of an installation: made by whoever reads the address that its start tells, and by nobody else."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core import signing
from django.db import connection, transaction

from navrel.server.api.errors import Missing
from navrel.server.logbook.services import note

from .people import make_account

_SALT = "navrel.first-account"
#: Of the lock under which the first account is made, so that two who try at once do not both get one.
_LOCK = 0x6E617672


def is_wanted() -> bool:
    """Whether nobody runs the installation yet; a demo is run by nobody."""
    return not settings.DEMO and not get_user_model().objects.filter(is_superuser=True, is_active=True).exists()


def token() -> str:
    """What the address is known by at which the first account is made."""
    return signing.dumps("first", salt=_SALT)


def check(given: str) -> None:
    """Raise Missing where a token is not the one, or the first account is there."""
    try:
        signing.loads(given, salt=_SALT)
    except signing.BadSignature:
        raise _missing() from None
    if not is_wanted():
        raise _missing()


@transaction.atomic
def make_first(given: str, name: str, password: str) -> Any:
    """Make the account that runs the installation, owner of every site. Raises Missing, and Refused."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
    check(given)
    user = make_account(name, password, is_superuser=True)
    note(None, user, "rights", "Made the first account, which runs this installation")
    return user


def _missing() -> Missing:
    return Missing("no-first-account", "There is an account already, or this address is not whole", "Sign in instead.")
