"""The layout file read: shapes, names and references checked, every problem told at once.

Each problem names its place as a JSON Pointer (RFC 6901).
"""

from __future__ import annotations

import datetime
import json
import re
from collections.abc import Iterable, Mapping
from typing import Any, cast
from zoneinfo import ZoneInfo

from ..calendar.rrule import read_recurrence
from ..calendar.schedule import Repeats, Schedule, read_duration, read_moment
from ..errors import DocumentError, Problem, QueryError, ScheduleError, TreeError
from ..language.facts import KINDS
from ..language.query import Domain, Query, parse_query
from ..layout.condition import Condition
from ..layout.document import MAX_NAME, PRIORITIES, VERSION, SiteDocument, Taxonomy, TaxonomyTerm, is_slug, slugify
from ..layout.model import (
    ADDING,
    PIECE_KINDS,
    SETTING_TYPES,
    SLOTS,
    Action,
    Do,
    Layout,
    Piece,
    PieceKind,
    Rule,
    Setting,
    SettingType,
    SettingValue,
    SidebarEntry,
    slot_kind,
)
from ..pages.page import LockNote, Page
from ..text import escape, misfit, unfit

_PATH = re.compile(r"/[^?#\s]*\Z")


def read_json(text: str | bytes) -> SiteDocument:
    """Read a layout file. Raises DocumentError with every problem found."""
    try:
        tree = json.loads(text, object_pairs_hook=_pairs, parse_constant=_no_constant)
    except (ValueError, RecursionError) as error:
        raise DocumentError([Problem("", f"this is not JSON: {error}", "syntax")]) from None
    return read_document(tree)


def read_yaml(text: str | bytes) -> SiteDocument:
    """Read a layout file written as YAML 1.2. Raises DocumentError with every problem found."""
    # PyYAML takes as long to load as all else here, so it is loaded for YAML alone.
    from .yaml12 import load

    try:
        tree = load(text)
    except (ValueError, RecursionError) as error:
        raise DocumentError([Problem("", f"this is not YAML: {error}", "syntax")]) from None
    return read_document(tree)


def _pairs(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """A JSON object, no key of which stands twice: the last would silently win."""
    found = dict(pairs)
    if len(found) != len(pairs):
        twice = next(key for number, (key, _) in enumerate(pairs) if key in dict(pairs[:number]))
        raise ValueError(f"the key {twice} stands twice in one object")
    return found


def _no_constant(name: str) -> None:
    raise ValueError(f"{name} is no number of JSON")


def read_document(tree: object) -> SiteDocument:
    """Read the tree of a layout file. Raises DocumentError with every problem found."""
    reader = _Reader()
    document = reader.document(tree)
    reader.done()
    return document


def read_settings(tree: object) -> tuple[Setting, ...]:
    """Read the declared settings as they stand in the file. Raises DocumentError; pointers count from the site."""
    reader = _Reader()
    settings = reader.settings({"settings": tree}, "")
    reader.done()
    return settings


def read_rule(tree: object, pieces: Mapping[str, Piece], settings: Iterable[Setting] = ()) -> Rule:
    """Read one rule as it stands in the file. Raises DocumentError; pointers count from the rule."""
    reader = _Reader()
    rule = reader.rule(tree, "", pieces, {setting.name: setting for setting in settings})
    reader.done()
    return rule


def read_piece(tree: object, pieces: Mapping[str, Piece]) -> Piece:
    """Read one piece as it stands in the file. Raises DocumentError; pointers count from the piece."""
    reader = _Reader()
    piece = reader.piece(tree, "")
    reader.entries_exist(piece, pieces, "")
    reader.done()
    return piece


class _Reader:
    """Reads a tree and gathers problems. Each method takes a value and the pointer at which it stands."""

    def __init__(self) -> None:
        self.problems: list[Problem] = []

    def fail(self, pointer: str, message: str, code: str = "invalid") -> None:
        self.problems.append(Problem(pointer, message, code))

    def done(self) -> None:
        """Raise DocumentError where there was any problem."""
        if self.problems:
            raise DocumentError(self.problems)

    def table(self, value: object, at: str, known: Iterable[str]) -> Mapping[str, Any]:
        if not isinstance(value, Mapping):
            self.fail(at, "this has to be an object", "type")
            return {}
        for key in value:
            if key not in known:
                self.fail(f"{at}/{escape(str(key))}", f"there is no {key} here", "unknown-key")
        return value

    def items(self, tree: Mapping[str, Any], key: str, at: str) -> list[tuple[Any, str]]:
        value = tree.get(key)
        if value is None:
            return []
        if not isinstance(value, list):
            self.fail(f"{at}/{key}", "this has to be a list", "type")
            return []
        return [(item, f"{at}/{key}/{number}") for number, item in enumerate(value)]

    def text(self, tree: Mapping[str, Any], key: str, at: str, default: str = "", required: bool = False) -> str:
        value = tree.get(key)
        if value is None or value == "":
            if required:
                self.fail(at, f"{key} is missing", "required")
            return default
        if not isinstance(value, str):
            self.fail(f"{at}/{key}", "this has to be a text", "type")
            return default
        if found := unfit(value):
            self.fail(f"{at}/{key}", found.message, "character")
            return default
        return value

    def plain(self, tree: Mapping[str, Any], at: str) -> bool:
        """Whether every text in a tree of free values is fit."""
        found = misfit(tree)
        if found:
            self.fail(f"{at}{found.pointer}", found.message, "character")
        return found is None

    def texts(self, tree: Mapping[str, Any], key: str, at: str) -> tuple[str, ...]:
        found = []
        for item, place in self.items(tree, key, at):
            if isinstance(item, str) and item:
                wrong = unfit(item)
                if wrong:
                    self.fail(place, wrong.message, "character")
                found.append(item)
            else:
                self.fail(place, "this has to be a text", "type")
        return tuple(found)

    def slug(self, tree: Mapping[str, Any], key: str, at: str) -> str:
        value = self.text(tree, key, at, required=True)
        if value and not is_slug(value):
            self.fail(f"{at}/{key}", f"{value} is no slug: lower-case letters, digits and single hyphens")
        return value

    def choice(self, tree: Mapping[str, Any], key: str, at: str, choices: Iterable[str], default: str) -> str:
        value = self.text(tree, key, at, default)
        if value not in choices:
            self.fail(f"{at}/{key}", f"{value} is none of {', '.join(choices)}")
        return value

    def number(self, tree: Mapping[str, Any], key: str, at: str, allowed: range) -> int:
        value = tree.get(key)
        if value is None:
            return 0
        if not isinstance(value, int) or isinstance(value, bool) or value not in allowed:
            self.fail(f"{at}/{key}", f"this has to be a whole number from {allowed[0]} to {allowed[-1]}")
            return 0
        return value

    def switch(self, tree: Mapping[str, Any], key: str, at: str, default: bool) -> bool:
        value = tree.get(key)
        if value is None:
            return default
        if not isinstance(value, bool):
            self.fail(f"{at}/{key}", "this has to be true or false", "type")
            return default
        return value

    def query(self, tree: Mapping[str, Any], key: str, at: str, domain: Domain) -> Query:
        try:
            return parse_query(self.text(tree, key, at), domain)
        except QueryError as error:
            self.problems.append(Problem.of_query(f"{at}/{key}", error))
            return Query()

    def once(self, seen: dict[str, str], name: str, at: str, what: str, shown: str = "") -> None:
        """Tell of a name that stands twice; ``shown`` is the name as it is told where it is compared otherwise."""
        if name in seen:
            self.fail(at, f"the {what} {shown or name} stands twice; first at {seen[name]}", "repeated")
        elif name:
            seen[name] = at

    # The document, from the top down.

    def document(self, value: object) -> SiteDocument:
        tree = self.table(value, "", ("navrel", "site", "taxonomies", "pages", "pieces", "rules", "guards"))
        if tree.get("navrel") != VERSION:
            self.fail("/navrel", f"this has to be {VERSION}, the version of the layout file")
        keys = ("name", "slug", "base_url", "language", "time_zone", "roles", "default_template", "settings")
        site = self.table(tree.get("site", {}), "/site", keys)
        name = self.text(site, "name", "/site", required=True)
        language = self.text(site, "language", "/site", "en")
        taxonomies = self.taxonomies(tree)
        pages = self.pages(tree, language, taxonomies)
        pieces = self.pieces(tree)
        default_template = self.text(site, "default_template", "/site") or None
        if default_template:
            self.reference(pieces, default_template, ("template",), "/site/default_template")
        settings = self.settings(site, "/site")
        rules = self.rules(tree, pieces, {setting.name: setting for setting in settings})
        for _, at in self.items(tree, "guards", ""):
            self.fail(at, "guards cannot be taken in yet; leave the list empty")
        document = SiteDocument(
            name,
            self.text(site, "slug", "/site", slugify(name)),
            self.text(site, "base_url", "/site"),
            language,
            self.zone(site, "/site"),
            self.texts(site, "roles", "/site"),
            taxonomies,
            pages,
            Layout(pieces, rules, default_template, settings),
        )
        if not self.problems:
            self.check_tree(document)
        return document

    def zone(self, tree: Mapping[str, Any], at: str) -> str:
        name = self.text(tree, "time_zone", at, "UTC")
        try:
            ZoneInfo(name)
        except (KeyError, ValueError, OSError):
            self.fail(f"{at}/time_zone", f"there is no time zone {name}; write it as Europe/Dublin")
        return name

    def settings(self, site: Mapping[str, Any], at: str) -> tuple[Setting, ...]:
        found = []
        seen: dict[str, str] = {}
        for item, place in self.items(site, "settings", at):
            tree = self.table(item, place, ("name", "type", "choices", "default"))
            name = self.slug(tree, "name", place)
            self.once(seen, name, place, "setting")
            if not tree.get("type"):
                self.fail(place, "type is missing", "required")
            kind = cast(SettingType, self.choice(tree, "type", place, SETTING_TYPES, "text"))
            choices = self.texts(tree, "choices", place)
            if kind == "choice" and not choices:
                self.fail(place, "a choice needs choices", "required")
            elif kind != "choice" and choices:
                self.fail(f"{place}/choices", f"a {kind} has no choices")
            elif len(set(choices)) != len(choices):
                self.fail(f"{place}/choices", "a choice stands twice", "repeated")
            usual: dict[SettingType, SettingValue] = {
                "choice": choices[0] if choices else "",
                "text": "",
                "switch": False,
                "number": 0,
            }
            setting = Setting(name, kind, usual[kind], choices)
            if tree.get("default") in (None, ""):
                found.append(setting)
            else:
                default = self.value(tree, "default", place, setting)
                found.append(Setting(name, kind, default, choices))
        return tuple(found)

    def value(self, tree: Mapping[str, Any], key: str, at: str, setting: Setting) -> SettingValue:
        """A value that a setting takes."""
        value = tree.get(key)
        if isinstance(value, str) and (wrong := unfit(value)):
            self.fail(f"{at}/{key}", wrong.message, "character")
        elif not setting.takes(value):
            wanted = {
                "choice": "one of " + ", ".join(setting.choices),
                "text": "a text",
                "switch": "true or false",
                "number": "a number",
            }
            self.fail(f"{at}/{key}", f"{setting.name} takes {wanted[setting.type]}", "type")
        else:
            return cast(SettingValue, value)
        return setting.default

    def check_tree(self, document: SiteDocument) -> None:
        try:
            site = document.tree()
            for term in document.term_parents:
                site.term_lineage(term)
        except TreeError as error:
            self.fail("/pages" if error.loop[0].startswith("/") else "/taxonomies", str(error), "loop")

    def taxonomies(self, tree: Mapping[str, Any]) -> tuple[Taxonomy, ...]:
        found = []
        seen: dict[str, str] = {}
        for item, at in self.items(tree, "taxonomies", ""):
            taxonomy = self.table(item, at, ("slug", "name", "terms"))
            slug = self.slug(taxonomy, "slug", at)
            self.once(seen, slug, at, "taxonomy")
            terms = []
            seen_terms: dict[str, str] = {}
            for term_item, place in self.items(taxonomy, "terms", at):
                term = self.table(term_item, place, ("slug", "name", "parent"))
                term_slug = self.slug(term, "slug", place)
                self.once(seen_terms, term_slug, place, "term")
                terms.append(
                    TaxonomyTerm(
                        term_slug,
                        self.text(term, "name", place, _name_of(term_slug)),
                        self.text(term, "parent", place) or None,
                    )
                )
            for number, known in enumerate(terms):
                if known.parent and known.parent not in seen_terms:
                    self.fail(f"{at}/terms/{number}/parent", f"there is no term {known.parent}", "reference")
            found.append(Taxonomy(slug, self.text(taxonomy, "name", at, _name_of(slug)), tuple(terms)))
        return tuple(found)

    def pages(self, tree: Mapping[str, Any], language: str, taxonomies: tuple[Taxonomy, ...]) -> tuple[Page, ...]:
        found = []
        seen: dict[str, str] = {}
        terms = {f"{taxonomy.slug}/{term.slug}" for taxonomy in taxonomies for term in taxonomy.terms}
        for item, at in self.items(tree, "pages", ""):
            page = self.page(item, at, language)
            self.once(seen, page.path, at, "path")
            for number, term in enumerate(page.terms):
                if term not in terms:
                    self.fail(f"{at}/terms/{number}", f"there is no term {term}", "reference")
            found.append((page, at))
        for page, at in found:
            if page.parent and page.parent not in seen:
                self.fail(f"{at}/parent", f"there is no page {page.parent}", "reference")
        return tuple(page for page, _ in found)

    def page(self, item: object, at: str, language: str) -> Page:
        keys = (
            "path",
            "title",
            "kind",
            "type",
            "parent",
            "terms",
            "lists",
            "author",
            "language",
            "published",
            "words",
            "fields",
            "slots",
            "locks",
        )
        tree = self.table(item, at, keys)
        path = self.text(tree, "path", at, required=True)
        if path and (not _PATH.match(path) or (path != "/" and path.endswith("/"))):
            self.fail(
                f"{at}/path",
                f"{path} is no path: it starts with / and has no query, fragment or closing slash",
            )
        fields = self.table(tree.get("fields") or {}, f"{at}/fields", tree.get("fields") or ())
        self.plain(fields, f"{at}/fields")
        for key, text in fields.items():
            if not isinstance(text, str):
                self.fail(f"{at}/fields/{escape(str(key))}", "this has to be a text", "type")
        locks = self.locks(tree, at)
        return Page(
            path,
            self.text(tree, "title", at, path),
            self.choice(tree, "kind", at, KINDS, "single"),
            self.text(tree, "type", at),
            self.text(tree, "parent", at) or None,
            self.texts(tree, "terms", at),
            self.text(tree, "lists", at),
            self.text(tree, "author", at),
            self.text(tree, "language", at, language),
            self.date(tree, "published", at),
            self.number(tree, "words", at, range(2**31)),
            dict(fields),
            self.texts(tree, "slots", at),
            tuple(locks),
            {slot: note for slot, note in locks.items() if note != LockNote()},
        )

    def locks(self, tree: Mapping[str, Any], at: str) -> dict[str, LockNote]:
        """Slots that another system owns: a name, or an object that says who owns it and why."""
        found: dict[str, LockNote] = {}
        for item, place in self.items(tree, "locks", at):
            lock = {"slot": item} if isinstance(item, str) else self.table(item, place, ("slot", "owner", "why"))
            slot = self.text(lock, "slot", place, required=True)
            if slot and slot in found:
                self.fail(place, f"the slot {slot} is locked twice", "repeated")
            found[slot] = LockNote(self.text(lock, "owner", place), self.text(lock, "why", place))
        return found

    def date(self, tree: Mapping[str, Any], key: str, at: str) -> datetime.date | None:
        value = self.text(tree, key, at)
        if not value:
            return None
        try:
            return datetime.date.fromisoformat(value)
        except ValueError:
            self.fail(f"{at}/{key}", f"{value} is not a date; write it as 2026-03-01")
            return None

    def pieces(self, tree: Mapping[str, Any]) -> dict[str, Piece]:
        found: dict[str, Piece] = {}
        seen: dict[str, str] = {}
        for item, at in self.items(tree, "pieces", ""):
            piece = self.piece(item, at)
            self.once(seen, piece.slug, at, "piece")
            found.setdefault(piece.slug, piece)
        for slug, piece in found.items():
            self.entries_exist(piece, found, seen[slug])
        return found

    def entries_exist(self, piece: Piece, pieces: Mapping[str, Piece], at: str) -> None:
        for number, entry in enumerate(piece.entries):
            self.reference(pieces, entry.piece, ("widget",), f"{at}/entries/{number}/piece")

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
            entry_tree = self.table(entry, place, ("piece", "condition"))
            entries.append(
                SidebarEntry(
                    self.text(entry_tree, "piece", place, required=True),
                    self.condition(entry_tree.get("condition"), f"{place}/condition"),
                )
            )
        if entries and kind != "sidebar":
            self.fail(f"{at}/entries", "only a sidebar has entries")
        return Piece(
            slug,
            cast(PieceKind, kind),
            self.name(tree, at, _name_of(slug)),
            self.text(tree, "note", at),
            dict(content),
            SLOTS if kind == "template" and tree.get("slots") is None else slots,
            tuple(entries),
        )

    def name(self, tree: Mapping[str, Any], at: str, default: str = "") -> str:
        value = self.text(tree, "name", at, default, required=not default)
        if len(value) > MAX_NAME:
            self.fail(f"{at}/name", f"this name has {len(value)} characters; {MAX_NAME} is the most")
        elif len(value.splitlines()) > 1 or "\t" in value:
            self.fail(f"{at}/name", "a name is one line of text", "character")
        return value

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
            self.fail(f"{at}/{key}", str(error), error.code)
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
            self.fail(f"{at}/{'start' if error.code == 'bad-start' else key}", str(error), error.code)
            return None

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


def _name_of(slug: str) -> str:
    return slug.replace("-", " ").replace("_", " ").capitalize()
