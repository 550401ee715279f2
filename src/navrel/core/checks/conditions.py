"""Conditions that match nothing, contradict themselves, are over, or name what is gone."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from datetime import timedelta

from ..facts import Interval, interval, is_plain_path
from ..model import Audience, Condition
from ..query import Clause, Term
from ..references import Reference, conditions_at, missing_references
from ..schedule import write_moment
from .finding import Finding, Survey, listed

#: How long before its end a schedule is told of.
SOON = timedelta(days=14)

#: Page facts of which a page has exactly one value, which the term names as it is.
_SINGLE = ("page", "kind", "type", "author", "child")


def _owned(survey: Survey) -> Iterator[tuple[str, str, Condition, bool]]:
    """Each condition with its pointer, the name of what it is of, and whether that is a rule; none of rules off."""
    rules = survey.layout.rules
    pieces = list(survey.layout.pieces.values())
    for pointer, condition in conditions_at(survey.document):
        _, kind, number, *rest = pointer.split("/")
        if kind == "rules":
            if rules[int(number)].on:
                yield pointer, rules[int(number)].name, condition, True
        else:
            piece = pieces[int(number)]
            entry = survey.name_of(piece.entries[int(rest[1])].piece)
            yield pointer, f"{entry} in {piece.name}", condition, False


def matches_nothing(survey: Survey) -> Iterator[Finding]:
    """An include without a clause, or that matches no page of the site, or of which the exclude leaves none."""
    for pointer, subject, condition, is_rule in _owned(survey):
        include = survey.index.query(condition.include)
        if not condition.include:
            if is_rule:
                yield Finding(
                    "no-include",
                    "warning",
                    pointer,
                    subject,
                    f"“{subject}” matches nothing",
                    "its include is empty",
                    "say where it applies, or all",
                )
        elif any(_contradiction(clause) for clause in condition.include.clauses):
            continue
        elif not include:
            yield Finding(
                "no-page",
                "warning",
                pointer,
                subject,
                f"“{subject}” matches no page",
                f"nothing on this site fits {condition.include}",
                "change its include, or remove it",
            )
        elif not include - survey.index.query(condition.exclude):
            yield Finding(
                "no-page-left",
                "warning",
                pointer,
                subject,
                f"“{subject}” excludes every page that it includes",
                f"{condition.exclude} takes out all that {condition.include} lets in",
                "change one of the two",
            )
        else:
            for clause in condition.include.clauses:
                if not survey.index.clause(clause):
                    yield Finding(
                        "no-page-in-clause",
                        "hint",
                        pointer,
                        subject,
                        f"a clause of “{subject}” matches no page",
                        f"nothing on this site fits {clause}",
                        "change the clause, or take it out",
                    )


def contradictions(survey: Survey) -> Iterator[Finding]:
    """A condition that holds nowhere on any site, for nobody, or never."""
    for pointer, subject, condition, _ in _owned(survey):
        for clause in condition.include.clauses:
            reason = _contradiction(clause)
            if reason:
                yield Finding(
                    "contradiction",
                    "error",
                    f"{pointer}/condition/include",
                    subject,
                    f"a clause of “{subject}” can match no page of any site",
                    f"in {clause}: {reason}",
                    "take one of the terms out, or part them by |",
                )
        audience = condition.audience
        schedule = audience.schedule
        nobody = not survey.lenses.grades(audience._replace(schedule=None))
        if nobody:
            yield Finding(
                "nobody",
                "error",
                f"{pointer}/condition/visitors",
                subject,
                f"“{subject}” lets no visitor in",
                "no visitor fits its visitors include without being excluded",
                "change its visitors",
            )
        elif schedule is not None and not survey.lenses.grades(audience):
            yield Finding(
                "never",
                "error",
                f"{pointer}/condition/schedule",
                subject,
                f"“{subject}” is never in force",
                "its from, until and repeats leave no time between them",
                "change its schedule",
            )


def _contradiction(clause: Clause) -> str:
    """Why the terms of a clause cannot hold together on any page; empty where they can."""
    for term in clause.terms:
        if term.fact == "all" and term.negated:
            return f"{term} holds nowhere"
        if term.negated and term.positive in clause.terms:
            return f"{term.positive} and {term} stand together"
    positive = [term for term in clause.terms if not term.negated]
    for number, term in enumerate(positive):
        for other in positive[number + 1 :]:
            if (term.fact, term.key) == (other.fact, other.key) and _disjoint(term, other):
                return f"no page fits both {term} and {other}"
    return ""


def _disjoint(term: Term, other: Term) -> bool:
    """Whether two positive terms of one fact can never hold on the same page."""
    plain = all(is_plain_path(value.text) for one in (term, other) for value in one.values)
    if term.fact in _SINGLE or (term.fact == "path" and plain):
        return not set(term.values) & set(other.values)
    if term.fact in ("field", "lists"):
        values = (*term.values, *other.values)
        return not any(value.wild for value in values) and not set(term.values) & set(other.values)
    if term.fact in ("words", "published"):
        dates = term.fact == "published"
        return not any(
            _overlap(interval(mine.text, dates), interval(theirs.text, dates))
            for mine in term.values
            for theirs in other.values
        )
    return False


def _overlap(one: Interval, other: Interval) -> bool:
    low = max((bound for bound in (one.low, other.low) if bound is not None), default=None)
    high = min((bound for bound in (one.high, other.high) if bound is not None), default=None)
    return low is None or high is None or low <= high


def schedules(survey: Survey) -> Iterator[Finding]:
    """A schedule that is over, or that ends within two weeks."""
    now = survey.lens.moment
    for pointer, subject, condition, _ in _owned(survey):
        schedule = condition.schedule
        if schedule is None or not survey.lenses.grades(Audience(schedule=schedule)):
            continue
        spans = [span for _, span in zip(range(64), schedule.spans(now), strict=False)]
        if not spans:
            yield Finding(
                "over",
                "warning",
                f"{pointer}/condition/schedule",
                subject,
                f"the time of “{subject}” is over",
                "its schedule lies in the past and does not come again",
                "remove it, or give it new dates",
            )
            continue
        last = spans[-1].end
        if last is not None and last - now <= SOON and len(spans) < 64:
            yield Finding(
                "ends-soon",
                "hint",
                f"{pointer}/condition/schedule",
                subject,
                f"“{subject}” ends on {write_moment(last).replace('T', ' at ')}",
                "its schedule has no time in force after that",
                "make sure that what comes after it is right",
            )


def gone(survey: Survey) -> Iterator[Finding]:
    """Pages, terms, types, authors and roles that a condition names and the site does not have."""
    found: dict[str, list[Reference]] = defaultdict(list)
    for reference in missing_references(survey.document):
        found[reference.owner].append(reference)
    owners = {pointer: subject for pointer, subject, _, _ in _owned(survey)}
    for owner, missing in found.items():
        if owner in owners:
            names = list(dict.fromkeys(f"{one.term.fact}:{one.text}" for one in missing))
            yield Finding(
                "gone",
                "warning",
                missing[0].pointer,
                owners[owner],
                f"“{owners[owner]}” names what is not there: {listed(names)}",
                "the site has no such thing (any more)",
                "correct the name, take it out, or leave it if it is still to come",
            )
