"""What programs look for on a site: which pages there are, and which of them they may read."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from html import escape
from urllib.parse import quote

from django.http import HttpResponse

from navrel.server.publishing.live import LiveState

#: Pages that one sitemap may name (sitemaps.org).
_MOST_NAMED = 50_000


def _sitemap(state: LiveState) -> HttpResponse:
    """The pages of a site that states its address (sitemaps.org), of those kinds that people look for."""
    named = [page for page in state.index.tree.pages if page.kind not in ("missing", "search")][:_MOST_NAMED]
    base = state.document.base_url
    if not base:
        return HttpResponse("The site does not state its address.\n", status=404, content_type="text/plain")
    listed = "".join(f"<url><loc>{escape(base + quote(page.href))}</loc></url>" for page in named)
    text = f'<?xml version="1.0" encoding="UTF-8"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">{listed}</urlset>'
    return HttpResponse(text, content_type="application/xml")


def _robots(state: LiveState) -> HttpResponse:
    """That programs may read everything (RFC 9309), and where the pages are named."""
    base = state.document.base_url
    told = f"Sitemap: {base}/sitemap.xml\n" if base else ""
    return HttpResponse(f"User-agent: *\nAllow: /\n{told}", content_type="text/plain; charset=utf-8")


#: What is answered at addresses where a site has nothing of its own.
WELL_KNOWN: Mapping[str, Callable[[LiveState], HttpResponse]] = {"/sitemap.xml": _sitemap, "/robots.txt": _robots}
