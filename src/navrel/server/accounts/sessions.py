"""Where somebody is signed in, and signing out everywhere else."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import SESSION_KEY, login, update_session_auth_hash
from django.contrib.sessions.models import Session
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from rest_framework.request import Request

from navrel.server.logbook.services import note
from navrel.wording.counts import count_words

from .models import SignedIn


@transaction.atomic
def sign_in(request: Request, user: Any, backend: str | None = None) -> None:
    """Sign somebody in with a session of their own, and remember from where; what ended is forgotten."""
    login(request, user, backend=backend)
    SignedIn.objects.filter(user=user).exclude(pk__in=sessions_of(user)).delete()
    SignedIn.objects.update_or_create(
        session=request.session.session_key,
        defaults={
            "user": user,
            "address": request.META.get("REMOTE_ADDR") or None,
            "agent": request.META.get("HTTP_USER_AGENT", "")[:300].replace("\0", ""),
        },
    )


def sessions_of(user: Any) -> QuerySet[SignedIn]:
    """The sessions of an account that have not ended, newest first."""
    open_ones = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    return SignedIn.objects.filter(user=user, session__in=open_ones)


@transaction.atomic
def end_others(user: Any, own: str | None) -> int:
    """End every session of an account but one; how many that were. Asked of all sessions, so that none is missed."""
    ended = [
        one.session_key
        for one in Session.objects.filter(expire_date__gt=timezone.now()).exclude(session_key=own).iterator()
        if one.get_decoded().get(SESSION_KEY) == str(user.pk)
    ]
    Session.objects.filter(session_key__in=ended).delete()
    SignedIn.objects.filter(user=user).exclude(session=own).delete()
    if ended:
        note(None, user, "sign-in", f"Signed out everywhere else, {count_words(len(ended), 'session')} in all")
    return len(ended)


@transaction.atomic
def keep_this_alone(request: Request) -> None:
    """After a change of the password: the session goes on under another key, and every other one ends."""
    assert request.user.is_authenticated  # The permission classes saw to that.
    before = request.session.session_key
    update_session_auth_hash(request, request.user)
    SignedIn.objects.filter(session=before).update(session=request.session.session_key)
    end_others(request.user, request.session.session_key)
