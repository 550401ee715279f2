"""Sites, pages, searching them, taking them in."""

from __future__ import annotations

import re
from typing import Any

from django.conf import settings
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.index.choices import choices
from navrel.core.index.completion import complete
from navrel.core.language.facts import SEARCH_WORD
from navrel.core.language.query import parse_search
from navrel.core.layout.model import SLOTS
from navrel.server.problems import Malformed, Refused
from navrel.server.publishing.services import edits_since_live, served
from navrel.server.states import draft, find_site
from navrel.server.views import OpenApiParameter, SiteView, extend_schema, parsed

from . import serializers as shapes
from . import services
from .models import Intake, Site
from .reading import MAX_FILE, TOO_LARGE

MOST_SITES = 100
#: Pages in one answer of the page list; a larger site is asked for in several.
MOST_LISTED = 20_000
MOST_CHOICES = 50
MOST_INTAKES = 20


class SitesView(SiteView):
    @extend_schema(operation_id="listSites", responses=shapes.SiteShort(many=True))
    def get(self, request: Request) -> Response:
        """The sites, by name."""
        sites = Site.objects.order_by("name").values("slug", "name")[:MOST_SITES]
        return Response(list(sites))


class SiteInfoView(SiteView):
    @extend_schema(operation_id="getSite", responses=shapes.SiteInfo)
    def get(self, request: Request, site: str) -> Response:
        """What a site is, and how its draft stands to what is live."""
        record = find_site(site)
        state = draft(record)
        serving = served(record)
        revision = serving.state.revision if serving.state else None
        summary = services.inventory_summary(record)
        named = [str(target) for target in state.targets if target.kind == "slot"]
        return Response(
            {
                "slug": record.slug, "name": record.name, "base_url": record.base_url, "language": record.language,
                "roles": record.roles, "default_template": record.default_template, "version": record.version,
                "inventory_version": record.inventory_version, **summary["counts"],
                "kinds": [{"name": one["kind"], "pages": one["pages"]} for one in summary["kinds"]],
                "types": [{"name": one["type"], "pages": one["pages"]} for one in summary["types"]],
                "slots": named or list(SLOTS), "edits": edits_since_live(record),
                "live": {"number": revision.number, "published": revision.published, "note": revision.note}
                if revision else None,
                "unreadable": serving.passed_over,
                "published_origin": settings.PUBLISHED_ORIGIN,
            }
        )  # fmt: skip


class PagesView(SiteView):
    @extend_schema(
        operation_id="listPages",
        parameters=[OpenApiParameter("offset", int), OpenApiParameter("limit", int)],
        responses=shapes.PageTree,
    )
    def get(self, request: Request, site: str) -> Response:
        """A stretch of the page tree, in tree order."""
        state = self.draft(site)
        tree = state.index.tree
        offset = _whole(request, "offset", 0)
        limit = min(_whole(request, "limit", MOST_LISTED), MOST_LISTED)
        pages = tree.pages[offset : offset + limit]
        return Response(
            {
                "total": len(tree), "inventory_version": state.inventory_version,
                "paths": [page.path for page in pages], "titles": [page.title for page in pages],
                "kinds": [page.kind for page in pages], "types": [page.type for page in pages],
                "depths": tree.depths[offset : offset + limit],
            }
        )  # fmt: skip


class PageView(SiteView):
    @extend_schema(
        operation_id="getPage", parameters=[OpenApiParameter("path", str, required=True)], responses=shapes.PageFacts
    )
    def get(self, request: Request, site: str) -> Response:
        """The facts of one page."""
        state = self.draft(site)
        page = state.page(request.query_params.get("path", ""))
        return Response(
            {
                "path": page.path, "title": page.title, "kind": page.kind, "type": page.type,
                "parent": state.index.tree.parent_path(page), "terms": page.terms, "lists": page.lists,
                "author": page.author, "language": page.language, "published": page.published,
                "words": page.words, "extra": dict(page.fields), "slots": page.slots, "locks": page.locks,
            }
        )  # fmt: skip


class SearchView(SiteView):
    @extend_schema(
        operation_id="searchPages", parameters=[OpenApiParameter("query", str)], responses=shapes.SearchResult
    )
    def get(self, request: Request, site: str) -> Response:
        """The pages that a search finds: a page query in which bare words are allowed."""
        query = parse_search(request.query_params.get("query", ""))
        numbers = self.draft(site).index.query(query).numbers()
        has_words = any(term.fact == SEARCH_WORD.name for term in query.terms)
        return Response({"condition": "" if has_words else str(query), "total": len(numbers), "numbers": numbers})


class ChoicesView(SiteView):
    @extend_schema(
        operation_id="listChoices",
        parameters=[OpenApiParameter("fact", str, required=True), OpenApiParameter("text", str)],
        responses=shapes.Choice(many=True),
    )
    def get(self, request: Request, site: str) -> Response:
        """The values that a fact can take on this site and that contain a text, with their numbers of pages."""
        fact, text = request.query_params.get("fact", ""), request.query_params.get("text", "")
        state = self.draft(site)
        found = choices(state.index, state.document, fact, text, MOST_CHOICES)
        return Response([vars(choice) for choice in found])


class CompletionView(SiteView):
    @extend_schema(operation_id="completeQuery", request=shapes.CompletionRequest, responses=shapes.CompletionInfo)
    def post(self, request: Request, site: str) -> Response:
        """The facts or values that fit at the caret of a query text, with their numbers of pages."""
        body = parsed(shapes.CompletionRequest, request.data)
        state = self.draft(site)
        caret = min(body["caret"], len(body["text"]))
        found = complete(state.index, state.document, body["text"], caret, body["domain"], MOST_CHOICES)
        return Response({**vars(found), "offers": [vars(offer) for offer in found.offers]})


class IntakesView(SiteView):
    @extend_schema(operation_id="listIntakes", responses=shapes.IntakeRecord(many=True))
    def get(self, request: Request, site: str) -> Response:
        """The newest twenty intakes that were finished, newest first."""
        records = Intake.objects.filter(site=find_site(site)).exclude(finished=None)
        records = records.select_related("by").order_by("-finished")[:MOST_INTAKES]
        return Response(
            [
                {
                    "id": record.pk,
                    "finished": record.finished,
                    "by": record.by.get_username() if record.by else None,
                    "report": record.report,
                }
                for record in records
            ]
        )

    @extend_schema(operation_id="startIntake", request=None, responses={201: shapes.IntakeInfo})
    def post(self, request: Request, site: str) -> Response:
        """Begin taking pages in."""
        return Response({"id": services.start_intake(site, request.user).pk, "files": 0}, status=201)


class IntakeView(SiteView):
    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="addFiles", request=shapes.FilesRequest, responses=shapes.IntakeInfo)
    def post(self, request: Request, site: str, number: int) -> Response:
        """Add a batch of files; `names` gives the path of each below the chosen folder, in the same order."""
        intake = services.find_intake(site, number)
        body = parsed(shapes.FilesRequest, request.data)
        if len(body["files"]) != len(body["names"]):
            raise Refused("names", "Each file needs a name")
        files: list[services.File] = [
            (name, TOO_LARGE if file.size > MAX_FILE else file.read())
            for name, file in zip(body["names"], body["files"], strict=True)
        ]
        files += [(name, TOO_LARGE) for name in body.get("too_large", [])]
        services.stage_files(intake, files)
        return Response({"id": intake.pk, "files": intake.staged.count()})

    @extend_schema(operation_id="stopIntake", responses={204: None})
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Give up; the site stays as it was."""
        services.stop_intake(services.find_intake(site, number))
        return Response(status=204)


class FinishIntakeView(SiteView):
    @extend_schema(operation_id="finishIntake", request=None, responses=shapes.IntakeReport)
    def post(self, request: Request, site: str, number: int) -> Response:
        """Bring everything that was read into the site."""
        return Response(services.finish_intake(services.find_intake(site, number)))


def _whole(request: Request, name: str, default: int) -> int:
    text = request.query_params.get(name, "")
    if not text:
        return default
    if not re.fullmatch(r"\d{1,9}", text, re.ASCII):
        raise Malformed("bad-number", f"{name} has to be a whole number")
    return int(text)


def describe(report: dict[str, Any]) -> str:
    """An intake's report in one sentence."""
    return (
        f"{report['pages']} pages: {report['added']} added, {report['updated']} updated, "
        f"{report['returned']} back again, {report['gone']} gone; {report['skipped_count']} files skipped"
    )
