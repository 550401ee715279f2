"""What of the draft differs from what is live, part by part; and taking it back, all of it or one part."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal, NamedTuple

from django.db import connection
from django.db.models import QuerySet

from navrel.core.files.writing import (
    write_binding,
    write_dress,
    write_fact,
    write_file,
    write_guard,
    write_menu,
    write_setting,
)
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Layout
from navrel.core.questions.changes import changed_parts
from navrel.server.api.errors import InTheWay, Missing
from navrel.server.edits.models import Edit
from navrel.server.edits.parts import Part, Snapshot, Tree, differing, page_parts, snapshot
from navrel.server.edits.services import MOST_STEPS, edits_since, parts_of, turn_to
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece
from navrel.server.library.services import free_colour, piece_columns
from navrel.server.rules.models import Rule
from navrel.server.rules.services import rule_columns
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.state import SiteState
from navrel.wording.counts import count_pages
from navrel.wording.edits import edit_words

from .live import (
    LiveState,
    draft_aliases,
    draft_assets,
    draft_contents,
    find_revision,
    open_revision,
    published,
)
from .packing import Unreadable

What = Literal["rule", "piece", "order", "pages", "site"]
How = Literal["added", "removed", "changed", "moved"]


@dataclass(frozen=True)
class Change:
    """One part that differs, in words. ``part`` is its key, empty for what is not taken back; see `edits/parts.py`."""

    what: What
    how: How
    words: str
    part: str = ""
    count: int = 1


def changes_between(site: Site, before: LiveState) -> list[Change]:
    """The parts in which the draft differs from a published state: rules first, each group as it stands."""
    return [
        *_part_changes(snapshot_of(site, before), snapshot(site)),
        *_page_changes(before.document, draft(site).document, _beside_since(site, before)),
    ]


class _Beside(NamedTuple):
    """What differs beside the facts of pages: how many contents, and how many addresses that are no pages'."""

    contents: int
    files: int


def _beside_since(site: Site, before: LiveState) -> _Beside:
    """How much of that differs between a published state and the draft; kept for what is committed."""

    def counted() -> _Beside:
        files = {**draft_assets(site), **draft_aliases(site)}
        contents = _changed_contents(before, draft_contents(site), draft(site))
        return _Beside(contents, _changed_files(before, files))

    if site.is_locked:
        return counted()
    return _contents.get(site.pk, (site.inventory_version, before.revision.pk), lambda older: counted())


def _changed_files(before: LiveState, after: Mapping[str, object]) -> int:
    known: dict[str, object] = {**before.assets, **before.aliases}
    return sum(known.get(address) != after.get(address) for address in known.keys() | after.keys())


def changes_of(site: Site, before: LiveState, after: LiveState) -> list[Change]:
    """The parts in which two published states differ."""
    files = _changed_files(before, {**after.assets, **after.aliases})
    beside = _Beside(_changed_contents(before, after.contents.items(), after), files)
    return [
        *_part_changes(snapshot_of(site, before), snapshot_of(site, after)),
        *_page_changes(before.document, after.document, beside),
    ]


def changed_since(site: Site, before: LiveState) -> list[Part]:
    """The parts in which the draft differs from a published state."""
    return differing(snapshot_of(site, before), snapshot(site))


def _part_changes(before: Snapshot, after: Snapshot) -> list[Change]:
    parts, names = differing(before, after), {**before.names, **after.names}
    changes = [_change(part, parts, names) for part in parts if not part.key.startswith("place/")]
    moved = [part for part in parts if _only_moved(part, parts)]
    if moved:
        words = edit_words(moved, names)
        changes.append(Change("order", "moved", words, "order", len(moved)))
    return changes


def _change(part: Part, parts: list[Part], names: Mapping[str, str]) -> Change:
    what: Any = part.key.split("/")[0]
    how: How = "added" if part.before is None else "removed" if part.after is None else "changed"
    return Change(what, how, edit_words([part], names), part.key)


def _only_moved(part: Part, parts: list[Part]) -> bool:
    return part.key.startswith("place/") and part.before is not None and part.after is not None


def _page_changes(before: SiteDocument, after: SiteDocument, beside: _Beside) -> list[Change]:
    """Pages that came, went or have other facts, or so many of them another content; terms; other files."""
    words = {"added": "came", "removed": "went", "changed": "with other facts"}
    found = [
        Change("pages", one.how, f"{count_pages(one.count)} {words[one.how]}", count=one.count)
        if one.what == "pages"
        else Change("site", "changed", "Site: terms of its pages")
        for one in changed_parts(before, after)
        if one.what == "pages" or (one.what == "site" and "taxonomies" in one.details)
    ]
    if beside.contents:
        told = f"{count_pages(beside.contents)} with another content"
        found.append(Change("pages", "changed", told, count=beside.contents))
    if beside.files:
        what = "address" if beside.files == 1 else "addresses"
        told = f"{beside.files:,} other {what}, of files and of what leads on, came, went or changed"
        found.append(Change("site", "changed", told, count=beside.files))
    return found


def _changed_contents(before: LiveState, contents: Iterable[tuple[str, str]], after: SiteState) -> int:
    """How many pages in both have another content, or another file that they may be drawn in."""
    return sum(
        before.contents.get(path, digest) != digest or _is_another_file(before, after, path)
        for path, digest in contents
        if path in before.contents
    )


def _is_another_file(before: SiteState, after: SiteState, path: str) -> bool:
    old, new = before.originals.get(path), after.originals.get(path)
    return old is not None and new is not None and old.digest != new.digest


_contents: Kept[_Beside] = Kept()
_changes: Kept[list[Change]] = Kept()


def changes_since_live(site: Site, before: LiveState) -> list[Change]:
    """The parts that differ between draft and live; everything, before the first publication. Kept for each version.

    ``before``: what is live (`published`), for which the database is asked but once.
    """
    return _changes.get(site.pk, (site.version, before.revision.pk), lambda older: changes_between(site, before))


def not_live(site: Site, before: LiveState) -> QuerySet[Edit]:
    """The edits that are not live yet, newest first.

    Where only some changes of a draft are live, an edit is not live as long as something differs that it touched.
    """
    edits = edits_since(site, before.revision.last_edit)
    if not before.revision.chosen:
        return edits
    parts = changed_since(site, before)
    newest = list(edits[:MOST_STEPS])
    waiting = [edit.pk for edit in newest if any(part.meets(one) for part in parts_of(edit) for one in parts)]
    return edits.filter(pk__in=waiting)


def edits_since_live(site: Site) -> int:
    """How many edits in force the draft is ahead of what is live; 0 where nothing differs."""
    before = published(site)
    edits = not_live(site, before).filter(undone=False).count()
    # Layouts are compared at once; only where they are the same does it take every part to tell.
    if edits and _differ(before.layout, draft(site).layout):
        return edits
    changes = changes_since_live(site, before)
    # What was changed before edits were kept is told by its parts.
    return (edits or len(changes)) if changes else 0


def _differ(before: Layout, after: Layout) -> bool:
    if before.pieces != after.pieces or len(before.rules) != len(after.rules):
        return True
    pairs = zip(before.rules, after.rules, strict=True)
    return any(replace(one, key=None) != replace(other, key=None) for one, other in pairs)


def back_to_live(site_slug: str, by: Any, part: str = "") -> None:
    """Take the draft back to what is live: all of its layout, or one part. The pages that were taken in stay."""

    def parts(site: Site) -> list[Part]:
        state = published(site)
        if state.revision.number == 0:
            raise InTheWay("nothing-live", "Nothing is published yet, so there is nothing to go back to")
        found = differing(snapshot(site), snapshot_of(site, state))
        if part and not chosen(found, part):
            raise Missing("no-change", "This is as it is live already")
        return chosen(found, part) if part else found

    turn_to(site_slug, by, "Draft back to live" if not part else "", parts)


def chosen(parts: list[Part], wanted: str) -> list[Part]:
    """One part of those that differ, with the place of a rule that comes or goes; `order` is every move."""
    if wanted == "order":
        return [part for part in parts if _only_moved(part, parts)]
    number = wanted.removeprefix("rule/")
    return [
        part
        for part in parts
        if part.key == wanted or (part.key == f"place/{number}" and None in (part.before, part.after))
    ]


def bring_back(site_slug: str, by: Any, number: int) -> None:
    """Make the draft what a revision was: its layout; the pages that were taken in stay. Raises InTheWay."""

    def parts(site: Site) -> list[Part]:
        try:
            state = open_revision(find_revision(site, number))
        except Unreadable:
            raise InTheWay("unreadable", f"Revision {number} cannot be read") from None
        return differing(snapshot(site), snapshot_of(site, state))

    turn_to(site_slug, by, f"Revision {number} brought back", parts)


def snapshot_of(site: Site, state: LiveState) -> Snapshot:
    """A published state as the draft's records would hold it."""
    ids = _ids_of(site, state)
    parts: dict[str, Tree] = {
        f"rule/{number}": rule_columns(rule) for number, rule in zip(ids, state.layout.rules, strict=True)
    }
    shelf = {
        piece.pop("slug"): piece
        for piece in map(dict, Piece.objects.filter(site=site).values("slug", "colour", "position", "origin"))
    }
    for position, (slug, piece) in enumerate(state.layout.pieces.items()):
        usual = {"colour": free_colour(site), "position": position, "origin": "", **state.shelf.get(slug, {})}
        parts[f"piece/{slug}"] = {"kind": piece.kind, **piece_columns(piece), **shelf.get(slug, usual)}
    document = state.document
    parts["site"] = {
        "name": document.name,
        "base_url": document.base_url,
        "language": document.language,
        "time_zone": document.time_zone,
        "roles": list(document.roles),
        "default_template": state.layout.default_template or "",
        "settings": [write_setting(setting) for setting in state.layout.settings],
        "menus": [write_menu(menu) for menu in state.layout.menus.values()],
        "dresses": [write_dress(dress) for dress in state.layout.dresses.values()],
        "files": [write_file(file) for file in document.files],
        "by_hand": site.by_hand,
        "guards": [write_guard(guard) for guard in state.layout.guards],
        "bindings": [write_binding(binding) for binding in document.bindings],
        "recipe": [write_fact(one) for one in document.recipe],
        "scripts": document.scripts,
    }
    # What pages come to is told of page by page, whoever said it; their facts are not taken back.
    parts.update(page_parts(site))
    return Snapshot(parts, tuple(ids))


def _ids_of(site: Site, state: LiveState) -> list[int]:
    """The ids of a published state's rules: those they had, else those of rules called so now, else new ones."""
    names = {name: number for number, name in Rule.objects.filter(site=site).values_list("id", "name")}
    present = set(names.values())
    had: list[int | None] = list(state.rule_ids) or [None] * len(state.layout.rules)
    found: list[int] = []
    for number, rule in zip(had, state.layout.rules, strict=True):
        if number not in present:
            number = names.get(rule.name, number)
        if number is None or number in found:
            number = _fresh_id()
        found.append(number)
    return found


def _fresh_id() -> int:
    with connection.cursor() as cursor:
        cursor.execute("SELECT nextval(pg_get_serial_sequence(%s, 'id'))", [Rule._meta.db_table])
        return int(cursor.fetchone()[0])
