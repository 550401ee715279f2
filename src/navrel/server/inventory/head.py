"""What a page says about itself: in meta elements, linked data, and its own markup.

Sources: RFC 6596 (canonical links), Open Graph, schema.org as JSON-LD, microformats.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from itertools import chain, islice
from typing import Any
from urllib.parse import unquote, urlsplit

from navrel.core.layout.document import slugify
from navrel.core.pages.page import page_path
from navrel.core.text import fit

from .addresses import Around, address_of
from .entries import Entries
from .marked import things_in_markup

#: Most things of JSON-LD, most terms and fields of one page, and the longest text of a fact.
MAX_THINGS = 1000
MAX_TERMS = 200
MAX_FACT = 200
#: Longest address that a page may state, in bytes.
MAX_ADDRESS = 1500

LISTING_TYPES = {"CollectionPage", "Blog", "ItemList"}
_ARTICLE_TYPES = {"Article", "BlogPosting", "NewsArticle"}
#: What an article says of itself besides its words. Themes call all pages articles, the home page among them.
_OF_AN_ARTICLE = {"headline", "name", "author", "datePublished", "dateModified", "dateCreated"}
_SPACES = re.compile(r"\s+")
_XML = "http://www.w3.org/XML/1998/namespace"


class Head:
    """What a page says about itself in meta elements and JSON-LD."""

    def __init__(self, tree: Any) -> None:
        self.tree = tree
        self.metas: dict[str, list[str]] = {}
        for meta in tree.iter("meta"):
            name = (meta.get("property") or meta.get("name") or meta.get("http-equiv") or "").strip().lower()
            if name and (content := (meta.get("content") or "").strip()):
                self.metas.setdefault(name, []).append(content)
        self.things = list(islice(chain(_linked_data(tree), things_in_markup(tree)), MAX_THINGS))
        self.entries = Entries(tree)
        self._entry = self.entries.told()
        # An entry counts as what linked data state, but is no place of theirs.
        self._said = [*self.things, self._entry]

    def meta(self, name: str) -> str:
        return self.metas.get(name, [""])[0]

    def types(self) -> list[str]:
        """The schema.org types that the page states, first things first."""
        found: list[str] = []
        for thing in self._said:
            stated = thing.get("@type")
            names = [one for one in (stated if isinstance(stated, list) else [stated]) if isinstance(one, str)]
            is_bare = thing is not self._entry and not thing.keys() & _OF_AN_ARTICLE
            found += [one for one in names if not (is_bare and one == "Article")]
        return found

    def property(self, name: str) -> Any:
        """The first value that any stated thing has for a property."""
        return next((thing[name] for thing in self._said if thing.get(name)), None)

    def canonical(self, around: Around) -> str:
        """The address that the page says is its own, where that is on this site; else nothing."""
        link = next((link for link in self.tree.iter("link") if "canonical" in (link.get("rel") or "").split()), None)
        stated = (link.get("href") or "").strip() if link is not None else ""
        own = around.own(stated) if stated else None
        address = fit(_SPACES.sub("-", address_of(own)), 1000) if own else ""
        return address if len(address.encode()) <= MAX_ADDRESS else ""

    def type(self) -> str:
        """The content type: Open Graph's where it says something, else that of schema.org."""
        stated = self.meta("og:type").rpartition(":")[2].strip().lower()
        if stated not in ("", "website", "article") or (stated == "article" and self._is_written()):
            return slugify(stated)
        for name in self.types():
            if name in _ARTICLE_TYPES:
                return "article"
            if name.endswith("Page") and name not in ("WebPage", "CollectionPage", "SearchResultsPage"):
                return _kebab(name.removesuffix("Page"))
            if name in ("Product", "Event", "Recipe", "Place"):
                return _kebab(name)
        return ""

    def _is_written(self) -> bool:
        """Whether a page says when or by whom it was written, or what of."""
        return any(self.published()) or bool(self.author() or self.meta("article:tag"))

    def kind(self) -> str:
        """The kind of page that the stated types tell of."""
        types = set(self.types())
        return "search" if "SearchResultsPage" in types else "listing" if types & LISTING_TYPES else ""

    def author(self) -> str:
        stated = self.property("author")
        stated = stated[0] if isinstance(stated, list) and stated else stated
        name = stated.get("name") if isinstance(stated, dict) else stated
        # Open Graph has the address of a profile there; many write the name.
        written = self.meta("article:author")
        named = "" if "/" in written else written
        return (name if isinstance(name, str) else "") or self.meta("author") or named

    def language(self) -> str:
        tree = self.tree
        stated = (tree.get("lang"), tree.get("xml:lang"), tree.get(f"{{{_XML}}}lang"), tree.find("body").get("lang"))
        named = map(self.meta, ("content-language", "dcterms.language", "language"))
        return next((one for one in (*stated, *named) if one), "")

    def published(self) -> list[str]:
        """What may be the day of publishing, the likeliest first."""
        stated = self.property("datePublished")
        texts = self.meta("article:published_time"), stated if isinstance(stated, str) else ""
        return [*texts, self.meta("dcterms.date"), self.meta("date")]

    def terms(self, taxonomy: str) -> list[str]:
        """The names of the terms that it carries of a section or of topics."""
        stated = self.metas.get({"section": "article:section", "topic": "article:tag"}[taxonomy], [])
        return stated or (self._entry.get("keywords", []) if taxonomy == "topic" else [])

    def lists(self) -> str:
        """What a listing lists, as its `about` says."""
        about = self.property("about")
        if not isinstance(about, dict) or not set(self.types()) & LISTING_TYPES:
            return "type/article" if "Blog" in self.types() else ""
        name = str(about.get("name") or "")
        match about.get("@type"):
            case "DefinedTerm":
                group = about.get("inDefinedTermSet")
                return f"term/{slugify(str(group or 'topic'))}/{slugify(name)}"
            case "Person":
                return f"author/{slugify(name)}"
            case _:
                return ""

    def parent(self, path: str) -> str:
        """The page above, as the breadcrumbs name it."""
        for thing in self.things:
            if thing.get("@type") != "BreadcrumbList" or not isinstance(thing.get("itemListElement"), list):
                continue
            paths = [_item_path(item) for item in thing["itemListElement"]]
            if len(paths) > 1 and paths[-1] in (path, "") and paths[-2]:
                return paths[-2]
        return ""

    def fields(self) -> dict[str, str]:
        """The page's additional properties (schema.org PropertyValue)."""
        stated = self.property("additionalProperty")
        stated = stated if isinstance(stated, list) else [stated]
        return {
            slugify(str(item["name"])): fit(str(item["value"]), 500)
            for item in stated[:MAX_TERMS]
            if isinstance(item, dict) and item.get("name") and item.get("value")
        }


def _linked_data(tree: Any) -> Iterator[dict[str, Any]]:
    """Every thing that the page's JSON-LD states. A block that is no JSON is passed over."""
    for script in tree.iter("script"):
        if (script.get("type") or "").split(";")[0].strip() != "application/ld+json":
            continue
        try:
            stated = json.loads(script.text or "")
        except (ValueError, RecursionError):
            continue
        things = stated.get("@graph", [stated]) if isinstance(stated, dict) else stated
        if isinstance(things, list):
            yield from (thing for thing in things if isinstance(thing, dict))


def _item_path(item: Any) -> str:
    """The path of one element of a BreadcrumbList."""
    target = item.get("item") if isinstance(item, dict) else None
    target = target.get("@id") if isinstance(target, dict) else target
    try:
        return page_path(fit(unquote(urlsplit(target).path), 1000)) if isinstance(target, str) and target else ""
    except ValueError:
        return ""


def _kebab(name: str) -> str:
    return slugify(re.sub(r"(?<=[a-z])(?=[A-Z])", "-", name))
