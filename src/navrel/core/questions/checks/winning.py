"""Rules that never win, that only their order decides, that say what is said already, that could be one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from itertools import pairwise

from ...language.query import Query
from ...layout.model import Action, Rule, Target
from ...lenses.contests import Attempt, Contest
from ...pages.pageset import PageSet
from .finding import Finding, Survey

#: Contests by order alone that are told of for one rule; the first say it all.
_MOST_RIVALS_NAMED = 5


def never_wins(survey: Survey) -> Iterator[Finding]:
    """A rule, or one of its actions, that wins on no page, for no visitor, at no moment; and what covers it."""
    attempts: dict[int, dict[int, list[tuple[Contest, Attempt]]]] = defaultdict(lambda: defaultdict(list))
    for contest in survey.contests:
        for attempt in contest.attempts:
            attempts[attempt.standing.place][id(attempt.action)].append((contest, attempt))
    for place, by_action in sorted(attempts.items()):
        lost = {
            key: tries
            for key, tries in by_action.items()
            if not any(contest.can_ever_win(attempt) for contest, attempt in tries)
        }
        rule = survey.layout.rules[place - 1]
        if len(lost) == len(by_action):
            yield _never(survey, place, rule, [one for tries in lost.values() for one in tries], None)
        else:
            for tries in lost.values():
                yield _never(survey, place, rule, tries, tries[0][1].action)


def _never(
    survey: Survey, place: int, rule: Rule, tries: list[tuple[Contest, Attempt]], action: Action | None
) -> Finding:
    covering = {one.name: None for contest, attempt in tries for one in contest.covering(attempt)}
    pages, count = survey.some(PageSet.union((attempt.standing.pages for _, attempt in tries), survey.index.size))
    return Finding(
        "never-wins" if action is None else "action-never-wins",
        "warning",
        survey.rule_pointer(place),
        rule.name,
        {} if action is None else {"target": action.target},
        tuple(covering),
        pages,
        count,
    )


def order_alone(survey: Survey) -> Iterator[Finding]:
    """Two rules of the same priority and specificity that meet on a page and say different things."""
    found: dict[tuple[int, int], dict[Target, PageSet]] = defaultdict(dict)
    told: dict[int, int] = defaultdict(int)
    for contest in survey.contests:
        for loser, equals in _equals(contest):
            below = loser.standing.place
            for winner in equals:
                pair = winner.standing.place, below
                if pair not in found and told[below] == _MOST_RIVALS_NAMED:
                    continue
                met = contest.meet(winner, loser)
                if met:
                    told[below] += pair not in found
                    found[pair][contest.target] = met
    for (above, below), targets in sorted(found.items()):
        first, second = survey.layout.rules[above - 1], survey.layout.rules[below - 1]
        pages, count = survey.some(PageSet.union(targets.values(), survey.index.size))
        yield Finding(
            "order-alone",
            "hint",
            survey.rule_pointer(below),
            second.name,
            {"targets": tuple(targets)},
            (first.name,),
            pages,
            count,
        )


def _equals(contest: Contest) -> Iterator[tuple[Attempt, list[Attempt]]]:
    """Deciding attempts, each with those before it of equal priority and specificity that do something else.

    Only where they reach the same pages, and are not of the same rule.
    """
    group: list[Attempt] = []
    reached = PageSet.none(contest.index.size)
    for attempt in contest.attempts:
        if attempt.action.adds:
            continue
        strength = attempt.standing.strength
        if not group or group[0].standing.strength[:2] != strength[:2]:
            group, reached = [], PageSet.none(contest.index.size)
        if group and attempt.standing.pages & reached:
            yield (
                attempt,
                [
                    stronger
                    for stronger in group
                    if stronger.action != attempt.action
                    and stronger.standing.rule is not attempt.standing.rule
                    and attempt.standing.pages & stronger.open
                ],
            )
        if contest.can_ever_win(attempt):
            group.append(attempt)
            reached = reached | attempt.open


def said_already(survey: Survey) -> Iterator[Finding]:
    """A page picked by hand where a wider rule says the same: without the pick, nothing would change there."""
    for contest in survey.contests:
        deciding = [attempt for attempt in contest.attempts if not attempt.action.adds]
        for place, attempt in enumerate(deciding):
            if attempt.standing.strength.specificity.exact == 0 or not attempt.open:
                continue
            same = _same_below(contest, attempt, deciding[place + 1 :])
            if not same:
                continue
            wider, pages = same
            some, count = survey.some(pages)
            yield Finding(
                "said-already",
                "hint",
                survey.rule_pointer(attempt.standing.place),
                attempt.standing.rule.name,
                {"target": contest.target},
                (wider.name,),
                some,
                count,
            )


def _same_below(contest: Contest, attempt: Attempt, weaker: list[Attempt]) -> tuple[Rule, PageSet] | None:
    """The pages of a hand-picking attempt on which the next one says the same to everyone it is said to."""
    left = attempt.open
    found: dict[str, tuple[Rule, PageSet]] = {}
    for other in weaker:
        here = left & other.standing.pages
        if not here:
            continue
        left = left - here
        wider = other.standing.strength.specificity.exact == 0
        audience = other.standing.audience
        if (
            wider
            and other.action == attempt.action
            and other.standing.rule is not attempt.standing.rule
            and (audience.is_everyone or audience == attempt.standing.audience)
        ):
            rule, known = found.get(other.standing.rule.name, (other.standing.rule, PageSet.none(left.size)))
            found[rule.name] = (rule, known | here)
        if not left:
            break
    return max(found.values(), key=lambda one: len(one[1]), default=None)


def could_be_one(survey: Survey) -> Iterator[Finding]:
    """Two rules that differ in their include alone, where one with both includes would do the same."""
    alike: dict[object, list[int]] = defaultdict(list)
    for place, rule in enumerate(survey.layout.rules, start=1):
        if rule.on and rule.condition.include and rule.actions:
            key = (rule.priority, rule.actions, rule.condition.exclude, rule.condition.audience)
            alike[key].append(place)
    for places in alike.values():
        for above, below in pairwise(places):
            if _nothing_between(survey, above, below):
                first, second = survey.layout.rules[above - 1], survey.layout.rules[below - 1]
                query = Query((*first.condition.include.clauses, *second.condition.include.clauses))
                yield Finding(
                    "could-be-one",
                    "hint",
                    survey.rule_pointer(below),
                    second.name,
                    {"include": query},
                    (first.name,),
                )


def _nothing_between(survey: Survey, above: int, below: int) -> bool:
    """Whether moving the lower rule up to the higher one changes no outcome."""
    moved = survey.layout.rules[below - 1]
    reached = survey.index.levels(moved.condition)
    targets = {action.target for action in moved.actions}
    for other in survey.layout.rules[above : below - 1]:
        if not other.on or other.priority != moved.priority:
            continue
        if targets.isdisjoint(action.target for action in other.actions):
            continue
        for counts, pages in survey.index.levels(other.condition):
            # Whatever the visitors' counts come to, they may be equal for some lens.
            if any(counts == mine and pages & my_pages for mine, my_pages in reached):
                return False
    return True
