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


class Entries:
    """The entries of a page, the outermost ones.

    One is the page's own if the title element has its title: others are only listed there.
    """

    def __init__(self, tree: Any) -> None:
        self.tree = tree
        self._all = _outermost([one.getparent() for one in _MARKED(tree) if _ROOT & set(one.split())])
        title = words_of(tree.find(".//title")) if self._all else ""
        self.own: Any = next((one for one in self._all if stands_in(_title(one), title)), None)

    def told(self) -> dict[str, Any]:
        """What its own entry tells of a page, with the names of schema.org; of a page of others, that it lists them."""
        if self.own is None:
            return {"@type": ["ItemList"]} if len(self._all) > 1 and self._are_most() else {}
        published = next(map(_day, _called(self.own, _PUBLISHED)), "")
        author = next(map(_name, _called(self.own, _AUTHOR)), "")
        topics = [words_of(one) for one in self.own.iter("a") if "tag" in (one.get("rel") or "").split()]
        topics += map(words_of, _called(self.own, _CATEGORY))
        told = {"datePublished": published, "author": author, "keywords": list(dict.fromkeys(filter(None, topics)))}
        # Generators mark pages that are no entries in the same way, but for the day.
        return {"@type": ["BlogPosting"] if published else [], **{name: value for name, value in told.items() if value}}

    def others(self, heading: str) -> frozenset[Any]:
        """The entries, and of several articles those, that the page only lists or adds to its own.

        ``heading``: what the page is called; its article has it.
        """
        articles = _outermost(list(self.tree.iter("article")))
        named = next((one for one in articles if any(heading == title_of(each) for each in one.iter("h1", "h2"))), None)
        found = self._all + (articles if len(articles) > 1 else [])
        return frozenset(one for one in found if one is not self.own and one is not named)

    def _are_most(self) -> bool:
        """Whether they are most of what there is to read, asides left out; else the page only leads to them."""
        content = next(self.tree.iter("main"), self.tree.find("body"))
        within = set(self._all)
        beside = _outermost([one for one in content.iter("aside", "nav") if within.isdisjoint(one.iterancestors())])
        return 2 * _length(self._all) > _length([content]) - _length(beside)


def _length(elements: list[Any]) -> int:
    return sum(len(words_of(one)) for one in elements)


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
