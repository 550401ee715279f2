"""What parts of pages are called, and which part of a page that says they are."""

from __future__ import annotations

import re
from functools import lru_cache

#: What parts are called, in turn: the first that is met tells the kind.
_WORDS = tuple(
    (kind, re.compile(rf"(?:^|[^a-z])(?:{words})(?:$|[^a-z])", re.IGNORECASE))
    for kind, words in (
        ("before-content", r"bread-?crumbs?|crumbs|path(?:way)?|trail"),
        ("footer", r"(?:\w*-)?(?:footer|foot|bottom|colophon|contentinfo|copyright|impressum)|\w*footer"),
        ("header", r"(?:\w*-)?(?:header|head|banner|masthead|top(?:bar)?|branding)|\w*header"),
        ("aside", r"(?:\w*-)?(?:sidebar|side|aside|complementary|toc|rail|margin|secondary|left|right)|\w*sidebar\w*"),
        # One that is called a bar and nothing else; a bar of something shows how far that is.
        ("navigation", r"(?:\w*-)?(?:nav|navigation|menu|menubar|tabs|navbar)|(?<![a-z0-9_][-_])bar"),
    )
)
#: What begins so is a part of something on the page, not of the page.
_OF_SOMETHING = re.compile(
    r"(?:^|[^a-z])(?:modal|dialog|popup|card|panel|table|section|article|post|entry|message)[-_]", re.IGNORECASE
)


@lru_cache(maxsize=4096)
def kind_called(name: str) -> tuple[str, str] | None:
    """The kind of part that an id or a class tells of, and the word of it that does; None for one that tells none."""
    if _OF_SOMETHING.search(name):
        return None
    for kind, words in _WORDS:
        if found := words.search(name):
            return kind, found[0].strip(".#-_ ")
    return None
