"""Making, changing, copying and removing pieces."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import replace
from functools import cached_property
from typing import Any

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_piece
from navrel.core.files.writing import write_piece
from navrel.core.layout.contents import items_at, loop_through, loop_words, pieces_in, pointer_in
from navrel.core.layout.document import free_name, slugify
from navrel.core.layout.model import Piece as CorePiece
from navrel.rendering.items.content import check_content
from navrel.rendering.items.parts import bound_to
from navrel.rendering.palette import COLOURS
from navrel.server.api.errors import InTheWay, Missing, Outdated
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site
from navrel.server.library.uses import put_instead, uses_of
from navrel.server.sitestate.records import names_on_shelf, piece_tree, stated_name

from .models import Piece

MAX_PIECES = 2000


def find_piece(site_slug: str, slug: str) -> Piece:
    """The piece with this slug. Raises Missing."""
    piece = Piece.objects.filter(site__slug=site_slug, slug=slug).first()
    if piece is None:
        raise Missing("no-piece", f"There is no piece {slug}")
    return piece


def make_piece(site_slug: str, tree: dict[str, Any], *, by: Any = None) -> Piece:
    """A new piece from its layout-file form without a slug, which is made from the name."""
    with editing(site_slug, by) as site:
        name = stated_name(tree)
        piece = _Shelf(site).check({**tree, "name": name, "slug": _free_slug(site, str(name))})
        return _create(site, [piece])[0]


def copy_piece(site_slug: str, slug: str, name: str, *, by: Any = None) -> Piece:
    """A copy of a piece under another name; the copy is independent of its original."""
    with editing(site_slug, by) as site:
        return copy_locked(site, find_piece(site_slug, slug), name)


def copy_locked(site: Site, original: Piece, name: str) -> Piece:
    """The same in a site that is locked for an edit."""
    tree = {**piece_tree(original), "name": name.strip(), "slug": _free_slug(site, name)}
    return _create(site, [_Shelf(site).check(tree)], origin=original.slug)[0]


def change_piece(site_slug: str, slug: str, tree: dict[str, Any], version: int, *, by: Any = None) -> Piece:
    """Replace a piece's name, note, content, slots and entries. Kind and slug stay."""
    with editing(site_slug, by) as site:
        piece = _find_newest(site, slug, version)
        return _rewrite(piece, _Shelf(site).check({**tree, "slug": slug, "kind": piece.kind}))


def remove_piece(site_slug: str, slug: str, version: int, *, take_out: bool = False, by: Any = None) -> None:
    """Remove a piece, and with ``take_out`` first take it out of all that uses it.

    Raises InTheWay with what uses it where it is not to be taken out, and Outdated.
    """
    with editing(site_slug, by) as site:
        piece = _find_newest(site, slug, version)
        users = uses_of(site, slug)
        if users and not take_out:
            raise InTheWay(
                "in-use",
                f"{piece.name} is in use",
                "Take it out first: " + ", ".join(use.words for use in users),
                uses=[use.as_tree() for use in users],
            )
        put_instead(site, slug)
        piece.delete()


def _find_newest(site: Site, slug: str, version: int) -> Piece:
    """A piece that a change was made from. Raises Missing, and Outdated."""
    piece = find_piece(site.slug, slug)
    Outdated.check(piece.name, piece.version, version, piece_tree(piece))
    return piece


def put_pieces(site: Site, pieces: Mapping[str, CorePiece], replaced: Set[str]) -> None:
    """Put pieces that come together into a locked site; those of ``replaced`` slugs in the place of the ones there.

    They are given by where each stands, which pointers of problems begin with, and may name each other. Raises
    DocumentError, and InTheWay.
    """
    shelf = _Shelf(site, pieces.values())
    problems: list[Problem] = []
    for at, piece in pieces.items():
        try:
            shelf.check(write_piece(piece))
        except DocumentError as error:
            problems += [replace(one, pointer=f"{at}{one.pointer}") for one in error.problems]
    if problems:
        raise DocumentError(problems)
    records = {record.slug: record for record in Piece.objects.filter(site=site, slug__in=replaced)}
    for piece in pieces.values():
        if piece.slug in replaced:
            _rewrite(records[piece.slug], piece)
    _create(site, [piece for piece in pieces.values() if piece.slug not in replaced])


def _rewrite(record: Piece, piece: CorePiece) -> Piece:
    for key, value in piece_columns(piece).items():
        setattr(record, key, value)
    record.version += 1
    record.save()
    return record


class _Shelf:
    """What pieces are checked against: the others of the site, looked at once, and those that come with them."""

    def __init__(self, site: Site, coming: Iterable[CorePiece] = ()) -> None:
        self.site = site
        self.coming = {piece.slug: piece for piece in coming}
        self.names = {**names_on_shelf(site), **self.coming}
        self.menus = {menu["slug"] for menu in site.menus}
        self.settings = {setting["name"] for setting in site.settings}

    @cached_property
    def embedded(self) -> dict[str, tuple[str, ...]]:
        """What each piece embeds."""
        records = Piece.objects.filter(site=self.site).only("slug", "content")
        mine = {record.slug: pieces_in(record.content) for record in records}
        return {**mine, **{slug: piece.embedded for slug, piece in self.coming.items()}}

    def check(self, tree: Mapping[str, Any]) -> CorePiece:
        """The piece that a tree describes, with its name free and its content whole. Raises DocumentError."""
        problems: list[Problem] = []
        name, kind = stated_name(tree), tree.get("kind")
        if name == "":
            problems.append(Problem("/name", "a piece needs a name", "required"))
        elif isinstance(name, str) and self._is_taken(name, kind, tree.get("slug")):
            problems.append(Problem("/name", f"there is already a {kind} called {name}", "taken"))
        piece = None
        try:
            piece = read_piece({**tree, "name": name}, self.names)
            check_content(piece.kind, piece.content)
            problems += self._named_in(piece)
        except DocumentError as error:
            known = {problem.pointer for problem in problems}
            problems += [problem for problem in error.problems if problem.pointer not in known]
        if problems or piece is None:
            raise DocumentError(problems)
        return piece

    def _is_taken(self, name: str, kind: object, slug: object) -> bool:
        """Whether another piece of a kind is called so."""
        return any(
            one.kind == kind and one.slug != slug and one.name.casefold() == name.casefold()
            for one in self.names.values()
        )

    def _named_in(self, piece: CorePiece) -> list[Problem]:
        """What is wrong with what a content names: menus and settings that are not there, a piece inside of itself."""
        problems = []
        for at, item in items_at(piece.content):
            menu = item.get("menu")
            if item.get("type") == "menu" and isinstance(menu, str) and menu and menu not in self.menus:
                problems.append(Problem(pointer_in(at, "menu"), f"there is no menu {menu}", "reference"))
            for key, value in item.items():
                name = bound_to(value)
                if name is not None and name not in self.settings:
                    problems.append(Problem(pointer_in(at, key), f"there is no setting {name}", "reference"))
        if piece.embedded and (loop := loop_through(piece.slug, {**self.embedded, piece.slug: piece.embedded})):
            names = {slug: one.name for slug, one in self.names.items()} | {piece.slug: piece.name}
            problems.append(Problem("/content", loop_words(loop, names), "loop"))
        return problems


def piece_columns(piece: CorePiece) -> dict[str, Any]:
    """What a record keeps of a piece."""
    tree = write_piece(piece)
    return {
        "name": piece.name,
        "note": piece.note,
        "content": dict(piece.content),
        "slots": list(piece.slots),
        "entries": tree.get("entries", []),
    }


def _create(site: Site, pieces: Sequence[CorePiece], *, origin: str = "") -> list[Piece]:
    """New records for pieces, last on the shelf, each in the colour that fewest have then."""
    known = list(Piece.objects.filter(site=site).values_list("position", "colour"))
    if len(known) + len(pieces) > MAX_PIECES:
        raise InTheWay("too-many-pieces", f"A site holds at most {MAX_PIECES:,} pieces")
    position = max((place for place, _ in known), default=0)
    colours = [colour for _, colour in known]
    records = []
    for number, piece in enumerate(pieces, start=1):
        colours.append(_rarest(colours))
        more = {"position": position + number, "colour": colours[-1], "origin": origin, **piece_columns(piece)}
        records.append(Piece(site=site, slug=piece.slug, kind=piece.kind, **more))
    return Piece.objects.bulk_create(records)


def _free_slug(site: Site, name: str) -> str:
    return free_name(slugify(name), Piece.objects.filter(site=site).values_list("slug", flat=True), "-")


def free_colour(site: Site) -> int:
    """The palette place that fewest pieces have, the first of those."""
    return _rarest(list(Piece.objects.filter(site=site).values_list("colour", flat=True)))


def _rarest(colours: list[int]) -> int:
    return min(range(len(COLOURS)), key=lambda place: (colours.count(place), place))
