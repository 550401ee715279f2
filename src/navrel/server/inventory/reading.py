"""Reading a page's facts and content out of an HTML file, from where real sites put them.

Source: the HTML Standard (lang, title, main, slot).
"""

from __future__ import annotations

import codecs
import hashlib
import itertools
import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from html import escape
from pathlib import PurePosixPath
from typing import Any, NamedTuple

from lxml import etree, html

from navrel.core.layout.document import is_slug, slugify
from navrel.core.pages.page import page_path
from navrel.core.text import fit
from navrel.rendering.in_place.places import Asked, BadSelector, Marks, title_place
from navrel.rendering.sanitising import sanitise

from .addresses import Around, file_address, led_on, root_links
from .blocks import Block, blocks_of, digest_of, markup_of, normalised
from .head import LISTING_TYPES, Head

#: Largest file that is read, in bytes.
MAX_FILE = 5 * 1024 * 1024
#: Most tags of one file, and most attributes and character references; deepest nesting.
MAX_TAGS = 100_000
MAX_DEPTH = 400
MAX_ATTRIBUTES = 100_000

_MISSING_FILES = {"404", "not-found", "notfound"}
_OUTSIDE_CONTENT = ("header", "footer", "nav", "aside", "script", "style", "noscript", "template")
#: Roles, ids and class names by which sites mark a page's own content, where no element says so.
_CONTENT_MARKS = (
    "[@role='main']", "[@id='content']", "[@id='main-content']", "[@id='main']", "[@id='bodyContent']",
    *(f"[contains(concat(' ', normalize-space(@class), ' '), ' {name} ')]"
      for name in ("main-content", "entry-content", "post-content", "article-body", "markdown-body", "content",
                   "body")),
)  # fmt: skip
#: Elements that stand in a line of text; all others part the words on either side of them.
_IN_LINE = {
    "a", "abbr", "b", "bdi", "bdo", "cite", "code", "data", "del", "dfn", "em", "font", "i", "ins", "kbd", "mark", "q",
    "s", "samp", "small", "span", "strong", "sub", "sup", "time", "tt", "u", "var", "wbr",
}  # fmt: skip
#: Elements that belong into the head of a page.
_OF_HEAD = {"title", "meta", "link", "style", "script", "base", "noscript", "template", "object"}
#: What stands beside a heading only to be linked to.
_PERMALINK = re.compile(r"(?:^|[\s_-])(?:headerlink|permalink|anchor|anchorjs-link|heading-link|hash-link)(?:$|[\s_-])")
_PERMALINK_TEXT = {"¶", "#", "§", "🔗", ""}
#: The tags of sanitised markup, which writes them in lower case but for those of drawings.
_TAG = re.compile(r"<([A-Za-z][\w-]*)")
_WORD = re.compile(r"\w[\w'’\-]*")
_CHARSET = re.compile(rb"""<meta[^>]+charset=["']?([A-Za-z0-9_\-]+)""", re.IGNORECASE)


_XML = "http://www.w3.org/XML/1998/namespace"
_IS_TOO_DEEP = etree.XPath(f"boolean({'/*' * (MAX_DEPTH + 1)})")


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
    #: Where it is served; and other addresses that lead there.
    address: str = ""
    also: list[str] = field(default_factory=list)
    #: What of its content was left out as it could run, or reach out: how many elements of each name.
    dropped: dict[str, int] = field(default_factory=dict)
    #: What its file is written in; empty for what cannot be drawn in its own HTML.
    encoding: str = ""
    #: From which byte of the file to which its title stands, and the places of what was looked for.
    title_place: list[int] | None = None
    places: dict[str, list[int] | None] = field(default_factory=dict)
    #: For a page that leads on by itself: the address where it leads. Such a page is none.
    leads_to: str = ""

    @property
    def digest(self) -> str:
        """What the content is filed under."""
        return hashlib.sha256(self.html.encode()).hexdigest()


def read_page(name: str, data: bytes, base_url: str = "", asked: Iterable[Asked] = ()) -> ReadPage:
    """Read the page in a file. ``name`` is its path below the folder, with slashes; ``base_url``: the site's address.

    ``asked``: the places that are looked for in it. Raises Unreadable.
    """
    source, encoding, remark = _decode(data)
    tree = _parse(source)
    file = file_address(name)
    base = next((element.get("href") or "" for element in tree.iter("base")), "")
    around = Around(file, base_url, base)
    if on := led_on(tree):
        leads_to = around.own(on)
        if leads_to is None:
            raise Unreadable(f"leads on to {fit(on, 200)}, which is elsewhere")
        return ReadPage(page_path(file), {}, "", "", {}, "", file, leads_to=leads_to)
    head = Head(tree)
    address = head.canonical(around) or file
    path = page_path(address)
    main, content_remark = _content_element(tree)
    heading = next(iter(main.iter("h1")), None)
    title = _title_of(heading) if heading is not None else ""
    if heading is not None:
        heading.drop_tree()
    root_links(main, around)
    held = Counter(element.tag for element in main.iterdescendants() if isinstance(element.tag, str))
    clean = sanitise("".join(_inner_parts(main)))
    dropped = held - Counter(_TAG.findall(clean))
    text = _text_of(main)
    terms = head.terms()
    facts = {
        "title": fit(title or head.meta("og:title") or _words_of(tree.find(".//title")) or path, 500),
        "kind": _kind(head, path, name),
        "type": head.type(),
        "parent": head.parent(path),
        "terms": list(terms),
        "lists": head.lists(),
        "author": slugify(head.author()) if head.author() else "",
        "language": _language(_stated_language(tree, head)),
        "published": head.published(),
        "words": _count_words(text),
        "fields": head.fields(),
        "slots": sorted({slot.get("name") for slot in main.iter("slot") if is_slug(slot.get("name") or "")}),
    }
    remarks = "; ".join(filter(None, (remark, content_remark)))
    if facts["kind"] == "missing":
        # It answers at every address at which there is nothing, and has none of its own.
        address = path
    also = [form for form in dict.fromkeys((file, f"/{fit(name, 999)}")) if form != address]
    found = read_places(data, encoding, asked) if encoding else ReadPlaces(None, {})
    return ReadPage(path, facts, clean, text, terms, remarks, address, also, dict(dropped), encoding, *found)


class ReadPlaces(NamedTuple):
    """Where the title of a file stands, and what was looked for, by how and selector: its start, end and matches."""

    title: list[int] | None
    places: dict[str, list[int] | None]


def read_places(data: bytes, encoding: str, asked: Iterable[Asked]) -> ReadPlaces:
    """Look for places in a file. Raises Unreadable where a selector cannot be asked."""
    title = title_place(data)
    wanted = list(asked)
    marks = Marks(data, encoding) if wanted else None
    try:
        found = {f"{how} {selector}": marks.find(how, selector) for how, selector in wanted} if marks else {}
    except BadSelector as error:
        raise Unreadable(str(error)) from None
    places = {key: None if place is None else list(place) for key, place in found.items()}
    return ReadPlaces(None if title is None else list(title), places)


def read_blocks(data: bytes, encoding: str, address: str, base_url: str) -> list[Block]:
    """The parts of a page that may be those of slots."""
    marks, around = _marks(data, encoding, address, base_url)
    content, _ = _content_element(marks.tree, guess=False)
    return blocks_of(marks, content, around)


def read_shown(
    data: bytes, encoding: str, address: str, base_url: str, starts: Iterable[int], *, markup: bool
) -> list[str]:
    """Of the elements that start at some bytes, without what varies: the markup, or a digest of it; empty for none."""
    marks, around = _marks(data, encoding, address, base_url)
    elements = {marks.at(element): element for element in marks.tree.iter(etree.Element)}
    told = markup_of if markup else digest_of
    return [told(normalised(element, around)) if element is not None else "" for element in map(elements.get, starts)]


def _marks(data: bytes, encoding: str, address: str, base_url: str) -> tuple[Marks, Around]:
    marks = Marks(data, encoding)
    base = next((element.get("href") or "" for element in marks.tree.iter("base")), "")
    return marks, Around(address, base_url, base)


def _decode(data: bytes) -> tuple[str, str, str]:
    """The text of a file, what it is written in, and what is to be said of that.

    What is not written in bytes that are those of ASCII for tags has no encoding here.
    """
    if len(data) > MAX_FILE:
        raise TOO_LARGE
    if b"\0" in data[:4096] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise Unreadable("binary, not text")
    try:
        if data.startswith((b"\xff\xfe", b"\xfe\xff")):
            return data.decode("utf-16"), "", "decoded as utf-16"
        return data.decode("utf-8-sig").replace("\0", ""), "utf-8", ""
    except UnicodeDecodeError:
        pass
    declared = _CHARSET.search(data[:2048])
    named = declared[1].decode("ascii") if declared else ""
    encoding = named if named and named.lower() not in ("utf-8", "utf8") else "windows-1252"
    try:
        known = codecs.lookup(encoding).name
        is_plain = "<a>".encode(known) == b"<a>"
        return data.decode(known).replace("\0", ""), known if is_plain else "", f"decoded as {encoding}"
    except (LookupError, ValueError):
        decoded = data.decode("windows-1252", errors="replace").replace("\0", "")
        return decoded, "cp1252", "decoded as windows-1252, some characters lost"


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
    if tree.find(".//frameset") is not None:
        raise Unreadable("is made of frames; each of them is a page of its own")
    if tree.tag != "html" or not _has_body(tree):
        raise Unreadable("holds no page body")
    if _IS_TOO_DEEP(tree):
        raise Unreadable(f"is nested more than {MAX_DEPTH} deep")
    return tree


def _has_body(tree: Any) -> bool:
    """Whether there is a body. Where its tag is left out, as it may be, the parser takes what is new to it for head."""
    head = tree.find("head")
    if tree.find("body") is not None or head is None:
        return tree.find("body") is not None
    kept = list(itertools.takewhile(lambda one: not isinstance(one.tag, str) or one.tag in _OF_HEAD, head))
    rest = list(head)[len(kept) :]
    if rest:
        etree.SubElement(tree, "body").extend(rest)
    return bool(rest)


def _stated_language(tree: Any, head: Head) -> str:
    stated = (tree.get("lang"), tree.get("xml:lang"), tree.get(f"{{{_XML}}}lang"), tree.find("body").get("lang"))
    return next((one for one in stated if one), "") or head.meta("dcterms.language") or head.meta("language")


def _language(text: str) -> str:
    """A language tag as BCP 47 writes it; empty for what is none."""
    tag = text.strip().replace("_", "-")
    return tag if len(tag) <= 35 and re.fullmatch(r"[A-Za-z]{1,8}(?:-[A-Za-z0-9]{1,8})*", tag) else ""


def _kind(head: Head, path: str, name: str) -> str:
    types = set(head.types())
    if path == "/":
        return "home"
    if PurePosixPath(name).stem.lower() in _MISSING_FILES:
        return "missing"
    if "SearchResultsPage" in types:
        return "search"
    return "listing" if types & LISTING_TYPES else "single"


def _content_element(tree: Any, *, guess: bool = True) -> tuple[Any, str]:
    """The page's own content: `main`, else its one `article`, else the part of the body with the most text.

    ``guess``: what stands outside of any content is taken away before that part is looked for.
    """
    body = tree.find("body")
    main = next(body.iter("main"), None)
    if main is None:
        articles = list(body.iter("article"))
        main = articles[0] if len(articles) == 1 else None
    if main is None:
        marked = (body.xpath(f".//*{mark}") for mark in _CONTENT_MARKS)
        main = next((found[0] for found in marked if len(found) == 1), None)
    if main is not None:
        return main, ""
    for tag in _OUTSIDE_CONTENT if guess else ():
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
    return " ".join(element.text_content().split()) if element is not None and isinstance(element.tag, str) else ""


def _count_words(text: str) -> int:
    """The words of a text. Most of what stands between spaces is one, and need not be looked through."""
    return sum(1 if part.isalnum() else len(_WORD.findall(part)) for part in text.split())


def _title_of(heading: Any) -> str:
    """The text of a heading, without what stands there only to be linked to."""
    for link in list(heading.iter("a")):
        if _text_of(link) in _PERMALINK_TEXT or _PERMALINK.search(link.get("class") or ""):
            link.drop_tree()
    return _words_of(heading)


def _words_of(element: Any) -> str:
    """The text of an element, with a space wherever a line or a box ends within it."""
    if element is None:
        return ""
    parts: list[str] = []
    for event, one in etree.iterwalk(element, events=("start", "end")):
        plain = isinstance(one.tag, str)
        if plain and one.tag not in _IN_LINE:
            parts.append(" ")
        if event == "start":
            parts.append((one.text or "") if plain and one.tag not in ("script", "style") else "")
        elif one is not element:
            parts.append(one.tail or "")
    return " ".join("".join(parts).split())
