"""Rules, and what they come to: layouts, traces, reach, suggestions."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.bulk import resolve_all, unseated_pages
from navrel.core.cascade import Entry, Outcome, Trace, resolve_page, seated_slots
from navrel.core.conditions import Refused as RefusedLens
from navrel.core.conditions import Specificity, weigh_audience
from navrel.core.errors import QueryError
from navrel.core.lookup import PageResolver
from navrel.core.model import ADDING, TEMPLATE, Layout, Lens, Page, Rule, Target
from navrel.core.query import Domain, Query, Term, parse_query, parse_search
from navrel.core.reach import Reach, excluded_pages, near_misses, reaches, rule_pages, usual_specificity
from navrel.core.reading import read_rule
from navrel.core.schedule import write_moment
from navrel.core.suggest import suggest
from navrel.core.writing import write_action
from navrel.server.states import State, draft, find_site, rule_tree
from navrel.server.views import (
    IF_MATCH,
    LENS,
    OpenApiParameter,
    SiteView,
    body_of,
    extend_schema,
    matched_version,
    parsed,
    read_lens,
    tagged,
)

from . import serializers as shapes
from . import services
from .models import Rule as RuleRecord

MOST_REACHED = 500
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
        record = services.make_rule(site, body_of(request))
        return tagged(_saved(record), record.version, 201)


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
        record = services.copy_rule(site, number)
        return tagged(_saved(record), record.version, 201)


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
        resolved = resolve_all(state.index, state.layout, lens)
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
                        "outcomes": [_outcome(outcome) for outcome in resolved[target].outcomes],
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
        lens = self.lens(state)
        found = resolve_page(state.index.site, state.layout, page, lens, (target,))
        slots = {one.name: trace.outcome for one, trace in found.items() if one.kind == "slot"}
        seated = seated_slots(state.layout, page, found[TEMPLATE].outcome, slots, lens, state.index.site)
        return Response(
            {
                "path": page.path,
                "title": page.title,
                **_trace(found[target]),
                "seated": target.kind != "slot" or target.name in seated,
            }
        )


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
        return Response(_reach(state, lens, edited, body.get("target", "")))


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


def _saved(record: RuleRecord) -> dict[str, Any]:
    return {"id": record.pk, "version": record.version, "place": record.place, "rule": rule_tree(record)}


def _row(state: State, lens: Lens, record: RuleRecord, rule: Rule, reach: Reach) -> dict[str, Any]:
    return {**_saved(record), **_measures(state, lens, rule, reach), "reach": len(reach.pages)}


def _measures(state: State, lens: Lens, rule: Rule, reach: Reach) -> dict[str, Any]:
    specificity, on = usual_specificity(state.index, rule)
    audience = weigh_audience(lens, rule.condition.audience)
    let_in = not isinstance(audience, RefusedLens)
    return {
        "wins": len(reach.wins_somewhere),
        "by_target": [{"target": str(target), "pages": len(pages)} for target, pages in reach.wins.items()],
        "let_in": let_in,
        "specificity": Specificity(*specificity[:3], 0 if isinstance(audience, RefusedLens) else audience),
        "specificity_on": on,
    }


def _outcome(outcome: Outcome) -> dict[str, Any]:
    return {
        "state": outcome.state,
        "pieces": outcome.pieces,
        "by": outcome.by.key if outcome.by else None,
        "value": outcome.value,
    }


def _trace(found: Trace) -> dict[str, Any]:
    decider, runner_up = found.decider, found.runner_up
    return {
        "target": str(found.target),
        "outcome": _outcome(found.outcome),
        "by": decider.rule.name if decider else None,
        "decisive": runner_up.on if runner_up else None,
        "runner_up": runner_up.rule.name if runner_up else None,
        "default_template": found.target == TEMPLATE and decider is None,
        "entries": [_entry(found, entry) for entry in found.entries],
    }


def _entry(found: Trace, entry: Entry) -> dict[str, Any]:
    strength = entry.strength
    return {
        "rule": entry.rule.key,
        "name": entry.rule.name,
        "place": entry.place,
        "action": write_action(entry.action),
        "state": entry.state,
        "strength": {"priority": strength.priority, "specificity": strength.specificity, "place": -strength.order}
        if strength
        else None,
        "by": entry.by.name if entry.by else None,
        "on": entry.on,
        "clause": entry.clause,
        "next_start": _moment(found.next_start(entry)),
        "ends": _moment(found.ends(entry)),
        "include": str(entry.rule.condition.include),
    }


def _moment(moment: datetime | None) -> str | None:
    return write_moment(moment) if moment else None


def _with_edited(layout: Layout, edited: Rule) -> tuple[Layout, Rule | None]:
    """The layout with the edited rule in the place of the saved one, or at the top; and the saved one."""
    saved = next((rule for rule in layout.rules if edited.key is not None and rule.key == edited.key), None)
    if saved is None:
        return replace(layout, rules=(edited, *layout.rules)), None
    return replace(layout, rules=tuple(edited if rule is saved else rule for rule in layout.rules)), saved


def _reach(state: State, lens: Lens, edited: Rule, wanted: str) -> dict[str, Any]:
    layout, saved = _with_edited(state.layout, edited)
    reach = reaches(state.index, layout, lens)[layout.rules.index(edited)]
    before = rule_pages(state.index, saved) if saved else reach.pages
    new, gone = reach.pages - before, before - reach.pages
    targets = [action.target for action in edited.actions]
    chosen = next((target for target in targets if str(target) == wanted), targets[0] if targets else None)
    won = reach.wins.get(chosen) if chosen else None
    resolver = _resolver_of(state, layout, chosen)
    pages = []
    for number in reach.pages.numbers()[:MOST_REACHED].tolist():
        page = state.index.site.pages[number]
        row = {"path": page.path, "title": page.title, "new": number in new, "by": "", "on": ""}
        if won is not None and number in won and chosen is not None:
            adding = all(action.do in ADDING for action in edited.actions if action.target == chosen)
            row["state"] = "adds" if adding else "wins"
        else:
            row |= _loss(resolver, lens, page, edited, chosen)
        pages.append(row)
    excluded, count = excluded_pages(state.index, edited, MOST_REACHED)
    pages += [
        {"path": one.page.path, "title": one.page.title, "state": "excluded", "by": one.clause, "on": "", "new": False}
        for one in excluded
    ]
    excluded_paths = {one.page.path for one in excluded}
    lost = [state.index.site.pages[number] for number in gone.numbers()[:MOST_REACHED].tolist()]
    pages += [
        {"path": page.path, "title": page.title, "state": "gone", "by": "", "on": "", "new": False}
        for page in lost
        if page.path not in excluded_paths
    ]
    return {
        **_measures(state, lens, edited, reach),
        "reached": len(reach.pages),
        "excluded": count,
        "new": len(new),
        "gone": len(gone),
        "pages": pages,
        "nearly": [
            {"path": miss.page.path, "title": miss.page.title, "term": str(miss.term)}
            for miss in near_misses(state.index, edited.condition.include)
        ],
    }


def _resolver_of(state: State, layout: Layout, target: Target | None) -> PageResolver:
    """Resolves single pages by the rules that act on one target alone."""
    acting = (rule for rule in layout.rules if any(action.target == target for action in rule.actions))
    return PageResolver(state.index, replace(layout, rules=tuple(acting)))


def _loss(resolver: PageResolver, lens: Lens, page: Page, edited: Rule, target: Target | None) -> dict[str, Any]:
    """Why an edited rule does not win a target on one of its pages."""
    if target is None:
        return {"state": "reached"}
    found = resolver.resolve(page, lens, (target,))[target]
    entry = next(one for one in found.entries if one.rule is edited)
    if entry.state not in ("outranked", "cleared", "duplicate", "locked"):
        return {"state": "reached", "by": entry.clause}
    return {"state": entry.state, "by": entry.by.name if entry.by else "", "on": entry.on or ""}


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
