"""Accounts."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import get_user_model


def have_demo_account() -> None:
    """Make the demo account, in demo mode only."""
    if not settings.DEMO:
        return
    name, password = settings.DEMO_ACCOUNT
    users = get_user_model()
    if not users.objects.filter(username=name).exists():
        users.objects.create_user(name, password=password)
