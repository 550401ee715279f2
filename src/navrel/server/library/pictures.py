"""Pictures of pieces: their real rendering, as they look on a page of their site."""

from __future__ import annotations

from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.model import Piece
from navrel.core.pages.page import Page
from navrel.rendering.page import Source, draw_piece
from navrel.server.inventory.models import Site
from navrel.server.publishing.drawing import content_of
from navrel.server.sitestate.state import SiteState


def picture_of(
    site: Site, state: SiteState, piece: Piece, path: str = "", *, source: Source | None = None, marked: bool = False
) -> str:
    """A piece as it looks to anybody on a page of a state now, the first where none is named.

    ``source``: what it is drawn from, where that is not the state; ``marked``: its items carry their place in its
    content. Raises Missing for a page that is not there.
    """
    pages = state.index.tree.pages
    page = state.page(path) if path else (pages[0] if pages else Page("/", "A page"))
    lens = Lens(Visitor(), state.document.now())
    return draw_piece(source or state.source, piece, page, lens, content_of(site, state, page), marked=marked)
