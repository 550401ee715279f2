"""Guards: what must stay so, and whether it is so."""

from __future__ import annotations

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.server.api.errors import Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import IF_MATCH, SiteView, body_of, items_of, matched_version
from navrel.server.library.declaring import GUARDS

from . import shapes
from .services import guard_info, guard_states, proposals, state_of

#: Guards that a site has at most.
MOST_GUARDS = 200


class GuardsView(SiteView):
    """The guards of a site."""

    @operation("listGuards", responses=shapes.GuardsInfo)
    def get(self, request: Request, site: str) -> Response:
        """Every guard and how it stands, with the version of them all; they stand otherwise by what else is edited."""
        return self._told(site)

    @operation(
        "declareGuards",
        parameters=[IF_MATCH],
        request=shapes.GuardsRequest,
        responses=shapes.GuardsInfo,
        errors=[412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Put all guards anew, as one edit; a guard may be broken when it is made."""
        version = matched_version(request)
        items = items_of(request)
        if len(items) > MOST_GUARDS:
            raise Refused("too-many-guards", f"A site has at most {MOST_GUARDS} guards")
        GUARDS.declare(site, items, version, by=request.user)
        self.record.refresh_from_db()
        return self._told(site)

    def _told(self, site: str) -> Response:
        state, version = self.draft(), GUARDS.version(self.record)
        # No entity tag: what it would stand for is more than the guards.
        return Response({"items": [guard_info(state, one) for one in guard_states(site, state)], "version": version})


class TriedGuardView(SiteView):
    """A guard that is being edited."""

    @operation("tryGuard", role="viewer", request=shapes.GuardRequest, responses=shapes.GuardInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """How a guard would stand, before it is saved."""
        state = self.draft()
        tree = body_of(request).get("guard")
        named = {**tree, "name": tree.get("name") or "This guard"} if isinstance(tree, dict) else tree
        return Response(guard_info(state, state_of(state, named)))


class ProposedGuardsView(SiteView):
    """What may be meant to stay so."""

    @operation("proposeGuards", parameters=stretch_parameters(), responses=listing(shapes.GuardInfo))
    def get(self, request: Request, site: str) -> Response:
        """Guards that hold today and that nobody has written, those of the most pages first."""
        state = self.draft()
        stretch = Stretch.asked(request)
        found = proposals(state)
        rows = [guard_info(state, one) for one in stretch.of(found)]
        return Response(stretch.listed(rows, len(found)))
