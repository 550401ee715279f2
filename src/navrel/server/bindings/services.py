"""The bindings of a site: which slot is where in the HTML of its pages, and how well that fits them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Q

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_bindings
from navrel.core.files.writing import write_binding
from navrel.core.layout.binding import Binding
from navrel.core.pages.tree import PageTree
from navrel.rendering.in_place.places import selector_problem
from navrel.server.api.errors import Outdated
from navrel.server.api.views import digest_version
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Original, Site
from navrel.server.inventory.originals import Seating, ToldOriginal, know_places, originals_of, place_in
from navrel.server.inventory.sampling import spread, spread_paths
from navrel.server.sitestate.locking import find_site, raise_inventory

#: Pages on which bindings are tried before they are saved, and pages named in what is told of a fit.
MOST_TRIED = 60
MOST_NAMED = 5
#: What they are called where somebody edits them.
_NAME = "Where slots are"


@dataclass
class Fit:
    """How a binding fits the pages that it is for; see `shapes.BindingFit`."""

    pages: int = 0
    found: int = 0
    several: int = 0
    inside: int = 0
    missed: list[str] = field(default_factory=list)
    seen: list[str] = field(default_factory=list)
    problem: str = ""


def bindings_version(site: Site) -> int:
    """What the bindings of a site are told by in an entity tag."""
    return digest_version(site.bindings)


def put_bindings(slug: str, trees: Sequence[Mapping[str, Any]], version: int, *, by: Any) -> Site:
    """Say anew where the slots of pages are. Raises DocumentError, Outdated, and Refused."""
    bindings = checked(trees)
    # Looking through all files takes a while, in which others may save.
    know_places(find_site(slug), bindings)
    with editing(slug, by) as site:
        theirs = {"name": _NAME, "bindings": [in_full(one) for one in site.bindings]}
        Outdated.check("The bindings", bindings_version(site), version, theirs)
        know_places(site, bindings)
        site.bindings = [write_binding(one) for one in bindings]
        raise_inventory(site)
        site.save(update_fields=["bindings"])
    return site


def in_full(tree: Mapping[str, Any]) -> dict[str, Any]:
    """A binding as the layout file has it, with what that leaves out."""
    return {"how": "element", "where": "", **tree}


def checked(trees: Sequence[Mapping[str, Any]]) -> tuple[Binding, ...]:
    """Bindings from their trees. Raises DocumentError where one of them cannot be asked."""
    bindings = read_bindings([_stated(tree) for tree in trees])
    problems = [
        Problem(f"/bindings/{number}/selector", told, "selector")
        for number, one in enumerate(bindings)
        if (told := selector_problem(one.selector))
    ]
    if problems:
        raise DocumentError(problems)
    return bindings


def _stated(tree: Mapping[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in tree.items() if value != ""}


def fits(bindings: Sequence[Binding], tree: PageTree, originals: Mapping[str, Original | ToldOriginal]) -> list[Fit]:
    """How each binding fits the pages of some files, in which its places are known."""
    seating = Seating(bindings, tree)
    found = [Fit(problem=selector_problem(one.selector)) for one in bindings]
    numbers = {id(one): number for number, one in enumerate(bindings)}
    for path, original in originals.items():
        page = tree.page(path)
        if page is None:
            continue
        seated = {seat.slot for seat in seating.seats(page, original)}
        placed: set[str] = set()
        for binding in seating.acting(page):
            fit, place = found[numbers[id(binding)]], place_in(original, binding)
            fit.pages += 1
            if place is None:
                fit.missed.append(path)
                continue
            fit.found += 1
            fit.several += place.matches > 1
            fit.inside += binding.slot not in seated and binding.slot not in placed
            placed.add(binding.slot)
            fit.seen.append(path)
    for fit in found:
        fit.missed, fit.seen = fit.missed[:MOST_NAMED], spread(fit.seen, 3)
    return found


def sample(site: Site, most: int = MOST_TRIED) -> dict[str, Original]:
    """Some files of a site, from all of its sections."""
    return dict(originals_of(site, Q(path__in=spread_paths(site, most))))
