"""A revision as files."""

from __future__ import annotations

import tempfile

from django.http import FileResponse
from drf_spectacular.types import OpenApiTypes
from rest_framework.request import Request

from navrel.core.language.visitor import Lens, Visitor
from navrel.server.api.errors import InTheWay
from navrel.server.api.operations import operation
from navrel.server.api.views import SiteView
from navrel.server.publishing.live import opened

from .archive import Archive
from .writing import export

#: The most pages that are drawn while somebody waits.
MOST_PAGES = 2_000
#: An archive that is larger, in bytes, waits on disk.
_IN_MEMORY = 8 * 2**20


class RevisionFilesView(SiteView):
    """A published state as files."""

    @operation("getRevisionFiles", responses={(200, "application/zip"): OpenApiTypes.BINARY}, errors=[409])
    def get(self, request: Request, site: str, number: int) -> FileResponse:
        """All files of a revision for a static host, as a plain visitor sees it now, as a ZIP archive."""
        state = opened(self.record, number)
        if len(state.document.pages) > MOST_PAGES:
            raise InTheWay(
                "many-pages",
                f"On screen at most {MOST_PAGES:,} pages are written to files",
                f"Use the command line: ./navrel export {site} FOLDER --revision {number}",
            )
        file = tempfile.SpooledTemporaryFile(_IN_MEMORY)  # noqa: SIM115
        export(state, Archive(file), Lens(Visitor(accepts=(state.document.language,)), state.document.now()), workers=1)
        file.seek(0)
        return FileResponse(file, as_attachment=True, filename=f"{site}-{number}.zip", content_type="application/zip")
