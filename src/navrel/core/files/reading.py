"""The layout file read: shapes, names and references checked, every problem told at once.

Each problem names its place as a JSON Pointer (RFC 6901).
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import replace
from typing import Any
from zoneinfo import ZoneInfo

from ..calendar.schedule import Schedule
from ..errors import DocumentError, Problem, TreeError
from ..language.facts import KINDS
from ..layout.binding import Binding
from ..layout.document import VERSION, SiteDocument, SiteFile, Taxonomy, TaxonomyTerm, slugify
from ..layout.dress import Dress
from ..layout.model import (
    Guard,
    Layout,
    Menu,
    Piece,
    Rule,
    Setting,
)
from ..layout.recipe import Recipe
from ..pages.page import LockNote, Page
from ..text import escape
from .guard_reader import GuardReader
from .layout_reader import LayoutReader
from .reader import name_of
from .source_reader import SourceReader

_PATH = re.compile(r"/[^?#\s]*\Z")


def read_json(text: str | bytes) -> SiteDocument:
    """Read a layout file. Raises DocumentError with every problem found."""
    return read_document(json_tree(text))


def json_tree(text: str | bytes) -> Any:
    """The tree of a JSON text, as strictly as a layout file is read. Raises DocumentError."""
    try:
        return json.loads(text, object_pairs_hook=_pairs, parse_constant=_no_constant)
    except (ValueError, RecursionError) as error:
        raise DocumentError([Problem("", f"this is not JSON: {error}", "syntax")]) from None


def read_yaml(text: str | bytes) -> SiteDocument:
    """Read a layout file written as YAML 1.2. Raises DocumentError with every problem found."""
    return read_document(yaml_tree(text))


def yaml_tree(text: str | bytes) -> Any:
    """The tree of a YAML 1.2 text. Raises DocumentError."""
    # PyYAML takes as long to load as all else here, so it is loaded for YAML alone.
    from .yaml12 import load

    try:
        return load(text)
    except (ValueError, RecursionError) as error:
        raise DocumentError([Problem("", f"this is not YAML: {error}", "syntax")]) from None


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
    reader = DocumentReader()
    document = reader.document(tree)
    reader.done()
    return document


def read_site(tree: object, pieces: Mapping[str, Piece]) -> SiteDocument:
    """Read what a site is, without what it has. Raises DocumentError; pointers count from what is read."""
    reader = DocumentReader()
    site = reader.site(reader.table(tree, "", reader.SITE_KEYS), pieces, "")
    reader.done()
    return site


def read_settings(tree: object) -> tuple[Setting, ...]:
    """Read the declared settings as they stand in the file. Raises DocumentError; pointers count from the site."""
    reader = LayoutReader()
    settings = reader.settings({"settings": tree}, "")
    reader.done()
    return settings


def read_menus(tree: object) -> dict[str, Menu]:
    """Read the menus of a site as they stand in the file. Raises DocumentError; pointers count from the site."""
    reader = LayoutReader()
    menus = reader.menus({"menus": tree})
    reader.done()
    return menus


def read_dresses(tree: object) -> dict[str, Dress]:
    """Read the dresses of a site as they stand in the file. Raises DocumentError; pointers count from the site."""
    reader = LayoutReader()
    dresses = reader.dresses({"dresses": tree})
    reader.done()
    return dresses


def read_files(tree: object) -> tuple[SiteFile, ...]:
    """Read what is known of the pictures of a site. Raises DocumentError; pointers count from the site."""
    reader = LayoutReader()
    files = reader.files({"files": tree})
    reader.done()
    return files


def read_bindings(tree: object) -> tuple[Binding, ...]:
    """Read the bindings of a site as they stand in the file. Raises DocumentError; pointers count from the site."""
    reader = SourceReader()
    bindings = reader.bindings({"bindings": tree})
    reader.done()
    return bindings


def read_recipe(tree: object) -> Recipe:
    """Read the recipe of a site as it stands in the file. Raises DocumentError; pointers count from the site."""
    reader = SourceReader()
    recipe = reader.recipe({"recipe": tree})
    reader.done()
    return recipe


def read_rule(tree: object, pieces: Mapping[str, Piece], settings: Iterable[Setting] = ()) -> Rule:
    """Read one rule as it stands in the file. Raises DocumentError; pointers count from the rule."""
    reader = LayoutReader()
    rule = reader.rule(tree, "", pieces, {setting.name: setting for setting in settings})
    reader.done()
    return rule


def read_guards(tree: object, pieces: Mapping[str, Piece], settings: Iterable[Setting]) -> tuple[Guard, ...]:
    """Read the guards of a site as they stand in the file. Raises DocumentError; pointers count from the site."""
    reader = GuardReader()
    guards = reader.guards({"guards": tree}, pieces, {setting.name: setting for setting in settings})
    reader.done()
    return guards


def read_schedule(tree: object) -> Schedule | None:
    """Read a schedule as it stands in the file; None for always. Raises DocumentError; pointers count from it."""
    reader = LayoutReader()
    schedule = reader.schedule(tree, "")
    reader.done()
    return schedule


def read_piece(tree: object, pieces: Mapping[str, Piece]) -> Piece:
    """Read one piece as it stands in the file. Raises DocumentError; pointers count from the piece."""
    reader = LayoutReader()
    piece = reader.piece(tree, "")
    reader.widgets_exist(piece, pieces, "")
    reader.done()
    return piece


class DocumentReader(SourceReader):
    """Reads a whole site, from the top down."""

    SITE_KEYS = (
        "name", "slug", "base_url", "language", "time_zone", "roles", "default_template", "settings",
        "scripts",
    )  # fmt: skip

    def head(self, value: object) -> Mapping[str, Any]:
        """The tree of a file, of this version, with no key that there is not."""
        tree = self.table(
            value,
            "",
            (
                "navrel",
                "site",
                "taxonomies",
                "pages",
                "menus",
                "dresses",
                "files",
                "bindings",
                "recipe",
                "pieces",
                "rules",
                "guards",
            ),
        )
        if tree.get("navrel") != VERSION:
            self.fail("/navrel", f"this has to be {VERSION}, the version of the layout file")
        return tree

    def document(self, value: object) -> SiteDocument:
        tree = self.head(value)
        facts = self.table(tree.get("site", {}), "/site", self.SITE_KEYS)
        taxonomies = self.taxonomies(tree)
        pieces = self.pieces(tree)
        site = self.site(facts, pieces, "/site")
        pages = self.pages(tree, site.language, taxonomies)
        settings = self.settings(facts, "/site")
        known = {setting.name: setting for setting in settings}
        rules = self.rules(tree, pieces, known)
        guards = self.guards(tree, pieces, known)
        document = replace(
            site,
            taxonomies=taxonomies,
            pages=pages,
            layout=Layout(
                pieces, rules, site.layout.default_template, settings, self.menus(tree), self.dresses(tree), guards
            ),
            files=self.files(tree),
            bindings=self.bindings(tree),
            recipe=self.recipe(tree),
        )
        if not self.problems:
            self.check_tree(document)
        return document

    def site(self, facts: Mapping[str, Any], pieces: Mapping[str, Piece], at: str) -> SiteDocument:
        """What a site is, without what it has."""
        name = self.text(facts, "name", at, required=True)
        default_template = self.text(facts, "default_template", at) or None
        if default_template:
            self.reference(pieces, default_template, ("template",), f"{at}/default_template")
        return SiteDocument(
            name,
            self.text(facts, "slug", at, slugify(name)),
            self.text(facts, "base_url", at),
            self.text(facts, "language", at, "en"),
            self.zone(facts, at),
            self.texts(facts, "roles", at),
            layout=Layout(default_template=default_template),
            scripts=self.switch(facts, "scripts", at, False),
        )

    def zone(self, tree: Mapping[str, Any], at: str) -> str:
        name = self.text(tree, "time_zone", at, "UTC")
        try:
            ZoneInfo(name)
        except (KeyError, ValueError, OSError):
            self.fail(f"{at}/time_zone", f"there is no time zone {name}; write it as Europe/Dublin")
        return name

    def check_tree(self, document: SiteDocument) -> None:
        try:
            site = document.tree
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
                        self.text(term, "name", place, name_of(term_slug)),
                        self.text(term, "parent", place) or None,
                    )
                )
            for number, known in enumerate(terms):
                if known.parent and known.parent not in seen_terms:
                    self.fail(f"{at}/terms/{number}/parent", f"there is no term {known.parent}", "reference")
            found.append(Taxonomy(slug, self.text(taxonomy, "name", at, name_of(slug)), tuple(terms)))
        return tuple(found)

    def pages(
        self,
        tree: Mapping[str, Any],
        language: str,
        taxonomies: tuple[Taxonomy, ...],
        around: Set[str] = frozenset(),
    ) -> Sequence[Page]:
        """The pages of a file; their parents may be ``around``, the paths of pages that are there."""
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
            if page.parent and page.parent not in seen and page.parent not in around:
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
            "address",
            "bound",
        )
        tree = self.table(item, at, keys)
        path = self.text(tree, "path", at, required=True)
        if path and (not _PATH.match(path) or (path != "/" and path.endswith("/"))):
            self.fail(
                f"{at}/path",
                f"{path} is no path: it starts with / and has no query, fragment or closing slash",
            )
        address = self.text(tree, "address", at)
        if address and not _PATH.match(address):
            self.fail(f"{at}/address", f"{address} is no address: it starts with / and has no query or fragment")
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
            noted(locks),
            address,
            None if tree.get("bound") is None else self.texts(tree, "bound", at),
        )

    def locks(self, tree: Mapping[str, Any], at: str) -> dict[str, LockNote]:
        """Slots that another system owns: a name, or an object that says who owns it and why."""
        found: dict[str, LockNote] = {}
        for item, place in self.items(tree, "locks", at):
            lock = {"slot": item} if isinstance(item, str) else self.table(item, place, ("slot", "owner", "why"))
            slot = self.slug(lock, "slot", place)
            if slot and slot in found:
                self.fail(place, f"the slot {slot} is locked twice", "repeated")
            found[slot] = LockNote(self.text(lock, "owner", place), self.text(lock, "why", place))
        return found


def noted(locks: Mapping[str, LockNote]) -> dict[str, LockNote]:
    """The locks of which something is told."""
    return {slot: note for slot, note in locks.items() if note != LockNote()}
