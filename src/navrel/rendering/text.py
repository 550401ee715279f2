"""Texts of items as markup: CommonMark, with nothing in it that is HTML of its own, and placeholders filled in."""

from __future__ import annotations

from functools import lru_cache

from markdown_it import MarkdownIt
from markupsafe import Markup

from .links import is_safe
from .placeholders import Filling, fill_in_markup


def _made() -> MarkdownIt:
    """CommonMark without raw HTML and without pictures, which are items of their own."""
    reader = MarkdownIt("commonmark", {"html": False}).disable(["html_block", "html_inline", "image"])
    reader.validateLink = is_safe  # type: ignore[method-assign, assignment]
    # What it escapes addresses by it makes when it first meets one, and gives others half-made meanwhile: so it meets
    # one of each kind before there are others.
    reader.render("[a](/é?%20) <https://marrowick.example/%20é>")
    return reader


_READER = _made()


@lru_cache(2000)
def _drawn(text: str) -> str:
    return str(_READER.render(text)).strip()


@lru_cache(2000)
def _drawn_inline(text: str) -> str:
    return str(_READER.renderInline(text)).strip()


def rich(text: str, told: Filling) -> Markup:
    """A text of paragraphs, lists and links."""
    return Markup(fill_in_markup(_drawn(text), told))  # noqa: S704


def small(text: str, told: Filling) -> Markup:
    """A text of one paragraph."""
    return Markup(fill_in_markup(_drawn_inline(" ".join(text.split())), told))  # noqa: S704
