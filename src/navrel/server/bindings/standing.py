"""Pieces that show what stands in the files of pages: put there, and taken away, they change nothing to be seen."""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Iterable, Mapping
from functools import cache
from typing import Any, NamedTuple
from zlib import crc32

from navrel.core.layout.condition import Condition
from navrel.core.layout.contents import markup_alone
from navrel.core.layout.model import Layout, Piece, slot_kind
from navrel.core.pages.tree import PageTree
from navrel.core.questions.shifts import Standing, nowhere
from navrel.server.inventory.models import Site
from navrel.server.inventory.models import Standing as StandingRecord
from navrel.server.sitestate.state import SiteState


class Stands(NamedTuple):
    """Where something stands: in the file of a digest, from one byte to another."""

    digest: str
    start: int
    end: int


def put_down(site: Site, slot: str, code: str, pages: Mapping[str, Stands], tree: PageTree) -> None:
    """Keep that a piece's markup shows what stands in the place of a slot on some pages."""
    record, _ = StandingRecord.objects.get_or_create(site=site, slot=slot, code=_digest(code), defaults={"pages": {}})
    record.pages |= {path: [*stands, _above(tree, path)] for path, stands in pages.items()}
    record.save(update_fields=["pages"])


def standing_in(site: Site, *states: SiteState) -> Standing:
    """Which pieces show on which page what stands there in all of some states of a site, asked when first needed."""

    @cache
    def known() -> Mapping[str, list[tuple[str, list[str], list[Any]]]]:
        if not any(state.document.bindings for state in states):
            return {}
        slugs = _slugs_by_code(state.layout for state in states)
        found = defaultdict(list)
        records = StandingRecord.objects.filter(site=site, code__in={code for _, code in slugs})
        for slot, code, pages in records.values_list("slot", "code", "pages"):
            if pieces := slugs.get((slot_kind(slot) == "sidebar", code)):
                for path, told in pages.items():
                    found[path].append((slot, pieces, told))
        return found

    def on(path: str) -> frozenset[tuple[str, str]]:
        stated = known().get(path)
        if not stated:
            return nowhere(path)
        return frozenset(
            (slot, slug)
            for slot, pieces, told in stated
            if all(_stands_in(state, path, slot, told) for state in states)
            for slug in pieces
        )

    return on


def _stands_in(state: SiteState, path: str, slot: str, told: list[Any]) -> bool:
    """Whether it still stands there in a state: where the slot has no place, its file is as it is all the same."""
    digest, *place, above = told
    original = state.originals.get(path)
    if original is None or original.digest != digest or _above(state.index.tree, path) != above:
        return False
    return all([seat.start, seat.end] == place for seat in original.seats if seat.slot == slot)


def _slugs_by_code(layouts: Iterable[Layout]) -> dict[tuple[bool, str], list[str]]:
    """The pieces that show one markup alone, and the same in all layouts: by whether as a sidebar, and its digest."""
    told: dict[str, set[tuple[bool, str] | None]] = defaultdict(set)
    for layout in layouts:
        for slug, piece in layout.pieces.items():
            told[slug].add(_shown_alone(piece, layout))
    found = defaultdict(list)
    for slug, (first, *others) in told.items():
        if first is not None and not others:
            found[first].append(slug)
    return found


def _shown_alone(piece: Piece, layout: Layout) -> tuple[bool, str] | None:
    """Whether a piece is a sidebar, and the digest of the markup that it shows alone, everywhere; None for others."""
    shown: Piece | None = piece
    if piece.kind == "sidebar":
        always = [entry.piece for entry in piece.entries_on if entry.condition == Condition()]
        if piece.content or len(piece.entries_on) != 1 or not always:
            return None
        shown = layout.pieces.get(always[0])
    code = markup_alone(shown.content) if shown else None
    return None if code is None else (piece.kind == "sidebar", _digest(code))


def _digest(code: str) -> str:
    return hashlib.sha256(code.encode()).hexdigest()


def _above(tree: PageTree, path: str) -> int:
    """A digest of the paths of the pages above one: a piece may mark by them where a reader is."""
    page = tree.page(path)
    return crc32("|".join(tree.ancestor_paths(page)).encode()) if page else 0
