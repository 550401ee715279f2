"""Rules and pins."""

from __future__ import annotations

from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.pages.pageset import PageSet
from navrel.core.questions.pins import pinned_path
from navrel.core.questions.reach import measure, reaches, rule_pages
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.shapes import PathsRequest, PieceInfo, RuleTree
from navrel.server.api.views import (
    IF_MATCH,
    LENS,
    PATH,
    TARGET,
    SiteView,
    body_of,
    known_target,
    made,
    matched_version,
    parsed,
    tagged,
)
from navrel.server.library.telling import piece_info
from navrel.server.sitestate.records import rule_tree
from navrel.wording.audiences import audience_words
from navrel.wording.pages import PageWords

from . import amending, living, pins, services, shapes
from .models import Rule
from .telling import measures_info


class RulesView(SiteView):
    """The rules."""

    @operation(
        "listRules", parameters=[*LENS, *stretch_parameters(MOST)], responses=listing(shapes.RuleRow), errors=[422]
    )
    def get(self, request: Request, site: str) -> Response:
        """The rules in cascade order, with their reach and where they win through the lens."""
        state = self.draft()
        lens = self.lens(state)
        stretch = Stretch.asked(request, MOST)
        reached = reaches(state.index, state.layout, lens)
        found = {rule.key: (rule, reach) for rule, reach in zip(state.layout.rules, reached, strict=True)}
        words, since = PageWords(state.document, state.index), state.document.now()
        records, total = stretch.of_records(Rule.objects.filter(site__slug=site))
        rows = []
        for record in records:
            # One that came after the state was read is told of next time.
            if record.pk in found:
                rule, reach = found[record.pk]
                measures = measures_info(measure(state.index, state.layout, lens, rule, reach))
                rows.append(
                    {
                        **_saved(record),
                        **measures,
                        "reach": len(reach.pages),
                        "pin": pinned_path(rule),
                        "where": words.where(rule.condition.include, rule.condition.exclude),
                        "who": audience_words(rule.condition.audience, since),
                    }
                )
        return Response(stretch.listed(rows, total))

    @operation("makeRule", request=RuleTree, responses={201: shapes.SavedRule}, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """A new rule, at the top of the list."""
        return _made(site, services.make_rule(site, body_of(request), by=request.user))


class SeveralRulesView(SiteView):
    """Several rules at once."""

    @operation("changeSeveral", request=shapes.SeveralRequest, responses=shapes.SeveralInfo, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Switch several rules, give them a priority, or remove them, in one edit."""
        body = parsed(shapes.SeveralRequest, request.data)
        if body["do"] == "remove":
            return Response({"rules": services.remove_several(site, body["ids"], by=request.user)})
        prioritised = body["do"] == "prioritise"
        changes = {"priority": body.get("priority", 0)} if prioritised else {"on": body["do"] == "switch-on"}
        return Response({"rules": services.change_several(site, body["ids"], changes, by=request.user)})


class RuleView(SiteView):
    """One rule."""

    @operation("getRule", responses=shapes.SavedRule)
    def get(self, request: Request, site: str, number: int) -> Response:
        """One rule, with its version in the ETag."""
        record = services.find_rule(site, number)
        return tagged(_saved(record), record.version)

    @operation(
        "changeRule",
        parameters=[IF_MATCH],
        request=RuleTree,
        responses=shapes.SavedRule,
        errors=[412, 422, 428],
    )
    def put(self, request: Request, site: str, number: int) -> Response:
        """Replace a rule; 412 with the other version where somebody changed it meanwhile."""
        version = matched_version(request)
        record = services.change_rule(site, number, body_of(request), version, by=request.user)
        return tagged(_saved(record), record.version)

    @operation("removeRule", parameters=[IF_MATCH], responses={204: None}, errors=[412, 428])
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Remove a rule; 412 where somebody changed it meanwhile."""
        services.remove_rule(site, number, matched_version(request), by=request.user)
        return Response(status=204)


class CopyRuleView(SiteView):
    """Copies of a rule."""

    @operation("copyRule", responses={201: shapes.SavedRule}, errors=[409])
    def post(self, request: Request, site: str, number: int) -> Response:
        """A copy right below the rule, switched off."""
        return _made(site, services.copy_rule(site, number, by=request.user))


class RulePagesView(SiteView):
    """Single pages in the reach of a rule."""

    @operation(
        "changeReach",
        parameters=[IF_MATCH],
        request=shapes.PagesRequest,
        responses=shapes.SavedRule,
        errors=[409, 412, 422, 428],
    )
    def post(self, request: Request, site: str, number: int) -> Response:
        """Bring pages into the reach of a rule, or leave them out of it; every other page stays as it is."""
        version = matched_version(request)
        body = parsed(shapes.PagesRequest, request.data)
        amend = amending.add_pages if body["do"] == "add" else amending.leave_out_pages
        record = amend(site, number, body["paths"], version, by=request.user)
        return tagged(_saved(record), record.version)


class ReachingView(SiteView):
    """Which rules reach some pages."""

    @operation(
        "countReaching",
        role="viewer",
        parameters=stretch_parameters(MOST),
        request=PathsRequest,
        responses=listing(shapes.ReachingInfo),
        errors=[422],
    )
    def post(self, request: Request, site: str) -> Response:
        """How many of some pages each rule reaches, in cascade order; pages that there are not are passed over."""
        state = self.draft()
        stretch = Stretch.asked(request, MOST)
        numbers = state.index.tree.numbers
        asked = parsed(PathsRequest, request.data)["paths"]
        wanted = PageSet.of(sorted({numbers[path] for path in asked if path in numbers}), state.index.size)
        rows = [
            {"id": rule.key, "pages": len(rule_pages(state.index, rule) & wanted)}
            for rule in stretch.of(state.layout.rules)
        ]
        return Response(stretch.listed(rows, len(state.layout.rules)))


class MoveRuleView(SiteView):
    """Where a rule stands."""

    @operation(
        "moveRule",
        parameters=[IF_MATCH],
        request=shapes.MoveRequest,
        responses=shapes.SavedRule,
        errors=[412, 422, 428],
    )
    def post(self, request: Request, site: str, number: int) -> Response:
        """Move a rule to a position of the list; 412 where somebody changed it meanwhile."""
        version = matched_version(request)
        body = parsed(shapes.MoveRequest, request.data)
        record = services.move_rule(site, number, body["position"], version, body.get("priority"), by=request.user)
        return tagged(_saved(record), record.version)


class PinsView(SiteView):
    """Choices made on one page."""

    @operation("pin", request=shapes.PinRequest, responses=shapes.SavedRule, errors=[409, 422])
    def put(self, request: Request, site: str) -> Response:
        """Pin a choice on one page; it replaces what is pinned on the same target."""
        body = parsed(shapes.PinRequest, request.data)
        action = body_of(request)["action"]
        record = pins.pin(site, body["path"], action, body.get("priority"), by=request.user)
        return tagged(_saved(record), record.version)

    @operation("pinAll", request=shapes.PinAllRequest, responses=shapes.PinnedInfo, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Pin the same choice on several pages, each alone, in one edit."""
        body = parsed(shapes.PinAllRequest, request.data)
        pages = pins.pin_all(site, body["paths"], body_of(request)["action"], by=request.user)
        return Response({"pages": pages})

    @operation("unpin", parameters=[PATH, TARGET], responses={204: None}, errors=[422])
    def delete(self, request: Request, site: str) -> Response:
        """Take what is pinned on a target off a page."""
        given = request.query_params
        target = known_target(self.draft(), given.get("target", ""))
        pins.unpin(site, given.get("path", ""), target, by=request.user)
        return Response(status=204)


class ReplacePieceView(SiteView):
    """One piece in the place of another."""

    @operation("replacePiece", request=shapes.ReplaceRequest, responses=shapes.Replaced, errors=[409, 422])
    def post(self, request: Request, site: str, piece: str) -> Response:
        """Put another piece wherever this one is used, in one edit."""
        wanted = parsed(shapes.ReplaceRequest, request.data)["by"]
        return Response({"uses": living.replace_piece(site, piece, wanted, by=request.user)})


class VaryPieceView(SiteView):
    """A piece of one page's own."""

    @operation("varyPiece", request=shapes.VaryRequest, responses={201: PieceInfo}, errors=[409, 422])
    def post(self, request: Request, site: str, piece: str) -> Response:
        """A copy of a piece, pinned on one page; the shared one stays as it is."""
        body = parsed(shapes.VaryRequest, request.data)
        target = known_target(self.draft(), body["target"])
        record = living.vary_piece(site, piece, body["path"], target, by=request.user)
        return made(piece_info(record), f"/api/sites/{site}/pieces/{record.slug}", record.version)


def _made(site: str, record: Rule) -> Response:
    return made(_saved(record), f"/api/sites/{site}/rules/{record.pk}", record.version)


def _saved(record: Rule) -> dict[str, Any]:
    return {"id": record.pk, "version": record.version, "position": record.position, "rule": rule_tree(record)}
