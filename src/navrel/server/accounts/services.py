"""Accounts."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model

from navrel.core.errors import Problem
from navrel.server.api.errors import Refused
from navrel.server.inventory.models import Site

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
