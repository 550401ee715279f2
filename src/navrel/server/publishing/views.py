"""Preview, impact, publishing, revisions."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.calendar.schedule import write_moment
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import SiteView, made, parsed
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import find_intake
from navrel.server.publishing.changes import back_to_live, bring_back
from navrel.server.publishing.live import find_revision, newest_revision, opened

from . import planning, services, shapes
from .models import Plan, Revision
from .telling import weighed_info
from .weighing import weigh_edit, weigh_intake


class ImpactView(SiteView):
    """What publishing would change."""

    @operation("getImpact", responses=shapes.ImpactInfo)
    def get(self, request: Request, site: str) -> Response:
        """What differs from what is live: the parts, and what comes out differently for whom, when, on which pages."""
        return Response(weighed_info(services.weigh_draft(self.record)))

    @operation(
        "weighChanges", role="viewer", request=shapes.ChosenRequest, responses=shapes.ImpactInfo, errors=[409, 422]
    )
    def post(self, request: Request, site: str) -> Response:
        """The same, were only some of the changes published."""
        parts = parsed(shapes.ChosenRequest, request.data)["parts"]
        weighed = services.weigh_draft(self.record) if parts is None else services.weigh_chosen(site, parts)
        return Response(weighed_info(weighed))


class WeighedEditView(SiteView):
    """An edit that is thought about."""

    @operation("weighEdit", request=shapes.WeighRequest, responses=shapes.ImpactInfo, errors=[409, 412, 422])
    def post(self, request: Request, site: str) -> Response:
        """What saving an edit would change on pages, for whom and when; it is not saved. Refused as saving would be."""
        asked = parsed(shapes.WeighRequest, request.data)
        weighed = weigh_edit(request._request, site, asked["to"], asked["body"], asked["version"])
        return weighed if isinstance(weighed, Response) else Response(weighed_info(weighed))


class WeighedIntakeView(SiteView):
    """An intake that is thought about."""

    @operation("lookAtIntake", responses=shapes.WeighedIntake, errors=[422])
    def get(self, request: Request, site: str, number: int) -> Response:
        """What finishing an intake would bring, and what that changes on pages; it is not finished."""
        report, weighed = weigh_intake(find_intake(site, number))
        return Response({"report": report, "impact": weighed_info(weighed)})


class BackToLiveView(SiteView):
    """The draft as it is live."""

    @operation("backToLive", request=shapes.BackRequest, responses={204: None}, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Take the draft's layout back to what is live, all of it or one part, as one edit."""
        back_to_live(site, request.user, parsed(shapes.BackRequest, request.data)["part"])
        return Response(status=204)


class RevisionsView(SiteView):
    """Published states."""

    @operation("listRevisions", parameters=stretch_parameters(), responses=listing(shapes.RevisionRow))
    def get(self, request: Request, site: str) -> Response:
        """The revisions, newest first."""
        record = self.record
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(Revision.objects.filter(site=record).defer("archive").select_related("by"))
        newest = newest_revision(record)
        return Response(stretch.listed([_revision(one, newest) for one in records], total))

    @operation(
        "publish",
        role="publisher",
        request=shapes.PublishRequest,
        responses={201: shapes.RevisionRow},
        errors=[409, 422],
    )
    def post(self, request: Request, site: str) -> Response:
        """Publish the draft; refused when it was edited since its impact was looked at."""
        body = parsed(shapes.PublishRequest, request.data)
        record = services.publish(site, request.user, body["note"], body["version"], body["overrule"], body["parts"])
        return made(_revision(record, record), f"/api/sites/{site}/revisions/{record.number}")


class PlansView(SiteView):
    """Publications at a moment."""

    @operation("listPlans", parameters=stretch_parameters(), responses=listing(shapes.PlanRow))
    def get(self, request: Request, site: str) -> Response:
        """What waits to be published and what became of what did, the latest moment first."""
        record = self.record
        stretch = Stretch.asked(request)
        found = Plan.objects.filter(site=record).exclude(state="dropped").defer("archive").select_related("by")
        records, total = stretch.of_records(found)
        return Response(stretch.listed([_plan(record, one) for one in records], total))

    @operation(
        "planPublication",
        role="publisher",
        request=shapes.PlanRequest,
        responses={201: shapes.PlanRow},
        errors=[409, 422],
    )
    def post(self, request: Request, site: str) -> Response:
        """Freeze the draft now, publish it at a moment; refused then where something else was published meanwhile."""
        body = parsed(shapes.PlanRequest, request.data)
        made_plan = planning.plan(
            site, request.user, body["at"], body["note"], body["version"], body["overrule"], body["parts"]
        )
        return made(_plan(self.record, made_plan), f"/api/sites/{site}/plans/{made_plan.pk}")


class PlanView(SiteView):
    """One publication at a moment."""

    @operation("dropPlan", role="publisher", responses={204: None})
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Let go of it while it waits; the draft stays as it is."""
        planning.drop(site, request.user, number)
        return Response(status=204)


def _plan(site: Site, record: Plan) -> dict[str, Any]:
    return {
        "id": record.pk,
        "at": write_moment(record.at.astimezone(ZoneInfo(site.time_zone)).replace(tzinfo=None)),
        "by": record.by.get_username() if record.by else None,
        "note": record.note,
        "state": record.state,
        "told": record.told,
        "revision": record.revision,
        "changes": len(record.summary),
    }


class RevisionView(SiteView):
    """One published state."""

    @operation("getRevision", responses=shapes.RevisionRow)
    def get(self, request: Request, site: str, number: int) -> Response:
        """One revision."""
        return Response(_revision(find_revision(self.record, number), newest_revision(self.record)))


class AgainView(SiteView):
    """A published state as what is live."""

    @operation(
        "publishAgain",
        role="publisher",
        request=shapes.AgainRequest,
        responses={201: shapes.RevisionRow},
        errors=[409, 422],
    )
    def post(self, request: Request, site: str, number: int) -> Response:
        """Make a revision live again at once, as a new one; the draft stays as it is."""
        body = parsed(shapes.AgainRequest, request.data)
        record = services.publish_again(site, request.user, number, body["note"], body["overrule"])
        return made(_revision(record, record), f"/api/sites/{site}/revisions/{record.number}")


class CompareView(SiteView):
    """Two published states."""

    @operation("compareRevisions", responses=shapes.ImpactInfo, errors=[409])
    def get(self, request: Request, site: str, number: int, other: int) -> Response:
        """What differs between a revision and another: the parts, and what comes out differently where for whom."""
        record = self.record
        return Response(weighed_info(services.compare(record, opened(record, number), opened(record, other))))


class BringBackView(SiteView):
    """A published state as the draft."""

    @operation("bringBack", responses={204: None}, errors=[409])
    def post(self, request: Request, site: str, number: int) -> Response:
        """Make the draft's layout what a revision was, as one edit; nothing is published by that."""
        bring_back(site, request.user, number)
        return Response(status=204)


def _revision(record: Revision, newest: Revision | None) -> dict[str, Any]:
    return {
        "number": record.number,
        "published": record.published,
        "by": record.by.get_username() if record.by else None,
        "note": record.note,
        "live": newest is not None and record.pk == newest.pk,
        "overruled": record.overruled,
        "chosen": record.chosen,
        "changes": [_summed_up(change) for change in record.summary],
    }


def _summed_up(change: dict[str, Any]) -> dict[str, Any]:
    """A change as a revision remembers it; what was published before changes were worded has names instead."""
    return {
        "what": change["what"],
        "how": change["how"],
        "words": change.get("words") or change.get("name", ""),
        "part": "",
        "count": change["count"],
    }
