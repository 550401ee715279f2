"""Pieces as the API tells them."""

from __future__ import annotations

from typing import Any

from navrel.rendering.palette import colour
from navrel.server.sitestate.records import piece_tree

from .models import Piece


def piece_info(record: Piece) -> dict[str, Any]:
    """A piece in layout-file form, with its version, its colour, and what it is a copy of."""
    more = {"version": record.version, "colour": colour(record.colour), "origin": record.origin}
    return {**piece_tree(record), **more}
