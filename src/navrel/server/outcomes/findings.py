"""The findings of the checks about the draft, kept until something changes: the draft, or the minute."""

from __future__ import annotations

from typing import Any

from navrel.core.questions.checks import Finding, check
from navrel.server.api.telling import page_row
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.state import SiteState
from navrel.wording.findings import finding_words

_found: Kept[list[Finding]] = Kept()


def findings(site: str, state: SiteState) -> list[Finding]:
    """What the checks find now, the severest first. Where no rule has a schedule, the moment makes no difference."""
    minute = state.document.now().replace(second=0, microsecond=0) if state.is_timed else None
    return _found.get(site, (state.version, minute), lambda older: check(state.document, state.index))


def finding_info(state: SiteState, finding: Finding) -> dict[str, Any]:
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
