"""What is wrong within the pages' own content: links that lead nowhere, pictures without words, headings, ids.

Told of all pages at once, as such a thing is mended where the pages are written.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from itertools import pairwise

from ...pages.content import ContentFacts
from ...pages.page import path_of
from ...pages.pageset import PageSet
from ...pages.tree import PageTree
from .finding import Finding, Severity, Survey

#: Addresses that lead nowhere which are told, those that most pages lead to first.
MOST_GONE = 50
#: What a file is called that is no page.
_FILE = re.compile(r"\.(?!html?$)[A-Za-z0-9]{1,5}$")


def page_links(survey: Survey) -> Iterator[Finding]:
    """An address of the site that pages lead to from their own content, and where nothing is."""
    tree = survey.index.tree
    known = tree.numbers
    gone: dict[str, set[int]] = {}
    # Most links stand on many pages; each is looked into once.
    missing: dict[str, str] = {}
    for path, facts in survey.written.items():
        for link in facts.links:
            led = missing.get(link)
            if led is None:
                led = missing[link] = _missing(link, tree)
            if led and path in known:
                gone.setdefault(led, set()).add(known[path])
    for led in survey.answered(gone):
        del gone[led]
    told = sorted(gone.items(), key=lambda one: (-len(one[1]), one[0]))
    for led, numbers in told[:MOST_GONE]:
        pages, count = survey.some(PageSet.of(numbers, survey.index.size))
        yield Finding("page-link", "warning", "", led, {"more": 0}, pages=pages, page_count=count)
    if left := told[MOST_GONE:]:
        pages, count = survey.some(PageSet.of(set.union(*(numbers for _, numbers in left)), survey.index.size))
        yield Finding("page-link", "warning", "", left[0][0], {"more": len(left) - 1}, pages=pages, page_count=count)


def _missing(link: str, tree: PageTree) -> str:
    """The path that a link leads to, where that should be a page of the site and is none; else nothing."""
    led = path_of(link)
    return "" if not led or led.startswith("/-/") or _FILE.search(led) or tree.meant(led) else led


def unnamed_pictures(survey: Survey) -> Iterator[Finding]:
    """Pictures of a content without a text in their place (WCAG 2.2, 1.1.1)."""
    yield from _told(survey, "no-alt", "warning", lambda facts: facts.unnamed > 0)


def heading_order(survey: Survey) -> Iterator[Finding]:
    """Headings of a content that go down by more than a level at once."""
    yield from _told(survey, "heading-order", "hint", lambda facts: any(b > a + 1 for a, b in pairwise(facts.headings)))


def ids_twice(survey: Survey) -> Iterator[Finding]:
    """Elements of a content with the same id (HTML Standard, 3.2.6)."""
    yield from _told(survey, "id-twice", "warning", lambda facts: bool(facts.twice))


def _told(survey: Survey, check: str, severity: Severity, wrong: Callable[[ContentFacts], bool]) -> Iterator[Finding]:
    known = survey.index.tree.numbers
    found = [known[path] for path, facts in survey.written.items() if path in known and wrong(facts)]
    if found:
        pages, count = survey.some(PageSet.of(found, survey.index.size))
        yield Finding(check, severity, "", survey.document.name, pages=pages, page_count=count)
