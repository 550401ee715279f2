"""Which pages show a piece: in a slot, or as a widget of a sidebar that stands in one."""

from __future__ import annotations

from collections import defaultdict

import numpy as np

from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import TEMPLATE, Layout, Target
from ..pages.pageset import PageSet
from .bulk import TargetOutcomes, entry_pages, in_place_pages, seated_pages


def places_showing(
    index: PageIndex, layout: Layout, lens: Lens, resolved: dict[Target, TargetOutcomes]
) -> dict[str, list[PageSet]]:
    """For each piece that shows somewhere through this lens, the pages on which it does: a set for each place.

    A slot counts where it has a place, a template where a page is not drawn in its own HTML. A place is a target, an
    entry of a sidebar in one, or a piece that embeds it.
    """
    found: dict[str, list[PageSet]] = defaultdict(list)
    seated = seated_pages(index, layout, lens, resolved)
    in_place = in_place_pages(index, resolved)
    for target, outcomes in resolved.items():
        codes_of: dict[str, list[int]] = defaultdict(list)
        for code, outcome in enumerate(outcomes.outcomes):
            for slug in outcome.pieces:
                codes_of[slug].append(code)
        for slug, codes in codes_of.items():
            shows = np.zeros(len(outcomes.outcomes), dtype=np.bool_)
            shows[codes] = True
            pages = PageSet.from_mask(shows[outcomes.codes])
            if target.kind == "slot":
                pages = pages & seated[target.name]
            elif target == TEMPLATE:
                pages = pages - in_place
            if not pages:
                continue
            found[slug].append(pages)
            piece = layout.pieces.get(slug)
            for entry in piece.entries_on if piece else ():
                found[entry.piece].append(pages & entry_pages(index, lens, entry.condition))
    for slug in tuple(found):
        for inner in layout.inner.get(slug, ()):
            found[inner] = [*found[inner], *found[slug]]
    return dict(found)


def pages_showing(
    index: PageIndex, layout: Layout, lens: Lens, resolved: dict[Target, TargetOutcomes]
) -> dict[str, PageSet]:
    """For each piece that shows somewhere through this lens, the pages on which it does."""
    places = places_showing(index, layout, lens, resolved)
    return {slug: PageSet.union(sets, index.size) for slug, sets in places.items()}
