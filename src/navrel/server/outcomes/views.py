"""What pages come to, and why."""

from __future__ import annotations

from dataclasses import asdict
from datetime import timedelta
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.calendar.schedule import write_moment
from navrel.core.cascade.bulk import in_place_pages, pages_filled, resolve_all, unseated_pages
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import is_in_place, seated_slots
from navrel.core.errors import QueryError
from navrel.core.language.query import parse_search
from navrel.core.layout.model import TEMPLATE, Target
from navrel.core.questions.boundaries import boundaries
from navrel.core.questions.places import PlaceOf, all_places
from navrel.core.questions.reach import templates_with
from navrel.server.api.errors import Missing, ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.shapes import PathsRequest
from navrel.server.api.telling import outcome_info, page_bits, page_row
from navrel.server.api.views import (
    IF_NONE_MATCH,
    LENS,
    PATH,
    TARGET,
    SiteView,
    digest_tag,
    known_target,
    parsed,
    read_lens,
    unchanged,
)
from navrel.server.bindings.standing import standing_in

from . import shapes
from .drawn import keep_measured, measured
from .findings import finding_info, findings, reasons, set_aside, take_up
from .models import Measurement
from .telling import (
    acts_for_somebody,
    looks_info,
    pages_in_use,
    pin_info,
    trace_info,
    turns_info,
    unlike_info,
    why_not_info,
)

#: Pages whose looks are compared in one answer: as many as stand in sight.
MOST_UNLIKE = 100
#: How far ahead is looked for what changes, in days: when nothing is said, and at the most.
USUAL_DAYS = 42
MOST_DAYS = 3660

TARGETS = OpenApiParameter(
    "targets", str, description="The targets wanted, parted by commas; all that the site has when not given"
)


DAYS = OpenApiParameter("days", int, description=f"How far ahead, in days; {USUAL_DAYS} when not given")
QUERY = OpenApiParameter("query", str, description="Which pages count, as a search; all when not given")


class LayoutView(SiteView):
    """What pages come to."""

    @operation(
        "getLayout",
        parameters=[*LENS, TARGETS, IF_NONE_MATCH],
        responses=shapes.LayoutInfo,
        errors=[422],
    )
    def get(self, request: Request, site: str) -> Response:
        """What targets come to on every page, through the lens, and where there is something in the others."""
        state = self.draft()
        lens = self.lens(state)
        named = request.query_params.get("targets", "")
        wanted = [known_target(state, text, "targets") for text in named.split(",") if text]
        # Where no rule has a schedule, the moment makes no difference.
        tag = digest_tag("layout", site, state.version, lens.visitor, lens.moment if state.is_timed else None, named)
        if answer := unchanged(request, tag):
            return answer
        resolved = resolve_all(state.index, state.layout, lens, state.targets)
        found = unseated_pages(state.index, state.layout, lens, resolved)
        unseated = {Target("slot", name): pages for name, pages in found.items()}
        # Pages in their own HTML use no template.
        unseated[TEMPLATE] = in_place_pages(state.index, resolved) & pages_filled(resolved[TEMPLATE])
        targets = wanted or list(resolved)
        return Response(
            {
                "version": state.version,
                "columns": [
                    {
                        "target": str(target),
                        "codes": resolved[target].codes,
                        "outcomes": [outcome_info(outcome) for outcome in resolved[target].outcomes],
                        "unseated": unseated[target].numbers() if target in unseated else [],
                        "locks": [
                            {"page": number, **note._asdict()}
                            for number, note in state.lock_notes.get(target.name, {}).items()
                            if target.kind == "slot"
                        ],
                    }
                    for target in targets
                ],
                "others": [
                    {"target": str(target), "pages": page_bits(used)}
                    for target, found in resolved.items()
                    if target not in targets and (used := pages_in_use(found))
                ],
            },
            headers={"ETag": tag},
        )


class PlacesView(SiteView):
    """Every place of a site."""

    @operation(
        "listPlaces", parameters=[*LENS, *stretch_parameters(MOST)], responses=listing(shapes.PlaceInfo), errors=[422]
    )
    def get(self, request: Request, site: str) -> Response:
        """Every slot, used or not: what has it, who owns it, what it shows, on how many pages."""
        state = self.draft()
        stretch = Stretch.asked(request, MOST)
        found = all_places(state.index, state.layout, self.lens(state))
        return Response(stretch.listed([_place(one) for one in stretch.of(found)], len(found)))


def _place(place: PlaceOf) -> dict[str, Any]:
    return {
        **asdict(place),
        "owners": [{"owner": note.owner, "why": note.why} for note in place.owners],
        "shown": [{"slug": slug, "pages": count} for slug, count in place.shown],
    }


class LooksView(SiteView):
    """Every look of a page."""

    @operation("listLooks", parameters=[*LENS, PATH], responses=shapes.LooksInfo, errors=[422])
    def get(self, request: Request, site: str) -> Response:
        """Every distinct layout of a page over all visitors, from now on: who sees it, and where they differ."""
        state = self.draft()
        page, lens = state.page(request.query_params.get("path", "")), self.lens(state)
        # A lens of now is that of the very moment from which on is looked, not of one just before it.
        since = state.document.now() if request.query_params.get("at") else lens.moment
        return Response(looks_info(state, page, lens, since))


class BoundariesView(SiteView):
    """When anything changes by itself."""

    @operation(
        "listBoundaries",
        parameters=[DAYS, QUERY, *stretch_parameters()],
        responses=listing(shapes.BoundaryInfo),
        errors=[422],
    )
    def get(self, request: Request, site: str) -> Response:
        """The moments of the coming days at which rules, or widgets in sidebars, come into force or cease to be."""
        state = self.draft()
        given = request.query_params
        days = given.get("days", "") or str(USUAL_DAYS)
        if not (days.isascii() and days.isdigit() and 1 <= int(days) <= MOST_DAYS):
            raise Refused.for_parameter(ParameterProblem("days", f"this is a number from 1 to {MOST_DAYS}", "days"))
        try:
            pages = state.index.query(parse_search(given["query"])) if given.get("query") else None
        except QueryError as error:
            raise Refused.for_parameter(ParameterProblem.of("query", error)) from None
        stretch = Stretch.asked(request)
        since = state.document.now()
        found = boundaries(state.index, state.layout, since, since + timedelta(days=int(days)), pages)
        rows = [{"at": write_moment(one.moment), "begins": one.begins, "ends": one.ends} for one in stretch.of(found)]
        return Response(stretch.listed(rows, len(found)))


class UnlikeView(SiteView):
    """What is not the same for everyone at any time."""

    @operation(
        "listUnlike",
        role="viewer",
        parameters=stretch_parameters(MOST_UNLIKE),
        request=PathsRequest,
        responses=listing(shapes.UnlikeInfo),
        errors=[422],
    )
    def post(self, request: Request, site: str) -> Response:
        """In which targets some pages differ between visitors, or by themselves, from now on."""
        state = self.draft()
        stretch = Stretch.asked(request, MOST_UNLIKE)
        paths = [path for path in parsed(PathsRequest, request.data)["paths"] if path in state.index.tree.numbers]
        since = state.document.now()
        rows = [unlike_info(state, state.page(path), since) for path in stretch.of(paths)]
        return Response(stretch.listed(rows, len(paths)))


class FindingsView(SiteView):
    """What the checks find."""

    @operation("listFindings", parameters=stretch_parameters(MOST), responses=listing(shapes.FindingInfo))
    def get(self, request: Request, site: str) -> Response:
        """What the checks find about the draft now, the worst first: what, why, how to mend it, and where."""
        state = self.draft()
        stretch = Stretch.asked(request, MOST)
        found = findings(site, state)
        known = reasons(self.record)
        return Response(stretch.listed([finding_info(state, one, known) for one in stretch.of(found)], len(found)))


class AsideView(SiteView):
    """One finding, told or let be."""

    @operation("setAside", request=shapes.AsideRequest, responses={204: None}, errors=[422])
    def put(self, request: Request, site: str, key: str) -> Response:
        """Let a finding be, with why, until anything of it changes."""
        body = parsed(shapes.AsideRequest, request.data)
        set_aside(self.record, self.draft(), key, body["reason"], request.user)
        return Response(status=204)

    @operation("takeUp", responses={204: None})
    def delete(self, request: Request, site: str, key: str) -> Response:
        """Tell of it again."""
        take_up(self.record, key)
        return Response(status=204)


class MeasuredView(SiteView):
    """What a browser found amiss in drawn pages."""

    @operation("getMeasured", responses={200: shapes.MeasuredInfo, 204: None})
    def get(self, request: Request, site: str) -> Response:
        """When pages were last drawn and measured; 204 where they never were. What was found is among the findings."""
        kept = measured(self.record)
        return Response(status=204) if kept is None else Response(_measured_info(kept))

    @operation("keepMeasured", request=shapes.MeasuredRequest, responses=shapes.MeasuredInfo, errors=[422])
    def put(self, request: Request, site: str) -> Response:
        """Keep what was found amiss, in the place of what was found before."""
        body = parsed(shapes.MeasuredRequest, request.data)
        return Response(_measured_info(keep_measured(self.record, body["version"], body["items"], request.user)))


def _measured_info(kept: Measurement) -> dict[str, Any]:
    by = kept.by.get_username() if kept.by else None
    return {"version": kept.version, "by": by, "made": kept.made}


class TraceView(SiteView):
    """Why pages come to what they do."""

    @operation("getTrace", parameters=[*LENS, PATH, TARGET], responses=shapes.TraceInfo, errors=[422])
    def get(self, request: Request, site: str) -> Response:
        """Why one target of one page comes to what it does."""
        state = self.draft()
        page = state.page(request.query_params.get("path", ""))
        target = known_target(state, request.query_params.get("target", ""))
        lens = self.lens(state)
        found = resolve_page(state.index.tree, state.layout, page, lens, (target,))
        outcomes = {one: trace.outcome for one, trace in found.items()}
        seated = seated_slots(state.layout, page, outcomes, lens, state.index.tree)
        in_place = is_in_place(page, outcomes)
        return Response(
            {
                **page_row(page),
                **trace_info(found[target]),
                "seated": not in_place if target == TEMPLATE else target.kind != "slot" or target.name in seated,
                "in_place": in_place,
                "alone": not any(acts_for_somebody(state, page, entry) for entry in found[target].entries[1:]),
                "templates": templates_with(state.layout, target.name) if target.kind == "slot" else [],
                "pin": pin_info(state, page, target),
                **turns_info(state, page, target, lens),
            }
        )


class WhyNotView(SiteView):
    """Why something does not show."""

    @operation("askWhyNot", role="viewer", request=shapes.WhyNotRequest, responses=shapes.WhyNotInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """Why a rule does not show on a page, and which single changes would make it, each with its impact."""
        body = parsed(shapes.WhyNotRequest, request.data)
        record = self.record
        state = self.draft()
        page, target = state.page(body["path"]), known_target(state, body["target"])
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        rule = next((one for one in state.layout.rules if one.key == body["rule"]), None)
        action = next((one for one in rule.actions if one.target == target), None) if rule else None
        if rule is None or action is None:
            raise Missing("no-rule", "There is no rule of that kind that acts there")
        return Response(why_not_info(state, page, lens, rule, action, standing_in(record, state)))
