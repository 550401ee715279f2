"""What changing one rule would come to, before it is done."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from ..index.page_index import PageIndex
from ..layout.document import SiteDocument
from ..layout.model import Rule
from .edited import with_edited
from .impact import impact
from .shifts import Impact, Standing, nowhere


def trial(
    document: SiteDocument,
    index: PageIndex,
    changed: Rule,
    position: int | None,
    since: datetime,
    standing: Standing = nowhere,
) -> Impact:
    """What would differ, over all visitors from a moment on, were a rule so, and at a position of the list from 1.

    The rule stands for the saved one of its key; without a position it stays where that is. ``standing``: see `impact`.
    """
    layout, _ = with_edited(document.layout, changed)
    if position is not None:
        others = [rule for rule in layout.rules if rule is not changed]
        others.insert(position - 1, changed)
        layout = replace(layout, rules=tuple(others))
    return impact(document, index, replace(document, layout=layout), index, since, standing=standing)
