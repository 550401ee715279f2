"""What a piece was: after every edit of it, and how it differs from the one that it began as a copy of."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from navrel.server.edits.models import Edit
from navrel.server.edits.services import parts_of
from navrel.server.inventory.models import Site
from navrel.server.sitestate.records import piece_tree
from navrel.wording.edits import piece_differences

from .models import Piece
from .services import find_piece

#: Versions that are told of, newest first.
MOST_VERSIONS = 60
_TOLD = ("kind", "name", "note", "content", "slots", "entries")


@dataclass(frozen=True)
class Version:
    """A piece as an edit left it."""

    edit: Edit
    tree: Mapping[str, Any]


def versions_of(site: Site, slug: str) -> list[Version]:
    """What a piece was after each edit that changed it, newest first. Raises Missing."""
    find_piece(site.slug, slug)
    return list(_versions(site, slug))[:MOST_VERSIONS]


def _versions(site: Site, slug: str) -> Iterator[Version]:
    key = f"piece/{slug}"
    edits = Edit.objects.filter(site=site, parts__contains=[{"key": key}]).select_related("by")
    for edit in edits[: MOST_VERSIONS * 2]:
        after = next((part.after for part in parts_of(edit) if part.key == key), None)
        if after is not None:
            yield Version(edit, {name: after[name] for name in _TOLD})


def differences(site: Site, slug: str) -> tuple[Piece, list[str]] | None:
    """The piece that one began as a copy of, and how it differs from it by now, in words.

    None where it is no copy, or its original is gone. Raises Missing.
    """
    piece = find_piece(site.slug, slug)
    original = Piece.objects.filter(site=site, slug=piece.origin).first() if piece.origin else None
    if original is None:
        return None
    names = dict(Piece.objects.filter(site=site).values_list("slug", "name"))
    return original, piece_differences(piece_tree(original), piece_tree(piece), names)
