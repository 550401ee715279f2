"""Which pages show a piece: in a slot, or as a widget of a sidebar that stands in one."""

from __future__ import annotations

from .bulk import TargetOutcomes, entry_pages
from .index import PageIndex
from .model import Layout, Lens, Target
from .pageset import PageSet


def pages_showing(
    index: PageIndex, layout: Layout, lens: Lens, resolved: dict[Target, TargetOutcomes]
) -> dict[str, PageSet]:
    """For each piece that shows somewhere through this lens, the pages on which it does."""
    found: dict[str, PageSet] = {}

    def show(slug: str, pages: PageSet) -> None:
        found[slug] = found[slug] | pages if slug in found else pages

    for outcomes in resolved.values():
        for code, outcome in enumerate(outcomes.outcomes):
            if outcome.pieces:
                pages = PageSet.from_mask(outcomes.codes == code)
                for slug in outcome.pieces:
                    show(slug, pages)
    for slug, pages in list(found.items()):
        piece = layout.pieces.get(slug)
        for entry in piece.entries if piece else ():
            show(entry.piece, pages & entry_pages(index, lens, entry.condition))
    return found
