"""One page as seen through a lens: the template's grid, the pieces in their slots, the content in its place."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial
from typing import Any

from markupsafe import Markup

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import Outcome, Trace, resolve_page
from navrel.core.cascade.seating import bindings_of, is_in_place, seated_among, seated_slots
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens
from navrel.core.layout.binding import Binding
from navrel.core.layout.contents import CODE, in_markup, items_at, items_of, markup_alone
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import DRESS_SETTING, SLOTS, TEMPLATE, Layout, Piece, SettingValue, Target, slot_kind
from navrel.core.pages.page import Page

from .content import fill_slots, with_ids
from .dress import Form, dress_css
from .environment import drawn, stylesheet_address
from .in_place.drawing import Original, draw_in_place
from .in_place.styles import in_place_styles
from .items.feeds import Feeds, no_feeds
from .items.grid import WIDTHS
from .items.place import Memory, Place, no_content
from .markup.drawing import lost_by, styles_in, styles_of
from .pieces import Drawing, piece_markup
from .settings import document_title, setting_values, styled
from .slots import SlotDrawing

#: The grid of pages whose template says nothing, and of pages without a template.
PLAIN_AREAS = (
    "above-header", "header", "below-header", "title", "before-content", "content", "after-content",
    "above-footer", "footer",
)  # fmt: skip
_TITLE = Target("setting", "document-title")
#: Slots that are read before the content, whatever the grid shows; the others follow it.
_BEFORE_CONTENT = SLOTS[: SLOTS.index("before-content") + 1]


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

    def place(
        self,
        page: Page,
        lens: Lens,
        values: Mapping[str, SettingValue | None],
        read: Callable[[], str] = no_content,
        *,
        in_place: bool = False,
    ) -> Place:
        """A page of it, through a lens; ``read`` gives its content, ``in_place``: in its own HTML."""
        return Place(self.document, self.index, page, lens, values, read, self.memory, self.feeds, in_place)


@dataclass(frozen=True)
class DrawnPage:
    """The HTML of a page, what each target came to, and the slots that have a place on it.

    ``encoding``: what its bytes are written in. ``in_place``: whether it is its own HTML.
    """

    data: bytes
    traces: dict[Target, Trace]
    seated: frozenset[str]
    encoding: str = "utf-8"
    in_place: bool = False

    @cached_property
    def html(self) -> str:
        """The HTML as text."""
        return self.data.decode(self.encoding, "replace")


def no_original() -> None:
    """For pages that have no HTML of their own."""
    return


def draw_page(
    source: Source,
    page: Page,
    content: str,
    lens: Lens,
    *,
    original: Callable[[], Original | None] = no_original,
    outlines: Mapping[str, str] | None = None,
    form: Form = "",
    scripts_run: bool = False,
) -> DrawnPage:
    """Draw a page as seen through a lens. ``content`` is sanitised HTML.

    ``original`` gives the HTML of its own; it is asked for where the page is drawn in place.

    ``outlines`` maps a piece's slug to its colour: with it, slots stand outlined. ``form`` shows one form
    of its dress. ``scripts_run``: whether those of its own HTML do where it is shown.
    """
    traces = source.resolve(page, lens)
    outcomes = {target: found.outcome for target, found in traces.items()}
    seated = seated_slots(source.document.layout, page, outcomes, lens, source.index.tree)
    values = setting_values(traces)
    own = original() if is_in_place(page, outcomes) else None
    in_place = own is not None
    # Its own HTML has the ids that it has.
    place = source.place(page, lens, values, lambda: content if in_place else with_ids(content), in_place=in_place)
    drawing = SlotDrawing(place, outcomes, seated, outlines)
    if own is not None:
        kept = bindings_of(page, source.document.bindings, source.index.tree) if scripts_run else ()
        return _drawn_over(own, drawing, traces, seated, kept=kept)
    return DrawnPage(_arranged(place, drawing, outcomes, form).encode(), traces, seated)


def draw_over(source: Source, page: Page, own: Original, bindings: Sequence[Binding], lens: Lens) -> DrawnPage:
    """Draw a page over HTML that somebody has for it, whatever its form: what is not decided stays, to the byte.

    ``bindings``: those by which the slots of ``own`` were found.
    """
    traces = source.resolve(page, lens)
    outcomes = {target: found.outcome for target, found in traces.items()}
    slots = {seat.slot for seat in own.seats}
    seated = seated_among(slots, source.document.layout, page, outcomes, lens, source.index.tree)
    place = source.place(page, lens, setting_values(traces), in_place=True)
    return _drawn_over(own, SlotDrawing(place, outcomes, seated), traces, seated, kept=bindings)


def _drawn_over(
    own: Original,
    drawing: SlotDrawing,
    traces: dict[Target, Trace],
    seated: frozenset[str],
    *,
    picked: str = "",
    kept: Sequence[Binding] = (),
) -> DrawnPage:
    place = drawing.place
    title = document_title(place.settings, place.page, place) if _is_said(traces.get(_TITLE)) else None
    data = draw_in_place(own, drawing, title, partial(styles_for, place), picked=picked, kept=kept)
    return DrawnPage(data, traces, seated, own.encoding, in_place=True)


def _arranged(place: Place, drawing: SlotDrawing, outcomes: Mapping[Target, Outcome], form: Form) -> str:
    """A page put together from its content and the grid of its template."""
    page, content = place.page, place.content
    template = outcomes[TEMPLATE]
    chosen = place.document.layout.pieces.get(template.pieces[0]) if template.pieces else None
    grid = place.memory.get(("grid", chosen and chosen.slug), lambda: Grid(chosen))
    around = {name: markup for name in grid.areas if (markup := drawing.slot(name))}
    own = [name for name in page.slots if name not in grid.areas]
    filled = fill_slots(content, lambda name: drawing.in_content(name) if name in own else None)
    titled = outcomes[Target("slot", "title")].state != "unset"
    told = {
        "page": page,
        "site": place.document,
        "words": place.words,
        "title": document_title(place.settings, page, place),
        "styled": styled(place.settings),
        "dress": _worn(place, form),
        "styles": styles_in("".join([*around.values(), filled]), _styles(place)),
        "grid": grid.css,
        "before": [markup for name, markup in around.items() if name in _BEFORE_CONTENT],
        "after": [markup for name, markup in around.items() if name not in _BEFORE_CONTENT],
        "content": Markup(filled),  # noqa: S704
        "own_title": not titled,
        "needs_heading": titled and "<h1" not in filled and not any("<h1" in one for one in around.values()),
        "outlined": drawing.outlines is not None,
        "stylesheet": stylesheet_address(),
    }
    return str(drawn("page.html", told))


def _is_said(found: Trace | None) -> bool:
    """Whether a rule decides a setting."""
    return found is not None and found.outcome.by is not None


def styles_for(place: Place, markup: str) -> str:
    """The styles that drawn markup needs on a page with styles of its own."""
    return in_place_styles(str(_worn(place)), str(styles_in(markup, _styles(place))))


def _worn(place: Place, form: Form = "") -> Markup:
    """The CSS of the dress that a page wears. It is a few hundred bytes: too little to be fetched by itself."""
    dress = place.document.layout.dress(place.settings.get(DRESS_SETTING))
    files = place.document.files_by_name
    key = ("dress", dress and dress.slug, form)
    return place.memory.get(key, lambda: Markup(dress_css(dress, files, form)))  # noqa: S704


def _styles(place: Place) -> dict[str, str]:
    """The styles of all markup of a state."""
    pieces = place.document.layout.pieces.values()
    return place.memory.get("styles", lambda: styles_of(item for piece in pieces for item in items_of(piece.content)))


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


def draw_piece(source: Source, piece: Piece, page: Page, lens: Lens, content: str = "", *, marked: bool = False) -> str:
    """A piece on its own, as it looks on ``page`` with its content; a template as the grid of its areas.

    ``marked``: its items carry their place in the content, so that one can be chosen by pointing at it.
    """
    place = _place_alone(source, page, lens, content)
    heading = "p" if piece.kind == "header" else "h2"
    markup = piece_markup(piece, Drawing(place, _named_slot, heading, "alone", marked=marked))
    told = {
        "page": page,
        "site": source.document,
        "kind": piece.kind,
        "styles": styles_in(markup, {**_styles(place), **styles_of(items_of(piece.content))}),
        "dress": _worn(place),
        "grid": Grid(piece) if piece.kind == "template" else None,
        "piece": markup,
        "stylesheet": stylesheet_address(),
    }
    return str(drawn("alone.html", told))


def draw_piece_in_place(
    source: Source, piece: Piece, page: Page, own: Original, lens: Lens, content: str = "", *, marked: bool = False
) -> DrawnPage | None:
    """A page in its own HTML with a piece in the slot in which it shows there, or that is its kind's.

    It is marked as what a picture of the page is to show. None for one that has no such slot. ``marked``: as above, but
    for markup alone, which the page's own styles know only without anything around it.
    """
    layout = replace(source.document.layout, pieces={**source.document.layout.pieces, piece.slug: piece})
    source = Source(replace(source.document, layout=layout), source.index, feeds=source.feeds)
    traces = source.resolve(page, lens)
    outcomes = {target: found.outcome for target, found in traces.items()}
    slot = _slot_of(piece, [seat.slot for seat in own.seats], layout, outcomes)
    if slot is None or not is_in_place(page, outcomes):
        return None
    outcomes[Target("slot", slot)] = _alone(piece, layout, outcomes.get(Target("slot", slot)))
    seated = seated_slots(layout, page, outcomes, lens, source.index.tree)
    place = source.place(page, lens, setting_values(traces), lambda: content, in_place=True)
    drawing = SlotDrawing(place, outcomes, seated, marked=marked and markup_alone(piece.content) is None)
    return _drawn_over(own, drawing, traces, seated, picked=slot)


def _slot_of(piece: Piece, seats: Sequence[str], layout: Layout, outcomes: Mapping[Target, Outcome]) -> str | None:
    """The slot among some in which a piece shows, by itself or in another piece; else the first that is its kind's."""

    def shows(slot: str) -> bool:
        outcome = outcomes.get(Target("slot", slot))
        return outcome is not None and any(_shows(layout, piece, slug) for slug in outcome.pieces)

    of_kind = (slot for slot in seats if slot_kind(slot) == piece.kind)
    return next(filter(shows, seats), None) or next(of_kind, None)


def _alone(piece: Piece, layout: Layout, outcome: Outcome | None) -> Outcome:
    """A slot that shows a piece and no other; beside what the page has there, where it is added to that."""
    own_at = None
    if outcome is not None and outcome.own_at is not None:
        places = (place for place, slug in enumerate(outcome.pieces) if _shows(layout, piece, slug))
        first = next(places, None)
        own_at = None if first is None else int(first < outcome.own_at)
    return Outcome("filled", (piece.slug,), own_at=own_at)


def _shows(layout: Layout, piece: Piece, slug: str) -> bool:
    """Whether a piece by its slug is one, or shows it."""
    around = layout.pieces.get(slug)
    held = around is not None and (piece.slug in around.widgets or piece.slug in layout.inner.get(slug, ()))
    return held or piece.slug == slug


def lost_of_piece(source: Source, piece: Piece, page: Page, lens: Lens, content: str = "") -> dict[str, Counter[str]]:
    """What is lost of the markup of a piece on ``page`` (`lost_in`), by JSON Pointer (RFC 6901) of its items."""
    stated = ((at, item.get(CODE)) for at, item in items_at(piece.content) if not in_markup(at))
    codes = {at: code for at, code in stated if isinstance(code, str)}
    if not codes:
        return {}
    place = _place_alone(source, page, lens, content, as_there=True)
    found = {at: lost_by(code, place) for at, code in codes.items()}
    return {at: lost for at, lost in found.items() if lost}


def _place_alone(source: Source, page: Page, lens: Lens, content: str, *, as_there: bool = False) -> Place:
    """Where a piece on its own is drawn. ``as_there``: in HTML of the page's own, where the page is."""
    traces = source.resolve(page, lens)
    in_place = is_in_place(page, {target: found.outcome for target, found in traces.items()})
    return source.place(
        page, lens, setting_values(traces), lambda: content if in_place else with_ids(content),
        in_place=as_there and in_place,
    )  # fmt: skip


def _named_slot(name: str) -> Markup:
    """A slot of a piece that is drawn on its own: its place, with its name."""
    return drawn("place.html", {"name": name})
