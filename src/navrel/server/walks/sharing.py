"""Previews for people without an account: signed addresses that end by themselves, and what is remarked there."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from navrel.server.api.errors import InTheWay, Missing, ParameterProblem, Refused
from navrel.server.api.signed import sign, signed
from navrel.server.api.views import read_lens
from navrel.server.inventory.models import Site
from navrel.server.news.services import tell
from navrel.server.sitestate.draft import draft

from .models import PreviewLink, Remark

#: Links of one site that can be open at once, pages of one link, and remarks that one link takes.
MOST_OPEN = 50
MOST_PAGES = 200
MOST_REMARKS = 200
#: How long a link lasts at the most, in hours.
LONGEST = 24 * 31
_PURPOSE = "preview-link"


def open_links(site: Site) -> QuerySet[PreviewLink]:
    """The links that have not ended, newest first."""
    return PreviewLink.objects.filter(site=site, ends__gt=datetime.now(UTC)).select_related("by")


def share(site: Site, paths: list[str], visitor: str, at: str, hours: int, by: Any) -> PreviewLink:
    """Make a link to some pages of the draft, through a lens, for so many hours. Raises InTheWay, Missing, Refused."""
    state = draft(site)
    for path in paths:
        state.page(path)
    read_lens(state, visitor, at)
    if not 1 <= hours <= LONGEST:
        raise Refused.for_parameter(ParameterProblem("hours", f"a link lasts from 1 to {LONGEST} hours", "bad-number"))
    if open_links(site).count() >= MOST_OPEN:
        raise InTheWay("too-many-links", f"{MOST_OPEN} links are open already", "End one of them first.")
    ends = datetime.now(UTC) + timedelta(hours=hours)
    return PreviewLink.objects.create(
        site=site, paths=list(dict.fromkeys(paths)), visitor=visitor, at=at, by=by, ends=ends
    )


def token_of(link: PreviewLink) -> str:
    """What the address of a link is known by: its id, signed with the installation's key."""
    return sign(link.pk, _PURPOSE)


def find_link(token: str) -> PreviewLink:
    """The open link that a token stands for. Raises Missing, whatever is wrong with it."""
    link = (
        PreviewLink.objects.filter(pk=signed(token, _PURPOSE), ends__gt=datetime.now(UTC))
        .select_related("site")
        .first()
    )
    if link is None:
        raise Missing("no-link", "This preview has ended, or was never there", "Ask whoever sent it for another.")
    return link


def end_link(site: Site, number: int) -> None:
    """End a link now; what was remarked stays. Raises Missing."""
    if not open_links(site).filter(pk=number).update(ends=datetime.now(UTC)):
        raise Missing("no-link", "No such preview is open")


@transaction.atomic
def remark(token: str, path: str, name: str, text: str) -> Remark:
    """Take down what somebody says about a page of a preview. Raises InTheWay, Missing, Refused."""
    link = PreviewLink.objects.select_for_update().get(pk=find_link(token).pk)
    if path not in link.paths:
        raise Missing("no-page", f"{path} is not in this preview")
    if not text.strip():
        raise Refused.for_parameter(ParameterProblem("text", "there is nothing in this remark", "required"))
    if link.remarks.count() >= MOST_REMARKS:
        raise InTheWay("too-many-remarks", f"This preview has {MOST_REMARKS} remarks already")
    said = Remark.objects.create(link=link, path=path, name=name.strip(), text=text.strip())
    tell(link.site, "remark", f"{said.name or 'Somebody'} says about {path}: {said.text}", "publish")
    return said


def remarks_of(site: Site) -> QuerySet[Remark]:
    """What was remarked on previews of a site: what is not dealt with first, newest first."""
    return Remark.objects.filter(link__site=site).order_by("done", "-pk")


def deal_with(site: Site, number: int, *, done: bool) -> None:
    """Say of a remark whether it is dealt with. Raises Missing."""
    if not remarks_of(site).filter(pk=number).update(done=done):
        raise Missing("no-remark", f"There is no remark {number} here")
