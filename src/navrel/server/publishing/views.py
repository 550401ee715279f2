"""Preview, impact, publishing, revisions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any
from zoneinfo import ZoneInfo

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.calendar.schedule import write_moment
from navrel.core.files.reading import read_dresses
from navrel.core.language.visitor import Lens
from navrel.core.pages.page import Page
from navrel.core.questions.shifts import Redraw, Shift
from navrel.rendering.dress import Form
from navrel.rendering.page import DrawnPage, draw_page
from navrel.rendering.palette import colour
from navrel.server.api.errors import Missing, ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.telling import outcome_info, page_row, somewhere
from navrel.server.api.views import LENS, PATH, SiteView, body_of, made, parsed, read_lens
from navrel.server.inventory.models import Content, Site
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.library.models import Piece
from navrel.server.publishing.changes import back_to_live, bring_back, changes_since_live
from navrel.server.publishing.live import LiveState, find_revision, live, newest_revision, opened, served_at
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site
from navrel.server.sitestate.state import SiteState
from navrel.wording.audiences import seen_by

from . import planning, services, shapes
from .models import Plan, Revision

#: Audiences, shifts and redraws in one answer; most pages first.
MOST_TOLD = 200
STATE = OpenApiParameter(
    "state", str, description="`draft`, `live`, or the number of a revision; the draft when not given"
)
STANDING = OpenApiParameter(
    "standing", bool, description="Whether it is told how the draft stands to what is live; it is when not given"
)
OUTLINES = OpenApiParameter("outlines", bool, description="Whether the slots are outlined")


class ImpactView(SiteView):
    """What publishing would change."""

    @operation("getImpact", responses=shapes.ImpactInfo)
    def get(self, request: Request, site: str) -> Response:
        """What differs from what is live: the parts, and what comes out differently for whom, when, on which pages."""
        record = find_site(site)
        state = draft(record)
        found = services.impact_since_live(record)
        since = state.document.now()
        keys = {rule.name: rule.key for rule in state.layout.rules}
        serving = live(record)
        layouts = [*([serving.layout] if serving else []), state.layout]
        pieces = {slug: piece for layout in layouts for slug, piece in layout.pieces.items()}
        dresses = {slug: dress for layout in layouts for slug, dress in layout.dresses.items()}
        return Response(
            {
                "version": state.version,
                "changes": [asdict(change) for change in changes_since_live(record)],
                "pages": len(found.paths),
                "audiences": [
                    {"words": seen_by(seen, since), **somewhere(pages)}
                    for seen, pages in found.by_audience()[:MOST_TOLD]
                ],
                "shifts": [
                    {
                        "target": str(one.target),
                        "before": outcome_info(one.before, keys) if one.before else None,
                        "after": outcome_info(one.after, keys) if one.after else None,
                        "visible": one.is_visible,
                        "words": seen_by(one.seen, since),
                        **somewhere(one.pages),
                    }
                    for one in found.shifts[:MOST_TOLD]
                ],
                "redraws": [
                    {"piece": one.piece, "dress": one.dress, "words": seen_by(one.seen, since), **somewhere(one.pages)}
                    for one in found.redraws[:MOST_TOLD]
                ],
                "own": somewhere(found.own),
                "untold": somewhere(found.untold),
                "names": {slug: piece.name for slug, piece in pieces.items()},
                "dresses": {slug: dress.name for slug, dress in dresses.items()},
            }
        )


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
        record = find_site(site)
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(Revision.objects.filter(site=record).defer("archive").select_related("by"))
        newest = newest_revision(record)
        return Response(stretch.listed([_revision(one, newest) for one in records], total))

    @operation("publish", request=shapes.PublishRequest, responses={201: shapes.RevisionRow}, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Publish the draft; refused when it was edited since its impact was looked at."""
        body = parsed(shapes.PublishRequest, request.data)
        record = services.publish(site, request.user, body["note"], body["version"], body["overrule"])
        return made(_revision(record, record), f"/api/sites/{site}/revisions/{record.number}")


class PlansView(SiteView):
    """Publications at a moment."""

    @operation("listPlans", parameters=stretch_parameters(), responses=listing(shapes.PlanRow))
    def get(self, request: Request, site: str) -> Response:
        """What waits to be published and what became of what did, the latest moment first."""
        record = find_site(site)
        stretch = Stretch.asked(request)
        found = Plan.objects.filter(site=record).exclude(state="dropped").defer("archive").select_related("by")
        records, total = stretch.of_records(found)
        return Response(stretch.listed([_plan(record, one) for one in records], total))

    @operation("planPublication", request=shapes.PlanRequest, responses={201: shapes.PlanRow}, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Freeze the draft now, publish it at a moment; refused then where something else was published meanwhile."""
        body = parsed(shapes.PlanRequest, request.data)
        made_plan = planning.plan(site, request.user, body["at"], body["note"], body["version"], body["overrule"])
        return made(_plan(find_site(site), made_plan), f"/api/sites/{site}/plans/{made_plan.pk}")


class PlanView(SiteView):
    """One publication at a moment."""

    @operation("dropPlan", responses={204: None})
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Let go of it while it waits; the draft stays as it is."""
        planning.drop(site, number)
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
        record = find_site(site)
        return Response(_revision(find_revision(record, number), newest_revision(record)))


class BringBackView(SiteView):
    """A published state as the draft."""

    @operation("bringBack", responses={204: None}, errors=[409])
    def post(self, request: Request, site: str, number: int) -> Response:
        """Make the draft's layout what a revision was, as one edit; nothing is published by that."""
        bring_back(site, request.user, number)
        return Response(status=204)


class PreviewView(SiteView):
    """Pages as they are rendered."""

    @operation(
        "previewPage", parameters=[*LENS, PATH, STATE, OUTLINES, STANDING], responses=shapes.PreviewInfo, errors=[422]
    )
    def get(self, request: Request, site: str) -> Response:
        """A page as it is rendered in some state, with its slots outlined or not.

        Where there is no page at an address, what is served there instead: the site's not-found page.
        """
        record = find_site(site)
        wanted = request.query_params.get("state", "draft")
        compared = wanted == "draft" and request.query_params.get("standing") != "false"
        serving = live(record)
        state = _state(record, wanted, serving)
        lens = self.lens(state)
        asked = request.query_params.get("path", "")
        page = served_at(state, asked)
        if page is None:
            raise Missing("no-page", f"There is no page {asked}, and none that says so")
        colours = {piece.slug: colour(piece.colour) for piece in Piece.objects.filter(site=record)}
        outlines = colours if request.query_params.get("outlines") == "true" else None
        drawn = _drawn(record, state, page, lens, outlines)
        return Response(
            {
                **page_row(page),
                "asked": asked,
                "instead": page.kind == "missing" and page.path != asked,
                "html": drawn.html,
                "revision": state.revision.number if isinstance(state, LiveState) else None,
                "standing": _standing(record, state, serving, page, lens) if serving and compared else None,
                "targets": [
                    {
                        "target": str(target),
                        "outcome": outcome_info(found.outcome),
                        "by": found.outcome.by.name if found.outcome.by else None,
                        "seated": target.kind != "slot" or target.name in drawn.seated,
                    }
                    for target, found in drawn.traces.items()
                ],
            }
        )


def _state(record: Site, wanted: str, serving: LiveState | None) -> SiteState:
    """The draft, what is live, or a revision. Raises Missing, and Refused."""
    if wanted == "draft":
        return draft(record)
    if wanted == "live":
        if serving is None:
            raise Missing("nothing-live", "Nothing is published yet", "Publish the draft first.")
        return serving
    if not (wanted.isascii() and wanted.isdigit()):
        raise Refused.for_parameter(
            ParameterProblem("state", "this is draft, live, or the number of a revision", "no-state")
        )
    return opened(record, int(wanted))


class DressedView(SiteView):
    """Pages in a dress."""

    @operation("drawDressed", request=shapes.DressedRequest, responses=shapes.Dressed, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """A page of the draft in a dress as it is being edited, saved or not."""
        body = parsed(shapes.DressedRequest, request.data)
        record = find_site(site)
        state = draft(record)
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        edited = body_of(request)["dress"]
        dresses = read_dresses([{**edited, "name": edited.get("name") or "x"}])
        document = replace(state.document, layout=replace(state.layout, dresses=dresses))
        worn = replace(state, document=document)
        return Response({"html": _drawn(record, worn, state.page(body["path"]), lens, form=body.get("form", "")).html})


def _drawn(
    record: Site,
    state: SiteState,
    page: Page,
    lens: Lens,
    outlines: Mapping[str, str] | None = None,
    form: Form = "",
) -> DrawnPage:
    """A page of a state, with its own content of then."""
    if isinstance(state, LiveState):
        digest = state.contents.get(page.path, "")
    else:
        mine = PageRecord.objects.filter(site=record, path=page.path)
        digest = mine.values_list("content_id", flat=True).first() or ""
    content = Content.objects.filter(pk=digest).values_list("html", flat=True).first() or ""
    return draw_page(state.source, page, content, lens, outlines=outlines, form=form)


def _standing(record: Site, state: SiteState, published: LiveState, page: Page, lens: Lens) -> dict[str, Any]:
    """How the draft of a page stands to what is live: through the lens as it is drawn, for all others by impact."""
    live_page = published.index.tree.page(page.path)
    same = (
        live_page is not None
        and _drawn(record, state, page, lens).html == _drawn(record, published, live_page, lens).html
    )
    found = services.impact_since_live(record)
    differing = found.on(page.path)
    own = any(one.path == page.path for one in found.own)
    here = [one for one in differing if any(seen.admits(lens) for seen in one.seen)]
    others = dict.fromkeys(one.seen for one in differing if one not in here)
    since = state.document.now()
    return {
        "same_through_lens": same,
        "targets": list(dict.fromkeys(str(one.target) for one in here if isinstance(one, Shift))),
        "redraws": list(dict.fromkeys(one.piece for one in here if isinstance(one, Redraw) and one.piece)),
        "dress": any(isinstance(one, Redraw) and one.dress for one in here),
        "own": own,
        "others": [seen_by(one, since) for one in others],
        "untold": any(one.path == page.path for one in found.untold),
    }


def _revision(record: Revision, newest: Revision | None) -> dict[str, Any]:
    return {
        "number": record.number,
        "published": record.published,
        "by": record.by.get_username() if record.by else None,
        "note": record.note,
        "live": newest is not None and record.pk == newest.pk,
        "overruled": record.overruled,
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
