"""What the checks find about one rule while it is being edited, and the change of it that mends each."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass, replace

import numpy as np

from ...cascade.bulk import filled_pages
from ...index.page_index import PageIndex
from ...language.query import EVERYWHERE, Clause, Query, Term
from ...language.visitor import Lens
from ...layout.condition import Condition
from ...layout.document import SiteDocument
from ...layout.model import Layout, Rule
from ...pages.pageset import PageSet
from ..amending import NothingLeft, without_pages
from ..edited import with_edited
from ..guards import newly_broken
from ..pins import MAX_PRIORITY
from . import conditions, guarded, notices, winning
from .finding import Finding, Survey

#: The checks whose findings lead to a single rule and can be worked out without the rest of the site.
_CHECKS: tuple[Callable[[Survey], Iterator[Finding]], ...] = (
    conditions.contradictions,
    conditions.matches_nothing,
    winning.never_wins,
    conditions.gone,
    conditions.schedules,
    winning.order_alone,
    winning.said_already,
    notices.notices_here,
)


@dataclass(frozen=True)
class Judgement:
    """A finding about an edited rule, and the rule that would be found fault with no more; None where none is known."""

    finding: Finding
    remedy: Rule | None


def judge(document: SiteDocument, index: PageIndex, edited: Rule, lens: Lens) -> list[Judgement]:
    """What is found about an edited rule in the place of the saved one, or at the top; as `check` finds it.

    Beside that, the guards that it would break, from the moment of the lens on, and whether it puts a sidebar on pages
    where none of its entries shows through the lens.
    """
    after = with_edited(document.layout, edited)[0]
    layout = _around(after, edited)
    survey = Survey(replace(document, layout=layout), index, lens)
    pointer = survey.rule_pointer(layout.rules.index(edited) + 1)
    found = [
        one
        for check in _CHECKS
        for one in check(survey)
        if one.pointer == pointer or one.pointer.startswith(f"{pointer}/")
    ]
    saved = [rule for rule in document.layout.rules if rule.key is not None and rule.key == edited.key]
    touched = [action.target for rule in (edited, *saved) for action in rule.actions]
    broken = newly_broken(document, replace(document, layout=after), index, touched, lens.moment)
    return [
        *(Judgement(guarded.broken(pointer, state, after), None) for state in broken),
        *(Judgement(one, _remedy(survey, edited, one)) for one in (*found, *_blank_sidebars(survey, edited, pointer))),
    ]


def _around(layout: Layout, edited: Rule) -> Layout:
    """The layout with only those rules that act on what the edited one acts on, and no more than they do there."""
    targets = {action.target for action in edited.actions}
    acting = [
        rule
        if rule is edited
        else replace(rule, actions=tuple(action for action in rule.actions if action.target in targets))
        for rule in layout.rules
    ]
    return replace(layout, rules=tuple(rule for rule in acting if rule is edited or rule.actions))


def _blank_sidebars(survey: Survey, edited: Rule, pointer: str) -> Iterator[Finding]:
    """The sidebars that it puts where none of their entries shows."""
    for number, action in enumerate(edited.actions):
        piece = survey.layout.pieces.get(action.piece or "")
        if piece is None or not piece.entries:
            continue
        resolved = survey.resolved[action.target]
        mine = np.array([one.by == edited and piece.slug in one.pieces for one in resolved.outcomes])
        shown = PageSet.from_mask(mine[resolved.codes])
        if blank := shown - filled_pages(survey.index, survey.lens, piece):
            pages, count = survey.some(blank)
            yield Finding(
                "blank-sidebar", "warning", f"{pointer}/actions/{number}", piece.name, pages=pages, page_count=count
            )


def _remedy(survey: Survey, edited: Rule, finding: Finding) -> Rule | None:
    """The edited rule changed in one thing so that the finding is gone."""
    if finding.check in ("never-wins", "action-never-wins", "order-alone"):
        return _raised(survey, edited, finding)
    if finding.check == "notice-here":
        with suppress(NothingLeft):
            return replace(edited, condition=without_pages(survey.index, edited.condition, finding.pages))
    condition = _mended(edited.condition, finding)
    return replace(edited, condition=condition) if condition else None


def _mended(condition: Condition, finding: Finding) -> Condition | None:
    """The condition in which a finding is gone; None where there is more than one way to that."""
    match finding.check:
        case "no-include":
            return replace(condition, include=EVERYWHERE)
        case "contradiction" | "no-page-in-clause":
            kept = tuple(one for one in condition.include.clauses if one != finding.about["clause"])
            return replace(condition, include=Query(kept)) if kept else None
        case "no-page-left":
            return replace(condition, exclude=Query())
        case "gone":
            return _without_gone(condition, finding.about["names"])
        case "nobody":
            return replace(condition, visitors_include=Query(), visitors_exclude=Query())
        case "never" | "over" | "ends-soon":
            return replace(condition, schedule=None)
    return None


def _without_gone(condition: Condition, names: tuple[str, ...]) -> Condition | None:
    """The condition without the values that the site does not have; None where it would come to mean something else."""
    include, visitors = (_known(query, names) for query in (condition.include, condition.visitors_include))
    if not include or (condition.visitors_include and not visitors):
        return None  # An empty one of visitors lets everyone in, which is not what was meant.
    return replace(
        condition,
        include=include,
        exclude=_known(condition.exclude, names),
        visitors_include=visitors,
        visitors_exclude=_known(condition.visitors_exclude, names),
    )


def _known(query: Query, names: tuple[str, ...]) -> Query:
    """The query without some values. A term that has none left goes; one that asks for them takes its clause along."""
    clauses = []
    for clause in query.clauses:
        terms = [_known_values(term, names) for term in clause.terms]
        if all(kept or term.negated for term, kept in zip(clause.terms, terms, strict=True)) and any(terms):
            clauses.append(Clause(tuple(filter(None, terms))))
    return Query(tuple(clauses))


def _known_values(term: Term, names: tuple[str, ...]) -> Term | None:
    if not term.values:
        return term
    values = tuple(value for value in term.values if f"{term.fact}:{value.text}" not in names)
    return replace(term, values=values) if values else None


def _raised(survey: Survey, rule: Rule, finding: Finding) -> Rule | None:
    """The rule with a priority above those that stand in its way; None where that is no help."""
    above = [one.priority for one in survey.layout.rules if one.name in finding.rules and one is not rule]
    if not above or max(above) + 1 > MAX_PRIORITY:
        return None
    raised = replace(rule, priority=max(max(above), rule.priority) + 1)
    layout = survey.layout
    after = replace(layout, rules=tuple(raised if one is rule else one for one in layout.rules))
    again = Survey(replace(survey.document, layout=after), survey.index, survey.lens)
    check = winning.order_alone if finding.check == "order-alone" else winning.never_wins
    same = any(one.pointer == finding.pointer and one.about == finding.about for one in check(again))
    return None if same else raised
