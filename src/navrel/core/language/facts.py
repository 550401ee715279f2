"""What queries can ask: each fact reads, prints and tests its values side by side.

The registry ``PAGE_FACTS`` and ``VISITOR_FACTS`` are the two halves of the language. A fact here tests one
page or one visitor at a time, plainly; `index.py` answers the same for all pages at once.
"""

from __future__ import annotations

import datetime
import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from urlpattern import URLPattern

from ..pages.page import Page
from ..pages.tree import PageTree
from .visitor import Visitor

Rank = Literal["exact", "narrow", "broad", "none"]

KINDS = ("home", "single", "listing", "search", "missing")
DEVICES = ("phone", "tablet", "desktop")
BROWSERS = ("chrome", "edge", "firefox", "safari", "other")
SIGNED = ("in", "out")

_PATTERN_SYNTAX = re.compile(r"[*(){}\\+?]|:\w")
#: Longest path pattern, in characters, and most wildcards and groups in one: matching stays quick on every path.
MAX_PATTERN_LENGTH = 1000
MAX_PATTERN_GROUPS = 20
_PATTERN_GROUP = re.compile(r"[*({]|:\w")
_NUMBER = re.compile(r"\d{1,18}\Z", re.ASCII)
_FULL_DATE = re.compile(r"\d{4}-\d\d-\d\d\Z", re.ASCII)
_LANGUAGE_RANGE = re.compile(r"([A-Za-z]{1,8}|\*)(-[A-Za-z0-9]{1,8})*\Z", re.ASCII)
_HOST = re.compile(r"[^\s/:@]{1,253}\Z")


class ValueProblem(ValueError):
    """A value that its fact cannot read; the parser adds the column."""

    def __init__(self, code: str, message: str, hint: str = "") -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.hint = hint


@dataclass(frozen=True)
class Value:
    """One value of a term. ``wild``: it ends in a bare ``*`` that stands for anything."""

    text: str
    wild: bool = False


@dataclass(frozen=True)
class Fact:
    """One word of the language: how its values are read, how they print, and when they hold."""

    name: str
    rank: Rank
    about: str
    read: Callable[[str, bool], Value]
    holds: Callable[..., bool]
    wildcard: bool = False
    keyed: bool = False

    def needs_quotes(self, value: Value) -> bool:
        """Whether ``value`` has to stand in quotes to be read back as itself."""
        text = value.text
        plain = re.search(r'[\s,|"]', text) is None and not text.startswith("-")
        return not plain or (self.wildcard and not value.wild and text.endswith("*"))


@dataclass(frozen=True)
class Interval:
    """Whole numbers or dates from ``low`` to ``high``, both included; None leaves a side open."""

    low: int | None
    high: int | None

    def __contains__(self, number: int) -> bool:
        return (self.low is None or number >= self.low) and (self.high is None or number <= self.high)


def is_plain_path(text: str) -> bool:
    """Whether a path pattern holds none of the URL Pattern Standard's syntax, so names one page."""
    return _PATTERN_SYNTAX.search(text) is None


@lru_cache(maxsize=4096)
def path_pattern(text: str) -> URLPattern:
    """The compiled pathname pattern (URL Pattern Standard, WHATWG). Raises ValueError."""
    return URLPattern({"pathname": text})


@lru_cache(maxsize=4096)
def interval(text: str, dates: bool) -> Interval:
    """The interval that an operator text such as ``>=300`` or ``5..9`` stands for.

    Dates become their proleptic ordinals. Raises ValueProblem for a malformed, empty or open range.
    """
    one = _date_ordinal if dates else _whole_number
    for operator, make in _OPERATORS.items():
        if text.startswith(operator):
            return make(one(text.removeprefix(operator)))
    if ".." in text:
        low_text, high_text = text.split("..", 1)
        if not low_text or not high_text:
            raise ValueProblem("open-range", f"the range {text} lacks an end", "write >= or <= instead")
        low, high = one(low_text), one(high_text)
        if low > high:
            raise ValueProblem("empty-range", f"the range {text} holds nothing", f"write {high_text}..{low_text}")
        return Interval(low, high)
    exact = one(text)
    return Interval(exact, exact)


_OPERATORS: dict[str, Callable[[int], Interval]] = {
    "<=": lambda number: Interval(None, number),
    ">=": lambda number: Interval(number, None),
    "<": lambda number: Interval(None, number - 1),
    ">": lambda number: Interval(number + 1, None),
}


def _whole_number(text: str) -> int:
    if not _NUMBER.match(text):
        raise ValueProblem("bad-number", f"{text or 'nothing'} is not a whole number", "write digits only")
    return int(text)


def _date_ordinal(text: str) -> int:
    try:
        if not _FULL_DATE.match(text):
            raise ValueError
        return datetime.date.fromisoformat(text).toordinal()
    except ValueError:
        raise ValueProblem("bad-date", f"{text or 'nothing'} is not a date", "write it as 2026-03-01") from None


def language_in_range(tag: str, language_range: str) -> bool:
    """Basic filtering, RFC 4647 section 3.3.1: ``nb`` matches ``nb`` and ``nb-NO``, in any case."""
    tag, language_range = tag.lower(), language_range.lower()
    return bool(tag) and (language_range == "*" or tag == language_range or tag.startswith(language_range + "-"))


def _text(text: str, quoted: bool) -> Value:
    return Value(text)


def _text_or_any(text: str, quoted: bool) -> Value:
    return Value(text, wild=not quoted and text == "*")


def _page_path(text: str, quoted: bool) -> Value:
    if not text.startswith("/"):
        raise ValueProblem("bad-path", f"{text} is not a path", f"paths start with a slash: /{text}")
    return Value(text if text == "/" else text.rstrip("/") or "/")


def _path_pattern(text: str, quoted: bool) -> Value:
    if not text.startswith(("/", "*", "{", "(", ":")):
        raise ValueProblem("bad-pattern", f"{text} is not a path pattern", f"patterns start with a slash: /{text}")
    if len(text) > MAX_PATTERN_LENGTH or len(_PATTERN_GROUP.findall(text)) > MAX_PATTERN_GROUPS:
        raise ValueProblem(
            "bad-pattern",
            f"a path pattern has at most {MAX_PATTERN_LENGTH:,} characters, {MAX_PATTERN_GROUPS} wildcards and groups",
            "write several patterns, parted by commas",
        )
    try:
        path_pattern(text)
    except ValueError as error:
        raise ValueProblem(
            "bad-pattern",
            f"{text} is not a path pattern: {error}",
            "the syntax is that of the URL Pattern Standard",
        ) from None
    return Value(text)


def _one_of(choices: tuple[str, ...]) -> Callable[[str, bool], Value]:
    def read(text: str, quoted: bool) -> Value:
        if text not in choices:
            raise ValueProblem("unknown-word", f"{text} is none of {', '.join(choices)}")
        return Value(text)

    return read


def _taxonomy_term(text: str, quoted: bool) -> Value:
    taxonomy, slash, slug = text.partition("/")
    if not (taxonomy and slash and slug):
        raise ValueProblem("bad-term", f"{text} is not a term", "write TAXONOMY/TERM, as in topic/harbours")
    return Value(text)


def _listed(text: str, quoted: bool) -> Value:
    wild = not quoted and (text == "*" or text.endswith("/*"))
    parts = text.split("/")
    whole = (parts[0] == "term" and len(parts) == 3) or (parts[0] in ("type", "author") and len(parts) == 2)
    if text != "*" and not (whole and all(parts)):
        raise ValueProblem(
            "bad-lists",
            f"{text} is nothing that a page can list",
            "write term/TAXONOMY/TERM, type/TYPE or author/AUTHOR",
        )
    return Value(text, wild)


def _language_range(text: str, quoted: bool) -> Value:
    if not _LANGUAGE_RANGE.match(text):
        raise ValueProblem("bad-language", f"{text} is not a language range", "write it as en or nb-NO (RFC 4647)")
    return Value(text)


def _words(text: str, quoted: bool) -> Value:
    interval(text, False)
    return Value(text)


def _dates(text: str, quoted: bool) -> Value:
    interval(text, True)
    return Value(text)


def _host(text: str, quoted: bool) -> Value:
    if not _HOST.match(text):
        raise ValueProblem("bad-host", f"{text} is not a host name", "write it as example.org")
    return Value(text.lower())


def _lists_holds(tree: PageTree, page: Page, value: Value, key: str) -> bool:
    if not page.lists:
        return False
    return page.lists.startswith(value.text[:-1]) if value.wild else page.lists == value.text


def _path_holds(tree: PageTree, page: Page, value: Value, key: str) -> bool:
    if is_plain_path(value.text):
        return page.path == value.text
    return bool(path_pattern(value.text).test({"pathname": page.path}))


def _field_holds(tree: PageTree, page: Page, value: Value, key: str) -> bool:
    found = page.fields.get(key)
    return found is not None and (value.wild or found == value.text)


def _published_holds(tree: PageTree, page: Page, value: Value, key: str) -> bool:
    return page.published is not None and page.published.toordinal() in interval(value.text, True)


def _parameter_holds(visitor: Visitor, value: Value, key: str) -> bool:
    found = visitor.query.get(key)
    return found is not None and (value.wild or found == value.text)


def _referrer_holds(visitor: Visitor, value: Value, key: str) -> bool:
    host = visitor.referrer.lower()
    return host == value.text or host.endswith("." + value.text)


def _registry(*facts: Fact) -> dict[str, Fact]:
    return {fact.name: fact for fact in facts}


def _page_fact(name: str, rank: Rank, about: str, read: Any, holds: Any, **more: bool) -> Fact:
    return Fact(name, rank, about, read, holds, **more)


def _is_below(tree: PageTree, page: Page, path: str) -> bool:
    """Whether a page stands below another, or in a folder: at an address below a path at which there is no page."""
    if path in tree.numbers:
        return path in tree.ancestor_paths(page)
    return any(_is_in(one, path) for one in (page.path, *tree.ancestor_paths(page)))


def _is_right_below(tree: PageTree, page: Page, path: str) -> bool:
    """Whether a page stands directly below another, or directly in a folder."""
    if path in tree.numbers:
        return tree.parent_path(page) == path
    return page.path.rpartition("/")[0] == path.rstrip("/")


def _is_in(path: str, folder: str) -> bool:
    return path.startswith(f"{folder.rstrip('/')}/")


#: What a page query can ask. ``holds(site, page, value, key)``; ``key`` is the part after the dot of a keyed fact.
PAGE_FACTS = _registry(
    _page_fact("page", "exact", "exactly this page", _page_path, lambda s, p, v, k: p.path == v.text),
    _page_fact("path", "narrow", "the path matches this pattern", _path_pattern, _path_holds),
    _page_fact(
        "within",
        "narrow",
        "this page and all below it",
        _page_path,
        lambda s, p, v, k: p.path == v.text or _is_below(s, p, v.text),
    ),
    _page_fact(
        "under",
        "narrow",
        "all below this page, not the page itself",
        _page_path,
        lambda s, p, v, k: _is_below(s, p, v.text),
    ),
    _page_fact(
        "child",
        "narrow",
        "the pages directly below this one",
        _page_path,
        lambda s, p, v, k: _is_right_below(s, p, v.text),
    ),
    _page_fact(
        "term",
        "narrow",
        "carries this term or one below it",
        _taxonomy_term,
        lambda s, p, v, k: any(v.text in s.term_lineage(term) for term in p.terms),
    ),
    _page_fact("lists", "narrow", "a listing of this", _listed, _lists_holds, wildcard=True),
    _page_fact("author", "narrow", "written by this author", _text, lambda s, p, v, k: p.author == v.text),
    _page_fact(
        "lang",
        "narrow",
        "in this language",
        _language_range,
        lambda s, p, v, k: language_in_range(p.language, v.text),
    ),
    _page_fact("words", "narrow", "so many words long", _words, lambda s, p, v, k: p.words in interval(v.text, False)),
    _page_fact("published", "narrow", "published then", _dates, _published_holds),
    _page_fact("field", "narrow", "a field has this value", _text_or_any, _field_holds, wildcard=True, keyed=True),
    _page_fact("kind", "broad", "pages of this kind", _one_of(KINDS), lambda s, p, v, k: p.kind == v.text),
    _page_fact("type", "broad", "pages of this type", _text, lambda s, p, v, k: p.type == v.text),
)

#: A bare word in the search field over the page list: no fact of the language, so it stands in no registry.
SEARCH_WORD = _page_fact(
    "word",
    "none",
    "the title or path contains it, in any case",
    _text,
    lambda s, p, v, k: v.text.lower() in p.title.lower() or v.text.lower() in p.path.lower(),
)

#: What a visitor query can ask. ``holds(visitor, value, key)``.
VISITOR_FACTS = _registry(
    Fact("signed", "none", "signed in or out", _one_of(SIGNED), lambda w, v, k: w.signed == v.text),
    Fact("role", "none", "has this role", _text, lambda w, v, k: v.text in w.roles),
    Fact("device", "none", "on this device", _one_of(DEVICES), lambda w, v, k: w.device == v.text),
    Fact("browser", "none", "in this browser", _one_of(BROWSERS), lambda w, v, k: w.browser == v.text),
    Fact(
        "accepts",
        "none",
        "reads this language",
        _language_range,
        lambda w, v, k: any(language_in_range(tag, v.text) for tag in w.accepts),
    ),
    Fact("query", "none", "came with this parameter", _text_or_any, _parameter_holds, wildcard=True, keyed=True),
    Fact("referrer", "none", "came from this host", _host, _referrer_holds),
)
