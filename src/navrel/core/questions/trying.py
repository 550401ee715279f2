"""Trying something on: pages as if some actions decided, without a rule and without an edit."""

from __future__ import annotations

from dataclasses import replace

from ..language.query import parse_query
from ..layout.condition import Condition
from ..layout.model import Action, Layout, Rule


def tried_on(layout: Layout, name: str, actions: tuple[Action, ...]) -> Layout:
    """A layout in which these actions decide their targets on every page, whatever other rules say.

    What rules add to a slot before or after stays, as it would beside a rule that takes the slot; locks hold.
    ``name`` is what the outcomes are told to be decided by.
    """
    tried = {action.target for action in actions if not action.adds}
    others = (
        replace(rule, actions=tuple(one for one in rule.actions if one.adds or one.target not in tried))
        for rule in layout.rules
    )
    return replace(layout, rules=(Rule(name, Condition(parse_query("all")), actions), *others))
