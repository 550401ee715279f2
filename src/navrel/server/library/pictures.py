"""Pictures of pieces: their real rendering, as they look on a page of their site."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.model import Piece
from navrel.core.pages.page import Page
from navrel.rendering.in_place.drawing import Original
from navrel.rendering.page import Source, draw_piece, draw_piece_in_place, lost_of_piece
from navrel.server.inventory.models import Site
from navrel.server.publishing.drawing import content_of
from navrel.server.publishing.showing import shown
from navrel.server.sitestate.state import SiteState


@dataclass(frozen=True)
class Pictures:
    """What draws pieces on one page."""

    source: Source
    page: Page
    lens: Lens
    content: str
    original: Callable[[], Original | None]

    def draw(self, piece: Piece, *, marked: bool = False) -> str:
        """A piece as it looks there (`draw_piece`)."""
        return draw_piece(self.source, piece, self.page, self.lens, self.content, marked=marked)

    def draw_in_place(self, piece: Piece, *, marked: bool = False) -> str | None:
        """The page in its own HTML with a piece in its slot (`draw_piece_in_place`); None where it has none."""
        own = self.original()
        if own is None:
            return None
        drawn = draw_piece_in_place(self.source, piece, self.page, own, self.lens, self.content, marked=marked)
        return shown(self.source.document, self.page, drawn.html) if drawn else None

    def lost(self, piece: Piece) -> dict[str, Counter[str]]:
        """What its markup loses there, by the pointers of its items (`lost_of_piece`)."""
        return lost_of_piece(self.source, piece, self.page, self.lens, self.content)


def pictures_on(site: Site, state: SiteState, path: str = "", source: Source | None = None) -> Pictures:
    """What draws pieces as they look to anybody on a page of a state now, the first where none is named.

    ``source``: what they are drawn from, where that is not the state. Raises Missing for a page that is not there.
    """
    pages = state.index.tree.pages
    page = state.page(path) if path else (pages[0] if pages else Page("/", "A page"))
    lens, content = Lens(Visitor(), state.document.now()), content_of(site, state, page)
    return Pictures(source or state.source, page, lens, content, partial(state.original, page))
