"""The core on a made site of a hundred thousand pages and a thousand rules: ratios within one run."""

from __future__ import annotations

import gc
import random
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import datetime

import numpy as np

from navrel.core.cascade.bulk import acting_on, resolve_all, rule_levels, sweep_all
from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import resolve_page, standard_targets
from navrel.core.index.completion import complete
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.condition import Condition
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import TEMPLATE, Demand, Guard, Target
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.checks import check
from navrel.core.questions.guard_memory import GuardMemory
from navrel.core.questions.guards import Remembered, check_guards
from navrel.core.questions.impact import impact
from navrel.core.questions.suggest import suggest
from navrel.program import Site

from .large import large_document, large_pages
from .made import made_pages
from .memory import peak_memory

PAGES = 100_000
FEW_PAGES = 1_000
PICKED_FROM = 10_000
LENS = Lens(Visitor("in", frozenset({"crew"}), accepts=("en",)), datetime(2026, 12, 4, 19))

Figures = Iterator[tuple[str, float, float, str, bool, str]]


def best_of(times: int, work: Callable[[], object]) -> float:
    """The shortest of several runs, in seconds. Garbage is collected between the runs, not within."""
    found = []
    for _ in range(times):
        gc.collect()
        gc.disable()
        try:
            started = time.perf_counter()
            work()
            found.append(time.perf_counter() - started)
        finally:
            gc.enable()
    return min(found)


def measure() -> Figures:
    """Ratios within one run; only suggestions and memory are absolute."""
    document = large_document(large_pages(PAGES))
    started = time.perf_counter()
    site = document.tree
    index = PageIndex(site)
    resolve_all(index, document.layout, LENS)
    full = time.perf_counter() - started
    bulk = best_of(5, lambda: _from_nothing_kept(document, index))
    yield from _bulk(document, site, index, bulk)
    yield from _impact(document, index, full)
    yield from _changes(document, index, bulk)
    yield from _edit(document, index, full)
    yield from _single(document, site, index)
    checked = best_of(2, lambda: check(document, index, LENS))
    yield (
        "check_all",
        checked / bulk,
        60,
        "times",
        True,
        f"all checks: {checked:.2f} s; one bulk resolution {bulk:.3f} s",
    )
    yield (
        "memory",
        peak_memory(),
        900,
        "MiB",
        True,
        f"peak resident of all the above, {PAGES:,} pages, 1,000 rules",
    )
    yield from _suggestions()
    yield from _completion(document, index)
    yield from _impact_vs_full()
    yield from _guards()


#: A site of this size is guarded: pages, rules.
GUARDED = (10_000, 300)


def _guards() -> Figures:
    """All guards of a site asked after the edit of a rule; each of another kind, most of them of every page."""
    pages, rules = GUARDED
    document = large_document(large_pages(pages), rules)
    header, footer = Target("slot", "header"), Target("slot", "footer")
    header_piece = next(slug for slug, piece in document.layout.pieces.items() if piece.kind == "header")
    everywhere, articles = (Condition(include=parse_query(text)) for text in ("all", "type:article"))
    guards = (
        Guard("shows", everywhere, Demand("shows", header)),
        Guard("bare", articles, Demand("bare", footer)),
        Guard("is", articles, Demand("is", header, (header_piece,))),
        Guard("template", everywhere, Demand("is", TEMPLATE, ("standard",))),
        Guard("lacks", everywhere, Demand("lacks", None, (header_piece,))),
        Guard("at most", everywhere, Demand("at-most", piece_kind="widget", most=1)),
    )
    guarded = replace(document, layout=replace(document.layout, guards=guards))
    index = PageIndex(guarded.tree)
    memory: Remembered = GuardMemory()
    started = time.perf_counter()
    states = check_guards(guarded, index, LENS.moment, memory)
    first = time.perf_counter() - started
    edited = _edited_rule(guarded)
    seconds = best_of(2, lambda: check_guards(edited, index, LENS.moment, GuardMemory(memory)))
    broken = sum(state.is_broken for state in states)
    detail = f"{pages:,} pages, {rules} rules: {len(guards)} guards asked over all looks, {broken} broken; "
    yield "guards", seconds * 1000, 1000, "ms", True, f"{detail}for the first time {first:.1f} s"


#: What is typed, letter by letter, into a query.
TYPED = ("page:/s1", "page:/s12/p", 'page:"page 9', "within:/s3", "page:", "type:ar", "author:a", "term:top", "fie", "")


def _completion(document: SiteDocument, index: PageIndex) -> Figures:
    """What is offered at the caret on a large and on a small site; each fact was asked about before."""
    few = replace(document, pages=document.pages[:FEW_PAGES])
    few_index = PageIndex(few.tree)

    def type_on(pages: PageIndex, site: SiteDocument) -> None:
        for text in TYPED:
            complete(pages, site, text, len(text), limit=50)

    started = time.perf_counter()
    type_on(index, document)
    first = time.perf_counter() - started
    type_on(few_index, few)
    many = best_of(5, lambda: type_on(index, document)) / len(TYPED)
    small = best_of(5, lambda: type_on(few_index, few)) / len(TYPED)
    detail = (
        f"{PAGES:,} pages: {many * 1000:.2f} ms a keystroke; {FEW_PAGES:,}: {small * 1000:.2f} ms; first {first:.1f} s"
    )
    yield "completion", many / small, 3, "times", True, detail


def _from_nothing_kept(document: SiteDocument, index: PageIndex) -> None:
    """Resolve all pages with what is known about terms, but nothing about targets."""
    index.kept.clear()
    resolve_all(index, document.layout, LENS)


def _impact(document: SiteDocument, index: PageIndex, full: float) -> Figures:
    """What a change of one page's facts, and of one much used piece, comes to; against one resolution from nothing."""
    retitled = (replace(document.pages[1], title="Another title", words=1), *document.pages[2:])
    facts = replace(document, pages=(document.pages[0], *retitled))
    facts_index = PageIndex(facts.tree)
    seconds = best_of(2, lambda: impact(document, index, facts, facts_index, LENS.moment))
    yield "impact_facts", seconds / full, 20, "×", True, "impact of one page's facts over one full resolution"
    slug, piece = next((slug, piece) for slug, piece in document.layout.pieces.items() if piece.kind == "header")
    layout = replace(document.layout, pieces={**document.layout.pieces, slug: replace(piece, content={"items": []})})
    edited = replace(document, layout=layout)
    seconds = best_of(2, lambda: impact(document, index, edited, index, LENS.moment))
    yield "impact_piece", seconds / full, 60, "×", True, "impact of one header's content over one full resolution"


def _changes(document: SiteDocument, index: PageIndex, bulk: float) -> Figures:
    """What publishing one edited rule would change, all visitors and moments, against one lens over all pages."""
    edited = _edited_rule(document)
    seconds = best_of(3, lambda: impact(document, index, edited, index, LENS.moment))
    detail = f"{PAGES:,} pages, 1,000 rules: {seconds:.2f} s; one bulk resolution {bulk:.3f} s"
    yield "changes_100k", seconds / bulk, 5, "times", True, detail


def _impact_vs_full() -> Figures:
    """The impact of one edit against resolving both states from nothing, on a site of the size of `GUARDED`."""
    pages, rules = GUARDED
    document = large_document(large_pages(pages), rules)
    index = PageIndex(document.tree)
    edited = _edited_rule(document)
    started = time.perf_counter()
    for state in (document, edited):
        resolve_all(PageIndex(state.tree), state.layout, LENS)
    both = time.perf_counter() - started
    seconds = best_of(3, lambda: impact(document, index, edited, index, LENS.moment))
    detail = f"{pages:,} pages, {rules} rules: {seconds * 1000:.0f} ms; both from nothing {both * 1000:.0f} ms"
    yield "impact_vs_full", seconds / both, 0.2, "times", True, detail


def _edited_rule(document: SiteDocument) -> SiteDocument:
    """The same site, one rule of which has another condition."""
    rules = document.layout.rules
    place = len(rules) // 2
    other = large_document(list(document.pages), 20, seed=9).layout.rules[0].condition
    edited = (*rules[:place], replace(rules[place], condition=other), *rules[place + 1 :])
    return replace(document, layout=replace(document.layout, rules=edited))


def _bulk(document: SiteDocument, site: PageTree, index: PageIndex, bulk: float) -> Figures:
    layout = document.layout
    sample = random.Random(1).sample(site.pages, 30)  # noqa: S311
    plain = best_of(2, lambda: [resolve_page(site, layout, page, LENS) for page in sample]) / len(sample)
    detail = f"{PAGES:,} pages, 1,000 rules: {bulk * 1000:.0f} ms at once; {plain * 1000:.1f} ms a page one by one"
    yield "bulk_vs_one_by_one", plain * PAGES / bulk, 300, "times", False, detail
    levels = rule_levels(index, layout, LENS)
    acting = acting_on(levels, standard_targets(layout))
    swept = best_of(7, lambda: sweep_all(index, acting))
    size = sum(level.pages.words.nbytes * len(level.rule.actions) for level in levels)
    one, other, both = (np.full(size, filler, dtype=np.uint8) for filler in (170, 204, 0))
    memory = best_of(7, lambda: np.bitwise_and(one, other, out=both))
    detail = f"sweep of 12 targets {swept * 1000:.1f} ms; AND of {size / 2**20:.0f} MiB {memory * 1000:.1f} ms"
    yield "bulk_vs_memory", swept / memory, 2.5, "times", True, detail


def _edit(document: SiteDocument, index: PageIndex, full: float) -> Figures:
    """One rule changed, everything resolved again; a new condition each time, so that nothing of it is known."""
    rules = document.layout.rules
    conditions = iter([rule.condition for rule in large_document(list(document.pages), 20, seed=9).layout.rules])

    def edit() -> None:
        changed = replace(rules[500], condition=next(conditions))
        layout = replace(document.layout, rules=(*rules[:500], changed, *rules[501:]))
        resolve_all(index, layout, LENS)

    edited = best_of(5, edit)
    detail = f"one rule changed and all resolved anew: {edited:.3f} s; built and resolved from nothing: {full:.2f} s"
    yield "edit_vs_full", edited / full, 0.05, "times", True, detail


def _single(document: SiteDocument, site: PageTree, index: PageIndex) -> Figures:
    """One page, all targets, with traces: on a large and a small site with the same rules, and against a plain loop.

    The small site holds the same pages and all above them, so that the same rules match.
    """
    layout = document.layout
    paths = [page.path for page in random.Random(2).sample(site.pages, 200)]  # noqa: S311
    kept = {path: None for one in paths for path in (one, *site.ancestor_paths(site.pages[site.numbers[one]]))}
    more = (page.path for page in site.pages[:: PAGES // FEW_PAGES])
    kept.update(dict.fromkeys(list(more)[: max(0, FEW_PAGES - len(kept))]))
    few = PageTree([page for page in site.pages if page.path in kept])
    large, small = PageResolver(index, layout), PageResolver(PageIndex(few), layout)

    def timed(resolver: PageResolver, pages: list[Page]) -> float:
        return best_of(1, lambda: [resolver.resolve(page, LENS) for page in pages]) / len(pages)

    pages, same = ([page for path in paths if (page := one.page(path))] for one in (site, few))
    # In turn, so that whatever else the machine does meets both.
    runs = [(timed(large, pages), timed(small, same)) for _ in range(9)]
    quick, quick_on_few = (min(times) for times in zip(*runs, strict=True))
    flat = quick / quick_on_few
    yield "single_flatness", flat, 1.3, "times", True, f"{quick * 1e6:.0f} µs a page with {PAGES:,} pages"
    program = Site(document)
    asked = [one.path for one in pages]

    def by_program() -> float:
        return best_of(1, lambda: [program.resolve(path, LENS.visitor, LENS.moment) for path in asked]) / len(asked)

    turns = [(by_program(), timed(large, pages)) for _ in range(9)]
    through, directly = (min(times) for times in zip(*turns, strict=True))
    detail = f"{through * 1e6:.0f} µs a page through navrel.load, {directly * 1e6:.0f} µs by the core itself"
    yield "in_program", through / directly, 1.2, "times", True, detail
    loop = best_of(2, lambda: [resolve_page(site, layout, page, LENS) for page in pages[:20]]) / 20
    yield "single_vs_loop", loop / quick, 20, "times", False, f"{loop * 1000:.1f} ms with the plain matcher"


def _suggestions() -> Figures:
    site = PageTree(made_pages(PICKED_FROM))
    index = PageIndex(site)
    picked = [page.path for page in site.pages if page.path.startswith("/p1/")]
    # The first question about a site is the slowest, and the one that a hand waits for.
    started = time.perf_counter()
    suggest(index, picked)
    first = time.perf_counter() - started
    yield (
        "suggest",
        first * 1000,
        200,
        "ms",
        True,
        f"{len(picked)} pages picked of {PICKED_FROM:,}, asked for the first time",
    )
