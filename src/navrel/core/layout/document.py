"""One site as plain records: what a layout file holds."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import cached_property
from urllib.parse import quote
from zoneinfo import ZoneInfo

from anyascii import anyascii

from ..pages.page import Page
from ..pages.tree import PageTree
from .binding import Binding
from .model import Layout
from .recipe import Recipe

VERSION = 1
#: Longest name of a piece or a rule, in characters.
MAX_NAME = 80
PRIORITIES = range(-1000, 1001)

_SLUG = re.compile(r"[a-z0-9]+(?:[-_][a-z0-9]+)*\Z")


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
class SiteFile:
    """A file of the site: a picture, or a font. ``digest`` is the SHA-256 of its bytes, in hexadecimal.

    Sizes are in pixels, 0 for a font; ``widths``: those of the smaller versions that were made of a picture.
    """

    name: str
    type: str
    digest: str
    width: int = 0
    height: int = 0
    widths: tuple[int, ...] = ()

    def address(self, width: int = 0) -> str:
        """Where it is served: an address that never shows anything else. ``width``: of a smaller version."""
        return f"/-/files/{self.digest}{f'-{width}' if width else ''}/{quote(self.name, safe='')}"


@dataclass(frozen=True)
class SiteDocument:
    """A whole site: what it is, its taxonomies and pages, and its layout. Pages stand in the file's order.

    ``scripts``: whether what pages that are drawn in their own HTML bring along may run where they are published.
    """

    name: str
    slug: str
    base_url: str = ""
    language: str = "en"
    time_zone: str = "UTC"
    roles: tuple[str, ...] = ()
    taxonomies: tuple[Taxonomy, ...] = ()
    pages: Sequence[Page] = ()
    layout: Layout = field(default_factory=Layout)
    files: tuple[SiteFile, ...] = ()
    bindings: tuple[Binding, ...] = ()
    recipe: Recipe = ()
    scripts: bool = False

    @cached_property
    def files_by_name(self) -> dict[str, SiteFile]:
        """The files of the site by their names."""
        return {file.name: file for file in self.files}

    @cached_property
    def term_names(self) -> dict[str, str]:
        """What each term is called, by its ``taxonomy/slug``."""
        return {f"{taxonomy.slug}/{term.slug}": term.name for taxonomy in self.taxonomies for term in taxonomy.terms}

    @property
    def term_parents(self) -> dict[str, str]:
        """The term above each term that has one, both as ``taxonomy/slug``."""
        return {
            f"{taxonomy.slug}/{term.slug}": f"{taxonomy.slug}/{term.parent}"
            for taxonomy in self.taxonomies
            for term in taxonomy.terms
            if term.parent
        }

    def now(self) -> datetime:
        """What the clock shows in the site's time zone."""
        return datetime.now(ZoneInfo(self.time_zone)).replace(tzinfo=None)

    @cached_property
    def tree(self) -> PageTree:
        """The page tree, ready for questions. Raises TreeError for a loop of parents."""
        return PageTree(self.pages, self.term_parents)

    def take_tree(self, older: SiteDocument) -> None:
        """Take the page tree of another document, if it has the very same pages and terms: it need not be made anew."""
        if self.pages is older.pages and self.taxonomies == older.taxonomies:
            # Where `cached_property` keeps it.
            vars(self)["tree"] = older.tree


def slugify(name: str, most: int = MAX_NAME) -> str:
    """A slug of at most so many characters for a name; `x` where no letter or digit is left.

    Letters of any script become plain ones; whatever is no letter or digit of ASCII then parts words.
    """
    plain = name.lower() if name.isascii() else anyascii(unicodedata.normalize("NFC", name)).lower()
    return "-".join(re.findall(r"[a-z0-9]+", plain))[:most].strip("-") or "x"


def free_name(base: str, taken: Iterable[str], between: str = " ") -> str:
    """A name that is not taken, without regard to case: the base, else with the first number that makes it so."""
    known = {name.casefold() for name in taken}
    number, name = 1, base
    while name.casefold() in known:
        number += 1
        end = f"{between}{number}"
        name = f"{base[: MAX_NAME - len(end)]}{end}"
    return name


def is_slug(text: str) -> bool:
    """Whether ``text`` is fit to be a slug."""
    return len(text) <= MAX_NAME and _SLUG.match(text) is not None
