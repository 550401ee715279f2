"""Preview, changes, publishing, revisions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.cascade.plain import Outcome
from navrel.core.language.visitor import Lens
from navrel.core.pages.page import Page
from navrel.core.questions.changes import Change
from navrel.core.questions.impact import Redraw, Shift
from navrel.rendering.page import DrawnPage, Source, draw_page
from navrel.rendering.palette import colour
from navrel.server.inventory.models import Content, Site
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.library.models import Piece
from navrel.server.problems import Missing
from navrel.server.states import State, draft, find_site
from navrel.server.views import LENS, OpenApiParameter, SiteView, extend_schema, parsed
from navrel.wording import seen_by

from . import serializers as shapes
from . import services
from .models import Revision

MOST_PATHS = 200
MOST_REVISIONS = 100
#: Audiences, shifts and redraws in one answer; most pages first.
MOST_TOLD = 200


class ChangesView(SiteView):
    @extend_schema(operation_id="listChanges", responses=shapes.ChangesInfo)
    def get(self, request: Request, site: str) -> Response:
        """What changed since live: the parts, and what comes out differently for whom, when, on which pages."""
        record = find_site(site)
        state = draft(record)
        found = services.impact_since_live(record)
        since = state.document.now()
        keys = {rule.name: rule.key for rule in state.layout.rules}
        published = services.live(record)
        pieces = {**(published.layout.pieces if published else {}), **state.layout.pieces}
        audiences = found.by_audience()
        return Response(
            {
                "version": state.version,
                "parts": [_change(change) for change in services.changes_since_live(record)],
                "pages": len(found.paths),
                "audiences": [
                    {"words": seen_by(seen, since), **_somewhere(pages)} for seen, pages in audiences[:MOST_TOLD]
                ],
                "shifts": [
                    {
                        "target": str(one.target),
                        "before": _named_outcome(one.before, keys),
                        "after": _named_outcome(one.after, keys),
                        "visible": one.is_visible,
                        "words": seen_by(one.seen, since),
                        **_somewhere(one.pages),
                    }
                    for one in found.shifts[:MOST_TOLD]
                ],
                "redraws": [
                    {"piece": one.piece, "words": seen_by(one.seen, since), **_somewhere(one.pages)}
                    for one in found.redraws[:MOST_TOLD]
                ],
                "own": _somewhere(found.own),
                "untold": _somewhere(found.untold),
                "names": {slug: piece.name for slug, piece in pieces.items()},
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
        wants_live = request.query_params.get("state") == "live"
        published = services.live(record)
        if wants_live and published is None:
            raise Missing("nothing-live", "Nothing is published yet", "Publish the draft first.")
        state = published if wants_live and published else draft(record)
        lens = self.lens(state)
        page = state.page(request.query_params.get("path", ""))
        colours = {piece.slug: colour(piece.colour) for piece in Piece.objects.filter(site=record)}
        outlines = colours if request.query_params.get("outlines") == "true" else None
        drawn = _drawn(record, state, page, lens, outlines)
        return Response(
            {
                "path": page.path,
                "title": page.title,
                "html": drawn.html,
                "revision": published.revision.number if published and wants_live else None,
                "standing": _standing(record, state, published, page, lens) if published and not wants_live else None,
                "targets": [
                    {
                        "target": str(target),
                        "outcome": _named_outcome(found.outcome, {}),
                        "by": found.outcome.by.name if found.outcome.by else None,
                        "seated": target.kind != "slot" or target.name in drawn.seated,
                    }
                    for target, found in drawn.traces.items()
                ],
            }
        )


def _drawn(record: Site, state: State, page: Page, lens: Lens, outlines: Mapping[str, str] | None = None) -> DrawnPage:
    """A page of a state, with its own content of then."""
    if isinstance(state, services.LiveState):
        digest = state.contents.get(page.path, "")
    else:
        mine = PageRecord.objects.filter(site=record, path=page.path)
        digest = mine.values_list("content_id", flat=True).first() or ""
    content = Content.objects.filter(pk=digest).values_list("html", flat=True).first() or ""
    return draw_page(Source(state.document, state.index), page, content, lens, outlines=outlines)


def _standing(record: Site, state: State, published: services.LiveState, page: Page, lens: Lens) -> dict[str, Any]:
    """How the draft of a page stands to what is live: through the lens as it is drawn, for all others by impact."""
    live_page = published.index.tree.page(page.path)
    same = (
        live_page is not None
        and _drawn(record, state, page, lens).html == _drawn(record, published, live_page, lens).html
    )
    found = services.impact_since_live(record)
    differing = found.on(page.path)
    own = any(one.path == page.path for one in found.own)
    here = [one for one in differing if any(seen.admits(lens) for seen in one.seen)]
    others = dict.fromkeys(one.seen for one in differing if one not in here)
    since = state.document.now()
    return {
        "same_through_lens": same,
        "targets": list(dict.fromkeys(str(one.target) for one in here if isinstance(one, Shift))),
        "redraws": list(dict.fromkeys(one.piece for one in here if isinstance(one, Redraw))),
        "own": own,
        "others": [seen_by(one, since) for one in others],
        "untold": any(one.path == page.path for one in found.untold),
    }


def _somewhere(pages: Sequence[Page]) -> dict[str, Any]:
    return {"pages": len(pages), "paths": [page.path for page in pages[:MOST_PATHS]]}


def _change(change: Change) -> dict[str, Any]:
    return {
        "what": change.what, "how": change.how, "name": change.name, "details": change.details, "count": change.count,
    }  # fmt: skip


def _named_outcome(outcome: Outcome | None, keys: dict[str, int | None]) -> dict[str, Any] | None:
    """An outcome; the deciding rule by its draft id, where the draft still has a rule of that name."""
    if outcome is None:
        return None
    by = keys.get(outcome.by.name, outcome.by.key) if outcome.by else None
    return {"state": outcome.state, "pieces": outcome.pieces, "by": by, "value": outcome.value}


def _revision(record: Revision, live: bool) -> dict[str, Any]:
    return {
        "number": record.number,
        "published": record.published,
        "by": record.by.get_username() if record.by else None,
        "note": record.note,
        "live": live,
        "changes": record.summary,
    }
