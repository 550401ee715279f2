"""On which targets it hangs whether something is seen: where rules put it, and what gives those slots a place."""

from __future__ import annotations

from collections.abc import Set

from ..layout.model import Layout, Target


def bearing_on_pieces(layout: Layout, pieces: Set[str]) -> frozenset[Target]:
    """The targets on which it hangs where some pieces are seen: no other makes a difference to that."""
    found = set(layout.deciding_places)
    wanted, asked = set(pieces), set[str]()
    while wanted:
        asked |= wanted
        showing = holding(layout, wanted)
        put = {action.target for rule in layout.rules for action in rule.actions if action.piece in showing} - found
        found |= put
        wanted = _with_slots(layout, put) - asked
    return frozenset(found)


def bearing_on_places(layout: Layout, targets: Set[Target]) -> frozenset[Target]:
    """The targets on which it hangs whether some slots have a place; none where none of them is a slot."""
    if all(target.kind != "slot" for target in targets):
        return frozenset()
    return bearing_on_pieces(layout, _with_slots(layout, targets))


def holding(layout: Layout, pieces: Set[str]) -> set[str]:
    """These pieces, those that embed one of them, and the sidebars with one of any of these."""
    drawing = {slug for slug in layout.pieces if slug in pieces or layout.inner.get(slug, frozenset()) & pieces}
    return drawing | {slug for slug, piece in layout.pieces.items() if piece.widgets & drawing}


def _with_slots(layout: Layout, targets: Set[Target]) -> set[str]:
    """The pieces that hold one of some slots. What templates hold is decided by the target that chooses them."""
    names = {target.name for target in targets if target.kind == "slot"}
    return {
        slug for slug, slots in layout.held_slots.items() if slots & names and layout.pieces[slug].kind != "template"
    }
