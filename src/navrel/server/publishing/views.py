"""Preview, changes, publishing, revisions."""

from __future__ import annotations

from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.cascade import Outcome
from navrel.core.changes import Change, changed_pages
from navrel.core.document import SiteDocument
from navrel.core.index import PageIndex
from navrel.core.model import TEMPLATE
from navrel.rendering.page import Source, draw_page
from navrel.rendering.palette import colour
from navrel.server.inventory.models import Content
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.library.models import Piece
from navrel.server.problems import Missing
from navrel.server.states import State, draft, find_site
from navrel.server.views import LENS, OpenApiParameter, SiteView, extend_schema, parsed

from . import serializers as shapes
from . import services
from .models import Revision

MOST_PATHS = 200
MOST_REVISIONS = 100


class ChangesView(SiteView):
    @extend_schema(operation_id="listChanges", parameters=LENS, responses=shapes.ChangesInfo)
    def get(self, request: Request, site: str) -> Response:
        """What changed since live: the parts, and the pages and targets that come out differently."""
        record = find_site(site)
        state = draft(record)
        published = services.live(record)
        before = published or _nothing(state.document)
        changes = changed_pages(before.document, before.index, state.document, state.index, self.lens(state))
        names = {rule.name: rule.key for rule in state.layout.rules}
        return Response(
            {
                "version": record.version,
                "parts": [_change(change) for change in services.changes_since_live(record)],
                "pages": len({page.path for change in changes for page in change.pages}),
                "targets": [
                    {
                        "target": str(change.target),
                        "before": _named_outcome(change.before, names),
                        "after": _named_outcome(change.after, names),
                        "pages": len(change.pages),
                        "paths": [page.path for page in change.pages[:MOST_PATHS]],
                    }
                    for change in changes
                ],
            }
        )


class RevisionsView(SiteView):
    @extend_schema(operation_id="listRevisions", responses=shapes.RevisionInfo(many=True))
    def get(self, request: Request, site: str) -> Response:
        """The newest hundred revisions, newest first."""
        records = Revision.objects.filter(site=find_site(site)).defer("archive").select_related("by")
        return Response([_revision(record, not number) for number, record in enumerate(records[:MOST_REVISIONS])])

    @extend_schema(operation_id="publish", request=shapes.PublishRequest, responses={201: shapes.RevisionInfo})
    def post(self, request: Request, site: str) -> Response:
        """Publish the draft; refused when it was edited since its changes were looked at."""
        body = parsed(shapes.PublishRequest, request.data)
        record = services.publish(site, request.user, body.get("note", ""), body["version"])
        return Response(_revision(record, True), status=201)


class PreviewView(SiteView):
    @extend_schema(
        operation_id="previewPage",
        parameters=[
            *LENS,
            OpenApiParameter("path", str, required=True),
            OpenApiParameter("state", str, enum=["draft", "live"]),
            OpenApiParameter("outlines", bool),
        ],
        responses=shapes.PreviewInfo,
    )
    def get(self, request: Request, site: str) -> Response:
        """A page as it is rendered, draft or live, with its slots outlined or not."""
        record = find_site(site)
        path = request.query_params.get("path", "")
        wants_live = request.query_params.get("state") == "live"
        published = services.live(record) if wants_live else None
        if wants_live and published is None:
            raise Missing("nothing-live", "Nothing is published yet", "Publish the draft first.")
        state = published or draft(record)
        page = state.page(path)
        if published is not None:
            digest = published.contents.get(path, "")
        else:
            digest = (
                PageRecord.objects.filter(site=record, path=path).values_list("content_id", flat=True).first() or ""
            )
        content = Content.objects.filter(pk=digest).values_list("html", flat=True).first() or ""
        colours = {piece.slug: colour(piece.colour) for piece in Piece.objects.filter(site=record)}
        outlines = colours if request.query_params.get("outlines") == "true" else None
        drawn = draw_page(Source(state.document, state.index), page, content, self.lens(state), outlines=outlines)
        return Response(
            {
                "path": page.path,
                "title": page.title,
                "html": drawn.html,
                "revision": published.revision.number if published else None,
                "targets": [
                    {
                        "target": str(target),
                        "outcome": _named_outcome(found.outcome, {}),
                        "by": found.outcome.by.name if found.outcome.by else None,
                        "seated": target == TEMPLATE or target.name in drawn.seated,
                    }
                    for target, found in drawn.traces.items()
                ],
            }
        )


def _nothing(like: SiteDocument) -> State:
    """What was live before anything was: no page, no rule."""
    empty = SiteDocument(name=like.name, slug=like.slug)
    return State(empty, PageIndex(empty.site()))


def _change(change: Change) -> dict[str, Any]:
    return {
        "what": change.what, "how": change.how, "name": change.name, "details": change.details, "count": change.count,
    }  # fmt: skip


def _named_outcome(outcome: Outcome | None, keys: dict[str, int | None]) -> dict[str, Any] | None:
    """An outcome; the deciding rule by its draft id, where the draft still has a rule of that name."""
    if outcome is None:
        return None
    by = keys.get(outcome.by.name, outcome.by.key) if outcome.by else None
    return {"state": outcome.state, "pieces": outcome.pieces, "by": by}


def _revision(record: Revision, live: bool) -> dict[str, Any]:
    return {
        "number": record.number,
        "published": record.published,
        "by": record.by.get_username() if record.by else None,
        "note": record.note,
        "live": live,
        "changes": record.summary,
    }
