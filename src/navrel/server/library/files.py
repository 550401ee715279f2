"""The pictures of a site: taking them in, naming and removing them."""

from __future__ import annotations

import re
from typing import Any

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_files
from navrel.core.files.writing import write_file
from navrel.core.layout.contents import items_of
from navrel.core.layout.document import SiteFile, slugify
from navrel.rendering.pictures import BadPicture, Picture, read_picture
from navrel.server.api.errors import InTheWay, Missing
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site

from .models import FileData, Piece

MAX_FILES = 1000


def take_picture(site_slug: str, name: str, data: bytes, *, by: Any = None) -> SiteFile:
    """Take a picture in under a name made from what it is called; one of that name is replaced wherever it shows.

    Raises DocumentError where it is none, or too large.
    """
    try:
        picture = read_picture(data)
    except BadPicture as error:
        raise DocumentError([Problem("/data", str(error), "bad-picture")]) from None
    made = SiteFile(
        harmless_name(name, picture), picture.type, picture.digest, picture.width, picture.height,
        tuple(picture.smaller),
    )  # fmt: skip
    with editing(site_slug, by, f"Took in the picture {made.name}") as site:
        keep_data(picture)
        known = [file for file in read_files(site.files) if file.name != made.name]
        if len(known) >= MAX_FILES:
            raise InTheWay("too-many-pictures", f"A site holds at most {MAX_FILES:,} pictures")
        site.files = [write_file(file) for file in sorted((*known, made), key=lambda file: file.name)]
        site.save(update_fields=["files"])
    return made


def keep_data(picture: Picture) -> None:
    """Keep the bytes of a picture, where they are not kept yet."""
    for width, data in {0: picture.data, **picture.smaller}.items():
        FileData.objects.get_or_create(
            digest=picture.digest, width=width, defaults={"type": picture.type, "data": data}
        )


def harmless_name(name: str, picture: Picture) -> str:
    """A name of plain letters, digits and hyphens, with the ending of what the picture is."""
    stem = re.sub(r"\.[A-Za-z0-9]{1,5}$", "", name.replace("\\", "/").rsplit("/", 1)[-1])
    return f"{slugify(stem, 60)}{picture.ending}"


def remove_picture(site_slug: str, name: str, *, by: Any = None) -> None:
    """Remove a picture. Raises Missing, and InTheWay with the pieces that show it."""
    with editing(site_slug, by, f"Removed the picture {name}") as site:
        known = read_files(site.files)
        if all(file.name != name for file in known):
            raise Missing("no-picture", f"There is no picture {name}")
        users = pieces_with(site, name)
        if users:
            raise InTheWay("in-use", f"{name} is in use", "Take it out first: " + ", ".join(users))
        site.files = [write_file(file) for file in known if file.name != name]
        site.save(update_fields=["files"])


def pieces_with(site: Site, name: str) -> list[str]:
    """The names of the pieces that show a picture."""
    pieces = Piece.objects.filter(site=site).only("name", "content")
    return [piece.name for piece in pieces if any(item.get("file") == name for item in items_of(piece.content))]
