"""Walking through pages of the draft, and showing them to people without an account."""

from __future__ import annotations

from collections import Counter
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.errors import QueryError
from navrel.core.language.query import parse_search
from navrel.core.pages.page import Page
from navrel.server.api.errors import Missing, ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.telling import page_row
from navrel.server.api.views import LENS, PATH, GatedView, SiteView, made, parsed, read_lens
from navrel.server.publishing.drawing import drawn_page
from navrel.server.publishing.showing import shown
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.state import SiteState

from . import services, shapes, sharing
from .models import PreviewLink, Remark

#: Pages of a walk in one answer.
MOST_WALKED = 500
MOST_NOTED = 200
WHICH = OpenApiParameter(
    "pages",
    str,
    enum=["changed", "layouts", "search"],
    description="`changed`, when not given: those that publishing would change; `layouts`: one of each layout, as the "
    "lens sees the site; `search`: those of a search",
)
QUERY = OpenApiParameter("query", str, description="Of `search`: the search")


class WalkView(SiteView):
    """The pages of a walk."""

    @operation(
        "listWalk",
        parameters=[WHICH, QUERY, *LENS, *stretch_parameters(MOST_WALKED, MOST_WALKED)],
        responses=listing(shapes.WalkedPage),
        errors=[422],
    )
    def get(self, request: Request, site: str) -> Response:
        """The pages of a walk in tree order, each with what was found of it and whether that still holds."""
        record = self.record
        state = self.draft()
        stretch = Stretch.asked(request, MOST_WALKED, MOST_WALKED)
        pages = self._pages(record, state)
        return Response(
            stretch.listed([_walked(one) for one in services.walked(record, state, stretch.of(pages))], len(pages))
        )

    def _pages(self, record: Any, state: SiteState) -> list[Page]:
        given = self.request.query_params
        match given.get("pages", "changed"):
            case "changed":
                return services.changed_pages(record, state)
            case "layouts":
                return services.one_of_each_layout(state, self.lens(state))
            case "search":
                try:
                    return services.found_pages(state, parse_search(given.get("query", "")))
                except QueryError as error:
                    raise Refused.for_parameter(ParameterProblem.of("query", error)) from None
        raise Refused.for_parameter(ParameterProblem("pages", "this is changed, layouts, or search", "no-walk"))


class LookedView(SiteView):
    """How far what changes has been looked at."""

    @operation("getLooked", responses=shapes.Looked)
    def get(self, request: Request, site: str) -> Response:
        """How many of the pages that publishing would change somebody has looked at, and what was found amiss."""
        record = self.record
        state = self.draft()
        found = services.walked(record, state, services.changed_pages(record, state))
        counts = Counter(one.standing for one in found)
        noted = [one for one in found if one.standing == "amiss" or (one.holds and one.mark and one.mark.note)]
        return Response(
            {
                "pages": len(found),
                **{standing: counts[standing] for standing in ("fine", "amiss", "again")},
                "noted": [_walked(one) for one in noted[:MOST_NOTED]],
            }
        )


class MarkView(SiteView):
    """What was found of one page."""

    @operation("markPage", role="viewer", request=shapes.MarkRequest, responses=shapes.WalkedPage, errors=[409, 422])
    def put(self, request: Request, site: str) -> Response:
        """Mark a page of the draft as fine or not; refused where the draft was edited since it was looked at."""
        body = parsed(shapes.MarkRequest, request.data)
        return Response(_walked(services.put_mark(self.record, **body, by=request.user)))

    @operation("unmarkPage", role="viewer", parameters=[PATH], responses={204: None})
    def delete(self, request: Request, site: str) -> Response:
        """Take the mark of a page away."""
        services.take_mark(self.record, request.query_params.get("path", ""))
        return Response(status=204)


def _walked(one: services.Walked) -> dict[str, Any]:
    mark = one.mark
    told = mark and {
        "fine": mark.fine,
        "note": mark.note,
        "by": mark.by.get_username() if mark.by else None,
        "made": mark.made,
        "holds": one.holds,
    }
    return {**page_row(one.page), "mark": told}


class LinksView(SiteView):
    """Previews for people without an account."""

    @operation("listPreviewLinks", parameters=stretch_parameters(), responses=listing(shapes.LinkRow))
    def get(self, request: Request, site: str) -> Response:
        """The links that have not ended, newest first."""
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(sharing.open_links(self.record))
        return Response(stretch.listed([_link(one) for one in records], total))

    @operation("sharePreview", request=shapes.LinkRequest, responses={201: shapes.LinkRow}, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Make a link to some pages of the draft, as the lens sees them, that ends by itself."""
        body = parsed(shapes.LinkRequest, request.data)
        link = sharing.share(
            self.record, body["paths"], body.get("visitor", ""), body.get("at", ""), body["hours"], request.user
        )
        return made(_link(link), f"/api/sites/{site}/preview-links/{link.pk}")


class LinkView(SiteView):
    """One preview for people without an account."""

    @operation("endPreviewLink", responses={204: None})
    def delete(self, request: Request, site: str, number: int) -> Response:
        """End it now; what was remarked there stays."""
        sharing.end_link(self.record, number)
        return Response(status=204)


def _link(link: PreviewLink) -> dict[str, Any]:
    return {
        "id": link.pk,
        "token": sharing.token_of(link),
        "paths": link.paths,
        "by": link.by.get_username() if link.by else None,
        "ends": link.ends,
    }


class RemarksView(SiteView):
    """What was remarked on previews."""

    @operation("listRemarks", parameters=stretch_parameters(), responses=listing(shapes.RemarkInfo))
    def get(self, request: Request, site: str) -> Response:
        """What was remarked: first what is not dealt with, newest first."""
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(sharing.remarks_of(self.record))
        return Response(stretch.listed([_remark(one) for one in records], total))


class RemarkView(SiteView):
    """One remark."""

    @operation("dealWithRemark", request=shapes.DealtRequest, responses={204: None})
    def put(self, request: Request, site: str, number: int) -> Response:
        """Say whether a remark is dealt with."""
        sharing.deal_with(self.record, number, done=parsed(shapes.DealtRequest, request.data)["done"])
        return Response(status=204)


def _remark(one: Remark) -> dict[str, Any]:
    return {name: getattr(one, name) for name in ("id", "path", "name", "text", "made", "done")}


class SharedView(GatedView):
    """What a preview link leads to, for whoever has it."""

    authentication_classes = []
    permission_classes = [AllowAny]

    @operation("getShared", responses=shapes.SharedInfo, errors=[404])
    def get(self, request: Request, token: str) -> Response:
        """The pages of a preview, those that are still there."""
        link = sharing.find_link(token)
        state = draft(link.site)
        pages = [page for path in link.paths if (page := state.index.tree.page(path))]
        return Response({"site": link.site.name, "ends": link.ends, "pages": [page_row(page) for page in pages]})


class SharedPageView(GatedView):
    """A page of a preview."""

    authentication_classes = []
    permission_classes = [AllowAny]

    @operation("getSharedPage", parameters=[PATH], responses=shapes.SharedPage, errors=[404])
    def get(self, request: Request, token: str) -> Response:
        """A page of a preview, as it is drawn in the draft now; no other page of the site."""
        link = sharing.find_link(token)
        path = request.query_params.get("path", "")
        if path not in link.paths:
            raise Missing("no-page", f"{path or 'This page'} is not in this preview")
        state = draft(link.site)
        page = state.page(path)
        lens = read_lens(state, link.visitor, link.at)
        drawn = drawn_page(link.site, state, page, lens)
        return Response({**page_row(page), "html": shown(state.document, page, drawn.html)})


class SharedRemarksView(GatedView):
    """Remarks about the pages of a preview."""

    authentication_classes = []
    permission_classes = [AllowAny]

    @operation("remark", request=shapes.RemarkRequest, responses={204: None}, errors=[404, 409, 422])
    def post(self, request: Request, token: str) -> Response:
        """Say something about a page of a preview to those who edit the site."""
        sharing.remark(token, **parsed(shapes.RemarkRequest, request.data))
        return Response(status=204)
