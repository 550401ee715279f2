"""What is asked about a rule while it is being edited."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.files.reading import read_rule
from navrel.core.language.visitor import Lens
from navrel.core.layout.model import Rule
from navrel.core.questions.checks.judging import judge
from navrel.core.questions.edited import reach_of_edited
from navrel.core.questions.trial import trial
from navrel.server.api.errors import Missing
from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import SiteView, body_of, known_target, parsed, read_lens
from navrel.server.bindings.standing import standing_in
from navrel.server.sitestate.state import SiteState
from navrel.wording.pages import PageWords

from . import shapes
from .telling import judgement_info, reach_info, trial_info

#: What the edited rule is called in answers: it may have no name yet, or one that could not be saved.
EDITED = "This rule"
#: Pages of each sort in one answer about reach.
MOST_REACHED = 500


class EditedRuleView(SiteView):
    """Something about a rule as it stands in the editor."""

    def edited(self, request: Request, body: dict[str, Any]) -> tuple[SiteState, Lens, Rule]:
        """The draft, the lens, and the rule in the place of the saved one."""
        state = self.draft()
        lens = read_lens(state, body.get("visitor", ""), body.get("at", ""))
        return state, lens, _read(state, body_of(request)["rule"], EDITED, body.get("id"))


class ReachView(EditedRuleView):
    """How far a rule reaches."""

    @operation("measureReach", role="viewer", request=shapes.ReachRequest, responses=shapes.ReachInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """How far an edited rule would reach, before it is saved. `target` narrows the list to one of its targets."""
        body = parsed(shapes.ReachRequest, request.data)
        state, lens, edited = self.edited(request, body)
        target = known_target(state, body["target"]) if body.get("target") else None
        tested = state.page(body["path"]) if body.get("path") else None
        found = reach_of_edited(state.index, state.layout, lens, edited, target, MOST_REACHED, tested)
        return Response(reach_info(found, PageWords(state.document, state.index)))


class JudgeView(EditedRuleView):
    """What the checks find about a rule."""

    @operation(
        "judgeRule",
        role="viewer",
        parameters=stretch_parameters(),
        request=shapes.EditedRuleRequest,
        responses=listing(shapes.JudgementInfo),
        errors=[422],
    )
    def post(self, request: Request, site: str) -> Response:
        """What the checks find about an edited rule before it is saved, each with what one click would do about it."""
        stretch = Stretch.asked(request)
        state, lens, edited = self.edited(request, parsed(shapes.EditedRuleRequest, request.data))
        found = judge(state.document, state.index, edited, lens)
        return Response(stretch.listed([judgement_info(one) for one in stretch.of(found)], len(found)))


class TrialView(SiteView):
    """What changing a rule would come to."""

    @operation("tryRule", role="viewer", request=shapes.TrialRequest, responses=shapes.TrialInfo, errors=[422])
    def post(self, request: Request, site: str) -> Response:
        """On how many pages somebody would see a difference, were a rule so, and stood there."""
        body = parsed(shapes.TrialRequest, request.data)
        record = self.record
        state = self.draft()
        saved = next((rule for rule in state.layout.rules if rule.key == body["id"]), None)
        if saved is None:
            raise Missing("no-rule", "There is no such rule")
        changed = _read(state, body_of(request)["rule"], saved.name, saved.key)
        now, stands = state.document.now(), standing_in(record, state)
        found = trial(state.document, state.index, changed, body.get("position"), now, stands)
        return Response(trial_info(found))


def _read(state: SiteState, tree: dict[str, Any], name: str, key: int | None) -> Rule:
    """A rule that was sent, called and known by what it stands for."""
    return replace(read_rule({**tree, "name": name}, state.layout.pieces, state.layout.settings), key=key)
