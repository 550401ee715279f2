"""What every view of the API shares: the site it is about, the lens, entity tags."""

from __future__ import annotations

import hashlib
import re
import zlib
from typing import Any

import orjson
from drf_spectacular.utils import OpenApiParameter
from rest_framework.permissions import IsAuthenticated
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.serializers import Serializer
from rest_framework.views import APIView

from navrel.core.calendar.schedule import read_moment
from navrel.core.errors import QueryError, ScheduleError
from navrel.core.language.visitor import Lens
from navrel.core.language.visitor_terms import parse_visitor
from navrel.core.layout.model import Target
from navrel.core.text import unfit
from navrel.server.accounts.models import Role
from navrel.server.accounts.rights import HasRole
from navrel.server.inventory.models import Site
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.state import SiteState

from .errors import Malformed, NoVersion, ParameterProblem, Refused

VISITOR = OpenApiParameter("visitor", str, description="The visitor as terms: signed:in role:crew device:phone")
MOMENT = OpenApiParameter("at", str, description="The moment, as 2026-12-01T18:00 in the site's time zone; none: now")
LENS = [VISITOR, MOMENT]
PATH = OpenApiParameter("path", str, required=True, description="The path of the page")
TARGET = OpenApiParameter("target", str, required=True, description="A slot, `template`, or `setting:NAME`")
IF_MATCH = OpenApiParameter(
    "If-Match", str, OpenApiParameter.HEADER, required=True, description="The ETag of what the change was made from"
)
IF_NONE_MATCH = OpenApiParameter(
    "If-None-Match", str, OpenApiParameter.HEADER, description="An ETag that was given before; 304 where it still holds"
)


class GatedView(APIView):
    """A view whose parameters pass a gate."""

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        """Refuse parameters that hold what no text may hold."""
        super().initial(request, *args, **kwargs)
        for name, value in request.query_params.items():
            if (found := unfit(name)) or (found := unfit(str(value))):
                problem = ParameterProblem("" if unfit(name) else name, found.message, "character", found.place + 1, 1)
                raise Malformed.for_parameter(problem)


class SiteView(GatedView):
    """A view of one site, for those who are something there."""

    permission_classes = [IsAuthenticated, HasRole]
    #: The site as it was when this was asked, and what whoever asks is there: told by the permission.
    record: Site
    role: Role

    def draft(self) -> SiteState:
        """The state that is being edited, as it was when this was asked."""
        return draft(self.record)

    def lens(self, state: SiteState) -> Lens:
        """The lens that the request names. Raises Refused."""
        given = self.request.query_params
        return read_lens(state, given.get("visitor", ""), given.get("at", ""))


def read_lens(state: SiteState, visitor: str, at: str) -> Lens:
    """A lens from a visitor's terms and a local date-time; none given: now. Raises Refused."""
    document = state.document
    try:
        seen_by = parse_visitor(visitor, document.language)
    except QueryError as error:
        raise Refused.for_parameter(ParameterProblem.of("visitor", error)) from None
    return Lens(seen_by, read_at(at) if at else document.now())


def read_at(text: str) -> Any:
    """The moment that a local date-time names. Raises Refused."""
    try:
        return read_moment(text)
    except ScheduleError as error:
        raise Refused.for_parameter(ParameterProblem.of("at", error)) from None


def known_target(state: SiteState, text: str, parameter: str = "target") -> Target:
    """The target that a text names, one that the site has. Raises Refused."""
    target = Target.read(text)
    if target not in state.targets:
        what = "setting" if target.kind == "setting" else "slot"
        message = f"there is no {what} {target.name}" if text else "this names a slot, `template`, or `setting:NAME`"
        raise Refused.for_parameter(ParameterProblem(parameter, message, "no-target"))
    return target


def parsed(serializer: type[Serializer[Any]], data: Any) -> dict[str, Any]:
    """The checked body or parameters of a request."""
    checked = serializer(data=data)
    checked.is_valid(raise_exception=True)
    return dict(checked.validated_data)


def body_of(request: Request) -> dict[str, Any]:
    """The body of a request that has to be a JSON object. Raises Malformed."""
    if not isinstance(request.data, dict):
        raise Malformed("bad-body", "The body has to be a JSON object")
    return request.data


def items_of(request: Request) -> list[Any]:
    """The items that a request's body names. Raises Malformed."""
    items = body_of(request).get("items")
    if not isinstance(items, list):
        raise Malformed("bad-body", "The body has to name its items")
    return items


def digest_version(tree: Any) -> int:
    """What a plain tree without a version of its own is told by: a digest of it, of nine digits at the most."""
    return zlib.crc32(orjson.dumps(tree, option=orjson.OPT_SORT_KEYS)) % 10**9


def etag(version: object) -> str:
    """The entity tag of a version (RFC 9110)."""
    return f'"{version}"'


def matched_version(request: Request) -> int:
    """The version in If-Match. Raises NoVersion where it is missing, Malformed where it is none."""
    text = request.headers.get("If-Match", "").strip()
    if not text:
        raise NoVersion("no-if-match", "The request names no version", "Send If-Match with the ETag that was read.")
    if not (found := re.fullmatch(r'(?:W/)?"?(\d{1,9})"?', text, re.ASCII)):
        problem = ParameterProblem(
            "If-Match", "this names no version", "bad-if-match", hint="send the ETag that was read"
        )
        raise Malformed.for_parameter(problem)
    return int(found[1])


def unchanged(request: Request, tag: str) -> Response | None:
    """The answer 304 where the request has what the tag stands for already (RFC 9110, section 13.1.2), else None."""
    known = request.headers.get("If-None-Match", "")
    if any(one.strip().removeprefix("W/") == tag for one in known.split(",")):
        return Response(status=304, headers={"ETag": tag})
    return None


def digest_tag(*parts: object) -> str:
    """An entity tag for what depends on these alone."""
    return etag(hashlib.sha256(repr(parts).encode()).hexdigest()[:32])


def tagged(data: Any, version: object) -> Response:
    """A response whose entity tag is what a change names in If-Match.

    It tells the version of what is edited, not of all that is told beside it; so a browser keeps nothing by it.
    """
    return Response(data, headers={"ETag": etag(version), "Cache-Control": "private, no-store"})


def made(data: Any, location: str, version: int | None = None) -> Response:
    """A response that says where what was made stands (RFC 9110, section 15.3.2), with its entity tag if it has one."""
    headers = {"Location": location}
    if version is not None:
        headers["ETag"] = etag(version)
    return Response(data, status=201, headers=headers)
