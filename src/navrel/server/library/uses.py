"""Where a piece is used, and taking it out of there."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any, Literal

from django.db.models import F

from navrel.core.layout.contents import pieces_in, renamed, without_piece
from navrel.server.inventory.models import Site
from navrel.server.rules.models import Rule

from .models import Piece

#: What of a demand names pieces.
_NAMING = ("pieces", "templates")


@dataclass(frozen=True)
class Use:
    """Something that names a piece: a rule by its id, a guard by its name, a sidebar, a piece or the site by its slug.

    ``ends``: it is a rule or a guard that names nothing else, and so would go with the piece.
    """

    kind: Literal["rule", "sidebar", "piece", "guard", "site"]
    key: str
    name: str
    ends: bool = False

    @property
    def words(self) -> str:
        """The use in words."""
        return "the site, as its default template" if self.kind == "site" else f"the {self.kind} {self.name}"

    def as_tree(self) -> dict[str, Any]:
        """The use as the API tells it."""
        return asdict(self)


def uses_of(site: Site, slug: str) -> list[Use]:
    """What names a piece: rules, sidebars, the site."""
    found = [
        Use("rule", str(rule.pk), rule.name, not _without(rule.actions, slug))
        for rule in Rule.objects.filter(site=site)
        if len(_without(rule.actions, slug)) < len(rule.actions)
    ]
    found += [
        Use("sidebar", sidebar.slug, sidebar.name)
        for sidebar in Piece.objects.filter(site=site, kind="sidebar")
        if any(entry["piece"] == slug for entry in sidebar.entries)
    ]
    found += [
        Use("piece", piece.slug, piece.name)
        for piece in Piece.objects.filter(site=site)
        if slug in pieces_in(piece.content)
    ]
    found += [
        Use("guard", guard["name"], guard["name"], _named_in(guard) == {slug})
        for guard in site.guards
        if slug in _named_in(guard)
    ]
    return [*found, Use("site", site.slug, site.name)] if site.default_template == slug else found


def put_instead(site: Site, slug: str, other: str = "") -> None:
    """Put another piece wherever one is named, in a site that is locked for an edit; none: take it out of there.

    Rules that then do nothing go, and guards that then ask for nothing.
    """
    _in_rules(site, slug, other)
    guards = [_guarding(guard, slug, other) for guard in site.guards if other or _named_in(guard) != {slug}]
    if guards != site.guards:
        site.guards = guards
        site.save(update_fields=["guards"])
    for piece in Piece.objects.filter(site=site):
        entries = [
            {**entry, "piece": other} if entry["piece"] == slug else entry
            for entry in piece.entries
            if other or entry["piece"] != slug
        ]
        content = piece.content
        if slug in pieces_in(content):
            content = renamed(content, {slug: other}) if other else without_piece(content, slug)
        if entries != piece.entries or content != piece.content:
            Piece.objects.filter(pk=piece.pk).update(entries=entries, content=content, version=F("version") + 1)
    if site.default_template == slug:
        site.default_template = other
        site.save(update_fields=["default_template"])


def _in_rules(site: Site, slug: str, other: str) -> None:
    position = 0
    for rule in Rule.objects.filter(site=site).order_by("position"):
        actions = [_instead(action, slug, other) for action in rule.actions] if other else _without(rule.actions, slug)
        if rule.actions and not actions:
            rule.delete()
            continue
        position += 1
        changed = actions != rule.actions
        if changed or rule.position != position:
            rule.actions, rule.position = actions, position
            rule.version += changed
            rule.save()


def _named_in(guard: dict[str, Any]) -> set[str]:
    """The slugs that a guard names."""
    return {slug for key in _NAMING for slug in guard["demand"].get(key, ())}


def _guarding(guard: dict[str, Any], slug: str, other: str) -> dict[str, Any]:
    """A guard that names another piece instead, or one fewer."""
    demand = dict(guard["demand"])
    for key in _NAMING:
        if slug in demand.get(key, ()):
            named = [other if one == slug else one for one in demand[key]]
            demand[key] = [one for one in dict.fromkeys(named) if one]
    return {**guard, "demand": demand}


def _instead(action: dict[str, Any], slug: str, other: str) -> dict[str, Any]:
    return {**action, **{key: other for key in ("piece", "template") if action.get(key) == slug}}


def _without(actions: list[dict[str, Any]], slug: str) -> list[dict[str, Any]]:
    return [action for action in actions if slug not in (action.get("piece"), action.get("template"))]
