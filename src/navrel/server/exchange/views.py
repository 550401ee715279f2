"""Layout files: out of a site, and into it."""

from __future__ import annotations

from dataclasses import replace

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.layout.model import Piece
from navrel.rendering.page import Source
from navrel.server.api.operations import operation
from navrel.server.api.views import SiteView, body_of, parsed
from navrel.server.library.pictures import pictures_on
from navrel.server.sitestate.state import SiteState

from . import out, shapes, taking

PIECES = OpenApiParameter("pieces", str, description="The slugs of some pieces, by comma; all of it when not given")
WITH_RULES = OpenApiParameter("rules", bool, description="Whether the rules that name those pieces go with them")
#: Pieces of a file that are pictured; a file may hold thousands.
MOST_PICTURED = 40


class LayoutFileView(SiteView):
    """The layout of a site as a file."""

    @operation("exportLayout", parameters=[PIECES, WITH_RULES], responses=shapes.LayoutTree, errors=[409])
    def get(self, request: Request, site: str) -> Response:
        """The draft of a site as a layout file; or some pieces with what they need."""
        state = self.draft()
        slugs = [slug for slug in request.query_params.get("pieces", "").split(",") if slug]
        rules = request.query_params.get("rules") == "true"
        most = out.MOST_DATA
        tree = out.some_pieces(state, slugs, rules=rules, most=most) if slugs else out.whole_layout(state, most)
        name = out.file_name(state.document, slugs)
        return Response(tree, headers={"Content-Disposition": f'attachment; filename="{name}"'})


class LookView(SiteView):
    """What is in a layout file."""

    @operation("lookIntoLayout", role="viewer", request=shapes.LookRequest, responses=shapes.FileLook, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """What is in a file, how it would look here, and what of it clashes with what is here."""
        record = self.record
        found = taking.look_into(record, body_of(request).get("file"))
        state = self.draft()
        mine = state.layout.pieces
        pictures = pictures_on(record, state, source=_with_file(state, found.parts.pieces))
        return Response(
            {
                "pieces": [
                    {
                        "slug": one.piece.slug, "kind": one.piece.kind, "name": one.piece.name, "clash": one.clash,
                        "clash_name": mine[one.clash].name if one.clash else "", "same": one.same,
                        "html": pictures.draw(one.piece) if number < MOST_PICTURED else "",
                    }
                    for number, one in enumerate(found.pieces)
                ],
                "rules": found.rules, "pages": found.pages, "new_pages": found.new_pages,
                "settings": found.settings, "menus": found.menus, "dresses": found.dresses, "files": found.files,
                "guards": found.guards,
            }
        )  # fmt: skip


class TakeInView(SiteView):
    """Taking a layout file in."""

    @operation("takeInLayout", request=shapes.TakeInRequest, responses=shapes.TakenIn, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Take a file in, as chosen, as one edit; nothing of it where anything is wrong."""
        body = parsed(shapes.TakeInRequest, request.data)
        choices = taking.Choices(
            {one["slug"]: (one["how"], one.get("name", "").strip()) for one in body.get("pieces", [])},
            body.get("rules", "off"),
            body.get("pages", False),
            body.get("site", False),
            body.get("only_named", False),
        )
        return Response(taking.take_in(site, body_of(request)["file"], choices, by=request.user))


def _with_file(state: SiteState, pieces: dict[str, Piece]) -> Source:
    """What pictures of a file's pieces are drawn from: the site with them."""
    layout = replace(state.layout, pieces={**state.layout.pieces, **pieces})
    return Source(replace(state.document, layout=layout), state.index)
