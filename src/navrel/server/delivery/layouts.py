"""The layout API: what pages come to, and what their slots show, for programs that put pages together themselves."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from functools import partial
from importlib import resources
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.urls import re_path
from django.utils.cache import get_conditional_response
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST, require_safe

from navrel.core.calendar.schedule import write_moment
from navrel.core.language.visitor import Lens
from navrel.core.pages.page import Page
from navrel.core.questions.described import described
from navrel.rendering.fragments import Fragments, draw_fragments
from navrel.server.api.errors import InTheWay, Malformed, Refused
from navrel.server.inventory.contents import read_content
from navrel.server.publishing.live import LiveState

from .changed import COMPARING
from .hanging import Hung, hung_on
from .keeping import tell
from .layout_asked import BEGINNING, PAGE_HEADER, Asking, asks_layouts, parameters

JSON, JSON_LINES = "application/json", "application/jsonl"
#: The most pages, and the most bytes, that are asked about in one request.
MOST_LINES, MOST_BYTES = 10_000, 4 * 2**20
_SEEN = ("visitor", "at")
#: What a slot shows that is left empty.
_EMPTY = "\n"
_ASKED_BY = ("Authorization",)


@require_safe
@asks_layouts
def one(request: HttpRequest, asking: Asking) -> HttpResponseBase:
    """The layout of one page; ``html=yes`` adds what its slots show."""
    stated = parameters(request, "path", "html", *_SEEN)
    html = _is_wanted(stated, "html")
    page, hung = _asked(asking, stated, f"layout {html}")
    return _told(request, hung) or _answer(request, hung, orjson.dumps(_layout(asking, page, hung, html=html)), JSON)


@require_safe
@asks_layouts
def slot(request: HttpRequest, asking: Asking, name: str) -> HttpResponseBase:
    """What one slot of a page shows, as HTML to be put there.

    The end of a line where it is left empty, so that nothing stands there; nothing at all where nothing is set, so that
    whoever puts it there may have something else stand there.
    """
    return _fragment(request, asking, f"slot {name}", name)


@require_safe
@asks_layouts
def styles(request: HttpRequest, asking: Asking) -> HttpResponseBase:
    """What has to stand in the head of a page for what its slots show to look right, as HTML."""
    return _fragment(request, asking, "styles", None)


def _fragment(request: HttpRequest, asking: Asking, kind: str, name: str | None) -> HttpResponseBase:
    stated = parameters(request, "path", *_SEEN)
    page, hung = _asked(asking, stated, kind)
    unchanged = _told(request, hung)
    if unchanged is not None:
        return unchanged
    drawn = _drawn(asking.state, page, hung.lens, None if name is None else [name])
    html = drawn.styles if name is None else drawn.slots.get(name) or (_EMPTY if name in drawn.left_empty else "")
    return _answer(request, hung, html.encode(), "text/html; charset=utf-8")


@csrf_exempt
@require_POST
@asks_layouts
def many(request: HttpRequest, asking: Asking) -> HttpResponseBase:
    """The layouts of many pages: a line of JSON for each, of what is asked and of what is answered."""
    parameters(request)
    length = request.META.get("CONTENT_LENGTH") or "0"
    if not length.isdigit() or int(length) > MOST_BYTES:
        raise Malformed("too-large", f"At most {MOST_BYTES:,} bytes are asked in one request", "Ask in several.")
    lines = [line for line in request.read(MOST_BYTES).splitlines() if line.strip()]
    if len(lines) > MOST_LINES:
        raise Malformed("too-many", f"At most {MOST_LINES:,} pages are asked about in one request", "Ask in several.")
    return _streamed(_answered(asking, line) for line in lines)


def _answered(asking: Asking, line: bytes) -> dict[str, Any]:
    """What is answered to one line."""
    try:
        stated = _read_line(line)
        page = asking.page(stated["path"])
        nature = asking.nature(page, stated, stated["path"])
        return _layout(asking, page, hung_on(asking.state, page, nature, asking.meta, "many", _ASKED_BY), html=False)
    except Refused as error:
        return {"asked": line[:200].decode(errors="replace"), "error": {"code": error.code, "title": error.title}}


def _read_line(line: bytes) -> dict[str, str]:
    try:
        stated = orjson.loads(line)
    except orjson.JSONDecodeError as error:
        raise Malformed("not-json", f"This line is no JSON: {error}") from None
    if not isinstance(stated, dict) or not all(isinstance(value, str) for value in stated.values()):
        raise Malformed("not-asked", "A line is an object of texts: path, and visitor and at where they matter")
    if unknown := sorted(set(stated) - {"path", *_SEEN}):
        raise Malformed("unknown-key", f"There is no {unknown[0][:100]} in a line; there is path, visitor, at")
    if "path" not in stated:
        raise Malformed("no-path", "A line says a path")
    return stated


@require_safe
@asks_layouts
def every(request: HttpRequest, asking: Asking) -> HttpResponseBase:
    """The layouts of all pages of the site, a line of JSON for each, in the order of the site."""
    stated = parameters(request, *_SEEN)
    pages = asking.state.index.tree.pages
    if pages:
        # What is wrong with what is stated is told before anything is sent.
        asking.nature(pages[0], stated, "")
    return _streamed(
        _layout(
            asking, page, hung_on(asking.state, page, asking.nature(page, stated, ""), asking.meta, "all"), html=False
        )
        for page in asking.state.index.tree.pages
    )


@require_safe
@asks_layouts
def changes(request: HttpRequest, asking: Asking) -> HttpResponseBase:
    """The pages that are another for somebody, at some time, than they were at an earlier revision."""
    since = _stated(parameters(request, "since"), "since")
    newest = asking.state.revision.number
    if not since.isascii() or not since.isdigit() or len(since) > 9:
        raise Malformed("bad-since", "since is the number of a revision")
    if int(since) > newest:
        raise InTheWay("not-yet", f"Revision {since} is not published yet; {newest} is")
    told = COMPARING.since(int(since), asking.state)
    return HttpResponse(orjson.dumps(told), content_type=JSON, headers={"Cache-Control": "private, no-cache"})


@require_safe
def description(request: HttpRequest) -> HttpResponse:
    """The description of this API (OpenAPI 3.1)."""
    data = resources.files("navrel.server.delivery").joinpath("layout-v1.json").read_bytes()
    return HttpResponse(data, content_type=JSON, headers={"Cache-Control": "no-cache"})


def _asked(asking: Asking, stated: Mapping[str, str], kind: str) -> tuple[Page, Hung]:
    """The page that is asked about, and what the answer hangs on."""
    address = asking.asked_page(stated)
    page = asking.page(address)
    by = _ASKED_BY if stated.get("path") else (*_ASKED_BY, PAGE_HEADER)
    return page, hung_on(asking.state, page, asking.nature(page, stated, address), asking.meta, kind, by)


def _layout(asking: Asking, page: Page, hung: Hung, *, html: bool) -> dict[str, Any]:
    """A layout as it is told; ``html``: with what its slots show."""
    state, lens = asking.state, hung.lens
    if not html:
        outcomes = {target: trace.outcome for target, trace in state.resolver.resolve(page, lens).items()}
        return {
            **_head(state.revision.number, page, hung),
            **described(state.document, state.index.tree, page, lens, outcomes),
        }
    drawn = _drawn(state, page, lens)
    told = described(state.document, state.index.tree, page, lens, drawn.outcomes)
    for name, found in told["slots"].items():
        found["html"] = drawn.slots.get(name, "")
    return {**_head(state.revision.number, page, hung), **told, "title": drawn.title, "styles": drawn.styles}


def _drawn(state: LiveState, page: Page, lens: Lens, only: Collection[str] | None = None) -> Fragments:
    content = partial(read_content, state.contents.get(page.path, ""))
    return draw_fragments(state.resolving, page, lens, only, content=content)


def _head(revision: int, page: Page, hung: Hung) -> dict[str, Any]:
    """What is told beside a layout: of what it is, what it hangs on, and until when it holds."""
    until = hung.nature.hinges.until(hung.lens.moment)
    return {
        "path": page.path,
        "revision": revision,
        "facts": sorted(hung.nature.hinges.facts),
        "until": write_moment(until) if until else None,
    }


def _told(request: HttpRequest, hung: Hung) -> HttpResponseBase | None:
    """That nothing changed since it was asked last; None where something did."""
    unchanged = get_conditional_response(request, etag=hung.etag)
    if unchanged is not None:
        tell(unchanged, hung, request.META)
    return unchanged


def _answer(request: HttpRequest, hung: Hung, data: bytes, media_type: str) -> HttpResponse:
    response = HttpResponse(data, content_type=media_type)
    tell(response, hung, request.META)
    response.hung = hung  # type: ignore[attr-defined]
    return response


def _streamed(lines: Iterator[dict[str, Any]]) -> StreamingHttpResponse:
    written = (orjson.dumps(line, option=orjson.OPT_APPEND_NEWLINE) for line in lines)
    return StreamingHttpResponse(written, content_type=JSON_LINES, headers={"Cache-Control": "private, no-cache"})


def _stated(stated: Mapping[str, str], name: str) -> str:
    if not stated.get(name):
        raise Malformed(f"no-{name}", f"This asks for {name}")
    return stated[name]


def _is_wanted(stated: Mapping[str, str], name: str) -> bool:
    value = stated.get(name, "no")
    if value not in ("yes", "no"):
        raise Malformed(f"bad-{name}", f"{name} is yes or no")
    return value == "yes"


_SITE = rf"^{BEGINNING[1:]}([a-z0-9-]{{1,50}})"
urlpatterns = [
    re_path(rf"^{BEGINNING[1:]}openapi\.json$", description),
    re_path(rf"{_SITE}$", one),
    re_path(rf"{_SITE}/slots/([a-z0-9-]{{1,80}})$", slot),
    re_path(rf"{_SITE}/styles$", styles),
    re_path(rf"{_SITE}/many$", many),
    re_path(rf"{_SITE}/all$", every),
    re_path(rf"{_SITE}/changes$", changes),
]
