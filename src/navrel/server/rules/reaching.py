"""How far rules reach, as the API tells it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from navrel.core.cascade.conditions import Refused as RefusedLens
from navrel.core.cascade.conditions import weigh_audience
from navrel.core.cascade.lookup import PageResolver
from navrel.core.language.visitor import Lens
from navrel.core.layout.model import ADDING, Layout, Rule, Target
from navrel.core.pages.page import Page
from navrel.core.questions.reach import (
    Reach,
    excluded_pages,
    near_misses,
    reaches,
    rule_pages,
    templates_with,
    usual_specificity,
)
from navrel.server.states import State

MOST_REACHED = 500


def measures(state: State, lens: Lens, rule: Rule, reach: Reach) -> dict[str, Any]:
    """The numbers of a rule: where it wins and is seen, by target and in all, and how specific it is."""
    specificity, on = usual_specificity(state.index, rule)
    return {
        "wins": len(reach.wins_somewhere),
        "no_place": len(reach.unplaced_everywhere),
        "by_target": [_target_wins(state, reach, target) for target in reach.wins],
        "let_in": not isinstance(weigh_audience(lens, rule.condition.audience), RefusedLens),
        "specificity": specificity,
        "specificity_on": on,
    }


def _target_wins(state: State, reach: Reach, target: Target) -> dict[str, Any]:
    no_place = reach.unplaced.get(target)
    return {
        "target": str(target),
        "pages": len(reach.seen(target)),
        "no_place": len(no_place) if no_place is not None else 0,
        "templates": templates_with(state.layout, target.name) if no_place else [],
    }


def _with_edited(layout: Layout, edited: Rule) -> tuple[Layout, Rule | None]:
    """The layout with the edited rule in the place of the saved one, or at the top; and the saved one."""
    saved = next((rule for rule in layout.rules if edited.key is not None and rule.key == edited.key), None)
    if saved is None:
        return replace(layout, rules=(edited, *layout.rules)), None
    return replace(layout, rules=tuple(edited if rule is saved else rule for rule in layout.rules)), saved


def reach_of(state: State, lens: Lens, edited: Rule, wanted: str) -> dict[str, Any]:
    """How far an edited rule reaches, page by page for one of its targets, and what differs from the saved one."""
    layout, saved = _with_edited(state.layout, edited)
    reach = reaches(state.index, layout, lens)[layout.rules.index(edited)]
    before = rule_pages(state.index, saved) if saved else reach.pages
    new, gone = reach.pages - before, before - reach.pages
    targets = [action.target for action in edited.actions]
    chosen = next((target for target in targets if str(target) == wanted), targets[0] if targets else None)
    won = reach.wins.get(chosen) if chosen else None
    unplaced = reach.unplaced.get(chosen) if chosen else None
    resolver = _resolver_of(state, layout, chosen)
    pages = []
    for number in reach.pages.numbers()[:MOST_REACHED].tolist():
        page = state.index.tree.pages[number]
        row = {"path": page.path, "title": page.title, "new": number in new, "by": "", "on": ""}
        if unplaced is not None and number in unplaced:
            row["state"] = "no-place"
        elif won is not None and number in won and chosen is not None:
            adding = all(action.do in ADDING for action in edited.actions if action.target == chosen)
            row["state"] = "adds" if adding else "wins"
        else:
            row |= _loss(resolver, lens, page, edited, chosen)
        pages.append(row)
    excluded, count = excluded_pages(state.index, edited, MOST_REACHED)
    pages += [
        {"path": one.page.path, "title": one.page.title, "state": "excluded", "by": one.clause, "on": "", "new": False}
        for one in excluded
    ]
    excluded_paths = {one.page.path for one in excluded}
    lost = [state.index.tree.pages[number] for number in gone.numbers()[:MOST_REACHED].tolist()]
    pages += [
        {"path": page.path, "title": page.title, "state": "gone", "by": "", "on": "", "new": False}
        for page in lost
        if page.path not in excluded_paths
    ]
    return {
        **measures(state, lens, edited, reach),
        "reached": len(reach.pages),
        "excluded": count,
        "new": len(new),
        "gone": len(gone),
        "pages": pages,
        "nearly": [
            {"path": miss.page.path, "title": miss.page.title, "term": str(miss.term)}
            for miss in near_misses(state.index, edited.condition.include)
        ],
    }


def _resolver_of(state: State, layout: Layout, target: Target | None) -> PageResolver:
    """Resolves single pages by the rules that act on one target alone."""
    acting = (rule for rule in layout.rules if any(action.target == target for action in rule.actions))
    return PageResolver(state.index, replace(layout, rules=tuple(acting)))


def _loss(resolver: PageResolver, lens: Lens, page: Page, edited: Rule, target: Target | None) -> dict[str, Any]:
    """Why an edited rule does not win a target on one of its pages."""
    if target is None:
        return {"state": "reached"}
    found = resolver.resolve(page, lens, (target,))[target]
    entry = next(one for one in found.entries if one.rule is edited)
    if entry.state not in ("outranked", "cleared", "duplicate", "locked"):
        return {"state": "reached", "by": entry.clause}
    return {"state": entry.state, "by": entry.by.name if entry.by else "", "on": entry.on or ""}
