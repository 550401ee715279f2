"""Rules as far as they have to do with what is asked."""

from __future__ import annotations

from collections.abc import Container, Iterable
from dataclasses import replace

from ..layout.model import Rule, Target


def narrowed(rules: Iterable[Rule], targets: Container[Target]) -> tuple[Rule, ...]:
    """The rules that act on some targets, each with those of its actions alone."""
    found = (
        replace(rule, actions=tuple(action for action in rule.actions if action.target in targets)) for rule in rules
    )
    return tuple(rule for rule in found if rule.actions)
