"""Checks: automatic findings about the rules, each with what, where, why, and how to mend it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from ...index.page_index import PageIndex
from ...language.visitor import Lens, Visitor
from ...layout.document import SiteDocument
from ...pages.content import ContentFacts
from ..guards import GuardState
from . import conditions, contents, guarded, notices, pages, pieces, winning
from .finding import SEVERITIES, Answered, Finding, Survey

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
    notices.notices_here,
    contents.page_links,
    contents.unnamed_pictures,
    contents.ids_twice,
    contents.heading_order,
    winning.order_alone,
    winning.said_already,
    winning.could_be_one,
    pieces.unused,
)


def check(
    document: SiteDocument,
    index: PageIndex,
    lens: Lens | None = None,
    guards: list[GuardState] | None = None,
    written: Mapping[str, ContentFacts] | None = None,
    answered: Answered = lambda addresses: (),
) -> list[Finding]:
    """All findings about a site, the severest first.

    What holds over all visitors and moments is looked through exactly; what depends on who looks is seen through
    ``lens``: a visitor of whom nothing is known, now, when not given. ``guards``: how these stand, where that is known.
    ``written``: what is found in the pages' own content, by path; without it nothing is told of that. ``answered``
    tells which of some addresses are answered though no page is there.
    """
    survey = Survey(
        document, index, lens or Lens(Visitor(accepts=(document.language,)), document.now()), guards, written, answered
    )
    found = [finding for one in CHECKS for finding in one(survey)]
    if survey.lenses.gave_up:
        found.append(Finding("too-many", "hint", "", document.name))
    return sorted(found, key=lambda finding: SEVERITIES.index(finding.severity))
