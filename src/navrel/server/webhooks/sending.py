"""Sending what is due, several at a time; what is not taken is sent again, later and later.

A message is signed as Standard Webhooks 1.0 says: HMAC with SHA-256 over its id, the moment of the attempt, and its
body. A purge is a request of that method, as caches know it, that names in `Surrogate-Key` what is to be dropped.
"""

from __future__ import annotations

import base64
import hashlib
import hmac
import time
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from typing import Any

import orjson
import urllib3
from django.db import transaction
from django.utils import timezone

from navrel.server.observing.counting import SENDINGS
from navrel.server.outward import NotAsked, answered, connections, looked_up, web_address
from navrel.server.publishing.holding import served_by_all

from .models import Sending
from .services import PREFIX

#: How long, in seconds, after each attempt that fails until the next: some 15 hours in all.
PAUSES = (5, 30, 120, 600, 3_600, 7_200, 14_400, 28_800)
#: For how long the processes of the published site are waited for.
_PATIENCE = timedelta(seconds=30)
#: What is being sent is nobody else's for so long; who dies over it leaves it to others then.
_LEASE = timedelta(seconds=60)
_TIMEOUT = urllib3.Timeout(connect=5, read=10, total=15)
_AT_ONCE, _MOST_AT_ONCE = 4, 40
_MOST_ATTEMPTS, _MOST_TOLD = 30, 300
#: A receiver that says that it is gone for good (RFC 9110, section 15.5.11).
_GONE = 410


@dataclass(frozen=True)
class _Attempt:
    """What came of an attempt: the status that was answered, 0 for none, and why there was none."""

    status: int
    told: str
    milliseconds: int

    @property
    def is_taken(self) -> bool:
        return 200 <= self.status < 300


def send_due() -> int:
    """Send what is due, each message once. Returns how many were sent."""
    claimed = _claim()
    if not claimed:
        return 0
    with ThreadPoolExecutor(_AT_ONCE, thread_name_prefix="webhook") as several:
        for sending, attempt in zip(claimed, several.map(_attempt, claimed), strict=True):
            _write_down(sending, attempt)
    return len(claimed)


def _claim() -> list[Sending]:
    """Take what is due for oneself, but for what tells of a revision that is not served by all yet."""
    now = timezone.now()
    with transaction.atomic():
        due = Sending.objects.filter(due__lte=now, state="waiting").select_related("webhook").order_by("due")
        found = list(due.select_for_update(skip_locked=True, of=("self",))[:_MOST_AT_ONCE])
        served = cache(served_by_all)
        ready = [one for one in found if _is_ready(one, now, served)]
        Sending.objects.filter(pk__in=[one.pk for one in ready]).update(due=now + _LEASE)
    return ready


def _is_ready(sending: Sending, now: datetime, served: Callable[[int, int], bool]) -> bool:
    late = now - sending.made > _PATIENCE
    return sending.after is None or late or served(sending.webhook.site_id, sending.after)


def _write_down(sending: Sending, attempt: _Attempt) -> None:
    """Keep what came of an attempt, and when the next one is."""
    now = timezone.now()
    failed = len(sending.attempts)
    made = {
        "at": now.isoformat(timespec="seconds"), "status": attempt.status, "told": attempt.told,
        "milliseconds": attempt.milliseconds,
    }  # fmt: skip
    SENDINGS.labels("taken" if attempt.is_taken else "failed").inc()
    sending.attempts = [*sending.attempts, made][-_MOST_ATTEMPTS:]
    if attempt.is_taken:
        sending.state, sending.due = "taken", None
    elif failed >= len(PAUSES) or attempt.status == _GONE:
        sending.state, sending.due = "given-up", None
    else:
        sending.due = now + timedelta(seconds=PAUSES[failed])
    # Whoever removed the webhook meanwhile has removed this too.
    Sending.objects.filter(pk=sending.pk).update(state=sending.state, due=sending.due, attempts=sending.attempts)


def _attempt(sending: Sending) -> _Attempt:
    """Send one message."""
    webhook, begun = sending.webhook, time.monotonic()
    status, why = 0, ""
    try:
        if webhook.kind == "purge":
            told = orjson.loads(sending.body)["data"]
            keys, revision = " ".join(told["surrogate_keys"]), str(told["revision"])
            headers = {"Surrogate-Key": keys, "Navrel-Revision": revision, **_signed(sending, "")}
            status = _ask("PURGE", webhook.address, headers, None)
        else:
            headers = {"Content-Type": "application/json", **_signed(sending, sending.body)}
            status = _ask("POST", webhook.address, headers, sending.body.encode())
    except NotAsked as error:
        why = str(error)
    except (urllib3.exceptions.HTTPError, OSError) as error:
        why = f"no answer: {error}"
    return _Attempt(status, why[:_MOST_TOLD], round((time.monotonic() - begun) * 1000))


def _ask(method: str, address: str, headers: Mapping[str, str], body: bytes | None) -> int:
    """The status that a server answers; what else it says is not read. Raises NotAsked."""
    parts = web_address(address)
    with connections(parts, looked_up(parts), _TIMEOUT) as pool:
        path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
        answer = answered(pool, parts, path, headers, method=method, body=body)
        answer.close()
        return int(answer.status)


def _signed(sending: Sending, body: str) -> dict[str, str]:
    """The headers of a message that say who sends it, and when."""
    stamp = str(int(time.time()))
    signature = sign(sending.webhook.secret, sending.message, stamp, body)
    return {"webhook-id": sending.message, "webhook-timestamp": stamp, "webhook-signature": f"v1,{signature}"}


def sign(secret: str, message: str, stamp: str, body: str) -> str:
    """The signature of a message (Standard Webhooks 1.0): base64 of an HMAC (RFC 2104) with SHA-256."""
    key = base64.b64decode(secret.removeprefix(PREFIX))
    signed = hmac.new(key, f"{message}.{stamp}.{body}".encode(), hashlib.sha256)
    return base64.b64encode(signed.digest()).decode()


def told_of(sending: Sending) -> dict[str, Any]:
    """What a message is about."""
    found: dict[str, Any] = orjson.loads(sending.body)
    return {"type": found["type"], "revision": found["data"].get("revision")}
