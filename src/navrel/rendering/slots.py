"""The slots of a page, with the pieces in them."""

from __future__ import annotations

from collections.abc import Mapping

from markupsafe import Markup

from navrel.core.cascade.plain import Outcome
from navrel.core.layout.model import SLOTS, Target

from .environment import drawn
from .items.place import Place
from .pieces import Drawing, piece_markup

#: Landmarks (ARIA): the page's banner and its content information, what stands beside, and named regions.
_ELEMENTS = {"header": "header", "footer": "footer", "aside-start": "aside", "aside-end": "aside"}
_NO_PIECE = "#9AA1A8"


class SlotDrawing:
    """The slots of one page, drawn where they stand: in the grid, in the content, in pieces. Each is drawn once."""

    def __init__(
        self,
        place: Place,
        outcomes: Mapping[Target, Outcome],
        seated: frozenset[str],
        outlines: Mapping[str, str] | None = None,
        *,
        marked: bool = False,
    ) -> None:
        self.place, self.seated, self.outlines, self.marked = place, seated, outlines, marked
        self.slots = {target.name: found for target, found in outcomes.items() if target.kind == "slot"}
        self.begun: set[str] = set()

    def in_content(self, name: str) -> str | None:
        """What a slot in the content shows; None for its own fallback, where nothing is set or it is not ours."""
        markup = self.slot(name, placed=False)
        if markup:
            return str(markup)
        return "" if name in self.slots and self.slots[name].state == "empty" else None

    def slot(self, name: str, *, placed: bool = True) -> Markup:
        """A slot with its pieces; empty where it shows nothing, has no place, or was drawn elsewhere already."""
        outcome = self.slots.get(name)
        if outcome is None or name not in self.seated or name in self.begun:
            return Markup()
        self.begun.add(name)
        markups = [markup for markup in self.pieces(name, outcome).values() if markup]
        told = self.outlines is not None and (outcome.pieces or outcome.state in ("empty", "locked"))
        if not markups and not told:
            return Markup()
        return self.frame(name, outcome, markups, placed=placed)

    def pieces(self, name: str, outcome: Outcome) -> dict[str, Markup]:
        """What the pieces of a slot draw, by their slugs; empty for those that draw nothing."""
        pieces = self.place.document.layout.pieces
        shown = [pieces[slug] for slug in outcome.pieces if slug in pieces]
        drawing = Drawing(self.place, self.inner, "p" if name in SLOTS[:3] else "h2", name, marked=self.marked)
        return {piece.slug: piece_markup(piece, drawing) for piece in shown}

    def frame(self, name: str, outcome: Outcome, markups: list[Markup], *, placed: bool) -> Markup:
        """The element of a slot around what its pieces draw."""
        element = _ELEMENTS.get(name, "section") if placed else "div"
        told = {
            "name": name,
            "element": element,
            "label": "" if element in ("div", "header", "footer") else self.place.words.get(name, name),
            "placed": placed,
            "state": outcome.state,
            "pieces": markups,
            "outlined": self.outlines is not None,
            "colour": self.colour(name),
            "in_place": self.place.in_place,
        }
        return drawn("slot.html", told)

    def colour(self, name: str) -> str:
        """The colour in which a slot is outlined: that of the first piece in it."""
        pieces = self.place.document.layout.pieces
        slug = next((slug for slug in self.slots[name].pieces if slug in pieces), "")
        return (self.outlines or {}).get(slug, _NO_PIECE)

    def inner(self, name: str) -> Markup:
        """A slot that stands in a piece."""
        return self.slot(name, placed=False)
