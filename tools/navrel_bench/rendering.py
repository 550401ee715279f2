"""Rendering a page of twelve slots and thirty items, against an empty template answered by Django."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

import django
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.test import RequestFactory

from navrel.core.cascade.lookup import PageResolver
from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.model import SLOTS
from navrel.rendering.page import Source, draw_page

from .core import best_of

Figures = Iterator[tuple[str, float, float, str, bool, str]]
PAGES = 10_000
_TIMES = 200
_LENS = Lens(Visitor(), datetime(2026, 12, 4, 19))
_ITEMS = (
    {"type": "heading", "text": "On {page.title}"},
    {"type": "text", "text": "A **word** and [a way](/p/1)\n\n- one\n- two"},
    {"type": "newest", "query": "type:article", "count": 5},
)
_MORE = ("corner", "ribbon")


def made_source() -> Source:
    """A made site whose pages have twelve slots, two or three items in each."""
    slots = (*SLOTS, *_MORE)
    kinds = {"header": "header", "footer": "footer", "title": "title", "aside-start": "sidebar", "aside-end": "sidebar"}
    pieces: list[dict[str, object]] = [{"slug": "all", "kind": "template", "slots": list(slots)}]
    rules = [{"name": "use", "condition": {"include": "all"}, "actions": [{"do": "use", "template": "all"}]}]
    for number, slot in enumerate(slots):
        items = [dict(item) for item in _ITEMS[: 2 + number % 2]]
        if slot == "header":
            items.append({"type": "menu", "links": [{"text": f"W{n}", "href": f"/p/{n}"} for n in range(8)]})
        if slot == "title":
            items += [{"type": "breadcrumbs"}, {"type": "page-title"}]
        kind = kinds.get(slot, "widget")
        if kind == "sidebar":
            pieces.append({"slug": f"w-{slot}", "kind": "widget", "content": {"items": items}})
            pieces.append({"slug": f"p-{slot}", "kind": kind, "entries": [{"piece": f"w-{slot}"}]})
        else:
            pieces.append({"slug": f"p-{slot}", "kind": kind, "content": {"items": items}})
        fill = {"do": "fill", "slot": slot, "piece": f"p-{slot}"}
        rules.append({"name": slot, "condition": {"include": "all"}, "actions": [fill]})
    pages = [{"path": "/", "title": "Home"}]
    pages += [
        {"path": f"/p/{n}", "title": f"Page {n}", "type": "article", "published": f"2026-{n % 12 + 1:02}-01"}
        for n in range(PAGES)
    ]
    tree = {"navrel": 1, "site": {"name": "Made"}, "pages": pages, "pieces": pieces, "rules": rules}
    document = read_document(tree)
    index = PageIndex(document.tree)
    return Source(document, index, PageResolver(index, document.layout))


def _empty() -> HttpResponse:
    """What Django takes to answer a request with an empty template."""
    request: HttpRequest = RequestFactory().get("/")
    return render(request, "empty.html")


def measure() -> Figures:
    """How long one page takes, and what a thousand different ones share."""
    if not settings.configured:
        options = {"loaders": [("django.template.loaders.locmem.Loader", {"empty.html": ""})]}
        backend = "django.template.backends.django.DjangoTemplates"
        settings.configure(TEMPLATES=[{"BACKEND": backend, "OPTIONS": options}], ALLOWED_HOSTS=["testserver"])
        django.setup()
    source = made_source()
    pages = source.index.tree.pages
    empty = best_of(5, lambda: [_empty() for _ in range(_TIMES)]) / _TIMES
    draw_page(source, pages[1], "<p>Words</p>", _LENS)
    again = best_of(5, lambda: [draw_page(source, pages[1], "<p>Words</p>", _LENS) for _ in range(20)]) / 20
    yield "render_vs_empty", again / empty, 15, "times", True, "12 slots, 30 items, against an empty template of Django"
    thousand = best_of(2, lambda: [draw_page(source, page, "<p>Words</p>", _LENS) for page in pages[1:1001]]) / 1000
    alone = best_of(3, lambda: draw_page(Source(source.document, source.index, source.resolver), pages[1], "", _LENS))
    yield (
        "render_shared",
        thousand / alone,
        0.5,
        "of one alone",
        True,
        "one page of a thousand, against one with nothing kept",
    )
