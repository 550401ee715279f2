"""The visitors that some terms can tell apart, and queries that say which of them are meant.

A visitor has one device, one browser, one referrer and one value a parameter; roles only when signed in; and a
language that is accepted is accepted by every wider range too. What the audiences do not ask about is left out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..language.facts import BROWSERS, DEVICES, Value
from ..language.query import Clause, Query, Term
from ..language.visitor import Visitor
from ..layout.condition import Audience

#: Most combinations of visitors and times that are told apart; beyond them nothing is claimed.
MOST_COMBINATIONS = 65_536

Mask = NDArray[np.bool_]
_Atom = tuple[str, str, Value]


class TooManyCombinations(Exception):
    """There are more visitors and times to tell apart than MOST_COMBINATIONS."""

    def __init__(self, count: int) -> None:
        super().__init__(f"{count:,} combinations of visitors and times; {MOST_COMBINATIONS:,} can be told apart")
        self.count = count


class Choice(NamedTuple):
    """One thing that can be so about a visitor: what then holds, and the facts that make it so.

    ``value`` is what the choice is called in a term; None for whatever the terms do not name.
    """

    holds: frozenset[_Atom]
    facts: tuple[tuple[str, str], ...]
    value: Value | None = None


class Dimension(NamedTuple):
    """Choices of which exactly one is so. ``describe`` gives alternative lists of terms for some of them."""

    choices: tuple[Choice, ...]
    describe: Callable[[Sequence[Choice], Sequence[Choice]], list[list[Term]]]


class VisitorSpace:
    """The visitors that some visitor terms can tell apart.

    ``rows`` has shape (visitors, dimensions), dtype int16: which choice of each dimension a visitor takes.
    Raises TooManyCombinations.
    """

    def __init__(self, terms: Iterable[Term]) -> None:
        atoms: dict[_Atom, None] = {}
        for term in terms:
            atoms.update(dict.fromkeys((term.fact, term.key, value) for value in term.values))
        self.dimensions = tuple(_dimensions(list(atoms)))
        count = 1
        for dimension in self.dimensions:
            count *= len(dimension.choices)
        if count > MOST_COMBINATIONS * 16:
            raise TooManyCombinations(count)
        counts = [len(dimension.choices) for dimension in self.dimensions]
        # The leading 1 stands for the one visitor that there is when nothing is asked.
        rows = np.indices([1, *counts], dtype=np.int16).reshape(len(counts) + 1, -1).T[:, 1:]
        self.rows = rows[self._possible(rows)]
        if len(self.rows) > MOST_COMBINATIONS:
            raise TooManyCombinations(len(self.rows))

    def __len__(self) -> int:
        return len(self.rows)

    def _possible(self, rows: NDArray[np.int16]) -> Mask:
        """Roles only when signed in; who accepts a language accepts the wider ranges that hold it."""
        possible = np.ones(len(rows), dtype=np.bool_)
        held = {
            atom: self._taking(rows, atom)
            for dimension in self.dimensions
            for choice in dimension.choices
            for atom in choice.holds
        }
        signed_in = held.get(_SIGNED_IN)
        for (fact, _, value), mask in held.items():
            if fact == "role" and signed_in is not None:
                possible &= ~mask | signed_in
            if fact == "accepts":
                for (other, _, wider), wider_mask in held.items():
                    if other == "accepts" and _is_wider(wider.text, value.text):
                        possible &= ~mask | wider_mask
        return possible

    def _taking(self, rows: NDArray[np.int16], atom: _Atom) -> Mask:
        """The rows whose visitor has an atom."""
        found = np.zeros(len(rows), dtype=np.bool_)
        for column, dimension in enumerate(self.dimensions):
            for number, choice in enumerate(dimension.choices):
                if atom in choice.holds:
                    found |= rows[:, column] == number
        return found

    def term(self, term: Term) -> Mask:
        """The visitors for whom a positive term holds, shape (visitors,)."""
        if term.fact == "all":
            return np.ones(len(self), dtype=np.bool_)
        found = np.zeros(len(self), dtype=np.bool_)
        for value in term.values:
            found |= self._taking(self.rows, _plain((term.fact, term.key, value)))
        return found

    def grades(self, audience: Audience) -> NDArray[np.int16]:
        """For each visitor, the positive terms of the include clause that lets it in; -1 where it is kept out."""
        found = np.full(len(self), -1 if audience.include else 0, dtype=np.int16)
        for clause in audience.include.clauses:
            np.maximum(found, clause.positive_terms, out=found, where=self._clause(clause))
        for clause in audience.exclude.clauses:
            found[self._clause(clause)] = -1
        return found

    def _clause(self, clause: Clause) -> Mask:
        found = np.ones(len(self), dtype=np.bool_)
        for term in clause.terms:
            found &= self.term(term.positive) != term.negated
        return found

    def visitor(self, number: int) -> Visitor:
        """One visitor of those in a row: as plain as the row allows."""
        facts: dict[str, str] = {}
        lists: dict[str, list[str]] = {"role": [], "accepts": []}
        for column, dimension in enumerate(self.dimensions):
            for fact, text in dimension.choices[int(self.rows[number, column])].facts:
                if fact in lists:
                    lists[fact].append(text)
                else:
                    facts[fact] = text
        return Visitor(
            signed="in" if facts.get("signed") == "in" else "out",
            roles=frozenset(lists["role"]),
            device=facts.get("device", "desktop"),
            browser=facts.get("browser", "other"),
            accepts=tuple(lists["accepts"]),
            query={fact.removeprefix("query."): text for fact, text in facts.items() if fact.startswith("query.")},
            referrer=facts.get("referrer", ""),
        )

    def query(self, chosen: Mask) -> Query:
        """A visitor query that lets exactly the chosen rows in; the empty query where that is everybody."""
        if chosen.all():
            return Query()
        numbers = np.arange(len(self))
        columns = list(range(len(self.dimensions)))
        found = [self._clauses(numbers, chosen, order) for order in (columns, columns[::-1])]
        best = min(found, key=lambda clauses: (len(clauses), sum(map(len, clauses))))
        return Query(tuple(Clause(tuple(terms)) for terms in best))

    def _clauses(self, numbers: NDArray[np.intp], chosen: Mask, columns: Sequence[int]) -> list[list[Term]]:
        """Clauses for the chosen ones of some rows, a column at a time; choices that come to the same are one."""
        if chosen[numbers].all():
            return [[]]
        if not chosen[numbers].any():
            return []
        column, later = columns[0], columns[1:]
        alike: dict[tuple[bytes, bytes], list[int]] = {}
        present = np.unique(self.rows[numbers, column]).tolist()
        for number in present:
            here = numbers[self.rows[numbers, column] == number]
            alike.setdefault((self.rows[here][:, later].tobytes(), chosen[here].tobytes()), []).append(number)
        choices = self.dimensions[column].choices
        found: list[list[Term]] = []
        for group in alike.values():
            rest = self._clauses(numbers[self.rows[numbers, column] == group[0]], chosen, later)
            if rest and len(alike) == 1:
                return rest
            if rest:
                beginnings = self.dimensions[column].describe(
                    [choices[number] for number in group], [choices[number] for number in present]
                )
                found += [[*beginning, *clause] for beginning in beginnings for clause in rest]
        return found


_SIGNED_IN: _Atom = ("signed", "", Value("in"))


def _plain(atom: _Atom) -> _Atom:
    """The atom under which equal ones are known: language ranges and hosts in lower case."""
    fact, key, value = atom
    return (fact, key, Value(value.text.lower(), value.wild)) if fact in ("accepts", "referrer") else atom


def _is_wider(wider: str, text: str) -> bool:
    """Whether whoever accepts the range ``text`` accepts the range ``wider`` too (RFC 4647, basic filtering)."""
    return wider != text and (wider == "*" or text.startswith(wider + "-"))


def _dimensions(given: list[_Atom]) -> Iterable[Dimension]:
    """What can be so about a visitor, as far as some atoms ask. Roles come before signing in: they imply it."""
    atoms = list(dict.fromkeys(_plain(atom) for atom in given))
    of: dict[tuple[str, str], list[Value]] = {}
    for fact, key, value in atoms:
        of.setdefault((fact, key), []).append(value)
    roles = of.get(("role", ""), [])
    for role in roles:
        yield _either("role", role)
    if roles or ("signed", "") in of:
        yield _one_of("signed", "", [Value("out"), Value("in")], None)
    for fact, known in (("device", DEVICES), ("browser", BROWSERS)):
        values = of.get((fact, ""))
        if values:
            # The usual one stands for those that are not named.
            other = next((text for text in reversed(known) if Value(text) not in values), None)
            yield _one_of(fact, "", values, other)
    ranges = [value for value in of.get(("accepts", ""), []) if value.text == "*" or not value.text.startswith("*")]
    for value in ranges:
        yield _either("accepts", value)
    for (fact, key), values in of.items():
        if fact == "query":
            yield _parameter(key, values)
    hosts = of.get(("referrer", ""))
    if hosts:
        yield _referrers(hosts)


def _term(fact: str, values: Iterable[Value], key: str = "", *, negated: bool = False) -> Term:
    return Term(fact, tuple(values), key, negated, "visitor")


def _either(fact: str, value: Value) -> Dimension:
    """Something that is so or not: a role held, a language accepted."""
    atom = (fact, "", value)
    # Any language will do for `*`: a private one (BCP 47) is in no other range that is likely to be asked about.
    text = "qaa" if (fact, value.text) == ("accepts", "*") else value.text
    choices = (Choice(frozenset(), (), None), Choice(frozenset({atom}), ((fact, text),), value))
    return Dimension(
        choices, lambda group, present: [[_term(fact, [value], negated=choice.value is None)] for choice in group]
    )


def _one_of(fact: str, key: str, values: list[Value], other: str | None) -> Dimension:
    """A fact that has exactly one of some values, or ``other`` for all that are not named."""
    choices = [Choice(frozenset({(fact, key, value)}), ((fact, value.text),), value) for value in values]
    if other is not None:
        choices.insert(0, Choice(frozenset(), ((fact, other),), None))
    return Dimension(tuple(choices), lambda group, present: [_values_or_rest(fact, key, group, present)])


def _values_or_rest(fact: str, key: str, group: Sequence[Choice], present: Sequence[Choice]) -> list[Term]:
    """One term for some choices: their values, or against the other values where the nameless one is among them."""
    named = [choice.value for choice in group if choice.value]
    if len(named) == len(group):
        return [_term(fact, named, key)]
    others = [choice.value for choice in present if choice.value and choice not in group]
    return [_term(fact, others, key, negated=True)] if others else []


def _parameter(name: str, values: list[Value]) -> Dimension:
    """A URL parameter: absent, one of the values, or another value."""
    wild = Value("*", wild=True)
    named = [value for value in values if not value.wild]
    any_value = frozenset({("query", name, wild)})
    fact = f"query.{name}"
    other_text = "other"
    while Value(other_text) in named:
        other_text += "-"
    absent = Choice(frozenset(), (), None)
    other = Choice(any_value, ((fact, other_text),), None)
    choices = (
        absent,
        other,
        *(Choice(any_value | {("query", name, value)}, ((fact, value.text),), value) for value in named),
    )

    def describe(group: Sequence[Choice], present: Sequence[Choice]) -> list[list[Term]]:
        chosen = [choice.value for choice in group if choice.value]
        others = [choice.value for choice in choices if choice.value and choice not in group]
        without = [_term("query", others, name, negated=True)] if others else []
        if absent in group and other in group:
            return [without]
        if other in group:
            return [[_term("query", [wild], name), *without]]
        found = [[_term("query", [wild], name, negated=True)]] if absent in group else []
        return found + ([[_term("query", chosen, name)]] if chosen else [])

    return Dimension(choices, describe)


def _referrers(hosts: list[Value]) -> Dimension:
    """The host that a visitor came from: one of those named, with all that it is a subdomain of, or none of them."""

    def inside(host: Value) -> list[Value]:
        return [one for one in hosts if host.text == one.text or host.text.endswith("." + one.text)]

    nowhere = Choice(frozenset(), (), None)
    choices = (
        nowhere,
        *(
            Choice(frozenset(("referrer", "", one) for one in inside(host)), (("referrer", host.text),), host)
            for host in hosts
        ),
    )

    def describe(group: Sequence[Choice], present: Sequence[Choice]) -> list[list[Term]]:
        found = []
        for choice in group:
            if choice.value is None:
                found.append([_term("referrer", hosts, negated=True)])
                continue
            below = [one for one in hosts if one != choice.value and choice.value in inside(one)]
            more = [_term("referrer", below, negated=True)] if below else []
            found.append([_term("referrer", [choice.value]), *more])
        return found

    return Dimension(choices, describe)
