"""Rules and pieces: their records as trees of the layout file, and as the core's own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, cast

from navrel.core.files.reading import read_dresses, read_guards, read_menus, read_piece, read_rule, read_settings
from navrel.core.layout.model import Layout, Piece, PieceKind, Rule, Setting
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece as PieceRecord
from navrel.server.rules.models import Rule as RuleRecord

Tree = Mapping[str, object]


@dataclass(frozen=True)
class ReadLayout:
    """A layout, with the trees that its parts were read from: by slug for pieces, by key for rules."""

    layout: Layout
    pieces: Mapping[str, Tree]
    rules: Mapping[int, Tree]


NOTHING_READ = ReadLayout(Layout({}, ()), {}, {})


def read_layout(site: Site, older: ReadLayout = NOTHING_READ) -> ReadLayout:
    """The layout that a site's records hold. What is as it was in an older one is taken from there, not read anew."""
    records = list(PieceRecord.objects.filter(site=site))
    pieces = {record.slug: piece_tree(record) for record in records}
    names = piece_names(records)
    same_pieces = _same_names(names, older.layout.pieces)
    core_pieces = {
        slug: older.layout.pieces[slug]
        if same_pieces and older.pieces[slug] == tree
        else read_piece(tree, names)
        for slug, tree in pieces.items()
    }  # fmt: skip
    settings = read_settings(site.settings)
    same_targets = same_pieces and settings == older.layout.settings
    read = {rule.key: rule for rule in older.layout.rules} if same_targets else {}
    rules = {record.pk: rule_tree(record) for record in RuleRecord.objects.filter(site=site)}
    core_rules = tuple(
        read[key] if key in read and older.rules[key] == tree else core_rule(key, tree, core_pieces, settings)
        for key, tree in rules.items()
    )
    layout = Layout(
        core_pieces,
        core_rules,
        site.default_template or None,
        settings,
        read_menus(site.menus),
        read_dresses(site.dresses),
        read_guards(site.guards, core_pieces, settings),
    )
    return ReadLayout(layout, pieces, rules)


def _same_names(names: Mapping[str, Piece], older: Mapping[str, Piece]) -> bool:
    """Whether the same pieces are there, so that what names them is read as before."""
    return names.keys() == older.keys() and all(
        piece.kind == older[slug].kind and piece.name == older[slug].name for slug, piece in names.items()
    )


def piece_names(records: Iterable[PieceRecord]) -> dict[str, Piece]:
    """Slug, kind and name of pieces: as much as it takes to check what names them."""
    return {record.slug: Piece(record.slug, cast(PieceKind, record.kind), record.name) for record in records}


def names_on_shelf(site: Site) -> dict[str, Piece]:
    """The same of all pieces of a site, without reading what is in them."""
    return piece_names(PieceRecord.objects.filter(site=site).only("slug", "kind", "name"))


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


def core_rule(key: int, tree: Tree, pieces: dict[str, Piece], settings: tuple[Setting, ...]) -> Rule:
    """The core's rule for the tree of a record; its key is the record's id."""
    return replace(read_rule(tree, pieces, settings), key=key)


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


def stated_name(tree: Mapping[str, Any]) -> Any:
    """The name that a tree states, without white space around it; what is no text is left for the reader to refuse."""
    name = tree.get("name") or ""
    return name.strip() if isinstance(name, str) else name
