"""Where a piece is used, and taking it out of there."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any, Literal

from django.db.models import F

from navrel.core.layout.contents import pieces_in, renamed, without_piece
from navrel.server.inventory.models import Site
from navrel.server.rules.models import Rule

from .models import Piece


@dataclass(frozen=True)
class Use:
    """Something that names a piece: a rule by its id, a sidebar or another piece by its slug, or the site by its own.

    ``ends``: it is a rule that does nothing else, and so would go with the piece.
    """

    kind: Literal["rule", "sidebar", "piece", "site"]
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
    return [*found, Use("site", site.slug, site.name)] if site.default_template == slug else found


def put_instead(site: Site, slug: str, other: str = "") -> None:
    """Put another piece wherever one is named, in a site that is locked for an edit; none: take it out of there.

    Rules that then do nothing go.
    """
    _in_rules(site, slug, other)
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


def _instead(action: dict[str, Any], slug: str, other: str) -> dict[str, Any]:
    return {**action, **{key: other for key in ("piece", "template") if action.get(key) == slug}}


def _without(actions: list[dict[str, Any]], slug: str) -> list[dict[str, Any]]:
    return [action for action in actions if slug not in (action.get("piece"), action.get("template"))]
