"""The second factor: a code by time (TOTP, RFC 6238) beside the password, and spare codes for when it is lost."""

from __future__ import annotations

import hashlib
import secrets
import time
from typing import Any

import pyotp
import segno
from django.db import transaction
from django.utils import timezone

from navrel.core.errors import Problem
from navrel.server.api.errors import InTheWay, Refused
from navrel.server.logbook.services import note

from .models import SecondFactor

SPARE_CODES = 10
#: Letters of a spare code, without those that are taken for each other; ten of them are some 50 bits.
_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"
_SPARE_LENGTH = 10
#: Time steps, each way, in which a code is good: clocks differ, and typing takes a while (section 5.2).
_STEPS = 1
_SECONDS = 30
_ISSUER = "Navrel"


def factor_of(user: Any) -> SecondFactor | None:
    """The second factor that an account is asked for."""
    return SecondFactor.objects.filter(user=user, since__isnull=False).first()


@transaction.atomic
def begin(user: Any, password: str) -> dict[str, str]:
    """A new secret for an account, which is not asked for before `confirm`. Raises Refused, and InTheWay."""
    _check_password(user, password)
    if factor_of(user) is not None:
        raise InTheWay("factor-there", "There is a second factor already", "End it first.")
    secret = pyotp.random_base32()
    SecondFactor.objects.update_or_create(user=user, defaults={"secret": secret, "step": 0, "spare": []})
    address = pyotp.TOTP(secret).provisioning_uri(name=user.get_username(), issuer_name=_ISSUER)
    return {"secret": secret, "address": address, "picture": segno.make(address).svg_data_uri(scale=5, border=3)}


@transaction.atomic
def confirm(user: Any, code: str) -> list[str]:
    """Ask for the second factor from now on, as a first code shows that it works; its spare codes, told once.

    Raises Refused, and InTheWay.
    """
    factor = SecondFactor.objects.select_for_update().filter(user=user, since__isnull=True).first()
    if factor is None:
        raise InTheWay("nothing-begun", "No second factor waits to be confirmed", "Begin anew.")
    if not _takes(factor, code):
        raise Refused(
            "wrong-code",
            "This is not the code of now",
            "The clock of the device may be wrong.",
            problems=[Problem("/code", "this is not the code of now", "wrong")],
        )
    spare = ["".join(secrets.choice(_LETTERS) for _ in range(_SPARE_LENGTH)) for _ in range(SPARE_CODES)]
    factor.spare = [_digest(one) for one in spare]
    factor.since = timezone.now()
    factor.save()
    note(None, user, "sign-in", "Signing in takes a second factor from now on")
    return [f"{one[:5]}-{one[5:]}" for one in spare]


@transaction.atomic
def end(user: Any, password: str) -> None:
    """Ask for no second factor any more. Raises Refused."""
    _check_password(user, password)
    if SecondFactor.objects.filter(user=user).delete()[0]:
        note(None, user, "sign-in", "Signing in takes no second factor any more")


@transaction.atomic
def passes(user: Any, code: str) -> bool:
    """Whether a code is good for signing in now: one by time, or a spare one; neither is good twice."""
    factor = SecondFactor.objects.select_for_update().get(user=user)
    if _takes(factor, code):
        factor.save(update_fields=["step"])
        return True
    digest = _digest(code.lower().replace("-", ""))
    if digest not in factor.spare:
        return False
    factor.spare = [one for one in factor.spare if one != digest]
    factor.save(update_fields=["spare"])
    note(None, user, "sign-in", f"Signed in with a spare code; {len(factor.spare)} are left")
    return True


def _takes(factor: SecondFactor, code: str) -> bool:
    """Whether a code is that of a time step about now which is later than the last one taken; takes it, unsaved."""
    now = int(time.time())
    code = "".join(code.split())
    for step in range(now // _SECONDS - _STEPS, now // _SECONDS + _STEPS + 1):
        if step > factor.step and pyotp.utils.strings_equal(code, pyotp.TOTP(factor.secret).at(step * _SECONDS)):
            factor.step = step
            return True
    return False


def _check_password(user: Any, password: str) -> None:
    if not user.check_password(password):
        problem = Problem("/password", "this is not the password", "wrong")
        raise Refused("wrong-password", "This is not the password", problems=[problem])


def _digest(code: str) -> str:
    return hashlib.sha256("".join(code.split()).encode()).hexdigest()
