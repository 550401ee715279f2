"""Reading a page's facts and content out of an HTML file, from where real sites put them.

Sources: the HTML Standard (lang, title, main, slot), RFC 6596 (canonical links), Open Graph, schema.org JSON-LD.
"""

from __future__ import annotations

import datetime
import hashlib
import json
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from html import escape
from itertools import islice
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import unquote, urlsplit

from lxml import etree, html

from navrel.core.layout.document import is_slug, slugify
from navrel.core.text import fit
from navrel.rendering.sanitising import sanitise

#: Largest file that is read, in bytes.
MAX_FILE = 5 * 1024 * 1024
#: Most tags of one file, and most attributes and character references; deepest nesting; most things of JSON-LD.
MAX_TAGS = 100_000
MAX_DEPTH = 400
MAX_ATTRIBUTES = 100_000
MAX_THINGS = 1000
#: Most terms and fields of one page, and the longest text of a fact.
MAX_TERMS = 200
MAX_FACT = 200
#: File names that hold pages.
PAGE_SUFFIXES = (".html", ".htm", ".xhtml")

_MISSING_FILES = {"404", "not-found", "notfound"}
_ARTICLE_TYPES = {"Article", "BlogPosting", "NewsArticle"}
_LISTING_TYPES = {"CollectionPage", "Blog", "ItemList"}
_OUTSIDE_CONTENT = ("header", "footer", "nav", "aside", "script", "style", "noscript", "template")
_WORD = re.compile(r"\w[\w'’\-]*")
_SPACES = re.compile(r"\s+")
_CHARSET = re.compile(rb"""<meta[^>]+charset=["']?([A-Za-z0-9_\-]+)""", re.IGNORECASE)


class Unreadable(ValueError):
    """A file that holds no page; the message is the reason."""


TOO_LARGE = Unreadable(f"larger than {MAX_FILE // (1024 * 1024)} MB")


@dataclass(frozen=True)
class ReadPage:
    """What a file says about its page. ``facts`` are those of the page model, as plain JSON values."""

    path: str
    facts: dict[str, Any]
    html: str
    text: str
    term_names: dict[str, str] = field(default_factory=dict)
    remark: str = ""

    @property
    def digest(self) -> str:
        """What the content is filed under."""
        return hashlib.sha256(self.html.encode()).hexdigest()


def read_page(name: str, data: bytes) -> ReadPage:
    """Read the page in a file. ``name`` is its path below the folder, with slashes. Raises Unreadable."""
    source, remark = _decode(data)
    tree = _parse(source)
    head = _Head(tree)
    path = _path(head, name)
    main, content_remark = _content_element(tree)
    heading = next(iter(main.iter("h1")), None)
    title = _text_of(heading) if heading is not None else ""
    if heading is not None:
        heading.drop_tree()
    clean = sanitise("".join(_inner_parts(main)))
    text = _text_of(main)
    terms = head.terms()
    facts = {
        "title": fit(title or head.meta("og:title") or _text_of(tree.find(".//title")) or path, 500),
        "kind": _kind(head, path, name),
        "type": head.type(),
        "parent": head.parent(path),
        "terms": list(terms),
        "lists": head.lists(),
        "author": slugify(head.author()) if head.author() else "",
        "language": _language(tree.get("lang") or ""),
        "published": head.published(),
        "words": len(_WORD.findall(text)),
        "fields": head.fields(),
        "slots": sorted({slot.get("name") for slot in main.iter("slot") if is_slug(slot.get("name") or "")}),
    }
    return ReadPage(path, facts, clean, text, terms, "; ".join(filter(None, (remark, content_remark))))


def _decode(data: bytes) -> tuple[str, str]:
    if len(data) > MAX_FILE:
        raise TOO_LARGE
    if b"\0" in data[:4096] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise Unreadable("binary, not text")
    try:
        if data.startswith((b"\xff\xfe", b"\xfe\xff")):
            return data.decode("utf-16"), "decoded as utf-16"
        return data.decode("utf-8-sig").replace("\0", ""), ""
    except UnicodeDecodeError:
        pass
    declared = _CHARSET.search(data[:2048])
    named = declared[1].decode("ascii") if declared else ""
    encoding = named if named and named.lower() not in ("utf-8", "utf8") else "windows-1252"
    try:
        return data.decode(encoding).replace("\0", ""), f"decoded as {encoding}"
    except (LookupError, ValueError):
        decoded = data.decode("windows-1252", errors="replace").replace("\0", "")
        return decoded, "decoded as windows-1252, some characters lost"


def _parse(source: str) -> Any:
    tags = source.count("<")
    if not tags:
        raise Unreadable("holds no HTML")
    if tags > MAX_TAGS:
        raise Unreadable(f"holds {tags:,} tags; {MAX_TAGS:,} is the most")
    for what, mark in (("attributes", "="), ("character references", "&")):
        if (count := source.count(mark)) > MAX_ATTRIBUTES:
            raise Unreadable(f"holds {count:,} {what}; {MAX_ATTRIBUTES:,} is the most")
    try:
        tree = html.document_fromstring(source.encode(), parser=html.HTMLParser(encoding="utf-8"))
    except (etree.ParserError, etree.XMLSyntaxError, ValueError) as error:
        raise Unreadable(f"cannot be read as HTML: {error}") from None
    if tree.tag != "html" or tree.find("body") is None:
        raise Unreadable("holds no page body")
    if (depth := _depth(tree)) > MAX_DEPTH:
        raise Unreadable(f"is nested {depth:,} deep; {MAX_DEPTH} is the most")
    return tree


def _depth(tree: Any) -> int:
    """How deep elements stand in each other, up to a little over what is allowed."""
    deepest, level = 0, [tree]
    while level and deepest <= MAX_DEPTH:
        deepest += 1
        level = [child for element in level for child in element]
    return deepest


def _language(text: str) -> str:
    """A language tag as BCP 47 writes it; empty for what is none."""
    tag = text.strip().replace("_", "-")
    return tag if len(tag) <= 35 and re.fullmatch(r"[A-Za-z]{1,8}(?:-[A-Za-z0-9]{1,8})*", tag) else ""


class _Head:
    """What a page says about itself in meta elements and JSON-LD."""

    def __init__(self, tree: Any) -> None:
        self.tree = tree
        self.metas: dict[str, list[str]] = {}
        for meta in tree.iter("meta"):
            name = (meta.get("property") or meta.get("name") or "").strip().lower()
            if name and (content := (meta.get("content") or "").strip()):
                self.metas.setdefault(name, []).append(content)
        self.things = list(islice(_linked_data(tree), MAX_THINGS))

    def meta(self, name: str) -> str:
        return self.metas.get(name, [""])[0]

    def types(self) -> list[str]:
        """The schema.org types that the page states, first things first."""
        found: list[str] = []
        for thing in self.things:
            stated = thing.get("@type")
            found += [one for one in (stated if isinstance(stated, list) else [stated]) if isinstance(one, str)]
        return found

    def property(self, name: str) -> Any:
        """The first value that any stated thing has for a property."""
        return next((thing[name] for thing in self.things if thing.get(name)), None)

    def canonical(self) -> str:
        link = next((link for link in self.tree.iter("link") if "canonical" in (link.get("rel") or "").split()), None)
        return (link.get("href") or "").strip() if link is not None else ""

    def type(self) -> str:
        """The content type: Open Graph's where it says something, else that of schema.org."""
        stated = self.meta("og:type").rpartition(":")[2]
        if stated and stated != "website":
            return slugify(stated)
        for name in self.types():
            if name in _ARTICLE_TYPES:
                return "article"
            if name.endswith("Page") and name not in ("WebPage", "CollectionPage", "SearchResultsPage"):
                return _kebab(name.removesuffix("Page"))
            if name in ("Product", "Event", "Recipe", "Place"):
                return _kebab(name)
        return ""

    def author(self) -> str:
        stated = self.property("author")
        stated = stated[0] if isinstance(stated, list) and stated else stated
        name = stated.get("name") if isinstance(stated, dict) else stated
        return (name if isinstance(name, str) else "") or self.meta("author")

    def published(self) -> str | None:
        stated = self.property("datePublished")
        for text in (self.meta("article:published_time"), stated if isinstance(stated, str) else ""):
            try:
                return datetime.date.fromisoformat(text[:10]).isoformat()
            except ValueError:
                continue
        return None

    def terms(self) -> dict[str, str]:
        """The taxonomy terms it carries (`section/…` and `topic/…`), each with its name."""
        named = [("section", name) for name in self.metas.get("article:section", [])]
        named += [("topic", name) for name in self.metas.get("article:tag", [])]
        return {f"{taxonomy}/{slugify(name)}": fit(name, MAX_FACT) for taxonomy, name in named[:MAX_TERMS]}

    def lists(self) -> str:
        """What a listing lists, as its `about` says."""
        about = self.property("about")
        if not isinstance(about, dict) or not set(self.types()) & _LISTING_TYPES:
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
        """The page above, where the breadcrumbs name another than the path does."""
        for thing in self.things:
            if thing.get("@type") != "BreadcrumbList" or not isinstance(thing.get("itemListElement"), list):
                continue
            paths = [_item_path(item) for item in thing["itemListElement"]]
            if len(paths) > 1 and paths[-1] in (path, "") and paths[-2]:
                above = paths[-2]
                return "" if above == (path.rpartition("/")[0] or "/") else above
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
        return _clean_path(unquote(urlsplit(target).path)) if isinstance(target, str) and target else ""
    except ValueError:
        return ""


def _path(head: _Head, name: str) -> str:
    """The canonical link's path, else the file's: `a/index.html` is `/a`, `a/b.html` is `/a/b`."""
    try:
        canonical = urlsplit(head.canonical())
    except ValueError:
        canonical = urlsplit("")
    if canonical.path.startswith("/"):
        return _clean_path(unquote(canonical.path))
    pure = PurePosixPath("/" + name)
    pure = pure.with_suffix("") if pure.name.strip(".") else pure
    return _clean_path(str(pure.parent if pure.name == "index" else pure))


def _clean_path(path: str) -> str:
    parts = [
        part
        for part in _SPACES.sub("-", fit(path, 4000)).replace("?", "").replace("#", "").replace("\\", "/").split("/")
        if part not in ("", ".", "..")
    ]
    if parts and parts[-1].lower() in ("index.html", "index.htm"):
        parts.pop()
    return ("/" + "/".join(parts))[:1000].rstrip("/") or "/"


def _kind(head: _Head, path: str, name: str) -> str:
    types = set(head.types())
    if path == "/":
        return "home"
    if PurePosixPath(name).stem.lower() in _MISSING_FILES:
        return "missing"
    if "SearchResultsPage" in types:
        return "search"
    return "listing" if types & _LISTING_TYPES else "single"


def _content_element(tree: Any) -> tuple[Any, str]:
    """The page's own content: `main`, else its one `article`, else the part of the body with the most text."""
    body = tree.find("body")
    main = next(body.iter("main"), None)
    if main is None:
        articles = list(body.iter("article"))
        main = articles[0] if len(articles) == 1 else None
    if main is not None:
        return main, ""
    for tag in _OUTSIDE_CONTENT:
        for element in list(body.iter(tag)):
            element.drop_tree()
    best = body
    while (richest := max(best, key=lambda child: len(_text_of(child)), default=None)) is not None:
        if not isinstance(richest.tag, str) or len(_text_of(richest)) < 0.8 * len(_text_of(best)):
            break
        if richest.tag not in ("div", "section", "td", "table", "tbody", "tr", "center"):
            break
        best = richest
    return best, "has no main element; the content is a guess"


def _inner_parts(element: Any) -> Iterator[str]:
    yield escape(element.text or "")
    for child in element:
        yield etree.tostring(child, encoding="unicode", method="html")


def _text_of(element: Any) -> str:
    return (
        _SPACES.sub(" ", element.text_content()).strip() if element is not None and isinstance(element.tag, str) else ""
    )


def _kebab(name: str) -> str:
    return slugify(re.sub(r"(?<=[a-z])(?=[A-Z])", "-", name))
