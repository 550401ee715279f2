"""Every layout that a page of a layout file has. No database."""

from __future__ import annotations

from argparse import ArgumentParser
from collections.abc import Iterable
from datetime import datetime
from pathlib import Path
from typing import Any

from navrel.core.calendar.schedule import write_moment
from navrel.core.language.visitor_terms import print_visitor
from navrel.core.layout.document import SiteDocument
from navrel.core.lenses.looks import Look, page_looks
from navrel.core.lenses.space import Sighting
from navrel.core.lenses.visitors import TooManyCombinations
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.described import described
from navrel.wording.audiences import seen_by

from .files import cannot_use, find_page, print_json, read_layout, read_lens, say, takes_file, takes_json, takes_moment
from .resolving import cell


def looks_options(parser: ArgumentParser) -> None:
    takes_file(parser)
    parser.add_argument("path", metavar="PATH", help="the page")
    takes_moment(parser)
    takes_json(parser)


def looks(file: Path, path: str, at: str, as_json: bool) -> None:
    """Print every distinct layout that a page has from a moment on, and who sees it when."""
    document, tree = read_layout(file)
    page = find_page(tree, path)
    since = read_lens(document, "", at).moment
    try:
        found = page_looks(tree, document.layout, page, since)
    except TooManyCombinations as error:
        cannot_use([f"{path}: {error}; ask about one visitor with ./navrel resolve"])
    told = [_look(document, tree, page, look, since) for look in found.looks]
    seen_until = write_moment(found.seen_until) if found.seen_until else None
    repeats_after = write_moment(found.repeats_after) if found.repeats_after else None
    if as_json:
        print_json(
            {
                "path": path,
                "since": write_moment(since),
                "repeats_after": repeats_after,
                "seen_until": seen_until,
                "looks": told,
            }
        )
        return
    for number, (look, facts) in enumerate(zip(found.looks, told, strict=True), start=1):
        say(f"Look {number}")
        for sighting in look.seen:
            say(f"  seen by {seen_by((sighting,), since)}")
        say(f"  template: {facts['template'] or '–'}")
        for slot, one in facts["slots"].items():
            if one["state"] != "unset":
                say(f"  {slot}: {cell(one)}")
        for name, setting in facts["settings"].items():
            say(f"  {name}: {setting['value']}")
    if repeats_after:
        say(f"After {repeats_after} it goes on in the same way.")
    if seen_until:
        say(f"Looked at up to {seen_until}; what comes later may differ.")


def told_sightings(seen: Iterable[Sighting], since: datetime) -> list[dict[str, Any]]:
    """Sightings as JSON: the visitors as a query, the spans of time, both in words."""
    return [
        {
            "visitors": str(one.visitors),
            "times": [
                {
                    "from": write_moment(span.start) if span.start else None,
                    "until": write_moment(span.end) if span.end else None,
                }
                for span in one.spans
            ],
            "repeats_after": write_moment(one.repeats_after) if one.repeats_after else None,
            "words": seen_by((one,), since),
        }
        for one in seen
    ]


def _look(document: SiteDocument, tree: PageTree, page: Page, look: Look, since: datetime) -> dict[str, Any]:
    return {
        **described(document, tree, page, look.lens, look.outcomes),
        "seen": told_sightings(look.seen, since),
        "example": {
            "visitor": print_visitor(look.lens.visitor, document.language),
            "at": write_moment(look.lens.moment),
        },
    }
