"""The recipe of a site: where the facts of its pages are looked for, and what comes of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Any

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_recipe
from navrel.core.files.writing import write_fact
from navrel.core.layout.recipe import FACTS as SINGLE_FACTS
from navrel.core.layout.recipe import Recipe
from navrel.rendering.in_place.places import selector_problem
from navrel.server.api.errors import Outdated
from navrel.server.api.views import digest_version
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Page, Site
from navrel.server.inventory.rereading import FACTS, bring_in_facts, read_again, with_files
from navrel.server.sitestate.locking import find_site, raise_inventory

Trees = Sequence[Mapping[str, Any]]
#: Pages on which a recipe is tried before it is saved.
MOST_TRIED = 20
#: What it is called where somebody edits it.
NAME = "How facts are read"
#: Places that are asked for by a selector.
_SELECTED = ("element", "trail", "navigation")


def recipe_version(site: Site) -> int:
    """What the recipe of a site is told by in an entity tag."""
    return digest_version(site.recipe)


def checked(trees: Trees) -> Recipe:
    """A recipe from its trees. Raises DocumentError where it cannot be followed."""
    recipe = read_recipe(trees)
    problems = [
        Problem(f"/recipe/{number}/places/{at}/of", told, "selector")
        for number, line in enumerate(recipe)
        for at, place in enumerate(line.places)
        if place.at in _SELECTED and place.of and (told := selector_problem(place.of))
    ]
    if problems:
        raise DocumentError(problems)
    return recipe


def put_recipe(slug: str, trees: Trees, version: int, *, by: Any) -> Site:
    """Say anew where facts stand, and read them from there on all pages.

    Raises DocumentError, Outdated, and Refused.
    """
    wanted = [write_fact(line) for line in checked(trees)]
    unlocked = find_site(slug)
    # Reading all files takes a while, in which others may save.
    ahead = list(read_again(unlocked, with_files(unlocked), wanted))
    with editing(slug, by) as site:
        Outdated.check("The recipe", recipe_version(site), version, {"name": NAME, "recipe": site.recipe})
        same = site.inventory_version == unlocked.inventory_version
        bring_in_facts(site, wanted, ahead if same else read_again(site, with_files(site), wanted))
        site.recipe = wanted
        raise_inventory(site)
        site.save(update_fields=["recipe"])
    return site


def told_on(site: Site) -> dict[str, int]:
    """On how many pages with a file of their own each fact is told, by the fact as recipes name it."""
    found: Counter[str] = Counter()
    for facts in site.pages.filter(gone=False, original__isnull=False).values("path", *FACTS).iterator():
        found.update(fact for fact, text in as_texts(facts["path"], facts).items() if text)
    return dict(found)


def taken_facts(page: Page) -> dict[str, Any]:
    """The facts of a page as they were taken in."""
    return {name: getattr(page, name) for name in FACTS}


def as_texts(path: str, facts: Mapping[str, Any]) -> dict[str, str]:
    """The facts of a page by their names in recipes, as texts; several terms with commas."""
    found = {name: str(facts[name] or "") for name in SINGLE_FACTS}
    if found["title"] == path:
        # What has no title is called by its path.
        found["title"] = ""
    for term in facts["terms"]:
        taxonomy, _, slug = term.partition("/")
        known = found.get(f"terms/{taxonomy}", "")
        found[f"terms/{taxonomy}"] = f"{known}, {slug}" if known else slug
    return found | {f"fields/{name}": value for name, value in facts["fields"].items()}
