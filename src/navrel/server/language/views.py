"""Queries read and written, the values they can ask for, lenses, and conditions that pages have in common."""

from __future__ import annotations

from itertools import islice
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.calendar.schedule import write_moment
from navrel.core.errors import DocumentError, Problem, QueryError
from navrel.core.files.reading import read_schedule
from navrel.core.index.choices import choices
from navrel.core.index.completion import complete
from navrel.core.language.facts import SEARCH_WORD, Value
from navrel.core.language.opposite import TooLong, opposite
from navrel.core.language.query import FACTS, Clause, Domain, Query, Term, parse_query, parse_search
from navrel.core.language.visitor import Visitor
from navrel.core.language.visitor_terms import print_visitor
from navrel.core.questions.suggest import suggest
from navrel.server.api.errors import ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.shapes import PathsRequest
from navrel.server.api.telling import page_bits, page_row
from navrel.server.api.views import SiteView, body_of, parsed, read_at, read_lens
from navrel.server.sitestate.state import SiteState
from navrel.wording.audiences import scheduled, visitor_words
from navrel.wording.pages import PageWords

from . import shapes

MOST_CHOICES = 50
MOST_EXAMPLES = 8
#: Times in force that are told of one schedule.
MOST_SPANS = 60
#: Pages whose numbers are told, for the list to show them.
MOST_NUMBERED = 500
SEARCH = OpenApiParameter("query", str, description="A page query in which bare words are allowed; empty: every page")
FACT = OpenApiParameter("fact", str, required=True, description="The fact, as in a query: author, term, field.colour")
TEXT = OpenApiParameter("text", str, description="What the value, or its name, has to contain")


class QueryView(SiteView):
    """Queries."""

    @operation("readQuery", role="viewer", request=shapes.QueryRequest, responses=shapes.QueryInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """Read a query: its terms, its normal form and how many pages it matches, or what is wrong with it.

        Given in its parts, it is written as a text first: the one place that knows how.
        """
        body = parsed(shapes.QueryRequest, request.data)
        state = self.draft()
        domain = body["domain"]
        text = _written(body["clauses"], domain) if "clauses" in body else body.get("text", "")
        try:
            query = parse_search(text) if domain == "search" else parse_query(text, domain)
        except QueryError as error:
            problem = {
                "message": error.message, "hint": error.hint, "column": error.column, "length": error.length,
                "code": error.code,
            }  # fmt: skip
            return Response({"normal": "", "clauses": [], "pages": 0, "problem": problem})
        return Response(_query_info(state, query, domain))


def _written(clauses: list[dict[str, Any]], domain: str) -> str:
    """Clauses given in their parts, as a text."""
    return str(Query(tuple(Clause(tuple(_term(term, domain) for term in one["terms"])) for one in clauses)))


def _term(tree: dict[str, Any], domain: str) -> Term:
    half: Domain = "visitor" if domain == "visitor" else "page"
    if tree["fact"] not in FACTS[half] and tree["fact"] not in ("all", SEARCH_WORD.name):
        raise Refused("no-fact", f"There is no fact {tree['fact']} about {half}s")
    values = tuple(Value(value["text"], value.get("wild", False)) for value in tree["values"])
    return Term(tree["fact"], values, tree.get("key", ""), tree.get("negated", False), half)


def _query_info(state: SiteState, query: Query, domain: str) -> dict[str, Any]:
    pages = domain != "visitor"
    words = PageWords(state.document, state.index)

    def info(term: Term) -> dict[str, Any]:
        return {
            "fact": term.fact, "key": term.key, "negated": term.negated, "text": str(term.positive),
            "values": [{"text": value.text, "wild": value.wild} for value in term.values],
            "names": [words.name_of(term.fact, value.text) if pages else value.text for value in term.values],
            "column": term.column, "length": term.length,
            "pages": len(state.index.term(term.positive)) if pages else 0,
        }  # fmt: skip

    return {
        "normal": str(query),
        "clauses": [[info(term) for term in clause.terms] for clause in query.clauses],
        "pages": len(state.index.query(query)) if pages else 0,
        "problem": None,
    }


class OppositeView(SiteView):
    """Conditions turned round."""

    @operation("turnRound", role="viewer", request=shapes.OppositeRequest, responses=shapes.OppositeInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """The include and exclude that match exactly where the given ones do not."""
        body = parsed(shapes.OppositeRequest, request.data)
        domain = body["domain"]
        read = {}
        for key in ("include", "exclude"):
            try:
                read[key] = parse_query(body[key], domain)
            except QueryError as error:
                problem = Problem(f"/{key}", error.message, error.code)
                raise Refused(error.code, error.message, error.hint, [problem]) from None
        if body["empty_is_all"] and not read["include"]:
            read["include"] = parse_query("all", domain)
        try:
            include, exclude = opposite(read["include"], read["exclude"])
        except TooLong:
            raise Refused("too-long", "The opposite would be too long to read", "Write it by hand.") from None
        # What an empty include says already need not be written.
        written = "" if body["empty_is_all"] and str(include) == "all" else str(include)
        return Response({"include": written, "exclude": str(exclude)})


class SearchView(SiteView):
    """Finding pages."""

    @operation("searchPages", parameters=[SEARCH], responses=shapes.SearchResult, errors=[422])
    def get(self, request: Request, site: str) -> Response:
        """The pages that a search finds."""
        try:
            query = parse_search(request.query_params.get("query", ""))
        except QueryError as error:
            raise Refused.for_parameter(ParameterProblem.of("query", error)) from None
        found = self.draft().index.query(query)
        has_words = any(term.fact == SEARCH_WORD.name for term in query.terms)
        condition = "" if has_words else str(query)
        return Response({"condition": condition, "total": len(found), "pages": page_bits(found)})


class ChoicesView(SiteView):
    """The values of a fact."""

    @operation(
        "listChoices",
        parameters=[FACT, TEXT],
        responses=shapes.ChoicesInfo,
        errors=[422],
    )
    def get(self, request: Request, site: str) -> Response:
        """The values that a fact can take on this site and that contain a text, with their numbers of pages."""
        fact, text = request.query_params.get("fact", ""), request.query_params.get("text", "")
        known = {name for half in FACTS.values() for name in half}
        if fact and fact.partition(".")[0] not in known:
            raise Refused.for_parameter(ParameterProblem("fact", f"there is no fact {fact}", "no-fact"))
        state = self.draft()
        found = choices(state.index, state.document, fact, text, MOST_CHOICES + 1)
        return Response({"items": [vars(choice) for choice in found[:MOST_CHOICES]], "more": len(found) > MOST_CHOICES})


class CompletionView(SiteView):
    """Help with writing a query."""

    @operation(
        "completeQuery", role="viewer", request=shapes.CompletionRequest, responses=shapes.CompletionInfo, errors=[422]
    )
    def post(self, request: Request, site: str) -> Response:
        """The facts or values that fit at the caret of a query text, with their numbers of pages."""
        body = parsed(shapes.CompletionRequest, request.data)
        state = self.draft()
        caret = min(body["caret"], len(body["text"]))
        found = complete(state.index, state.document, body["text"], caret, body["domain"], MOST_CHOICES)
        return Response({**vars(found), "offers": [vars(offer) for offer in found.offers]})


class LensView(SiteView):
    """Lenses."""

    @operation("readLens", role="viewer", request=shapes.LensRequest, responses=shapes.LensInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """A lens by its terms or its facts: both, and in words."""
        body = parsed(shapes.LensRequest, request.data)
        state = self.draft()
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
                "at": write_moment(read_at(at)) if at else "",
            }
        )  # fmt: skip


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


class ScheduleView(SiteView):
    """Schedules."""

    @operation(
        "readSchedule", role="viewer", request=shapes.ScheduleRequest, responses=shapes.ScheduleInfo, errors=[422]
    )
    def post(self, request: Request, site: str) -> Response:
        """A schedule in words, and the next times at which it is in force; neither where it cannot be read yet."""
        state = self.draft()
        parsed(shapes.ScheduleRequest, request.data)
        try:
            schedule = read_schedule(body_of(request)["schedule"])
        except DocumentError:
            return Response({"words": "", "spans": [], "more": False})
        if schedule is None:
            return Response({"words": "always", "spans": [], "more": False})
        today = state.document.now().replace(hour=0, minute=0, second=0, microsecond=0)
        spans = list(islice(schedule.spans(today), MOST_SPANS + 1))
        told = [
            {
                "start": write_moment(max(today, span.start) if span.start else today),
                "end": write_moment(span.end) if span.end else None,
            }
            for span in spans[:MOST_SPANS]
        ]
        words = scheduled(schedule, state.document.now())
        return Response({"words": words, "spans": told, "more": len(spans) > MOST_SPANS})


class SuggestionsView(SiteView):
    """What picked pages have in common."""

    @operation(
        "suggestConditions",
        role="viewer",
        request=PathsRequest,
        responses=shapes.SuggestionsInfo,
        errors=[422],
    )
    def post(self, request: Request, site: str) -> Response:
        """Conditions that the given pages have in common, best first; five at most."""
        state = self.draft()
        found = suggest(state.index, parsed(PathsRequest, request.data)["paths"])
        words, number = PageWords(state.document, state.index), state.index.tree.numbers
        told = [
            {
                "include": str(one.include),
                "exclude": str(one.exclude),
                "words": words.where(one.include, one.exclude),
                "adds": len(one.adds),
                "misses": len(one.misses),
                "lasting": one.lasting,
                "examples": [page_row(page) for page in one.adds[:MOST_EXAMPLES]],
                "added": [number[page.path] for page in one.adds[:MOST_NUMBERED]],
                "missed": [number[page.path] for page in one.misses[:MOST_NUMBERED]],
            }
            for one in found
        ]
        return Response({"items": told})
