"""The files of a site, pictures and fonts: taking them in, naming and removing them."""

from __future__ import annotations

import re
from typing import Any

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_dresses, read_files
from navrel.core.files.writing import write_file
from navrel.core.layout.contents import items_of
from navrel.core.layout.document import SiteFile, slugify
from navrel.rendering.files import read_file
from navrel.rendering.taken import BadFile, TakenFile
from navrel.server.api.errors import InTheWay, Missing
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site

from .models import FileData, Piece

MAX_FILES = 1000


def take_file(site_slug: str, name: str, data: bytes, *, by: Any = None) -> SiteFile:
    """Take a file in under a name made from what it is called; one of that name is replaced wherever it shows.

    Raises DocumentError where it is none, or too large.
    """
    try:
        taken = read_file(data)
    except BadFile as error:
        raise DocumentError([Problem("/data", str(error), "bad-file")]) from None
    made = kept_as(harmless_name(name, taken), taken)
    with editing(site_slug, by, f"Took in {made.name}") as site:
        keep_data(taken)
        known = [file for file in read_files(site.files) if file.name != made.name]
        if len(known) >= MAX_FILES:
            raise InTheWay("too-many-files", f"A site holds at most {MAX_FILES:,} pictures and fonts")
        site.files = [write_file(file) for file in sorted((*known, made), key=lambda file: file.name)]
        site.save(update_fields=["files"])
    return made


def kept_as(name: str, taken: TakenFile) -> SiteFile:
    """What the site knows of a file that it keeps under a name."""
    return SiteFile(name, taken.type, taken.digest, taken.width, taken.height, tuple(taken.smaller))


def keep_data(taken: TakenFile) -> None:
    """Keep the bytes of a file, where they are not kept yet."""
    for width, data in {0: taken.data, **taken.smaller}.items():
        FileData.objects.get_or_create(digest=taken.digest, width=width, defaults={"type": taken.type, "data": data})


def harmless_name(name: str, taken: TakenFile) -> str:
    """A name of plain letters, digits and hyphens, with the ending of what the file is."""
    stem = re.sub(r"\.[A-Za-z0-9]{1,5}$", "", name.replace("\\", "/").rsplit("/", 1)[-1])
    return f"{slugify(stem, 60)}{taken.ending}"


def remove_file(site_slug: str, name: str, *, by: Any = None) -> None:
    """Remove a file. Raises Missing, and InTheWay with the pieces and dresses that show it."""
    with editing(site_slug, by, f"Removed {name}") as site:
        known = read_files(site.files)
        if all(file.name != name for file in known):
            raise Missing("no-file", f"There is no picture or font {name}")
        users = users_of(site, name)
        if users:
            raise InTheWay("in-use", f"{name} is in use", "Take it out first: " + ", ".join(users))
        site.files = [write_file(file) for file in known if file.name != name]
        site.save(update_fields=["files"])


def users_of(site: Site, name: str) -> list[str]:
    """The names of the pieces and dresses that show a file."""
    pieces = Piece.objects.filter(site=site).only("name", "content")
    dresses = [dress.name for dress in read_dresses(site.dresses).values() if name in dress.font_files]
    shown = [piece.name for piece in pieces if any(item.get("file") == name for item in items_of(piece.content))]
    return [*shown, *dresses]
