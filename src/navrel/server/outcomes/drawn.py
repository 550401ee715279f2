"""What is amiss in drawn pages: measured by a browser, which alone can tell, and kept beside the other findings."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from navrel.core.questions.checks import Finding
from navrel.server.inventory.models import Site
from navrel.server.sitestate.state import SiteState

from .models import Measurement

#: What may be amiss, and the widths at which pages are drawn.
KINDS = ("wraps", "runs-over", "ink", "id-twice", "heading")
WIDTHS = ("phone", "tablet", "desktop")
#: Things amiss that are kept, and pages that are named of each.
MOST_KEPT = 500
MOST_PAGES = 20


@transaction.atomic
def keep_measured(site: Site, version: int, items: list[dict[str, Any]], by: Any) -> Measurement:
    """Put what was measured in the place of what was measured before."""
    return Measurement.objects.update_or_create(site=site, defaults={"version": version, "items": items, "by": by})[0]


def measured(site: Site) -> Measurement | None:
    """What was last measured; None where nothing was."""
    return Measurement.objects.filter(site=site).select_related("by").first()


def drawn_findings(site: str, state: SiteState) -> list[Finding]:
    """What was last measured, as findings about the draft: less what was about pieces and pages that are gone."""
    kept = Measurement.objects.filter(site__slug=site).values_list("items", flat=True).first() or []
    pointers = {slug: f"/pieces/{number}" for number, slug in enumerate(state.layout.pieces)}
    numbers, pages = state.index.tree.numbers, state.index.tree.pages
    found = []
    for item in kept:
        piece = item["piece"]
        there = sorted(numbers[path] for path in item["paths"] if path in numbers)
        if not there or (piece and piece not in pointers):
            continue
        about = {"width": item["widths"][0], "widths": item["widths"], "slot": item["slot"]}
        if piece:
            about["piece"] = state.layout.pieces[piece].name
        some = tuple(pages[number] for number in there[:MOST_PAGES])
        pointer = pointers.get(piece, "")
        found.append(Finding(f"drawn-{item['kind']}", "warning", pointer, item["words"], about, (), some, len(there)))
    return found
