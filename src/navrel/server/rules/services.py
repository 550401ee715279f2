"""Making, changing, ordering and removing rules."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import F

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_rule, read_settings
from navrel.core.files.writing import write_action, write_condition
from navrel.core.layout.document import MAX_NAME, free_name
from navrel.core.layout.model import Rule as CoreRule
from navrel.server.api.errors import InTheWay, Missing, Outdated
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site
from navrel.server.sitestate.records import names_on_shelf, rule_tree, stated_name

from .models import Rule

MAX_RULES = 2000
#: What a rule's tree leaves out.
_USUAL = {"on": True, "priority": 0}


def find_rule(site_slug: str, number: int) -> Rule:
    """The rule with this id. Raises Missing."""
    rule = Rule.objects.filter(site__slug=site_slug, pk=number).first()
    if rule is None:
        raise Missing("no-rule", "This rule is not there any more")
    return rule


def checked_rule(site: Site, tree: dict[str, Any], itself: int | None = None) -> CoreRule:
    """The rule that a tree in layout-file form describes, with its name free. Raises DocumentError."""
    problems: list[Problem] = []
    name = stated_name(tree)
    if name == "":
        problems.append(Problem("/name", "a rule needs a name", "required"))
    elif isinstance(name, str) and Rule.objects.filter(site=site, name__iexact=name).exclude(pk=itself or 0).exists():
        problems.append(Problem("/name", f"there is already a rule called {name}", "taken"))
    rule = None
    try:
        rule = read_rule(
            {**tree, "name": name or "unnamed"},
            names_on_shelf(site),
            read_settings(site.settings),
        )
    except DocumentError as error:
        problems += error.problems
    if problems or rule is None:
        raise DocumentError(problems)
    return rule


def make_rule(site_slug: str, tree: dict[str, Any], *, by: Any = None) -> Rule:
    """A new rule at the top of the list."""
    with editing(site_slug, by) as site:
        return make_locked(site, tree)


def make_locked(site: Site, tree: dict[str, Any], position: int = 1) -> Rule:
    """A new rule of a site that is locked for an edit."""
    rule = checked_rule(site, tree)
    count = Rule.objects.filter(site=site).count()
    if count >= MAX_RULES:
        raise InTheWay("too-many-rules", f"A site holds at most {MAX_RULES:,} rules")
    Rule.objects.filter(site=site, position__gte=position).update(position=F("position") + 1)
    return Rule.objects.create(site=site, position=position, **rule_columns(rule))


def change_rule(site_slug: str, number: int, tree: dict[str, Any], version: int, *, by: Any = None) -> Rule:
    """Replace a rule. Raises Outdated, with the other's version, where somebody else changed it meanwhile."""
    with editing(site_slug, by) as site:
        find_newest(site, number, version)
        return change_locked(site, number, tree)


def change_locked(site: Site, number: int, tree: dict[str, Any]) -> Rule:
    """Replace a rule of a site that is locked for an edit."""
    record = find_rule(site.slug, number)
    for key, value in rule_columns(checked_rule(site, tree, record.pk)).items():
        setattr(record, key, value)
    record.version += 1
    record.save()
    return record


def change_several(site_slug: str, numbers: Sequence[int], changes: dict[str, Any], *, by: Any = None) -> int:
    """Give several rules the same switch or priority, in one edit; returns how many were otherwise. Raises Missing."""
    changed = 0
    with editing(site_slug, by) as site:
        for number in dict.fromkeys(numbers):
            tree = rule_tree(find_rule(site_slug, number))
            if any(tree.get(key, _USUAL[key]) != value for key, value in changes.items()):
                change_locked(site, number, {**tree, **changes})
                changed += 1
    return changed


def remove_several(site_slug: str, numbers: Sequence[int], *, by: Any = None) -> int:
    """Remove several rules, in one edit; returns how many. Raises Missing."""
    wanted = list(dict.fromkeys(numbers))
    with editing(site_slug, by) as site:
        for number in wanted:
            remove_locked(site, number)
    return len(wanted)


def copy_rule(site_slug: str, number: int, *, by: Any = None) -> Rule:
    """A copy of a rule right below it, switched off, so that nothing changes before it is looked at."""
    with editing(site_slug, by) as site:
        record = find_rule(site_slug, number)
        return make_locked(site, {**rule_tree(record), "name": _free_name(record), "on": False}, record.position + 1)


def move_rule(
    site_slug: str, number: int, position: int, version: int, priority: int | None = None, *, by: Any = None
) -> Rule:
    """Move a rule to a position of the list; those between move by one. Raises Outdated.

    ``priority``: what it gets on the way, as the list is read by priority first; None: it keeps its own.
    """
    with editing(site_slug, by) as site:
        record = find_newest(site, number, version)
        others = list(Rule.objects.filter(site=site).exclude(pk=number))
        others.insert(max(1, min(position, len(others) + 1)) - 1, record)
        for now, rule in enumerate(others, start=1):
            rule.position = now
        Rule.objects.bulk_update(others, ["position"])
        if priority is not None and priority != record.priority:
            return change_locked(site, number, {**rule_tree(record), "priority": priority})
        record.refresh_from_db()
        return record


def remove_rule(site_slug: str, number: int, version: int, *, by: Any = None) -> None:
    """Remove a rule; those below it move up. Raises Outdated."""
    with editing(site_slug, by) as site:
        find_newest(site, number, version)
        remove_locked(site, number)


def remove_locked(site: Site, number: int) -> None:
    """Remove a rule of a site that is locked for an edit."""
    record = find_rule(site.slug, number)
    record.delete()
    Rule.objects.filter(site=site, position__gt=record.position).update(position=F("position") - 1)


def add_rules(site: Site, rules: Sequence[CoreRule]) -> None:
    """Add rules, whose names are free, below those of a locked site, in their order."""
    count = Rule.objects.filter(site=site).count()
    if count + len(rules) > MAX_RULES:
        raise InTheWay("too-many-rules", f"A site holds at most {MAX_RULES:,} rules")
    Rule.objects.bulk_create(
        Rule(site=site, position=position, **rule_columns(rule)) for position, rule in enumerate(rules, start=count + 1)
    )


def find_newest(site: Site, number: int, version: int) -> Rule:
    """A rule that a change was made from. Raises Missing, and Outdated."""
    record = find_rule(site.slug, number)
    Outdated.check(record.name, record.version, version, rule_tree(record))
    return record


def rule_columns(rule: CoreRule) -> dict[str, Any]:
    """What a record keeps of a rule."""
    return {
        "name": rule.name,
        "note": rule.note,
        "on": rule.on,
        "priority": rule.priority,
        "condition": write_condition(rule.condition),
        "actions": [write_action(action) for action in rule.actions],
    }


def _free_name(record: Rule) -> str:
    taken = Rule.objects.filter(site=record.site_id).values_list("name", flat=True)
    return free_name(f"{record.name[: MAX_NAME - 12]}, copy", taken)
