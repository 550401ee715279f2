"""Where selectors find their places in an HTML file (Selectors Level 4, as far as cssselect goes)."""

from __future__ import annotations

import re
from collections.abc import Collection
from functools import lru_cache
from itertools import islice
from typing import Any

from cssselect import SelectorError
from lxml import etree, html
from lxml.cssselect import CSSSelector

from navrel.core.layout.binding import How, Place

from .tokens import AT, VOID, Tag, marked, tags_of

#: What a place is looked for by: how a slot lies to the element, and the selector.
Asked = tuple[How, str]
#: Elements that are the page itself: put something in their place, and nothing is left of it.
_WHOLE = ("html", "head", "body")


#: The usual lookup asks Python for the class of each element; forms are nothing special here.
_CLASSES = etree.ElementDefaultClassLookup(
    element=html.HtmlElement, comment=html.HtmlComment, pi=html.HtmlProcessingInstruction, entity=html.HtmlEntity
)


#: What the parser reads and no tree can be given again (XML 1.0, 2.2): some control characters and U+FFFE, U+FFFF.
_CONTROLS = bytes({*range(0x20)} - {0x09, 0x0A, 0x0D})
_NO_CHARACTERS = re.compile(rb"\xef\xbf[\xbe\xbf]")
_REFERENCES = re.compile(
    rb"&#(?:0*(?:[1-8]|1[124-9]|2\d|3[01]|6553[45])|x0*(?:[1-8bcef]|1[\da-f]|fff[ef]))(?![\da-f]);?", re.IGNORECASE
)


def parse_html(text: str) -> Any:
    """The tree of the text of an HTML file, without characters that no tree can hold.

    Raises lxml's ParserError and XMLSyntaxError, and ValueError.
    """
    data = _NO_CHARACTERS.sub(b"", text.encode().translate(None, _CONTROLS))
    parser = etree.HTMLParser(encoding="utf-8", huge_tree=False)
    parser.set_element_class_lookup(_CLASSES)
    return html.document_fromstring(_REFERENCES.sub(b"", data), parser=parser)


class BadSelector(ValueError):
    """Why a selector is none."""


@lru_cache(maxsize=512)
def compiled(selector: str) -> CSSSelector:
    """A selector that is ready to be asked. Raises BadSelector."""
    try:
        return CSSSelector(selector, translator="html")
    except (SelectorError, etree.XPathError, ValueError, RecursionError) as error:
        raise BadSelector(f"{selector} is no selector that can be read: {error}") from None


def selector_problem(selector: str) -> str:
    """Why a selector cannot be asked; empty where it can."""
    try:
        compiled(selector)
    except BadSelector as error:
        return str(error)
    return ""


class Marks:
    """An HTML file with the byte at which each of its elements stands; or only those that start at some bytes."""

    def __init__(self, data: bytes, encoding: str, starts: Collection[int] | None = None) -> None:
        self.data = data
        # A file that has such marks of its own gets one in every tag, as the first of an element counts.
        with_marks = marked(data, None if AT.encode() in data else starts)
        # Not every encoding that is known here is known to the parser; where elements stand is told by their marks.
        text = with_marks.decode(encoding, "replace")
        self.tree: Any = parse_html(text)

    def starting(self, starts: Collection[int]) -> list[Any]:
        """The elements that start at some bytes; None where there is none."""
        stated = {str(start) for start in starts}
        found = {self.at(one): one for one in self.tree.iter(etree.Element) if one.get(AT) in stated}
        return [found.get(start) for start in starts]

    def find(self, how: How, selector: str) -> Place | None:
        """The place that a selector finds first; None where there is none. Raises BadSelector."""
        try:
            matches: Any = compiled(selector)(self.tree)
        except etree.XPathError as error:
            raise BadSelector(f"{selector} cannot be asked: {error}") from None
        # What the parser added has no tag in the file, and so no place in it.
        found = [element for element in matches if self.at(element) is not None]
        places = (place for element in found if (place := self.place(element, how)) is not None)
        return next((place._replace(matches=len(found)) for place in places), None)

    def at(self, element: Any) -> int | None:
        """The byte at which an element starts; None for one without a tag."""
        stated = element.get(AT) or ""
        at = int(stated) if stated.isascii() and stated.isdigit() and len(stated) < 10 else -1
        tag = f"<{element.tag}".encode()
        return at if at >= 0 and self.data[at : at + len(tag)].lower() == tag else None

    def place(self, element: Any, how: How = "element") -> Place | None:
        """Where something lies to an element; None where that cannot be: an element that is the page, or is void."""
        start = self.at(element)
        inside = how in ("start", "end")
        if start is None or (element.tag in _WHOLE and not inside) or (element.tag in VOID and inside):
            return None
        tag, *_ = islice(tags_of(self.data, start), 1)
        inner, outer = (tag.end, tag.end) if tag.name in VOID else self._ends(element, tag)
        match how:
            case "element":
                return Place(start, outer)
            case "before":
                return Place(start, start)
            case "after":
                return Place(outer, outer)
            case "start":
                return Place(tag.end, tag.end)
            case "end":
                return Place(inner, inner)

    def _ends(self, element: Any, tag: Tag) -> tuple[int, int]:
        """Where what an element holds ends, and where itself does: the same where its end tag is left out."""
        within = {self.at(one) for one in element.iterdescendants() if isinstance(one.tag, str)}
        around = {one.tag for one in element.iterancestors()}
        open_names = [tag.name]
        for one in tags_of(self.data, tag.end):
            if not one.is_end:
                if one.start not in within:
                    return one.start, one.start
                if one.name not in VOID:
                    open_names.append(one.name)
            elif one.name in open_names:
                while open_names.pop() != one.name:
                    pass
                if not open_names:
                    return one.start, one.end
            elif one.name in around:
                return one.start, one.start
        return len(self.data), len(self.data)


def title_place(data: bytes) -> tuple[int, int] | None:
    """From where to where the title of a file stands: what is between the tags of its first title element."""
    tags = tags_of(data)
    opening = next((tag for tag in tags if tag.name in ("title", "body", "svg")), None)
    if opening is None or opening.name != "title" or opening.is_end:
        return None
    closing = next(tags, None)
    return (opening.end, closing.start) if closing and closing.is_end and closing.name == "title" else None
