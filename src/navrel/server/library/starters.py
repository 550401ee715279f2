"""What a piece can start from: our own, in the site's colours and fonts."""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Any

from navrel.core.layout.model import PIECE_KINDS
from navrel.server.api.errors import Missing

Starter = Mapping[str, Any]


@cache
def starters() -> tuple[Starter, ...]:
    """Every starter: its slug, kind, name, what it is about, and the content that a piece gets."""
    text = resources.files("navrel.server.library").joinpath("starters.json").read_text("utf-8")
    return tuple(sorted(json.loads(text), key=lambda one: PIECE_KINDS.index(one["kind"])))


def find_starter(slug: str) -> Starter:
    """The starter with this slug. Raises Missing."""
    found = next((one for one in starters() if one["slug"] == slug), None)
    if found is None:
        raise Missing("no-starter", f"There is no starter {slug}")
    return found


def piece_from(starter: Starter, name: str) -> dict[str, Any]:
    """The tree of a piece that starts from it, under a name."""
    tree = {"kind": starter["kind"], "name": name, "content": starter["content"]}
    return {**tree, "slots": starter["slots"]} if "slots" in starter else tree
