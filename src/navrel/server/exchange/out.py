"""Taking a layout out of a site: all of it, or some pieces with what they need, as a layout file."""

from __future__ import annotations

import json
from base64 import b64encode
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from typing import Any

from django.db.models import Sum
from django.db.models.functions import Length

from navrel.core.files.writing import write_document, write_file, write_menu, write_piece, write_rule, write_setting
from navrel.core.layout.contents import items_of, menus_told_in
from navrel.core.layout.document import VERSION, SiteDocument
from navrel.core.layout.model import Layout, Rule
from navrel.server.api.errors import InTheWay, Missing
from navrel.server.library.models import FileData
from navrel.server.sitestate.state import SiteState

Tree = dict[str, Any]
#: The most bytes of pictures that one answer holds: as base64 they still fit into a request that takes them in.
MOST_DATA = 20 * 1024 * 1024


def whole_layout(state: SiteState, most: int | None = None) -> Tree:
    """A whole site as a layout file's tree, with its pictures' bytes, at most so many. Raises InTheWay."""
    tree = write_document(state.document)
    if tree.get("files"):
        tree["files"] = _with_data(tree["files"], most)
    return tree


def some_pieces(state: SiteState, slugs: Iterable[str], *, rules: bool = False, most: int | None = None) -> Tree:
    """Some pieces with the widgets, menus and pictures that they need; with ``rules`` also those that name them.

    Raises Missing, and InTheWay where their pictures have more than ``most`` bytes.
    """
    layout = state.layout
    wanted = needed_by(layout, slugs)
    pieces = [piece for slug, piece in layout.pieces.items() if slug in wanted]
    menus = {slug for piece in pieces for slug in (*layout.menus_of(piece), *menus_told_in(piece.content))}
    names = [item.get("file") for piece in pieces for item in items_of(piece.content)]
    tree: Tree = {
        "navrel": VERSION,
        "menus": [write_menu(menu) for menu in layout.menus.values() if menu.slug in menus],
        "files": _with_data([write_file(file) for file in state.document.files if file.name in names], most),
        "pieces": [write_piece(piece) for piece in pieces],
    }
    if rules:
        tree["rules"] = [write_rule(rule) for rule in _rules_of(layout, wanted)]
        named = {action["setting"] for rule in tree["rules"] for action in rule["actions"] if action["do"] == "set"}
        settings = [write_setting(setting) for setting in layout.settings if setting.name in named]
        if settings:
            tree["site"] = {"name": state.document.name, "settings": settings}
    return {key: value for key, value in tree.items() if value}


def _rules_of(layout: Layout, slugs: set[str]) -> Iterator[Rule]:
    """The rules that name some pieces, without what they do with others."""
    for rule in layout.rules:
        if any(action.piece in slugs for action in rule.actions):
            kept = tuple(action for action in rule.actions if action.piece is None or action.piece in slugs)
            yield replace(rule, actions=kept)


def needed_by(layout: Layout, slugs: Iterable[str]) -> set[str]:
    """Pieces with all that stands in them: widgets of sidebars, embedded ones. Raises Missing."""
    waiting = list(slugs)
    found: set[str] = set()
    while waiting:
        slug = waiting.pop()
        piece = layout.pieces.get(slug)
        if piece is None:
            raise Missing("no-piece", f"There is no piece {slug}")
        if slug not in found:
            found.add(slug)
            waiting.extend((*piece.widgets, *piece.embedded))
    return found


def as_text(tree: Mapping[str, Any]) -> str:
    """The text of a layout file's tree: two spaces, a final newline."""
    return json.dumps(tree, indent=2, ensure_ascii=False) + "\n"


def file_name(document: SiteDocument, slugs: list[str]) -> str:
    """What the file is called."""
    return f"{slugs[0] if len(slugs) == 1 else document.slug}.navrel.json"


def _with_data(files: list[Tree], most: int | None) -> list[Tree]:
    """Pictures with their bytes. Raises InTheWay where these are more than ``most``."""
    kept = FileData.objects.filter(digest__in=[file["digest"] for file in files], width=0)
    size = kept.aggregate(size=Sum(Length("data")))["size"] or 0
    if most is not None and size > most:
        what = f"The pictures of this file have {size / 2**20:.0f} MiB; {most // 2**20} are the most"
        raise InTheWay("too-large", what, "Use ./navrel layout export, or export single pieces.")
    data = dict(kept.values_list("digest", "data"))
    return [
        {**file, "data": b64encode(bytes(data[file["digest"]])).decode()} if file["digest"] in data else file
        for file in files
    ]
