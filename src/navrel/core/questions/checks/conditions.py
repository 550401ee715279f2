"""Conditions that match nothing, contradict themselves, are over, or name what is gone."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta
from itertools import chain, islice

from ...calendar.schedule import MAX_SPANS, Span, write_moment
from ...files.references import Owner, Reference, missing_references, owners
from ...language.facts import Interval, interval, is_plain_path
from ...language.query import Clause, Term
from ...layout.condition import Audience
from .finding import Finding, Survey, listed

#: How long before its end a schedule is told of.
SOON = timedelta(days=14)

#: Page facts of which a page has exactly one value, which the term names as it is.
_SINGLE = ("page", "kind", "type", "author", "child")


def _in_use(survey: Survey) -> Iterator[Owner]:
    """What has a condition that can hold: rules that are on, and entries."""
    return (owner for owner in owners(survey.document) if owner.on)


def matches_nothing(survey: Survey) -> Iterator[Finding]:
    """An include without a clause, or that matches no page of the site, or of which the exclude leaves none."""
    for owner in _in_use(survey):
        pointer, subject, condition = owner.pointer, owner.name, owner.condition
        include = survey.index.query(condition.include)
        if not condition.include:
            if owner.kind == "rule":
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
    for owner in _in_use(survey):
        pointer, subject, condition = owner.pointer, owner.name, owner.condition
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
    for owner in _in_use(survey):
        pointer, subject, condition = owner.pointer, owner.name, owner.condition
        schedule = condition.schedule
        if schedule is None or not survey.lenses.grades(Audience(schedule=schedule)):
            continue
        spans = schedule.spans(now)
        span = next(spans, None)
        if span is None:
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
        last = _last_end_soon(chain((span,), spans), now)
        if last is not None:
            yield Finding(
                "ends-soon",
                "hint",
                f"{pointer}/condition/schedule",
                subject,
                f"“{subject}” ends on {write_moment(last).replace('T', ' at ')}",
                "its schedule has no time in force after that",
                "make sure that what comes after it is right",
            )


def _last_end_soon(spans: Iterable[Span], now: datetime) -> datetime | None:
    """When the last of some spans ends, if that is soon; None where one goes on beyond that."""
    last = None
    for span in islice(spans, MAX_SPANS):
        if span.end is None or span.end - now > SOON:
            return None
        last = span.end
    return last


def gone(survey: Survey) -> Iterator[Finding]:
    """Pages, terms, types, authors and roles that a condition names and the site does not have."""
    found: dict[Owner, list[Reference]] = defaultdict(list)
    for reference in missing_references(survey.document):
        found[reference.owner].append(reference)
    for owner, missing in found.items():
        if owner.on:
            names = list(dict.fromkeys(f"{one.term.fact}:{one.text}" for one in missing))
            yield Finding(
                "gone",
                "warning",
                missing[0].pointer,
                owner.name,
                f"“{owner.name}” names what is not there: {listed(names)}",
                "the site has no such thing (any more)",
                "correct the name, take it out, or leave it if it is still to come",
            )
