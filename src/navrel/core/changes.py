"""What differs between two states of a site: in the words of its parts, and on its pages."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .bulk import resolve_all
from .cascade import Outcome, standard_targets
from .document import SiteDocument
from .index import PageIndex
from .model import Lens, Page, Target
from .writing import write_piece, write_rule

What = Literal["rule", "piece", "order", "pages", "site"]
How = Literal["added", "removed", "changed", "moved"]


@dataclass(frozen=True)
class Change:
    """One part that differs. ``details``: which of its settings do; for pages, how many of them."""

    what: What
    how: How
    name: str
    details: tuple[str, ...] = ()
    count: int = 1


@dataclass(frozen=True)
class PageChange:
    """One target whose outcome differs in the same way on these pages."""

    target: Target
    before: Outcome | None
    after: Outcome | None
    pages: tuple[Page, ...]


def changed_parts(before: SiteDocument, after: SiteDocument) -> list[Change]:
    """The rules, pieces, order, pages and site facts that differ: rules first, each group by name."""
    return [
        *_compare(
            "rule",
            {rule.name: write_rule(rule) for rule in before.layout.rules},
            {rule.name: write_rule(rule) for rule in after.layout.rules},
        ),
        *_order(before, after),
        *_compare(
            "piece",
            {piece.name: write_piece(piece) for piece in before.layout.pieces.values()},
            {piece.name: write_piece(piece) for piece in after.layout.pieces.values()},
        ),
        *_pages(before, after),
        *_site(before, after),
    ]


def _compare(
    what: What, before: Mapping[str, dict[str, object]], after: Mapping[str, dict[str, object]]
) -> list[Change]:
    found = []
    for name in sorted(before.keys() | after.keys()):
        old, new = before.get(name), after.get(name)
        if old is None:
            found.append(Change(what, "added", name))
        elif new is None:
            found.append(Change(what, "removed", name))
        elif old != new:
            details = tuple(key for key in dict.fromkeys((*old, *new)) if old.get(key) != new.get(key))
            found.append(Change(what, "changed", name, details))
    return found


def _order(before: SiteDocument, after: SiteDocument) -> list[Change]:
    old = [rule.name for rule in before.layout.rules]
    new = [rule.name for rule in after.layout.rules]
    kept = set(old) & set(new)
    if [name for name in old if name in kept] == [name for name in new if name in kept]:
        return []
    return [Change("order", "moved", "the order of the rules")]


def _pages(before: SiteDocument, after: SiteDocument) -> list[Change]:
    old = {page.path: page for page in before.pages}
    new = {page.path: page for page in after.pages}
    counts: dict[How, int] = {
        "added": len(new.keys() - old.keys()),
        "removed": len(old.keys() - new.keys()),
        "changed": sum(old[path] != new[path] for path in old.keys() & new.keys()),
    }
    return [Change("pages", how, "pages", count=count) for how, count in counts.items() if count]


def _site(before: SiteDocument, after: SiteDocument) -> list[Change]:
    keys = ("name", "base_url", "language", "time_zone", "roles", "taxonomies")
    details = tuple(key for key in keys if getattr(before, key) != getattr(after, key))
    if before.layout.default_template != after.layout.default_template:
        details = (*details, "default_template")
    return [Change("site", "changed", after.name, details)] if details else []


def changed_pages(
    before: SiteDocument, before_index: PageIndex, after: SiteDocument, after_index: PageIndex, lens: Lens
) -> list[PageChange]:
    """Through one lens, the targets whose outcome differs, grouped by the difference; most pages first.

    A page of one state alone counts as coming from, or going to, nothing.
    """
    targets = tuple(dict.fromkeys((*standard_targets(before.layout), *standard_targets(after.layout))))
    old = resolve_all(before_index, before.layout, lens, targets)
    new = resolve_all(after_index, after.layout, lens, targets)
    numbers = np.array([before_index.site.numbers.get(page.path, -1) for page in after_index.site.pages], dtype=np.intp)
    found: list[PageChange] = []
    for target in targets:
        pairs = _paired(old[target].codes, new[target].codes, numbers)
        kinds, places = np.unique(pairs, axis=0, return_inverse=True)
        for kind, (old_code, new_code) in enumerate(kinds.tolist()):
            was = old[target].outcomes[old_code] if old_code >= 0 else None
            now = new[target].outcomes[new_code]
            if was is None or _shows(was) != _shows(now):
                pages = np.flatnonzero(places == kind).tolist()
                found.append(PageChange(target, was, now, tuple(after_index.site.pages[number] for number in pages)))
        found += _left(target, old[target].outcomes, old[target].codes, before_index, after_index)
    return sorted(_joined(found), key=lambda change: -len(change.pages))


def _paired(old: np.ndarray, new: np.ndarray, numbers: np.ndarray) -> np.ndarray:
    """For each page after, its code before (-1: it was not there) and its code now; shape (pages, 2)."""
    was = np.where(numbers >= 0, old[numbers] if len(old) else -1, -1)
    return np.stack([was, new], axis=1)


def _left(
    target: Target, outcomes: tuple[Outcome, ...], codes: np.ndarray, before: PageIndex, after: PageIndex
) -> list[PageChange]:
    """Pages that are there no more."""
    found: dict[int, list[Page]] = {}
    for number, page in enumerate(before.site.pages):
        if page.path not in after.site.numbers:
            found.setdefault(int(codes[number]), []).append(page)
    return [PageChange(target, outcomes[code], None, tuple(pages)) for code, pages in found.items()]


def _shows(outcome: Outcome | None) -> tuple[object, ...]:
    """What a visitor can see of an outcome: not which rule decided it."""
    return (outcome.state, outcome.pieces, outcome.value) if outcome else ()


def _joined(changes: list[PageChange]) -> list[PageChange]:
    """Changes that look the same, whichever rules made them, as one."""
    joined: dict[tuple[object, ...], PageChange] = {}
    for change in changes:
        if _shows(change.before) in ((), ("unset", (), None)) and _shows(change.after) in ((), ("unset", (), None)):
            continue
        key = (change.target, _shows(change.before), _shows(change.after))
        known = joined.get(key)
        joined[key] = (
            PageChange(change.target, known.before, known.after, (*known.pages, *change.pages)) if known else change
        )
    return list(joined.values())
