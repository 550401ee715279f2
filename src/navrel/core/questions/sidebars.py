"""Where a sidebar stands, and on how many of its pages each of its entries shows."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..cascade.bulk import entry_pages, resolve_all, seated_pages
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import Layout, Piece
from ..pages.pageset import PageSet


@dataclass(frozen=True)
class EntryReach:
    """How far one entry reaches: the pages that its condition matches, and those of them on which it is to be seen.

    ``matched`` is over all visitors and moments, ``shown`` through the lens.
    """

    matched: int
    shown: int


@dataclass(frozen=True)
class SidebarReach:
    """On how many pages a sidebar stands through the lens, and how far each entry reaches, in their order."""

    pages: int
    entries: tuple[EntryReach, ...]


def sidebar_reach(index: PageIndex, layout: Layout, lens: Lens, sidebar: Piece) -> SidebarReach:
    """How far the entries of a sidebar reach, as it is now or while it is being edited."""
    layout = replace(layout, pieces={**layout.pieces, sidebar.slug: sidebar})
    resolved = resolve_all(index, layout, lens)
    seated = seated_pages(index, layout, lens, resolved)
    standing = PageSet.none(index.size)
    for target, found in resolved.items():
        if target.kind == "slot":
            holds = np.array([sidebar.slug in outcome.pieces for outcome in found.outcomes])
            standing = standing | (PageSet.from_mask(holds[found.codes]) & seated[target.name])
    return SidebarReach(
        len(standing),
        tuple(
            EntryReach(
                len(index.entry(entry.condition)),
                len(standing & entry_pages(index, lens, entry.condition)) if entry.on else 0,
            )
            for entry in sidebar.entries
        ),
    )
