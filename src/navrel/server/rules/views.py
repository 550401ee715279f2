"""Rules, and what they come to: layouts, traces, reach, suggestions."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.calendar.schedule import read_moment, write_moment
from navrel.core.cascade.bulk import resolve_all, unseated_pages
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import seated_slots
from navrel.core.errors import QueryError
from navrel.core.files.reading import read_rule
from navrel.core.language.query import Domain, Query, Term, parse_query, parse_search
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.language.visitor_terms import print_visitor
from navrel.core.layout.model import TEMPLATE, Rule, Target
from navrel.core.questions.pins import pinned_path
from navrel.core.questions.reach import Reach, reaches, templates_with
from navrel.core.questions.suggest import suggest
from navrel.server.problems import Missing
from navrel.server.states import State, draft, find_site, rule_tree
from navrel.server.views import (
    IF_MATCH,
    LENS,
    OpenApiParameter,
    SiteView,
    body_of,
    extend_schema,
    made,
    matched_version,
    parsed,
    read_lens,
    tagged,
)
from navrel.wording import visitor_words

from . import pins, services
from . import serializers as shapes
from .models import Rule as RuleRecord
from .reaching import measures, reach_of
from .tracing import acts_for_somebody, outcome_tree, pin_tree, trace_tree

MOST_EXAMPLES = 8


class RulesView(SiteView):
    @extend_schema(operation_id="listRules", parameters=LENS, responses=shapes.RuleRow(many=True))
    def get(self, request: Request, site: str) -> Response:
        """Every rule in cascade order, with its reach and where it wins through the lens. At most 2,000."""
        state = self.draft(site)
        lens = self.lens(state)
        reached = reaches(state.index, state.layout, lens)
        found = {rule.key: (rule, reach) for rule, reach in zip(state.layout.rules, reached, strict=True)}
        records = RuleRecord.objects.filter(site__slug=site)[: services.MAX_RULES]
        return Response([_row(state, lens, record, *found[record.pk]) for record in records if record.pk in found])

    @extend_schema(operation_id="makeRule", request=shapes.RuleTree, responses={201: shapes.SavedRule})
    def post(self, request: Request, site: str) -> Response:
        """A new rule, at the top of the list."""
        return _made(site, services.make_rule(site, body_of(request)))


class RuleView(SiteView):
    @extend_schema(operation_id="getRule", responses=shapes.SavedRule)
    def get(self, request: Request, site: str, number: int) -> Response:
        """One rule."""
        record = services.find_rule(site, number)
        return tagged(_saved(record), record.version)

    @extend_schema(
        operation_id="changeRule", parameters=[IF_MATCH], request=shapes.RuleTree, responses=shapes.SavedRule
    )
    def put(self, request: Request, site: str, number: int) -> Response:
        """Replace a rule; 412 with the other version where somebody changed it meanwhile."""
        record = services.change_rule(site, number, body_of(request), matched_version(request))
        return tagged(_saved(record), record.version)

    @extend_schema(operation_id="removeRule", parameters=[IF_MATCH], responses={204: None})
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Remove a rule; 412 where somebody changed it meanwhile."""
        services.remove_rule(site, number, matched_version(request))
        return Response(status=204)


class CopyRuleView(SiteView):
    @extend_schema(operation_id="copyRule", request=None, responses={201: shapes.SavedRule})
    def post(self, request: Request, site: str, number: int) -> Response:
        """A copy right below the rule, switched off."""
        return _made(site, services.copy_rule(site, number))


class PlaceRuleView(SiteView):
    @extend_schema(
        operation_id="placeRule", parameters=[IF_MATCH], request=shapes.PlaceRequest, responses=shapes.SavedRule
    )
    def post(self, request: Request, site: str, number: int) -> Response:
        """Move a rule to a place of the list; 412 where somebody changed it meanwhile."""
        place = parsed(shapes.PlaceRequest, request.data)["place"]
        record = services.place_rule(site, number, place, matched_version(request))
        return tagged(_saved(record), record.version)


class LayoutView(SiteView):
    @extend_schema(
        operation_id="getLayout",
        parameters=[
            *LENS,
            OpenApiParameter("targets", str, description="Comma-separated; the template and all slots where empty"),
        ],
        responses=shapes.LayoutInfo,
    )
    def get(self, request: Request, site: str) -> Response:
        """What each target comes to on every page, through the lens."""
        record = find_site(site)
        state = draft(record)
        lens = self.lens(state)
        resolved = resolve_all(state.index, state.layout, lens, state.targets)
        unseated = unseated_pages(state.index, state.layout, lens, resolved)
        wanted = [text for text in request.query_params.get("targets", "").split(",") if text]
        targets = [target for target in resolved if (str(target) in wanted if wanted else target.kind != "setting")]
        return Response(
            {
                "version": state.version,
                "columns": [
                    {
                        "target": str(target),
                        "codes": resolved[target].codes,
                        "outcomes": [outcome_tree(outcome) for outcome in resolved[target].outcomes],
                        "unseated": unseated[target.name].numbers() if target.kind == "slot" else [],
                    }
                    for target in targets
                ],
            }
        )


class TraceView(SiteView):
    @extend_schema(
        operation_id="getTrace",
        parameters=[
            *LENS,
            OpenApiParameter("path", str, required=True),
            OpenApiParameter("target", str, required=True),
        ],
        responses=shapes.TraceInfo,
    )
    def get(self, request: Request, site: str) -> Response:
        """Why one target of one page comes to what it does."""
        state = self.draft(site)
        page = state.page(request.query_params.get("path", ""))
        target = Target.read(request.query_params.get("target", ""))
        if target not in state.targets:
            raise Missing("no-target", f"There is no slot and no setting {target} here")
        lens = self.lens(state)
        found = resolve_page(state.index.tree, state.layout, page, lens, (target,))
        slots = {one.name: trace.outcome for one, trace in found.items() if one.kind == "slot"}
        seated = seated_slots(state.layout, page, found[TEMPLATE].outcome, slots, lens, state.index.tree)
        return Response(
            {
                "path": page.path,
                "title": page.title,
                **trace_tree(found[target]),
                "seated": target.kind != "slot" or target.name in seated,
                "alone": not any(acts_for_somebody(state, page, entry) for entry in found[target].entries[1:]),
                "templates": templates_with(state.layout, target.name) if target.kind == "slot" else [],
                "pin": pin_tree(state, page, target),
            }
        )


class PinsView(SiteView):
    @extend_schema(operation_id="pin", request=shapes.PinRequest, responses=shapes.SavedRule)
    def put(self, request: Request, site: str) -> Response:
        """Pin a choice on one page; it replaces what is pinned on the same target."""
        body = parsed(shapes.PinRequest, request.data)
        record = pins.pin(site, body["path"], body_of(request)["action"], body.get("priority"))
        return tagged(_saved(record), record.version)

    @extend_schema(
        operation_id="unpin",
        parameters=[
            OpenApiParameter("path", str, required=True),
            OpenApiParameter("target", str, required=True),
        ],
        responses={204: None},
    )
    def delete(self, request: Request, site: str) -> Response:
        """Take what is pinned on a target off a page."""
        given = request.query_params
        pins.unpin(site, given.get("path", ""), Target.read(given.get("target", "")))
        return Response(status=204)


class LensView(SiteView):
    @extend_schema(operation_id="readLens", request=shapes.LensRequest, responses=shapes.LensInfo)
    def post(self, request: Request, site: str) -> Response:
        """A lens by its terms or its facts: both, and in words."""
        body = parsed(shapes.LensRequest, request.data)
        state = self.draft(site)
        language = state.document.language
        text = body.get("visitor", "")
        if "facts" in body:
            text = print_visitor(_visitor(body["facts"], language), language)
        at = body.get("at", "")
        visitor = read_lens(state, text, at).visitor
        return Response(
            {
                "visitor": print_visitor(visitor, language),
                "facts": {
                    "signed": visitor.signed, "roles": sorted(visitor.roles), "device": visitor.device,
                    "browser": visitor.browser, "accepts": visitor.accepts, "query": dict(visitor.query),
                    "referrer": visitor.referrer,
                },
                "words": visitor_words(visitor, language),
                "at": write_moment(read_moment(at)) if at else "",
            }
        )  # fmt: skip


class ReachView(SiteView):
    @extend_schema(operation_id="measureReach", request=shapes.ReachRequest, responses=shapes.ReachInfo)
    def post(self, request: Request, site: str) -> Response:
        """How far an edited rule would reach, before it is saved. `target` narrows the list to one of its targets."""
        body = parsed(shapes.ReachRequest, request.data)
        state = self.draft(site)
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        tree = body_of(request)["rule"]
        edited = replace(
            read_rule({**tree, "name": "edited rule"}, state.layout.pieces, state.layout.settings), key=body.get("id")
        )
        return Response(reach_of(state, lens, edited, body.get("target", "")))


class QueryView(SiteView):
    @extend_schema(operation_id="readQuery", request=shapes.QueryRequest, responses=shapes.QueryInfo)
    def post(self, request: Request, site: str) -> Response:
        """Read a query: its terms, its normal form and how many pages it matches, or what is wrong with it."""
        body = parsed(shapes.QueryRequest, request.data)
        state = self.draft(site)
        try:
            query = (
                parse_search(body["text"]) if body["domain"] == "search" else parse_query(body["text"], body["domain"])
            )
        except QueryError as error:
            problem = {
                "message": error.message, "hint": error.hint, "column": error.column, "length": error.length,
                "code": error.code,
            }  # fmt: skip
            return Response({"normal": "", "clauses": [], "pages": 0, "problem": problem})
        return Response(_query(state, query, body["domain"]))


class SuggestionsView(SiteView):
    @extend_schema(
        operation_id="suggestConditions", request=shapes.SuggestRequest, responses=shapes.SuggestionInfo(many=True)
    )
    def post(self, request: Request, site: str) -> Response:
        """Conditions that the given pages have in common, best first."""
        found = suggest(self.draft(site).index, parsed(shapes.SuggestRequest, request.data)["paths"])
        return Response(
            [
                {
                    "include": str(one.include),
                    "exclude": str(one.exclude),
                    "adds": len(one.adds),
                    "misses": len(one.misses),
                    "lasting": one.lasting,
                    "examples": [page.path for page in one.adds[:MOST_EXAMPLES]],
                }
                for one in found
            ]
        )  # fmt: skip


def _made(site: str, record: RuleRecord) -> Response:
    return made(_saved(record), record.version, f"/api/sites/{site}/rules/{record.pk}")


def _saved(record: RuleRecord) -> dict[str, Any]:
    return {"id": record.pk, "version": record.version, "place": record.place, "rule": rule_tree(record)}


def _row(state: State, lens: Lens, record: RuleRecord, rule: Rule, reach: Reach) -> dict[str, Any]:
    told = measures(state, lens, rule, reach)
    return {**_saved(record), **told, "reach": len(reach.pages), "pin": pinned_path(rule)}


def _visitor(facts: dict[str, Any], language: str) -> Visitor:
    """A visitor from its facts; a visitor without languages reads the site's. Roles go when signed out."""
    return Visitor(
        signed=facts["signed"],
        roles=frozenset(facts["roles"]) if facts["signed"] == "in" else frozenset(),
        device=facts["device"],
        browser=facts["browser"],
        accepts=tuple(tag for tag in facts["accepts"] if tag) or (language,),
        query={name: value for name, value in facts["query"].items() if name and value},
        referrer=facts["referrer"],
    )


def _query(state: State, query: Query, domain: Domain | str) -> dict[str, Any]:
    pages = domain != "visitor"

    def info(term: Term) -> dict[str, Any]:
        return {
            "fact": term.fact, "key": term.key, "values": [value.text for value in term.values],
            "negated": term.negated, "text": str(term.positive), "column": term.column, "length": term.length,
            "pages": len(state.index.term(term.positive)) if pages else 0,
        }  # fmt: skip

    return {
        "normal": str(query),
        "clauses": [[info(term) for term in clause.terms] for clause in query.clauses],
        "pages": len(state.index.query(query)) if pages else 0,
        "problem": None,
    }
