"""Pieces that are used nowhere, show nothing, never show, or have no place to show in."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from ...cascade.bulk import TargetOutcomes, filled_pages, in_place_pages, resolve_all, unseated_pages
from ...cascade.plain import Outcome
from ...language.visitor import Lens
from ...layout.condition import Audience
from ...layout.contents import items_of
from ...layout.model import SLOTS, Action, Piece, Target
from ...lenses.contests import Attempt, Contest
from ...lenses.space import LensSpace
from ...lenses.visitors import TooManyCombinations
from ...pages.page import path_of
from ...pages.pageset import PageSet
from .finding import Finding, Survey

#: Lenses through which slots without a place are looked for; a site with more audiences than that has other worries.
MOST_LENSES = 32
#: An address of the site itself that markup leads to, as far as it is written out.
_WRITTEN = re.compile(r"""\bhref\s*=\s*["'](/[^"'{]*)["']""")


def unused(survey: Survey) -> Iterator[Finding]:
    """A piece that no rule, sidebar, other piece or site default names."""
    used = {action.piece for rule in survey.layout.rules for action in rule.actions}
    used.update(slug for piece in survey.layout.pieces.values() for slug in piece.widgets)
    used.update(slug for piece in survey.layout.pieces.values() for slug in piece.embedded)
    used.add(survey.layout.default_template)
    for piece in survey.layout.pieces.values():
        if piece.slug not in used:
            yield Finding(
                "unused",
                "hint",
                survey.piece_pointers[piece.slug],
                piece.name,
            )


def empty_shows(survey: Survey) -> Iterator[Finding]:
    """A piece with nothing in it that some page shows."""
    empty = [piece.slug for piece in survey.layout.pieces.values() if _is_empty(piece)]
    pages = {slug: PageSet.none(survey.index.size) for slug in empty}
    for contest in survey.contests:
        for attempt in contest.attempts:
            slug = attempt.action.piece
            if slug in pages and contest.can_ever_win(attempt):
                pages[slug] = pages[slug] | attempt.open
    for slug, reached in pages.items():
        if not reached:
            continue
        piece = survey.layout.pieces[slug]
        some, count = survey.some(reached)
        yield Finding(
            "empty-shows",
            "warning",
            survey.piece_pointers[slug],
            piece.name,
            {"has": "entries" if piece.kind == "sidebar" else "items"},
            pages=some,
            page_count=count,
        )


def dead_links(survey: Survey) -> Iterator[Finding]:
    """A link of a piece, or a line of a menu, to an address of the site where nothing is."""
    layout = survey.layout
    of_pieces = {one.slug: list(_led_to(one.content)) for one in layout.pieces.values()}
    of_menus = [[path_of(entry.page or entry.href) for entry in menu.all_entries] for menu in layout.menus.values()]
    led = {path for paths in (*of_pieces.values(), *of_menus) for path in paths if path}
    missing = {path for path in led if not path.startswith("/-/") and not survey.index.tree.meant(path)}
    missing.difference_update(survey.answered(missing))
    for piece in layout.pieces.values():
        gone = [path for path in of_pieces[piece.slug] if path in missing]
        if gone:
            pages, count = survey.some(PageSet.union(survey.places.get(piece.slug, []), survey.index.size))
            yield Finding(
                "dead-link", "warning", survey.piece_pointers[piece.slug], piece.name,
                {"paths": tuple(dict.fromkeys(gone))}, pages=pages, page_count=count,
            )  # fmt: skip
    for number, (menu, paths) in enumerate(zip(layout.menus.values(), of_menus, strict=True)):
        gone = [path for path in paths if path in missing]
        if gone:
            yield Finding("dead-link", "warning", f"/menus/{number}", menu.name, {"paths": tuple(dict.fromkeys(gone))})


def _led_to(content: Mapping[str, Any]) -> Iterator[str]:
    """The paths of the site that the items of a content lead to."""
    for item in items_of(content):
        links = item.get("links")
        listed = [link.get("href") for link in links if isinstance(link, Mapping)] if isinstance(links, list) else []
        written = _WRITTEN.findall(item["code"]) if isinstance(item.get("code"), str) else ()
        for address in (item.get("href"), item.get("out_href"), item.get("page"), *listed, *written):
            if isinstance(address, str) and (path := path_of(address)):
                yield path


def _is_empty(piece: Piece) -> bool:
    if piece.kind == "template" or piece.own_slots:
        return False
    if piece.kind == "sidebar":
        return not piece.entries and not any(items_of(piece.content))
    return not any(piece.content.values())


def blank_sidebars(survey: Survey) -> Iterator[Finding]:
    """A sidebar that has entries, none of which shows on some of its pages."""
    for piece in survey.layout.pieces.values():
        if not piece.entries or piece.slug not in survey.places:
            continue
        blank = PageSet.union(survey.places[piece.slug], survey.index.size) - filled_pages(
            survey.index, survey.lens, piece
        )
        if blank:
            some, count = survey.some(blank)
            yield Finding(
                "blank-sidebar",
                "warning",
                survey.piece_pointers[piece.slug],
                piece.name,
                pages=some,
                page_count=count,
            )


def _telling_lenses(survey: Survey) -> Iterator[Lens]:
    """The survey's lens, and one for each audience that gets a template, or a piece in a slot that templates lack."""
    yield survey.lens
    layout = survey.layout
    used = {action.piece for rule in layout.rules for action in rule.actions if action.do == "use"}
    templates = [piece.slots for slug in (*used, layout.default_template) if (piece := layout.pieces.get(slug or ""))]
    everywhere = set(SLOTS).intersection(*templates)

    def tells(action: Action) -> bool:
        if action.do == "use":
            return len(everywhere) < len(SLOTS)
        return action.piece is not None and action.slot not in everywhere

    audiences = dict.fromkeys(
        rule.condition.audience for rule in layout.rules if rule.on and any(map(tells, rule.actions))
    )
    telling = [audience for audience in audiences if not audience.is_everyone]
    for audience in telling[:MOST_LENSES]:
        try:
            space = LensSpace((audience,), survey.lens.moment)
        except TooManyCombinations:
            survey.lenses.gave_up = True
            continue
        let_in = next((cells[0] for (grade,), cells in space.cells.items() if grade is not None), None)
        if let_in is not None:
            yield space.lens(let_in)


def _outcomes_on(found: TargetOutcomes, pages: PageSet) -> list[Outcome]:
    """The different outcomes of a slot on some pages."""
    return [found.outcomes[code] for code in np.unique(found.codes[pages.numbers()]).tolist()]


def entry_never_shows(survey: Survey) -> Iterator[Finding]:
    """An entry that shows on none of the pages that its sidebar can be on, for nobody, never."""
    attempts: dict[str, list[tuple[Contest, Attempt]]] = {}
    for contest in survey.contests:
        for attempt in contest.attempts:
            attempts.setdefault(attempt.action.piece or "", []).append((contest, attempt))
    for sidebar in survey.layout.pieces.values():
        tries = (
            [one for one in attempts.get(sidebar.slug, []) if one[0].can_ever_win(one[1])] if sidebar.entries else []
        )
        if not tries:
            continue
        for number, entry in enumerate(sidebar.entries):
            if not entry.on:
                continue
            pages = survey.index.entry(entry.condition)
            if not any(_meets(contest, attempt, pages, entry.condition.audience) for contest, attempt in tries):
                name = survey.name_of(entry.piece)
                yield Finding(
                    "entry-never-shows",
                    "warning",
                    f"{survey.piece_pointers[sidebar.slug]}/entries/{number}",
                    f"{name} in {sidebar.name}",
                    {"piece": name, "sidebar": sidebar.name},
                )


def _meets(contest: Contest, attempt: Attempt, pages: PageSet, audience: Audience) -> bool:
    return contest.can_win(attempt, pages, () if audience.is_everyone else (audience,))


def unseated(survey: Survey) -> Iterator[Finding]:
    """Slots that show a piece on pages without a place for it; and slot names that nothing has."""
    layout = survey.layout
    known = survey.index.slots_in_pages.union(SLOTS, *layout.held_slots.values())
    for pointer, rule in survey.rules():
        for number, action in enumerate(rule.actions):
            if action.slot and action.slot not in known:
                yield Finding(
                    "no-such-slot",
                    "error",
                    f"{pointer}/actions/{number}/slot",
                    rule.name,
                    {"slot": action.slot},
                )
    found: dict[tuple[str, str], tuple[PageSet, list[Outcome]]] = {}
    for lens in _telling_lenses(survey):
        resolved = survey.resolved if lens is survey.lens else resolve_all(survey.index, layout, lens)
        in_place = in_place_pages(survey.index, resolved)
        for slot, lacking in unseated_pages(survey.index, layout, lens, resolved).items():
            # What has no element that is bound to a slot often lacks it on purpose; a template could have it.
            for check, pages in (("unseated", lacking - in_place), ("unbound", lacking & in_place)):
                if pages and slot in known:
                    seen, outcomes = found.get((check, slot), (PageSet.none(survey.index.size), []))
                    new = _outcomes_on(resolved[Target("slot", slot)], pages)
                    found[check, slot] = (seen | pages, [*outcomes, *(one for one in new if one not in outcomes)])
    for (check, slot), (pages, outcomes) in found.items():
        some, count = survey.some(pages)
        names = tuple(survey.name_of(slug) for slug in sorted({slug for one in outcomes for slug in one.pieces}))
        yield Finding(
            check,
            "warning" if check == "unseated" else "hint",
            "",
            slot,
            {"pieces": names},
            tuple(sorted({one.by.name for one in outcomes if one.by})),
            some,
            count,
        )
