"""What is seen on one page: the slots that have a place there, and the widgets that its sidebars show."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Mapping
from typing import NamedTuple

from ..language.visitor import Lens
from ..layout.binding import Binding
from ..layout.model import FORM, IN_PLACE, SLOTS, TEMPLATE, Layout, Piece, Target
from ..pages.page import Page
from ..pages.tree import PageTree
from .conditions import lets_through, page_clauses
from .plain import Outcome

Outcomes = Mapping[Target, Outcome]


def is_in_place(page: Page, outcomes: Outcomes) -> bool:
    """Whether a page is drawn in its own HTML: where it has any, and its form says so."""
    form = outcomes.get(FORM)
    return page.bound is not None and form is not None and form.value == IN_PLACE


def bindings_of(page: Page, bindings: Iterable[Binding], tree: PageTree) -> tuple[Binding, ...]:
    """The bindings of pages that are built like this one."""
    return tuple(one for one in bindings if not one.where or page_clauses(tree, page, one.where))


def seated_slots(layout: Layout, page: Page, outcomes: Outcomes, lens: Lens, tree: PageTree) -> frozenset[str]:
    """The slots that have a place on a page: of its template or its own HTML, its content, and of pieces shown there.

    ``outcomes`` are those of its template, its slots, and of the page form where the site has it.
    """
    return seated_among(_own_places(layout, page, outcomes), layout, page, outcomes, lens, tree)


def seated_among(
    own: Iterable[str], layout: Layout, page: Page, outcomes: Outcomes, lens: Lens, tree: PageTree
) -> frozenset[str]:
    """The slots that have a place on a page where some do: these, and those of pieces that are shown in them."""
    found = set(own)
    waiting = list(found)
    while waiting:
        outcome = outcomes.get(Target("slot", waiting.pop()))
        for slug in outcome.pieces if outcome else ():
            held = _slots_held(layout, slug, tree, page, lens) - found
            found |= held
            waiting.extend(held)
    return frozenset(found)


def _own_places(layout: Layout, page: Page, outcomes: Outcomes) -> Iterator[str]:
    """The slots that have a place whatever is shown."""
    if is_in_place(page, outcomes):
        yield from page.bound or ()
        return
    yield from page.slots
    template = outcomes[TEMPLATE]
    piece = layout.pieces.get(template.pieces[0]) if template.pieces else None
    yield from piece.slots if piece else SLOTS


class Seen(NamedTuple):
    """A piece that is seen on a page: in which slot, empty for the template, and the piece at the top of it there."""

    piece: str
    slot: str
    top: str


def seen_pieces(layout: Layout, page: Page, outcomes: Outcomes, lens: Lens, tree: PageTree) -> list[Seen]:
    """What is seen on the page: its template, the pieces in seated slots, the widgets of sidebars there.

    What they embed is seen too. A piece that stands in two places is seen twice.
    """
    seated = seated_slots(layout, page, outcomes, lens, tree)
    template = [] if is_in_place(page, outcomes) else [("", outcomes[TEMPLATE])]
    places = [*template, *((one.name, found) for one, found in outcomes.items() if _is_seated(one, seated))]
    found = []
    for slot, outcome in places:
        for top in outcome.pieces:
            piece = layout.pieces.get(top)
            shown = shown_entries(layout, piece, tree, page, lens) if piece is not None else []
            for slug in (top, *(widget.slug for widget in shown)):
                found += [Seen(one, slot, top) for one in (slug, *sorted(layout.inner.get(slug, ())))]
    return found


def _is_seated(target: Target, seated: Container[str]) -> bool:
    return target.kind == "slot" and target.name in seated


def _slots_held(layout: Layout, slug: str, tree: PageTree, page: Page, lens: Lens) -> set[str]:
    piece = layout.pieces.get(slug)
    if piece is None:
        return set()
    held = set(layout.held_slots.get(slug, ()))
    for shown in shown_entries(layout, piece, tree, page, lens):
        held.update(layout.held_slots.get(shown.slug, ()))
    return held


def shown_entries(layout: Layout, sidebar: Piece, tree: PageTree, page: Page, lens: Lens) -> list[Piece]:
    """The widgets that a sidebar shows on this page through this lens, in order."""
    return [
        layout.pieces[entry.piece]
        for entry in sidebar.entries_on
        if entry.piece in layout.pieces and lets_through(tree, page, lens, entry.condition)
    ]


def shown_sidebars(
    tree: PageTree, layout: Layout, page: Page, lens: Lens, outcomes: Outcomes
) -> dict[str, tuple[str, ...]]:
    """For each sidebar in a seated slot, the widgets that it shows on a page through a lens."""
    sidebars = {
        slug
        for target, outcome in outcomes.items()
        if target.kind == "slot"
        for slug in outcome.pieces
        if slug in layout.pieces and layout.pieces[slug].kind == "sidebar"
    }
    if not sidebars:
        return {}
    seated = seated_slots(layout, page, outcomes, lens, tree)
    return {
        slug: tuple(widget.slug for widget in shown_entries(layout, layout.pieces[slug], tree, page, lens))
        for target, outcome in outcomes.items()
        if _is_seated(target, seated)
        for slug in outcome.pieces
        if slug in sidebars
    }
