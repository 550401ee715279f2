"""Checks: automatic findings about the rules, each with what, where, why, and how to mend it."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from ...index.page_index import PageIndex
from ...language.visitor import Lens, Visitor
from ...layout.document import SiteDocument
from ..guards import GuardState
from . import conditions, guarded, pages, pieces, winning
from .finding import SEVERITIES, Finding, Survey

__all__ = ["SEVERITIES", "Finding", "check"]

#: Every check, in the order in which equal severities are told.
CHECKS: tuple[Callable[[Survey], Iterator[Finding]], ...] = (
    guarded.guards,
    conditions.contradictions,
    conditions.matches_nothing,
    winning.never_wins,
    conditions.gone,
    conditions.schedules,
    pieces.empty_shows,
    pieces.blank_sidebars,
    pieces.dead_links,
    pieces.entry_never_shows,
    pieces.unseated,
    pages.lacking,
    pages.twice,
    winning.order_alone,
    winning.said_already,
    winning.could_be_one,
    pieces.unused,
)


def check(
    document: SiteDocument, index: PageIndex, lens: Lens | None = None, guards: list[GuardState] | None = None
) -> list[Finding]:
    """All findings about a site, the severest first.

    What holds over all visitors and moments is looked through exactly; what depends on who looks is seen through
    ``lens``: a visitor of whom nothing is known, now, when not given. ``guards``: how these stand, where that is known.
    """
    survey = Survey(document, index, lens or Lens(Visitor(accepts=(document.language,)), document.now()), guards)
    found = [finding for one in CHECKS for finding in one(survey)]
    if survey.lenses.gave_up:
        found.append(Finding("too-many", "hint", "", document.name))
    return sorted(found, key=lambda finding: SEVERITIES.index(finding.severity))
