"""Reading what the checks want to know of a page's own content."""

from __future__ import annotations

import re
from collections import Counter
from html import unescape

from navrel.core.pages.content import ContentFacts

# Sanitised markup writes tags in lower case with a space before each attribute, quotes these, and escapes what could
# end a tag within one; so none of this is met in a text. A whole parse of ten thousand pages would take half a minute.
_LINK = re.compile(r'<(?:a|area)\b[^>]*? href="([^"]*)"')
_MET = re.compile(r"<(?:h([1-6])\b|img\b([^>]*)>)")
_ID = re.compile(r' id="([^"]*)"[^<>]*>')
#: Pictures that say of themselves that they are none to speak of (WAI-ARIA 1.2).
_DECORATION = re.compile(r'\srole="(?:presentation|none)"')
_ALT = re.compile(r'\salt="')
#: Of each, the most that is told of one content.
MOST = 500


def content_facts(markup: str) -> ContentFacts:
    """What is found in sanitised markup."""
    headings: list[int] = []
    unnamed = 0
    for level, picture in _MET.findall(markup):
        if level:
            headings.append(int(level))
        else:
            unnamed += not _ALT.search(picture) and not _DECORATION.search(picture)
    # Most links stand in a page several times.
    links = dict.fromkeys(map(unescape, dict.fromkeys(_LINK.findall(markup))))
    ids = Counter(_ID.findall(markup))
    twice = tuple(name for name, times in ids.items() if times > 1)
    return ContentFacts(tuple(links)[:MOST], tuple(headings[:MOST]), unnamed, twice[:MOST])
