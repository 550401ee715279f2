"""One page of a large site and many rules, as quickly as one of a small site: the same answers as `cascade.py`.

Which clauses match a page is looked up, not tested; the entries of all rules that have nothing to do with the page
are made once.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from ..index.classes import PageClasses
from ..index.page_index import PageIndex
from ..language.query import Clause, Counts
from ..language.visitor import Lens
from ..layout.condition import Audience
from ..layout.model import Layout, Target
from ..pages.page import Page
from .conditions import Unmet, weigh_audience
from .plain import Entry, Trace, compare, is_locked, page_targets, stand_aside, standard_targets
from .strength import Aside, Match, acting_on_page, contend


class PageResolver:
    """Resolves single pages of one layout: the first few plainly, then by what was worked out for all pages at once."""

    def __init__(self, index: PageIndex, layout: Layout) -> None:
        self.index = index
        self.layout = layout
        self.classes = PageClasses.of(index, layout)
        self._targets = standard_targets(layout)
        self._last: tuple[Lens | None, dict[int, int | Unmet]] = (None, {})
        columns = self.classes.columns
        #: For each clause: the rules, by their place in the list from 0, whose include it stands in.
        self._including: dict[int, list[tuple[int, Counts]]] = defaultdict(list)
        self._excluding: list[list[tuple[int, Clause]]] = []
        #: For each target: every action on it, as it stands where its rule does not match.
        self._idle: dict[Target, list[tuple[int, Entry]]] = defaultdict(list)
        for number, rule in enumerate(layout.rules):
            if rule.on:
                for clause in rule.condition.include.clauses:
                    self._including[columns[clause]].append((number, clause.counts))
            self._excluding.append([(columns[clause], clause) for clause in rule.condition.exclude.clauses])
        for number, rule in sorted(enumerate(layout.rules), key=lambda one: (-one[1].priority, one[0])):
            state = Unmet("not-included") if rule.on else "off"
            for action in rule.actions:
                entry = stand_aside(Aside(rule, number + 1, state), action, locked=False)  # type: ignore[arg-type]
                self._idle[action.target].append((number, entry))

    def make_ready(self) -> None:
        """Work out what many pages are resolved by, before anybody asks for them."""
        _ = self.classes.rows

    def matches(self, number: int) -> tuple[list[Match], list[Aside]]:
        """The rules that let a page through, in list order, and those whose exclude takes it out again."""
        matching = self.classes.matching(number)
        held = set(matching)
        best: dict[int, Counts] = {}
        for column in matching:
            for rule, counts in self._including.get(column, ()):
                if rule not in best or counts > best[rule]:
                    best[rule] = counts
        found: list[Match] = []
        excluded: list[Aside] = []
        for rule in sorted(best):
            clause = next((clause for column, clause in self._excluding[rule] if column in held), None)
            if clause is None:
                found.append(Match(self.layout.rules[rule], rule + 1, best[rule]))
            else:
                excluded.append(Aside(self.layout.rules[rule], rule + 1, Unmet("excluded", str(clause))))
        return found, excluded

    def resolve(self, page: Page, lens: Lens, more: Iterable[Target] = ()) -> dict[Target, Trace]:
        """The traces of every target of a page, as `cascade.resolve_page` gives them."""
        matches, aside = self.matches(self.index.tree.numbers[page.path])
        contending, refused = contend(matches, lambda audience: self._audience(audience, lens))
        acting = acting_on_page(contending)
        busy = {contender.place - 1 for contender in contending}
        waiting = {one.place - 1: one for one in (*aside, *refused)}
        targets = page_targets(self.layout, page, more) if page.own_slots or more else self._targets
        found = {}
        for target in targets:
            locked = is_locked(page, target)
            outcome, entries = compare(acting.get(target, []), self.layout, target, locked=locked)
            entries += [
                stand_aside(waiting[number], entry.action, locked=locked) if number in waiting else entry
                for number, entry in self._idle.get(target, ())
                if number not in busy
            ]
            if locked:
                entries = [
                    entry if entry.state == "off" else entry._replace(state="locked", clause="") for entry in entries
                ]
            found[target] = Trace(target, outcome, tuple(entries), lens.moment)
        return found

    def _audience(self, audience: Audience, lens: Lens) -> int | Unmet:
        """What an audience says of a lens; asked once for the lens that was asked about last."""
        if audience.is_everyone:
            return 0
        # Taken in one go: another thread may ask about another lens meanwhile.
        last = self._last
        if last[0] != lens:
            last = self._last = (lens, {})
        known = last[1]
        key = id(audience)
        if key not in known:
            known[key] = weigh_audience(lens, audience)
        return known[key]
