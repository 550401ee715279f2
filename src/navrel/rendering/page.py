"""One page as seen through a lens: the template's grid, the pieces in their slots, the content in its place."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from markupsafe import Markup

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import Outcome, Trace, resolve_page
from navrel.core.cascade.seating import seated_slots
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens
from navrel.core.layout.contents import items_of
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import DRESS_SETTING, SLOTS, TEMPLATE, Piece, SettingValue, Target
from navrel.core.pages.page import Page

from .content import fill_slots
from .dress import Form, dress_css
from .environment import drawn, stylesheet_address
from .items.feeds import Feeds, no_feeds
from .items.grid import WIDTHS
from .items.place import Memory, Place
from .markup.drawing import styles_in, styles_of
from .pieces import Drawing, piece_markup
from .settings import document_title, setting_values, styled

#: The grid of pages whose template says nothing, and of pages without a template.
PLAIN_AREAS = (
    "above-header", "header", "below-header", "title", "before-content", "content", "after-content",
    "above-footer", "footer",
)  # fmt: skip
#: Slots that are read before the content, whatever the grid shows; the others follow it.
_BEFORE_CONTENT = SLOTS[: SLOTS.index("before-content") + 1]
#: Landmarks (ARIA): the page's banner and its content information, what stands beside, and named regions.
_ELEMENTS = {"header": "header", "footer": "footer", "aside-start": "aside", "aside-end": "aside"}
_NO_PIECE = "#9AA1A8"


@dataclass(frozen=True)
class Source:
    """What pages are drawn from: a site's document and its index.

    ``resolver`` is worth making where very many pages are drawn; without it each is resolved plainly. ``memory`` keeps
    what is drawn alike on many pages, for as long as the document is the same; ``feeds`` tells what feeds say.
    """

    document: SiteDocument
    index: PageIndex
    resolver: PageResolver | None = None
    memory: Memory = field(default_factory=Memory)
    feeds: Feeds = no_feeds

    def resolve(self, page: Page, lens: Lens) -> dict[Target, Trace]:
        """The traces of every target of a page."""
        if self.resolver is not None:
            return self.resolver.resolve(page, lens)
        return resolve_page(self.index.tree, self.document.layout, page, lens)

    def place(self, page: Page, lens: Lens, values: Mapping[str, SettingValue | None], content: str = "") -> Place:
        """A page of it, through a lens."""
        return Place(self.document, self.index, page, lens, values, content, self.memory, self.feeds)


@dataclass(frozen=True)
class DrawnPage:
    """The HTML of a page, what each target came to, and the slots that have a place on it."""

    html: str
    traces: dict[Target, Trace]
    seated: frozenset[str]


def draw_page(
    source: Source,
    page: Page,
    content: str,
    lens: Lens,
    *,
    outlines: Mapping[str, str] | None = None,
    form: Form = "",
) -> DrawnPage:
    """Draw a page as seen through a lens. ``content`` is sanitised HTML.

    ``outlines`` maps a piece's slug to its colour: with it, slots stand outlined. ``form`` shows one form
    of its dress.
    """
    traces = source.resolve(page, lens)
    slots = {target.name: found.outcome for target, found in traces.items() if target.kind == "slot"}
    template = traces[TEMPLATE].outcome
    seated = seated_slots(source.document.layout, page, template, slots, lens, source.index.tree)
    values = setting_values(traces)
    place = source.place(page, lens, values, content)
    chosen = source.document.layout.pieces.get(template.pieces[0]) if template.pieces else None
    grid = source.memory.get(("grid", chosen and chosen.slug), lambda: Grid(chosen))
    drawing = _PageDrawing(place, slots, seated, outlines)
    around = {name: markup for name in grid.areas if (markup := drawing.slot(name))}
    own = [name for name in page.slots if name not in grid.areas]
    filled = fill_slots(content, lambda name: drawing.in_content(name) if name in own else None)
    titled = slots["title"].state != "unset"
    told = {
        "page": page,
        "site": source.document,
        "words": place.words,
        "title": document_title(values, page, place),
        "styled": styled(values),
        "dress": _worn(place, form),
        "styles": styles_in("".join([*around.values(), filled]), _styles(source)),
        "grid": grid.css,
        "before": [markup for name, markup in around.items() if name in _BEFORE_CONTENT],
        "after": [markup for name, markup in around.items() if name not in _BEFORE_CONTENT],
        "content": Markup(filled),  # noqa: S704
        "own_title": not titled,
        "needs_heading": titled and "<h1" not in filled and not any("<h1" in one for one in around.values()),
        "outlined": outlines is not None,
        "stylesheet": stylesheet_address(),
    }
    return DrawnPage(str(drawn("page.html", told)), traces, seated)


def _worn(place: Place, form: Form = "") -> Markup:
    """The CSS of the dress that a page wears. It is a few hundred bytes: too little to be fetched by itself."""
    dress = place.document.layout.dress(place.settings.get(DRESS_SETTING))
    files = place.document.files_by_name
    key = ("dress", dress and dress.slug, form)
    return place.memory.get(key, lambda: Markup(dress_css(dress, files, form)))  # noqa: S704


def _styles(source: Source) -> dict[str, str]:
    """The styles of all markup of a state."""
    pieces = source.document.layout.pieces.values()
    return source.memory.get("styles", lambda: styles_of(item for piece in pieces for item in items_of(piece.content)))


class _PageDrawing:
    """The slots of one page, drawn where they stand: in the grid, in the content, in pieces. Each is drawn once."""

    def __init__(
        self, place: Place, slots: Mapping[str, Outcome], seated: frozenset[str], outlines: Mapping[str, str] | None
    ) -> None:
        self.place, self.slots, self.seated, self.outlines = place, slots, seated, outlines
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
        pieces = self.place.document.layout.pieces
        shown = [pieces[slug] for slug in outcome.pieces if slug in pieces]
        early = name in SLOTS[:3]
        drawing = Drawing(self.place, self.inner, "p" if early else "h2", name)
        markups = [markup for piece in shown if (markup := piece_markup(piece, drawing))]
        told = self.outlines is not None and (shown or outcome.state in ("empty", "locked"))
        if not markups and not told:
            return Markup()
        element = _ELEMENTS.get(name, "section") if placed else "div"
        return drawn(
            "slot.html",
            {
                "name": name,
                "element": element,
                "label": "" if element in ("div", "header", "footer") else self.place.words.get(name, name),
                "placed": placed,
                "state": outcome.state,
                "pieces": markups,
                "outlined": self.outlines is not None,
                "colour": (self.outlines or {}).get(shown[0].slug, _NO_PIECE) if shown else _NO_PIECE,
            },
        )

    def inner(self, name: str) -> Markup:
        """A slot that stands in a piece."""
        return self.slot(name, placed=False)


class Grid:
    """The grid of a page: its template's at three widths; slots that it has but does not place get rows."""

    def __init__(self, template: Piece | None) -> None:
        self.template = template
        content = template.content if template else {}
        self.has = template.slots if template else SLOTS
        #: The rows of area names and the column tracks, at each width for which the template states a grid.
        self.at: dict[str, tuple[list[list[str]], str]] = {}
        for width in WIDTHS:
            stated = content if width == "desktop" else content.get(width, {})
            if width == "desktop" or stated.get("areas"):
                self.at[width] = self._grid(stated)

    def _grid(self, stated: Mapping[str, Any]) -> tuple[list[list[str]], str]:
        areas = [row.split() for row in stated.get("areas", [])]
        areas = areas or [[area] for area in PLAIN_AREAS if area == "content" or area in self.has]
        width = len(areas[0])
        placed = {area for row in areas for area in row}
        if "content" not in placed:
            areas.append(["content"] * width)
        areas += [[slot] * width for slot in self.has if slot not in placed]
        return areas, str(stated.get("columns", "")) or " ".join(["minmax(0, 1fr)"] * width)

    @cached_property
    def areas(self) -> tuple[str, ...]:
        """The names of the areas besides the content, in reading order: top down, and from the start to the end."""
        names = dict.fromkeys(area for row in self.at["desktop"][0] for area in row)
        return tuple(name for name in names if name not in (".", "content"))

    @property
    def everything(self) -> tuple[str, ...]:
        """All areas, the content among them."""
        return (*self.areas, "content")

    @cached_property
    def css(self) -> Markup:
        """The grid as CSS. What stands in it was checked when the template was taken in."""
        return drawn("grid.css", {"at": self.at})


def draw_piece(source: Source, piece: Piece, page: Page, lens: Lens, *, marked: bool = False) -> str:
    """A piece on its own, as it looks on ``page``; a template as the grid of its areas.

    ``marked``: its items carry their place in the content, so that one can be chosen by pointing at it.
    """
    traces = source.resolve(page, lens)
    place = source.place(page, lens, setting_values(traces))
    heading = "p" if piece.kind == "header" else "h2"
    markup = piece_markup(piece, Drawing(place, _named_slot, heading, "alone", marked=marked))
    told = {
        "page": page,
        "site": source.document,
        "kind": piece.kind,
        "styles": styles_in(markup, {**_styles(source), **styles_of(items_of(piece.content))}),
        "dress": _worn(place),
        "grid": Grid(piece) if piece.kind == "template" else None,
        "piece": markup,
        "stylesheet": stylesheet_address(),
    }
    return str(drawn("alone.html", told))


def _named_slot(name: str) -> Markup:
    """A slot of a piece that is drawn on its own: its place, with its name."""
    return drawn("place.html", {"name": name})
