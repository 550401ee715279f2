"""What pages need beside their HTML, at addresses that never show anything else: on the published site, in previews."""

from __future__ import annotations

import os
from http import HTTPStatus

from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import re_path
from django.views.decorators.http import require_safe
from werkzeug.http import parse_range_header
from whitenoise.responders import SlicedFile

from navrel.rendering.environment import stylesheet, stylesheet_address
from navrel.rendering.in_place.styles import in_place_stylesheet, in_place_stylesheet_address
from navrel.server.inventory.assets import place_of
from navrel.server.library.models import FileData

#: For a year, and never asked for again (RFC 8246, RFC 9111).
FOREVER = "public, max-age=31536000, immutable"


_DRAWING = "default-src 'none'; style-src 'self' 'unsafe-inline'; sandbox"
#: HTML that could not be read as a page shows itself with its pictures, and its frames.
_PAGE = "default-src 'self' data:; script-src 'none'; style-src 'self' 'unsafe-inline'; sandbox"
#: The policy of what a browser opens as a document, which may hold scripts.
_RUNNING = {
    "image/svg+xml": _DRAWING, "application/xml": _DRAWING, "text/xml": _DRAWING, "text/html": _PAGE,
    "application/xhtml+xml": _PAGE,
}  # fmt: skip


@require_safe
def styles(request: HttpRequest) -> HttpResponse:
    """The style sheets of all sites: of pages that are put together, and of those in their own HTML."""
    known = {stylesheet_address(): stylesheet, in_place_stylesheet_address(): in_place_stylesheet}
    if request.path not in known:
        return nothing_here()
    return HttpResponse(
        known[request.path](), content_type="text/css; charset=utf-8", headers={"Cache-Control": FOREVER}
    )


@require_safe
def picture(request: HttpRequest, digest: str, width: str | None) -> HttpResponse:
    """A picture of a site, whole or in a smaller version. Opened by itself it cannot run or reach anything."""
    found = FileData.objects.filter(digest=digest, width=int(width or 0)).first()
    if found is None:
        return nothing_here()
    headers = {
        "Cache-Control": FOREVER,
        "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; sandbox",
        "X-Content-Type-Options": "nosniff",
        "Content-Disposition": "inline",
        "Cross-Origin-Resource-Policy": "same-origin",
    }
    return HttpResponse(bytes(found.data), content_type=found.type, headers=headers)


def asset(request: HttpRequest, name: str, digest: str, media_type: str) -> HttpResponseBase:
    """A file of a site at its own address, where another may stand tomorrow: it is asked for again.

    It is known by its digest; who asks for a part gets that (RFC 9110, section 14): nobody could move about in a film
    otherwise. Opened by itself it cannot run or reach anything.
    """
    try:
        file = place_of(digest).open("rb")
    except OSError:
        return nothing_here()
    text = media_type.startswith("text/") and "charset" not in media_type
    headers = {
        "Cache-Control": "no-cache",
        "ETag": f'"{digest}"',
        "X-Content-Type-Options": "nosniff",
        "Accept-Ranges": "bytes",
    }
    if media_type in _RUNNING:
        headers["Content-Security-Policy"] = _RUNNING[media_type]
    content_type = f"{media_type}; charset=utf-8" if text else media_type
    asked = parse_range_header(request.headers.get("Range")) if request.method == "GET" else None
    # Several parts in one answer need not be given, and nobody asks for them; a part of what was there before is none.
    if asked is None or asked.units != "bytes" or len(asked.ranges) > 1 or not _still_is(headers["ETag"], request):
        return FileResponse(file, filename=name, content_type=content_type, headers=headers)
    size = os.fstat(file.fileno()).st_size
    part = asked.range_for_length(size)
    if part is None:
        file.close()
        return HttpResponse(
            status=HTTPStatus.REQUESTED_RANGE_NOT_SATISFIABLE, headers={"Content-Range": f"bytes */{size}"}
        )
    start, stop = part
    headers |= {"Content-Range": f"bytes {start}-{stop - 1}/{size}", "Content-Length": str(stop - start)}
    sliced = SlicedFile(file, start, stop - 1)
    return FileResponse(
        sliced, filename=name, content_type=content_type, headers=headers, status=HTTPStatus.PARTIAL_CONTENT
    )


def _still_is(etag: str, request: HttpRequest) -> bool:
    """Whether a part may be given to whoever has another part already (RFC 9110, section 13.1.5)."""
    stated = request.headers.get("If-Range")
    return stated is None or stated == etag


def nothing_here() -> HttpResponse:
    """That there is nothing at an address."""
    return HttpResponse("There is nothing at this address.\n", status=404, content_type="text/plain")


urlpatterns = [
    re_path(r"^-/(?:site|place)-[0-9a-f]{16}\.css$", styles),
    re_path(r"^-/files/([0-9a-f]{64})(?:-(\d{1,5}))?/[^/]+$", picture),
    re_path(r"^-/", lambda request: nothing_here()),
]
