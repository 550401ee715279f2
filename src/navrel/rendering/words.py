"""Words of the rendering's own, in the page's language, and dates and names as people write them (CLDR by Babel)."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from functools import cache, lru_cache
from typing import Literal

from babel import Locale, UnknownLocaleError
from babel.dates import format_date, format_skeleton, get_day_names

_WORDS: Mapping[str, Mapping[str, str]] = {
    "en": {
        "skip": "Skip to the content", "menu": "Menu", "search": "Search", "go": "Go", "here": "You are here",
        "minutes": "{} min read", "previous": "Previous", "next": "Next", "more": "More like this",
        "close": "Close", "on-this-page": "On this page", "topics": "Topics", "share": "Pass it on",
        "sign-in": "Sign in", "sign-out": "Sign out", "languages": "Languages", "email": "E-mail",
        "subscribe": "Subscribe", "hours": "Opening hours", "closed": "closed", "open-now": "Open now",
        "closed-now": "Closed now", "calendar": "Calendar", "slides": "Slides", "by-mail": "by e-mail",
        "above-header": "Before the header", "below-header": "After the header", "title": "Title",
        "before-content": "Before the text", "after-content": "After the text", "aside-start": "Beside the page",
        "aside-end": "More", "above-footer": "Before the footer",
    },
    "nb": {
        "skip": "Hopp til innholdet", "menu": "Meny", "search": "Søk", "go": "Søk", "here": "Du er her",
        "minutes": "{} min lesetid", "previous": "Forrige", "next": "Neste", "more": "Mer som dette",
        "close": "Lukk", "on-this-page": "På denne siden", "topics": "Emner", "share": "Del",
        "sign-in": "Logg inn", "sign-out": "Logg ut", "languages": "Språk", "email": "E-post",
        "subscribe": "Abonner", "hours": "Åpningstider", "closed": "stengt", "open-now": "Åpent nå",
        "closed-now": "Stengt nå", "calendar": "Kalender", "slides": "Bilder", "by-mail": "på e-post",
        "above-header": "Før toppen", "below-header": "Etter toppen", "title": "Tittel",
        "before-content": "Før teksten", "after-content": "Etter teksten", "aside-start": "Ved siden av",
        "aside-end": "Mer", "above-footer": "Før bunnen",
    },
}  # fmt: skip


@cache
def words_in(language: str) -> Mapping[str, str]:
    """The rendering's own words in a language, by key; English where they are not known in it."""
    return _WORDS.get(language.split("-")[0].lower(), _WORDS["en"])


@cache
def _locale(language: str) -> Locale:
    try:
        return Locale.parse(language, sep="-")
    except (ValueError, UnknownLocaleError):
        return Locale("en")


@lru_cache(5000)
def day_in(date: datetime.date | None, language: str) -> str:
    """A date written out; empty for none."""
    return format_date(date, "long", locale=_long_form(language)) if date else ""


def _long_form(language: str) -> Locale:
    """English dates put the day first: 1 March 2026."""
    return Locale("en", "GB") if language.lower() == "en" else _locale(language)


@cache
def month_in(date: datetime.date, language: str) -> str:
    """The month and year of a date."""
    return str(format_skeleton("yMMMM", date, locale=_locale(language)))


@cache
def weekdays_in(language: str, form: Literal["abbreviated", "wide"] = "abbreviated") -> tuple[str, ...]:
    """Monday to Sunday (ISO 8601)."""
    names = get_day_names(form, locale=_locale(language))
    return tuple(names[number] for number in range(7))


@cache
def language_name(tag: str) -> str:
    """What a language calls itself; the tag where that is not known."""
    try:
        name = Locale.parse(tag, sep="-").get_display_name()
    except (ValueError, UnknownLocaleError):
        return tag
    return name[:1].upper() + name[1:] if name else tag
