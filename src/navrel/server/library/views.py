"""Pieces: the shelf, editing, pictures of the real rendering."""

from __future__ import annotations

from collections import Counter
from dataclasses import asdict
from operator import attrgetter
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from navrel.core.cascade.bulk import resolve_all
from navrel.core.cascade.shown import pages_showing
from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_piece
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.dress import COLOURS, FAMILIES, FONTS, MEASURES
from navrel.core.layout.model import Piece as CorePiece
from navrel.core.pages.pageset import PageSet
from navrel.core.questions.sidebars import sidebar_reach
from navrel.rendering.colours import PALETTE
from navrel.rendering.items.content import check_content
from navrel.rendering.items.registry import ITEMS
from navrel.rendering.markup.language import filter_names, tag_names
from navrel.rendering.markup.told import NAMES as MARKUP_NAMES
from navrel.rendering.placeholders import NAMES as PLACEHOLDERS
from navrel.rendering.turning import turned
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.shapes import PieceInfo, PieceRow, PieceTree
from navrel.server.api.views import IF_MATCH, LENS, SiteView, body_of, made, matched_version, parsed, read_lens, tagged
from navrel.server.inventory.sampling import spread
from navrel.server.sitestate.state import SiteState

from . import refreshing, services, shapes, starters, versions
from .fetching import BadFeed, check_address
from .models import Piece
from .pictures import pictures_on
from .telling import piece_info
from .uses import uses_of

TAKE_OUT = OpenApiParameter(
    "take_out", bool, description="Whether it is first taken out of the rules and sidebars that name it"
)


class PiecesView(SiteView):
    """The pieces."""

    @operation("listPieces", parameters=stretch_parameters(MOST), responses=listing(PieceRow))
    def get(self, request: Request, site: str) -> Response:
        """The pieces, each with how many things name it."""
        record = self.record
        stretch = Stretch.asked(request, MOST)
        uses = _use_counts(self.draft())
        records, total = stretch.of_records(Piece.objects.filter(site=record))
        return Response(stretch.listed([{**piece_info(piece), "uses": uses[piece.slug]} for piece in records], total))

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
        state = self.draft()
        lens = self.lens(state)
        stretch = Stretch.asked(request, MOST)
        resolved = resolve_all(state.index, state.layout, lens)
        shown = pages_showing(state.index, state.layout, lens, resolved)
        rows = [
            {"slug": slug, "pages": len(pages), "some": _some_paths(state, pages)}
            for slug, pages in shown.items()
            if pages
        ]
        return Response(stretch.listed(list(stretch.of(rows)), len(rows)))


class PieceView(SiteView):
    """One piece."""

    @operation("getPiece", responses=PieceInfo)
    def get(self, request: Request, site: str, piece: str) -> Response:
        """One piece, with its version in the ETag."""
        record = services.find_piece(site, piece)
        return tagged(piece_info(record), record.version)

    @operation("changePiece", parameters=[IF_MATCH], request=PieceTree, responses=PieceInfo, errors=[412, 422, 428])
    def put(self, request: Request, site: str, piece: str) -> Response:
        """Replace a piece; 412 with the other version where somebody changed it meanwhile."""
        record = services.change_piece(site, piece, _tree(request), matched_version(request), by=request.user)
        return tagged(piece_info(record), record.version)

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


class VersionsView(SiteView):
    """What a piece was."""

    @operation("listVersions", parameters=stretch_parameters(MOST), responses=listing(shapes.PieceVersion))
    def get(self, request: Request, site: str, piece: str) -> Response:
        """A piece as each of its newest edits left it, newest first."""
        stretch = Stretch.asked(request, MOST)
        found = versions.versions_of(self.record, piece)
        return Response(stretch.listed([_version(one) for one in stretch.of(found)], len(found)))


def _version(one: versions.Version) -> dict[str, Any]:
    edit = one.edit
    by = edit.by.get_username() if edit.by else None
    return {"edit": edit.number, "made": edit.made, "by": by, "words": edit.words, "piece": one.tree}


class DifferenceView(SiteView):
    """Copies and their originals."""

    @operation("comparePiece", responses=shapes.PieceDifference)
    def get(self, request: Request, site: str, piece: str) -> Response:
        """How a copy differs from the piece that it began as."""
        found = versions.differences(self.record, piece)
        if found is None:
            return Response({"origin": "", "name": "", "words": []})
        original, words = found
        return Response({"origin": original.slug, "name": original.name, "words": words})


class CopyPieceView(SiteView):
    """Copies of a piece."""

    @operation("copyPiece", request=shapes.NameRequest, responses={201: PieceInfo}, errors=[409, 422])
    def post(self, request: Request, site: str, piece: str) -> Response:
        """A copy under another name."""
        name = parsed(shapes.NameRequest, request.data)["name"]
        return _made(site, services.copy_piece(site, piece, name, by=request.user))


class StartersView(SiteView):
    """What a piece can start from."""

    @operation("listStarters", parameters=stretch_parameters(MOST), responses=listing(shapes.StarterInfo))
    def get(self, request: Request, site: str) -> Response:
        """Every starter, drawn in the site's colours and fonts."""
        record = self.record
        state = self.draft()
        stretch = Stretch.asked(request, MOST)
        known = starters.starters()
        # A long page with a date has neighbours and a place in the tree, which some starters show.
        dated = [page for page in state.index.tree.pages if page.published]
        on = max(dated, key=attrgetter("words")).path if dated else ""
        pictures = pictures_on(record, state, on)
        rows = [
            {
                **{key: one[key] for key in ("slug", "kind", "name", "about")},
                "html": pictures.draw(read_piece({**starters.piece_from(one, one["name"]), "slug": "starter"}, {})),
            }
            for one in stretch.of(known)
        ]
        return Response(stretch.listed(rows, len(known)))


class StartView(SiteView):
    """A starter."""

    @operation("startPiece", request=shapes.NameRequest, responses={201: PieceInfo}, errors=[409, 422])
    def post(self, request: Request, site: str, starter: str) -> Response:
        """A new piece that starts from it, under a name."""
        name = parsed(shapes.NameRequest, request.data)["name"]
        tree = starters.piece_from(starters.find_starter(starter), name)
        return _made(site, services.make_piece(site, tree, by=request.user))


class PictureView(SiteView):
    """Pictures of pieces."""

    @operation("drawPiece", role="viewer", request=shapes.PictureRequest, responses=shapes.EditedPicture, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """The real rendering of a piece as it is being edited, saved or not; and what its markup loses there."""
        body = parsed(shapes.PictureRequest, request.data)
        record = self.record
        state = self.draft()
        piece = _edited(request, state, body.get("slug") or "picture")
        check_content(piece.kind, piece.content)
        pictures, marked = pictures_on(record, state, body.get("path", "")), body.get("marked", False)
        lost = [
            {"pointer": f"/content{at}", "lost": [{"what": what, "count": count} for what, count in one.most_common()]}
            for at, one in pictures.lost(piece).items()
        ]
        in_place = None if body.get("alone") else pictures.draw_in_place(piece, marked=marked)
        html = pictures.draw(piece, marked=marked) if in_place is None else in_place
        return Response({"html": html, "in_place": in_place is not None, "lost": lost})


class MarkupView(SiteView):
    """Pieces as markup."""

    @operation(
        "turnIntoMarkup", role="viewer", request=shapes.PictureRequest, responses=shapes.TurnedPiece, errors=[422]
    )
    def post(self, request: Request, site: str) -> Response:
        """The content of a piece, as it is being edited, with markup in place of its items; nothing is saved."""
        parsed(shapes.PictureRequest, request.data)
        state = self.draft()
        piece = _edited(request, state, "picture")
        check_content(piece.kind, piece.content)
        lens = Lens(Visitor(), state.document.now())
        return Response({"content": turned(piece.content, state.document, state.index, lens)})


class FeedsView(APIView):
    """Feeds of other services."""

    @operation("fetchFeed", request=shapes.FeedRequest, responses=shapes.FeedInfo, errors=[422])
    def post(self, request: Request) -> Response:
        """Fetch a feed now, so that pieces can show it; what was fetched before stays where that fails."""
        url = parsed(shapes.FeedRequest, request.data)["url"]
        try:
            check_address(url)
        except BadFeed as error:
            raise DocumentError([Problem("/url", str(error), "bad-feed")]) from None
        found = refreshing.refresh(url)
        told = {"url": found.url, "title": found.title, "fetched": found.fetched, "problem": found.problem}
        return Response({**told, "entries": len(found.entries)})


class SidebarReachView(SiteView):
    """How far the entries of sidebars reach."""

    @operation(
        "measureSidebar",
        role="viewer",
        request=shapes.SidebarReachRequest,
        responses=shapes.SidebarReachInfo,
        errors=[422],
    )
    def post(self, request: Request, site: str) -> Response:
        """Where a sidebar stands, and on how many pages each entry shows, as it is being edited."""
        body = parsed(shapes.SidebarReachRequest, request.data)
        state = self.draft()
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        sidebar = _edited(request, state, body["slug"])
        found = sidebar_reach(state.index, state.layout, lens, sidebar)
        return Response({"pages": found.pages, "entries": [vars(one) for one in found.entries]})


class ItemTypesView(SiteView):
    """What pieces are made of."""

    @operation("listItemTypes", responses=shapes.ItemTypes)
    def get(self, request: Request) -> Response:
        """What pieces can be made of, and the settings of each."""
        return Response(
            {
                "items": [
                    {
                        "type": kind.type,
                        "name": kind.name,
                        "group": kind.group,
                        "help": kind.help,
                        "parts": [{**vars(part), "bindable": part.bindable} for part in kind.parts],
                    }
                    for kind in ITEMS.values()
                ],
                "palette": PALETTE,
                "dress": {
                    "colours": COLOURS,
                    "fonts": FONTS,
                    "families": FAMILIES,
                    "measures": [{"name": name, **asdict(measure)} for name, measure in MEASURES.items()],
                },
                "markup": {"names": MARKUP_NAMES, "filters": filter_names(), "tags": tag_names()},
                "placeholders": PLACEHOLDERS,
            }
        )


def _some_paths(state: SiteState, pages: PageSet) -> list[str]:
    """The paths of up to three of some pages, from the whole length of them."""
    numbers = pages.numbers()
    return [state.index.tree.pages[numbers[place]].path for place in spread(range(len(numbers)), 3)]


def _edited(request: Request, state: SiteState, slug: str) -> CorePiece:
    """The piece in a request's body as it is being edited, named or not. Raises DocumentError."""
    tree = body_of(request)["piece"]
    known = ("name", "kind", "note", "content", "slots", "entries")
    kept = {key: tree[key] for key in known if key in tree}
    return read_piece({**kept, "name": tree.get("name") or "x", "slug": slug}, state.layout.pieces)


def _made(site: str, record: Piece) -> Response:
    return made(piece_info(record), f"/api/sites/{site}/pieces/{record.slug}", record.version)


def _tree(request: Request) -> dict[str, Any]:
    return {key: value for key, value in body_of(request).items() if key not in ("slug", "version", "colour", "origin")}


def _use_counts(state: SiteState) -> Counter[str]:
    """For each piece, how many things name it: rules, sidebars, other pieces, the site as its default template."""
    uses: Counter[str] = Counter()
    for rule in state.layout.rules:
        uses.update({action.piece for action in rule.actions if action.piece})
    for piece in state.layout.pieces.values():
        uses.update(piece.widgets | set(piece.embedded))
    if state.layout.default_template:
        uses[state.layout.default_template] += 1
    return uses
