"""Pages of a state as they are drawn, each with its own content, and its own HTML, of then."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from navrel.core.language.visitor import Lens
from navrel.core.pages.page import Page
from navrel.rendering.dress import Form
from navrel.rendering.page import DrawnPage, draw_page
from navrel.server.inventory.contents import read_content
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.inventory.models import Site
from navrel.server.publishing.live import LiveState
from navrel.server.sitestate.state import SiteState


def drawn_page(
    site: Site,
    state: SiteState,
    page: Page,
    lens: Lens,
    outlines: Mapping[str, str] | None = None,
    form: Form = "",
) -> DrawnPage:
    """A page of a state, with its own content and HTML of then. See `draw_page`."""
    content, original = content_of(site, state, page), partial(state.original, page)
    return draw_page(state.source, page, content, lens, original=original, outlines=outlines, form=form)


def content_of(site: Site, state: SiteState, page: Page) -> str:
    """A page's own content in a state, as sanitised HTML."""
    if isinstance(state, LiveState):
        digest = state.contents.get(page.path, "")
    else:
        mine = PageRecord.objects.filter(site=site, path=page.path)
        digest = mine.values_list("content_id", flat=True).first() or ""
    return read_content(digest)
