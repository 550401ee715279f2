"""The findings of the checks about the draft, kept until something changes: the draft, or the minute."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from functools import partial
from typing import Any

import orjson
from django.db import transaction

from navrel.core.questions.checks import SEVERITIES, Finding, check
from navrel.server.api.errors import Missing, ParameterProblem, Refused
from navrel.server.api.telling import page_row
from navrel.server.guards.services import guard_states
from navrel.server.inventory.models import Site
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.state import SiteState
from navrel.wording.findings import finding_words

from .answered import answered
from .drawn import drawn_findings
from .models import SetAside
from .written import written

_found: Kept[list[Finding]] = Kept()


def findings(site: str, state: SiteState) -> list[Finding]:
    """What the checks find now, the severest first. Where no rule has a schedule, the moment makes no difference."""
    minute = state.document.now().replace(second=0, microsecond=0) if state.is_timed else None
    found = [*_found.get(site, (state.version, minute), lambda older: _find(site, state)), *drawn_findings(site, state)]
    return sorted(found, key=lambda one: SEVERITIES.index(one.severity))


def _find(site: str, state: SiteState) -> list[Finding]:
    """What the checks find; the guards are asked once for this and for their own list."""
    return check(
        state.document,
        state.index,
        guards=guard_states(site, state),
        written=written(site, state),
        answered=partial(answered, site),
    )


def open_findings(site: Site, state: SiteState) -> list[Finding]:
    """What the checks find and nobody has set aside."""
    aside = set(SetAside.objects.filter(site=site).values_list("key", flat=True))
    return [one for one in findings(site.slug, state) if not aside or finding_key(state, one) not in aside]


def finding_key(state: SiteState, finding: Finding) -> str:
    """What a finding is told by: all that it says, so that it is another one once the thing changes."""
    return _key(_said(state, finding))


def _key(said: dict[str, Any]) -> str:
    return hashlib.sha256(orjson.dumps(said, option=orjson.OPT_SORT_KEYS)).hexdigest()


@transaction.atomic
def set_aside(site: Site, state: SiteState, key: str, reason: str, by: Any) -> None:
    """Let a finding be, with why. Raises Missing, and Refused."""
    if not reason.strip():
        raise Refused.for_parameter(ParameterProblem("reason", "say why it is let be", "required"))
    if key not in {finding_key(state, one) for one in findings(site.slug, state)}:
        raise Missing("no-finding", "The checks do not find this any more")
    SetAside.objects.update_or_create(site=site, key=key, defaults={"reason": reason.strip(), "by": by})


def take_up(site: Site, key: str) -> None:
    """Tell of a finding again that was set aside. Raises Missing."""
    if not SetAside.objects.filter(site=site, key=key).delete()[0]:
        raise Missing("not-aside", "This finding is not set aside")


def reasons(site: Site) -> dict[str, SetAside]:
    """What is set aside, by key."""
    return {one.key: one for one in SetAside.objects.filter(site=site).select_related("by")}


def finding_info(state: SiteState, finding: Finding, known: Mapping[str, SetAside]) -> dict[str, Any]:
    """A finding as it is told, with why it is let be where it is among those that are known to be."""
    said = _said(state, finding)
    key = _key(said)
    aside = known.get(key)
    told = {"reason": aside.reason, "by": aside.by.get_username() if aside.by else None} if aside else None
    drawn = {"slot": finding.about.get("slot", ""), "width": finding.about.get("width")}
    return {"key": key, **said, **drawn, "aside": told}


def _said(state: SiteState, finding: Finding) -> dict[str, Any]:
    """A finding in words, and what it is about: a rule, a piece, or neither."""
    # The pointers of a layout file (RFC 6901): /rules/3/actions/0 is about the fourth rule.
    _, part, number, *_ = [*finding.pointer.split("/"), "", ""]
    rules, pieces = state.layout.rules, tuple(state.layout.pieces)
    return {
        "check": finding.check,
        "severity": finding.severity,
        **finding_words(finding)._asdict(),
        "rule": rules[int(number)].key if part == "rules" else None,
        "piece": pieces[int(number)] if part == "pieces" else None,
        "page_count": finding.page_count,
        "pages": [page_row(page) for page in finding.pages],
    }
