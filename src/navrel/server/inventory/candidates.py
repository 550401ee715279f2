"""Places in which a fact may stand on a page, whatever the site: looked at one by one, so that a recipe is proposed.

Sources: HTML Standard (time, rel), schema.org, microformats (p-author, dt-published, p-category).
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any, NamedTuple

from navrel.core.layout.recipe import FactPlace

from .by_recipe import Told, values_in
from .content import text_of
from .trails import lists_to

#: Most places of one page that are told.
MOST_CANDIDATES = 200
_NAME = re.compile(r"[A-Za-z][\w-]*\Z")
#: What parts are called that hold a fact.
_CALLED = {
    fact: re.compile(rf"(?:^|[-_])(?:{words})(?:$|[-_])", re.IGNORECASE)
    for fact, words in (
        ("author", "author|byline|writer|contributor|by"),
        ("published", "date|published|posted|pubdate|time|datetime"),
        ("terms/topic", "tags?|topics?|categor(?:y|ies)|keywords?|labels?"),
        ("parent", "bread-?crumbs?|crumbs?|trail|pathway|youarehere"),
    )
}
#: What stands before the name of an author.
_BY = r"(?i)^(?:written )?(?:by|von|par|por|av|af|door|di)[ :]+([^,·|\d]+)"
#: How dates are written, and what is taken for one.
_DATES = (
    ("", r"(\d{4}-\d\d-\d\d)"),
    ("%d %B %Y", r"(\d{1,2} [A-Z][a-z]+ \d{4})"),
    ("%d %b %Y", r"(\d{1,2} [A-Z][a-z]{2} \d{4})"),
    ("%B %d, %Y", r"([A-Z][a-z]+ \d{1,2}, \d{4})"),
    ("%b %d, %Y", r"([A-Z][a-z]{2} \d{1,2}, \d{4})"),
    ("%d.%m.%Y", r"(\d{1,2}\.\d{1,2}\.\d{4})"),
    ("%d/%m/%Y", r"(\d{1,2}/\d{1,2}/\d{4})"),
)
#: Kinds of pages by what their body is called, in turn.
_KINDS = {
    "not-found": "missing", "search-results": "search", "archive": "listing",
    "listing": "listing", "list": "listing", "category": "listing", "blog": "listing", "home": "home",
}  # fmt: skip
#: The beginnings of class names that say what type of page it is.
_TYPES = re.compile(r"(?:page-type|type|template|layout|page|section)-(?=[a-z])")
#: Folders of the pages that list what carries a term.
_OF_TERMS = re.compile(r"(?:^|/)(?:tags?|topics?|categor(?:y|ies)|keywords?|labels?|sections?)/(?=[^/?#])")
#: Where a fact may stand by the name that is given to it.
_STATIC: tuple[tuple[str, FactPlace], ...] = (
    ("title", FactPlace("heading")),
    ("title", FactPlace("meta", "og:title")),
    ("title", FactPlace("title", take=r"^(.+?)\s+[|·–—-]\s+[^|·–—]+$")),
    ("title", FactPlace("title")),
    ("type", FactPlace("meta", "og:type")),
    ("type", FactPlace("data", "@type")),
    ("type", FactPlace("file", take=r"^([\w-]+)/(?!index\.)")),
    ("parent", FactPlace("trail")),
    ("parent", FactPlace("link", "up")),
    ("parent", FactPlace("navigation")),
    ("parent", FactPlace("element", "a[accesskey=u]")),
    ("author", FactPlace("link", "author")),
    ("author", FactPlace("meta", "author")),
    ("author", FactPlace("data", "author")),
    ("author", FactPlace("data", "creator")),
    ("language", FactPlace("path", "1", take=r"^([a-z]{2}(?:[-_][A-Z]{2})?)$")),
    ("language", FactPlace("meta", "og:locale")),
    ("published", FactPlace("element", "article time[datetime]", "datetime")),
    ("published", FactPlace("element", "time[datetime]", "datetime")),
    ("published", FactPlace("data", "datePublished")),
    ("published", FactPlace("data", "dateCreated")),
    ("published", FactPlace("data", "dateModified")),
    ("published", FactPlace("file", take=r"(\d{4}-\d\d-\d\d)")),
    ("published", FactPlace("file", take=r"(\d{4}/\d\d/\d\d)", form="%Y/%m/%d")),
    ("terms/topic", FactPlace("link", "tag")),
    ("terms/topic", FactPlace("meta", "keywords")),
    ("terms/topic", FactPlace("data", "keywords")),
    ("terms/topic", FactPlace("element", ".p-category")),
    ("terms/section", FactPlace("data", "articleSection")),
    ("terms/section", FactPlace("path", "1")),
)


class Candidate(NamedTuple):
    """A place that has something of a fact on a page, and what; nothing where the page shows that it is none."""

    fact: str
    place: FactPlace
    values: list[str]


def candidates(told: Told) -> list[Candidate]:
    """What may be the places of facts on one page, each that has something."""
    found: dict[tuple[str, str], Candidate] = {}
    lists = list(_in_lists(told))
    by_lists = (("parent", place) for place, ends_here in lists if ends_here)
    for fact, place in (*_STATIC, *_by_names(told), *by_lists, *_by_body(told.tree)):
        key = (fact, repr(place))
        if key in found:
            continue
        values = values_in(told, fact, place)
        # A parent that the path tells by itself is nothing that a place would add.
        if values and not (fact == "parent" and values == [told.folder]):
            found[key] = Candidate(fact, place, values)
    are_none = [
        Candidate("parent", place, [])
        for place, ends_here in lists
        if not ends_here and not _CALLED["parent"].search(place.of[1:])
    ]
    return [*found.values(), *are_none][:MOST_CANDIDATES]


def _by_names(told: Told) -> Iterator[tuple[str, FactPlace]]:
    """Places in elements whose names tell what they hold; and in meta elements that are called so."""
    seen: set[tuple[str, str]] = set()
    for element in told.tree.find("body").iter(
        "p", "div", "span", "a", "ul", "ol", "li", "time", "abbr", "address", "nav", "b"
    ):
        for name in _called(element):
            for fact, called in _CALLED.items():
                is_id = name == element.get("id")
                selector = f"{'#' if is_id else '.'}{name}"
                if not _NAME.match(name) or not called.search(name) or (fact, selector) in seen:
                    continue
                if _is_code(element) or (fact == "terms/topic" and _leads_about(element)):
                    continue
                seen.add((fact, selector))
                yield from _in_element(fact, element, selector)
    for name in told.head.metas:
        if _CALLED["published"].search(name.replace(":", "-").replace(".", "-")):
            yield "published", FactPlace("meta", name)
        elif _CALLED["author"].search(name.replace(":", "-").replace(".", "-")):
            yield "author", FactPlace("meta", name)


def _in_lists(told: Told) -> Iterator[tuple[FactPlace, bool]]:
    """Lists that lead to the page, by what they or what is around them are called; and whether they end there."""
    for one, ends_here in lists_to(told.tree, told.heading, told.path, told.led_to):
        named = next((each for each in (one, *one.iterancestors("div", "nav", "header", "td")) if _called(each)), one)
        name = next(filter(_NAME.match, (named.get("id") or "", *_called(named))), "")
        if name:
            yield FactPlace("trail", f"{'#' if name == named.get('id') else '.'}{name}"), ends_here


def _is_code(element: Any) -> bool:
    """Whether an element stands in code, where keywords and dates are those of a language."""
    return next(element.iterancestors("pre", "code"), None) is not None


def _leads_about(element: Any) -> bool:
    """Whether an element stands in what leads about the site, where categories and labels are not the page's."""
    navigation = next(element.iterancestors("nav"), None)
    return navigation is not None and not any(map(_CALLED["terms/topic"].search, _called(navigation)))


def _called(element: Any) -> list[str]:
    """What an element is called: its classes, and its id."""
    return f"{element.get('class') or ''} {element.get('id') or ''}".split()


def _in_element(fact: str, element: Any, selector: str) -> Iterator[tuple[str, FactPlace]]:
    match fact:
        case "author":
            if re.match(_BY, text_of(element)):
                yield fact, FactPlace("element", selector, take=_BY)
            elif element.tag != "a" and next(element.iter("a"), None) is not None:
                yield fact, FactPlace("element", f"{selector} a")
            else:
                yield fact, FactPlace("element", selector)
            # Beside the name there often stands a day.
            yield from _dates(selector)
        case "published":
            for attribute in ("datetime", "title"):
                if element.get(attribute):
                    yield fact, FactPlace("element", selector, attribute)
            yield from _dates(selector)
        case "parent":
            yield fact, FactPlace("trail", selector)
        case _:
            inner = f"{selector} a" if next(element.iterdescendants("a"), None) is not None else selector
            yield fact, FactPlace("element", inner)


def _dates(selector: str) -> Iterator[tuple[str, FactPlace]]:
    for form, take in _DATES:
        yield "published", FactPlace("element", selector, take=take, form=form)


def _by_addresses(tag: str, element: Any) -> Iterator[tuple[str, FactPlace]]:
    """Terms in links of what is the whole page, or its article, that lead to pages of terms as their addresses tell."""
    found = {match[0] for link in element.iter("a") if (match := _OF_TERMS.search(link.get("href") or ""))}
    for folder in sorted(found):
        section = "categor" in folder or "section" in folder
        yield f"terms/{'section' if section else 'topic'}", FactPlace("element", f'{tag} a[href*="{folder}"]')


def _by_body(tree: Any) -> Iterator[tuple[str, FactPlace]]:
    """Places in the names of what is the whole page, or its article."""
    for tag in ("html", "body", "main", "article"):
        element = tree if tag == "html" else next(tree.iter(tag), None)
        names = (element.get("class") or "").split() if element is not None else []
        for prefix in dict.fromkeys(match[0] for name in names if (match := _TYPES.match(name))):
            yield "type", FactPlace("element", tag, "class", rf"(?:^|\s){prefix}([\w-]+)")
        if tag in ("main", "article") and element is not None:
            yield from _by_addresses(tag, element)
        if tag == "body" and any(kind in names for kind in _KINDS):
            yield "kind", FactPlace("element", tag, "class", rf"(?:^|\s)({'|'.join(_KINDS)})(?=\s|$)", dict(_KINDS))
