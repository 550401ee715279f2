"""The log of a site: everything that was done, looked up and taken out."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import orjson
from django.http import StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.server.api.errors import ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import SiteView

from . import shapes
from .models import KINDS, Event
from .services import events_of

TEXT = OpenApiParameter("text", str, description="A part of the words, or of who did it")
KIND = OpenApiParameter("kind", str, enum=list(KINDS), description="One kind alone")


class LogView(SiteView):
    """What was done."""

    @operation(
        "listEvents", parameters=[TEXT, KIND, *stretch_parameters()], responses=listing(shapes.EventRow), errors=[422]
    )
    def get(self, request: Request, site: str) -> Response:
        """Edits, publications, changes of rights, and sign-ins of the site's people, newest first."""
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(events_of(self.record, *_asked(request)))
        return Response(stretch.listed([_row(one) for one in records], total))


class LogFileView(SiteView):
    """What was done, as a file."""

    @operation(
        "exportEvents",
        parameters=[TEXT, KIND],
        responses={(200, "application/jsonl"): OpenApiTypes.STR},
        errors=[422],
        role="owner",
    )
    def get(self, request: Request, site: str) -> StreamingHttpResponse:
        """All of it as JSON Lines, one event a line, newest first."""
        found = events_of(self.record, *_asked(request))
        headers = {"Content-Disposition": f'attachment; filename="{site}-log.jsonl"'}
        return StreamingHttpResponse(_lines(found), content_type="application/jsonl; charset=utf-8", headers=headers)


def _asked(request: Request) -> tuple[str, str]:
    kind = request.query_params.get("kind", "")
    if kind and kind not in KINDS:
        raise Refused.for_parameter(ParameterProblem("kind", f"this is one of {', '.join(KINDS)}", "no-kind"))
    return request.query_params.get("text", "").strip(), kind


def _lines(found: Any) -> Iterator[bytes]:
    for one in found.iterator(chunk_size=1000):
        yield orjson.dumps(_row(one)) + b"\n"


def _row(one: Event) -> dict[str, Any]:
    return {"id": one.pk, "made": one.made, "by": one.name, "kind": one.kind, "words": one.words}
