"""Rules and how far they reach, as the API tells them."""

from __future__ import annotations

from typing import Any

from navrel.core.files.writing import write_rule
from navrel.core.questions.checks.judging import Judgement
from navrel.core.questions.edited import EditedReach, PageFate
from navrel.core.questions.reach import Measures
from navrel.core.questions.shifts import Impact
from navrel.server.api.telling import MOST_PATHS, page_row
from navrel.wording.findings import finding_words
from navrel.wording.mending import mended_words
from navrel.wording.pages import PageWords


def measures_info(found: Measures) -> dict[str, Any]:
    """The numbers of a rule."""
    return {
        "wins": found.wins,
        "unplaced": found.unplaced,
        "by_target": [
            {
                "target": str(one.target),
                "pages": one.seen,
                "unplaced": one.unplaced,
                "unbound": one.unbound,
                "templates": one.templates,
            }
            for one in found.by_target
        ],
        "lets_in": found.lets_in,
        "specificity": found.specificity,
        "specificity_on": found.specificity_on,
    }


def reach_info(found: EditedReach, words: PageWords) -> dict[str, Any]:
    """How far an edited rule reaches, page by page."""
    return {
        **measures_info(found.measures),
        "reached": found.reached,
        "excluded": found.excluded,
        "new": found.new,
        "gone": found.gone,
        "pages": [_fate(one) for one in found.pages],
        "nearly": [{**page_row(miss.page), "term": words.term(miss.term)} for miss in found.nearly],
        "terms": [
            {
                "part": one.part,
                "clause": one.clause,
                "place": one.place,
                "text": str(one.term),
                "words": words.term(one.term),
            }
            for one in found.terms
        ],
        "taken": [
            {"target": str(one.target), "rule": one.rule.name if one.rule else None, "pages": one.pages}
            for one in found.taken
        ],
        "gets": page_row(found.gets) if found.gets else None,
        "lacks": page_row(found.lacks) if found.lacks else None,
        "tested": _fate(found.tested) if found.tested else None,
    }


def _fate(one: PageFate) -> dict[str, Any]:
    return {
        **page_row(one.page),
        "standing": one.standing,
        "clause": one.clause,
        "new": one.is_new,
        "fates": [{**fate._asdict(), "target": str(fate.target)} for fate in one.fates],
        "holds": one.holds,
    }


def judgement_info(one: Judgement) -> dict[str, Any]:
    """A finding about an edited rule, in words, and what one click would do about it."""
    return {
        "check": one.finding.check,
        "severity": one.finding.severity,
        **finding_words(one.finding)._asdict(),
        "mending": {"words": mended_words(one.finding, one.remedy), "tree": write_rule(one.remedy)}
        if one.remedy
        else None,
    }


def trial_info(found: Impact) -> dict[str, Any]:
    """What a change would come to: how many pages would differ, and some of them."""
    return {"pages": len(found.paths), "paths": sorted(found.paths)[:MOST_PATHS], "untold": len(found.untold)}
