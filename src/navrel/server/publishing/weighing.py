"""What an edit, or an intake, would change on pages, asked before it is made.

The edit is made as it would be saved, looked at and taken back in one transaction, so that what is told is of what
saving would do, whatever is edited. Nothing of it is kept, and the site is held only while it is made.
"""

from __future__ import annotations

from collections.abc import Callable
from copy import copy
from typing import Any, TypeVar

import orjson
from django.db import transaction
from django.http import HttpRequest, QueryDict
from django.urls import Resolver404, resolve
from rest_framework.response import Response
from rest_framework.status import is_success

from navrel.server.accounts.rights import needed
from navrel.server.api.errors import Missing
from navrel.server.api.views import etag
from navrel.server.bindings.standing import standing_in
from navrel.server.inventory.models import Intake, Site
from navrel.server.inventory.services import finish_intake
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.kept import keeping_nothing
from navrel.server.sitestate.locking import find_site

from .live import drawn_from
from .services import Weighed, impact_between

Answer = TypeVar("Answer")


def weigh_edit(asked: HttpRequest, site: str, to: str, body: dict[str, Any], version: int) -> Weighed | Response:
    """What would differ on pages, were a body put to an address below a site; where that is refused, how.

    ``asked``: the request that asks; the edit is made in its name. Raises Missing where nothing is edited there.
    """
    address = f"/api/sites/{site}/{to}"
    try:
        found = resolve(address)
    except Resolver404:
        raise Missing("no-edit", f"There is nothing to edit at {to}") from None
    view = getattr(found.func, "cls", None)
    if found.kwargs.get("site") != site or not hasattr(view, "put") or needed(view, "PUT") != "editor":
        raise Missing("no-edit", f"There is nothing to edit at {to}")

    def put() -> Response:
        return found.func(_put(asked, address, body, version), *found.args, **found.kwargs)  # type: ignore[no-any-return]

    answer, weighed = _made_and_taken_back(site, put, lambda answer: is_success(answer.status_code))
    if weighed is None:
        return Response(answer.data, answer.status_code, content_type=answer.content_type)
    return weighed


def weigh_intake(intake: Intake) -> tuple[dict[str, Any], Weighed]:
    """What an intake would bring, and what would differ on pages, were it finished now. Raises Refused."""
    report, weighed = _made_and_taken_back(intake.site.slug, lambda: finish_intake(intake))
    assert weighed is not None
    return report, weighed


def _made_and_taken_back(
    site: str, make: Callable[[], Answer], is_made: Callable[[Answer], bool] = lambda answer: True
) -> tuple[Answer, Weighed | None]:
    """What something answers that changes a site, and what differs on pages by it; None where it changed nothing."""
    with transaction.atomic(), keeping_nothing():
        # Nobody writes between what is read before and what is read after.
        locked = Site.objects.select_for_update().get(slug=site)
        before = draft(locked)
        old = drawn_from(locked, before)
        answer = make()
        made = is_made(answer)
        if made:
            changed = find_site(site)
            after = draft(changed)
            new = drawn_from(changed, after)
        transaction.set_rollback(True)
    if not made:
        return answer, None
    found = impact_between(before, after, (old, new), standing_in(changed, before, after))
    return answer, Weighed(before, after, [], found)


def _put(asked: HttpRequest, address: str, body: dict[str, Any], version: int) -> HttpRequest:
    """The request that would save it, by whoever asks."""
    put = copy(asked)
    put.method, put.path, put.path_info, put.GET = "PUT", address, address, QueryDict()
    text = orjson.dumps(body)
    put.META = {
        **asked.META,
        "REQUEST_METHOD": "PUT",
        "PATH_INFO": address,
        "CONTENT_TYPE": "application/json",
        "CONTENT_LENGTH": str(len(text)),
        "HTTP_IF_MATCH": etag(version),
    }
    vars(put).pop("headers", None)
    put._body = text  # What Django keeps of a body that was read.
    return put
