"""Guards that hold today and that nobody has written: what may be meant to stay so."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime

from ..index.page_index import PageIndex
from ..language.facts import Value
from ..language.query import EVERYWHERE, Clause, Query, Term
from ..layout.condition import Condition
from ..layout.document import SiteDocument, free_name
from ..layout.model import Demand, Guard, Target
from ..pages.pageset import PageSet
from .guards import GuardState, check_guards

#: Groups of pages that are looked at, the largest first, and guards that are proposed.
_MOST_GROUPS = 24
_MOST = 8
#: Pages that a group has at least: what so few have in common may be by chance.
_FEWEST = 3
#: Items of which a page wants one at the most, and how that is said.
_ONCE = {
    "notice": "One notice a page at most",
    "search": "One search box a page at most",
    "breadcrumbs": "Breadcrumbs once a page at most",
}
_SLOTS = tuple(Target("slot", name) for name in ("header", "footer", "title", "aside-start", "aside-end"))


def proposed_guards(document: SiteDocument, index: PageIndex, since: datetime) -> list[GuardState]:
    """Guards that hold for every visitor from a moment on, and how each stands, those of the most pages first.

    What all pages have, and what the pages of a type or a section lack that the rest of the site has.
    """
    taken = {(guard.condition.include, guard.demand) for guard in document.layout.guards}
    asked = [guard for guard in _candidates(index) if (guard.condition.include, guard.demand) not in taken]
    states = check_guards(replace(document, layout=replace(document.layout, guards=tuple(asked))), index, since)
    # That something is bare everywhere says nothing: the site does not use it.
    unused = {state.guard.demand for state in states if state.guard.condition.include == EVERYWHERE and _holds(state)}
    found = [
        state
        for state in states
        if _holds(state) and (state.guard.demand.kind != "bare" or state.guard.demand not in unused)
    ]
    found.sort(key=lambda state: (state.guard.demand.kind == "bare", -state.reached))
    return _chosen(found, document, index)


def _chosen(found: list[GuardState], document: SiteDocument, index: PageIndex) -> list[GuardState]:
    """The first of them under free names, without those on pages that one before it guards in the same way."""
    names = [guard.name for guard in document.layout.guards]
    guarded: dict[Demand, PageSet] = {}
    chosen: list[GuardState] = []
    for state in found:
        guard = state.guard
        pages, earlier = index.query(guard.condition.include), guarded.get(guard.demand)
        if len(chosen) < _MOST and (earlier is None or pages - earlier):
            guarded[guard.demand] = earlier | pages if earlier else pages
            names.append(free_name(guard.name.split("\0")[0], names))
            chosen.append(replace(state, guard=replace(guard, name=names[-1])))
    return chosen


def _holds(state: GuardState) -> bool:
    return state.reached > 0 and not state.is_broken and not state.unknown


def _candidates(index: PageIndex) -> Iterator[Guard]:
    """Guards that may hold, each under a name of its own: the words, and after a null character what tells it apart."""
    for target in _SLOTS[:3]:
        yield Guard(f"Every page has a {target.name}", Condition(EVERYWHERE), Demand("shows", target))
    for item, name in _ONCE.items():
        yield Guard(name, Condition(EVERYWHERE), Demand("at-most", item=item, most=1))
    for target in _SLOTS:
        slot = target.name.replace("-", " ")
        yield Guard(f"No {slot} anywhere", Condition(EVERYWHERE), Demand("bare", target))
        for label, include in _groups(index):
            name = f"No {slot} {label}"[:70]
            yield Guard(f"{name}\0{include}", Condition(include), Demand("bare", target))


def _groups(index: PageIndex) -> list[tuple[str, Query]]:
    """The types and the top sections of a site with enough pages, the largest first."""
    counts: dict[tuple[str, str], int] = {}
    pages = index.tree.pages
    for path, kind in zip(pages.column("path"), pages.column("type"), strict=True):
        top = path.split("/")[1] if path != "/" else ""
        for key in (("type", kind), ("within", f"/{top}" if top else "")):
            if key[1]:
                counts[key] = counts.get(key, 0) + 1
    known = index.tree.numbers.keys()
    ranked = sorted(counts, key=lambda key: (-counts[key], key))
    found: dict[bytes, tuple[str, Query]] = {}
    for fact, value in ranked:
        if counts[fact, value] >= _FEWEST and (fact == "type" or value in known) and len(found) < _MOST_GROUPS:
            query = Query((Clause((Term(fact, (Value(value),)),)),))
            # A section whose pages are just those of a type is one group.
            label = f"on pages of type {value}" if fact == "type" else f"in {value}"
            found.setdefault(index.query(query).bits.tobytes(), (label, query))
    return list(found.values())
