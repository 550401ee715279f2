"""Making, changing, copying and removing pieces."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.db.models import Max

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_piece
from navrel.core.files.writing import write_piece
from navrel.core.layout.document import MAX_NAME, slugify
from navrel.core.layout.model import Piece as CorePiece
from navrel.rendering.items import check_content
from navrel.rendering.palette import COLOURS
from navrel.server.api.errors import InTheWay, Missing, Outdated
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site
from navrel.server.library.uses import take_out_of_all, uses_of
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
        return _create(site, _checked(site, {**tree, "name": name, "slug": _free_slug(site, str(name))}))


def copy_piece(site_slug: str, slug: str, name: str, *, by: Any = None) -> Piece:
    """A copy of a piece under another name; the copy is independent of its original."""
    with editing(site_slug, by) as site:
        original = find_piece(site_slug, slug)
        tree = {**piece_tree(original), "name": name.strip(), "slug": _free_slug(site, name)}
        return _create(site, _checked(site, tree))


def change_piece(site_slug: str, slug: str, tree: dict[str, Any], version: int, *, by: Any = None) -> Piece:
    """Replace a piece's name, note, content, slots and entries. Kind and slug stay."""
    with editing(site_slug, by) as site:
        piece = _find_newest(site, slug, version)
        checked = _checked(site, {**tree, "slug": slug, "kind": piece.kind}, piece)
        for key, value in piece_columns(checked).items():
            setattr(piece, key, value)
        piece.version += 1
        piece.save()
        return piece


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
        take_out_of_all(site, slug)
        piece.delete()


def _find_newest(site: Site, slug: str, version: int) -> Piece:
    """A piece that a change was made from. Raises Missing, and Outdated."""
    piece = find_piece(site.slug, slug)
    Outdated.check(piece.name, piece.version, version, piece_tree(piece))
    return piece


def load_pieces(site: Site, pieces: dict[str, CorePiece]) -> None:
    """Make a site's pieces anew from those of a layout file."""
    site.pieces.all().delete()
    problems: list[Problem] = []
    for number, piece in enumerate(pieces.values()):
        try:
            check_content(piece.kind, piece.content)
        except DocumentError as error:
            problems += [replace(one, pointer=f"/pieces/{number}{one.pointer}") for one in error.problems]
    if problems:
        raise DocumentError(problems)
    Piece.objects.bulk_create(
        [
            Piece(
                site=site,
                slug=piece.slug,
                kind=piece.kind,
                colour=number % len(COLOURS),
                position=number,
                **piece_columns(piece),
            )
            for number, piece in enumerate(pieces.values())
        ]
    )


def _checked(site: Site, tree: dict[str, Any], itself: Piece | None = None) -> CorePiece:
    """The piece that a tree describes, with its name free and its content whole."""
    others = Piece.objects.filter(site=site).exclude(pk=itself.pk if itself else 0)
    problems: list[Problem] = []
    name = stated_name(tree)
    if name == "":
        problems.append(Problem("/name", "a piece needs a name", "required"))
    elif isinstance(name, str) and others.filter(kind=tree.get("kind"), name__iexact=name).exists():
        problems.append(Problem("/name", f"there is already a {tree.get('kind')} called {name}", "taken"))
    piece = None
    try:
        piece = read_piece({**tree, "name": name}, names_on_shelf(site))
        check_content(piece.kind, piece.content)
    except DocumentError as error:
        known = {problem.pointer for problem in problems}
        problems += [problem for problem in error.problems if problem.pointer not in known]
    if problems or piece is None:
        raise DocumentError(problems)
    return piece


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


def _create(site: Site, piece: CorePiece) -> Piece:
    pieces = Piece.objects.filter(site=site)
    if pieces.count() >= MAX_PIECES:
        raise InTheWay("too-many-pieces", f"A site holds at most {MAX_PIECES:,} pieces")
    position = (pieces.aggregate(last=Max("position"))["last"] or 0) + 1
    return Piece.objects.create(
        site=site, slug=piece.slug, kind=piece.kind, position=position, colour=free_colour(site), **piece_columns(piece)
    )


def _free_slug(site: Site, name: str) -> str:
    base = slugify(name, MAX_NAME - 6)
    taken = set(Piece.objects.filter(site=site, slug__startswith=base).values_list("slug", flat=True))
    number, slug = 1, base
    while slug in taken:
        number += 1
        slug = f"{base}-{number}"
    return slug


def free_colour(site: Site) -> int:
    """The palette place that fewest pieces have, the first of those."""
    used = list(Piece.objects.filter(site=site).values_list("colour", flat=True))
    return min(range(len(COLOURS)), key=lambda place: (used.count(place), place))
