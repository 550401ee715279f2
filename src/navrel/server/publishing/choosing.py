"""Some of the changes of a draft, without the others."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from contextlib import contextmanager

from django.db import transaction

from navrel.server.api.errors import InTheWay, Missing
from navrel.server.edits.turning import Blocked, apply
from navrel.server.inventory.models import Site

from .changes import changed_since, chosen
from .live import published


class _TakenBack(Exception):
    """What was left out is put back."""


@contextmanager
def only(locked: Site, wanted: Collection[str] | None) -> Iterator[None]:
    """A locked site's draft as if only these of its changes had been made; at the end it is as it was.

    ``wanted``: the keys of changes (see `Change`), None for all of them. What was taken in of pages goes along in any
    case. Raises Missing, and InTheWay where what is wanted needs what is left out.
    """
    if wanted is None:
        yield
        return
    before = published(locked)
    if before.revision.number == 0:
        raise InTheWay("nothing-live", "Nothing is live yet, so the draft is published whole the first time")
    parts = changed_since(locked, before)
    keys = set[str]()
    for one in wanted:
        taken = chosen(parts, one)
        if not taken:
            raise Missing("no-change", f"Nothing of {one} differs from what is live")
        keys.update(part.key for part in taken)
    try:
        with transaction.atomic():
            try:
                apply(locked, [part.turned for part in parts if part.key not in keys])
            except InTheWay as needed:
                raise InTheWay(
                    "needs-others", f"What is left out is needed: {needed}", "Publish both, or neither."
                ) from None
            except Blocked as blocked:
                raise InTheWay("needs-others", f"{blocked.part.key} cannot be left out", "Publish it too.") from None
            yield
            raise _TakenBack
    except _TakenBack:
        locked.refresh_from_db()
