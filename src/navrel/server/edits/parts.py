"""The parts of a draft, and what differs between two moments of it.

A part is known by its key: `rule/12`, `place/12` (where that rule stands among the others), `piece/slim-header`,
`page//about` (what was corrected of it by hand), `site`. Its tree is that of the layout file, with what the records
know besides.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from navrel.server.inventory.facts import corrections
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece
from navrel.server.rules.models import Rule

Tree = Mapping[str, Any]

RULE_FIELDS = ("name", "note", "on", "priority", "condition", "actions")
PIECE_FIELDS = ("kind", "name", "note", "content", "slots", "entries", "colour", "position", "origin")
SITE_FIELDS = (
    "name", "base_url", "language", "time_zone", "roles", "default_template",
    "settings", "menus", "dresses", "files", "by_hand", "guards", "bindings", "recipe", "scripts",
)  # fmt: skip

#: Those on which the facts of pages hang: what pages that state no language have, where slots have their places, and
#: where facts stand.
INVENTORY_FIELDS = frozenset({"language", "bindings", "recipe"})


@dataclass(frozen=True)
class Part:
    """One part that differs: None where it was not there before, or is not there after."""

    key: str
    before: Tree | None
    after: Tree | None

    @property
    def fields(self) -> frozenset[str]:
        """What of it differs; all of it, as an empty name, where it comes or goes."""
        if self.before is None or self.after is None:
            return frozenset({""})
        return frozenset(name for name in {*self.before, *self.after} if self.before.get(name) != self.after.get(name))

    def meets(self, other: Part) -> bool:
        """Whether both touch the same."""
        mine, theirs = self.fields, other.fields
        return self.key == other.key and ("" in mine or "" in theirs or bool(mine & theirs))

    @property
    def turned(self) -> Part:
        """The part the other way round."""
        return Part(self.key, self.after, self.before)

    def as_tree(self) -> dict[str, Any]:
        """The part as an edit keeps it."""
        return {"key": self.key, "before": self.before, "after": self.after}


@dataclass(frozen=True)
class Snapshot:
    """A draft at one moment: its parts by key, and the rules' ids in cascade order."""

    parts: Mapping[str, Tree]
    order: tuple[int, ...]

    @property
    def names(self) -> dict[str, str]:
        """The names of pieces by slug, and of rules by the keys of their parts."""
        named = (key for key in self.parts if key.startswith(("piece/", "rule/")))
        return {key.removeprefix("piece/"): self.parts[key]["name"] for key in named}

    def place(self, number: int) -> Tree | None:
        """Where a rule stands: its position from 1, and the id of the rule right above it; None where it is not."""
        if number not in self.order:
            return None
        at = self.order.index(number)
        return {"position": at + 1, "above": self.order[at - 1] if at else None}


def snapshot(site: Site) -> Snapshot:
    """A site's draft as the transaction sees it."""
    rules = list(Rule.objects.filter(site=site).order_by("position").values("id", *RULE_FIELDS))
    pieces = Piece.objects.filter(site=site).values("slug", *PIECE_FIELDS)
    found: dict[str, Tree] = {f"rule/{rule.pop('id')}": rule for rule in (dict(one) for one in rules)}
    found.update((f"piece/{piece.pop('slug')}", piece) for piece in (dict(one) for one in pieces))
    found.update(page_parts(site))
    found["site"] = Site.objects.filter(pk=site.pk).values(*SITE_FIELDS).get()
    return Snapshot(found, tuple(rule["id"] for rule in rules))


def page_parts(site: Site) -> dict[str, Tree]:
    """What was corrected by hand of the pages of a site, as parts."""
    return {f"page/{path}": facts for path, facts in corrections(site).items()}


def differing(before: Snapshot, after: Snapshot) -> list[Part]:
    """The parts that differ: rules, then where they stand, then pieces, pages, the site."""
    keys = [
        key for key in dict.fromkeys((*before.parts, *after.parts)) if before.parts.get(key) != after.parts.get(key)
    ]
    found = [Part(key, _tree(before, key), _tree(after, key)) for key in keys]
    moved = [*_moved(before, after), *set(before.order).symmetric_difference(after.order)]
    found += [Part(f"place/{number}", before.place(number), after.place(number)) for number in moved]
    ranks = {"rule": 0, "place": 1, "piece": 2, "page": 3, "site": 4}
    return sorted(found, key=lambda part: ranks[part.key.split("/")[0]])


def _tree(moment: Snapshot, key: str) -> Tree | None:
    """The tree of a part; a page of which nothing was corrected is there too."""
    return moment.parts.get(key, {} if key.startswith("page/") else None)


def _moved(before: Snapshot, after: Snapshot) -> list[int]:
    """The fewest rules that have to move to get from one order to the other, of those in both."""
    kept = set(before.order) & set(after.order)
    places = {number: place for place, number in enumerate(one for one in before.order if one in kept)}
    order = [number for number in after.order if number in kept]
    staying = set(_longest_ascending([places[number] for number in order]))
    return [number for number in order if places[number] not in staying]


def _longest_ascending(numbers: Sequence[int]) -> Iterator[int]:
    """The longest ascending selection, by piles: each number goes on the first pile whose top is not smaller."""
    tops: list[int] = []
    under: dict[int, int | None] = {}
    for number in numbers:
        pile = bisect_left(tops, number)
        under[number] = tops[pile - 1] if pile else None
        tops[pile : pile + 1] = [number]
    top = tops[-1] if tops else None
    while top is not None:
        yield top
        top = under[top]
