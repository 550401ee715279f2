"""The core on a made site: the bulk engine against its plain twin, and one page on small and large sites."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

from navrel.core.bulk import resolve_all
from navrel.core.cascade import resolve_page
from navrel.core.index import PageIndex
from navrel.core.model import Layout, Visitor
from navrel.core.reading import read_document
from navrel.core.site import Site
from navrel.core.suggest import suggest

from .made import AUTHORS, TERMS, TYPES, made_pages

PAGES = 10_000


def best_of(times: int, work: Callable[[], object]) -> float:
    """The shortest of several runs, in seconds."""
    found = []
    for _ in range(times):
        started = time.perf_counter()
        work()
        found.append(time.perf_counter() - started)
    return min(found)


def made_layout() -> Layout:
    """A hundred rules of the usual sorts on six targets."""
    pieces = [
        {"slug": f"{kind}-{n}", "kind": kind} for kind in ("header", "footer", "sidebar", "widget") for n in range(8)
    ]
    where = [
        *(f"type:{name}" for name in TYPES if name),
        *(f"author:{name}" for name in AUTHORS),
        *(f"term:topic/{name} kind:single" for name in TERMS),
        *(f"within:/p{n} | page:/p{n + 2}" for n in range(1, 60)),
        "all",
    ]
    slots = {"header": "header", "footer": "footer", "aside-end": "sidebar", "above-footer": "widget"}
    rules = []
    for number in range(100):
        slot = list(slots)[number % 4]
        rules.append(
            {
                "name": f"rule {number}",
                "priority": (number % 7) - 3,
                "condition": {
                    "include": where[number % len(where)],
                    "exclude": "kind:listing" if number % 3 == 0 else "",
                    "visitors": {"include": "signed:in" if number % 5 == 0 else ""},
                },
                "actions": [{"do": "fill", "slot": slot, "piece": f"{slots[slot]}-{number % 8}"}],
            }
        )
    return read_document({"navrel": 1, "site": {"name": "Made"}, "pieces": pieces, "rules": rules}).layout


def measure() -> Iterator[tuple[str, float, float, str, bool, str]]:
    """Ratios within one run."""
    layout, visitor = made_layout(), Visitor("in")
    site = Site(made_pages(PAGES))
    index = PageIndex(site)
    resolve_all(index, layout, visitor)
    bulk = best_of(5, lambda: resolve_all(index, layout, visitor))
    sample = site.pages[:: PAGES // 100]
    plain = best_of(2, lambda: [resolve_page(site, layout, page, visitor) for page in sample])
    ratio = plain / len(sample) * PAGES / bulk
    detail = f"{PAGES:,} pages, 100 rules: {bulk * 1000:.1f} ms at once"
    yield "bulk_vs_one_by_one", ratio, 100, "times", False, detail
    picked = [page.path for page in site.pages if page.path.startswith("/p1/")]
    suggested = best_of(3, lambda: suggest(index, picked))
    yield "suggest", suggested * 1000, 200, "ms", True, f"{len(picked)} pages picked of {PAGES:,}"
