"""What reading any part of a layout file takes: values of a kind, and every problem gathered with its place.

Each problem names its place as a JSON Pointer (RFC 6901).
"""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Mapping
from typing import Any

from ..errors import DocumentError, Problem
from ..layout.document import MAX_NAME, is_slug
from ..text import escape, misfit, unfit


class Reader:
    """Reads a tree and gathers problems. Each method takes a value and the pointer at which it stands."""

    def __init__(self) -> None:
        self.problems: list[Problem] = []

    def fail(self, pointer: str, message: str, code: str = "invalid", hint: str = "") -> None:
        self.problems.append(Problem(pointer, message, code, hint=hint))

    def done(self) -> None:
        """Raise DocumentError where there was any problem."""
        if self.problems:
            raise DocumentError(self.problems)

    def table(self, value: object, at: str, known: Iterable[str]) -> Mapping[str, Any]:
        if not isinstance(value, Mapping):
            self.fail(at, "this has to be an object", "type")
            return {}
        for key in value:
            if key not in known:
                self.fail(f"{at}/{escape(str(key))}", f"there is no {key} here", "unknown-key")
        return value

    def items(self, tree: Mapping[str, Any], key: str, at: str) -> list[tuple[Any, str]]:
        value = tree.get(key)
        if value is None:
            return []
        if not isinstance(value, list):
            self.fail(f"{at}/{key}", "this has to be a list", "type")
            return []
        return [(item, f"{at}/{key}/{number}") for number, item in enumerate(value)]

    def text(self, tree: Mapping[str, Any], key: str, at: str, default: str = "", required: bool = False) -> str:
        value = tree.get(key)
        if value is None or value == "":
            if required:
                self.fail(at, f"{key} is missing", "required")
            return default
        if not isinstance(value, str):
            self.fail(f"{at}/{key}", "this has to be a text", "type")
            return default
        if found := unfit(value):
            self.fail(f"{at}/{key}", found.message, "character")
            return default
        return value

    def plain(self, tree: Mapping[str, Any], at: str) -> bool:
        """Whether every text in a tree of free values is fit."""
        found = misfit(tree)
        if found:
            self.fail(f"{at}{found.pointer}", found.message, "character")
        return found is None

    def texts(self, tree: Mapping[str, Any], key: str, at: str) -> tuple[str, ...]:
        found = []
        for item, place in self.items(tree, key, at):
            if isinstance(item, str) and item:
                wrong = unfit(item)
                if wrong:
                    self.fail(place, wrong.message, "character")
                found.append(item)
            else:
                self.fail(place, "this has to be a text", "type")
        return tuple(found)

    def slug(self, tree: Mapping[str, Any], key: str, at: str) -> str:
        value = self.text(tree, key, at, required=True)
        if value and not is_slug(value):
            self.fail(f"{at}/{key}", f"{value} is no slug: lower-case letters, digits and single hyphens")
        return value

    def choice(self, tree: Mapping[str, Any], key: str, at: str, choices: Iterable[str], default: str) -> str:
        value = self.text(tree, key, at, default)
        if value not in choices:
            self.fail(f"{at}/{key}", f"{value} is none of {', '.join(choices)}")
        return value

    def number(self, tree: Mapping[str, Any], key: str, at: str, allowed: range) -> int:
        value = tree.get(key)
        if value is None:
            return 0
        if not isinstance(value, int) or isinstance(value, bool) or value not in allowed:
            self.fail(f"{at}/{key}", f"this has to be a whole number from {allowed[0]} to {allowed[-1]}")
            return 0
        return value

    def switch(self, tree: Mapping[str, Any], key: str, at: str, default: bool) -> bool:
        value = tree.get(key)
        if value is None:
            return default
        if not isinstance(value, bool):
            self.fail(f"{at}/{key}", "this has to be true or false", "type")
            return default
        return value

    def date(self, tree: Mapping[str, Any], key: str, at: str) -> datetime.date | None:
        value = self.text(tree, key, at)
        if not value:
            return None
        try:
            return datetime.date.fromisoformat(value)
        except ValueError:
            self.fail(f"{at}/{key}", f"{value} is not a date; write it as 2026-03-01")
            return None

    def name(self, tree: Mapping[str, Any], at: str, default: str = "") -> str:
        value = self.text(tree, "name", at, default, required=not default)
        if len(value) > MAX_NAME:
            self.fail(f"{at}/name", f"this name has {len(value)} characters; {MAX_NAME} is the most")
        elif len(value.splitlines()) > 1 or "\t" in value:
            self.fail(f"{at}/name", "a name is one line of text", "character")
        return value

    def once(self, seen: dict[str, str], name: str, at: str, what: str, shown: str = "") -> None:
        """Tell of a name that stands twice; ``shown`` is the name as it is told where it is compared otherwise."""
        if name in seen:
            self.fail(at, f"the {what} {shown or name} stands twice; first at {seen[name]}", "repeated")
        elif name:
            seen[name] = at


def name_of(slug: str) -> str:
    """A name for what has none: its slug as words."""
    return slug.replace("-", " ").replace("_", " ").capitalize()
