"""What markup is told: the page, the site, the visitor, settings, menus; plain values, made when they are asked for."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import partial
from typing import Any

from navrel.core.layout.model import MenuEntry
from navrel.core.pages.page import Page, person_name

from ..items.place import Place
from ..words import day_in

#: What each name tells, as completion offers it.
NAMES = (
    "page.title", "page.path", "page.type", "page.kind", "page.author", "page.published", "page.words",
    "page.language", "page.terms", "page.above", "page.fields", "site.name", "site.address", "site.language",
    "today.date", "today.year", "visitor.signed", "visitor.roles", "visitor.device", "visitor.browser", "settings",
    "menus",
)  # fmt: skip


class _Lazy(Mapping[str, Any]):
    """A mapping whose values are made when they are asked for."""

    def __init__(self, makers: Mapping[str, Callable[[], Any]]) -> None:
        self._makers = makers
        self._made: dict[str, Any] = {}

    def __getitem__(self, key: str) -> Any:
        if key not in self._made:
            self._made[key] = self._makers[key]()
        return self._made[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._makers)

    def __len__(self) -> int:
        return len(self._makers)


def told_on(place: Place) -> dict[str, Any]:
    """What markup is told on a page, through a lens."""
    visitor, moment, document = place.lens.visitor, place.lens.moment, place.document
    page = place.page
    return {
        "page": _Lazy(
            {
                "title": lambda: page.title,
                "path": lambda: page.path,
                "type": lambda: page.type,
                "kind": lambda: page.kind,
                "author": lambda: person_name(page.author),
                "published": lambda: day_in(page.published, place.language),
                "words": lambda: page.words,
                "language": lambda: place.language,
                "terms": lambda: [_term(term, place) for term in page.terms],
                "above": lambda: [page_told(one, place) for one in place.above],
                "fields": lambda: dict(page.fields),
            }
        ),
        "site": {"name": document.name, "address": document.base_url, "language": document.language},
        "today": {"date": day_in(moment.date(), place.language), "year": moment.year},
        "visitor": {
            "signed": visitor.signed,
            "roles": sorted(visitor.roles),
            "device": visitor.device,
            "browser": visitor.browser,
        },
        "settings": {name.replace("-", "_"): value for name, value in place.settings.items()},
        "menus": _Lazy(
            {
                slug.replace("-", "_"): partial(_lines, menu.entries, place)
                for slug, menu in document.layout.menus.items()
            }
        ),
    }


def page_told(page: Page, place: Place) -> dict[str, Any]:
    """Another page, as far as it is told of here."""
    return {
        "title": page.title,
        "path": page.path,
        "href": page.href,
        "published": day_in(page.published, place.language),
    }


def _term(term: str, place: Place) -> dict[str, str]:
    taxonomy, _, slug = term.partition("/")
    return {"name": place.document.term_names.get(term, slug), "slug": slug, "taxonomy": taxonomy}


def _lines(entries: tuple[MenuEntry, ...], place: Place) -> list[dict[str, Any]]:
    return [_line(entry, place) for entry in entries]


def _line(entry: MenuEntry, place: Place) -> dict[str, Any]:
    page = place.index.tree.page(entry.page) if entry.page else None
    return {
        "text": entry.text or (page.title if page else ""),
        "href": page.href if page else entry.href,
        "here": entry.page in place.trail,
        "entries": _lines(entry.entries, place),
    }
