"""What a layout file says of the files of pages: where slots are in them, and where facts stand."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, cast

from ..layout.binding import HOWS, MAX_BINDINGS, MAX_SELECTOR, Binding, How
from ..layout.document import is_slug
from ..layout.recipe import (
    ATS,
    FACTS,
    FAMILIES,
    MAX_FACTS,
    MAX_PATTERN,
    MAX_PLACES,
    MAX_VALUES,
    OF_SOMETHING,
    At,
    FactPlace,
    FactRecipe,
    Recipe,
)
from ..text import escape
from .guard_reader import GuardReader


class SourceReader(GuardReader):
    """Reads bindings and the recipe."""

    def bindings(self, tree: Mapping[str, Any]) -> tuple[Binding, ...]:
        found = []
        stated = self.items(tree, "bindings", "")
        if len(stated) > MAX_BINDINGS:
            self.fail("/bindings", f"these are {len(stated)} bindings; {MAX_BINDINGS} is the most", "too-many")
        for item, at in stated[:MAX_BINDINGS]:
            binding = self.table(item, at, ("slot", "selector", "how", "where"))
            selector = self.selector(binding, "selector", at)
            how = cast(How, self.choice(binding, "how", at, HOWS, "element"))
            found.append(
                Binding(self.slug(binding, "slot", at), selector, how, self.query(binding, "where", at, "page"))
            )
        return tuple(found)

    def selector(self, tree: Mapping[str, Any], key: str, at: str, required: bool = True) -> str:
        """A selector, or what else is looked for."""
        selector = self.text(tree, key, at, required=required).strip()
        if len(selector) > MAX_SELECTOR:
            self.fail(f"{at}/{key}", f"this has at most {MAX_SELECTOR} characters", "too-long")
        return selector

    def recipe(self, tree: Mapping[str, Any]) -> Recipe:
        found = []
        seen: dict[str, str] = {}
        stated = self.items(tree, "recipe", "")
        if len(stated) > MAX_FACTS:
            self.fail("/recipe", f"this tells {len(stated)} facts; {MAX_FACTS} is the most", "too-many")
        for item, at in stated[:MAX_FACTS]:
            line = self.table(item, at, ("fact", "places"))
            fact = self.text(line, "fact", at, required=True)
            family, _, name = fact.partition("/")
            if fact and fact not in FACTS and not (family in FAMILIES and is_slug(name)):
                told = f"{fact} is no fact: write {', '.join(FACTS)}, terms/topic or fields/name"
                self.fail(f"{at}/fact", told, "reference")
            self.once(seen, fact, at, "fact")
            places = self.items(line, "places", at)
            if len(places) > MAX_PLACES:
                self.fail(f"{at}/places", f"these are {len(places)} places; {MAX_PLACES} is the most", "too-many")
            found.append(FactRecipe(fact, tuple(self.fact_place(one, place) for one, place in places[:MAX_PLACES])))
        return tuple(found)

    def fact_place(self, item: object, at: str) -> FactPlace:
        tree = self.table(item, at, ("at", "of", "attribute", "take", "values", "form"))
        kind = cast(At, self.choice(tree, "at", at, ATS, "standards"))
        of = self.selector(tree, "of", at, required=kind in OF_SOMETHING)
        if kind == "path" and not re.fullmatch(r"-?[1-9]\d?", of):
            self.fail(f"{at}/of", "write which part of the path: 1 is the first, -1 the last")
        return FactPlace(
            kind,
            of,
            self.text(tree, "attribute", at),
            self.pattern(tree, at),
            self.values(tree, at),
            self.text(tree, "form", at),
        )

    def pattern(self, tree: Mapping[str, Any], at: str) -> str:
        pattern = self.text(tree, "take", at)
        if len(pattern) > MAX_PATTERN:
            self.fail(f"{at}/take", f"a pattern has at most {MAX_PATTERN} characters", "too-long")
            return ""
        try:
            re.compile(pattern)
        except (re.error, RecursionError, OverflowError) as error:
            self.fail(f"{at}/take", f"this is no regular expression: {error}", "pattern")
        return pattern

    def values(self, tree: Mapping[str, Any], at: str) -> dict[str, str]:
        stated = tree.get("values") or {}
        values = self.table(stated, f"{at}/values", stated if isinstance(stated, Mapping) else ())
        if len(values) > MAX_VALUES:
            self.fail(f"{at}/values", f"these are {len(values)} values; {MAX_VALUES} is the most", "too-many")
            return {}
        self.plain(values, f"{at}/values")
        for key, text in values.items():
            if not isinstance(text, str):
                self.fail(f"{at}/values/{escape(str(key))}", "this has to be a text", "type")
        return dict(values)
