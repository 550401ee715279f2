"""The tags of an HTML file with the bytes at which they stand (HTML Standard, 13.2.5).

Files are read as bytes: in every encoding that is taken in so, tags and quotes are the bytes that they are in ASCII.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

#: What a start tag carries that was marked: the byte at which it stands.
AT = "data-navrel-at"
_MARK = b' %s="%%d"' % AT.encode()
#: Elements without an end tag (HTML Standard, 13.1.2).
VOID = frozenset(
    {"area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "param", "source", "track", "wbr"}
)

#: Elements that hold whatever a page holds (HTML Standard, flow content); so may those that a site made up.
_WIDE = {
    "article", "aside", "blockquote", "body", "center", "dd", "details", "dialog", "div", "fieldset", "figure",
    "footer", "form", "header", "li", "main", "nav", "search", "section", "td", "th",
}  # fmt: skip

_ATTRIBUTES = rb"""(?:[\s/]++|[^\s/>=][^\s/>=]*+(?:\s*+=\s*+(?:"[^"]*+"|'[^']*+'|[^\s>"'][^\s>]*+)?+)?+|=)*+"""
#: Elements in which there are no tags but their own end are one token with what they hold; `behind` is where their tag
#: ends. It begins with what every token does, so that what is none is passed over fast.
_TOKEN = re.compile(
    rb"<(?:!--(?:[^-]++|-(?!->))*+(?:-->)?|[!?][^>]*+>"
    rb"|(?P<text>script|style|textarea|title|xmp|iframe|noembed|noframes)(?=[\s/>])" + _ATTRIBUTES + rb">(?P<behind>)"
    rb"(?:[^<]++|<(?!/(?P=text)[\s/>]))*+"
    rb"|/(?P<end>[a-z][^\s/>]*+)[^>]*+>"
    rb"|(?P<start>[a-z][^\s/>]*+)" + _ATTRIBUTES + rb">)",
    re.DOTALL | re.IGNORECASE,
)


class Tag(NamedTuple):
    """A tag: its name in lower case, the byte at which it starts and the one behind it."""

    name: str
    start: int
    end: int
    is_end: bool


def tags_of(html: bytes, at: int = 0) -> Iterator[Tag]:
    """The tags of a file from a byte on, in their order; what stands in comments and scripts is none."""
    for found in _TOKEN.finditer(html, at):
        name = found["start"] or found["end"] or found["text"]
        if name is not None:
            end = found.end("behind") if found["text"] else found.end()
            yield Tag(name.decode("latin-1").lower(), found.start(), end, found["end"] is not None)


def inside(html: bytes, start: int, end: int) -> tuple[int, int]:
    """Where the content of the element from one byte to another begins and ends.

    Of one that holds only elements of some kinds, as a list does, the element itself: nothing else may stand in it.
    """
    tag = next(tags_of(html, start), None)
    if tag is None or tag.start != start or not (tag.name in _WIDE or "-" in tag.name):
        return start, end
    closing = re.search(rb"</%s\s*>\Z" % re.escape(tag.name.encode()), html[tag.end : end], re.IGNORECASE)
    return tag.end, tag.end + closing.start() if closing else end


def is_one_element(html: bytes) -> bool:
    """Whether markup is an element with its end tag and nothing else."""
    depth, name = 0, None
    for tag in tags_of(html):
        name = name or tag.name
        if tag.name == name:
            depth += -1 if tag.is_end else 1
        if depth == 0:
            return tag.end == len(html)
    return False


def marked(html: bytes, starts: Iterable[int] | None = None) -> bytes:
    """The file with the byte at which it stands in every start tag, or in those that start at some bytes."""
    if starts is None:
        tokens = _TOKEN.finditer(html)
    else:
        tokens = filter(None, (_TOKEN.match(html, start) for start in sorted(set(starts))))
    parts: list[bytes] = []
    last = 0
    for found in tokens:
        behind = max(found.end("start"), found.end("text"))
        # End tags and comments have neither.
        if behind > 0:
            parts += (html[last:behind], _MARK % found.start())
            last = behind
    return b"".join((*parts, html[last:]))


def replaced_tags(html: bytes, replace: Callable[[str, bytes, bytes], bytes]) -> bytes:
    """The file with other start tags.

    ``replace`` is given the name of each, the tag, and the text behind it where there is only text in such an element.
    """

    def one(found: re.Match[bytes]) -> bytes:
        name = found["start"] or found["text"]
        if name is None:
            return found[0]
        tag = found[0][: found.end("behind") - found.start()] if found["text"] else found[0]
        return replace(name.decode("latin-1").lower(), tag, found[0][len(tag) :])

    return _TOKEN.sub(one, html)
