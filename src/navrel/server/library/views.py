"""Pieces: the shelf, editing, pictures of the real rendering."""

from __future__ import annotations

from collections import Counter
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.cascade.bulk import resolve_all
from navrel.core.cascade.shown import pages_showing
from navrel.core.files.reading import read_piece
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.pages.page import Page
from navrel.rendering.items import ITEMS, check_content
from navrel.rendering.page import Source, draw_piece
from navrel.rendering.palette import colour
from navrel.server.states import State, draft, find_site, piece_tree
from navrel.server.views import IF_MATCH, LENS, SiteView, body_of, extend_schema, made, matched_version, parsed, tagged

from . import serializers as shapes
from . import services
from .models import Piece


class PiecesView(SiteView):
    @extend_schema(operation_id="listPieces", responses=shapes.PieceRow(many=True))
    def get(self, request: Request, site: str) -> Response:
        """Every piece, with how many rules and sidebars name it. At most 2,000."""
        record = find_site(site)
        uses = _use_counts(draft(record))
        records = Piece.objects.filter(site=record)[: services.MAX_PIECES]
        return Response([{**_info(piece), "uses": uses[piece.slug]} for piece in records])

    @extend_schema(operation_id="makePiece", request=shapes.PieceTree, responses={201: shapes.PieceInfo})
    def post(self, request: Request, site: str) -> Response:
        """A new piece."""
        return _made(site, services.make_piece(site, _tree(request)))


class PiecePagesView(SiteView):
    @extend_schema(operation_id="countPiecePages", parameters=LENS, responses=shapes.PiecePages(many=True))
    def get(self, request: Request, site: str) -> Response:
        """How many pages show each piece through the lens; those on no page are left out."""
        state = self.draft(site)
        lens = self.lens(state)
        resolved = resolve_all(state.index, state.layout, lens)
        shown = pages_showing(state.index, state.layout, lens, resolved)
        return Response([{"slug": slug, "pages": len(pages)} for slug, pages in shown.items()])


class PieceView(SiteView):
    @extend_schema(operation_id="getPiece", responses=shapes.PieceInfo)
    def get(self, request: Request, site: str, piece: str) -> Response:
        """One piece."""
        record = services.find_piece(site, piece)
        return tagged(_info(record), record.version)

    @extend_schema(
        operation_id="changePiece", parameters=[IF_MATCH], request=shapes.PieceTree, responses=shapes.PieceInfo
    )
    def put(self, request: Request, site: str, piece: str) -> Response:
        """Replace a piece; 412 with the other version where somebody changed it meanwhile."""
        record = services.change_piece(site, piece, _tree(request), matched_version(request))
        return tagged(_info(record), record.version)

    @extend_schema(operation_id="removePiece", parameters=[IF_MATCH], responses={204: None})
    def delete(self, request: Request, site: str, piece: str) -> Response:
        """Remove a piece that nothing uses; 409 with the names of what does, 412 where somebody changed it."""
        services.remove_piece(site, piece, matched_version(request))
        return Response(status=204)


class PieceUsesView(SiteView):
    @extend_schema(operation_id="listPieceUses", responses=shapes.PieceUses)
    def get(self, request: Request, site: str, piece: str) -> Response:
        """What names a piece, in words."""
        record = services.find_piece(site, piece)
        return Response({"uses": services.uses_of(record.site, record.slug)})


class CopyPieceView(SiteView):
    @extend_schema(operation_id="copyPiece", request=shapes.NameRequest, responses={201: shapes.PieceInfo})
    def post(self, request: Request, site: str, piece: str) -> Response:
        """A copy under another name."""
        record = services.copy_piece(site, piece, parsed(shapes.NameRequest, request.data)["name"])
        return _made(site, record)


class PictureView(SiteView):
    @extend_schema(operation_id="drawPiece", request=shapes.PictureRequest, responses=shapes.Picture)
    def post(self, request: Request, site: str) -> Response:
        """The real rendering of a piece as it is being edited, saved or not."""
        body = parsed(shapes.PictureRequest, request.data)
        state = self.draft(site)
        tree = body_of(request)["piece"]
        known = ("name", "kind", "note", "content", "slots", "entries")
        piece = read_piece(
            {**{key: tree[key] for key in known if key in tree}, "name": tree.get("name") or "x", "slug": "picture"},
            state.layout.pieces,
        )
        check_content(piece.kind, piece.content)
        pages = state.index.tree.pages
        path = body.get("path", "")
        page = state.page(path) if path else (pages[0] if pages else Page("/", "A page"))
        return Response(
            {
                "html": draw_piece(
                    Source(state.document, state.index), piece, page, Lens(Visitor(), state.document.now())
                )
            }
        )


class ItemTypesView(SiteView):
    @extend_schema(operation_id="listItemTypes", responses=shapes.ItemType(many=True))
    def get(self, request: Request) -> Response:
        """What pieces can be made of, and the settings of each."""
        return Response([{"type": name, "parts": [vars(part) for part in parts]} for name, parts in ITEMS.items()])


def _made(site: str, record: Piece) -> Response:
    return made(_info(record), record.version, f"/api/sites/{site}/pieces/{record.slug}")


def _tree(request: Request) -> dict[str, Any]:
    return {key: value for key, value in body_of(request).items() if key not in ("slug", "version", "colour")}


def _info(record: Piece) -> dict[str, Any]:
    return {**piece_tree(record), "version": record.version, "colour": colour(record.colour)}


def _use_counts(state: State) -> Counter[str]:
    """For each piece, how many rules and sidebars name it."""
    uses: Counter[str] = Counter()
    for rule in state.layout.rules:
        uses.update({action.piece for action in rule.actions if action.piece})
    for piece in state.layout.pieces.values():
        uses.update(piece.widgets)
    return uses
