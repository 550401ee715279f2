"""How far a rule reaches while it is being edited: page by page, and against the rule as it was saved."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from ..cascade.lookup import PageResolver
from ..cascade.strength import Decisive
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import Layout, Rule, Target
from ..pages.page import Page
from ..pages.pageset import PageSet
from .reach import Measures, NearMiss, Reach, excluded_pages, measure, near_misses, reaches, rule_pages

#: What becomes of a rule on one of the pages that it concerns.
Fate = Literal["wins", "adds", "unplaced", "outranked", "cleared", "locked", "excluded", "gone", "reached"]


@dataclass(frozen=True)
class PageFate:
    """One page, and what becomes of the rule there.

    ``by`` is the rule that stands in the way, or the exclude clause; ``on`` what decided between the two. ``is_new``:
    the saved rule does not reach it.
    """

    page: Page
    fate: Fate
    by: str = ""
    on: Decisive | Literal[""] = ""
    is_new: bool = False


@dataclass(frozen=True)
class EditedReach:
    """How far an edited rule reaches. ``pages`` are bounded, the numbers are not.

    ``new``: pages reached that the saved rule does not reach; ``gone``: the other way round.
    """

    measures: Measures
    reached: int
    excluded: int
    new: int
    gone: int
    pages: tuple[PageFate, ...]
    nearly: tuple[NearMiss, ...]


def reach_of_edited(
    index: PageIndex, layout: Layout, lens: Lens, edited: Rule, target: Target | None, most: int
) -> EditedReach:
    """The reach of an edited rule in the place of the saved one of the same key, or at the top where there is none.

    The pages, at most ``most`` of each sort, are told for one of its targets; None: for its first.
    """
    layout, saved = _with_edited(layout, edited)
    reach = reaches(index, layout, lens)[layout.rules.index(edited)]
    before = rule_pages(index, saved) if saved else reach.pages
    new, gone = reach.pages - before, before - reach.pages
    targets = [action.target for action in edited.actions]
    chosen = target if target in targets else targets[0] if targets else None
    excluded, count = excluded_pages(index, edited, most)
    taken_out = {one.page.path for one in excluded}
    pages = index.tree.pages
    return EditedReach(
        measure(index, layout, lens, edited, reach),
        len(reach.pages),
        count,
        len(new),
        len(gone),
        (
            *_fates(index, layout, lens, edited, reach, chosen, new, most),
            *(PageFate(one.page, "excluded", one.clause) for one in excluded),
            *(
                PageFate(pages[number], "gone")
                for number in gone.numbers()[:most].tolist()
                if pages[number].path not in taken_out
            ),
        ),
        tuple(near_misses(index, edited.condition.include)),
    )


def _with_edited(layout: Layout, edited: Rule) -> tuple[Layout, Rule | None]:
    """The layout with the edited rule in the place of the saved one, or at the top; and the saved one."""
    saved = next((rule for rule in layout.rules if edited.key is not None and rule.key == edited.key), None)
    if saved is None:
        return replace(layout, rules=(edited, *layout.rules)), None
    return replace(layout, rules=tuple(edited if rule is saved else rule for rule in layout.rules)), saved


def _fates(
    index: PageIndex,
    layout: Layout,
    lens: Lens,
    edited: Rule,
    reach: Reach,
    target: Target | None,
    new: PageSet,
    most: int,
) -> list[PageFate]:
    """What becomes of the rule on each page that it reaches."""
    nowhere = PageSet.none(index.size)
    won = reach.wins.get(target, nowhere) if target else nowhere
    unplaced = reach.unplaced.get(target, nowhere) if target else nowhere
    adds = all(action.adds for action in edited.actions if action.target == target)
    resolver = _resolver_of(index, layout, target)
    found = []
    for number in reach.pages.numbers()[:most].tolist():
        page = index.tree.pages[number]
        if number in unplaced:
            fate = PageFate(page, "unplaced")
        elif number in won:
            fate = PageFate(page, "adds" if adds else "wins")
        else:
            fate = _loss(resolver, lens, page, edited, target)
        found.append(replace(fate, is_new=number in new))
    return found


def _resolver_of(index: PageIndex, layout: Layout, target: Target | None) -> PageResolver:
    """Resolves single pages by the rules that act on one target alone."""
    acting = (rule for rule in layout.rules if any(action.target == target for action in rule.actions))
    return PageResolver(index, replace(layout, rules=tuple(acting)))


def _loss(resolver: PageResolver, lens: Lens, page: Page, edited: Rule, target: Target | None) -> PageFate:
    """Why an edited rule does not win a target on one of its pages."""
    if target is None:
        return PageFate(page, "reached")
    found = resolver.resolve(page, lens, (target,))[target]
    entry = next(one for one in found.entries if one.rule is edited)
    match entry.state:
        case "outranked" | "cleared" | "locked":
            return PageFate(page, entry.state, entry.by.name if entry.by else "", entry.on or "")
        case _:
            return PageFate(page, "reached", entry.clause)
