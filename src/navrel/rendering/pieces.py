"""Pieces as markup: their rows, cells and items, and the widgets of sidebars. What draws nothing leaves no band.

A piece that comes out alike on many pages is drawn once for all of them.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from markupsafe import Markup

from navrel.core.cascade.seating import shown_entries
from navrel.core.layout.contents import items_of
from navrel.core.layout.model import Piece

from .colours import css_colour
from .environment import drawn
from .items.content import rows_of
from .items.parts import bound_to
from .items.place import Place
from .items.registry import ITEMS, ItemType, Sees, by_page
from .placeholders import fill_in, named_in

_NOTHING = Markup("")


@dataclass(frozen=True)
class Drawing:
    """How pieces are drawn on one page.

    ``slot`` gives the markup of a slot in a piece. ``heading`` is the element of headings there. ``where`` names the
    slot and the pieces around, so that what is drawn twice has ids of its own; ``around`` are those pieces: none of
    them is drawn in itself. ``marked``: items carry their place, to be chosen.
    """

    place: Place
    slot: Callable[[str], Markup] = lambda name: _NOTHING
    heading: str = "h2"
    where: str = ""
    around: tuple[str, ...] = ()
    marked: bool = False

    def inside(self, piece: Piece) -> Drawing:
        """How what stands in a piece is drawn."""
        where = f"{self.where}-{piece.slug}"
        return Drawing(self.place, self.slot, self.heading, where, (*self.around, piece.slug), self.marked)


def piece_markup(piece: Piece, drawing: Drawing) -> Markup:
    """A piece on a page, empty where nothing in it draws anything."""
    if piece.slug in drawing.around:
        return _NOTHING
    found = _hangs_on(piece, drawing)
    if found is None:
        return _drawn_piece(piece, drawing)
    key, of_page = found
    return drawing.place.memory.get(key, partial(_drawn_piece, piece, drawing), of_page=of_page)


def _hangs_on(piece: Piece, drawing: Drawing) -> tuple[Hashable, bool] | None:
    """What the whole of a piece is drawn from, and whether that is this page's alone; None for what is always anew."""
    place = drawing.place
    # A piece that is being edited is not the state's: what is kept of that one is not its.
    if drawing.marked or place.document.layout.pieces.get(piece.slug) is not piece:
        return None
    parts = place.memory.get(("parts", piece.slug), partial(_Parts.of, piece, place))
    if parts.anew:
        return None
    widgets: list[Hashable] = []
    of_page = parts.of_page
    for widget in _widgets(piece, place) if piece.entries else ():
        found = _hangs_on(widget, drawing)
        if found is None:
            return None
        widgets.append(found[0])
        of_page = of_page or found[1]
    key = (piece.slug, drawing.where, drawing.heading, place.language, place.in_place, parts.told(place), *widgets)
    return (key, of_page)


@dataclass(frozen=True)
class _Parts:
    """What the items of a piece hang on. ``anew``: on more than can be told; ``of_page``: on the page itself."""

    anew: bool
    of_page: bool
    sees: tuple[Sees, ...]
    names: tuple[str, ...]
    bound: tuple[str, ...]

    @classmethod
    def of(cls, piece: Piece, place: Place) -> _Parts:
        items = list(items_of(piece.content))
        kinds = [ITEMS[item["type"]] for item in items]
        values = [value for item in items for value in item.values()]
        names = named_in(value for value in values if isinstance(value, str))
        bound = tuple(name for value in values if (name := bound_to(value)) is not None)
        sees = tuple(dict.fromkeys(kind.sees for kind in kinds))
        holds = piece.slug in place.document.layout.held_slots
        of_page = by_page in sees or any(name.startswith("page.") for name in names)
        return cls(holds or any(kind.own for kind in kinds), of_page, sees, names, bound)

    def told(self, place: Place) -> Hashable:
        """What they come to here."""
        return (
            tuple(see(place) for see in self.sees),
            tuple(place.told(name) for name in self.names),
            tuple(place.settings.get(name) for name in self.bound),
        )


def _widgets(piece: Piece, place: Place) -> list[Piece]:
    return shown_entries(place.document.layout, piece, place.index.tree, place.page, place.lens)


def _drawn_piece(piece: Piece, drawing: Drawing) -> Markup:
    inside = drawing.inside(piece)
    rows = [row for at, stated in enumerate(rows_of(piece.content)) if (row := _row(piece, stated, at, inside))]
    widgets = _widgets(piece, drawing.place) if piece.entries else []
    shown = [markup for widget in widgets if (markup := piece_markup(widget, inside))]
    if not rows and not shown:
        return _NOTHING
    style = piece.content.get("style", {})
    told = {"piece": piece, "rows": rows, "widgets": shown, "colours": _colours(style), "width": style.get("width", "")}
    return drawn("piece.html", told)


def _colours(style: Mapping[str, Any]) -> dict[str, str]:
    """The colours of a piece as custom properties, which the style sheet follows."""
    names = {"background": "ground", "ink": "own-ink", "pointer": "pointer", "over-background": "over-ground",
             "over-ink": "over-ink", "over-pointer": "over-pointer"}  # fmt: skip
    return {name: css_colour(style[key]) for key, name in names.items() if style.get(key)}


def _row(piece: Piece, row: Mapping[str, Any], number: int, drawing: Drawing) -> dict[str, Any] | None:
    """The cells of a row with what is drawn in them; None where nothing is."""
    base = f"/rows/{number}/cells" if piece.content.get("rows") else ""
    cells = []
    before = 0
    for place, cell in enumerate(row.get("cells", [])):
        stated = cell.get("items", [])
        items = [
            markup
            for at, item in enumerate(stated)
            if (markup := item_markup(item, f"{base}/{place}/items/{at}" if base else f"/items/{before + at}", drawing))
        ]
        before += len(stated)
        told = {"flow": cell.get("flow", "stack"), "align": cell.get("align", "start"), "width": cell.get("width", 0)}
        cells.append({**told, "items": items})
    shares = sum(1 for cell in cells if cell["width"]) > 1
    return {"cells": cells, "shares": shares} if any(cell["items"] for cell in cells) else None


def item_markup(item: Mapping[str, Any], pointer: str, drawing: Drawing) -> Markup:
    """An item where it stands, empty where it draws nothing. ``pointer``: its place in the content (RFC 6901)."""
    kind = ITEMS[item["type"]]
    place = drawing.place
    values = _values(kind, item, place)
    found = kind.draw(values, place)
    if found is None:
        return _marked(_NOTHING, item, pointer, drawing)
    told = {
        **values,
        **found,
        "words": place.words,
        "language": place.language,
        "page": place.page,
        "site": place.document,
        "h": drawing.heading,
        "id": f"{drawing.where}{pointer.replace('/', '-')}",
        "draw": partial(piece_markup, drawing=drawing),
        "stand": drawing.slot,
        "item": partial(_asked, pointer=pointer, drawing=drawing),
        "marked": drawing.marked,
    }
    return _marked(drawn(f"items/{kind.type}.html", told), item, pointer, drawing)


def _asked(item: Mapping[str, Any], number: int, *, pointer: str, drawing: Drawing) -> Markup:
    """An item that markup asks for. In the editor the markup is what can be chosen."""
    return item_markup(item, f"{pointer}/{number}", replace(drawing, marked=False))


def _values(kind: ItemType, item: Mapping[str, Any], place: Place) -> dict[str, Any]:
    """The settings of an item: as stated, as the page setting says that one is bound to, or as they are by default."""
    values = {}
    for part in kind.parts:
        value = item.get(part.name, part.default)
        name = bound_to(value)
        if name is not None:
            value = place.settings.get(name)
            value = part.default if value is None or part.problem(value) else value
        values[part.name] = fill_in(value, place.told) if part.takes == "line" else value
    return values


def _marked(markup: Markup, item: Mapping[str, Any], pointer: str, drawing: Drawing) -> Markup:
    """An item with its look around it, and in the editor with its place."""
    look = item.get("look", {})
    if not (look and markup) and not drawing.marked:
        return markup
    classes = [f"{key}-{look[key]}" for key in ("space", "align") if look.get(key)]
    classes += [f"not-on-{screen}" for screen in look.get("hide", [])]
    colours = {
        css: css_colour(look[key]) for key, css in (("background", "background"), ("ink", "color")) if look.get(key)
    }
    told = {"markup": markup, "classes": classes, "colours": colours, "pointer": pointer if drawing.marked else "",
            "type": ITEMS[item["type"]].name, "look": look}  # fmt: skip
    return drawn("item.html", told)
