"""How far a rule reaches while it is being edited: page by page, and against the rule as it was saved."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, NamedTuple

from ..cascade.conditions import Unmet, weigh_page
from ..cascade.lookup import PageResolver
from ..cascade.plain import Trace
from ..cascade.strength import Decisive
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import Layout, Rule, Target
from ..pages.page import Page
from ..pages.pageset import PageSet
from .reach import Measures, NearMiss, Reach, excluded_pages, measure, near_misses, reaches, rule_pages
from .takeover import Taken, taken_over
from .terms import Holding, TermPlace, term_places

#: How a page stands to a rule. `gone`: the saved rule reaches it, this one does not.
Standing = Literal["reached", "excluded", "gone", "not-included"]
#: What becomes of what a rule does to a target. `idle`: it is off, or not for this lens.
Fate = Literal["wins", "adds", "unplaced", "outranked", "cleared", "locked", "idle"]


class TargetFate(NamedTuple):
    """What becomes of a rule on one target of a page.

    ``by`` is the rule that stands in the way, ``on`` what decides between the two.
    """

    target: Target
    fate: Fate
    by: str = ""
    on: Decisive | Literal[""] = ""


@dataclass(frozen=True)
class PageFate:
    """One page, and what becomes of the rule there.

    ``clause`` of the exclude takes it out; ``fates`` are told where it is reached, ``holds`` are the places of the
    terms that hold. ``is_new``: the saved rule does not reach it.
    """

    page: Page
    standing: Standing
    clause: str = ""
    fates: tuple[TargetFate, ...] = ()
    is_new: bool = False
    holds: tuple[int, ...] = ()


@dataclass(frozen=True)
class EditedReach:
    """How far an edited rule reaches. ``pages`` are bounded, the numbers are not.

    ``new``: pages reached that the saved rule does not reach; ``gone``: the other way round. ``terms``: those that
    ``holds`` speaks of. ``gets``: the first page on which something of it shows; ``lacks``: the nearest to it that it
    does not reach. ``tested``: the page that was asked about.
    """

    measures: Measures
    reached: int
    excluded: int
    new: int
    gone: int
    pages: tuple[PageFate, ...]
    nearly: tuple[NearMiss, ...]
    terms: tuple[TermPlace, ...]
    taken: tuple[Taken, ...]
    gets: Page | None
    lacks: Page | None
    tested: PageFate | None = None


def reach_of_edited(
    index: PageIndex,
    layout: Layout,
    lens: Lens,
    edited: Rule,
    target: Target | None,
    most: int,
    tested: Page | None = None,
) -> EditedReach:
    """The reach of an edited rule in the place of the saved one of the same key, or at the top where there is none.

    The pages, at most ``most`` of each sort, are told for one of its targets; None: for all of them.
    """
    layout, saved = with_edited(layout, edited)
    reach = reaches(index, layout, lens)[layout.rules.index(edited)]
    before = rule_pages(index, saved) if saved else reach.pages
    new, gone = reach.pages - before, before - reach.pages
    targets = tuple(dict.fromkeys(action.target for action in edited.actions))
    chosen = (target,) if target and target in targets else targets
    excluded, count = excluded_pages(index, edited, most)
    taken_out = {one.page.path for one in excluded}
    terms = term_places(edited.condition)
    holding = Holding(index, terms)
    fates = _Fates(index, layout, lens, edited, reach, chosen)
    pages = index.tree.pages

    def of(number: int) -> PageFate:
        return PageFate(pages[number], "reached", "", fates.on(number), number in new, holding.on(number))

    def not_reached(page: Page, standing: Standing, clause: str = "") -> PageFate:
        return PageFate(page, standing, clause, holds=holding.on(index.tree.numbers[page.path]))

    def tell(page: Page) -> PageFate:
        weighed = weigh_page(index.tree, page, edited.condition)
        if isinstance(weighed, Unmet):
            return not_reached(page, "excluded" if weighed.clause else "not-included", weighed.clause)
        return of(index.tree.numbers[page.path])

    nearly = near_misses(index, edited.condition.include)
    return EditedReach(
        measure(index, layout, lens, edited, reach),
        len(reach.pages),
        count,
        len(new),
        len(gone),
        (
            *(of(number) for number in reach.pages.numbers()[:most].tolist()),
            *(not_reached(one.page, "excluded", one.clause) for one in excluded),
            *(
                not_reached(pages[number], "gone")
                for number in gone.numbers()[:most].tolist()
                if pages[number].path not in taken_out
            ),
        ),
        tuple(nearly),
        terms,
        taken_over(index, layout, lens, edited, chosen),
        _first(index, reach.wins_somewhere),
        nearly[0].page if nearly else _beside(index, reach.pages),
        tell(tested) if tested else None,
    )


def with_edited(layout: Layout, edited: Rule) -> tuple[Layout, Rule | None]:
    """The layout with the edited rule in the place of the saved one, or at the top; and the saved one."""
    saved = next((rule for rule in layout.rules if edited.key is not None and rule.key == edited.key), None)
    if saved is None:
        return replace(layout, rules=(edited, *layout.rules)), None
    return replace(layout, rules=tuple(edited if rule is saved else rule for rule in layout.rules)), saved


def _first(index: PageIndex, pages: PageSet) -> Page | None:
    numbers = pages.numbers()
    return index.tree.pages[int(numbers[0])] if len(numbers) else None


def _beside(index: PageIndex, reached: PageSet) -> Page | None:
    """The page that stands nearest after the first page reached, in tree order, of those that are not; else any."""
    numbers = (~reached).numbers()
    if not len(numbers):
        return None
    first = reached.numbers()[:1]
    after = numbers[numbers > first[0]] if len(first) else numbers
    return index.tree.pages[int(after[0] if len(after) else numbers[-1])]


class _Fates:
    """What becomes of an edited rule on some of its targets, page by page."""

    def __init__(
        self,
        index: PageIndex,
        layout: Layout,
        lens: Lens,
        edited: Rule,
        reach: Reach,
        targets: tuple[Target, ...],
    ) -> None:
        self._index = index
        self._lens = lens
        self._edited = edited
        self._reach = reach
        self._targets = targets
        self._adds = {
            target: all(action.adds for action in edited.actions if action.target == target) for target in targets
        }
        # By the rules that act on these targets alone.
        acting = tuple(rule for rule in layout.rules if any(action.target in targets for action in rule.actions))
        self._resolver = PageResolver(index, replace(layout, rules=acting))

    def on(self, number: int) -> tuple[TargetFate, ...]:
        """What becomes of it on a page that it reaches, target by target."""
        nowhere = PageSet.none(self._index.size)
        unplaced = [target for target in self._targets if number in self._reach.unplaced.get(target, nowhere)]
        lost = [target for target in self._targets if number not in self._reach.wins[target]]
        traces = self._resolver.resolve(self._index.tree.pages[number], self._lens, lost) if lost else {}
        return tuple(
            _loss(traces[target], self._edited)
            if target in lost
            else TargetFate(target, "unplaced" if target in unplaced else "adds" if self._adds[target] else "wins")
            for target in self._targets
        )


def _loss(trace: Trace, edited: Rule) -> TargetFate:
    """Why a rule wins nothing of a target."""
    entry = next(one for one in trace.entries if one.rule is edited)
    match entry.state:
        case "outranked" | "cleared" | "locked":
            return TargetFate(trace.target, entry.state, entry.by.name if entry.by else "", entry.on or "")
        case _:
            return TargetFate(trace.target, "idle")
