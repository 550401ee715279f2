"""A page's own content: where it is among all that stands on a page, and what is read in it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from copy import deepcopy
from html import escape
from itertools import islice, pairwise
from typing import Any

from lxml import etree

_OUTSIDE_CONTENT = ("header", "footer", "nav", "aside", "script", "style", "noscript", "template")
#: Roles, ids and class names by which sites mark a page's own content, where no element says so.
_CONTENT_MARKS: tuple[tuple[str, str], ...] = (
    ("role", "main"), ("id", "content"), ("id", "main-content"), ("id", "main"), ("id", "bodyContent"),
    *(("class", name) for name in ("main-content", "entry-content", "post-content", "article-body", "markdown-body",
                                   "content", "body")),
)  # fmt: skip
#: The attributes that may hold one of them: attributes are found several times as fast as elements that have them.
_MARKING: tuple[Any, ...] = (
    etree.XPath("descendant::*/@role[. = 'main']"),
    etree.XPath("descendant::*/@id[contains(., 'ontent') or . = 'main']"),
    etree.XPath("descendant::*/@class[contains(., 'content') or contains(., 'body')]"),
)
#: The elements that a text opens with, and how long it is at least, in characters: a motto is shorter.
_TEXTS = ("p", "pre", "dl", "blockquote")
_INTRODUCTION = 80
#: The share of the text of a page that its own content leaves something of, where anything stands around it.
_WHOLE = 0.98
_HOLDS_LANDMARKS: Any = etree.XPath("boolean(descendant::header or descendant::nav)")
#: The names of elements that lead about a site, where no element of HTML says so.
_CALLED: Any = etree.XPath("descendant::*/@class | descendant::*/@id")
_AROUND = re.compile(
    r"(?:^|\s)(?:(?:global|local|main|site|page|top|bottom|left|right|side|sub|header|footer)[-_]?)?"
    r"(?:nav(?:bar|igation|header|footer)?|breadcrumbs?|menu|sidebar|footer)(?:$|\s)",
    re.IGNORECASE,
)
_LENGTH: Any = etree.XPath("string-length(normalize-space(.))")
#: Elements that stand in a line of text, or are not seen in it; all others part the words on either side of them.
_IN_LINE = {
    "a", "abbr", "b", "bdi", "bdo", "cite", "code", "data", "del", "dfn", "em", "font", "i", "ins", "kbd", "mark", "q",
    "s", "samp", "script", "small", "span", "strong", "style", "sub", "sup", "time", "tt", "u", "var", "wbr",
}  # fmt: skip
#: What is a word of scripts that put no spaces between them, and the marks that stand among those.
_UNPARTED = re.compile(
    "[\u3041-\u309f\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff\U00020000-\U0003ffff]"
    "|[\u30a1-\u30ff\u31f0-\u31ff\uff66-\uff9f]+"
)
_UNPARTED_MARKS = re.compile("[\u3000-\u303f\uff01-\uff0f\uff1a-\uff20\uff3b-\uff40\uff5b-\uff65]")
#: What is nothing without the table around it.
_OF_TABLES = ("table", "thead", "tbody", "tfoot", "tr")
_LISTS = ("ul", "ol", "nav", "a")
#: All that is no part of a word.
_SIGNS = re.compile(r"\W+")
#: What stands beside a heading only to be linked to.
_PERMALINK = re.compile(r"(?:^|[\s_-])(?:headerlink|permalink|anchor|anchorjs-link|heading-link|hash-link)(?:$|[\s_-])")
_PERMALINK_TEXT = {"¶", "#", "§", "🔗", ""}


def marked_content(tree: Any) -> Any:
    """The element that says it is the page's own content: `main`, else its one `article`, else by name; or None."""
    body = tree.find("body")
    main = next(body.iter("main"), None)
    if main is not None:
        return main
    articles = list(body.iter("article"))
    article = articles[0] if len(articles) == 1 else None
    if article is not None and next(article.iter("h1", "h2"), None) is not None:
        return article
    named = _named_content(body)
    # What has no heading may be a part alone, as the one function that a module documents.
    is_part = named is not None and article in named.iter("article") and _length_of(article) * 2 < _length_of(named)
    return named if article is None or is_part else article


def _named_content(body: Any) -> Any:
    """The element that a role, an id or a class calls the content; or None.

    It is the only one of its mark, or the innermost of some that stand in each other.
    """
    marked = _marked(body)
    named = (found[-1] for mark in _CONTENT_MARKS if (found := marked.get(mark)) and _is_chain(found))
    return next((one for one in named if not _is_whole_page(one, body)), None)


def _is_chain(elements: list[Any]) -> bool:
    """Whether each of some elements stands in the one before it."""
    return all(outer in inner.iterancestors() for outer, inner in pairwise(elements))


def _is_whole_page(element: Any, body: Any) -> bool:
    """Whether an element holds all of a page, with what stands around its content."""
    return _HOLDS_LANDMARKS(element) and _length_of(element) >= _WHOLE * _length_of(body)


def _marked(body: Any) -> dict[tuple[str, str], list[Any]]:
    """The elements below a body by what may mark a content."""
    found: dict[tuple[str, str], list[Any]] = {}
    for marking in _MARKING:
        for one in marking(body):
            for text in set(one.split()) if one.attrname == "class" else (str(one),):
                found.setdefault((one.attrname, text), []).append(one.getparent())
    return found


def likely_content(tree: Any) -> Any:
    """The part of a page with the most text, in a copy without what stands outside of any content."""
    body = deepcopy(tree).find("body")
    for tag in _OUTSIDE_CONTENT:
        for element in list(body.iter(tag)):
            element.drop_tree()
    for element in _leading_around(body):
        element.drop_tree()
    return richest_part(body)


def _leading_around(body: Any) -> list[Any]:
    """The elements that are called as what leads about a site is, hold little but links, and no title.

    On a page of few words they would be most of it.
    """
    called = dict.fromkeys(one.getparent() for one in _CALLED(body) if _AROUND.search(one))
    return [one for one in called if next(one.iter("h1", "h2"), None) is None and _is_leading(one)]


def richest_part(body: Any) -> Any:
    """The innermost part of a body that holds nearly all of its text, and can stand alone."""
    best, length = body, _length_of(body)
    while len(best):
        lengths = [_length_of(child) for child in best]
        longest = max(lengths)
        richest = best[lengths.index(longest)]
        if longest < 0.8 * length or richest.tag not in ("div", "section", "td", "center", *_OF_TABLES):
            break
        if best is not body and (_introduces(richest) or _is_named_before(richest)):
            break
        best, length = richest, longest
    while best.tag in _OF_TABLES:
        best = best.getparent()
    return best


def _introduces(part: Any) -> bool:
    """Whether a text opens right before a part, as it does before the sections of a chapter."""
    before = (one for one in part.itersiblings(*_TEXTS, preceding=True) if not _is_leading(one))
    return sum(map(_length_of, before)) >= _INTRODUCTION


def _is_named_before(part: Any) -> bool:
    """Whether what names the page stands right before a part: of manuals that rank by depth, a lower heading."""
    title = words_of(part.getroottree().find(".//title"))
    if not title or next(part.iterancestors("body")).find(".//h1") is not None:
        return False
    before = (heading for one in part.itersiblings(preceding=True) for heading in one.iter("h2", "h3", "h4"))
    return any(stands_in(title_of(one), title) for one in before if not _is_link(one))


def _is_leading(element: Any) -> bool:
    """Whether an element holds little but links."""
    return sum(map(_length_of, element.iter("a"))) * 2 >= _length_of(element)


def _length_of(element: Any) -> float:
    """How long the text of an element is, in characters."""
    return float(_LENGTH(element)) if isinstance(element.tag, str) else 0


def _headings_around(tree: Any) -> list[Any]:
    """The headings of the first rank that stand in no landmark; one that is a link as a whole names the site."""
    return [
        one
        for one in tree.find("body").iter("h1")
        if next(one.iterancestors(*_OUTSIDE_CONTENT), None) is None and not _is_link(one)
    ]


def _is_link(heading: Any) -> bool:
    """Whether a heading as a whole leads away from its page."""
    links = (link for link in heading.iter("a") if not (link.get("href") or "#").startswith("#"))
    return any(text_of(link) == text_of(heading) for link in links)


def inner_parts(element: Any) -> Iterator[str]:
    yield escape(element.text or "")
    for child in element:
        yield etree.tostring(child, encoding="unicode", method="html")


def text_of(element: Any) -> str:
    return " ".join(element.text_content().split()) if element is not None and isinstance(element.tag, str) else ""


def count_words(text: str) -> int:
    """The words of a text with one space between them: what stands between spaces (as POSIX wc counts).

    Of Han, Hiragana and Katakana, which part words by nothing, as much as a word goes by default (UAX #29).
    """
    if text.isascii():
        return text.count(" ") + 1 if text else 0
    unparted = len(_UNPARTED.findall(text))
    others = _UNPARTED_MARKS.sub(" ", _UNPARTED.sub(" ", text)) if unparted else text
    return unparted + len(others.split())


def title_of(heading: Any, in_head: str = "") -> str:
    """The text of a heading, without what stands there only to be linked to.

    Where an element of it is empty, styles may draw a sign: the title element says which, if it has the same words.
    """
    heading = deepcopy(heading)
    for link in list(heading.iter("a")):
        if text_of(link) in _PERMALINK_TEXT or _PERMALINK.search(link.get("class") or ""):
            link.drop_tree()
    glued = words_of(heading)
    drawn = [one for one in heading.iter("span", "i", "b") if not (len(one) or one.text or one.get("id"))]
    if not drawn:
        return glued
    for one in drawn:
        one.text = " "
    words = words_of(heading)
    return in_head if words != glued and _SIGNS.sub("", in_head) == _SIGNS.sub("", glued) else words


def words_of(element: Any) -> str:
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


def heading_of(tree: Any, content: Any, title: str) -> Any:
    """The heading that names a page, whose title element says ``title``; None where there is none.

    Of several of the first rank it is the one that the title element has too: others are those of sections. Where there
    is none of that rank it is the first of all, as manuals rank by depth, or one that stands around the content: if the
    title element has it.
    """
    found = list(content.iter("h1"))
    # What leads somewhere else as a whole names that.
    found = [one for one in found if not _is_link(one)] or found
    # One that leads somewhere else may be that of the only thing that a page lists.
    if len(found) == 1 and not (title and _is_link(found[0])):
        return found[0]
    if not found:
        found = [*islice(content.iter("h2", "h3", "h4", "h5", "h6"), 1), *_headings_around(tree)]
    return next((one for one in found if stands_in(title_of(one, title), title)), None)


def shows_before(content: Any, heading: Any, title: str) -> bool:
    """Whether a paragraph of the content is just that title, before the heading, which then may be that of a section.

    What stands in lists, as a trail does, is there to be followed.
    """
    if heading is None or not title:
        return False
    shown = False
    for one in content.iter("p", "div", heading.tag):
        if one is heading:
            return shown
        shown = shown or (not len(one) and text_of(one) == title and next(one.iterancestors(*_LISTS), None) is None)
    return False


def stands_in(words: str, text: str) -> bool:
    """Whether some words stand in a text, however they are written large, and none in the middle of another."""
    place = rf"(?<!\w){re.escape(words.casefold())}(?!\w)"
    return bool(words) and re.search(place, text.casefold()) is not None
