"""Pages that are somewhere else in what is taken in: what was said of them follows."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import Any

from django.db.models import F, QuerySet

from navrel.core.language.following import follow
from navrel.core.language.query import parse_query
from navrel.server.library.models import Piece
from navrel.server.rules.models import Rule

from .models import Page, Site, StagedPage


def moved_pages(site: Site, staged: QuerySet[StagedPage]) -> dict[str, str]:
    """From which path to which pages moved, asked before the pages are brought in.

    Those whose content one page had that is gone, and one page has that is new.
    """
    there = dict(site.pages.filter(gone=False).values_list("path", "content_id"))
    coming = dict(staged.values_list("path", "content_id"))
    gone = {path: content for path, content in there.items() if path not in coming and content}
    new = {path: content for path, content in coming.items() if path not in there and content}
    counts = Counter([*there.values(), *(coming[path] for path in new)])
    places = {content: path for path, content in new.items()}
    return {path: places[content] for path, content in gone.items() if content in places and counts[content] == 2}


def follow_moves(site: Site, moves: Mapping[str, str]) -> None:
    """Have what was said of pages said of them where they are now: rules and pins, guards, sidebars, menus, facts."""
    if not moves:
        return
    for old, new in moves.items():
        corrections = site.pages.filter(path=old).values_list("corrections", flat=True).first()
        if corrections:
            Page.objects.filter(site=site, path=new, corrections__isnull=True).update(corrections=corrections)
    for rule in Rule.objects.filter(site=site):
        if (condition := _condition(rule.condition, moves)) != rule.condition:
            Rule.objects.filter(pk=rule.pk).update(condition=condition, version=F("version") + 1)
    for piece in Piece.objects.filter(site=site).exclude(entries=[]):
        entries = [_with_condition(entry, moves) for entry in piece.entries]
        if entries != piece.entries:
            Piece.objects.filter(pk=piece.pk).update(entries=entries, version=F("version") + 1)
    site.guards = [_with_condition(guard, moves) for guard in site.guards]
    site.menus = [{**menu, "entries": [_entry(one, moves) for one in menu.get("entries", [])]} for menu in site.menus]
    site.save(update_fields=["guards", "menus"])


def _with_condition(tree: dict[str, Any], moves: Mapping[str, str]) -> dict[str, Any]:
    return {**tree, "condition": _condition(tree["condition"], moves)} if tree.get("condition") else tree


def _condition(condition: Mapping[str, Any], moves: Mapping[str, str]) -> dict[str, Any]:
    """A condition as the layout file has it, with the pages that it names where they are now."""
    found = {}
    for part in ("include", "exclude"):
        query = parse_query(condition.get(part) or "")
        if (followed := follow(query, moves)) != query:
            found[part] = str(followed)
    return {**condition, **found}


def _entry(entry: dict[str, Any], moves: Mapping[str, str]) -> dict[str, Any]:
    """A line of a menu, with those below it."""
    page = {"page": moves.get(entry["page"], entry["page"])} if entry.get("page") else {}
    below = {"entries": [_entry(one, moves) for one in entry["entries"]]} if entry.get("entries") else {}
    return {**entry, **page, **below}
