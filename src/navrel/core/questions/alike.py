"""Whether other pieces look the same: a copy in place of what it was copied from changes nothing to be seen."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..cascade.plain import Outcome
from ..layout.document import SiteDocument
from ..layout.model import Layout, Piece, Target
from .shifts import Redrawing

#: Tells of the slugs of pieces, before and after, whether they are drawn from the same.
Alike = Callable[[Sequence[str], Sequence[str]], bool]


def alike_in(before: SiteDocument, after: SiteDocument, redrawing: Redrawing) -> Alike:
    """Tells of pieces in two states whether they are drawn from the same; never where something around them differs."""
    layouts = before.layout, after.layout
    same_ground = not redrawing.pages and all(
        getattr(before, name) == getattr(after, name) for name in ("name", "base_url", "language", "time_zone", "files")
    )
    redrawn = redrawing.pieces.union(*redrawing.on_pages.values())

    def alike(old: Sequence[str], new: Sequence[str]) -> bool:
        if not same_ground or not old or len(old) != len(new) or not redrawn.isdisjoint((*old, *new)):
            return False
        drawn = ([_whole(layout, slug) for slug in slugs] for layout, slugs in zip(layouts, (old, new), strict=True))
        return next(drawn) == next(drawn)

    return alike


def shows_what_stands(
    standing: frozenset[tuple[str, str]], target: Target, own: Outcome | None, made: Outcome | None
) -> bool:
    """Whether one outcome leaves what stands in the page's own HTML, and the other puts a piece there that shows it.

    What is added to it stands around it in both.
    """
    if own is None or not own.is_open or made is None or made.is_open:
        return False
    return any(target.name == slot and made.pieces == own.around((piece,)) for slot, piece in standing)


def _whole(layout: Layout, slug: str) -> object:
    """All that a piece is drawn from: itself, the menus that it shows, and what it embeds."""
    pieces = [layout.pieces[one] for one in (slug, *sorted(layout.inner.get(slug, ())))]
    menus = [layout.menus[menu] for piece in pieces for menu in layout.menus_of(piece)]
    return pieces[0].kind, [drawn_from(piece) for piece in pieces], menus


def drawn_from(piece: Piece) -> object:
    """What a piece is drawn from, besides the widgets of its entries."""
    return piece.content, piece.slots
