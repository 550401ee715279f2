"""Accounts."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model
from django.contrib.auth.signals import user_login_failed
from django.http import HttpRequest

from navrel.core.errors import Problem
from navrel.server.api.errors import Refused, TooMany, Unknown
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note

from . import factors
from .models import Membership
from .people import check_password


def have_demo_account() -> None:
    """Have the demo account, owner of every site, in demo mode; outside it nobody gets in by a known password."""
    name, password = settings.DEMO_ACCOUNT
    users = get_user_model()
    user = users.objects.filter(username=name).first()
    if not settings.DEMO:
        if user is not None and user.check_password(password):
            user.set_unusable_password()
            user.save(update_fields=["password"])
        return
    if user is None:
        user = users.objects.create_user(name, password=password)
    elif not user.has_usable_password():
        user.set_password(password)
        user.save(update_fields=["password"])
    for site in Site.objects.exclude(memberships__user=user):
        Membership.objects.create(site=site, user=user, role="owner")


def show_to_demo(site: Site) -> None:
    """Have the demo account own a site that was made for nobody, where it is in use: it owns every site."""
    name, _ = settings.DEMO_ACCOUNT
    user = get_user_model().objects.filter(username=name).first()
    if user is not None and user.has_usable_password():
        Membership.objects.get_or_create(site=site, user=user, defaults={"role": "owner"})


def who_signs_in(request: HttpRequest, name: str, password: str, code: str = "") -> Any:
    """The account that a name and a password belong to, and a code where it takes one.

    Raises Unknown, and TooMany after too many that were wrong.

    A name that nobody has takes as long as a wrong password: Django hashes either.
    """
    users = get_user_model()
    user = authenticate(request, username=name, password=password)
    address = request.META.get("REMOTE_ADDR", "")
    if user is None:
        _refuse_too_many(request)
        if (meant := users.objects.filter(username=name).first()) is not None:
            note(None, meant, "sign-in", f"A sign-in from {address} had a wrong password")
        raise Unknown("wrong-sign-in", "This name and password do not belong together")
    if factors.factor_of(user) is not None:
        if not code:
            raise Unknown("code-wanted", "This account takes a code too")
        if not factors.passes(user, code):
            # Counted as a wrong password is, so that codes cannot be tried one after the other.
            user_login_failed.send(__name__, credentials={"username": name}, request=request)
            _refuse_too_many(request)
            note(None, user, "sign-in", f"A sign-in from {address} had a wrong code")
            raise Unknown("wrong-code", "This code is not good, or was used")
    note(None, user, "sign-in", f"Signed in from {address}")
    return user


def _refuse_too_many(request: HttpRequest) -> None:
    if getattr(request, "axes_locked_out", False):
        raise TooMany(
            "too-many-sign-ins", "Too many sign-ins were wrong", "Wait ten minutes, or ask an owner for a new password."
        )


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
