"""Rules, and what they come to: layouts, traces, reach, suggestions."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.bulk import resolve_all, unseated_pages
from navrel.core.cascade import Entry, Outcome, Trace, resolve_page, seated_slots
from navrel.core.conditions import Refused as RefusedLens
from navrel.core.conditions import weigh_audience, weigh_page
from navrel.core.errors import QueryError
from navrel.core.lenses import TooManyCombinations
from navrel.core.lookup import PageResolver
from navrel.core.model import ADDING, TEMPLATE, Layout, Lens, LockNote, Page, Rule, Target, Visitor
from navrel.core.pins import Obstacle, Trial, pinned_path, try_pin
from navrel.core.query import Domain, Query, Term, parse_query, parse_search
from navrel.core.reach import (
    Reach,
    excluded_pages,
    near_misses,
    reaches,
    rule_pages,
    templates_with,
    usual_specificity,
)
from navrel.core.reading import read_rule
from navrel.core.schedule import read_moment, write_moment
from navrel.core.suggest import suggest
from navrel.core.visitor import print_visitor
from navrel.core.writing import write_action
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
from navrel.wording import seen_by, visitor_words

from . import pins, services
from . import serializers as shapes
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
        if target not in state.targets:
            raise Missing("no-target", f"There is no slot and no setting {target} here")
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
                "alone": not any(_reaches(state, page, entry) for entry in found[target].entries[1:]),
                "templates": templates_with(state.layout, target.name) if target.kind == "slot" else [],
                "pin": _pin(state, page, target),
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


def _made(site: str, record: RuleRecord) -> Response:
    return made(_saved(record), record.version, f"/api/sites/{site}/rules/{record.pk}")


def _saved(record: RuleRecord) -> dict[str, Any]:
    return {"id": record.pk, "version": record.version, "place": record.place, "rule": rule_tree(record)}


def _row(state: State, lens: Lens, record: RuleRecord, rule: Rule, reach: Reach) -> dict[str, Any]:
    measures = _measures(state, lens, rule, reach)
    return {**_saved(record), **measures, "reach": len(reach.pages), "pin": pinned_path(rule)}


def _measures(state: State, lens: Lens, rule: Rule, reach: Reach) -> dict[str, Any]:
    specificity, on = usual_specificity(state.index, rule)
    return {
        "wins": len(reach.wins_somewhere),
        "no_place": len(reach.unplaced_everywhere),
        "by_target": [_target_wins(state, reach, target) for target in reach.wins],
        "let_in": not isinstance(weigh_audience(lens, rule.condition.audience), RefusedLens),
        "specificity": specificity,
        "specificity_on": on,
    }


def _target_wins(state: State, reach: Reach, target: Target) -> dict[str, Any]:
    no_place = reach.unplaced.get(target)
    return {
        "target": str(target),
        "pages": len(reach.seen(target)),
        "no_place": len(no_place) if no_place is not None else 0,
        "templates": templates_with(state.layout, target.name) if no_place else [],
    }


def _reaches(state: State, page: Page, entry: Entry) -> bool:
    """Whether the rule of an entry acts on this page for some visitor at some time."""
    return entry.rule.on and not isinstance(weigh_page(state.index.site, page, entry.rule.condition), RefusedLens)


def _pin(state: State, page: Page, target: Target) -> dict[str, Any]:
    since = state.document.now()
    pinned = next(
        (
            (rule, action)
            for rule in state.layout.rules
            if rule.on and pinned_path(rule) == page.path
            for action in rule.actions
            if action.target == target and not action.adds
        ),
        None,
    )
    try:
        trial, told = try_pin(state.index, state.layout, page, target, since), True
    except TooManyCombinations:
        trial, told = Trial(is_locked=False, wins=True), False

    def listed(obstacles: Iterable[Obstacle]) -> list[dict[str, Any]]:
        return [
            {"rule": one.rule.key, "name": one.rule.name, "action": write_action(one.action), "on": one.on,
             "words": seen_by(one.seen, since)}
            for one in obstacles
        ]  # fmt: skip

    return {
        "rule": pinned[0].key if pinned else None,
        "action": write_action(pinned[1]) if pinned else None,
        "locked": trial.is_locked,
        **page.lock_notes.get(target.name, LockNote())._asdict(),
        "wins": trial.wins,
        "deciders": listed(trial.deciders),
        "additions": listed(trial.additions),
        "priority": trial.priority,
        "clearing": trial.clearing,
        "told": told,
    }


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
    unplaced = reach.unplaced.get(chosen) if chosen else None
    resolver = _resolver_of(state, layout, chosen)
    pages = []
    for number in reach.pages.numbers()[:MOST_REACHED].tolist():
        page = state.index.site.pages[number]
        row = {"path": page.path, "title": page.title, "new": number in new, "by": "", "on": ""}
        if unplaced is not None and number in unplaced:
            row["state"] = "no-place"
        elif won is not None and number in won and chosen is not None:
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
