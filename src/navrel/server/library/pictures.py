"""Pictures of pieces: their real rendering, as they look on a page of their site."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from navrel.core.language.visitor import Lens, Visitor
from navrel.core.pages.page import Page
from navrel.rendering.page import Source, draw_piece
from navrel.server.inventory.models import Site
from navrel.server.publishing.drawing import content_of
from navrel.server.sitestate.state import SiteState


def pictures_on(site: Site, state: SiteState, path: str = "", source: Source | None = None) -> Callable[..., str]:
    """What draws pieces as they look to anybody on a page of a state now, the first where none is named.

    It takes a piece, and whether its items are marked (`draw_piece`). ``source``: what they are drawn from, where that
    is not the state. Raises Missing for a page that is not there.
    """
    pages = state.index.tree.pages
    page = state.page(path) if path else (pages[0] if pages else Page("/", "A page"))
    lens, content = Lens(Visitor(), state.document.now()), content_of(site, state, page)
    return partial(draw_piece, source or state.source, page=page, lens=lens, content=content)
