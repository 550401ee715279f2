"""How the guards of a draft stand, kept until something changes: the draft, or the hour."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any

from navrel.core.files.reading import read_guards
from navrel.core.files.writing import write_guard
from navrel.core.questions.guard_memory import GuardMemory
from navrel.core.questions.guards import GuardState, Remembered, check_guards
from navrel.core.questions.proposing import proposed_guards
from navrel.server.api.telling import somewhere
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.state import SiteState
from navrel.wording.audiences import audience_words, seen_by
from navrel.wording.guards import demand_words, fault_words
from navrel.wording.pages import PageWords

#: Breaches of one guard that are told, the most pages first.
MOST_BREACHES = 20

_states: Kept[tuple[list[GuardState], Remembered]] = Kept()


def guard_states(site: str, state: SiteState) -> list[GuardState]:
    """How every guard of a draft stands, over all visitors and from the full hour on."""
    since = _full_hour(state)
    version = (state.version, since if state.is_timed else None)

    def ask(older: tuple[list[GuardState], Remembered] | None) -> tuple[list[GuardState], Remembered]:
        memory: Remembered = GuardMemory(older[1] if older else None)
        return check_guards(state.document, state.index, since, memory), memory

    return _states.get(site, version, ask)[0]


def check_now(state: SiteState) -> list[GuardState]:
    """How every guard stands, asked anew: for a draft that is locked, and kept for nobody else."""
    return check_guards(state.document, state.index, _full_hour(state))


def state_of(state: SiteState, tree: Any) -> GuardState:
    """How a guard would stand that is not saved yet. Raises DocumentError; pointers count from the list of guards."""
    guards = read_guards([tree], state.layout.pieces, state.layout.settings)
    document = replace(state.document, layout=replace(state.layout, guards=guards))
    (found,) = check_guards(document, state.index, _full_hour(state))
    return found


def proposals(state: SiteState) -> list[GuardState]:
    """Guards that hold today and that nobody has written."""
    return proposed_guards(state.document, state.index, _full_hour(state))


def _full_hour(state: SiteState) -> datetime:
    return state.document.now().replace(minute=0, second=0, microsecond=0)


def guard_info(state: SiteState, found: GuardState) -> dict[str, Any]:
    """A guard, what it asks for in words, and how it stands."""
    guard, layout = found.guard, state.layout
    names = {slug: piece.name for slug, piece in layout.pieces.items()}
    since = state.document.now()
    keys = {rule.name: rule.key for rule in layout.rules}
    return {
        "guard": write_guard(guard),
        "demands": demand_words(guard.demand, names),
        "where": PageWords(state.document, state.index).where(guard.condition.include, guard.condition.exclude),
        "who": audience_words(guard.condition.audience, since),
        "reached": found.reached,
        "broken": len(found.broken_on),
        "breaches": [
            {
                "words": fault_words(guard.demand, breach.fault, names),
                "who": seen_by(breach.seen, since),
                "rule": keys.get(breach.fault.by) if breach.fault.by else None,
                **somewhere(breach.pages),
            }
            for breach in found.breaches[:MOST_BREACHES]
        ],
        "unknown": somewhere(found.unknown),
    }
