"""Filling in what pages do not say themselves, out of what the feeds of their site say of them.

A feed lists the newest pages: it tells nothing of those that it leaves out.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, MutableMapping
from typing import Any

from .assets import place_of
from .bringing_in import batches, staged_pages
from .decoding import Unreadable
from .models import Intake, StagedPage
from .reader import a_reader
from .staging import BATCH

#: Largest feed that is read, in bytes, and most feeds of one site.
MAX_FEED = 4 * 1024 * 1024
MOST_FEEDS = 20
_SUFFIXES = (".xml", ".atom", ".rss", ".rdf")
_NAMES = ("feed", "rss", "atom")
_MARKS = (b"<rss", b"<feed", b"<rdf:RDF")
#: What a feed says of a page, as it is read.
FeedFacts = Mapping[str, Any]


def fill_in_staged(intake: Intake) -> None:
    """Have the pages of an intake what the feeds among its files say of them."""
    told = feed_facts(intake.base_url, intake.staged_assets.order_by("address").values_list("address", "digest"))
    for batch in batches(told, BATCH):
        pages = list(staged_pages(intake).filter(path__in=batch))
        for staged in pages:
            names = fill_in(staged.facts, told[staged.path])
            staged.facts["term_names"] = {**staged.facts["term_names"], **names}
        StagedPage.objects.bulk_update(pages, ["facts"])


def feed_facts(base_url: str, assets: Iterable[tuple[str, str]]) -> dict[str, FeedFacts]:
    """What the feeds among the files of a site, by address and digest, say of its pages, by their paths."""
    found: dict[str, FeedFacts] = {}
    for address, digest in [one for one in assets if _may_be_feed(one[0])][:MOST_FEEDS]:
        try:
            data = place_of(digest).read_bytes()
            if any(mark in data[:2000] for mark in _MARKS) and len(data) <= MAX_FEED:
                with a_reader() as reader:
                    found = {**reader.feed(data, base_url, address), **found}
        except (OSError, Unreadable):
            continue
    return found


def fill_in(facts: MutableMapping[str, Any], told: FeedFacts) -> dict[str, str]:
    """Have facts of a page what a feed says where they say nothing; returns the terms that came in, by name."""
    for fact in ("author", "published"):
        facts[fact] = facts[fact] or told[fact]
    names: dict[str, str] = {} if facts["terms"] else dict(told["terms"])
    facts["terms"] = [*facts["terms"], *names]
    return names


def _may_be_feed(address: str) -> bool:
    last = address.rstrip("/").rpartition("/")[2].lower()
    return last.endswith(_SUFFIXES) or last in _NAMES
