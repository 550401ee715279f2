"""What differs between two states of a site, in the words of its parts; on its pages: `impact.py`."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..files.writing import write_piece, write_rule
from ..layout.document import SiteDocument

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
        "changed": sum(not old[path].same_facts(new[path]) for path in old.keys() & new.keys()),
    }
    return [Change("pages", how, "pages", count=count) for how, count in counts.items() if count]


def _turned(before: Mapping[str, object], after: Mapping[str, object]) -> bool:
    """Whether the same stand in another order."""
    return before == after and list(before) != list(after)


def _site(before: SiteDocument, after: SiteDocument) -> list[Change]:
    keys = (
        "name",
        "base_url",
        "language",
        "time_zone",
        "roles",
        "taxonomies",
        "files",
        "bindings",
        "recipe",
        "scripts",
    )
    of_layout = ("default_template", "settings", "menus", "dresses")
    details = (
        *(key for key in keys if getattr(before, key) != getattr(after, key)),
        *(key for key in of_layout if getattr(before.layout, key) != getattr(after.layout, key)),
        *(["order of dresses"] if _turned(before.layout.dresses, after.layout.dresses) else []),
    )
    return [Change("site", "changed", after.name, details)] if details else []
