"""Rules and pieces: their records as trees of the layout file, and as the core's own."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any, cast

from navrel.core.files.reading import read_piece, read_rule
from navrel.core.layout.model import Piece, PieceKind, Rule, Setting
from navrel.server.library.models import Piece as PieceRecord
from navrel.server.rules.models import Rule as RuleRecord


def core_pieces(records: Iterable[PieceRecord]) -> dict[str, Piece]:
    """The pieces of these records, by slug, in their order."""
    found = list(records)
    known = piece_names(found)
    return {record.slug: read_piece(piece_tree(record), known) for record in found}


def piece_names(records: Iterable[PieceRecord]) -> dict[str, Piece]:
    """Slug, kind and name of pieces: as much as it takes to check what names them."""
    return {record.slug: Piece(record.slug, cast(PieceKind, record.kind), record.name) for record in records}


def piece_tree(record: PieceRecord) -> dict[str, object]:
    """A piece as it stands in the layout file."""
    return {
        "slug": record.slug,
        "kind": record.kind,
        "name": record.name,
        "note": record.note,
        "content": record.content,
        "slots": record.slots,
        "entries": record.entries,
    }


def core_rule(record: RuleRecord, pieces: dict[str, Piece], settings: tuple[Setting, ...]) -> Rule:
    """The core's rule for a record; its key is the record's id."""
    return replace(read_rule(rule_tree(record), pieces, settings), key=record.pk)


def rule_tree(record: RuleRecord) -> dict[str, object]:
    """A rule as it stands in the layout file."""
    return {
        "name": record.name,
        "note": record.note,
        "on": record.on,
        "priority": record.priority,
        "condition": record.condition,
        "actions": record.actions,
    }


def stated_name(tree: dict[str, Any]) -> Any:
    """The name that a tree states, without white space around it; what is no text is left for the reader to refuse."""
    name = tree.get("name") or ""
    return name.strip() if isinstance(name, str) else name
