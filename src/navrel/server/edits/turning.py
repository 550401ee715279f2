"""Putting parts of a draft back to how they were: what undo, redo, back to live and bring back have in common."""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping, Sequence
from typing import Any

from django.db.models import F

from navrel.core.files.reading import read_bindings, read_dresses, read_settings
from navrel.core.layout.contents import menus_in, pieces_in
from navrel.core.layout.model import Setting
from navrel.server.api.errors import InTheWay
from navrel.server.inventory.models import Page, Site
from navrel.server.inventory.originals import know_places
from navrel.server.inventory.rereading import read_anew
from navrel.server.library.models import Piece
from navrel.server.rules.models import Rule
from navrel.server.sitestate.locking import raise_inventory

from .parts import INVENTORY_FIELDS, Part, Tree


class Blocked(Exception):
    """A part is no longer as it has to be for this."""

    def __init__(self, part: Part) -> None:
        super().__init__(part.key)
        self.part = part


def apply(site: Site, parts: Sequence[Part]) -> None:
    """Bring parts of a locked site from their ``before`` to their ``after``. Raises Blocked, and InTheWay."""
    for part in parts:
        kind, _, name = part.key.partition("/")
        match kind:
            case "rule":
                _apply_rule(site, int(name), part)
            case "piece":
                _apply_piece(site, name, part)
            case "page":
                _apply_page(site, name, part)
            case "site":
                _set(Site.objects.filter(pk=site.pk), part)
                if part.fields & INVENTORY_FIELDS:
                    raise_inventory(site)
                if part.after and "bindings" in part.fields:
                    know_places(site, read_bindings(part.after["bindings"]))
                if part.after and "recipe" in part.fields:
                    read_anew(site, part.after["recipe"])
    _place_rules(site, [part for part in parts if part.key.startswith("place/")])
    site.refresh_from_db()
    _check_names(site)
    check_references(site)


def _apply_rule(site: Site, number: int, part: Part) -> None:
    records = Rule.objects.filter(site=site, pk=number)
    if _comes_or_goes(records, part) and part.after is not None:
        # It stands last until it is put in its place.
        position = Rule.objects.filter(site=site).count() + 1
        Rule.objects.create(pk=number, site=site, position=position, version=_new_version(site), **part.after)


def _apply_piece(site: Site, slug: str, part: Part) -> None:
    records = Piece.objects.filter(site=site, slug=slug)
    if _comes_or_goes(records, part) and part.after is not None:
        Piece.objects.create(site=site, slug=slug, version=_new_version(site), **part.after)


def _apply_page(site: Site, path: str, part: Part) -> None:
    """Put what was corrected of a page by hand back, as far as it differs."""
    assert part.before is not None and part.after is not None
    record = Page.objects.filter(site=site, path=path).first()
    now = (record.corrections or {}) if record else {}
    if record is None or any(now.get(name) != part.before.get(name) for name in part.fields):
        raise Blocked(part)
    changed = {**now, **{name: part.after.get(name) for name in part.fields}}
    record.corrections = {name: value for name, value in changed.items() if value is not None} or None
    record.corrections_version += 1
    record.save(update_fields=["corrections", "corrections_version"])
    raise_inventory(site)


def _new_version(site: Site) -> int:
    """A version for what was removed and is there again: above any that an editor may still hold.

    A write raises a record's version a few times at the most, and the site's each time.
    """
    return 10 * site.version


def _comes_or_goes(records: Any, part: Part) -> bool:
    """Whether a record comes or goes; one that changes is changed here, one that goes is removed."""
    if part.before is None:
        if records.exists():
            raise Blocked(part)
        return True
    if part.after is None:
        if _now(records, part) != dict(part.before):
            raise Blocked(part)
        records.delete()
        return True
    _set(records, part)
    records.update(version=F("version") + 1)
    return False


def _set(records: Any, part: Part) -> None:
    """Set the fields that differ, where they are as they have to be."""
    assert part.before is not None and part.after is not None
    now = _now(records, part)
    if now is None or any(now[name] != part.before.get(name) for name in part.fields):
        raise Blocked(part)
    records.update(**{name: part.after[name] for name in part.fields})


def _now(records: Any, part: Part) -> dict[str, Any] | None:
    found = records.values(*(part.before or part.after or {})).first()
    return dict(found) if found is not None else None


def _place_rules(site: Site, parts: Iterable[Part]) -> None:
    """Put rules where they are to stand: right below the rule that stood above them, or at their position."""
    order = list(Rule.objects.filter(site=site).order_by("position").values_list("id", flat=True))
    wanted = {int(part.key.removeprefix("place/")): part.after for part in parts if part.after is not None}
    # From the top down, so that a rule's neighbour above stands already.
    for number, place in sorted(wanted.items(), key=lambda one: one[1]["position"]):
        if number in order:
            order.remove(number)
            order.insert(_index(order, place), number)
    records = Rule.objects.filter(site=site).in_bulk()
    changed = []
    for position, number in enumerate(order, start=1):
        if records[number].position != position:
            records[number].position = position
            changed.append(records[number])
    Rule.objects.bulk_update(changed, ["position"])


def _index(order: list[int], place: Tree) -> int:
    above = place["above"]
    if above is None:
        return 0
    return order.index(above) + 1 if above in order else min(int(place["position"]) - 1, len(order))


def _check_names(site: Site) -> None:
    rules = Rule.objects.filter(site=site).values_list("name", flat=True)
    pieces = Piece.objects.filter(site=site).values_list("kind", "name")
    for what, names in (
        ("rule", [("", name) for name in rules]),
        ("piece", list(pieces)),
    ):
        seen: set[tuple[str, str]] = set()
        for kind, name in names:
            key = (kind, name.casefold())
            if key in seen:
                raise InTheWay("name-taken", f"Another {kind or what} is called {name} now", "Rename that one first.")
            seen.add(key)


def check_references(site: Site) -> None:
    """Everything that is named has to be there, and take what it is given. Raises InTheWay."""
    pieces = {piece.slug: piece for piece in Piece.objects.filter(site=site)}
    settings = {setting.name: setting for setting in read_settings(site.settings)}
    menus = {menu["slug"] for menu in site.menus}
    for rule in Rule.objects.filter(site=site):
        for action in rule.actions:
            if action["do"] == "set":
                _check_set(rule, action, settings.get(action["setting"]))
            slug = action.get("template") or action.get("piece")
            if slug and slug not in pieces:
                _missing(f"The rule {rule.name}", slug)
    for piece in pieces.values():
        for entry in piece.entries:
            if entry["piece"] not in pieces:
                _missing(f"The {piece.kind} {piece.name}", entry["piece"])
        for slug in pieces_in(piece.content):
            if slug not in pieces:
                _missing(f"The {piece.kind} {piece.name}", slug)
        for slug in menus_in(piece.content):
            if slug not in menus:
                raise InTheWay(
                    "in-use", f"The {piece.kind} {piece.name} shows the menu {slug}", "Take it out there first."
                )
    for guard in site.guards:
        _check_guard(guard, pieces, settings)
    files = {file["name"] for file in site.files}
    for dress in read_dresses(site.dresses).values():
        for name in dress.font_files:
            if name not in files:
                raise InTheWay("in-use", f"The dress {dress.name} is written in {name}", "Choose another font there.")
    if site.default_template and site.default_template not in pieces:
        _missing("The site, as its default template,", site.default_template)


def _check_set(rule: Rule, action: Tree, setting: Setting | None) -> None:
    if setting is None or not setting.takes(action["value"]):
        what = f"The rule {rule.name} sets {action['setting']} to {action['value']}"
        raise InTheWay("in-use", what, "Change that rule first.")


def _check_guard(guard: Tree, pieces: Container[str], settings: Mapping[str, Setting]) -> None:
    demand = guard["demand"]
    for slug in (*demand.get("pieces", ()), *demand.get("templates", ())):
        if slug not in pieces:
            _missing(f"The guard {guard['name']}", slug)
    setting = settings.get(demand.get("setting", ""))
    for value in demand.get("values", ()):
        if setting is None or not setting.takes(value):
            what = f"The guard {guard['name']} asks that {demand['setting']} is {value}"
            raise InTheWay("in-use", what, "Change that guard first.")


def _missing(who: str, slug: str) -> None:
    raise InTheWay("in-use", f"{who} names the piece {slug}", "Take it out there first.")
