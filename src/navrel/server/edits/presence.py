"""Who else has the same thing before them. Nothing hangs on it: it is told, and ends by itself."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from navrel.server.inventory.models import Site

from .models import Presence

#: For how long somebody counts as being there who has not said so again.
LASTS = timedelta(seconds=40)


@transaction.atomic
def be_there(site: Site, user: Any, thing: str) -> QuerySet[Presence]:
    """Say that somebody has a thing before them; who else has, by name. What is an hour old is dropped."""
    now = timezone.now()
    Presence.objects.filter(site=site, seen__lt=now - timedelta(hours=1)).delete()
    Presence.objects.update_or_create(site=site, user=user, thing=thing, defaults={"seen": now})
    there = Presence.objects.filter(site=site, thing=thing, seen__gt=now - LASTS).exclude(user=user)
    return there.select_related("user").order_by("user__username")


def leave(site: Site, user: Any, thing: str) -> None:
    """Say that somebody has a thing before them no more."""
    Presence.objects.filter(site=site, user=user, thing=thing).delete()
