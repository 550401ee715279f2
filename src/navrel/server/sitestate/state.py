"""A site's state, as everything that the core is asked about."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import standard_targets
from navrel.core.index.classes import conditions_of
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Layout, Target
from navrel.core.pages.page import LockNote, Page
from navrel.rendering.in_place.drawing import Original
from navrel.rendering.page import Source
from navrel.server.api.errors import Missing
from navrel.server.inventory.originals import FrozenOriginal
from navrel.server.library.feeds import entries_of


@dataclass(frozen=True)
class SiteState:
    """One state of one site: everything that the core is asked about. ``version`` is the site's at that state.

    ``originals``: what pages may be drawn from in their own HTML, by path; none where no page may.
    """

    document: SiteDocument
    index: PageIndex
    version: int = 0
    inventory_version: int = 0
    originals: Mapping[str, FrozenOriginal] = field(kw_only=True, default_factory=dict)

    @property
    def layout(self) -> Layout:
        return self.document.layout

    @cached_property
    def resolver(self) -> PageResolver:
        """Resolves single pages; made when first asked for, and kept as long as the state."""
        return PageResolver(self.index, self.layout)

    @cached_property
    def source(self) -> Source:
        """What its pages are drawn from; what is drawn alike on many of them is kept as long as the state."""
        return Source(self.document, self.index, feeds=entries_of)

    @cached_property
    def targets(self) -> tuple[Target, ...]:
        """The targets that the site has, the slots in the content of its pages among them."""
        own = sorted(self.index.slots_in_pages.union(*self._held_in_pieces()))
        return tuple(dict.fromkeys((*standard_targets(self.layout), *(Target("slot", slot) for slot in own))))

    def _held_in_pieces(self) -> list[frozenset[str]]:
        """The slots that pieces other than templates hold."""
        return [slots for slug, slots in self.layout.held_slots.items() if self.layout.pieces[slug].kind != "template"]

    @cached_property
    def lock_notes(self) -> Mapping[str, Mapping[int, LockNote]]:
        """Who owns locked slots, and why, as far as it is told: by slot, then by page number."""
        found: dict[str, dict[int, LockNote]] = {}
        for number, notes in enumerate(self.index.tree.pages.column("lock_notes")):
            for slot, note in notes.items():
                found.setdefault(slot, {})[number] = note
        return found

    @cached_property
    def is_timed(self) -> bool:
        """Whether anything in it depends on the moment."""
        asked = (guard.condition for guard in self.layout.guards)
        return any(condition.schedule is not None for condition in (*conditions_of(self.layout), *asked))

    def original(self, page: Page) -> Original | None:
        """The HTML of a page of its own; None where it has none."""
        frozen = self.originals.get(page.path)
        return frozen.read() if frozen else None

    def page(self, path: str) -> Page:
        """The page at ``path``. Raises Missing."""
        page = self.index.tree.page(path)
        if page is None:
            raise Missing("no-page", f"There is no page {path}")
        return page
