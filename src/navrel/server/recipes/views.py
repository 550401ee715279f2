"""How the facts of pages are read: said, tried, proposed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.files.writing import write_fact
from navrel.core.layout.recipe import STANDARD, Recipe, full
from navrel.server.api.operations import operation
from navrel.server.api.views import IF_MATCH, SiteView, matched_version, parsed, tagged
from navrel.server.inventory.models import Page, Site
from navrel.server.inventory.reading import ReadFacts
from navrel.server.inventory.rereading import completed, read_again, with_files
from navrel.server.inventory.sampling import spread_paths

from . import shapes
from .proposing import Seen, propose
from .services import MOST_TRIED, as_texts, checked, put_recipe, recipe_version, taken_facts, told_on

#: Examples of what a place has.
_MOST_EXAMPLES = 4


class RecipeView(SiteView):
    """The recipe of a site."""

    @operation("getRecipe", responses=shapes.RecipeInfo)
    def get(self, request: Request, site: str) -> Response:
        """Where the facts of pages are looked for in their files; the version is in the ETag."""
        return _told(self.record)

    @operation(
        "putRecipe",
        parameters=[IF_MATCH],
        request=shapes.RecipeRequest,
        responses=shapes.RecipeInfo,
        errors=[409, 412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Say anew where facts stand; they are read from there on all pages. An edit like any other."""
        trees = stated(parsed(shapes.RecipeRequest, request.data)["recipe"])
        return _told(put_recipe(site, trees, matched_version(request), by=request.user))


def _told(site: Site) -> Response:
    version = recipe_version(site)
    info = {
        "recipe": site.recipe,
        "standard": [write_fact(line) for line in STANDARD],
        "told": told_on(site),
        "originals": _originals(site),
        "version": version,
    }
    return tagged(info, version)


def _originals(site: Site) -> int:
    return site.pages.filter(gone=False, original__isnull=False).count()


def stated(recipe: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """A recipe as the layout file has it, without what says nothing."""
    return [
        {**line, "places": [{key: value for key, value in place.items() if value} for place in line["places"]]}
        for line in recipe
    ]


class TriedRecipeView(SiteView):
    """A recipe as it is being edited."""

    @operation("tryRecipe", role="viewer", request=shapes.RecipeRequest, responses=shapes.TriedRecipe, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """What a recipe comes to on twenty pages of all sections; nothing is saved."""
        record = self.record
        recipe = checked(stated(parsed(shapes.RecipeRequest, request.data)["recipe"]))
        pages = with_files(record, path__in=spread_paths(record, MOST_TRIED))
        wanted = [write_fact(line) for line in recipe]
        read = completed(record, wanted, read_again(record, pages, wanted))
        if _titles_in(wanted) == _titles_in(record.recipe):
            # What titles share is told by all pages, of which these are a few.
            for page, told in read:
                told.facts["title"] = page.title
        tried = [{"path": page.path, "facts": _tried(page, told, recipe)} for page, told in read]
        return Response({"pages": tried, "originals": _originals(record)})


def _titles_in(recipe: Iterable[Mapping[str, Any]]) -> list[Any]:
    return [line["places"] for line in recipe if line["fact"] == "title"]


def _tried(page: Page, told: ReadFacts, recipe: Recipe) -> list[dict[str, Any]]:
    now, after = as_texts(page.path, taken_facts(page)), as_texts(page.path, told.facts)
    named = dict.fromkeys([*(line.fact for line in full(recipe)), *now, *after])
    return [
        {
            "fact": fact,
            "now": now.get(fact, ""),
            "after": after.get(fact, ""),
            "place": told.found.get(fact, ([], -1))[1],
        }
        for fact in named
    ]


class ProposedRecipeView(SiteView):
    """Places that the pages propose."""

    @operation("proposeRecipe", responses=shapes.ProposedRecipe)
    def get(self, request: Request, site: str) -> Response:
        """Places in which facts stand on the pages: looked at one by one, those that tell something."""
        found, asked = propose(self.record)
        return Response({"proposed": [_proposed(one) for one in found], "asked": asked})


def _proposed(one: Seen) -> dict[str, Any]:
    return {
        "fact": one.fact,
        "place": one.place,
        "pages": len(one.told),
        "more": one.more,
        "distinct": len(one.values),
        "examples": [value for value, _ in one.values.most_common(_MOST_EXAMPLES)],
    }
