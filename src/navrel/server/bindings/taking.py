"""Taking finds: pieces and rules are made of them, proven on every page to come to what stood there."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from navrel.core.layout.document import free_name
from navrel.core.layout.model import Action, Piece, Rule
from navrel.server.api.errors import InTheWay
from navrel.server.edits.services import editing
from navrel.server.library.services import put_pieces
from navrel.server.rules.services import add_rules
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site
from navrel.server.sitestate.state import SiteState

from .finding import LOSSES, Found, Left, find, resolved
from .standing import put_down


@dataclass(frozen=True)
class Proof:
    """Whether rules come to what was found: on how many places they do, and where they do not.

    ``lessened``: how many of the ``right`` get a piece that lacks something of what stands there.
    """

    right: int
    wrong: tuple[tuple[str, str], ...]
    lessened: int


def taken_up(found: Iterable[Found], names: Collection[str]) -> tuple[list[Rule], dict[str, Piece]]:
    """The rules and pieces of what was found, the most specific rules first; ``names``: those of other rules."""
    taken = list(names)
    rules: list[Rule] = []
    pieces: dict[str, Piece] = {}
    for one in found:
        for each in reversed(one.finds):
            if each.condition is not None:
                name = free_name(each.piece.name, taken)
                taken.append(name)
                rules.append(Rule(name, each.condition, (Action("fill", each.slot, each.piece.slug),)))
                pieces |= {piece.slug: piece for piece in each.pieces}
    return rules, pieces


def prove(state: SiteState, found: Sequence[Found], rules: Sequence[Rule], pieces: Mapping[str, Piece]) -> Proof:
    """Resolve every page with rules as they would be, against what was found on it, or is decided there already."""
    layout = replace(state.layout, pieces={**state.layout.pieces, **pieces}, rules=(*state.layout.rules, *rules))
    slots = [one.slot for one in found]
    before, after = resolved(state, state.layout, slots), resolved(state, layout, slots)
    numbers = state.index.tree.numbers
    right = lessened = 0
    wrong: list[tuple[str, str]] = []
    for one in found:
        outcomes = after[one.slot]
        wanted = {path: (each.piece.slug,) for each in one.finds if each.is_explained for path in each.pages}
        left = [*one.alone, *(path for each in one.finds if not each.is_explained for path in each.pages)]
        for path in (*wanted, *left):
            number = numbers[path]
            if outcomes.on(number).pieces == before[one.slot].on(number).around(wanted.get(path, ())):
                right += 1
            else:
                wrong.append((one.slot, path))
        lessened += sum(len(each.pages) for each in one.finds if each.is_explained and each.lost)
        changed = (path for path in one.decided if outcomes.on(numbers[path]) != before[one.slot].on(numbers[path]))
        wrong += ((one.slot, path) for path in changed)
    return Proof(right, tuple(wrong), lessened)


def take_finds(slug: str, slots: Collection[str], left: Left = LOSSES, *, by: Any = None) -> dict[str, Any]:
    """Make pieces and rules of what was found in some slots, as one edit. Raises InTheWay where nothing was found.

    ``left``: as for `find`.
    """
    # Looking at all pages takes a while, in which others may save; then it is looked anew.
    unlocked = find_site(slug)
    ahead = find(unlocked, left)
    with editing(slug, by) as site:
        seen = ahead if site.version - 1 == unlocked.version else find(site, left)
        found = [one for one in seen if one.slot in slots]
        state = draft(site)
        rules, pieces = taken_up(found, [rule.name for rule in state.layout.rules])
        if not rules:
            told = "Nothing was found that stands on two pages or more"
            raise InTheWay("nothing-found", told, "Change the bindings.")
        put_pieces(site, {f"/pieces/{number}": piece for number, piece in enumerate(pieces.values())}, set())
        add_rules(site, rules)
        proof = prove(state, found, rules, pieces)
        for each in (each for one in found for each in one.finds if each.is_explained and not each.lost):
            put_down(site, each.slot, each.code, each.pages, state.index.tree)
    return {
        "pieces": len(pieces),
        "rules": len(rules),
        "right": proof.right,
        "wrong": len(proof.wrong),
        "lessened": proof.lessened,
    }
