"""What a rule takes over: which rules would decide in its place if it were not there."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import replace
from typing import NamedTuple

from ..cascade.bulk import acting_on, rule_levels, sweep_all
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import Layout, Rule, Target
from ..pages.pageset import PageSet


class Taken(NamedTuple):
    """On how many pages a rule decides a target in the place of another; None: where else nothing would be set."""

    target: Target
    rule: Rule | None
    pages: int


def taken_over(
    index: PageIndex, layout: Layout, lens: Lens, rule: Rule, targets: Iterable[Target]
) -> tuple[Taken, ...]:
    """What a rule of the layout takes over on some of its targets through a lens, from most pages to fewest.

    What it adds to a slot takes nothing over.
    """
    deciding = {action.target for action in rule.actions if not action.adds}
    wanted = [target for target in targets if target in deciding]
    others = replace(layout, rules=tuple(one for one in layout.rules if one is not rule))
    swept = sweep_all(index, acting_on(rule_levels(index, layout, lens), wanted))
    before = sweep_all(index, acting_on(rule_levels(index, others, lens), wanted))
    found: list[Taken] = []
    for target in wanted:
        won = PageSet.union((one.pages for one in swept[target].deciding if one.level.rule is rule), index.size)
        rules: dict[str, Rule] = {}
        counts: Counter[str] = Counter()
        for share in before[target].deciding:
            pages = len(share.pages & won)
            if pages:
                rules[share.level.rule.name] = share.level.rule
                counts[share.level.rule.name] += pages
        found += [Taken(target, rules[name], pages) for name, pages in counts.most_common()]
        rest = len(won) - counts.total()
        if rest:
            found.append(Taken(target, None, rest))
    return tuple(found)
