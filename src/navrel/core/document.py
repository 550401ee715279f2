"""One site as plain records, and the layout file that holds it: reading, with all errors at once, and writing.

The reader checks shapes, names and references; every problem names its place as a JSON Pointer (RFC 6901).
"""

from __future__ import annotations

import datetime
import json
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, cast

from .errors import DocumentError, Problem, QueryError, TreeError
from .facts import KINDS
from .model import (
    ADDING,
    PIECE_KINDS,
    SLOTS,
    Action,
    Condition,
    Do,
    Layout,
    Page,
    Piece,
    PieceKind,
    Rule,
    SidebarEntry,
    slot_kind,
)
from .query import Domain, Query, parse_query
from .site import Site

VERSION = 1
#: Longest name of a piece or a rule, in characters.
MAX_NAME = 80
PRIORITIES = range(-1000, 1001)

_SLUG = re.compile(r"[a-z0-9]+(?:[-_][a-z0-9]+)*\Z")
_PATH = re.compile(r"/[^?#\s]*\Z")


@dataclass(frozen=True)
class TaxonomyTerm:
    """A term of a taxonomy. ``parent`` is a slug of the same taxonomy, or None."""

    slug: str
    name: str
    parent: str | None = None


@dataclass(frozen=True)
class Taxonomy:
    slug: str
    name: str
    terms: tuple[TaxonomyTerm, ...] = ()


@dataclass(frozen=True)
class SiteDocument:
    """A whole site: what it is, its taxonomies and pages, and its layout. Pages stand in the file's order."""

    name: str
    slug: str
    base_url: str = ""
    language: str = "en"
    time_zone: str = "UTC"
    roles: tuple[str, ...] = ()
    taxonomies: tuple[Taxonomy, ...] = ()
    pages: tuple[Page, ...] = ()
    layout: Layout = field(default_factory=Layout)

    @property
    def term_parents(self) -> dict[str, str]:
        """The term above each term that has one, both as ``taxonomy/slug``."""
        return {
            f"{taxonomy.slug}/{term.slug}": f"{taxonomy.slug}/{term.parent}"
            for taxonomy in self.taxonomies
            for term in taxonomy.terms
            if term.parent
        }

    def site(self) -> Site:
        """The page tree, ready for questions. Raises TreeError for a loop of parents."""
        return Site(self.pages, self.term_parents)


def slugify(name: str) -> str:
    """A slug for a name: lower-case letters and digits, parted by single hyphens; `x` where none is left."""
    return "-".join(re.findall(r"[a-z0-9]+", name.lower())) or "x"


def is_slug(text: str) -> bool:
    """Whether ``text`` is fit to be a slug."""
    return len(text) <= MAX_NAME and _SLUG.match(text) is not None


def read_json(text: str | bytes) -> SiteDocument:
    """Read a layout file. Raises DocumentError with every problem found."""
    try:
        tree = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise DocumentError([Problem("", f"this is not JSON: {error}", "syntax")]) from None
    return read_document(tree)


def read_document(tree: object) -> SiteDocument:
    """Read the tree of a layout file. Raises DocumentError with every problem found."""
    reader = _Reader()
    document = reader.document(tree)
    reader.done()
    return document


def read_rule(tree: object, pieces: Mapping[str, Piece]) -> Rule:
    """Read one rule as it stands in the file. Raises DocumentError; pointers count from the rule."""
    reader = _Reader()
    rule = reader.rule(tree, "", pieces)
    reader.done()
    return rule


def read_piece(tree: object, pieces: Mapping[str, Piece]) -> Piece:
    """Read one piece as it stands in the file. Raises DocumentError; pointers count from the piece."""
    reader = _Reader()
    piece = reader.piece(tree, "")
    reader.entries_exist(piece, pieces, "")
    reader.done()
    return piece


def write_json(document: SiteDocument) -> str:
    """The layout file's text: fixed key order, two spaces, final newline. The same state gives the same bytes."""
    return json.dumps(write_document(document), indent=2, ensure_ascii=False) + "\n"


def write_document(document: SiteDocument) -> dict[str, Any]:
    """The tree of the layout file, in its fixed key order, with what equals a default left out."""
    site = _trim(
        {
            "name": document.name,
            "slug": document.slug,
            "base_url": document.base_url,
            "language": document.language,
            "time_zone": document.time_zone,
            "roles": list(document.roles),
            "default_template": document.layout.default_template,
        }
    )
    return {
        "navrel": VERSION,
        "site": site,
        "taxonomies": [_taxonomy_tree(taxonomy) for taxonomy in document.taxonomies],
        "pages": [_page_tree(page, document.language) for page in document.pages],
        "pieces": [write_piece(piece) for piece in document.layout.pieces.values()],
        "rules": [write_rule(rule) for rule in document.layout.rules],
    }


def _trim(tree: dict[str, Any]) -> dict[str, Any]:
    """Without what is empty or null, which mean absent."""
    return {key: value for key, value in tree.items() if value not in ("", None, [], {}, ())}


def _taxonomy_tree(taxonomy: Taxonomy) -> dict[str, Any]:
    terms = [_trim({"slug": term.slug, "name": term.name, "parent": term.parent}) for term in taxonomy.terms]
    return {"slug": taxonomy.slug, "name": taxonomy.name, "terms": terms}


def _page_tree(page: Page, language: str) -> dict[str, Any]:
    return _trim(
        {
            "path": page.path,
            "title": page.title,
            "kind": "" if page.kind == "single" else page.kind,
            "type": page.type,
            "parent": page.parent,
            "terms": list(page.terms),
            "lists": page.lists,
            "author": page.author,
            "language": "" if page.language == language else page.language,
            "published": page.published.isoformat() if page.published else None,
            "words": page.words or None,
            "fields": dict(page.fields),
            "slots": list(page.slots),
            "locks": list(page.locks),
        }
    )


def write_piece(piece: Piece) -> dict[str, Any]:
    """A piece as it stands in the file."""
    standard = piece.kind == "template" and piece.slots == SLOTS
    return _trim(
        {
            "slug": piece.slug,
            "kind": piece.kind,
            "name": piece.name,
            "note": piece.note,
            "content": dict(piece.content),
            "slots": [] if standard else list(piece.slots),
            "entries": [
                _trim({"piece": entry.piece, "condition": write_condition(entry.condition)}) for entry in piece.entries
            ],
        }
    )


def write_rule(rule: Rule) -> dict[str, Any]:
    """A rule as it stands in the file."""
    return {
        **_trim({"name": rule.name, "note": rule.note}),
        **({} if rule.on else {"on": False}),
        **_trim({"priority": rule.priority or None, "condition": write_condition(rule.condition)}),
        "actions": [write_action(action) for action in rule.actions],
    }


def write_condition(condition: Condition) -> dict[str, Any]:
    """A condition as it stands in the file."""
    visitors = _trim({"include": str(condition.visitors_include), "exclude": str(condition.visitors_exclude)})
    return _trim({"include": str(condition.include), "exclude": str(condition.exclude), "visitors": visitors})


def write_action(action: Action) -> dict[str, Any]:
    """An action as it stands in the file."""
    if action.do == "use":
        return {"do": "use", "template": action.piece}
    tree: dict[str, Any] = {"do": action.do, "slot": action.slot}
    if action.piece:
        tree["piece"] = action.piece
    if action.exclusive:
        tree["exclusive"] = True
    return tree


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
                self.fail(f"{at}/{_escape(str(key))}", f"there is no {key} here", "unknown-key")
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
        if "\x00" in value:
            self.fail(f"{at}/{key}", "a text cannot hold a null character")
            return default
        return value

    def texts(self, tree: Mapping[str, Any], key: str, at: str) -> tuple[str, ...]:
        found = []
        for item, place in self.items(tree, key, at):
            if isinstance(item, str) and item:
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

    def once(self, seen: dict[str, str], name: str, at: str, what: str) -> None:
        if name in seen:
            self.fail(at, f"the {what} {name} stands twice; first at {seen[name]}", "repeated")
        elif name:
            seen[name] = at

    # The document, from the top down.

    def document(self, value: object) -> SiteDocument:
        tree = self.table(value, "", ("navrel", "site", "taxonomies", "pages", "pieces", "rules"))
        if tree.get("navrel") != VERSION:
            self.fail("/navrel", f"this has to be {VERSION}, the version of the layout file")
        keys = ("name", "slug", "base_url", "language", "time_zone", "roles", "default_template")
        site = self.table(tree.get("site", {}), "/site", keys)
        name = self.text(site, "name", "/site", required=True)
        language = self.text(site, "language", "/site", "en")
        taxonomies = self.taxonomies(tree)
        pages = self.pages(tree, language, taxonomies)
        pieces = self.pieces(tree)
        default_template = self.text(site, "default_template", "/site") or None
        if default_template:
            self.reference(pieces, default_template, ("template",), "/site/default_template")
        document = SiteDocument(
            name,
            self.text(site, "slug", "/site", slugify(name)),
            self.text(site, "base_url", "/site"),
            language,
            self.text(site, "time_zone", "/site", "UTC"),
            self.texts(site, "roles", "/site"),
            taxonomies,
            pages,
            Layout(pieces, self.rules(tree, pieces), default_template),
        )
        if not self.problems:
            self.check_tree(document)
        return document

    def check_tree(self, document: SiteDocument) -> None:
        try:
            site = document.site()
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
        for key, text in fields.items():
            if not isinstance(text, str):
                self.fail(f"{at}/fields/{_escape(str(key))}", "this has to be a text", "type")
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
            self.texts(tree, "locks", at),
        )

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
            slots or (SLOTS if kind == "template" else ()),
            tuple(entries),
        )

    def name(self, tree: Mapping[str, Any], at: str, default: str = "") -> str:
        value = self.text(tree, "name", at, default, required=not default)
        if len(value) > MAX_NAME:
            self.fail(f"{at}/name", f"this name has {len(value)} characters; {MAX_NAME} is the most")
        return value

    def condition(self, value: object, at: str) -> Condition:
        condition = self.table(value or {}, at, ("include", "exclude", "visitors"))
        visitors = self.table(condition.get("visitors") or {}, f"{at}/visitors", ("include", "exclude"))
        return Condition(
            self.query(condition, "include", at, "page"),
            self.query(condition, "exclude", at, "page"),
            self.query(visitors, "include", f"{at}/visitors", "visitor"),
            self.query(visitors, "exclude", f"{at}/visitors", "visitor"),
        )

    def rules(self, tree: Mapping[str, Any], pieces: Mapping[str, Piece]) -> tuple[Rule, ...]:
        found = []
        seen: dict[str, str] = {}
        for item, at in self.items(tree, "rules", ""):
            rule = self.rule(item, at, pieces)
            self.once(seen, rule.name, at, "rule name")
            found.append(rule)
        return tuple(found)

    def rule(self, item: object, at: str, pieces: Mapping[str, Piece]) -> Rule:
        tree = self.table(item, at, ("name", "note", "on", "priority", "condition", "actions"))
        actions = tuple(self.action(action, place, pieces) for action, place in self.items(tree, "actions", at))
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

    def action(self, item: object, at: str, pieces: Mapping[str, Piece]) -> Action:
        tree = self.table(item, at, ("do", "slot", "piece", "template", "exclusive"))
        if not tree.get("do"):
            self.fail(at, "do is missing", "required")
        do = self.choice(tree, "do", at, ("fill", "empty", "prepend", "append", "use"), "empty")
        if do == "use":
            template = self.text(tree, "template", at, required=True)
            self.reference(pieces, template, ("template",), f"{at}/template")
            return Action("use", piece=template)
        slot = self.slug(tree, "slot", at)
        piece = self.text(tree, "piece", at, required=do != "empty") or None
        if do == "empty" and piece:
            self.fail(f"{at}/piece", "empty takes no piece")
        elif piece:
            kinds = ("widget",) if do in ADDING else (slot_kind(slot),)
            self.reference(pieces, piece, kinds, f"{at}/piece")
        exclusive = self.switch(tree, "exclusive", at, False)
        if exclusive and do != "fill":
            self.fail(f"{at}/exclusive", "only a fill can be exclusive")
        return Action(cast(Do, do), slot, piece, exclusive)

    def reference(self, pieces: Mapping[str, Piece], slug: str, kinds: tuple[str, ...], at: str) -> None:
        piece = pieces.get(slug)
        if not slug:
            return
        if piece is None:
            self.fail(at, f"there is no piece {slug}", "reference")
        elif piece.kind not in kinds:
            self.fail(at, f"{slug} is a {piece.kind}; this place takes a {' or '.join(kinds)}", "wrong-kind")


def _name_of(slug: str) -> str:
    return slug.replace("-", " ").replace("_", " ").capitalize()


def _escape(key: str) -> str:
    """A key as a JSON Pointer step (RFC 6901 section 3)."""
    return key.replace("~", "~0").replace("/", "~1")
