"""Parts of a layout file: some pieces, rules, pages, without the rest, read against a site that has more."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from ..layout.binding import Binding
from ..layout.document import SiteDocument, SiteFile, Taxonomy
from ..layout.dress import Dress
from ..layout.model import Guard, Menu, Piece, Rule, Setting
from ..layout.recipe import Recipe
from ..pages.page import Page
from .reading import DocumentReader


@dataclass(frozen=True)
class ReadParts:
    """What a file holds. ``site`` is None where it says nothing of the site itself."""

    site: SiteDocument | None = None
    taxonomies: tuple[Taxonomy, ...] = ()
    pages: Sequence[Page] = ()
    menus: dict[str, Menu] = field(default_factory=dict)
    dresses: dict[str, Dress] = field(default_factory=dict)
    files: tuple[SiteFile, ...] = ()
    settings: tuple[Setting, ...] = ()
    pieces: dict[str, Piece] = field(default_factory=dict)
    rules: tuple[Rule, ...] = ()
    guards: tuple[Guard, ...] = ()
    bindings: tuple[Binding, ...] = ()
    recipe: Recipe = ()


def read_parts(tree: Any, around: SiteDocument) -> ReadParts:
    """Read a file, whole or in parts; what it names may be in ``around`` too. Raises DocumentError."""
    reader = _PartsReader()
    parts = reader.parts(tree, around)
    reader.done()
    return parts


class _PartsReader(DocumentReader):
    def parts(self, value: object, around: SiteDocument) -> ReadParts:
        tree = self.head(value)
        facts = self.table(tree.get("site") or {}, "/site", self.SITE_KEYS)
        language = self.text(facts, "language", "/site", around.language)
        taxonomies = self.taxonomies(tree)
        pages = self.pages(tree, language, (*taxonomies, *around.taxonomies), {page.path for page in around.pages})
        pieces = self.pieces(tree, around.layout.pieces)
        settings = self.settings(facts, "/site")
        known = {setting.name: setting for setting in (*around.layout.settings, *settings)}
        return ReadParts(
            self.site(facts, {**around.layout.pieces, **pieces}, "/site") if facts else None,
            taxonomies,
            pages,
            self.menus(tree),
            self.dresses(tree),
            self.files(tree),
            settings,
            pieces,
            self.rules(tree, {**around.layout.pieces, **pieces}, known),
            self.guards(tree, {**around.layout.pieces, **pieces}, known),
            self.bindings(tree),
            self.recipe(tree),
        )
