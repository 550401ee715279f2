"""One page as seen through a lens: the template's grid, the pieces in their slots, the content in its place."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import Outcome, Trace, resolve_page
from navrel.core.cascade.seating import seated_slots, shown_entries
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import SLOTS, TEMPLATE, Piece, Target
from navrel.core.pages.page import Page

from .content import fill_slots
from .items import Place, drawn_item
from .settings import document_title, setting_values, styled

#: The grid of pages whose template says nothing, and of pages without a template.
PLAIN_AREAS = (
    "above-header", "header", "below-header", "title", "before-content", "content", "after-content",
    "above-footer", "footer",
)  # fmt: skip
#: Slots that are read before the content, whatever the grid shows; the others follow it.
_BEFORE_CONTENT = SLOTS[: SLOTS.index("before-content") + 1]
_LANDMARKS = {"header": "header", "footer": "footer", "aside-start": "aside", "aside-end": "aside"}
_LANDMARK_NAMES = {"aside-start": "Beside the page", "aside-end": "More"}


@dataclass(frozen=True)
class Source:
    """What pages are drawn from: a site's document and its index.

    ``resolver`` is worth making where very many pages are drawn; without it each is resolved plainly.
    """

    document: SiteDocument
    index: PageIndex
    resolver: PageResolver | None = None

    def resolve(self, page: Page, lens: Lens) -> dict[Target, Trace]:
        """The traces of every target of a page."""
        if self.resolver is not None:
            return self.resolver.resolve(page, lens)
        return resolve_page(self.index.tree, self.document.layout, page, lens)


@dataclass(frozen=True)
class DrawnPage:
    """The HTML of a page, what each target came to, and the slots that have a place on it."""

    html: str
    traces: dict[Target, Trace]
    seated: frozenset[str]


@cache
def _environment() -> Environment:
    environment = Environment(
        loader=PackageLoader("navrel.rendering"), autoescape=True, undefined=StrictUndefined,
        trim_blocks=True, lstrip_blocks=True,
    )  # fmt: skip
    environment.filters["day"] = _day
    environment.filters["person"] = _person
    return environment


@cache
def _stylesheet() -> Markup:
    """The site's base styles. Written by the project, so safe to stand in a page as it is."""
    return Markup(resources.files("navrel.rendering").joinpath("site.css").read_text())  # noqa: S704


def _day(date: datetime.date | None) -> str:
    return f"{date.day} {date:%B %Y}" if date else ""


def _person(slug: str) -> str:
    return " ".join(part.capitalize() for part in slug.split("-"))


def draw_page(
    source: Source,
    page: Page,
    content: str,
    lens: Lens,
    *,
    outlines: Mapping[str, str] | None = None,
) -> DrawnPage:
    """Draw a page as seen through a lens. ``content`` is sanitised HTML.

    ``outlines`` maps a piece's slug to its colour: with it, slots stand outlined and named.
    """
    layout = source.document.layout
    traces = source.resolve(page, lens)
    slots = {target.name: found.outcome for target, found in traces.items() if target.kind == "slot"}
    template = traces[TEMPLATE].outcome
    seated = seated_slots(layout, page, template, slots, lens, source.index.tree)
    values = setting_values(traces)
    place = Place(source.document.name, source.index, page, values)
    chosen = layout.pieces.get(template.pieces[0]) if template.pieces else None
    areas, columns = _grid(chosen)
    drawn = {
        name: _drawn_slot(source, place, lens, name, outcome, outlines)
        for name, outcome in slots.items()
        if name in seated and (outcome.pieces or (outlines is not None and outcome.state in ("empty", "locked")))
    }
    placed = {area for row in areas for area in row}
    own = {name for name in page.slots if name not in placed}
    filled = fill_slots(content, lambda name: _in_content(name, slots, drawn) if name in own else None)
    around = {name: slot for name, slot in drawn.items() if name not in own}
    own_title = slots["title"].state == "unset"
    html = (
        _environment()
        .get_template("page.html")
        .render(
            page=page,
            site=source.document,
            title=document_title(values, page, source.document),
            styled=styled(values),
            areas=areas,
            columns=columns,
            before={name: slot for name, slot in around.items() if name in _BEFORE_CONTENT},
            after={name: slot for name, slot in around.items() if name not in _BEFORE_CONTENT},
            content=Markup(filled),  # noqa: S704
            own_title=own_title,
            needs_heading=not own_title and "<h1" not in filled and not any(map(_has_heading, drawn.values())),
            outlined=outlines is not None,
            stylesheet=_stylesheet(),
        )
    )
    return DrawnPage(html, traces, seated)


def _in_content(name: str, slots: dict[str, Outcome], drawn: dict[str, dict[str, Any]]) -> str | None:
    """What a slot in the content shows; None for its own fallback, where nothing is set or another system owns it."""
    if name in drawn:
        return str(_environment().get_template("slot.html").render(name=name, slot=drawn[name]))
    return "" if name in slots and slots[name].state == "empty" else None


def _has_heading(slot: dict[str, Any]) -> bool:
    """Whether a drawn slot brings the page's heading."""
    return any(item["type"] == "page-title" for piece in slot["pieces"] for item in piece["items"])


def _grid(template: Piece | None) -> tuple[list[list[str]], str]:
    """The rows of area names and the column tracks. Slots that a template has but does not place get rows."""
    stated = [row.split() for row in template.content.get("areas", [])] if template else []
    has = template.slots if template else SLOTS
    if not stated:
        stated = [[area] for area in PLAIN_AREAS if area == "content" or area in has]
    width = len(stated[0])
    placed = {area for row in stated for area in row}
    if "content" not in placed:
        stated.append(["content"] * width)
    stated += [[slot] * width for slot in has if slot not in placed]
    columns = str(template.content.get("columns", "")) if template else ""
    return stated, columns or " ".join(["minmax(0, 1fr)"] * width)


def _drawn_slot(
    source: Source, place: Place, lens: Lens, name: str, outcome: Outcome, outlines: Mapping[str, str] | None
) -> dict[str, Any]:
    pieces = source.document.layout.pieces
    shown = [pieces[slug] for slug in outcome.pieces if slug in pieces]
    filler = shown[0] if shown else None
    names = " + ".join(piece.name for piece in shown) or ("left empty" if outcome.state == "empty" else "locked")
    return {
        "element": _LANDMARKS.get(name, "div"),
        "label": _LANDMARK_NAMES.get(name, ""),
        "names": names,
        "colour": (outlines or {}).get(filler.slug, "#9AA1A8") if filler else "#9AA1A8",
        "state": outcome.state,
        "outlined": outlines is not None,
        "page": place.page,
        "pieces": [_drawn_piece(source, place, lens, piece) for piece in shown],
    }


def _drawn_piece(source: Source, place: Place, lens: Lens, piece: Piece) -> dict[str, Any]:
    widgets = shown_entries(source.document.layout, piece, source.index.tree, place.page, lens)
    return {
        "slug": piece.slug,
        "kind": piece.kind,
        "style": piece.content.get("style", {}),
        "items": [drawn_item(item, place) for item in piece.content.get("items", [])],
        "widgets": [_drawn_piece(source, place, lens, widget) for widget in widgets],
        "slots": piece.slots,
    }


def draw_piece(source: Source, piece: Piece, page: Page, lens: Lens) -> str:
    """A piece on its own, as it looks on ``page``; a template as the grid of its areas."""
    place = Place(source.document.name, source.index, page)
    areas, columns = _grid(piece) if piece.kind == "template" else ([], "")
    return (
        _environment()
        .get_template("piece.html")
        .render(
            page=page,
            site=source.document,
            piece=_drawn_piece(source, place, lens, piece),
            areas=areas,
            columns=columns,
            stylesheet=_stylesheet(),
        )
    )
