"""Pages that lack what their siblings have, and pages that say one thing twice."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterator
from itertools import combinations
from typing import Any

import numpy as np

from ..bulk import TargetOutcomes, entry_pages
from ..model import TEMPLATE, Piece, Target
from ..pageset import PageSet
from .finding import Finding, Survey, count_pages, name_target

#: What a page is told to lack, and how it is named.
_WANTED = (Target("slot", "header"), Target("slot", "footer"), Target("slot", "title"), TEMPLATE)

#: Items of which a page wants one at the most, whatever is in them.
_ONCE = {"search": "a search box", "notice": "a notice", "breadcrumbs": "breadcrumbs"}
#: Items that say the same when this part of them is the same.
_ALIKE = {
    "menu": ("links", "a menu of the same links"),
    "links": ("links", "the same links"),
    "newest": ("query", "the same newest pages"),
}


def lacking(survey: Survey) -> Iterator[Finding]:
    """Pages with no header, footer, title or choice of template, most of whose siblings have one."""
    site = survey.index.site
    parents = np.array(
        [site.numbers[path] if (path := site.parent_path(page)) is not None else -1 for page in site.pages],
        dtype=np.intp,
    )
    below = parents >= 0
    siblings = np.bincount(parents[below], minlength=len(site)) if len(site) else np.zeros(0)
    for target in _WANTED:
        found = survey.resolved[target]
        has, undecided = _has(found), _undecided(found)
        having = np.bincount(parents[below & has], minlength=len(site)) if len(site) else siblings
        lacks = np.zeros(len(site), dtype=np.bool_)
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
                f"{_paths(pages, count)} no {_called(target)}, unlike most pages beside",
                f"no rule decides {name_target(target)} there, for a visitor of whom nothing is known",
                "widen the rule that the others follow, or leave the slot empty on purpose",
                (),
                pages,
                count,
            )


def _paths(pages: tuple[Any, ...], count: int) -> str:
    return f"{pages[0].path} has" if count == 1 else f"{count_pages(count)} below one page have"


def _called(target: Target) -> str:
    return "template of its own" if target == TEMPLATE else target.name


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
    shared = {key: pieces for key, pieces in holding.items() if len(pieces) > 1}
    once = {piece.slug for piece in survey.layout.pieces.values() if piece.kind == "widget"}
    places = _places(survey, {piece.slug for pieces in shared.values() for piece in pieces} | once)
    for (kind, _), pieces in shared.items():
        for one, other in combinations(pieces, 2):
            both = places.get(one.slug, _NOWHERE).anywhere(survey) & places.get(other.slug, _NOWHERE).anywhere(survey)
            if both:
                yield _said_twice(survey, (one, other), both, f"both hold {kind}")
    for slug in sorted(once & places.keys()):
        piece = survey.layout.pieces[slug]
        twofold = places[slug].twofold(survey)
        if twofold:
            yield _said_twice(survey, (piece, piece), twofold, "it stands in two places of the page")


def _said_twice(survey: Survey, pieces: tuple[Piece, Piece], pages: PageSet, why: str) -> Finding:
    some, count = survey.some(pages)
    one, other = pieces
    names = f"“{one.name}” and “{other.name}” say the same" if one is not other else f"“{one.name}” shows twice"
    return Finding(
        "twice",
        "warning",
        survey.piece_pointers[other.slug],
        other.name,
        f"{names} on {count_pages(count)}",
        why,
        "leave one of them out there: exclude these pages, or change what the pieces hold",
        (),
        some,
        count,
    )


def _items(piece: Piece) -> Iterator[tuple[str, str]]:
    """What a piece holds that a page wants once: the kind of item in words, and its content where that matters."""
    items = piece.content.get("items")
    for item in items if isinstance(items, list) else ():
        kind = item.get("type") if isinstance(item, dict) else None
        if kind in _ONCE:
            yield _ONCE[kind], ""
        elif kind in _ALIKE:
            part, words = _ALIKE[kind]
            yield words, json.dumps(item.get(part), sort_keys=True, ensure_ascii=False)
        if kind == "menu":
            # Two navigation landmarks have to be told apart by their labels (WAI-ARIA, landmark regions).
            yield "a navigation landmark of the same name", str(item.get("label", ""))


class _Places:
    """The pages on which a piece shows, a set for each place that it shows in."""

    def __init__(self) -> None:
        self.sets: list[PageSet] = []

    def anywhere(self, survey: Survey) -> PageSet:
        return PageSet.union(self.sets, survey.index.size)

    def twofold(self, survey: Survey) -> PageSet:
        found = seen = PageSet.none(survey.index.size)
        for pages in self.sets:
            found = found | (seen & pages)
            seen = seen | pages
        return found


_NOWHERE = _Places()


def _places(survey: Survey, slugs: set[str]) -> dict[str, _Places]:
    """Where some pieces show through the survey's lens, by slot; widgets of a sidebar too."""
    found: dict[str, _Places] = defaultdict(_Places)
    for target, outcomes in survey.resolved.items():
        if target.kind != "slot":
            continue
        by_piece: dict[str, list[int]] = defaultdict(list)
        for code, outcome in enumerate(outcomes.outcomes):
            for slug in outcome.pieces:
                by_piece[slug].append(code)
        for slug, codes in by_piece.items():
            piece = survey.layout.pieces.get(slug)
            wanted = [entry for entry in piece.entries if entry.piece in slugs] if piece else []
            if slug not in slugs and not wanted:
                continue
            held = np.zeros(len(outcomes.outcomes), dtype=np.bool_)
            held[codes] = True
            pages = PageSet.from_mask(held[outcomes.codes])
            if slug in slugs:
                found[slug].sets.append(pages)
            for entry in wanted:
                found[entry.piece].sets.append(pages & entry_pages(survey.index, survey.lens, entry.condition))
    return found
