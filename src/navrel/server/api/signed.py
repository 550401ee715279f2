"""Addresses that only this installation can have given out: the id of a record, signed with its key."""

from __future__ import annotations

from django.core import signing


def sign(number: int, purpose: str) -> str:
    """The id of a record as a token for one purpose, so that one for another does not serve."""
    return signing.dumps(number, salt=f"navrel.{purpose}")


def signed(token: str, purpose: str) -> int:
    """The id that a token stands for; 0, which no record has, where it was not given out for this purpose."""
    try:
        return int(signing.loads(token, salt=f"navrel.{purpose}"))
    except signing.BadSignature:
        return 0
