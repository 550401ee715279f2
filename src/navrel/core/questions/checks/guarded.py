"""Guards that are broken, that are asked of nothing, or that cannot be told."""

from __future__ import annotations

from collections.abc import Iterator

from ...layout.model import Layout
from ..guards import GuardState
from .finding import MOST_PAGES, Finding, Survey


def guards(survey: Survey) -> Iterator[Finding]:
    """What there is to say of guards that are on, over all looks from the moment of the lens on."""
    for number, state in enumerate(survey.guards):
        pointer, guard = f"/guards/{number}", state.guard
        if not guard.on:
            continue
        if state.is_broken:
            yield broken(pointer, state, survey.layout)
        if not state.reached:
            yield Finding("guard-idle", "warning", pointer, guard.name)
        if state.unknown:
            pages = state.unknown
            yield Finding("guard-unknown", "hint", pointer, guard.name, pages=pages[:MOST_PAGES], page_count=len(pages))


def broken(pointer: str, state: GuardState, layout: Layout) -> Finding:
    """That a guard is broken, with what is seen where it is on the most pages."""
    names = {slug: piece.name for slug, piece in layout.pieces.items()}
    about = {"guard": state.guard, "fault": state.breaches[0].fault, "names": names}
    pages = state.broken_on
    return Finding(
        "guard-broken", "error", pointer, state.guard.name, about, pages=pages[:MOST_PAGES], page_count=len(pages)
    )
