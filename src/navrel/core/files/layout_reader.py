"""Pieces and rules read from their trees."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from typing import Any, cast

from ..calendar.rrule import read_recurrence
from ..calendar.schedule import Repeats, Schedule, read_duration, read_moment
from ..errors import Problem, QueryError, ScheduleError
from ..language.query import Domain, Query, parse_query
from ..layout.condition import Condition
from ..layout.contents import embedded_in, items_at, loop_through, loop_words
from ..layout.document import PRIORITIES, is_slug
from ..layout.model import (
    ADDING,
    PIECE_KINDS,
    SLOTS,
    Action,
    Do,
    Piece,
    PieceKind,
    Rule,
    Setting,
    SidebarEntry,
    slot_kind,
)
from .declared_reader import DeclaredReader
from .reader import name_of

#: The keys of each action, by what it does.
_ACTION_KEYS: dict[str, tuple[str, ...]] = {
    "fill": ("do", "slot", "piece", "exclusive"),
    "empty": ("do", "slot"),
    "prepend": ("do", "slot", "piece"),
    "append": ("do", "slot", "piece"),
    "use": ("do", "template"),
    "set": ("do", "setting", "value"),
}
_ALL_ACTION_KEYS = tuple(dict.fromkeys(key for keys in _ACTION_KEYS.values() for key in keys))


class LayoutReader(DeclaredReader):
    """Reads what is edited. Each method takes a value and the pointer at which it stands."""

    def query(self, tree: Mapping[str, Any], key: str, at: str, domain: Domain) -> Query:
        try:
            return parse_query(self.text(tree, key, at), domain)
        except QueryError as error:
            self.problems.append(Problem.of_query(f"{at}/{key}", error))
            return Query()

    def condition(self, value: object, at: str) -> Condition:
        condition = self.table(value or {}, at, ("include", "exclude", "visitors", "schedule"))
        visitors = self.table(condition.get("visitors") or {}, f"{at}/visitors", ("include", "exclude"))
        return Condition(
            self.query(condition, "include", at, "page"),
            self.query(condition, "exclude", at, "page"),
            self.query(visitors, "include", f"{at}/visitors", "visitor"),
            self.query(visitors, "exclude", f"{at}/visitors", "visitor"),
            self.schedule(condition.get("schedule"), f"{at}/schedule"),
        )

    def schedule(self, value: object, at: str) -> Schedule | None:
        tree = self.table(value or {}, at, ("from", "until", "repeats"))
        found = Schedule(
            self.moment(tree, "from", at),
            self.moment(tree, "until", at),
            self.repeats(tree.get("repeats"), f"{at}/repeats"),
        )
        return None if found == Schedule() else found

    def moment(self, tree: Mapping[str, Any], key: str, at: str) -> datetime.datetime | None:
        text = self.text(tree, key, at)
        try:
            return read_moment(text) if text else None
        except ScheduleError as error:
            self.fail(f"{at}/{key}", error.message, error.code, error.hint)
            return None

    def repeats(self, value: object, at: str) -> Repeats | None:
        tree = self.table(value or {}, at, ("rrule", "start", "duration"))
        if not tree:
            return None
        before = len(self.problems)
        rrule, duration = (self.text(tree, key, at, required=True) for key in ("rrule", "duration"))
        self.text(tree, "start", at, required=True)
        start = self.moment(tree, "start", at)
        if len(self.problems) > before or start is None:
            return None
        key = "duration"
        try:
            lasting = read_duration(duration)
            key = "rrule"
            return Repeats(rrule, read_recurrence(rrule, start), lasting)
        except ScheduleError as error:
            key = "start" if error.code == "bad-start" else key
            self.fail(f"{at}/{key}", error.message, error.code, error.hint)
            return None

    def pieces(self, tree: Mapping[str, Any], around: Mapping[str, Piece] | None = None) -> dict[str, Piece]:
        """The pieces of a file; what they name may be ``around``, among pieces that are there."""
        found: dict[str, Piece] = {}
        seen: dict[str, str] = {}
        for item, at in self.items(tree, "pieces", ""):
            piece = self.piece(item, at)
            self.once(seen, piece.slug, at, "piece")
            found.setdefault(piece.slug, piece)
        for slug, piece in found.items():
            self.widgets_exist(piece, {**(around or {}), **found}, seen[slug])
        self.no_loops(found, seen)
        return found

    def widgets_exist(self, piece: Piece, pieces: Mapping[str, Piece], at: str) -> None:
        """Whether what a piece names in its entries and its items is there, and is a widget."""
        for number, entry in enumerate(piece.entries):
            self.reference(pieces, entry.piece, ("widget",), f"{at}/entries/{number}/piece")
        for place, item in items_at(piece.content):
            for slug in embedded_in(item):
                self.reference(pieces, slug, ("widget",), f"{at}/content{place}")

    def no_loops(self, pieces: Mapping[str, Piece], places: Mapping[str, str]) -> None:
        embedded = {slug: piece.embedded for slug, piece in pieces.items() if piece.embedded}
        names = {slug: piece.name for slug, piece in pieces.items()}
        for slug in embedded:
            if loop := loop_through(slug, embedded):
                self.fail(f"{places[slug]}/content", loop_words(loop, names), "loop")

    def piece(self, item: object, at: str) -> Piece:
        tree = self.table(item, at, ("slug", "kind", "name", "note", "content", "slots", "entries"))
        slug = self.slug(tree, "slug", at)
        if not tree.get("kind"):
            self.fail(at, "kind is missing", "required")
        kind = self.choice(tree, "kind", at, PIECE_KINDS, "widget")
        content = tree.get("content") or {}
        if not isinstance(content, Mapping):
            self.fail(f"{at}/content", "this has to be an object", "type")
            content = {}
        self.plain(content, f"{at}/content")
        slots = self.texts(tree, "slots", at)
        for number, slot in enumerate(slots):
            if not is_slug(slot):
                self.fail(f"{at}/slots/{number}", f"{slot} is no slot name: lower-case letters, digits and hyphens")
        entries = []
        for entry, place in self.items(tree, "entries", at):
            entry_tree = self.table(entry, place, ("piece", "condition", "note", "on"))
            entries.append(
                SidebarEntry(
                    self.text(entry_tree, "piece", place, required=True),
                    self.condition(entry_tree.get("condition"), f"{place}/condition"),
                    self.text(entry_tree, "note", place),
                    self.switch(entry_tree, "on", place, True),
                )
            )
        if entries and kind != "sidebar":
            self.fail(f"{at}/entries", "only a sidebar has entries")
        return Piece(
            slug,
            cast(PieceKind, kind),
            self.name(tree, at, name_of(slug)),
            self.text(tree, "note", at),
            dict(content),
            SLOTS if kind == "template" and tree.get("slots") is None else slots,
            tuple(entries),
        )

    def rules(
        self, tree: Mapping[str, Any], pieces: Mapping[str, Piece], settings: Mapping[str, Setting]
    ) -> tuple[Rule, ...]:
        found = []
        seen: dict[str, str] = {}
        for item, at in self.items(tree, "rules", ""):
            rule = self.rule(item, at, pieces, settings)
            self.once(seen, rule.name.casefold(), at, "rule name", rule.name)
            found.append(rule)
        return tuple(found)

    def rule(self, item: object, at: str, pieces: Mapping[str, Piece], settings: Mapping[str, Setting]) -> Rule:
        tree = self.table(item, at, ("name", "note", "on", "priority", "condition", "actions"))
        actions = tuple(
            self.action(action, place, pieces, settings) for action, place in self.items(tree, "actions", at)
        )
        self.one_decision_each(actions, at)
        return Rule(
            self.name(tree, at),
            self.condition(tree.get("condition"), f"{at}/condition"),
            actions,
            self.number(tree, "priority", at, PRIORITIES),
            self.switch(tree, "on", at, True),
            self.text(tree, "note", at),
        )

    def one_decision_each(self, actions: tuple[Action, ...], at: str) -> None:
        seen: dict[str, str] = {}
        for number, action in enumerate(actions):
            if action.do not in ADDING:
                self.once(seen, str(action.target), f"{at}/actions/{number}", "decision on")

    def action(self, item: object, at: str, pieces: Mapping[str, Piece], settings: Mapping[str, Setting]) -> Action:
        tree = self.table(item, at, _ALL_ACTION_KEYS)
        if not tree.get("do"):
            self.fail(at, "do is missing", "required")
        do = self.choice(tree, "do", at, tuple(_ACTION_KEYS), "empty")
        for key in tree:
            if key in _ALL_ACTION_KEYS and key not in _ACTION_KEYS.get(do, _ALL_ACTION_KEYS) and tree[key]:
                self.fail(f"{at}/{key}", f"{do} takes no {key}")
        if do == "set":
            return self.setting_action(tree, at, settings)
        if do == "use":
            template = self.text(tree, "template", at, required=True)
            self.reference(pieces, template, ("template",), f"{at}/template")
            return Action("use", piece=template)
        slot = self.slug(tree, "slot", at)
        piece = None if do == "empty" else self.text(tree, "piece", at, required=True) or None
        if piece:
            # Beside widgets an aside takes sidebars as additions too: each shows its own entries.
            beside = ("widget", "sidebar") if slot_kind(slot) == "sidebar" else ("widget",)
            kinds = beside if do in ADDING else (slot_kind(slot),)
            self.reference(pieces, piece, kinds, f"{at}/piece")
        return Action(cast(Do, do), slot, piece, self.switch(tree, "exclusive", at, False))

    def setting_action(self, tree: Mapping[str, Any], at: str, settings: Mapping[str, Setting]) -> Action:
        name = self.text(tree, "setting", at, required=True)
        setting = settings.get(name)
        if name and setting is None:
            self.fail(f"{at}/setting", f"there is no setting {name}", "reference")
        if tree.get("value") is None:
            self.fail(at, "value is missing", "required")
        elif setting is not None:
            return Action("set", setting=name, value=self.value(tree, "value", at, setting))
        return Action("set", setting=name, value="")

    def reference(self, pieces: Mapping[str, Piece], slug: str, kinds: tuple[str, ...], at: str) -> None:
        piece = pieces.get(slug)
        if not slug:
            return
        if piece is None:
            self.fail(at, f"there is no piece {slug}", "reference")
        elif piece.kind not in kinds:
            self.fail(at, f"{slug} is a {piece.kind}; this place takes a {' or '.join(kinds)}", "wrong-kind")
