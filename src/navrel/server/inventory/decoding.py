"""The text and the tree of an HTML file, as far as it can be one.

Source: the HTML Standard, Encoding Standard (how a file says what it is written in).
"""

from __future__ import annotations

import codecs
import itertools
import re
from typing import Any

from lxml import etree

from navrel.rendering.in_place.places import parse_html

#: Largest file that is read, in bytes.
MAX_FILE = 5 * 1024 * 1024
#: Most tags of one file, and most attributes and character references; deepest nesting.
MAX_TAGS = 250_000
MAX_DEPTH = 400
MAX_ATTRIBUTES = 100_000

#: Elements that belong into the head of a page.
_OF_HEAD = {"title", "meta", "link", "style", "script", "base", "noscript", "template", "object"}
_CHARSET = re.compile(rb"""<meta[^>]+charset=["']?([A-Za-z0-9_\-]+)""", re.IGNORECASE)
_IS_TOO_DEEP = etree.XPath(f"boolean({'/*' * (MAX_DEPTH + 1)})")


class Unreadable(ValueError):
    """A file that holds no page; the message is the reason."""


TOO_LARGE = f"larger than {MAX_FILE // (1024 * 1024)} MB"


def decode(data: bytes) -> tuple[str, str, str]:
    """The text of a file, what it is written in, and what is to be said of that.

    What is not written in bytes that are those of ASCII for tags has no encoding here.
    """
    if len(data) > MAX_FILE:
        raise Unreadable(TOO_LARGE)
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


def parse(source: str) -> Any:
    tags = source.count("<")
    if not tags:
        raise Unreadable("holds no HTML")
    if tags > MAX_TAGS:
        raise Unreadable(f"holds {tags:,} tags; {MAX_TAGS:,} is the most")
    for what, mark in (("attributes", "="), ("character references", "&")):
        if (count := source.count(mark)) > MAX_ATTRIBUTES:
            raise Unreadable(f"holds {count:,} {what}; {MAX_ATTRIBUTES:,} is the most")
    try:
        tree = parse_html(source)
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
