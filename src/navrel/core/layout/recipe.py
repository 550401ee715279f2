"""How the facts of a site's pages are read out of their files: for each fact, the places where it may stand."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

At = Literal[
    "standards", "heading", "title", "meta", "data", "link", "element", "trail", "navigation", "path", "file", "fixed"
]
ATS: tuple[At, ...] = (
    "standards", "heading", "title", "meta", "data", "link", "element", "trail", "navigation", "path", "file", "fixed",
)  # fmt: skip
#: Places that have to say of what: of which element, which property, which part.
OF_SOMETHING: frozenset[At] = frozenset({"meta", "data", "link", "element", "path", "fixed"})
#: Facts that a recipe may tell; besides, `terms/TAXONOMY` and `fields/NAME`.
FACTS = ("title", "kind", "type", "parent", "author", "language", "published")
FAMILIES = ("terms", "fields")
#: Most facts of a recipe, places of a fact, and values of a place that mean others; longest pattern, in characters.
MAX_FACTS = 40
MAX_PLACES = 12
MAX_VALUES = 100
MAX_PATTERN = 200


@dataclass(frozen=True)
class FactPlace:
    """A place where a fact may stand in the file of a page.

    ``of``: the name of the meta element, the property (`author.name`), the link relation, the selector (Selectors
    Level 4), the number of the part of the path (from 1, or from the end as -1), the fixed value. ``attribute``: of the
    element that is selected, in place of its text. ``take``: a regular expression; its first group counts, or all that
    it matches. ``values``: what values mean. ``form``: how a date is written, as strptime has it (C standard).
    """

    at: At
    of: str = ""
    attribute: str = ""
    take: str = ""
    values: Mapping[str, str] = field(default_factory=dict)
    form: str = ""


@dataclass(frozen=True)
class FactRecipe:
    """Where a fact is looked for: the first place that has something tells it."""

    fact: str
    places: tuple[FactPlace, ...]


Recipe = tuple[FactRecipe, ...]

#: How facts are read where a site says nothing else.
STANDARD: Recipe = (
    FactRecipe("title", (FactPlace("heading"), FactPlace("standards"), FactPlace("title"))),
    FactRecipe("kind", (FactPlace("standards"),)),
    FactRecipe("type", (FactPlace("standards"),)),
    FactRecipe(
        "parent", (FactPlace("standards"), FactPlace("trail"), FactPlace("link", "up"))
    ),
    FactRecipe("author", (FactPlace("standards"), FactPlace("link", "author"), FactPlace("element", ".p-author"))),
    FactRecipe("language", (FactPlace("standards"),)),
    FactRecipe(
        "published",
        (
            FactPlace("standards"),
            FactPlace("element", "time[pubdate]", "datetime"),
            FactPlace("element", ".dt-published", "datetime"),
        ),
    ),
    FactRecipe("terms/section", (FactPlace("standards"), FactPlace("data", "articleSection"))),
    FactRecipe("terms/topic", (FactPlace("standards"), FactPlace("data", "keywords"), FactPlace("link", "tag"))),
)  # fmt: skip


def full(recipe: Iterable[FactRecipe]) -> Recipe:
    """How every fact is read on a site: as its own recipe says, else as it comes."""
    own = {one.fact: one for one in recipe}
    standard = {one.fact: one for one in STANDARD}
    return tuple({**standard, **own}.values())
