"""The entry that a page is, among those that it lists: microformats2 h-entry, hAtom 0.1 before it, and articles."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lxml import etree

from .content import stands_in, title_of, words_of

_ROOT = {"h-entry", "hentry"}
_PUBLISHED, _AUTHOR, _CATEGORY = {"dt-published", "published"}, {"p-author", "author"}, {"p-category"}
_NAME, _TITLE = {"p-name", "fn"}, {"p-name", "entry-title"}
#: Attributes are found several times as fast as elements that have them.
_MARKED: Any = etree.XPath("//@class[contains(., 'entry')]")
_HEADINGS = ("h1", "h2", "h3", "h4")


def entry_of(tree: Any) -> dict[str, Any]:
    """What the entry tells that a page is, with the names of schema.org; of a page of others, that it lists them.

    It is the page's own if the title element has its title: others are only listed there.
    """
    roots = _roots(tree)
    own = _own(roots, tree)
    if own is None:
        return {"@type": ["ItemList"]} if len(roots) > 1 and _are_most(roots, tree) else {}
    published = next(map(_day, _called(own, _PUBLISHED)), "")
    author = next(map(_name, _called(own, _AUTHOR)), "")
    topics = [words_of(one) for one in own.iter("a") if "tag" in (one.get("rel") or "").split()]
    topics += map(words_of, _called(own, _CATEGORY))
    told = {"datePublished": published, "author": author, "keywords": list(dict.fromkeys(filter(None, topics)))}
    # Generators mark pages that are no entries in the same way, but for the day.
    return {"@type": ["BlogPosting"] if published else [], **{name: value for name, value in told.items() if value}}


def _are_most(roots: list[Any], tree: Any) -> bool:
    """Whether entries are most of what there is to read on a page, asides left out; else it only leads to them."""
    content = next(tree.iter("main"), tree.find("body"))
    beside = _outermost([one for one in content.iter("aside", "nav") if not set(roots) & set(one.iterancestors())])
    return 2 * _length(roots) > _length([content]) - _length(beside)


def _length(elements: list[Any]) -> int:
    return sum(len(words_of(one)) for one in elements)


def others_in(tree: Any, heading: str) -> frozenset[Any]:
    """The entries, and of several articles those, that a page only lists or adds to its own.

    ``heading``: what the page is called; its article has it.
    """
    roots = _roots(tree)
    entry = _own(roots, tree)
    articles = _outermost(list(tree.iter("article")))
    own = next((one for one in articles if any(heading == title_of(each) for each in one.iter("h1", "h2"))), None)
    found = [one for one in roots if one is not entry]
    found += [one for one in articles if one is not own and one is not entry] if len(articles) > 1 else []
    return frozenset(found)


def _roots(tree: Any) -> list[Any]:
    return _outermost([one.getparent() for one in _MARKED(tree) if _ROOT & set(one.split())])


def _own(roots: list[Any], tree: Any) -> Any:
    """The entry that has the title of the page; None for none."""
    title = words_of(tree.find(".//title")) if roots else ""
    return next((one for one in roots if stands_in(_title(one), title)), None)


def _outermost(elements: list[Any]) -> list[Any]:
    known = set(elements)
    return [one for one in elements if known.isdisjoint(one.iterancestors())]


def _called(root: Any, names: set[str]) -> Iterator[Any]:
    """The elements of an entry that have one of some names; not those of an entry that stands in it."""
    for one in root.iterdescendants(etree.Element):
        classes = set((one.get("class") or "").split())
        if names & classes and not any(_ROOT & set((up.get("class") or "").split()) for up in _between(one, root)):
            yield one


def _between(element: Any, root: Any) -> Iterator[Any]:
    for up in element.iterancestors():
        if up is root:
            return
        yield up


def _title(root: Any) -> str:
    named = next(_called(root, _TITLE), None)
    heading = next(root.iter(*_HEADINGS), None) if named is None else named
    return title_of(heading) if heading is not None else ""


def _day(element: Any) -> str:
    """The day that an element marks: for programs where it says so, else as it is read."""
    dated = element if element.get("datetime") or element.get("title") else next(element.iter("time", "abbr"), element)
    return dated.get("datetime") or dated.get("title") or words_of(dated)


def _name(element: Any) -> str:
    return words_of(next(_called(element, _NAME), element))
