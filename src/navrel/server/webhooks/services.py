"""Who is told of publications: kept, and what is to be sent to them written down with the publication itself."""

from __future__ import annotations

import base64
import secrets
import uuid
from datetime import datetime, timedelta
from typing import Any, Literal

import orjson
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from navrel.server.api.errors import InTheWay, Missing, ParameterProblem, Refused
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note
from navrel.server.outward import NotAsked, web_address

from .models import Sending, Webhook

Kind = Literal["message", "purge"]
#: Webhooks that a site can have.
MOST_WEBHOOKS = 10
#: For how long it is kept what was sent.
KEPT = timedelta(days=30)
#: How a secret is written (Standard Webhooks).
PREFIX = "whsec_"
_SECRET_BYTES = 32


@transaction.atomic
def make_webhook(site: Site, kind: Kind, address: str, by: Any) -> Webhook:
    """Have a server told of every publication from now on. Raises InTheWay, and Refused."""
    Site.objects.select_for_update().get(pk=site.pk)
    try:
        web_address(address)
    except NotAsked as error:
        raise Refused.for_parameter(ParameterProblem("address", f"{address[:100]}: {error}", "bad-address")) from None
    known = Webhook.objects.filter(site=site)
    if known.filter(address=address, kind=kind).exists():
        raise InTheWay("told-already", f"{address[:100]} is told already")
    if known.count() >= MOST_WEBHOOKS:
        raise InTheWay("many-webhooks", f"{MOST_WEBHOOKS} webhooks are the most", "Remove one that is not needed.")
    secret = base64.b64encode(secrets.token_bytes(_SECRET_BYTES)).decode()
    note(site, by, "rights", f"{address} is told of publications")
    return Webhook.objects.create(site=site, kind=kind, address=address, secret=PREFIX + secret, by=by)


@transaction.atomic
def remove_webhook(site: Site, number: int, by: Any) -> None:
    """Have a server told no more; what was sent to it is forgotten. Raises Missing."""
    found = find_webhook(site, number)
    note(site, by, "rights", f"{found.address} is told of publications no more")
    found.delete()


def find_webhook(site: Site, number: int) -> Webhook:
    """A webhook of a site. Raises Missing."""
    found = Webhook.objects.filter(site=site, pk=number).first()
    if found is None:
        raise Missing("no-webhook", "There is no such webhook")
    return found


def sendings_of(webhook: Webhook) -> QuerySet[Sending]:
    """What was sent to a server, and what is to be, newest first."""
    return Sending.objects.filter(webhook=webhook)


def announce(site: Site, number: int, revision: int, note: str) -> None:
    """Write down that whoever wants to know is to be told of a publication, in its own transaction.

    ``number`` is that of the revision, ``revision`` its key.
    """
    known = list(Webhook.objects.filter(site=site))
    if not known:
        return
    now = timezone.now()
    told = {"site": site.slug, "revision": number, "note": note, "surrogate_keys": [f"site:{site.slug}"]}
    body = _body("site.published", now, told)
    Sending.objects.bulk_create(
        Sending(webhook=one, message=_message(), body=body, after=revision, due=now) for one in known
    )


def try_webhook(webhook: Webhook) -> Sending:
    """Have a message sent that says nothing, to see whether it is taken. Raises InTheWay."""
    if webhook.kind == "purge":
        raise InTheWay("no-try", "A cache that is asked to drop everything does so", "Publish something instead.")
    now = timezone.now()
    body = _body("webhook.tried", now, {"site": webhook.site.slug})
    return Sending.objects.create(webhook=webhook, message=_message(), body=body, due=now)


@transaction.atomic
def send_again(webhook: Webhook, number: int) -> Sending:
    """Have a message sent once more: the same, so that whoever has it knows it. Raises Missing, and InTheWay."""
    found = Sending.objects.select_for_update().filter(webhook=webhook, pk=number).first()
    if found is None:
        raise Missing("no-sending", "There is no such message any more")
    if found.state == "waiting" and not found.attempts:
        raise InTheWay("waits", "It is about to be sent")
    found.state, found.due = "waiting", timezone.now()
    found.save(update_fields=["state", "due"])
    return found


def forget_old_sendings() -> None:
    """Let go of what was sent long ago."""
    Sending.objects.exclude(state="waiting").filter(made__lt=timezone.now() - KEPT).delete()


def _message() -> str:
    return f"msg_{uuid.uuid4().hex}"


def _body(kind: str, at: datetime, told: dict[str, Any]) -> str:
    """A message as it is sent, and signed: byte by byte the same each time (Standard Webhooks)."""
    stamp = at.isoformat(timespec="milliseconds").replace("+00:00", "Z")
    return orjson.dumps({"type": kind, "timestamp": stamp, "data": told}).decode()
