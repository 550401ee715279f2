"""What differs between two states, as the API tells it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from navrel.server.api.telling import outcome_info, somewhere
from navrel.wording.audiences import seen_by

from .services import Weighed

#: Audiences, shifts and redraws in one answer; most pages first.
MOST_TOLD = 200


def weighed_info(weighed: Weighed) -> dict[str, Any]:
    """What differs between two states, as it is told."""
    before, after, found = weighed.before, weighed.after, weighed.impact
    since = after.document.now()
    keys = {rule.name: rule.key for rule in after.layout.rules}
    layouts = (before.layout, after.layout)
    return {
        "version": after.version,
        "changes": [asdict(change) for change in weighed.changes],
        "pages": len(found.paths),
        "audiences": [
            {"words": seen_by(seen, since), **somewhere(pages)} for seen, pages in found.by_audience()[:MOST_TOLD]
        ],
        "shifts": [
            {
                "target": str(one.target),
                "before": outcome_info(one.before, keys) if one.before else None,
                "after": outcome_info(one.after, keys) if one.after else None,
                "visible": one.is_visible,
                "alike": one.alike,
                "words": seen_by(one.seen, since),
                **somewhere(one.pages),
            }
            for one in found.shifts[:MOST_TOLD]
        ],
        "redraws": [
            {"piece": one.piece, "dress": one.dress, "words": seen_by(one.seen, since), **somewhere(one.pages)}
            for one in found.redraws[:MOST_TOLD]
        ],
        "own": somewhere(found.own),
        "untold": somewhere(found.untold),
        "broken": weighed.broken,
        "names": {slug: piece.name for layout in layouts for slug, piece in layout.pieces.items()},
        "dresses": {slug: dress.name for layout in layouts for slug, dress in layout.dresses.items()},
    }
