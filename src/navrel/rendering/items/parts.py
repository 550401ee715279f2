"""The settings of items: what each takes, and whether a value is one."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import time
from typing import Any

from navrel.core.errors import QueryError
from navrel.core.language.query import parse_query
from navrel.core.layout.document import is_slug

from ..colours import is_colour
from ..links import as_read, is_safe, stays_here
from ..markup.css import MAX_CSS, BadStyles, check_styles
from ..markup.drawing import problem_of_markup

#: Names that mean something else where slots are named: the page's own content, and the page template.
RESERVED_SLOTS = ("content", "template")
MAX_LINKS = 60
MAX_TEXT = 5000
MAX_LINE = 300
MOST_LISTED = 20
_UNBOUND = ("links", "hours", "widgets", "widget", "slot", "feed", "code", "css")
_DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


@dataclass(frozen=True)
class Part:
    """One setting of an item: its name, what it takes, what it is when absent, and what it is called on screen."""

    name: str
    takes: str
    default: Any
    label: str
    help: str = ""
    choices: tuple[str, ...] = ()

    @property
    def bindable(self) -> bool:
        """Whether a page setting can say it: one value, and none that the cascade follows into the content."""
        return self.takes not in _UNBOUND

    def problem(self, value: Any) -> str:
        """What is wrong with a value, empty for nothing."""
        if self.takes == "choice":
            return "" if value in self.choices else f"this is one of {', '.join(self.choices)}"
        return CHECKS[self.takes](value)


def bound_to(value: object) -> str | None:
    """The name of the page setting that a value is bound to; None for one that stands for itself."""
    if isinstance(value, Mapping) and set(value) == {"setting"} and isinstance(value["setting"], str):
        return value["setting"]
    return None


def _check_line(value: Any) -> str:
    fits = isinstance(value, str) and len(value) <= MAX_LINE and "\n" not in value
    return "" if fits else f"this has to be one line of text of at most {MAX_LINE} characters"


def _check_text(value: Any) -> str:
    return "" if isinstance(value, str) and len(value) <= MAX_TEXT else f"this has to be at most {MAX_TEXT} characters"


def _check_href(value: Any) -> str:
    if not isinstance(value, str) or len(value) > 2000:
        return "this has to be an address"
    if as_read(value).startswith("//"):
        return "this leads to another host; write it out, with https:"
    return "" if is_safe(value) else "an address starts with /, #, https:, mailto: or tel:"


def _check_own_href(value: Any) -> str:
    if _check_href(value):
        return _check_href(value)
    return "" if stays_here(value) else "this has to be an address of the site itself, such as /search"


def _check_links(value: Any) -> str:
    whole = (
        isinstance(value, list)
        and len(value) <= MAX_LINKS
        and all(
            isinstance(link, Mapping) and set(link) == {"text", "href"} and not _check_line(link["text"])
            for link in value
        )
    )
    if not whole:
        return f"this has to be at most {MAX_LINKS} links, each with a text and an href"
    return next((message for link in value if (message := _check_href(link["href"]))), "")


def _check_number(value: Any) -> str:
    allowed = isinstance(value, int) and not isinstance(value, bool) and 1 <= value <= MOST_LISTED
    return "" if allowed else f"this has to be a number from 1 to {MOST_LISTED}"


def _check_query(value: Any) -> str:
    try:
        parse_query(value if isinstance(value, str) else "?")
    except QueryError as error:
        return str(error)
    return ""


def _check_switch(value: Any) -> str:
    return "" if isinstance(value, bool) else "this is true or false"


def _check_slug(value: Any) -> str:
    return "" if value == "" or (isinstance(value, str) and is_slug(value)) else "lower-case letters, digits, hyphens"


def _check_slot(value: Any) -> str:
    if isinstance(value, str) and value in RESERVED_SLOTS:
        return f"{value} has a meaning of its own; call the slot {value}-slot, say"
    return _check_slug(value)


def _check_slugs(value: Any) -> str:
    whole = isinstance(value, list) and len(value) <= MOST_LISTED and all(one and not _check_slug(one) for one in value)
    return "" if whole else f"this has to be a list of at most {MOST_LISTED} pieces"


def _check_page(value: Any) -> str:
    whole = isinstance(value, str) and len(value) <= 1000 and (value == "" or value.startswith("/"))
    return "" if whole else "this has to be the path of a page"


def _check_file(value: Any) -> str:
    return "" if isinstance(value, str) and len(value) <= 200 else "this has to be the name of a picture of the site"


def _check_colour(value: Any) -> str:
    return "" if value == "" or is_colour(value) else "a colour is one of the dress, or is written as #1C4E80"


def _check_hours(value: Any) -> str:
    whole = isinstance(value, list) and len(value) <= 14 and all(map(_is_line_of_hours, value))
    return "" if whole else "this has to be a list of days, each with from and until, as 08:30"


def _is_line_of_hours(line: Any) -> bool:
    if not isinstance(line, Mapping) or set(line) != {"day", "from", "until"} or line["day"] not in _DAYS:
        return False
    clock = [line["from"], line["until"]]
    if not all(isinstance(one, str) and re.fullmatch(r"\d\d:\d\d", one) for one in clock):
        return False
    try:
        opens, closes = map(time.fromisoformat, clock)
    except ValueError:
        return False
    return opens < closes


def _check_feed(value: Any) -> str:
    if value == "":
        return ""
    fits = isinstance(value, str) and len(value) <= 2000 and re.match(r"https?://[^\s/@]+(/\S*)?\Z", value)
    return "" if fits else "a feed has an address that begins with https:// or http://"


def _check_code(value: Any) -> str:
    return problem_of_markup(value) if isinstance(value, str) else "this has to be markup"


def _check_css(value: Any) -> str:
    if not isinstance(value, str) or len(value) > MAX_CSS:
        return f"styles have at most {MAX_CSS:,} characters"
    try:
        check_styles(value)
    except BadStyles as error:
        return str(error)
    return ""


#: What a value has to be for each of `takes`; a check answers with what is wrong.
CHECKS: Mapping[str, Callable[[Any], str]] = {
    "line": _check_line,
    "text": _check_text,
    "href": _check_href,
    "own-href": _check_own_href,
    "links": _check_links,
    "number": _check_number,
    "query": _check_query,
    "switch": _check_switch,
    "slug": _check_slug,
    "slot": _check_slot,
    "menu": _check_slug,
    "widget": _check_slug,
    "widgets": _check_slugs,
    "page": _check_page,
    "file": _check_file,
    "colour": _check_colour,
    "hours": _check_hours,
    "feed": _check_feed,
    "code": _check_code,
    "css": _check_css,
}
#: Everything that a setting of an item may take.
TAKES = ("choice", *CHECKS)
