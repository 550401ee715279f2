"""Writing down what is done, and looking it up."""

from __future__ import annotations

from typing import Any, Literal

from django.db.models import Q, QuerySet

from navrel.server.inventory.models import Site

from .models import Event

Kind = Literal["edit", "publication", "rights", "sign-in"]


def note(site: Site | None, by: Any, kind: Kind, words: str) -> None:
    """Write down what somebody did, in the transaction in which it is done; ``by`` is None for the program itself."""
    who = by if by is not None and by.is_authenticated else None
    Event.objects.create(site=site, by=who, name=who.get_username() if who else "", kind=kind, words=words)


def events_of(site: Site, text: str = "", kind: str = "") -> QuerySet[Event]:
    """What was done at a site, and what its people did with their accounts, newest first.

    ``text``: a part of the words or of who did it; ``kind``: one of the kinds alone. Empty ones narrow nothing.
    """
    people = site.memberships.values("user")
    found = Event.objects.filter(Q(site=site) | Q(site=None, by__in=people))
    if text:
        found = found.filter(Q(words__icontains=text) | Q(name__icontains=text))
    return found.filter(kind=kind) if kind else found
