"""Taking a layout file into a site: what is in it, what clashes, what it would change; then one edit.

A file may hold a whole layout or parts of one. What it holds is read against what the site has, so that a rule may name
a piece of either.
"""

from __future__ import annotations

from base64 import b64decode
from binascii import Error as NotBase64
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.parts import ReadParts, read_parts
from navrel.core.files.writing import (
    write_binding,
    write_dress,
    write_fact,
    write_file,
    write_guard,
    write_menu,
    write_setting,
)
from navrel.core.layout.contents import renamed
from navrel.core.layout.document import SiteDocument, SiteFile, free_name, slugify
from navrel.core.layout.dressing import with_dress_setting
from navrel.core.layout.model import Action, Piece, Rule
from navrel.rendering.files import read_file
from navrel.rendering.items.content import check_content
from navrel.rendering.taken import BadFile, TakenFile
from navrel.server.bindings.services import checked as check_bindings
from navrel.server.edits.services import editing
from navrel.server.edits.turning import check_references
from navrel.server.inventory.layout_pages import take_pages
from navrel.server.inventory.models import Site
from navrel.server.inventory.originals import know_places
from navrel.server.inventory.rereading import read_anew
from navrel.server.library.files import keep_data, kept_as
from navrel.server.library.models import FileData
from navrel.server.library.services import put_pieces
from navrel.server.recipes.services import checked as check_recipe
from navrel.server.rules.services import add_rules
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import raise_inventory

How = Literal["add", "replace", "rename", "leave"]
RuleHow = Literal["none", "off", "as-written"]


@dataclass(frozen=True)
class Choices:
    """What is taken of a file, and how.

    ``pieces``: how each piece by its slug, and the name where it is renamed; one that is not named is added, or left
    out where another of its name or slug is there.
    """

    pieces: Mapping[str, tuple[How, str]] = field(default_factory=dict)
    rules: RuleHow = "off"
    pages: bool = False
    site: bool = False
    only_named: bool = False


@dataclass(frozen=True)
class PieceInFile:
    """A piece of a file, and the one of the site that it clashes with. ``same``: both are alike."""

    piece: Piece
    clash: str = ""
    same: bool = False


@dataclass(frozen=True)
class Look:
    """What is in a file."""

    parts: ReadParts
    pieces: tuple[PieceInFile, ...]
    rules: tuple[str, ...]
    pages: int
    new_pages: int
    settings: tuple[str, ...]
    menus: tuple[str, ...]
    dresses: tuple[str, ...]
    files: tuple[str, ...]
    guards: tuple[str, ...]


def look_into(site: Site, tree: Any) -> Look:
    """What is in a file, and how it stands to what the site has. Raises DocumentError."""
    document = draft(site).document
    parts = _read(document, tree)
    present = {page.path for page in document.pages}
    return Look(
        parts,
        tuple(_stands(piece, document) for piece in parts.pieces.values()),
        tuple(rule.name for rule in parts.rules),
        len(parts.pages),
        sum(1 for page in parts.pages if page.path not in present),
        tuple(setting.name for setting in parts.settings),
        tuple(menu.name for menu in parts.menus.values()),
        tuple(dress.name for dress in parts.dresses.values()),
        tuple(file.name for file in parts.files),
        tuple(guard.name for guard in parts.guards),
    )


def _stands(piece: Piece, document: SiteDocument) -> PieceInFile:
    mine = document.layout.pieces
    same = mine.get(piece.slug)
    if same == piece:
        return PieceInFile(piece, same.slug, True)
    named = (one for one in mine.values() if _key(one) == _key(piece))
    clash = same or next(named, None)
    return PieceInFile(piece, clash.slug if clash else "")


def _key(piece: Piece) -> tuple[str, str]:
    return piece.kind, piece.name.casefold()


def _read(document: SiteDocument, tree: Any) -> ReadParts:
    """The parts of a file, each checked to its last item. Raises DocumentError with all that is wrong."""
    parts = read_parts(tree, document)
    problems: list[Problem] = []
    for number, piece in enumerate(parts.pieces.values()):
        try:
            check_content(piece.kind, piece.content)
        except DocumentError as error:
            problems += [replace(one, pointer=f"/pieces/{number}{one.pointer}") for one in error.problems]
    if problems:
        raise DocumentError(problems)
    check_bindings([write_binding(one) for one in parts.bindings])
    check_recipe([write_fact(one) for one in parts.recipe])
    return parts


def take_in(site_slug: str, tree: Any, choices: Choices, *, by: Any = None) -> dict[str, Any]:
    """Take a file in, as chosen, as one edit. Returns how many parts of each kind came. Raises DocumentError."""
    with editing(site_slug, by, _words(tree, choices)) as site:
        document = draft(site).document
        parts = _read(document, tree)
        pictures = _pictures(parts.files, tree)
        if choices.site:
            _take_site(site, parts)
        pages = take_pages(site, parts) if choices.pages else 0
        _take_declared(site, document, parts, choices)
        _take_files(site, document, parts.files, pictures)
        renames, taken = _take_pieces(site, document, parts, choices)
        rules = () if choices.rules == "none" else _rules(document, parts, choices, renames)
        add_rules(site, rules)
        if choices.rules != "none":
            _take_guards(site, document, parts, choices, renames)
        check_references(site)
        return {"pieces": taken, "rules": len(rules), "pages": pages, "files": len(parts.files)}


def _words(tree: Any, choices: Choices) -> str:
    pieces = [slug for slug, (how, _) in choices.pieces.items() if how != "leave"]
    if len(pieces) == 1 and isinstance(tree, Mapping):
        listed = tree.get("pieces") or []
        name = next(
            (one.get("name") for one in listed if isinstance(one, Mapping) and one.get("slug") == pieces[0]), ""
        )
        return f"Took in {name or pieces[0]} from a file"
    return "Took in a layout file"


def _take_site(site: Site, parts: ReadParts) -> None:
    """What the site is, from the file: all but its slug."""
    facts = parts.site
    if facts is None:
        return
    site.name, site.base_url, site.language = facts.name, facts.base_url, facts.language
    site.time_zone, site.roles = facts.time_zone, list(facts.roles)
    site.default_template, site.scripts = facts.layout.default_template or "", facts.scripts
    if parts.bindings:
        site.bindings = [write_binding(one) for one in parts.bindings]
        know_places(site, parts.bindings)
    if parts.recipe:
        site.recipe = [write_fact(one) for one in parts.recipe]
        read_anew(site, site.recipe)
    site.save()
    if parts.bindings or parts.recipe:
        raise_inventory(site)


def _take_declared(site: Site, document: SiteDocument, parts: ReadParts, choices: Choices) -> None:
    """Settings, menus and dresses that the site lacks; what it has stays as it is.

    The first dress that a site has is worn by all of its pages, so it does not come unasked.
    """
    mine = document.layout
    more = parts.dresses if mine.dresses or choices.site else {}
    dresses = {**mine.dresses, **more, **mine.dresses}
    settings = (*mine.settings, *(one for one in parts.settings if one.name not in mine.setting_defaults))
    site.settings = [write_setting(setting) for setting in with_dress_setting(settings, dresses)]
    site.menus = [write_menu(menu) for menu in {**mine.menus, **parts.menus, **mine.menus}.values()]
    site.dresses = [write_dress(dress) for dress in dresses.values()]
    site.save(update_fields=["settings", "menus", "dresses"])


def _pictures(files: Iterable[SiteFile], tree: Any) -> dict[str, TakenFile]:
    """The pictures of a file by name, read as if they were taken in by hand. Raises DocumentError."""
    found: dict[str, TakenFile] = {}
    problems = []
    for number, file in enumerate(files):
        text = tree["files"][number].get("data")
        if not text:
            if not FileData.objects.filter(digest=file.digest, width=0).exists():
                problems.append(Problem(f"/files/{number}", f"the bytes of {file.name} are missing", "required"))
            continue
        try:
            found[file.name] = read_file(b64decode(text, validate=True))
        except (NotBase64, TypeError, ValueError) as error:
            why = str(error) if isinstance(error, BadFile) else "this is not base64"
            problems.append(Problem(f"/files/{number}/data", why, "bad-file"))
    if problems:
        raise DocumentError(problems)
    return found


def _take_files(
    site: Site, document: SiteDocument, files: Iterable[SiteFile], pictures: Mapping[str, TakenFile]
) -> None:
    known = document.files_by_name
    for file in files:
        if file.name in known:
            continue
        picture = pictures.get(file.name)
        if picture is not None:
            keep_data(picture)
            file = kept_as(file.name, picture)
        known = {**known, file.name: file}
    site.files = [write_file(known[name]) for name in sorted(known)]
    site.save(update_fields=["files"])


def _take_pieces(site: Site, document: SiteDocument, parts: ReadParts, choices: Choices) -> tuple[dict[str, str], int]:
    """Put the chosen pieces into the site. Returns what each slug of the file is called here, and how many came."""
    mine = document.layout.pieces
    taken: dict[str, Piece] = {}
    replaced: set[str] = set()
    slugs: dict[str, str] = {}
    used = set(mine)
    for number, piece in enumerate(parts.pieces.values()):
        stands = _stands(piece, document)
        usual: How = "leave" if stands.clash or choices.only_named else "add"
        how, name = choices.pieces.get(piece.slug, (usual, ""))
        if how == "leave":
            slugs[piece.slug] = stands.clash or piece.slug
            continue
        if how == "replace" and stands.clash:
            known = mine[stands.clash]
            piece_here = replace(piece, slug=known.slug, name=known.name, kind=known.kind)
            replaced.add(known.slug)
        else:
            slug = free_name(slugify(name) if how == "rename" and name else piece.slug, used, "-")
            piece_here = replace(piece, slug=slug, name=name or piece.name)
        used.add(piece_here.slug)
        slugs[piece.slug] = piece_here.slug
        taken[f"/pieces/{number}"] = piece_here
    put_pieces(site, {at: _naming(piece, slugs) for at, piece in taken.items()}, replaced)
    return slugs, len(taken)


def _naming(piece: Piece, slugs: Mapping[str, str]) -> Piece:
    """A piece that names others as they are called here."""
    entries = tuple(replace(entry, piece=slugs.get(entry.piece, entry.piece)) for entry in piece.entries)
    return replace(piece, entries=entries, content=renamed(piece.content, slugs))


def _rules(document: SiteDocument, parts: ReadParts, choices: Choices, slugs: Mapping[str, str]) -> tuple[Rule, ...]:
    """The rules of a file as they come: under free names, naming the pieces as they are called here."""
    taken = [rule.name for rule in document.layout.rules]
    found = []
    for rule in parts.rules:
        name = free_name(rule.name, taken)
        taken.append(name)
        on = rule.on and choices.rules == "as-written"
        actions = tuple(_here(action, slugs) for action in rule.actions)
        found.append(replace(rule, name=name, on=on, actions=actions))
    return tuple(found)


def _take_guards(
    site: Site, document: SiteDocument, parts: ReadParts, choices: Choices, slugs: Mapping[str, str]
) -> None:
    """Guards whose names the site lacks, asking for the pieces as they are called here; on or off as the rules come."""
    mine = document.layout.guards
    known = {guard.name.casefold() for guard in mine}
    found = []
    for guard in parts.guards:
        if guard.name.casefold() not in known:
            demand = replace(guard.demand, pieces=tuple(slugs.get(slug, slug) for slug in guard.demand.pieces))
            found.append(replace(guard, demand=demand, on=guard.on and choices.rules == "as-written"))
    site.guards = [write_guard(guard) for guard in (*mine, *found)]
    site.save(update_fields=["guards"])


def _here(action: Action, slugs: Mapping[str, str]) -> Action:
    return replace(action, piece=slugs.get(action.piece, action.piece)) if action.piece else action
