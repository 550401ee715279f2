"""Guards read from their trees."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

from ..layout.model import (
    DEMANDS,
    PIECE_KINDS,
    TEMPLATE,
    Demand,
    DemandKind,
    Guard,
    Piece,
    PieceKind,
    Setting,
    Target,
)
from .layout_reader import LayoutReader

#: What stands beside each demand: the keys of what it is asked of, and of what it asks for.
_OF: dict[DemandKind, tuple[str, ...]] = {
    "shows": ("slot",),
    "bare": ("slot",),
    "holds": ("slot", "pieces"),
    "lacks": ("slot", "pieces"),
    "is": ("slot", "pieces", "templates", "setting", "values"),
    "at-most": ("pieces", "kind", "item", "most"),
}
_ALL_KEYS = ("is", *dict.fromkeys(key for keys in _OF.values() for key in keys))
#: The most that a guard can allow of one thing on a page.
_MOST = range(1000)


class GuardReader(LayoutReader):
    """Reads guards. Each method takes a value and the pointer at which it stands."""

    def guards(
        self, tree: Mapping[str, Any], pieces: Mapping[str, Piece], settings: Mapping[str, Setting]
    ) -> tuple[Guard, ...]:
        found = []
        seen: dict[str, str] = {}
        for item, at in self.items(tree, "guards", ""):
            guard = self.guard(item, at, pieces, settings)
            self.once(seen, guard.name.casefold(), at, "guard name", guard.name)
            found.append(guard)
        return tuple(found)

    def guard(self, item: object, at: str, pieces: Mapping[str, Piece], settings: Mapping[str, Setting]) -> Guard:
        tree = self.table(item, at, ("name", "note", "on", "condition", "demand"))
        return Guard(
            self.name(tree, at),
            self.condition(tree.get("condition"), f"{at}/condition"),
            self.demand(tree.get("demand"), f"{at}/demand", pieces, settings),
            self.switch(tree, "on", at, True),
            self.text(tree, "note", at),
        )

    def demand(self, value: object, at: str, pieces: Mapping[str, Piece], settings: Mapping[str, Setting]) -> Demand:
        if value is None:
            self.fail(at.rpartition("/")[0], "demand is missing", "required")
            return Demand("shows")
        tree = self.table(value, at, _ALL_KEYS)
        if not tree.get("is"):
            self.fail(at, "is is missing", "required")
        kind = cast(DemandKind, self.choice(tree, "is", at, DEMANDS, "shows"))
        for key in _ALL_KEYS[1:]:
            if key not in _OF.get(kind, _ALL_KEYS) and tree.get(key) not in (None, "", []):
                self.fail(f"{at}/{key}", f"{kind} takes no {key}")
        if kind == "is":
            return self.exactly(tree, at, pieces, settings)
        slot = self.slug(tree, "slot", at) if tree.get("slot") or kind in ("shows", "bare") else ""
        target = Target("slot", slot) if slot else None
        named = self.named(tree, "pieces", at, pieces)
        if kind in ("holds", "lacks") and not named:
            self.fail(at, "pieces is missing: say which", "required")
        if kind == "at-most":
            return self.counted(tree, at, named)
        return Demand(kind, target, named)

    def exactly(
        self, tree: Mapping[str, Any], at: str, pieces: Mapping[str, Piece], settings: Mapping[str, Setting]
    ) -> Demand:
        """What is asked of one slot, of the template, or of a setting."""
        of = [key for key in ("slot", "templates", "setting") if tree.get(key)]
        if len(of) != 1:
            self.fail(at, "name one of slot, templates, setting", "required")
            return Demand("is", TEMPLATE)
        if of == ["templates"]:
            return Demand("is", TEMPLATE, self.named(tree, "templates", at, pieces, ("template",)))
        if of == ["slot"]:
            named = self.named(tree, "pieces", at, pieces)
            if not named:
                self.fail(at, "pieces is missing; for none, ask for bare", "required")
            return Demand("is", Target("slot", self.slug(tree, "slot", at)), named)
        name = self.text(tree, "setting", at)
        setting = settings.get(name)
        if setting is None:
            self.fail(f"{at}/setting", f"there is no setting {name}", "reference")
        values = tuple(value for value, _ in self.items(tree, "values", at))
        if not values:
            self.fail(at, "values is missing", "required")
        for number, value in enumerate(values):
            if setting is not None and not setting.takes(value):
                self.fail(f"{at}/values/{number}", f"the setting {name} does not take this", "reference")
        return Demand("is", Target("setting", name), values=values)

    def counted(self, tree: Mapping[str, Any], at: str, named: tuple[str, ...]) -> Demand:
        """What may be seen on a page so many times at the most."""
        of = [key for key in ("pieces", "kind", "item") if tree.get(key)]
        if len(of) != 1:
            self.fail(at, "name one of pieces, kind, item", "required")
        if tree.get("most") is None:
            self.fail(at, "most is missing", "required")
        return Demand(
            "at-most",
            pieces=named,
            piece_kind=cast(PieceKind, self.choice(tree, "kind", at, PIECE_KINDS, "widget"))
            if tree.get("kind")
            else None,
            item=self.text(tree, "item", at),
            most=self.number(tree, "most", at, _MOST),
        )

    def named(
        self,
        tree: Mapping[str, Any],
        key: str,
        at: str,
        pieces: Mapping[str, Piece],
        kinds: tuple[str, ...] = PIECE_KINDS,
    ) -> tuple[str, ...]:
        """Slugs of pieces that are there."""
        slugs = self.texts(tree, key, at)
        for number, slug in enumerate(slugs):
            self.reference(pieces, slug, kinds, f"{at}/{key}/{number}")
        return slugs
