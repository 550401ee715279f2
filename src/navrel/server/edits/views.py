"""The list of edits, undoing and redoing them."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import SiteView, parsed
from navrel.server.publishing.changes import not_live
from navrel.server.publishing.live import published

from . import presence, services, shapes
from .models import Edit

THING = OpenApiParameter(
    "thing", str, required=True, description="The thing, as edits name it: `rule/12`, `piece/SLUG`"
)
#: People who are told to be at one thing.
MOST_PRESENT = 20
SINCE = OpenApiParameter(
    "since", str, enum=["live", "ever"], description="`live`, when not given: those that are not live yet; `ever`: all"
)


class PresenceView(SiteView):
    """Who is where."""

    @operation("beThere", role="viewer", request=shapes.PresenceRequest, responses=shapes.PresentInfo, errors=[422])
    def put(self, request: Request, site: str) -> Response:
        """Say that one has a thing before one, for the next 40 seconds, and be told who else has."""
        thing = parsed(shapes.PresenceRequest, request.data)["thing"]
        others = presence.be_there(self.record, request.user, thing)
        return Response({"names": [one.user.get_username() for one in others[:MOST_PRESENT]]})

    @operation("leave", role="viewer", parameters=[THING], responses={204: None}, errors=[422])
    def delete(self, request: Request, site: str) -> Response:
        """Say that one has it before one no more."""
        presence.leave(self.record, request.user, parsed(shapes.PresenceRequest, request.query_params)["thing"])
        return Response(status=204)


class EditsView(SiteView):
    """The edits of a draft."""

    @operation("listEdits", parameters=[SINCE, *stretch_parameters()], responses=listing(shapes.EditRow))
    def get(self, request: Request, site: str) -> Response:
        """The edits of the draft, newest first; each with what stands in the way of undoing it."""
        record = self.record
        ever = request.query_params.get("since") == "ever"
        stretch = Stretch.asked(request)
        edits, total = stretch.of_records(
            services.edits_since(record, 0) if ever else not_live(record, published(record))
        )
        return Response(stretch.listed([_row(one) for one in services.listed(record, edits)], total))


class UndoView(SiteView):
    """Undoing an edit."""

    @operation("undoEdit", responses=shapes.TurnedEdit, errors=[409])
    def post(self, request: Request, site: str, number: int) -> Response:
        """Take an edit back; 409 with what stands in the way where something later touches the same."""
        return Response(_turned(services.undo(site, request.user, number)))


class RedoView(SiteView):
    """Redoing an edit."""

    @operation("redoEdit", responses=shapes.TurnedEdit, errors=[409])
    def post(self, request: Request, site: str, number: int) -> Response:
        """Do an edit again that was taken back; 409 with what stands in the way."""
        return Response(_turned(services.redo(site, request.user, number)))


def _row(one: services.ListedEdit) -> dict[str, Any]:
    edit = one.edit
    return {
        "number": edit.number,
        "made": edit.made,
        "by": edit.by.get_username() if edit.by else None,
        "words": edit.words,
        "parts": [part["key"] for part in edit.parts],
        "undone": edit.undone,
        "undoable": bool(edit.parts),
        "in_the_way": one.in_the_way.words if one.in_the_way else None,
    }


def _turned(edit: Edit) -> dict[str, Any]:
    return {"number": edit.number, "words": edit.words, "undone": edit.undone}
