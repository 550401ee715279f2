"""The facts of a page, looked for where a recipe says that they stand.

Sources: HTML Standard (links and their relations), schema.org breadcrumbs, WAI-ARIA (current items), ISO 8601 and
RFC 5322 (dates).
"""

from __future__ import annotations

import datetime
import re
from collections.abc import Iterable, Iterator
from email.utils import parsedate_to_datetime
from functools import cached_property
from pathlib import PurePosixPath
from typing import Any

from lxml import etree

from navrel.core.language.facts import KINDS
from navrel.core.layout.document import slugify
from navrel.core.layout.recipe import FactPlace, Recipe, full
from navrel.core.pages.page import page_path
from navrel.core.text import fit
from navrel.rendering.in_place.places import compiled

from .addresses import Around, address_of, file_address
from .content import heading_of, likely_content, marked_content, shows_before, text_of, title_of, words_of
from .head import MAX_FACT, MAX_TERMS, Head
from .languages import language_tag
from .trails import last_before, named_trails, written_before

#: Longest value that is looked at, and most values of one place.
MAX_VALUE = 2000
#: Longest title, and longest text of a field of its own, in characters.
MAX_TITLE = 500
MAX_FIELD = 500
MOST_VALUES = MAX_TERMS
_MISSING_FILES = {"404", "not-found", "notfound"}
_NAVIGATIONS = "nav, [role=navigation]"
#: Whether a page may have one: attributes are found several times as fast as elements that have them.
_HAS_NAVIGATIONS = etree.XPath("boolean(//nav or //@role[. = 'navigation'])")
_RELATIONS = etree.XPath("//@rel")
#: What older generators write before, or draw on, a link to the page above, where they state no relation.
_LEADS_UP = etree.XPath("//a[img[@alt = 'up' or @alt = 'Up'] or normalize-space(.) = 'Up']/@href")
_CURRENT = "[aria-current=page], [aria-current=true]"


class Told:
    """What the file of a page says, place by place. ``name`` is its path below the folder; ``base_url``: the site's."""

    def __init__(self, name: str, tree: Any, base_url: str) -> None:
        self.name, self.tree = name, tree
        base = next((element.get("href") or "" for element in tree.iter("base")), "")
        self.around = Around(file_address(name), base_url, base)

    @cached_property
    def head(self) -> Head:
        return Head(self.tree)

    @cached_property
    def address(self) -> str:
        """Where it is served: as its canonical link says, else as its file is called."""
        return self.head.canonical(self.around) or file_address(self.name)

    @cached_property
    def path(self) -> str:
        return page_path(self.address)

    @property
    def folder(self) -> str:
        """The page above, as its path tells it."""
        return folder_of(self.path)

    @cached_property
    def _marked(self) -> Any:
        return marked_content(self.tree)

    @cached_property
    def next(self) -> str:
        """The path of the page that it says is the next one; empty for none."""
        found = (one for one, relations in self._related if "next" in relations)
        path = next((path for one in found if (path := self.led_to(one))), "")
        return "" if path == self.path else path

    @property
    def is_guess(self) -> bool:
        """Whether nothing says which part is the content."""
        return self._marked is None

    @cached_property
    def content(self) -> Any:
        return likely_content(self.tree) if self.is_guess else self._marked

    @cached_property
    def heading(self) -> Any:
        """The heading that names the page; None where there is none."""
        return heading_of(self.tree, self.content, self.in_head)

    @cached_property
    def in_head(self) -> str:
        """What its title element says."""
        return words_of(self.tree.find(".//title"))

    def texts(self, fact: str, place: FactPlace) -> Iterable[str]:
        """What stands in a place, before anything is taken from it; of a parent, a reference to it."""
        match place.at:
            case "standards":
                return _stated(self, fact)
            case "heading":
                return [title_of(self.heading, self.in_head)] if self.heading is not None else []
            case "title":
                return [self.in_head]
            case "meta":
                return _listed(fact, self.head.metas.get(place.of.lower(), []))
            case "data":
                return _listed(fact, _properties(self.head.things, place.of.split(".")))
            case "link":
                return self._links(fact, place.of)
            case "element":
                return self._elements(fact, place)
            case "trail":
                return self._trails(place.of)
            case "navigation":
                return map(self._in_navigation, self._navigations(place.of))
            case "path":
                parts, number = self.path.strip("/").split("/"), int(place.of)
                at = number - 1 if number > 0 else len(parts) + number
                return parts[at : at + 1] if at >= 0 else []
            case "file":
                return [self.name]
            case "fixed":
                return [place.of]

    @cached_property
    def _related(self) -> list[tuple[Any, list[str]]]:
        """What states a relation, and which, in document order."""
        stated: Any = _RELATIONS(self.tree)
        return [(on, one.split()) for one in stated if (on := one.getparent()).tag in ("link", "a", "area")]

    def _links(self, fact: str, relation: str) -> Iterator[str]:
        found = (one for one, relations in self._related if relation in relations)
        if fact != "parent":
            # A link element has no text, and its title names what it leads to, not who or what that is about.
            own = (one for one in found if not self._is_of_another(one) and not self._is_beside(one))
            yield from (text_of(one) for one in own if one.tag != "link")
            return
        yield from (one.get("href") or "" for one in found)
        if relation == "up":
            announced: Any = _LEADS_UP(self.tree)
            yield from announced

    def _trails(self, selector: str) -> Iterator[str]:
        """What trails lead to last before this page: those that a selector finds, or those that are called so.

        Where none is, it is what is written as one.
        """
        found = _selected(self.tree, selector) if selector else named_trails(self.tree)
        yield from (last_before(one, self.path, self.led_to) for one in found)
        if not found and not selector:
            yield written_before(self.tree, self.heading, self.in_head, self.path, self.led_to)

    def _navigations(self, selector: str) -> list[Any]:
        """What a selector finds, or all navigations where none is named."""
        if selector or _HAS_NAVIGATIONS(self.tree):
            return _selected(self.tree, selector or _NAVIGATIONS)
        return []

    def _elements(self, fact: str, place: FactPlace) -> Iterable[str]:
        found = [one for one in _selected(self.tree, place.of) if not self._is_of_another(one)]
        attribute = place.attribute or ("href" if fact == "parent" else "")
        return (one.get(attribute) or "" if attribute else words_of(one) for one in found)

    @cached_property
    def _others(self) -> frozenset[Any]:
        """What stands in the page and tells of others."""
        return self.head.entries.others(title_of(self.heading) if self.heading is not None else "")

    def _is_of_another(self, element: Any) -> bool:
        """Whether an element says something of another entry or article that stands in the page, not of the page."""
        return bool(self._others) and not self._others.isdisjoint(element.iterancestors())

    def _is_beside(self, element: Any) -> bool:
        """Whether an element stands in what leads about the site, as the links of a tag cloud do."""
        around = next(element.iterancestors("aside", "nav"), None)
        return around is not None and next(around.iterancestors("article"), None) is None

    def led_to(self, element: Any) -> str:
        """The path of the page of this site that a link leads to."""
        own = self.around.own(element.get("href") or "") if element.get("href") else None
        return page_path(fit(address_of(own), 1000)) if own else ""

    def _in_navigation(self, navigation: Any) -> str:
        """What leads to the page in whose list this one stands, in a navigation of nested lists."""
        links = list(navigation.iter("a"))
        marked = _selected(navigation, _CURRENT)
        here = next((one for one in links if one in marked), None)
        if here is None:
            here = next((one for one in links if self.led_to(one) == self.path), None)
        item = next(here.iterancestors("li"), None) if here is not None else None
        link = _above(item, navigation) if item is not None else None
        # A button opens its list: where it leads without scripts is no page above.
        return link.get("href") or "" if link is not None and link.get("role") != "button" else ""


def _above(item: Any, navigation: Any) -> Any:
    """The link of the item whose list one stands in; None where that is the outermost list, or the item is but a label.

    A list may stand in its item, or behind it: in an item of its own, or between items as HTML does not have it.
    """
    inner: Any = next(item.iterancestors("ul", "ol"), item)
    holder = next(inner.iterancestors("li", "ul", "ol"), None)
    if holder is None or navigation not in holder.iterancestors():
        return None
    if holder.tag == "li" and text_of(holder) != text_of(inner):
        return next((link for link in holder.iter("a") if inner not in link.iterancestors()), None)
    before = next((holder if holder.tag == "li" else inner).itersiblings("li", preceding=True), None)
    return next(before.iter("a"), None) if before is not None else None


def _selected(tree: Any, selector: str) -> list[Any]:
    found: Any = compiled(selector)(tree)
    return list(found)


def _listed(fact: str, texts: list[str]) -> list[str]:
    """What texts list: keywords stand in one text, with commas (HTML Standard, schema.org)."""
    return [part for text in texts for part in text.split(",")] if fact.startswith("terms/") else texts


#: Of each fact what was found, and which place of its recipe told it, from 0; -1 for none.
Found = dict[str, tuple[list[str], int]]


def found_by(recipe: Recipe, told: Told) -> Found:
    """What a page tells of each fact, by a site's recipe."""
    return {line.fact: looked_for(told, line.fact, line.places) for line in full(recipe)}


def facts_of(told: Told, found: Found) -> tuple[dict[str, Any], dict[str, str]]:
    """The facts of a page as plain JSON values, but for its words and slots; and the names of the terms it carries.

    A parent that its path tells by itself is none, and the home page has none.
    """
    facts: dict[str, Any] = {"fields": told.head.fields(), "lists": told.head.lists()}
    terms: dict[str, str] = {}
    for fact, (values, _) in found.items():
        family, _, name = fact.partition("/")
        if family == "terms":
            terms.update({f"{name}/{slugify(text)}": text for text in values[:MAX_TERMS]})
        elif family != "fields":
            facts[family] = values[0] if values else None if family == "published" else ""
        elif values:
            facts["fields"][name] = values[0]
        else:
            facts["fields"].pop(name, None)
    if facts["parent"] == told.folder or told.path == "/":
        facts["parent"] = ""
    facts["title"] = facts["title"] or told.path
    facts["in_head"] = fit(told.in_head, MAX_TITLE)
    is_called_otherwise = facts["title"] != facts["in_head"]
    facts["shows_head"] = is_called_otherwise and shows_before(told.content, told.heading, told.in_head)
    facts["kind"] = facts["kind"] or "single"
    facts["terms"] = list(terms)
    return facts, terms


def looked_for(told: Told, fact: str, places: Iterable[FactPlace]) -> tuple[list[str], int]:
    """What the first place tells that has something, and which that is, from 0; -1 for none."""
    for number, place in enumerate(places):
        found = values_in(told, fact, place)
        if found:
            return found, number
    return [], -1


def values_in(told: Told, fact: str, place: FactPlace) -> list[str]:
    """What one place tells of a fact, as the fact is written; nothing where what stands there is none."""
    found: dict[str, None] = {}
    for text in told.texts(fact, place):
        taken = _taken(fit(" ".join(text.split()), MAX_VALUE), place)
        value = as_fact(fact, taken, told.around, told.path, place.form) if taken else ""
        if value:
            found[value] = None
            if len(found) == MOST_VALUES or not fact.startswith("terms/"):
                break
    return list(found)


def _taken(text: str, place: FactPlace) -> str:
    if place.take:
        match = re.search(place.take, text)
        text = (match[1] or "" if match.re.groups else match[0]) if match else ""
    return place.values.get(text, text).strip()


def as_fact(fact: str, text: str, around: Around, path: str, form: str = "") -> str:
    """A text as the value of a fact of the page at a path; empty for what is none.

    ``form``: how a date is written; parents are references from ``around``.
    """
    match fact.partition("/")[0]:
        case "title":
            return fit(text, MAX_TITLE)
        case "kind":
            return text if text in KINDS else ""
        case "type":
            return slugify(text)
        case "author":
            # A name may stand before an address (RFC 5322): `Imre Holt <imre@example.org>`.
            name = text.partition("<")[0].strip()
            return slugify(fit(name, MAX_FACT)) if name else ""
        case "parent":
            return _parent(around, path, text)
        case "language":
            return language_tag(text)
        case "published":
            return _date(text, form)
        case "terms":
            return fit(text, MAX_FACT)
        case _:
            return fit(text, MAX_FIELD)


def _parent(around: Around, path: str, text: str) -> str:
    """The path of the page of this site that a reference leads to; nothing for the page itself."""
    own = around.own(text)
    above = page_path(fit(address_of(own), 1000)) if own else ""
    return "" if above == path else above


def folder_of(path: str) -> str:
    """The page above, as a path tells it."""
    return path.rpartition("/")[0] or "/"


def _date(text: str, form: str) -> str:
    """A date as ISO 8601 writes it; empty for what is none."""
    try:
        if form:
            return datetime.datetime.strptime(text, form).date().isoformat()
        return datetime.date.fromisoformat(text[:10]).isoformat()
    except (ValueError, re.error):
        pass
    try:
        return "" if form else parsedate_to_datetime(text).date().isoformat()
    except (ValueError, TypeError, OverflowError, IndexError):
        return ""


def _stated(told: Told, fact: str) -> Iterable[str]:
    """What a page says of a fact by standards that are for it."""
    head = told.head
    match fact:
        case "title":
            return [head.meta("og:title")]
        case "kind":
            return [_kind(told)]
        case "type":
            return [head.type()]
        case "parent":
            return [head.parent(told.path)]
        case "author":
            return [head.author()]
        case "language":
            return [head.language()]
        case "published":
            return head.published()
        case "terms/section" | "terms/topic":
            return head.terms(fact.partition("/")[2])
        case _:
            return []


def _kind(told: Told) -> str:
    if told.path == "/":
        return "home"
    if PurePosixPath(told.name).stem.lower() in _MISSING_FILES:
        return "missing"
    return told.head.kind()


def _properties(things: Iterable[Any], names: list[str]) -> list[str]:
    """The values of a property of things, named from the outside in."""
    found = [thing[names[0]] for thing in things if isinstance(thing, dict) and thing.get(names[0])]
    values = [value for one in found for value in (one if isinstance(one, list) else [one])]
    if len(names) > 1:
        return _properties(values, names[1:])
    told = (value.get("name") or value.get("@id") if isinstance(value, dict) else value for value in values)
    return [str(value) for value in told if isinstance(value, str | int | float)]
