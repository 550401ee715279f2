"""What belongs to a site as a whole: its page settings, its menus, its dresses, its pictures and fonts."""

from __future__ import annotations

from typing import Any

from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.files.reading import read_files
from navrel.core.layout.document import SiteFile
from navrel.rendering.pictures import MAX_BYTES
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.parsers import TooLarge
from navrel.server.api.views import IF_MATCH, SiteView, items_of, matched_version, parsed, tagged
from navrel.server.inventory.models import Site

from . import files, shapes
from .declaring import DRESSES, MENUS, SETTINGS, Declared


class SettingsView(SiteView):
    """The settings that a site declares for its pages."""

    @operation("listSettings", responses=shapes.SettingsInfo)
    def get(self, request: Request, site: str) -> Response:
        """The declared settings, with their version in the ETag."""
        return _declared(SETTINGS, self.record)

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
        return _declared(MENUS, self.record)

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


class DressesView(SiteView):
    """The dresses of a site."""

    @operation("listDresses", responses=shapes.DressesInfo)
    def get(self, request: Request, site: str) -> Response:
        """The dresses, with their version in the ETag."""
        return _declared(DRESSES, self.record)

    @operation(
        "declareDresses",
        parameters=[IF_MATCH],
        request=shapes.DressesRequest,
        responses=shapes.DressesInfo,
        errors=[409, 412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Put all dresses anew, the setting that chooses in step; 409 where a rule chooses one that goes."""
        return _declare(DRESSES, request, site)


def _declare(kind: Declared, request: Request, site: str) -> Response:
    version = matched_version(request)
    return _declared(kind, kind.declare(site, items_of(request), version, by=request.user))


def _declared(kind: Declared, site: Site) -> Response:
    version = kind.version(site)
    return tagged({"items": kind.items(site), "version": version}, version)


class FilesView(SiteView):
    """The pictures and fonts of a site."""

    parser_classes = [MultiPartParser]

    @operation("listFiles", parameters=stretch_parameters(MOST), responses=listing(shapes.FileInfo))
    def get(self, request: Request, site: str) -> Response:
        """The pictures and fonts, by name, each with where it is shown."""
        record = self.record
        stretch = Stretch.asked(request, MOST)
        known = read_files(record.files)
        rows = [{**_file_info(file), "pieces": files.users_of(record, file.name)} for file in stretch.of(known)]
        return Response(stretch.listed(rows, len(known)))

    @operation(
        "takeFile",
        request={"multipart/form-data": shapes.FileRequest},
        responses={201: shapes.FileInfo},
        errors=[409, 413, 422],
    )
    def post(self, request: Request, site: str) -> Response:
        """Take a picture or a font in; one of the same name is replaced wherever it shows."""
        file = parsed(shapes.FileRequest, request.data)["data"]
        if file.size > MAX_BYTES:
            raise TooLarge("too-large", f"A file has at most {MAX_BYTES // 2**20} MiB")
        taken = files.take_file(site, file.name or "file", file.read(), by=request.user)
        return Response({**_file_info(taken), "pieces": []}, status=201)


class FileView(SiteView):
    """One picture or font of a site."""

    @operation("removeFile", responses={204: None}, errors=[409])
    def delete(self, request: Request, site: str, name: str) -> Response:
        """Remove it; 409 with the pieces and dresses that show it."""
        files.remove_file(site, name, by=request.user)
        return Response(status=204)


def _file_info(file: SiteFile) -> dict[str, Any]:
    return {
        "name": file.name, "type": file.type, "width": file.width, "height": file.height,
        "address": file.address(min(file.widths, default=0)),
    }  # fmt: skip
