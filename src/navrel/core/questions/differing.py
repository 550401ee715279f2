"""Where two states of a site may come out differently: on which pages, in which targets."""

from __future__ import annotations

from dataclasses import replace
from difflib import SequenceMatcher

import numpy as np

from ..cascade.plain import standard_targets
from ..index.classes import PageClasses
from ..index.page_index import PageIndex
from ..layout.document import SiteDocument
from ..layout.model import TEMPLATE, Layout, Rule, Target
from ..pages.page import Page
from ..pages.pageset import PageSet

#: Pages that come or go of which it is told what they get or got; all of them are told to differ.
MOST_COMING = 200


def differing(
    before: SiteDocument, before_index: PageIndex, after: SiteDocument, after_index: PageIndex
) -> tuple[frozenset[Target], list[Page]]:
    """The targets that may come out differently, and the pages on which they may: those of ``after`` first."""
    every = {*standard_targets(before.layout), *standard_targets(after.layout)}
    every.update(Target("slot", slot) for page in (*before.pages, *after.pages) for slot in page.own_slots)
    targets: set[Target] = set()
    everywhere = False
    moved: list[Page] = []
    if before.pages != after.pages or before.term_parents != after.term_parents:
        moved = _moved_pages(before, before_index, after, after_index)
        if moved:
            targets.update(every)
    if before.layout.default_template != after.layout.default_template:
        targets.add(TEMPLATE)
        everywhere = True
    defaults = before.layout.setting_defaults, after.layout.setting_defaults
    changed = {name for name in {*defaults[0], *defaults[1]} if defaults[0].get(name) != defaults[1].get(name)}
    if changed:
        targets.update(Target("setting", name) for name in changed)
        everywhere = True
    sidebars = _changed_entries(before.layout, after.layout)
    rules = _changed_rules(before.layout.rules, after.layout.rules, sidebars)
    targets.update(action.target for rule in rules for action in rule.actions)
    reached = PageSet.everything(after_index.size) if everywhere else PageSet.none(after_index.size)
    for rule in rules:
        for _, pages in after_index.levels(rule.condition):
            reached = reached | pages
    by_rules = [after_index.tree.pages[number] for number in reached.numbers().tolist()]
    known = {page.path: page for page in (*by_rules, *moved)}
    return frozenset(targets & every), list(known.values())


def _moved_pages(
    before: SiteDocument, before_index: PageIndex, after: SiteDocument, after_index: PageIndex
) -> list[Page]:
    """The pages that the conditions treat otherwise than before, and up to MOST_COMING that come or go.

    A page that matches the same clauses as before, with the same slots and locks of its own, comes out the same as
    far as it depends on the page.
    """
    # Both are asked about the conditions of both, so that the same bit of a row is the same clause.
    both = Layout(
        {**before.layout.pieces, **{f"after {slug}": piece for slug, piece in after.layout.pieces.items()}},
        (*before.layout.rules, *after.layout.rules),
    )
    old, new = PageClasses.of(before_index, both), PageClasses.of(after_index, both)
    moved, coming = [], []
    for number, page in enumerate(after_index.tree.pages):
        earlier = before_index.tree.numbers.get(page.path)
        if earlier is None:
            coming.append(page)
        elif _own(before_index.tree.pages[earlier]) != _own(page) or not np.array_equal(
            old.rows[earlier], new.rows[number]
        ):
            moved.append(page)
    going = [page for page in before_index.tree.pages if page.path not in after_index.tree.numbers]
    return [*moved, *(*coming, *going)[:MOST_COMING]]


def _own(page: Page) -> tuple[object, ...]:
    """What a page has of its own that decides where something is seen on it."""
    return page.slots, page.locks, page.bound


def _changed_entries(before: Layout, after: Layout) -> set[str]:
    """The sidebars whose entries differ."""
    slugs = {*before.pieces, *after.pieces}
    entries = ({slug: piece.entries for slug, piece in layout.pieces.items()} for layout in (before, after))
    old, new = entries
    return {slug for slug in slugs if old.get(slug, ()) != new.get(slug, ())}


def _changed_rules(before: tuple[Rule, ...], after: tuple[Rule, ...], sidebars: set[str]) -> list[Rule]:
    """The rules of either state that are not in the other, that moved, or that show a changed sidebar."""
    old, new = ([_content(rule) for rule in rules] for rules in (before, after))
    found = []
    for how, low, high, new_low, new_high in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if how != "equal":
            found += [*before[low:high], *after[new_low:new_high]]
    shows = [rule for rule in (*before, *after) if any(action.piece in sidebars for action in rule.actions)]
    return [rule for rule in (*found, *shows) if rule.on]


def _content(rule: Rule) -> Rule:
    """What of a rule can make a difference, besides what it is called: its deciders are named."""
    return replace(rule, note="", key=None)
