"""Pages that lack what their siblings have, and pages that say one thing twice."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterator
from itertools import combinations
from typing import Any

import numpy as np

from ...cascade.bulk import TargetOutcomes
from ...layout.contents import items_of
from ...layout.model import TEMPLATE, Piece, Target
from ...pages.pageset import PageSet
from .finding import Finding, Survey

#: What a page is told to lack, and how it is named.
_WANTED = (Target("slot", "header"), Target("slot", "footer"), Target("slot", "title"), TEMPLATE)

#: Items of which a page wants one at the most, whatever is in them.
_ONCE = ("search", "notice", "breadcrumbs")
#: Items that say the same when these parts of them are the same.
_ALIKE = {"menu": ("links", "menu", "shows", "page"), "links": ("links",), "newest": ("query", "order")}


def lacking(survey: Survey) -> Iterator[Finding]:
    """Pages with no header, footer, title or choice of template, most of whose siblings have one."""
    tree = survey.index.tree
    parents = np.array(
        [-1 if path is None else tree.numbers[path] for path in tree.parents],
        dtype=np.intp,
    )
    below = parents >= 0
    siblings = np.bincount(parents[below], minlength=len(tree)) if len(tree) else np.zeros(0)
    for target in _WANTED:
        found = survey.resolved[target]
        has, undecided = _has(found), _undecided(found)
        having = np.bincount(parents[below & has], minlength=len(tree)) if len(tree) else siblings
        lacks = np.zeros(len(tree), dtype=np.bool_)
        # Most of the others: more than half of those below the same page, without the page itself.
        lacks[below] = undecided[below] & (having[parents[below]] * 2 > siblings[parents[below]] - 1)
        lacks &= ~has
        for parent in np.unique(parents[lacks]).tolist():
            pages, count = survey.some(PageSet.from_mask(lacks & (parents == parent)))
            yield Finding(
                "lacking",
                "warning",
                "",
                pages[0].path,
                {"target": target},
                pages=pages,
                page_count=count,
            )


def _has(found: TargetOutcomes) -> Any:
    """The pages on which something decided shows, shape (pages,)."""
    return np.array([bool(one.pieces) and one.by is not None for one in found.outcomes])[found.codes]


def _undecided(found: TargetOutcomes) -> Any:
    return np.array([one.by is None and one.state != "locked" for one in found.outcomes])[found.codes]


def twice(survey: Survey) -> Iterator[Finding]:
    """Two pieces on one page with the same item: two menus of the same links, two notices, two search boxes."""
    holding: dict[tuple[str, str], list[Piece]] = defaultdict(list)
    for piece in survey.layout.pieces.values():
        for key in dict.fromkeys(_items(piece)):
            holding[key].append(piece)
    anywhere = {slug: PageSet.union(sets, survey.index.size) for slug, sets in survey.places.items()}
    for (shared, _), pieces in holding.items():
        for one, other in combinations([piece for piece in pieces if piece.slug in anywhere], 2):
            both = anywhere[one.slug] & anywhere[other.slug]
            if both:
                yield _said_twice(survey, (one, other), both, shared)
    for piece in survey.layout.pieces.values():
        twofold = _twofold(survey.places.get(piece.slug, []), survey.index.size) if piece.kind == "widget" else None
        if twofold:
            yield _said_twice(survey, (piece, piece), twofold, "itself")


def _said_twice(survey: Survey, pieces: tuple[Piece, Piece], pages: PageSet, shared: str) -> Finding:
    """``shared``: the kind of item that both hold, `landmark` for a menu's name, `itself` for one that is twice."""
    some, count = survey.some(pages)
    one, other = pieces
    return Finding(
        "twice",
        "warning",
        survey.piece_pointers[other.slug],
        other.name,
        {"first": one.name, "shared": shared},
        pages=some,
        page_count=count,
    )


def _items(piece: Piece) -> Iterator[tuple[str, str]]:
    """What a piece holds that a page wants once: the kind of item, and its content where that matters."""
    for item in items_of(piece.content):
        kind = item.get("type", "")
        if kind in _ONCE:
            yield kind, ""
        elif kind in _ALIKE:
            said = [item.get(part) for part in _ALIKE[kind]]
            yield kind, json.dumps(said, sort_keys=True, ensure_ascii=False)
        if kind == "menu":
            # Two navigation landmarks have to be told apart by their labels (WAI-ARIA, landmark regions).
            yield "landmark", str(item.get("label", ""))


def _twofold(sets: list[PageSet], size: int) -> PageSet:
    """The pages that are in more than one of some sets."""
    found = seen = PageSet.none(size)
    for pages in sets:
        found = found | (seen & pages)
        seen = seen | pages
    return found
