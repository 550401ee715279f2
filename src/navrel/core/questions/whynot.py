"""Why a rule does not show on a page, and the smallest changes after which it would."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from ..cascade.conditions import Unmet, weigh_audience
from ..cascade.plain import Entry, trace
from ..index.page_index import PageIndex
from ..language.visitor import Lens
from ..layout.model import Action, Layout, Rule
from ..pages.page import Page
from .amending import NothingLeft, with_pages, without_pages
from .pins import MAX_PRIORITY
from .reach import rule_pages

Part = Literal["switch-on", "let-in", "raise", "move-up", "leave-out", "switch-off"]


@dataclass(frozen=True)
class Remedy:
    """A change of one rule after which the action shows.

    ``parts``: what is done, in turn; ``rule``: the changed rule as it would be, that of the action itself or the one
    that beats it; ``position``: where in the list it would stand, from 1, None where it stays.
    """

    parts: tuple[Part, ...]
    rule: Rule
    position: int | None
    layout: Layout


@dataclass(frozen=True)
class WhyNot:
    """What became of an action on a page through a lens, and what would change that, the smallest change first."""

    entry: Entry
    remedies: tuple[Remedy, ...]

    @property
    def shows(self) -> bool:
        """Whether it decides or adds there as it is."""
        return self.entry.state in _SHOWING


_SHOWING = ("won", "added")


def why_not(index: PageIndex, layout: Layout, page: Page, lens: Lens, rule: Rule, action: Action) -> WhyNot:
    """What became of an action of a rule of the layout on a page, and which single changes would make it show.

    None is offered where the lens itself is refused, or another system owns the slot: no rule changes that.
    """
    entry = _entry(index, layout, page, lens, rule, action)
    if entry.state in _SHOWING or entry.state == "locked":
        return WhyNot(entry, ())
    place = layout.rules.index(rule)
    base, parts = rule, list[Part]()
    if not base.on:
        base, parts = replace(base, on=True), [*parts, "switch-on"]
    if index.tree.numbers[page.path] not in rule_pages(index, base):
        base = replace(base, condition=with_pages(index, base.condition, [page]))
        parts = [*parts, "let-in"]
    if isinstance(weigh_audience(lens, base.condition.audience), Unmet):
        return WhyNot(entry, ())
    trials = [Remedy(tuple(parts), base, None, _with(layout, place, base))] if parts else []
    changed = trials[0].layout if trials else layout
    met = _entry(index, changed, page, lens, base, action)
    if met.state not in _SHOWING and met.by is not None:
        trials = [*_stronger(changed, base, place, met.by, parts)]
        if not parts:
            trials += _weaker(index, layout, page, met.by)
    smallest: dict[tuple[Part, ...], Remedy] = {}
    for one in trials:
        if one.parts not in smallest and _shows_after(index, one, page, lens, rule, action):
            smallest[one.parts] = one
    return WhyNot(entry, tuple(smallest.values()))


def _entry(index: PageIndex, layout: Layout, page: Page, lens: Lens, rule: Rule, action: Action) -> Entry:
    found = trace(index.tree, layout, page, lens, action.target)
    return next(one for one in found.entries if one.rule.name == rule.name and one.action == action)


def _shows_after(index: PageIndex, remedy: Remedy, page: Page, lens: Lens, rule: Rule, action: Action) -> bool:
    return _entry(index, remedy.layout, page, lens, rule, action).state in _SHOWING


def _with(layout: Layout, place: int, rule: Rule) -> Layout:
    """The layout with another rule in the place of one."""
    return replace(layout, rules=(*layout.rules[:place], rule, *layout.rules[place + 1 :]))


def _stronger(layout: Layout, base: Rule, place: int, by: Rule, parts: list[Part]) -> Iterator[Remedy]:
    """The rule given as much priority as the one that beats it, or more; or moved above it."""
    for priority in (by.priority, by.priority + 1):
        if base.priority < priority <= MAX_PRIORITY:
            raised = replace(base, priority=priority)
            yield Remedy((*parts, "raise"), raised, None, _with(layout, place, raised))
    above = layout.rules.index(by)
    if not parts and above < place:
        others = [rule for rule in layout.rules if rule is not layout.rules[place]]
        others.insert(above, base)
        yield Remedy(("move-up",), base, above + 1, replace(layout, rules=tuple(others)))


def _weaker(index: PageIndex, layout: Layout, page: Page, by: Rule) -> Iterator[Remedy]:
    """The rule that beats it without this page; one that is for this page alone, switched off."""
    place = layout.rules.index(by)
    try:
        spared = replace(by, condition=without_pages(index, by.condition, [page]))
    except NothingLeft:
        off = replace(by, on=False)
        yield Remedy(("switch-off",), off, None, _with(layout, place, off))
    else:
        yield Remedy(("leave-out",), spared, None, _with(layout, place, spared))
