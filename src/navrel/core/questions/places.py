"""All places of a site: every slot that anything has or names, what has it, what it shows, and on how many pages."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import dataclass

import numpy as np

from ..cascade.bulk import resolve_all, seated_pages
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import SLOTS, Layout, Target
from ..pages.page import LockNote


@dataclass(frozen=True)
class PlaceOf:
    """One slot through a lens.

    ``templates``, ``pieces`` and ``menus`` have it, by slug; ``contents``: in how many pages' own content or HTML
    it stands. ``seated``: pages where it has a place; ``shows``: those where something is seen there; ``locked``:
    where another system owns it, with who says so and why. ``shown``: the pieces that are seen, with on how many
    pages, most first.
    ``rules``: how many rules act on it.
    """

    slot: str
    templates: tuple[str, ...]
    pieces: tuple[str, ...]
    menus: tuple[str, ...]
    contents: int
    seated: int
    shows: int
    locked: int
    owners: tuple[LockNote, ...]
    shown: tuple[tuple[str, int], ...]
    rules: int


def all_places(index: PageIndex, layout: Layout, lens: Lens) -> list[PlaceOf]:
    """Every slot of a site, used or not: the standard ones in page order, then the others by name."""
    pages = index.tree.pages
    contents: Counter[str] = Counter(slot for page in pages for slot in page.own_slots)
    locked: Counter[str] = Counter(slot for page in pages for slot in page.locks)
    owners: dict[str, dict[LockNote, None]] = defaultdict(dict)
    for page in pages:
        for slot, note in page.lock_notes.items():
            owners[slot][note] = None
    templates = {slug: piece for slug, piece in layout.pieces.items() if piece.kind == "template"}
    named = {
        *contents, *locked, *(slot for piece in layout.pieces.values() for slot in piece.own_slots),
        *(entry.panel for menu in layout.menus.values() for entry in menu.all_entries if entry.panel),
        *(action.slot for rule in layout.rules for action in rule.actions if action.slot),
    }  # fmt: skip
    every = tuple(dict.fromkeys((*SLOTS, *sorted(named))))
    targets = tuple(Target("slot", slot) for slot in every)
    resolved = resolve_all(index, layout, lens, (*layout.deciding_places, *targets))
    seated = seated_pages(index, layout, lens, resolved)
    found = []
    for slot, target in zip(every, targets, strict=True):
        place = seated[slot]
        outcomes = resolved[target]
        on = np.bincount(outcomes.codes[place.mask()], minlength=len(outcomes.outcomes))
        shown: Counter[str] = Counter()
        for code, outcome in enumerate(outcomes.outcomes):
            for slug in outcome.pieces:
                shown[slug] += int(on[code])
        filled = sum(int(on[code]) for code, outcome in enumerate(outcomes.outcomes) if outcome.pieces)
        found.append(
            PlaceOf(
                slot,
                tuple(slug for slug, piece in templates.items() if slot in piece.slots),
                tuple(
                    slug
                    for slug, piece in layout.pieces.items()
                    if piece.kind != "template" and slot in piece.own_slots
                ),
                tuple(
                    menu.slug for menu in layout.menus.values() if any(one.panel == slot for one in menu.all_entries)
                ),
                contents[slot],
                len(place),
                filled,
                locked[slot],
                tuple(owners[slot]),
                tuple((slug, count) for slug, count in shown.most_common() if count),
                sum(any(action.slot == slot for action in rule.actions) for rule in layout.rules),
            )
        )
    return found
