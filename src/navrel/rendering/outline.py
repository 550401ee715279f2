"""Reading what the checks want to know of a page's own content."""

from __future__ import annotations

import re
from collections import Counter
from html import unescape

from navrel.core.pages.content import ContentFacts

#: The tags that matter in sanitised markup, which writes tags in lower case, quotes attributes, and escapes what could
#: end a tag within them. A whole parse of ten thousand pages would take half a minute.
_TAG = re.compile(r"<(h[1-6]|a|area|img)\b([^>]*)>")
_HREF = re.compile(r'\shref="([^"]*)"')
_ID = re.compile(r'<[a-z][^>]*?\sid="([^"]*)"')
#: Pictures that say of themselves that they are none to speak of (WAI-ARIA 1.2).
_DECORATION = re.compile(r'\srole="(?:presentation|none)"')
_ALT = re.compile(r'\salt="')
#: Of each, the most that is told of one content.
MOST = 500


def content_facts(markup: str) -> ContentFacts:
    """What is found in sanitised markup."""
    links: dict[str, None] = {}
    headings: list[int] = []
    unnamed = 0
    for tag, attributes in _TAG.findall(markup):
        if tag[0] == "h":
            headings.append(int(tag[1]))
        elif tag == "img":
            unnamed += not _ALT.search(attributes) and not _DECORATION.search(attributes)
        elif href := _HREF.search(attributes):
            links[unescape(href[1])] = None
    ids = Counter(_ID.findall(markup))
    twice = tuple(name for name, times in ids.items() if times > 1)
    return ContentFacts(tuple(links)[:MOST], tuple(headings[:MOST]), unnamed, twice[:MOST])
