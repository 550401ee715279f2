"""Sites that are served below a path of a host that they share: `/handbook` is that of one, all else of another."""

from __future__ import annotations

from collections.abc import Callable
from urllib.parse import urlsplit

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponsePermanentRedirect
from django.http.response import HttpResponseBase

from navrel.rendering.mounted import Mount
from navrel.server.publishing.hosts import MOUNTED, served_sites


def mount_of(path: str) -> str:
    """The path below which a site is served that an address is in; empty where there is none."""
    return next((one for one in settings.SITE_PREFIXES if f"{path}/".startswith(f"{one}/")), "")


class Mounted:
    """Middleware: asks for what lies below the path of a site, and has what is answered lead below it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        path = mount_of(request.path)
        if not path:
            return self.get_response(request)
        if request.path == path:
            query = request.META.get("QUERY_STRING", "")
            return HttpResponsePermanentRedirect(f"{path}/{f'?{query}' if query else ''}", preserve_request=True)
        slug = settings.SITE_PREFIXES[path]
        request.META[MOUNTED] = slug
        request.path = request.path_info = request.path.removeprefix(path)
        response = self.get_response(request)
        site = served_sites().filter(slug=slug).first()
        own = urlsplit(site.base_url).path.rstrip("/") if site else ""
        return _below(Mount(path, is_own=own == path), response)


def _below(mount: Mount, response: HttpResponseBase) -> HttpResponseBase:
    if location := response.headers.get("Location"):
        response.headers["Location"] = mount.address(location)
    media = response.headers.get("Content-Type", "").partition(";")[0]
    change = {"text/html": mount.html, "text/css": mount.css}.get(media)
    if change is None:
        return response
    if isinstance(response, FileResponse) and response.file_to_stream:
        headers = {name: value for name, value in response.items() if name != "Content-Length"}
        # The file alone is closed: closing an answer ends its request, database and all.
        with response.file_to_stream as file:
            response = HttpResponse(file.read(), headers=headers)
    if isinstance(response, HttpResponse):
        response.content = change(response.content)
    return response
