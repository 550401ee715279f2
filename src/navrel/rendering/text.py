"""Texts of items as markup: CommonMark, with nothing in it that is HTML of its own, and placeholders filled in."""

from __future__ import annotations

from functools import cache, lru_cache

from markdown_it import MarkdownIt
from markupsafe import Markup

from .links import is_safe
from .placeholders import Filling, fill_in_markup


@cache
def _reader() -> MarkdownIt:
    """CommonMark without raw HTML and without pictures, which are items of their own."""
    reader = MarkdownIt("commonmark", {"html": False}).disable(["html_block", "html_inline", "image"])
    reader.validateLink = is_safe  # type: ignore[method-assign, assignment]
    return reader


@lru_cache(2000)
def _drawn(text: str) -> str:
    return str(_reader().render(text)).strip()


@lru_cache(2000)
def _drawn_inline(text: str) -> str:
    return str(_reader().renderInline(text)).strip()


def rich(text: str, told: Filling) -> Markup:
    """A text of paragraphs, lists and links."""
    return Markup(fill_in_markup(_drawn(text), told))  # noqa: S704


def small(text: str, told: Filling) -> Markup:
    """A text of one paragraph."""
    return Markup(fill_in_markup(_drawn_inline(" ".join(text.split())), told))  # noqa: S704
