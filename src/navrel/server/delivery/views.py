"""What the public web asks for: the pages of the live revision, as HTML."""

from __future__ import annotations

from functools import partial
from html import escape
from urllib.parse import quote

from django.conf import settings
from django.contrib.postgres.search import SearchQuery, SearchVector
from django.http import HttpRequest, HttpResponse, HttpResponsePermanentRedirect
from django.http.request import split_domain_port
from django.http.response import HttpResponseBase
from django.utils.cache import get_conditional_response
from django.views.decorators.http import require_safe

from navrel.core.pages.page import Page
from navrel.rendering.page import draw_page
from navrel.server.inventory.contents import read_content
from navrel.server.inventory.models import Content
from navrel.server.publishing.hosts import MOUNTED, served_site, served_sites
from navrel.server.publishing.live import LiveState, Served, served_meanwhile
from navrel.wording.counts import count_pages

from .assets import asset
from .hanging import Hung, hung_on, nature_of
from .headers import in_place_policy
from .keeping import tell
from .meta import AHEAD
from .well_known import WELL_KNOWN

MOST_RESULTS = 50
_MAX_SEARCH = 200


@require_safe
def published_page(request: HttpRequest) -> HttpResponseBase:
    """The page at the requested path, with the layout it resolves to for this visitor."""
    state = request.META.get(AHEAD) or _served(request)
    if isinstance(state, HttpResponse):
        return state
    response = _answered(request, state)
    # A cache that was told of a newer one does not keep what an older one shows.
    response["Navrel-Revision"] = str(state.revision.number)
    response.headers.setdefault("Cache-Control", "no-cache")
    return response


def _served(request: HttpRequest) -> LiveState | HttpResponse:
    """The state of the site that is served where a request asks, or why there is none."""
    host, _ = split_domain_port(request.META.get("HTTP_HOST") or request.META.get("SERVER_NAME", ""))
    sites = list(served_sites())
    site = served_site(sites, host, request.META.get("SERVER_PORT", ""), request.META.get(MOUNTED, ""))
    if site is None and sites:
        return HttpResponse("No site is served under this name.\n", status=404, content_type="text/plain")
    serving = served_meanwhile(site, settings.READERS_WAIT) if site else Served(None)
    if serving.state is not None:
        return serving.state
    why = "What is published here cannot be read." if serving.passed_over else "Nothing is published here yet."
    return HttpResponse(f"{why}\n", status=503, content_type="text/plain")


#: The file that a folder is asked for by, where it holds no page.
_INDEX = "index.html"


def _answered(request: HttpRequest, state: LiveState) -> HttpResponseBase:
    """What a state answers to a request."""
    path = request.path
    page = state.index.tree.meant(path)
    if page is None or page.href != path:
        file = f"{path}{_INDEX}" if path.endswith("/") else path
        if file in state.assets:
            return asset(request, file.rpartition("/")[2], *state.assets[file])
        if path in state.aliases:
            return _moved(state.aliases[path], request)
        if page is not None and page.kind != "missing":
            return _moved(quote(page.href), request)
        if path in WELL_KNOWN:
            return WELL_KNOWN[path](state)
    status = 200
    if page is None or page.kind == "missing":
        status = 404
        page = state.index.tree.missing
    if page is None:
        return HttpResponse("There is no page at this address.\n", status=404, content_type="text/plain")
    hung = hung_on(state, page, nature_of(state, page), request.META, (status, request.META.get(MOUNTED, "")))
    if page.kind == "search":
        # What it finds hangs on the words: it is found anew.
        response = _drawn(state, page, hung, _results(state, request.GET.get("q", "")))
        response["Cache-Control"] = "no-cache"
        response["Vary"] = hung.vary
        return response
    # What is known makes a difference to what is there alone (RFC 9110, section 13.2.1).
    unchanged = get_conditional_response(request, etag=hung.etag) if status == 200 else None
    if unchanged is not None:
        tell(unchanged, hung, request.META)
        return unchanged
    response = _drawn(state, page, hung)
    response.status_code = status
    tell(response, hung, request.META)
    if status == 200:
        response.hung = hung  # type: ignore[attr-defined]
    return response


def _drawn(state: LiveState, page: Page, hung: Hung, found: str = "") -> HttpResponse:
    """A page as HTML; ``found`` stands behind its content."""
    content = read_content(state.contents.get(page.path, "")) + found
    scripts = state.document.scripts
    original = partial(state.served_original, page)
    drawn = draw_page(state.resolving, page, content, hung.lens, original=original, scripts_run=scripts)
    response = HttpResponse(drawn.data, content_type=f"text/html; charset={_label(drawn.encoding)}")
    if drawn.in_place:
        response["Content-Security-Policy"] = in_place_policy(scripts=scripts)
    return response


def _label(encoding: str) -> str:
    """An encoding as the web calls it (Encoding Standard)."""
    return encoding.replace("_", "-")


def _moved(address: str, request: HttpRequest) -> HttpResponse:
    """To where a page is served. Its address begins with one slash, so the host stays."""
    query = request.META.get("QUERY_STRING", "")
    asked = f"?{query}" if query and "?" not in address else ""
    place, mark, fragment = address.partition("#")
    return HttpResponsePermanentRedirect(f"{place}{asked}{mark}{fragment}", preserve_request=True)


def _results(state: LiveState, text: str) -> str:
    """What a search finds, as HTML: titles that hold the words first, then contents that do."""
    words = text.replace("\0", "")[:_MAX_SEARCH].strip()
    if not words:
        return ""
    in_titles = [page for page in state.index.tree.pages if words.lower() in page.title.lower()]
    digests = set(
        Content.objects.annotate(words=SearchVector("text", config="simple"))
        .filter(words=SearchQuery(words, config="simple"), pk__in=set(state.contents.values()))
        .values_list("pk", flat=True)[:500]
    )
    in_contents = [page for page in state.index.tree.pages if state.contents.get(page.path) in digests]
    found = [page for page in dict.fromkeys((*in_titles, *in_contents)) if page.kind not in ("missing", "search")]
    return _listed(words, found)


def _listed(words: str, found: list[Page]) -> str:
    shown = "".join(f'<li><a href="{escape(page.href)}">{escape(page.title)}</a></li>' for page in found[:MOST_RESULTS])
    return f"<h2>{count_pages(len(found))} for “{escape(words)}”</h2><ul>{shown}</ul>"
