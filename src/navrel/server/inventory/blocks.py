"""Parts of a page that may be those of slots: what stands around its content, and how it looks without what varies.

Sources: the HTML Standard and WAI-ARIA (landmarks), HTML-AAM (which headers and footers are landmarks).
"""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Container, Iterator, Sequence
from copy import deepcopy
from itertools import islice
from typing import Any, NamedTuple

from lxml import etree, html

from navrel.rendering.in_place.places import Marks
from navrel.rendering.in_place.tokens import AT

from .addresses import Around, root_links
from .called import kind_called

#: Most parts of one page that are told, and the deepest.
MOST_BLOCKS = 120
MAX_DEPTH = 9
#: Names of classes that say where a reader is, and attributes that do; and what changes from one page to the next.
_HERE = re.compile(
    r"(?:^|[-_ ])(?:active|current|selected|here|is-active|open|opened|expanded)(?:$|[-_ ])", re.IGNORECASE
)
_MARKING = ("aria-current", "aria-selected", "aria-expanded")
_VARYING = ("nonce", "integrity", AT)
#: What is told of hidden inputs as if it said where a reader is.
VALUE = "value"
#: Elements from either end of those in one that are told by where they stand.
_OUTERMOST = 4
#: Most marks that one element holds; of one with more it is told that there are too many.
MOST_MARKS = 400
_NAME = re.compile(r"[A-Za-z][\w-]*\Z")
#: Ids that somebody wrote, rather than a program that counts.
_WRITTEN = re.compile(r"[A-Za-z_-]+\d{0,2}\Z")
_UNSEEN = {"script", "style", "link", "meta", "noscript", "template"}
#: What holds cells of a table alone, which no piece is made of; what stands in the cells may be a part.
_OF_CELLS = {"thead", "tbody", "tfoot", "tr"}
#: What no part of a page is made of.
_NO_BLOCKS = _UNSEEN | {
    "br", "hr", "svg", "path", "option", "img",
    "pre", "blockquote", "figure", "math", "canvas", "audio", "video", "object", "iframe",
    # What stands in a line, and what heads or lists something else.
    "a", "abbr", "acronym", "b", "bdi", "bdo", "big", "button", "cite", "code", "data", "del", "dfn", "em", "font",
    "i", "input", "ins", "kbd", "label", "mark", "output", "q", "s", "samp", "select", "small", "span", "strike",
    "strong", "sub", "sup", "time", "tt", "u", "var",
    "caption", "figcaption", "legend", "summary", "h1", "h2", "h3", "h4", "h5", "h6", "li", "dt", "dd",
}  # fmt: skip

_LANDMARKS = ("header", "footer", "nav", "aside")
#: The role of what is no landmark: the header of an article is that of the article, not of the page.
GENERIC = "generic"
#: What a header or footer in them is one of.
_SECTIONING = ("article", "aside", "nav", "section")


class Block(NamedTuple):
    """A part of a page: a selector that matches it alone there, its tag and role, and from where to where it stands.

    ``before``: it stands before the content; ``digest``: of what it holds without what varies; ``weight``: the
    characters of its text and the number of its links and pictures; ``links``: how many, where it is made of them;
    ``others``: simple selectors that match it alone there, too.
    """

    selector: str
    tag: str
    role: str
    start: int
    end: int
    before: bool
    digest: str
    weight: int
    links: int
    others: Sequence[str] = ()


class Mark(NamedTuple):
    """What says where a reader is: on which element of those within one, the attribute, and its value or a class.

    Or what else may differ where all looks the same: the value of a hidden input.
    """

    number: int
    name: str
    value: str


#: Stands for marks that are too many to be told.
TOO_MANY = Mark(-1, "", "")


def blocks_of(marks: Marks, content: Any, around: Around) -> list[Block]:
    """The parts of a page around its content, the outer ones before those in them."""
    body = marks.tree.find("body")
    if body is None:
        return []
    holder, held_by = _holder(body)
    is_all = content is body or content is holder
    inside = set() if content is None or is_all else set(content.iter())
    above = set(content.iterancestors()) if content is not None else set()
    contents = {f"#{name}" for one in (content, *above) if one is not None and (name := one.get("id"))}
    started = False
    found: list[Block] = []
    named: Counter[str] = Counter()
    first: dict[str, Any] = {}
    for element in marks.tree.iter(etree.Element):
        # A tag on its own matches what stands in the body itself, too.
        for name in {*_names(element), element.tag}:
            named[name] += 1
            first.setdefault(name, element)
    for element in _walk(body, inside, 0):
        started = started or element is content
        if element is content or element in above or _skips(element, contents):
            continue
        names = list(_names(element))
        alone = [name for name in names if named[name] == 1]
        selector = alone[0] if alone else ""
        # What stands above the content and below it alike is bound by the first.
        selector = selector or next((name for name in names if named[name] == 2 and first[name] is element), "")
        selector = selector or _standing(element, holder, held_by)
        place = marks.place(element) if selector else None
        if selector and place is not None:
            copy = normalised(element, around).copy
            digest, (weight, links) = digest_of(copy), _weight(copy)
            # All of a page may be its content; then what stands in its first half does so before the most of it.
            before = place.start * 2 < len(marks.data) if is_all else not started
            stands = place.start, place.end, before
            block = Block(selector, element.tag, _role(element), *stands, digest, weight, links, alone[1:])
            if weight:
                found.append(block)
        if len(found) >= MOST_BLOCKS:
            break
    return found


def _walk(element: Any, inside: set[Any], depth: int) -> Iterator[Any]:
    """The elements below one but for those within the content, in document order, down to the deepest."""
    for child in element:
        if not isinstance(child.tag, str) or child.tag in _NO_BLOCKS:
            continue
        if child.tag not in _OF_CELLS:
            yield child
        if child not in inside and depth < MAX_DEPTH:
            yield from _walk(child, inside, depth + 1)


def _role(element: Any) -> str:
    """The role of an element as it is written, or `GENERIC` for the header or footer of a part of the page."""
    written = (element.get("role") or "").lower()
    of_a_part = element.tag in ("header", "footer") and next(element.iterancestors(*_SECTIONING), None) is not None
    return written or (GENERIC if of_a_part else "")


def _skips(element: Any, contents: Container[str]) -> bool:
    """Whether an element is but a link to the content of its page, past what stands before it."""
    link = next(element.iter("a"), None)
    if link is None or link.get("href") not in contents:
        return False
    return "".join(element.itertext()).split() == "".join(link.itertext()).split()


def _names(element: Any) -> Iterator[str]:
    """Simple selectors that match an element, the most telling ones first."""
    name = element.get("id") or ""
    if _WRITTEN.match(name):
        yield f"#{name}"
    if element.tag in _LANDMARKS:
        parent = element.getparent()
        yield f"body > {element.tag}" if parent is not None and parent.tag == "body" else element.tag
    if (role := (element.get("role") or "").strip()).isalpha():
        yield f'[role="{role}"]'
    classes = [one for one in (element.get("class") or "").split() if _NAME.match(one) and not _HERE.search(one)]
    classes.sort(key=lambda one: kind_called(one) is None)
    yield from (f"{element.tag}.{one}" for one in classes[:3])
    if len(classes) > 1:
        yield f"{element.tag}.{'.'.join(classes[:2])}"


def _holder(body: Any) -> tuple[Any, str]:
    """What holds the outermost parts, and a selector for it: the body, or what alone stands in it."""
    holder, selector = body, "body"
    for _ in range(MAX_DEPTH):
        inner = [child for child in holder if isinstance(child.tag, str) and child.tag not in _UNSEEN]
        if len(inner) != 1:
            break
        holder, name = inner[0], inner[0].get("id") or ""
        selector = f"#{name}" if _WRITTEN.match(name) else f"{selector} > {holder.tag}"
    return holder, selector


def _standing(element: Any, holder: Any, selector: str) -> str:
    """A selector by where an outermost part stands, from the nearer end: all that parts of old pages have.

    Empty for what stands further inside, or in the midst of others.
    """
    if element.getparent() is not holder:
        return ""
    first, last = (_place_from(element, preceding) for preceding in (True, False))
    if min(first, last) > _OUTERMOST:
        return ""
    place, outermost, nth = min((first, "first-child", "nth-child"), (last, "last-child", "nth-last-child"))
    return f"{selector} > {element.tag}:{outermost if place == 1 else f'{nth}({place})'}"


def _place_from(element: Any, preceding: bool) -> int:
    """The place of an element among its siblings from the first, or from the last, as far as it is an outer one."""
    return 1 + sum(1 for _ in islice(element.itersiblings("*", preceding=preceding), _OUTERMOST))


def digest_of(copy: Any) -> str:
    """A digest of a normalised element."""
    return hashlib.sha256(" ".join(markup_of(copy).split()).encode()).hexdigest()[:24]


def _weight(copy: Any) -> tuple[int, int]:
    """How much an element holds; and how many links, none where they are less than most of its text."""
    text = len(" ".join(copy.text_content().split()))
    links = copy.xpath(".//a[@href]")
    led = sum(len("".join(link.itertext()).strip()) for link in links)
    weight = text + len(links) + len(copy.xpath(".//img | .//svg | .//input | .//button"))
    return weight, len(links) if led * 10 >= text * 7 else 0


class Normalised(NamedTuple):
    """A copy of an element with its addresses from the root on, without what may differ where all looks the same.

    ``marks``: what of that says where a reader is, or is the value of a hidden input, in document order.
    """

    copy: Any
    marks: list[Mark]


def normalised(element: Any, around: Around) -> Normalised:
    """An element as it compares with others."""
    copy = deepcopy(element)
    copy.tail = None
    # Comments say when a page was built, and by what.
    etree.strip_tags(copy, etree.Comment, etree.ProcessingInstruction)
    etree.strip_attributes(copy, *_VARYING)
    marks: list[Mark] = []
    for number, one in enumerate(copy.iter(etree.Element)):
        for name, value in one.items():
            if name == "class":
                marks += [Mark(number, name, said) for said in _taken_out(one, value)]
            elif name in _MARKING or (name == VALUE and _is_hidden(one)):
                marks.append(Mark(number, name, value))
                one.attrib.pop(name)
    root_links(copy, around)
    return Normalised(copy, marks if len(marks) <= MOST_MARKS else [TOO_MANY])


def _taken_out(element: Any, classes: str) -> list[str]:
    """Take the classes that say where a reader is out of an element's, and return them, each once."""
    names = classes.split()
    kept = [name for name in names if not _HERE.search(name)]
    if not kept:
        element.attrib.pop("class")
    elif (written := " ".join(kept)) != classes:
        element.set("class", written)
    return [name for name in dict.fromkeys(names) if name not in kept]


def _is_hidden(element: Any) -> bool:
    """Whether an element is an input that nobody sees: its value may be another one each time a page is made."""
    return element.tag == "input" and (element.get("type") or "").lower() == "hidden"


def markup_of(copy: Any) -> str:
    """What a normalised element is as a piece: its markup."""
    written: str = html.tostring(copy, encoding="unicode", with_tail=False)
    return written.strip()


def with_places(copy: Any, marks: Sequence[Mark]) -> list[list[str]]:
    """Write into a normalised element where marks stand, as `place_of` names it; returns what is led to from each.

    Those are the addresses of the links in the element that is marked, or of the link that it is.
    """
    within = list(copy.iter(etree.Element))
    elements = [within[mark.number] for mark in marks]
    for at, (mark, element) in enumerate(zip(marks, elements, strict=True)):
        if mark.name == "class" and element.get("class"):
            element.set("class", f"{element.get('class')} {place_of(at)}")
        else:
            element.set(f"data-{place_of(at)}", "")
    return [list(dict.fromkeys(element.xpath("descendant-or-self::a/@href"))) for element in elements]


def place_of(at: int) -> str:
    """How the place of one mark of several is called in markup."""
    return f"nv-mark-{at}"
