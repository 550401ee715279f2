"""What belongs to a site as a whole: its page settings, its menus, its pictures."""

from __future__ import annotations

from typing import Any

from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.files.reading import read_files
from navrel.core.layout.document import SiteFile
from navrel.rendering.pictures import MAX_BYTES
from navrel.server.api.errors import Malformed
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.parsers import TooLarge
from navrel.server.api.views import IF_MATCH, SiteView, body_of, matched_version, parsed, tagged
from navrel.server.inventory.models import Site
from navrel.server.sitestate.locking import find_site

from . import files, shapes
from .declaring import MENUS, SETTINGS, Declared


class SettingsView(SiteView):
    """The settings that a site declares for its pages."""

    @operation("listSettings", responses=shapes.SettingsInfo)
    def get(self, request: Request, site: str) -> Response:
        """The declared settings, with their version in the ETag."""
        return _declared(SETTINGS, find_site(site))

    @operation(
        "declareSettings",
        parameters=[IF_MATCH],
        request=shapes.SettingsRequest,
        responses=shapes.SettingsInfo,
        errors=[409, 412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Declare them anew; 409 where a rule sets one that would go, or to what it would not take."""
        return _declare(SETTINGS, request, site)


class MenusView(SiteView):
    """The menus of a site."""

    @operation("listMenus", responses=shapes.MenusInfo)
    def get(self, request: Request, site: str) -> Response:
        """The menus, with their version in the ETag."""
        return _declared(MENUS, find_site(site))

    @operation(
        "declareMenus",
        parameters=[IF_MATCH],
        request=shapes.MenusRequest,
        responses=shapes.MenusInfo,
        errors=[409, 412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Put all menus anew; 409 where a piece shows one that would go."""
        return _declare(MENUS, request, site)


def _declare(kind: Declared, request: Request, site: str) -> Response:
    version = matched_version(request)
    items = body_of(request).get("items")
    if not isinstance(items, list):
        raise Malformed("bad-body", "The body has to name its items")
    return _declared(kind, kind.declare(site, items, version, by=request.user))


def _declared(kind: Declared, site: Site) -> Response:
    version = kind.version(site)
    return tagged({"items": kind.items(site), "version": version}, version)


class PicturesView(SiteView):
    """The pictures of a site."""

    parser_classes = [MultiPartParser]

    @operation("listPictures", parameters=stretch_parameters(MOST), responses=listing(shapes.PictureInfo))
    def get(self, request: Request, site: str) -> Response:
        """The pictures, by name, each with where it is shown."""
        record = find_site(site)
        stretch = Stretch.asked(request, MOST)
        known = read_files(record.files)
        rows = [{**_picture(file), "pieces": files.pieces_with(record, file.name)} for file in stretch.of(known)]
        return Response(stretch.listed(rows, len(known)))

    @operation(
        "takePicture",
        request={"multipart/form-data": shapes.PictureFileRequest},
        responses={201: shapes.PictureInfo},
        errors=[409, 413, 422],
    )
    def post(self, request: Request, site: str) -> Response:
        """Take a picture in; one of the same name is replaced wherever it shows."""
        file = parsed(shapes.PictureFileRequest, request.data)["data"]
        if file.size > MAX_BYTES:
            raise TooLarge("too-large", f"A picture has at most {MAX_BYTES // 2**20} MiB")
        taken = files.take_picture(site, file.name or "picture", file.read(), by=request.user)
        return Response({**_picture(taken), "pieces": []}, status=201)


class PictureFileView(SiteView):
    """One picture of a site."""

    @operation("removePicture", responses={204: None}, errors=[409])
    def delete(self, request: Request, site: str, name: str) -> Response:
        """Remove a picture; 409 with the pieces that show it."""
        files.remove_picture(site, name, by=request.user)
        return Response(status=204)


def _picture(file: SiteFile) -> dict[str, Any]:
    return {
        "name": file.name, "type": file.type, "width": file.width, "height": file.height,
        "address": file.address(min(file.widths, default=0)),
    }  # fmt: skip
