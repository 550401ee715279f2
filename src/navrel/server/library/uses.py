"""Where a piece is used, and taking it out of there."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any, Literal

from django.db.models import F

from navrel.server.inventory.models import Site
from navrel.server.rules.models import Rule

from .models import Piece


@dataclass(frozen=True)
class Use:
    """Something that names a piece: a rule by its id, a sidebar by its slug, or the site, as its default template.

    ``ends``: it is a rule that does nothing else, and so would go with the piece.
    """

    kind: Literal["rule", "sidebar", "site"]
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
    return [*found, Use("site", site.slug, site.name)] if site.default_template == slug else found


def take_out_of_all(site: Site, slug: str) -> None:
    """Take a piece out of all that names it, in a site that is locked for an edit; rules that then do nothing go."""
    for rule in Rule.objects.filter(site=site):
        kept = _without(rule.actions, slug)
        if not kept and rule.actions:
            rule.delete()
        elif len(kept) < len(rule.actions):
            rule.actions = kept
            rule.version += 1
            rule.save()
    for position, rule in enumerate(Rule.objects.filter(site=site), start=1):
        Rule.objects.filter(pk=rule.pk).exclude(position=position).update(position=position)
    for sidebar in Piece.objects.filter(site=site, kind="sidebar"):
        entries = [entry for entry in sidebar.entries if entry["piece"] != slug]
        if len(entries) < len(sidebar.entries):
            Piece.objects.filter(pk=sidebar.pk).update(entries=entries, version=F("version") + 1)
    if site.default_template == slug:
        site.default_template = ""
        site.save(update_fields=["default_template"])


def _without(actions: list[dict[str, Any]], slug: str) -> list[dict[str, Any]]:
    return [action for action in actions if slug not in (action.get("piece"), action.get("template"))]
