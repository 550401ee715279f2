"""Sites, rules and pieces as they stand in the layout file: fixed key order, what equals a default left out."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from typing import Any

from ..calendar.schedule import Schedule, write_duration, write_moment
from ..layout.binding import Binding
from ..layout.condition import Condition
from ..layout.document import VERSION, SiteDocument, SiteFile, Taxonomy
from ..layout.dress import COLOURS, FONTS, MEASURES, Dress
from ..layout.model import SLOTS, TEMPLATE, Action, Demand, Guard, Menu, MenuEntry, Piece, Rule, Setting, SidebarEntry
from ..layout.recipe import FactPlace, FactRecipe
from ..pages.page import LockNote, Page


def write_json(document: SiteDocument) -> str:
    """The layout file's text: fixed key order, two spaces, final newline. The same state gives the same bytes."""
    return json.dumps(write_document(document), indent=2, ensure_ascii=False) + "\n"


def write_yaml(document: SiteDocument) -> str:
    """The same tree as YAML 1.2."""
    # PyYAML takes as long to load as all else here, so it is loaded for YAML alone.
    from .yaml12 import dump

    return dump(write_document(document))


def write_document(document: SiteDocument) -> dict[str, Any]:
    """The tree of the layout file, in its fixed key order, with what equals a default left out."""
    site = _trim(
        {
            "name": document.name,
            "slug": document.slug,
            "base_url": document.base_url,
            "language": document.language,
            "time_zone": document.time_zone,
            "roles": list(document.roles),
            "default_template": document.layout.default_template,
            "settings": [write_setting(setting) for setting in document.layout.settings],
            "scripts": document.scripts or None,
        }
    )
    return {
        "navrel": VERSION,
        "site": site,
        "taxonomies": [_taxonomy_tree(taxonomy) for taxonomy in document.taxonomies],
        "pages": [write_page(page, document.language) for page in document.pages],
        **_trim(
            {
                "menus": [write_menu(menu) for menu in document.layout.menus.values()],
                "dresses": [write_dress(dress) for dress in document.layout.dresses.values()],
                "files": [write_file(file) for file in document.files],
                "bindings": [write_binding(binding) for binding in document.bindings],
                "recipe": [write_fact(one) for one in document.recipe],
            }
        ),
        "pieces": [write_piece(piece) for piece in document.layout.pieces.values()],
        "rules": [write_rule(rule) for rule in document.layout.rules],
        **_trim({"guards": [write_guard(guard) for guard in document.layout.guards]}),
    }


def _trim(tree: dict[str, Any]) -> dict[str, Any]:
    """Without what is empty or null, which mean absent."""
    return {key: value for key, value in tree.items() if value not in ("", None, [], {}, ())}


def _ordered(value: Any) -> Any:
    """A free tree with the keys of its objects in one order: `type` first, then by the alphabet."""
    if isinstance(value, Mapping):
        keys = sorted(value, key=lambda key: (key != "type", key))
        return {key: _ordered(value[key]) for key in keys}
    return [_ordered(one) for one in value] if isinstance(value, list) else value


def _taxonomy_tree(taxonomy: Taxonomy) -> dict[str, Any]:
    terms = [_trim({"slug": term.slug, "name": term.name, "parent": term.parent}) for term in taxonomy.terms]
    return {"slug": taxonomy.slug, "name": taxonomy.name, "terms": terms}


def write_page(page: Page, language: str) -> dict[str, Any]:
    """A page as it stands in the file of a site in that language."""
    tree = _trim(
        {
            "path": page.path,
            "title": page.title,
            "kind": "" if page.kind == "single" else page.kind,
            "type": page.type,
            "parent": page.parent,
            "terms": list(page.terms),
            "lists": page.lists,
            "author": page.author,
            "language": "" if page.language == language else page.language,
            "published": page.published.isoformat() if page.published else None,
            "words": page.words or None,
            "fields": _ordered(page.fields),
            "slots": list(page.slots),
            "locks": [_lock_tree(slot, page.lock_notes.get(slot)) for slot in page.locks],
            "address": page.address,
        }
    )
    # An empty list says something too: that the page has HTML of its own, and no slot a place in it.
    return tree if page.bound is None else {**tree, "bound": list(page.bound)}


def _lock_tree(slot: str, note: LockNote | None) -> str | dict[str, Any]:
    return _trim({"slot": slot, **note._asdict()}) if note else slot


def write_piece(piece: Piece) -> dict[str, Any]:
    """A piece as it stands in the file."""
    is_template = piece.kind == "template"
    tree = _trim(
        {
            "slug": piece.slug,
            "kind": piece.kind,
            "name": piece.name,
            "note": piece.note,
            "content": _ordered(piece.content),
            "slots": [] if is_template and piece.slots == SLOTS else list(piece.slots),
            "entries": [_entry_tree(entry) for entry in piece.entries],
        }
    )
    # An empty list says something of a template alone: that it has no slot at all.
    return {**tree, "slots": []} if is_template and not piece.slots else tree


def write_menu(menu: Menu) -> dict[str, Any]:
    """A menu as it stands in the file."""
    return {"slug": menu.slug, "name": menu.name, "entries": [_menu_entry_tree(entry) for entry in menu.entries]}


def _menu_entry_tree(entry: MenuEntry) -> dict[str, Any]:
    return _trim(
        {
            "text": entry.text,
            "page": entry.page,
            "href": entry.href,
            "panel": entry.panel,
            "entries": [_menu_entry_tree(inner) for inner in entry.entries],
        }
    )


def write_dress(dress: Dress) -> dict[str, Any]:
    """A dress as it stands in the file."""
    stated = {
        "colours": _in_order(COLOURS, dress.colours),
        "dark": _in_order(COLOURS, dress.dark),
        "fonts": _in_order(FONTS, dress.fonts),
        "measures": _in_order(MEASURES, dress.measures),
    }
    return {"slug": dress.slug, "name": dress.name, **_trim(stated)}


def _in_order(names: Iterable[str], stated: Mapping[str, Any]) -> dict[str, Any]:
    return {name: stated[name] for name in names if name in stated}


def write_file(file: SiteFile) -> dict[str, Any]:
    """What is known of a picture of the site, as it stands in the file, without its bytes."""
    return _trim(
        {
            "name": file.name,
            "type": file.type,
            "digest": file.digest,
            "width": file.width or None,
            "height": file.height or None,
            "widths": list(file.widths),
        }
    )


def write_binding(binding: Binding) -> dict[str, Any]:
    """A binding as it stands in the file."""
    how = "" if binding.how == "element" else binding.how
    return _trim({"slot": binding.slot, "selector": binding.selector, "how": how, "where": str(binding.where)})


def write_fact(line: FactRecipe) -> dict[str, Any]:
    """Where a fact stands, as it stands in the file."""
    return {"fact": line.fact, "places": [write_place(place) for place in line.places]}


def write_place(place: FactPlace) -> dict[str, Any]:
    """A place where a fact may stand, as it stands in the file."""
    more = {"attribute": place.attribute, "take": place.take, "values": dict(place.values), "form": place.form}
    return {"at": place.at, **_trim({"of": place.of, **more})}


def _entry_tree(entry: SidebarEntry) -> dict[str, Any]:
    tree = _trim({"piece": entry.piece, "condition": write_condition(entry.condition), "note": entry.note})
    return tree if entry.on else {**tree, "on": False}


def write_rule(rule: Rule) -> dict[str, Any]:
    """A rule as it stands in the file."""
    return {
        **_trim({"name": rule.name, "note": rule.note}),
        **({} if rule.on else {"on": False}),
        **_trim({"priority": rule.priority or None, "condition": write_condition(rule.condition)}),
        "actions": [write_action(action) for action in rule.actions],
    }


def write_guard(guard: Guard) -> dict[str, Any]:
    """A guard as it stands in the file."""
    return {
        **_trim({"name": guard.name, "note": guard.note}),
        **({} if guard.on else {"on": False}),
        **_trim({"condition": write_condition(guard.condition)}),
        "demand": write_demand(guard.demand),
    }


def write_demand(demand: Demand) -> dict[str, Any]:
    """What a guard asks for, as it stands in the file."""
    target = demand.target
    named = "templates" if target == TEMPLATE else "pieces"
    of: dict[str, Any] = {target.kind: target.name} if target and target != TEMPLATE else {}
    tree = _trim({**of, named: list(demand.pieces), "values": list(demand.values)})
    counted = _trim({"kind": demand.piece_kind, "item": demand.item})
    most = {"most": demand.most} if demand.kind == "at-most" else {}
    return {"is": demand.kind, **tree, **counted, **most}


def write_condition(condition: Condition) -> dict[str, Any]:
    """A condition as it stands in the file."""
    visitors = _trim({"include": str(condition.visitors_include), "exclude": str(condition.visitors_exclude)})
    return _trim(
        {
            "include": str(condition.include),
            "exclude": str(condition.exclude),
            "visitors": visitors,
            "schedule": write_schedule(condition.schedule) if condition.schedule else None,
        }
    )


def write_schedule(schedule: Schedule) -> dict[str, Any]:
    """A schedule as it stands in the file."""
    repeats = schedule.repeats
    return _trim(
        {
            "from": write_moment(schedule.starts) if schedule.starts else None,
            "until": write_moment(schedule.ends) if schedule.ends else None,
            "repeats": {
                "rrule": repeats.rrule,
                "start": write_moment(repeats.recurrence.start),
                "duration": write_duration(repeats.duration),
            }
            if repeats
            else None,
        }
    )


def write_setting(setting: Setting) -> dict[str, Any]:
    """A declared setting as it stands in the file."""
    tree: dict[str, Any] = {"name": setting.name, "type": setting.type}
    if setting.choices:
        tree["choices"] = list(setting.choices)
    return {**tree, "default": setting.default, **_trim({"help": setting.help})}


def write_action(action: Action) -> dict[str, Any]:
    """An action as it stands in the file."""
    if action.do == "use":
        return {"do": "use", "template": action.piece}
    if action.do == "set":
        return {"do": "set", "setting": action.setting, "value": action.value}
    tree: dict[str, Any] = {"do": action.do, "slot": action.slot}
    if action.piece:
        tree["piece"] = action.piece
    if action.exclusive:
        tree["exclusive"] = True
    return tree
