"""What every view of the API shares: the site it is about, the lens, entity tags."""

from __future__ import annotations

import re
from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.serializers import Serializer
from rest_framework.views import APIView

from navrel.core.calendar.schedule import read_moment
from navrel.core.errors import QueryError, ScheduleError
from navrel.core.language.visitor import Lens
from navrel.core.language.visitor_terms import parse_visitor
from navrel.core.text import unfit

from .problems import Malformed, NoVersion, Refused
from .states import State, draft, find_site

LENS = [
    OpenApiParameter("visitor", str, description="The visitor as terms: signed:in role:crew device:phone"),
    OpenApiParameter("at", str, description="The moment, as 2026-12-01T18:00 in the site's time zone; none: now"),
]
IF_MATCH = OpenApiParameter("If-Match", str, OpenApiParameter.HEADER, required=True)

__all__ = [
    "IF_MATCH",
    "LENS",
    "OpenApiParameter",
    "SiteView",
    "body_of",
    "etag",
    "extend_schema",
    "made",
    "matched_version",
    "parsed",
    "read_lens",
    "tagged",
]


class SiteView(APIView):
    """A view of one site."""

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        """Refuse parameters that hold what no text may hold."""
        super().initial(request, *args, **kwargs)
        for name, value in request.query_params.items():
            if (found := unfit(name)) or (found := unfit(str(value))):
                raise Malformed("character", f"{name if not unfit(name) else 'A parameter'}: {found.message}")

    def draft(self, slug: str) -> State:
        """The state that is being edited."""
        return draft(find_site(slug))

    def lens(self, state: State) -> Lens:
        """The lens that the request names. Raises Refused."""
        given = self.request.query_params
        return read_lens(state, given.get("visitor", ""), given.get("at", ""))


def read_lens(state: State, visitor: str, at: str) -> Lens:
    """A lens from a visitor's terms and a local date-time; none given: now. Raises Refused."""
    try:
        document = state.document
        return Lens(parse_visitor(visitor, document.language), read_moment(at) if at else document.now())
    except QueryError as error:
        raise Refused("bad-visitor", f"The visitor cannot be read: {error}") from None
    except ScheduleError as error:
        raise Refused("bad-moment", f"The moment cannot be read: {error}") from None


def parsed(serializer: type[Serializer[Any]], data: Any) -> dict[str, Any]:
    """The checked body or parameters of a request."""
    checked = serializer(data=data)
    checked.is_valid(raise_exception=True)
    return dict(checked.validated_data)


def body_of(request: Request) -> dict[str, Any]:
    """The body of a request that has to be a JSON object. Raises Refused."""
    if not isinstance(request.data, dict):
        raise Malformed("bad-body", "The body has to be a JSON object")
    return request.data


def etag(version: int) -> str:
    """The entity tag of a version (RFC 9110)."""
    return f'"{version}"'


def matched_version(request: Request) -> int:
    """The version in If-Match. Raises NoVersion where it is missing, Malformed where it is none."""
    text = request.headers.get("If-Match", "").strip()
    if not text:
        raise NoVersion("no-if-match", "The request names no version", "Send If-Match with the ETag that was read.")
    if not (found := re.fullmatch(r'(?:W/)?"?(\d{1,9})"?', text, re.ASCII)):
        raise Malformed("bad-if-match", "If-Match names no version", "Send the ETag that was read.")
    return int(found[1])


def tagged(data: Any, version: int) -> Response:
    """A response with its entity tag."""
    return Response(data, headers={"ETag": etag(version)})


def made(data: Any, version: int, location: str) -> Response:
    """A response that says where what was made stands (RFC 9110, section 15.3.2), with its entity tag."""
    return Response(data, status=201, headers={"ETag": etag(version), "Location": location})
