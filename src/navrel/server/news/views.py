"""The news of a site: as a list, and as a feed."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.utils.feedgenerator import Atom1Feed
from drf_spectacular.types import OpenApiTypes
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.server.accounts.bearing import AddressToken
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import SiteView, parsed

from . import services, shapes
from .models import News

#: How many news a feed has: readers ask again and again.
MOST_IN_FEED = 50


class NewsView(SiteView):
    """What others did, or the clock, that somebody of the site may want to know."""

    @operation("listNews", parameters=stretch_parameters(), responses=listing(shapes.NewsRow))
    def get(self, request: Request, site: str) -> Response:
        """Guards that were broken, publications, schedules about to begin or end, remarks; newest first."""
        record = self.record
        stretch = Stretch.asked(request)
        records, total = stretch.of_records(services.news_for(record, request.user))
        last = services.read_up_to(record, request.user)
        return Response(stretch.listed([{**_row(one), "unread": one.pk > last} for one in records], total))


class UnreadView(SiteView):
    """How far somebody has read."""

    @operation("countUnread", responses=shapes.Unread)
    def get(self, request: Request, site: str) -> Response:
        """How many news whoever asks has not read."""
        return Response({"unread": services.unread(self.record, request.user)})

    @operation("readNews", request=shapes.ReadRequest, responses={204: None}, errors=[422], role="viewer")
    def put(self, request: Request, site: str) -> Response:
        """Remember that it was read up to one."""
        services.mark_read(self.record, request.user, parsed(shapes.ReadRequest, request.data)["last"])
        return Response(status=204)


class FeedView(SiteView):
    """The news as a feed."""

    authentication_classes = [AddressToken, *SiteView.authentication_classes]

    @operation("getNewsFeed", responses={(200, "application/atom+xml"): OpenApiTypes.STR})
    def get(self, request: Request, site: str) -> HttpResponse:
        """The newest news as an Atom feed (RFC 4287); a reader shows its token in the address, as `token`."""
        record = self.record
        root = request.build_absolute_uri(f"/{site}/")
        feed = Atom1Feed(f"{record.name}: news", root, "", feed_guid=f"{root}news", language="en")
        for one in services.news_for(record, request.user)[:MOST_IN_FEED]:
            feed.add_item(one.words, root + one.to, "", unique_id=f"{root}news/{one.pk}", updateddate=one.made)
        return HttpResponse(feed.writeString("utf-8"), content_type="application/atom+xml; charset=utf-8")


def _row(one: News) -> dict[str, Any]:
    return {"id": one.pk, "made": one.made, "kind": one.kind, "words": one.words, "to": one.to}
