"""Placeholders in texts: `{page.title}`, `{today.year}` and their like."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from markupsafe import escape

from navrel.core.language.visitor import Lens
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page, person_name

from .words import day_in

_PLACEHOLDER = re.compile(r"\{([a-z]+(?:\.[A-Za-z0-9_-]+)+)\}")

#: What each tells; `{page.field.NAME}` tells a page's own field.
NAMES = (
    "page.title", "page.path", "page.type", "page.author", "page.published", "page.words", "page.language",
    "page.field.NAME", "site.name", "today.year", "today.date",
)  # fmt: skip

#: What a placeholder's name is filled in with; None for a name that is none.
Filling = Callable[[str], str | None]


def filling(page: Page, document: SiteDocument, lens: Lens) -> Filling:
    """What the placeholders tell on a page, through a lens."""
    language = page.language or document.language

    def told(name: str) -> str | None:
        match name.split(".", 2):
            case ["page", "field", key]:
                return page.fields.get(key, "")
            case ["page", "title"]:
                return page.title
            case ["page", "path"]:
                return page.path
            case ["page", "type"]:
                return page.type
            case ["page", "author"]:
                return person_name(page.author)
            case ["page", "published"]:
                return day_in(page.published, language)
            case ["page", "words"]:
                return str(page.words)
            case ["page", "language"]:
                return language
            case ["site", "name"]:
                return document.name
            case ["today", "year"]:
                return str(lens.moment.year)
            case ["today", "date"]:
                return day_in(lens.moment.date(), language)
        return None

    return told


def named_in(texts: Iterable[str]) -> tuple[str, ...]:
    """The names of the placeholders in texts, each once."""
    return tuple(dict.fromkeys(name for text in texts if "{" in text for name in _PLACEHOLDER.findall(text)))


def fill_in(text: str, told: Filling) -> str:
    """A plain text with its placeholders filled in. What is no placeholder stays as it is written."""
    return _replaced(text, told, str)


def fill_in_markup(html: str, told: Filling) -> str:
    """The same for markup: what is filled in is escaped."""
    return _replaced(html, told, lambda value: str(escape(value)))


def _replaced(text: str, told: Filling, written: Callable[[str], str]) -> str:
    if "{" not in text:
        return text

    def one(found: re.Match[str]) -> str:
        value = told(found[1])
        return found[0] if value is None else written(value)

    return _PLACEHOLDER.sub(one, text)
