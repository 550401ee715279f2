"""The application's addresses: the API, and the interface for everything else."""

from __future__ import annotations

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase
from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularJSONAPIView

from navrel.server.api.errors import plain_problem
from navrel.server.delivery.assets import urlpatterns as asset_patterns
from navrel.server.observing.views import metrics
from navrel.server.publishing.showing import draft_file


def interface(request: HttpRequest) -> HttpResponseBase:
    """The one page of the interface; its own router reads the address."""
    page = settings.WHITENOISE_ROOT / "index.html"
    if not page.is_file():
        return HttpResponse("The front end is not built. Run ./navrel start.", status=503, content_type="text/plain")
    return FileResponse(page.open("rb"), content_type="text/html; charset=utf-8", headers={"Cache-Control": "no-cache"})


def no_such_address(request: HttpRequest) -> HttpResponse:
    """An API address that is not there."""
    return plain_problem(404, "not-found", "There is nothing at this address")


#: The rooms that answer the API, in the order in which its description shows them.
ROOMS = (
    "accounts",
    "inventory",
    "bindings",
    "recipes",
    "language",
    "library",
    "rules",
    "outcomes",
    "edits",
    "guards",
    "publishing",
    "walks",
    "logbook",
    "news",
    "exchange",
    "exporting",
    "webhooks",
)

urlpatterns = [
    re_path(r"^-/draft/([a-z0-9_-]{1,80})/([0-9a-f]{32})/(.+)$", draft_file),
    *asset_patterns,
    path("metrics", metrics),
    path("api/schema", SpectacularJSONAPIView.as_view(), name="schema"),
    *(path("api/", include(f"navrel.server.{room}.urls")) for room in ROOMS),
    re_path(r"^api(?:/.*)?$", no_such_address),
    re_path(r"^(?!assets/).*$", interface),
]
