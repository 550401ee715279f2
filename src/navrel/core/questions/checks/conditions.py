"""Conditions that match nothing, contradict themselves, are over, or name what is gone."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta
from itertools import chain, islice
from typing import Literal

from ...calendar.schedule import MAX_SPANS, Span
from ...files.references import Owner, Reference, missing_references, owners
from ...language.facts import Interval, interval, is_plain_path
from ...language.query import Clause, Term
from ...layout.condition import Audience
from .finding import Finding, Survey

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
                )
        elif any(_contradiction(clause) is not None for clause in condition.include.clauses):
            continue
        elif not include:
            yield Finding(
                "no-page",
                "warning",
                pointer,
                subject,
                {"include": condition.include},
            )
        elif not include - survey.index.query(condition.exclude):
            yield Finding(
                "no-page-left",
                "warning",
                pointer,
                subject,
                {"include": condition.include, "exclude": condition.exclude},
            )
        else:
            for clause in condition.include.clauses:
                if not survey.index.clause(clause):
                    yield Finding(
                        "no-page-in-clause",
                        "hint",
                        pointer,
                        subject,
                        {"clause": clause},
                    )


def contradictions(survey: Survey) -> Iterator[Finding]:
    """A condition that holds nowhere on any site, for nobody, or never."""
    for owner in _in_use(survey):
        pointer, subject, condition = owner.pointer, owner.name, owner.condition
        for clause in condition.include.clauses:
            found = _contradiction(clause)
            if found is not None:
                yield Finding(
                    "contradiction",
                    "error",
                    f"{pointer}/condition/include",
                    subject,
                    {"clause": clause, "reason": found[0], "terms": found[1]},
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
            )
        elif schedule is not None and not survey.lenses.grades(audience):
            yield Finding(
                "never",
                "error",
                f"{pointer}/condition/schedule",
                subject,
            )


#: Why the terms of a clause cannot hold together: one holds nowhere, two are opposites, no page fits both.
Reason = Literal["nowhere", "opposites", "disjoint"]


def _contradiction(clause: Clause) -> tuple[Reason, tuple[Term, ...]] | None:
    """Why the terms of a clause cannot hold together on any page, and which; None where they can."""
    for term in clause.terms:
        if term.fact == "all" and term.negated:
            return "nowhere", (term,)
        if term.negated and term.positive in clause.terms:
            return "opposites", (term.positive, term)
    positive = [term for term in clause.terms if not term.negated]
    for number, term in enumerate(positive):
        for other in positive[number + 1 :]:
            if (term.fact, term.key) == (other.fact, other.key) and _disjoint(term, other):
                return "disjoint", (term, other)
    return None


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
            )
            continue
        last = _last_end_soon(chain((span,), spans), now)
        if last is not None:
            yield Finding(
                "ends-soon",
                "hint",
                f"{pointer}/condition/schedule",
                subject,
                {"end": last},
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
            names = tuple(dict.fromkeys(f"{one.term.fact}:{one.text}" for one in missing))
            yield Finding(
                "gone",
                "warning",
                missing[0].pointer,
                owner.name,
                {"names": names},
            )
