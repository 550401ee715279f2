"""Taking pages in: begun, sent in batches or as one file, finished or given up."""

from __future__ import annotations

from pathlib import Path, PurePath
from tempfile import TemporaryDirectory
from typing import Any

from django.db import transaction
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.server.api.errors import Malformed, Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.parsers import TooLarge
from navrel.server.api.views import SiteView, made, parsed

from . import services, shapes
from .crawling import begin_crawl, crawl_of, crawl_on, unfinished_crawls
from .decoding import Unreadable
from .folders import File
from .models import Intake
from .sources import is_source, stage_source
from .staging import stage_files
from .tables import is_table_name

#: Largest file of a whole source that is sent by a browser, in bytes.
MAX_SOURCE = 256 * 1024 * 1024
_WHICH = "Choose a ZIP, tar, WARC, CSV or JSON Lines file."
_TOO_LARGE_HERE = Unreadable("too large to be sent by a browser; the command line takes it")


class IntakesView(SiteView):
    """Takings-in of pages."""

    @operation("listIntakes", parameters=stretch_parameters(20), responses=listing(shapes.IntakeRow))
    def get(self, request: Request, site: str) -> Response:
        """The intakes that were finished, newest first."""
        stretch = Stretch.asked(request, 20)
        finished = Intake.objects.filter(site=self.record).exclude(finished=None)
        records, total = stretch.of_records(finished.select_related("by").order_by("-finished"))
        rows = [
            {
                "id": record.pk,
                "finished": record.finished,
                "by": record.by.get_username() if record.by else None,
                "report": record.report,
            }
            for record in records
        ]
        return Response(stretch.listed(rows, total))

    @operation("startIntake", request=shapes.IntakeRequest, responses={201: shapes.IntakeInfo}, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """Begin taking pages in: files that are sent, or what a site answers that is asked turn by turn."""
        source = parsed(shapes.IntakeRequest, request.data)["source"]
        with transaction.atomic():
            intake = services.start_intake(site, request.user)
            if source:
                begin_crawl(intake, source)
        return made(_intake(intake), f"/api/sites/{site}/intakes/{intake.pk}")


class CrawlsView(SiteView):
    """Takings-in of a site by its address that stopped halfway."""

    @operation("listUnfinishedCrawls", responses=shapes.IntakeInfo(many=True))
    def get(self, request: Request, site: str) -> Response:
        """Those that were neither taken in nor given up, the newest twenty."""
        return Response([_intake(one) for one in unfinished_crawls(self.record.slug)[:20]])


class CrawledView(SiteView):
    """A site that is asked for an intake."""

    @operation("askOn", request=None, responses=shapes.IntakeInfo, errors=[422])
    def post(self, request: Request, site: str, number: int) -> Response:
        """Ask the site for some more of what it leads to, for about a second. Done where nothing waits any more."""
        intake = services.find_intake(site, number)
        if not intake.source:
            raise Refused("no-address", "This intake is one of files", "Begin one with the address of the site.")
        crawl_on(intake)
        return Response(_intake(intake))


class IntakeView(SiteView):
    """One taking-in of pages."""

    parser_classes = [MultiPartParser]

    @operation("getIntake", responses=shapes.IntakeInfo)
    def get(self, request: Request, site: str, number: int) -> Response:
        """How far an intake that is open has got."""
        return Response(_intake(services.find_intake(site, number)))

    @operation(
        "addFiles", request={"multipart/form-data": shapes.FilesRequest}, responses=shapes.IntakeInfo, errors=[422]
    )
    def post(self, request: Request, site: str, number: int) -> Response:
        """Add a batch of files; `names` gives the path of each below the chosen folder, in the same order."""
        intake = services.find_intake(site, number)
        body = parsed(shapes.FilesRequest, request.data)
        if len(body["files"]) != len(body["names"]):
            raise Malformed("names", "Each file needs a name", "Send as many names as files.")
        files: list[File] = [(name, file.read()) for name, file in zip(body["names"], body["files"], strict=True)]
        files += [(name, _TOO_LARGE_HERE) for name in body.get("too_large", [])]
        stage_files(intake, files)
        return Response(_intake(intake))

    @operation("stopIntake", responses={204: None})
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Give up; the site stays as it was."""
        services.stop_intake(services.find_intake(site, number))
        return Response(status=204)


class IntakeSourceView(SiteView):
    """One file that holds a whole source."""

    parser_classes = [MultiPartParser]

    @operation(
        "addSource",
        request={"multipart/form-data": shapes.SourceRequest},
        responses=shapes.IntakeInfo,
        errors=[413, 422],
    )
    def post(self, request: Request, site: str, number: int) -> Response:
        """Add all that an archive (ZIP, tar), a WARC file, or a table of facts (CSV, JSON Lines) holds."""
        intake = services.find_intake(site, number)
        sent = parsed(shapes.SourceRequest, request.data)["file"]
        if sent.size > MAX_SOURCE:
            told = f"{sent.name} is larger than {MAX_SOURCE // 2**20} MB"
            raise TooLarge("too-large", told, "The command line takes it: ./navrel intake")
        with TemporaryDirectory() as folder:
            # A name from outside is none for a file of ours; how it ends tells a table.
            path = Path(folder) / f"source{PurePath(sent.name).suffix.lower() if is_table_name(sent.name) else ''}"
            with path.open("wb") as file:
                for chunk in sent.chunks():
                    file.write(chunk)
            if not is_source(path):
                raise Refused("no-source", f"{sent.name} is no archive, no WARC file and no table", _WHICH)
            stage_source(intake, path, sent.name)
        return Response(_intake(intake))


class FinishIntakeView(SiteView):
    """The end of a taking-in."""

    @operation("finishIntake", responses=shapes.IntakeReport, errors=[422])
    def post(self, request: Request, site: str, number: int) -> Response:
        """Bring everything that was read into the site."""
        return Response(services.finish_intake(services.find_intake(site, number)))


def _intake(intake: Intake) -> dict[str, Any]:
    crawl = crawl_of(intake)
    return {
        "id": intake.pk, "started": intake.started, "source": intake.source, "files": intake.staged.count(),
        "asked": crawl.asked, "same": crawl.same, "waiting": crawl.waiting if intake.source else 0,
    }  # fmt: skip
