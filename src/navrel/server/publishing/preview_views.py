"""Previews: pages as they are rendered, of the draft, of what was published, and with something tried on."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

import orjson
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.files.reading import read_dresses, read_rule
from navrel.core.language.visitor import Lens
from navrel.core.layout.model import TEMPLATE
from navrel.core.pages.page import Page
from navrel.core.questions.shifts import Redraw, Shift
from navrel.core.questions.trying import tried_on
from navrel.rendering.page import DrawnPage
from navrel.rendering.palette import colour
from navrel.server.api.errors import Malformed, Missing, ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.telling import outcome_info, page_row
from navrel.server.api.views import LENS, PATH, SiteView, body_of, parsed, read_lens
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece
from navrel.server.publishing.drawing import drawn_page
from navrel.server.publishing.live import LiveState, live, opened, served_at
from navrel.server.publishing.showing import shown
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.state import SiteState
from navrel.wording.audiences import seen_by

from . import services, shapes

STATE = OpenApiParameter(
    "state", str, description="`draft`, `live`, or the number of a revision; the draft when not given"
)
STANDING = OpenApiParameter(
    "standing", bool, description="Whether it is told how the draft stands to what is live; it is when not given"
)
TRIAL = OpenApiParameter(
    "trial",
    str,
    description="Of the draft: actions that decide on every page as a trial, as a JSON array of the trees "
    "of the layout file",
)
#: What is said to decide where something is tried on.
ON_TRIAL = "On trial"
OUTLINES = OpenApiParameter("outlines", bool, description="Whether the slots are outlined")


class PreviewView(SiteView):
    """Pages as they are rendered."""

    @operation(
        "previewPage",
        parameters=[*LENS, PATH, STATE, OUTLINES, STANDING, TRIAL],
        responses=shapes.PreviewInfo,
        errors=[422],
    )
    def get(self, request: Request, site: str) -> Response:
        """A page as it is rendered in some state, with its slots outlined or not.

        Where there is no page at an address, what is served there instead: the site's not-found page.
        """
        record = self.record
        wanted = request.query_params.get("state", "draft")
        trial = request.query_params.get("trial", "")
        compared = wanted == "draft" and not trial and request.query_params.get("standing") != "false"
        serving = live(record)
        state = _state(record, wanted, serving)
        if trial and wanted == "draft":
            state = _on_trial(state, trial)
        lens = self.lens(state)
        asked = request.query_params.get("path", "")
        page = served_at(state, asked)
        if page is None:
            raise Missing("no-page", f"There is no page {asked}, and none that says so")
        colours = {piece.slug: colour(piece.colour) for piece in Piece.objects.filter(site=record)}
        outlines = colours if request.query_params.get("outlines") == "true" else None
        drawn = drawn_page(record, state, page, lens, outlines)
        return Response(
            {
                **page_row(page),
                "asked": asked,
                "version": state.version,
                "instead": page.kind == "missing" and page.path != asked,
                "html": shown(state.document, page, drawn.html),
                "in_place": drawn.in_place,
                "revision": state.revision.number if isinstance(state, LiveState) else None,
                "standing": _standing(record, state, serving, page, lens) if serving and compared else None,
                "targets": [
                    {
                        "target": str(target),
                        "outcome": outcome_info(found.outcome),
                        "by": found.outcome.by.name if found.outcome.by else None,
                        "seated": not drawn.in_place
                        if target == TEMPLATE
                        else target.kind != "slot" or target.name in drawn.seated,
                    }
                    for target, found in drawn.traces.items()
                ],
            }
        )


def _state(record: Site, wanted: str, serving: LiveState | None) -> SiteState:
    """The draft, what is live, or a revision. Raises Missing, and Refused."""
    if wanted == "draft":
        return draft(record)
    if wanted == "live":
        if serving is None:
            raise Missing("nothing-live", "Nothing is published yet", "Publish the draft first.")
        return serving
    if not (wanted.isascii() and wanted.isdigit()):
        raise Refused.for_parameter(
            ParameterProblem("state", "this is draft, live, or the number of a revision", "no-state")
        )
    return opened(record, int(wanted))


def _on_trial(state: SiteState, trial: str) -> SiteState:
    """A state with something tried on. Raises DocumentError, and Malformed."""
    try:
        actions = orjson.loads(trial)
    except ValueError:
        raise Malformed.for_parameter(ParameterProblem("trial", "this is no JSON array of actions", "syntax")) from None
    tree = {"name": ON_TRIAL, "condition": {"include": "all"}, "actions": actions}
    rule = read_rule(tree, dict(state.layout.pieces), state.layout.settings)
    return replace(state, document=replace(state.document, layout=tried_on(state.layout, ON_TRIAL, rule.actions)))


class DressedView(SiteView):
    """Pages in a dress."""

    @operation("drawDressed", role="viewer", request=shapes.DressedRequest, responses=shapes.Dressed, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """A page of the draft in a dress as it is being edited, saved or not."""
        body = parsed(shapes.DressedRequest, request.data)
        record = self.record
        state = self.draft()
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        edited = body_of(request)["dress"]
        dresses = read_dresses([{**edited, "name": edited.get("name") or "x"}])
        document = replace(state.document, layout=replace(state.layout, dresses=dresses))
        worn = replace(state, document=document)
        page = state.page(body["path"])
        drawn = drawn_page(record, worn, page, lens, form=body.get("form", ""))
        return Response({"html": shown(state.document, page, drawn.html)})


def _seen(drawn: DrawnPage) -> str:
    """What of a page can be seen: which pieces it is made of cannot."""
    return _PIECE.sub("", drawn.html)


_PIECE = re.compile(r' data-piece="[^"]*"')


def _standing(record: Site, state: SiteState, published: LiveState, page: Page, lens: Lens) -> dict[str, Any]:
    """How the draft of a page stands to what is live: through the lens as it is drawn, for all others by impact."""
    live_page = published.index.tree.page(page.path)
    same = live_page is not None and _seen(drawn_page(record, state, page, lens)) == _seen(
        drawn_page(record, published, live_page, lens)
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
        "redraws": list(dict.fromkeys(one.piece for one in here if isinstance(one, Redraw) and one.piece)),
        "dress": any(isinstance(one, Redraw) and one.dress for one in here),
        "own": own,
        "others": [seen_by(one, since) for one in others],
        "untold": any(one.path == page.path for one in found.untold),
    }
