"""Which pages show a piece: in a slot, or as a widget of a sidebar that stands in one."""

from __future__ import annotations

from .bulk import TargetOutcomes
from .conditions import Refused, visitor_specificity
from .index import PageIndex
from .model import Condition, Layout, Target, Visitor
from .pageset import PageSet


def pages_showing(
    index: PageIndex, layout: Layout, visitor: Visitor, resolved: dict[Target, TargetOutcomes]
) -> dict[str, PageSet]:
    """For each piece that shows somewhere for this visitor, the pages on which it does."""
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
            show(entry.piece, pages & entry_pages(index, visitor, entry.condition))
    return found


def entry_pages(index: PageIndex, visitor: Visitor, condition: Condition) -> PageSet:
    """The pages on which a sidebar's entry shows to a visitor. An empty include means every page."""
    if isinstance(visitor_specificity(visitor, condition), Refused):
        return PageSet.none(index.size)
    included = index.query(condition.include) if condition.include else PageSet.everything(index.size)
    return included - index.query(condition.exclude)
