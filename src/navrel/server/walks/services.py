"""Walks: the pages that are gone through one by one, and what was found of each."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from functools import cache, partial
from typing import Any, Literal

import numpy as np
from django.db import transaction

from navrel.core.calendar.schedule import read_moment, write_moment
from navrel.core.cascade.bulk import resolve_all
from navrel.core.language.query import Query
from navrel.core.language.visitor import Lens
from navrel.core.lenses.looks import page_looks
from navrel.core.lenses.visitors import TooManyCombinations
from navrel.core.pages.page import Page
from navrel.rendering.page import draw_page
from navrel.server.api.errors import InTheWay, Missing, ParameterProblem, Refused
from navrel.server.inventory.models import Site
from navrel.server.publishing.drawing import content_of
from navrel.server.publishing.services import impact_since_live
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.state import SiteState
from navrel.wording.audiences import seen_by

from .models import MAX_TEXT, Mark

#: Pages of one site that are marked at the most.
MOST_MARKED = 2000
#: Looks of a page that are drawn to tell whether it changed; of a page with more, every edit counts as a change.
MOST_LOOKS = 24


@dataclass(frozen=True)
class Walked:
    """A page of a walk, what was found of it, and whether that still holds: None where nobody has looked."""

    page: Page
    mark: Mark | None
    holds: bool = False

    @property
    def standing(self) -> Literal["open", "fine", "amiss", "again"]:
        """Not looked at, found fine or not, or changed since somebody looked."""
        if self.mark is None:
            return "open"
        if not self.holds:
            return "again"
        return "fine" if self.mark.fine else "amiss"


def changed_pages(site: Site, state: SiteState) -> list[Page]:
    """The pages on which publishing would change something for somebody, in tree order."""
    paths = impact_since_live(site).paths
    return [page for page in state.index.tree.pages if page.path in paths]


def one_of_each_layout(state: SiteState, lens: Lens) -> list[Page]:
    """The first page of each layout that there is, as one lens sees the site."""
    resolved = resolve_all(state.index, state.layout, lens, state.targets)
    codes = np.stack([found.codes for found in resolved.values()], axis=1)
    _, firsts = np.unique(codes, axis=0, return_index=True)
    return [state.index.tree.pages[number] for number in sorted(firsts.tolist())]


def found_pages(state: SiteState, query: Query) -> list[Page]:
    """The pages of a search."""
    return [state.index.tree.pages[number] for number in state.index.query(query).numbers().tolist()]


def walked(site: Site, state: SiteState, pages: Iterable[Page]) -> list[Walked]:
    """Pages with what was found of each."""
    marks = {mark.path: mark for mark in Mark.objects.filter(site=site).select_related("by")}
    return [
        Walked(page, mark, holds(site, state, page, mark)) if (mark := marks.get(page.path)) else Walked(page, None)
        for page in pages
    ]


def holds(site: Site, state: SiteState, page: Page, mark: Mark) -> bool:
    """Whether a page is drawn as it was when it was marked."""
    return drawn_for_all(site, state, page, read_moment(mark.since)) == mark.drawn


def drawn_for_all(site: Site, state: SiteState, page: Page, since: datetime) -> str:
    """A digest of a page as it is drawn in each of its looks from a moment on, and of who sees them."""
    key = ("drawn for all", page.path, since)
    return state.source.memory.get(key, lambda: _drawn_for_all(site, state, page, since))


def _drawn_for_all(site: Site, state: SiteState, page: Page, since: datetime) -> str:
    told = hashlib.sha256()
    try:
        looks = page_looks(state.index.tree, state.layout, page, since).looks
    except TooManyCombinations:
        looks = ()
    if not 0 < len(looks) <= MOST_LOOKS:
        told.update(str(state.version).encode())
    content = content_of(site, state, page)
    original = cache(partial(state.original, page))
    for look in looks[:MOST_LOOKS]:
        told.update(seen_by(look.seen, since).encode())
        told.update(draw_page(state.source, page, content, look.lens, original=original).data)
    return told.hexdigest()


@transaction.atomic
def put_mark(site: Site, path: str, *, fine: bool, note: str, version: int, by: Any) -> Walked:
    """Say what was found of a page of the draft at a version. Raises InTheWay, Missing, and Refused."""
    state = draft(site)
    page = state.page(path)
    if state.version != version:
        raise InTheWay("edited-meanwhile", "The draft was edited while you looked at it", "Look at the page again.")
    if len(note) > MAX_TEXT:
        raise Refused.for_parameter(ParameterProblem("note", f"a note has at most {MAX_TEXT:,} characters", "long"))
    others = Mark.objects.filter(site=site).exclude(path=path)
    if others.count() >= MOST_MARKED:
        raise InTheWay("too-many-marks", f"{MOST_MARKED:,} pages are marked already", "Take marks away first.")
    since = state.document.now().replace(second=0, microsecond=0)
    drawn = drawn_for_all(site, state, page, since)
    mark, _ = Mark.objects.update_or_create(
        site=site,
        path=path,
        defaults={
            "fine": fine, "note": note.strip(), "by": by, "since": write_moment(since), "drawn": drawn,
        },
    )  # fmt: skip
    return Walked(page, mark, holds=True)


def take_mark(site: Site, path: str) -> None:
    """Take what was found of a page away. Raises Missing."""
    if not Mark.objects.filter(site=site, path=path).delete()[0]:
        raise Missing("no-mark", f"{path} is not marked")
