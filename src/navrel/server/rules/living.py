"""What becomes of a piece where it is used: another in its place, or a copy of it on one page."""

from __future__ import annotations

from typing import Any

from navrel.core.errors import DocumentError, Problem
from navrel.core.layout.document import MAX_NAME, free_name
from navrel.core.layout.model import Target
from navrel.server.api.errors import InTheWay
from navrel.server.edits.services import editing
from navrel.server.edits.turning import check_references
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece
from navrel.server.library.services import copy_locked, find_piece
from navrel.server.library.uses import put_instead, uses_of
from navrel.server.sitestate.draft import draft

from .pins import pin_locked


def replace_piece(site_slug: str, slug: str, with_slug: str, *, by: Any = None) -> int:
    """Put another piece wherever one is used: rules, sidebars, pieces, the site's default. Returns in how many things.

    Raises DocumentError where it is of another kind, and InTheWay where nothing uses the old one.
    """
    with editing(site_slug, by) as site:
        old, new = find_piece(site_slug, slug), find_piece(site_slug, with_slug)
        if old.kind != new.kind:
            message = f"{new.name} is a {new.kind}; {old.name} is a {old.kind}"
            raise DocumentError([Problem("/with", message, "wrong-kind")])
        if old.pk == new.pk:
            raise DocumentError([Problem("/with", "choose another piece", "same")])
        users = uses_of(site, slug)
        if not users:
            raise InTheWay("nothing-to-do", f"Nothing uses {old.name}")
        put_instead(site, slug, with_slug)
        check_references(site)
        return len(users)


def vary_piece(site_slug: str, slug: str, path: str, target: Target, *, by: Any = None) -> Piece:
    """A copy of a piece, pinned on one page in a slot, or as its template; the shared one stays as it is."""
    with editing(site_slug, by) as site:
        page = draft(site).page(path)
        original = find_piece(site_slug, slug)
        copy = copy_locked(site, original, _free_name(site, original, page.title))
        use = {"do": "use", "template": copy.slug}
        fill = {"do": "fill", "slot": target.name, "piece": copy.slug}
        pin_locked(site, path, use if target.kind == "template" else fill, None)
        return copy


def _free_name(site: Site, piece: Piece, title: str) -> str:
    taken = Piece.objects.filter(site=site, kind=piece.kind).values_list("name", flat=True)
    return free_name(f"{piece.name} on {title}"[:MAX_NAME].strip(), taken)
