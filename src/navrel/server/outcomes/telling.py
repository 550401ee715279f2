"""Traces and pins, as the API tells them."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any

import numpy as np

from navrel.core.calendar.schedule import write_moment
from navrel.core.cascade.bulk import TargetOutcomes
from navrel.core.cascade.conditions import Unmet, weigh_page
from navrel.core.cascade.plain import Entry, Trace
from navrel.core.files.writing import write_action, write_rule
from navrel.core.language.visitor import Lens
from navrel.core.language.visitor_terms import print_visitor
from navrel.core.layout.model import TEMPLATE, Action, Rule, Target
from navrel.core.lenses.audience_table import audience_table
from navrel.core.lenses.looks import Looks, changing_sidebars, differing_inside, differing_targets, page_looks
from navrel.core.lenses.visitors import TooManyCombinations
from navrel.core.pages.page import LockNote, Page
from navrel.core.pages.pageset import PageSet
from navrel.core.questions.pins import Obstacle, Trial, pinned_path, try_pin
from navrel.core.questions.shifts import Standing
from navrel.core.questions.trial import trial
from navrel.core.questions.turns import Turn, turns
from navrel.core.questions.whynot import Remedy, why_not
from navrel.server.api.telling import outcome_info
from navrel.server.sitestate.state import SiteState
from navrel.wording.audiences import seen_by, when, who
from navrel.wording.pages import PageWords
from navrel.wording.whynot import remedy_words, why_words

#: Rows and columns that a table of who sees which has at the most.
MOST_LINES = 12


def acts_for_somebody(state: SiteState, page: Page, entry: Entry) -> bool:
    """Whether the rule of an entry acts on this page for some visitor at some time."""
    return entry.rule.on and not isinstance(weigh_page(state.index.tree, page, entry.rule.condition), Unmet)


def pin_info(state: SiteState, page: Page, target: Target) -> dict[str, Any]:
    """What is pinned on a target of a page, and what a pin there would meet."""
    since = state.document.now()
    pinned = next(
        (
            (rule, action)
            for rule in state.layout.rules
            if rule.on and pinned_path(rule) == page.path
            for action in rule.actions
            if action.target == target and not action.adds
        ),
        None,
    )
    try:
        trial, told = try_pin(state.index, state.layout, page, target, since), True
    except TooManyCombinations:
        trial, told = Trial(is_locked=False, wins=True), False

    def listed(obstacles: Iterable[Obstacle]) -> list[dict[str, Any]]:
        return [
            {"rule": one.rule.key, "name": one.rule.name, "action": write_action(one.action), "on": one.on,
             "words": seen_by(one.seen, since)}
            for one in obstacles
        ]  # fmt: skip

    return {
        "rule": pinned[0].key if pinned else None,
        "action": write_action(pinned[1]) if pinned else None,
        "locked": trial.is_locked,
        **page.lock_notes.get(target.name, LockNote())._asdict(),
        "wins": trial.wins,
        "deciders": listed(trial.deciders),
        "additions": listed(trial.additions),
        "priority": trial.priority,
        "clearing": trial.clearing,
        "told": told,
    }


def trace_info(found: Trace) -> dict[str, Any]:
    """The account of one target: the outcome, what decided it, and what became of every action."""
    decider, runner_up = found.decider, found.runner_up
    return {
        "target": str(found.target),
        "outcome": outcome_info(found.outcome),
        "by": decider.rule.name if decider else None,
        "decisive": runner_up.on if runner_up else None,
        "runner_up": runner_up.rule.name if runner_up else None,
        "default_template": found.target == TEMPLATE and decider is None,
        "entries": [_entry(found, entry) for entry in found.entries],
    }


def turns_info(state: SiteState, page: Page, target: Target, lens: Lens) -> dict[str, Any]:
    """When a target last changed by itself for the lens's visitor, and when it will next."""
    found = turns(state.index.tree, state.layout, page, target, lens)
    return {name: _turn(one) for name, one in found._asdict().items()}


def _turn(one: Turn | None) -> dict[str, Any] | None:
    if one is None:
        return None
    return {"at": write_moment(one.moment), "outcome": outcome_info(one.outcome), "inside": one.inside}


def pages_in_use(found: TargetOutcomes) -> PageSet:
    """Where a rule or a pin decides a target, or something stands there; a setting's own default counts for nothing."""
    used = [one.by is not None or (one.state == "filled" and one.value is None) for one in found.outcomes]
    return PageSet.from_mask(np.array(used, dtype=bool)[found.codes])


def looks_info(state: SiteState, page: Page, lens: Lens, since: datetime) -> dict[str, Any]:
    """Every look of a page from a moment on, and which of them is seen through the lens."""
    try:
        found = page_looks(state.index.tree, state.layout, page, since)
    except TooManyCombinations:
        return {"told": False, "seen_until": None, "looks": [], "table": None}
    differing = differing_targets(found)
    sidebars = changing_sidebars(found)
    return {
        "told": True,
        "table": _table_info(found, since),
        "seen_until": _moment(found.seen_until),
        "looks": [
            {
                "words": seen_by(look.seen, since),
                "visitor": print_visitor(look.lens.visitor, state.document.language),
                "at": write_moment(look.lens.moment) if look.lens.moment > since else "",
                "current": any(one.admits(lens) for one in look.seen),
                "differs": [
                    {"target": str(target), "outcome": outcome_info(look.outcomes[target])} for target in differing
                ],
                "sidebars": [{"piece": slug, "shows": look.entries.get(slug, ())} for slug in sidebars],
            }
            for look in found.looks
        ],
    }


def _table_info(found: Looks, since: datetime) -> dict[str, Any] | None:
    """Who sees which look, where that is a table that can be read."""
    table = audience_table(found)
    if len(found.looks) == 1 or max(table.looks.shape) > MOST_LINES:
        return None
    return {
        "visitors": [who(one.visitors) for one in table.visitors],
        "times": [when(one, since) for one in table.times],
        "looks": table.looks.tolist(),
    }


def unlike_info(state: SiteState, page: Page, since: datetime) -> dict[str, Any]:
    """In which targets a page differs between visitors or times, from a moment on."""
    try:
        found = page_looks(state.index.tree, state.layout, page, since)
    except TooManyCombinations:
        return {"path": page.path, "told": False, "targets": []}
    inside = differing_inside(found)
    return {
        "path": page.path,
        "told": True,
        "targets": [str(target) for target in found.looks[0].outcomes if target in inside],
    }


def why_not_info(
    state: SiteState, page: Page, lens: Lens, rule: Rule, action: Action, standing: Standing
) -> dict[str, Any]:
    """Why an action does not show on a page through a lens, and what would change that, with its exact impact.

    ``standing``: what stands in the pages themselves, which is no difference where a piece shows it.
    """
    found = why_not(state.index, state.layout, page, lens, rule, action)
    since = state.document.now()

    def changed_pages(remedy: Remedy) -> int:
        return len(trial(state.document, state.index, remedy.rule, remedy.position, since, standing).paths)

    return {
        "shows": found.shows,
        "words": why_words(found.entry, PageWords(state.document, state.index), since),
        "remedies": [
            {
                "words": remedy_words(remedy),
                "rule": remedy.rule.key,
                "tree": write_rule(remedy.rule),
                "position": remedy.position,
                "pages": changed_pages(remedy),
            }
            for remedy in found.remedies
        ],
    }


def _entry(found: Trace, entry: Entry) -> dict[str, Any]:
    strength = entry.strength
    return {
        "rule": entry.rule.key,
        "name": entry.rule.name,
        "position": entry.place,
        "action": write_action(entry.action),
        "state": entry.state,
        "strength": {"priority": strength.priority, "specificity": strength.specificity, "position": -strength.order}
        if strength
        else None,
        "by": entry.by.name if entry.by else None,
        "on": entry.on,
        "clause": entry.clause,
        "next_start": _moment(found.next_start(entry)),
        "ends": _moment(found.ends(entry)),
        "include": str(entry.rule.condition.include),
    }


def _moment(moment: datetime | None) -> str | None:
    return write_moment(moment) if moment else None
