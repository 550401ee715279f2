"""Accounts."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model
from django.http import HttpRequest

from navrel.core.errors import Problem
from navrel.server.api.errors import Refused, TooMany, Unknown
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note

from .models import Membership
from .people import check_password


def have_demo_account() -> None:
    """Have the demo account, owner of every site, in demo mode only."""
    if not settings.DEMO:
        return
    name, password = settings.DEMO_ACCOUNT
    users = get_user_model()
    user = users.objects.filter(username=name).first() or users.objects.create_user(name, password=password)
    for site in Site.objects.exclude(memberships__user=user):
        Membership.objects.create(site=site, user=user, role="owner")


def who_signs_in(request: HttpRequest, name: str, password: str) -> Any:
    """The account that a name and a password belong to. Raises Unknown, and TooMany after too many that were wrong.

    A name that nobody has takes as long as a wrong password: Django hashes either.
    """
    users = get_user_model()
    user = authenticate(request, username=name, password=password)
    address = request.META.get("REMOTE_ADDR", "")
    if user is not None:
        note(None, user, "sign-in", f"Signed in from {address}")
        return user
    if getattr(request, "axes_locked_out", False):
        raise TooMany(
            "too-many-sign-ins", "Too many sign-ins were wrong", "Wait ten minutes, or ask an owner for a new password."
        )
    if (meant := users.objects.filter(username=name).first()) is not None:
        note(None, meant, "sign-in", f"A sign-in from {address} had a wrong password")
    raise Unknown("wrong-sign-in", "This name and password do not belong together")


def change_password(user: Any, old: str, new: str) -> None:
    """Give an account another password. Raises Refused."""
    problems: list[Problem] = []
    if not user.check_password(old):
        problems.append(Problem("/old", "this is not the password until now", "wrong"))
    check_password(new, user, "/new", problems)
    if problems:
        raise Refused("no-password", problems[0].message, problems=list(problems))
    user.set_password(new)
    user.save(update_fields=["password"])
    note(None, user, "sign-in", "Changed the password")
