"""Pinning and unpinning: one choice a target of a page, kept in ordinary rules."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from navrel.core.files.writing import write_rule
from navrel.core.layout.document import MAX_NAME, free_name
from navrel.core.layout.model import Action, Target
from navrel.core.layout.model import Rule as CoreRule
from navrel.core.questions.pins import pin_condition, pinned_path
from navrel.server.api.errors import Missing
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.state import SiteState

from .models import Rule
from .services import change_locked, checked_rule, make_locked, remove_locked


def pin(site_slug: str, path: str, action_tree: dict[str, Any], priority: int | None, *, by: Any = None) -> Rule:
    """Pin a choice on a page: in the place of an earlier one on its target, beside the page's other pins.

    ``priority`` None: that of the choice it replaces, else 0.
    """
    with editing(site_slug, by) as site:
        return pin_locked(site, path, action_tree, priority)


def pin_all(site_slug: str, paths: Iterable[str], action_tree: dict[str, Any], *, by: Any = None) -> int:
    """Pin the same choice on several pages, each alone, in one edit; returns on how many."""
    with editing(site_slug, by) as site:
        wanted = list(dict.fromkeys(paths))
        for path in wanted:
            pin_locked(site, path, action_tree, None)
    return len(wanted)


def pin_locked(site: Site, path: str, action_tree: dict[str, Any], priority: int | None) -> Rule:
    """The same in a site that is locked for an edit."""
    state = draft(site)
    state.page(path)
    action = _checked_action(site, path, action_tree)
    earlier = next((rule for rule in _pins_on(state, path) if _acts(rule, action.target)), None)
    wanted = priority if priority is not None else (earlier.priority if earlier else 0)
    for rule in _pins_on(state, path):
        _take_out(site, rule, action)
    home = next((rule for rule in _pins_on(draft(site), path) if rule.priority == wanted), None)
    if home is None:
        made = CoreRule(_free_name(site, path), pin_condition(path), (action,), wanted)
        return make_locked(site, write_rule(made))
    return change_locked(site, _key(home), write_rule(replace(home, actions=(*home.actions, action))))


def unpin(site_slug: str, path: str, target: Target, *, by: Any = None) -> None:
    """Take what is pinned on a target off a page; a rule that has lost its last action goes. Raises Missing."""
    with editing(site_slug, by) as site:
        pins = [rule for rule in _pins_on(draft(site), path) if _acts(rule, target)]
        if not pins:
            raise Missing("no-pin", f"Nothing is pinned there on {path}")
        for rule in pins:
            _keep(site, rule, tuple(action for action in rule.actions if action.target != target))


def _pins_on(state: SiteState, path: str) -> list[CoreRule]:
    """The pins of a page that are on, strongest first."""
    pins = [rule for rule in state.layout.rules if rule.on and pinned_path(rule) == path]
    return sorted(pins, key=lambda rule: -rule.priority)


def _acts(rule: CoreRule, target: Target) -> bool:
    return any(action.target == target for action in rule.actions)


def _checked_action(site: Site, path: str, tree: dict[str, Any]) -> Action:
    rule = checked_rule(site, {**write_rule(CoreRule(_free_name(site, path))), "actions": [tree]})
    return rule.actions[0]


def _take_out(site: Site, rule: CoreRule, action: Action) -> None:
    """Make room for a choice: the decision on its target goes, and an addition of the same piece."""
    kept = tuple(
        one
        for one in rule.actions
        if one.target != action.target or one.adds != action.adds or (one.adds and one.piece != action.piece)
    )
    if kept != rule.actions:
        _keep(site, rule, kept)


def _keep(site: Site, rule: CoreRule, actions: tuple[Action, ...]) -> None:
    if actions:
        change_locked(site, _key(rule), write_rule(replace(rule, actions=actions)))
    else:
        remove_locked(site, _key(rule))


def _key(rule: CoreRule) -> int:
    assert rule.key is not None
    return rule.key


def _free_name(site: Site, path: str) -> str:
    room = MAX_NAME - 12
    shown = path if len(path) <= room else f"…{path[1 - room :]}"
    return free_name(f"Pin: {shown}", Rule.objects.filter(site=site).values_list("name", flat=True))
