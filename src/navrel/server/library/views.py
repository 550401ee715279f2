"""Pieces: the shelf, editing, pictures of the real rendering."""

from __future__ import annotations

from collections import Counter
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.cascade.bulk import resolve_all
from navrel.core.cascade.shown import pages_showing
from navrel.core.files.reading import read_piece
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.model import Piece as CorePiece
from navrel.core.pages.page import Page
from navrel.core.questions.sidebars import sidebar_reach
from navrel.rendering.items import ITEMS, check_content
from navrel.rendering.page import Source, draw_piece
from navrel.rendering.palette import colour
from navrel.server.api.errors import Malformed
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.shapes import PieceInfo, PieceRow, PieceTree
from navrel.server.api.views import IF_MATCH, LENS, SiteView, body_of, made, matched_version, parsed, read_lens, tagged
from navrel.server.inventory.models import Site
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site
from navrel.server.sitestate.records import piece_tree
from navrel.server.sitestate.state import SiteState

from . import services, shapes
from .declaring import declare_settings, settings_version
from .models import Piece
from .uses import uses_of

TAKE_OUT = OpenApiParameter(
    "take_out", bool, description="Whether it is first taken out of the rules and sidebars that name it"
)


class PiecesView(SiteView):
    """The pieces."""

    @operation("listPieces", parameters=stretch_parameters(MOST), responses=listing(PieceRow))
    def get(self, request: Request, site: str) -> Response:
        """The pieces, each with how many rules and sidebars name it."""
        record = find_site(site)
        stretch = Stretch.asked(request, MOST)
        uses = _use_counts(draft(record))
        records, total = stretch.of_records(Piece.objects.filter(site=record))
        return Response(stretch.listed([{**_info(piece), "uses": uses[piece.slug]} for piece in records], total))

    @operation("makePiece", request=PieceTree, responses={201: PieceInfo}, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """A new piece."""
        return _made(site, services.make_piece(site, _tree(request), by=request.user))


class PiecePagesView(SiteView):
    """Where pieces show."""

    @operation(
        "countPiecePages",
        parameters=[*LENS, *stretch_parameters(MOST)],
        responses=listing(shapes.PiecePagesRow),
        errors=[422],
    )
    def get(self, request: Request, site: str) -> Response:
        """How many pages show each piece through the lens; those on no page are left out."""
        state = self.draft(site)
        lens = self.lens(state)
        stretch = Stretch.asked(request, MOST)
        resolved = resolve_all(state.index, state.layout, lens)
        shown = pages_showing(state.index, state.layout, lens, resolved)
        rows = [{"slug": slug, "pages": len(pages)} for slug, pages in shown.items()]
        return Response(stretch.listed(list(stretch.of(rows)), len(rows)))


class PieceView(SiteView):
    """One piece."""

    @operation("getPiece", responses=PieceInfo)
    def get(self, request: Request, site: str, piece: str) -> Response:
        """One piece, with its version in the ETag."""
        record = services.find_piece(site, piece)
        return tagged(_info(record), record.version)

    @operation("changePiece", parameters=[IF_MATCH], request=PieceTree, responses=PieceInfo, errors=[412, 422, 428])
    def put(self, request: Request, site: str, piece: str) -> Response:
        """Replace a piece; 412 with the other version where somebody changed it meanwhile."""
        record = services.change_piece(site, piece, _tree(request), matched_version(request), by=request.user)
        return tagged(_info(record), record.version)

    @operation("removePiece", parameters=[IF_MATCH, TAKE_OUT], responses={204: None}, errors=[409, 412, 428])
    def delete(self, request: Request, site: str, piece: str) -> Response:
        """Remove a piece; 409 with what uses it, unless it is to be taken out there; 412 where somebody changed it."""
        take_out = request.query_params.get("take_out") == "true"
        services.remove_piece(site, piece, matched_version(request), take_out=take_out, by=request.user)
        return Response(status=204)


class PieceUsesView(SiteView):
    """Where a piece is used."""

    @operation("listPieceUses", responses=shapes.PieceUses)
    def get(self, request: Request, site: str, piece: str) -> Response:
        """What names a piece."""
        record = services.find_piece(site, piece)
        return Response({"items": [use.as_tree() for use in uses_of(record.site, record.slug)]})


class CopyPieceView(SiteView):
    """Copies of a piece."""

    @operation("copyPiece", request=shapes.NameRequest, responses={201: PieceInfo}, errors=[409, 422])
    def post(self, request: Request, site: str, piece: str) -> Response:
        """A copy under another name."""
        name = parsed(shapes.NameRequest, request.data)["name"]
        return _made(site, services.copy_piece(site, piece, name, by=request.user))


class PictureView(SiteView):
    """Pictures of pieces."""

    @operation("drawPiece", request=shapes.PictureRequest, responses=shapes.Picture, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """The real rendering of a piece as it is being edited, saved or not."""
        body = parsed(shapes.PictureRequest, request.data)
        state = self.draft(site)
        piece = _edited(request, state, "picture")
        check_content(piece.kind, piece.content)
        pages = state.index.tree.pages
        path = body.get("path", "")
        page = state.page(path) if path else (pages[0] if pages else Page("/", "A page"))
        lens = Lens(Visitor(), state.document.now())
        return Response({"html": draw_piece(Source(state.document, state.index), piece, page, lens)})


class SidebarReachView(SiteView):
    """How far the entries of sidebars reach."""

    @operation("measureSidebar", request=shapes.SidebarReachRequest, responses=shapes.SidebarReachInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """Where a sidebar stands, and on how many pages each entry shows, as it is being edited."""
        body = parsed(shapes.SidebarReachRequest, request.data)
        state = self.draft(site)
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        sidebar = _edited(request, state, body["slug"])
        found = sidebar_reach(state.index, state.layout, lens, sidebar)
        return Response({"pages": found.pages, "entries": [vars(one) for one in found.entries]})


class SettingsView(SiteView):
    """The settings that a site declares for its pages."""

    @operation("listSettings", responses=shapes.SettingsInfo)
    def get(self, request: Request, site: str) -> Response:
        """The declared settings, with their version in the ETag."""
        return _declared(find_site(site))

    @operation(
        "declareSettings",
        parameters=[IF_MATCH],
        request=shapes.SettingsRequest,
        responses=shapes.SettingsInfo,
        errors=[409, 412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Declare them anew; 409 where a rule sets one that would go, or to what it would not take."""
        version = matched_version(request)
        items = body_of(request).get("items")
        if not isinstance(items, list):
            raise Malformed("bad-body", "The body has to name its items")
        return _declared(declare_settings(site, items, version, by=request.user))


def _declared(site: Site) -> Response:
    version = settings_version(site)
    return tagged({"items": site.settings, "version": version}, version)


class ItemTypesView(SiteView):
    """What pieces are made of."""

    @operation("listItemTypes", responses=shapes.ItemTypes)
    def get(self, request: Request) -> Response:
        """What pieces can be made of, and the settings of each."""
        return Response(
            {"items": [{"type": name, "parts": [vars(part) for part in parts]} for name, parts in ITEMS.items()]}
        )


def _edited(request: Request, state: SiteState, slug: str) -> CorePiece:
    """The piece in a request's body as it is being edited, named or not. Raises DocumentError."""
    tree = body_of(request)["piece"]
    known = ("name", "kind", "note", "content", "slots", "entries")
    kept = {key: tree[key] for key in known if key in tree}
    return read_piece({**kept, "name": tree.get("name") or "x", "slug": slug}, state.layout.pieces)


def _made(site: str, record: Piece) -> Response:
    return made(_info(record), f"/api/sites/{site}/pieces/{record.slug}", record.version)


def _tree(request: Request) -> dict[str, Any]:
    return {key: value for key, value in body_of(request).items() if key not in ("slug", "version", "colour")}


def _info(record: Piece) -> dict[str, Any]:
    return {**piece_tree(record), "version": record.version, "colour": colour(record.colour)}


def _use_counts(state: SiteState) -> Counter[str]:
    """For each piece, how many rules and sidebars name it."""
    uses: Counter[str] = Counter()
    for rule in state.layout.rules:
        uses.update({action.piece for action in rule.actions if action.piece})
    for piece in state.layout.pieces.values():
        uses.update(piece.widgets)
    return uses
