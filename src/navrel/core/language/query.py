"""The query language: tokens to tree, tree to text, and the tree's own questions.

The grammar (cascade: Queries)::

    query  = clause { "|" clause }
    clause = term { " " term }
    term   = [ "-" ] ( "all" | fact ":" value { "," value } )
"""

from __future__ import annotations

import difflib
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, NamedTuple

from ..errors import QueryError
from .facts import PAGE_FACTS, SEARCH_WORD, VISITOR_FACTS, Fact, Value, ValueProblem, is_plain_path
from .tokens import Token, tokenize

Domain = Literal["page", "visitor"]
FACTS: dict[Domain, dict[str, Fact]] = {"page": PAGE_FACTS, "visitor": VISITOR_FACTS}
_DOMAIN_WORDS: dict[Domain, str] = {"page": "pages", "visitor": "visitors"}


class Counts(NamedTuple):
    """How many positive terms of each class a clause has; compared left to right."""

    exact: int = 0
    narrow: int = 0
    broad: int = 0


@dataclass(frozen=True)
class Term:
    """One term. ``fact`` is a fact's name or ``all``; ``key`` the part after the dot of a keyed fact.

    ``column`` and ``length`` tell where it stood in the text; they do not count for equality.
    """

    fact: str
    values: tuple[Value, ...] = ()
    key: str = ""
    negated: bool = False
    domain: Domain = "page"
    column: int = field(default=1, compare=False)
    length: int = field(default=1, compare=False)

    def __str__(self) -> str:
        sign = "-" if self.negated else ""
        if self.fact == "all":
            return f"{sign}all"
        if self.fact == SEARCH_WORD.name:
            return sign + ",".join(
                quote(value.text) if SEARCH_WORD.needs_quotes(value) else value.text for value in self.values
            )
        definition = FACTS[self.domain][self.fact]
        name = f"{self.fact}.{self.key}" if definition.keyed else self.fact
        return f"{sign}{name}:" + ",".join(
            quote(value.text) if definition.needs_quotes(value) else value.text for value in self.values
        )

    @property
    def positive(self) -> Term:
        """The same term without its negation: what page sets are filed under."""
        return Term(self.fact, self.values, self.key, False, self.domain) if self.negated else self

    @property
    def counts(self) -> Counts:
        """What the term adds to its clause's specificity."""
        if self.negated or self.fact not in PAGE_FACTS:
            return Counts()
        rank = PAGE_FACTS[self.fact].rank
        if self.fact == "path" and all(is_plain_path(value.text) for value in self.values):
            rank = "exact"
        match rank:
            case "exact":
                return Counts(exact=2 if len(self.values) == 1 else 1)
            case "narrow":
                return Counts(narrow=1)
            case _:
                return Counts(broad=1)


@dataclass(frozen=True)
class Clause:
    """Terms that must all hold."""

    terms: tuple[Term, ...]

    def __str__(self) -> str:
        return self._text

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _text(self) -> str:
        return " ".join(map(str, self.terms))

    @cached_property
    def _hash(self) -> int:
        return hash(self.terms)

    def holds(self, holds: Callable[[Term], bool]) -> bool:
        """Whether all its terms hold; ``holds`` answers for a positive term."""
        return all(holds(term.positive) != term.negated for term in self.terms)

    @cached_property
    def counts(self) -> Counts:
        """The three page counts of the clause's specificity."""
        return Counts(*(sum(column) for column in zip(*(term.counts for term in self.terms), strict=True)))

    @cached_property
    def positive_terms(self) -> int:
        """How many terms ask for something rather than against it; `all` asks for nothing."""
        return sum(not term.negated and term.fact != "all" for term in self.terms)


@dataclass(frozen=True)
class Query:
    """Clauses of which one must hold. No clause: the empty query, which matches nothing."""

    clauses: tuple[Clause, ...] = ()

    def __str__(self) -> str:
        """The normal form; `parse_query` reads it back to an equal query."""
        return " | ".join(map(str, self.clauses))

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash(self.clauses)

    def __bool__(self) -> bool:
        return bool(self.clauses)

    @property
    def terms(self) -> tuple[Term, ...]:
        """Every term of every clause, in order."""
        return tuple(term for clause in self.clauses for term in clause.terms)

    def matching(self, holds: Callable[[Term], bool]) -> list[int]:
        """The indices of the clauses all of whose terms hold; ``holds`` answers for a positive term."""
        return [index for index, clause in enumerate(self.clauses) if clause.holds(holds)]


def quote(text: str) -> str:
    """A value in quotes, as the language reads it back."""
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


#: The query that every page meets.
EVERYWHERE = Query((Clause((Term("all"),)),))


def parse_query(text: str, domain: Domain = "page") -> Query:
    """Read a query about pages, or about visitors. Raises QueryError with the column."""
    return _Parser(text, domain).query()


def parse_search(text: str) -> Query:
    """Read a search over the page list: a page query in which bare words are allowed. Raises QueryError."""
    return _Parser(text, "page", bare_words=True).query()


class _Parser:
    """One method a grammar rule. ``ahead`` is the token that comes next, None at the end."""

    def __init__(self, text: str, domain: Domain, *, bare_words: bool = False) -> None:
        self.bare_words = bare_words
        self.tokens = tokenize(text)
        self.end = len(text) + 1
        self.domain: Domain = domain
        self.ahead: Token | None = None
        self.advance()

    def advance(self) -> Token | None:
        taken, self.ahead = self.ahead, next(self.tokens, None)
        return taken

    def next_is(self, kind: str) -> bool:
        return self.ahead is not None and self.ahead.kind == kind

    def skip_space(self) -> None:
        if self.next_is("space"):
            self.advance()

    def fail(self, code: str, message: str, hint: str = "", at: Token | None = None) -> QueryError:
        place = at or self.ahead
        column, length = (place.column, place.length) if place else (self.end, 1)
        return QueryError(code, message, column, length, hint)

    def query(self) -> Query:
        """query = clause { "|" clause }"""
        self.skip_space()
        if self.ahead is None:
            return Query()
        clauses = [self.clause()]
        while self.next_is("bar"):
            self.advance()
            clauses.append(self.clause())
        return Query(tuple(clauses))

    def clause(self) -> Clause:
        """clause = term { " " term }"""
        self.skip_space()
        terms: dict[Term, None] = {}
        while self.ahead is not None and not self.next_is("bar"):
            terms[self.term()] = None
            if self.ahead is not None and not self.next_is("space") and not self.next_is("bar"):
                raise self.fail("expected-space", "a space has to stand between two terms")
            self.skip_space()
        if not terms:
            raise self.fail("expected-term", "a term is missing here", "write a fact, as in type:article")
        return Clause(tuple(terms))

    def term(self) -> Term:
        """term = [ "-" ] ( "all" | fact ":" value { "," value } )"""
        start = self.ahead
        negated = self.next_is("not")
        if negated:
            self.advance()
        name = self.ahead
        if self.bare_words and name is not None and name.kind == "quoted" and name.text:
            self.advance()
            return self.search_word(name.text, name, name.length, negated)
        if self.bare_words and negated and (name is None or name.kind == "space"):
            assert start is not None
            return self.search_word("-", start, 1)
        if name is None or name.kind != "word":
            raise self.fail("expected-fact", "a fact is missing here", "write a fact, as in type:article")
        self.advance()
        assert start is not None
        if not self.next_is("colon"):
            if name.text == "all":
                return Term(
                    "all",
                    negated=negated,
                    domain=self.domain,
                    column=start.column,
                    length=name.column + name.length - start.column,
                )
            if self.bare_words:
                return self.loose_word(name, negated)
            raise self.fail("no-colon", f"{name.text} is no term", self._hint_for_word(name.text), at=name)
        if self.bare_words and not name.text[0].isalpha():
            # No fact begins so: a time, as in 10:30.
            return self.loose_word(name, negated)
        self.advance()
        if self.bare_words and (self.ahead is None or self.next_is("space")) and name.text not in FACTS[self.domain]:
            # A title with a colon, as in Tides: a table.
            return self.search_word(f"{name.text}:", name, name.length + 1, negated)
        fact, key = self.fact(name)
        values: dict[Value, None] = {}
        last = self.value(fact, values)
        while self.next_is("comma"):
            self.advance()
            last = self.value(fact, values)
        return Term(
            fact.name,
            tuple(values),
            key,
            negated,
            self.domain,
            start.column,
            last.column + last.length - start.column,
        )

    def loose_word(self, first: Token, negated: bool) -> Term:
        """A word of a search as it is typed, up to the next space: with the commas and colons of a title."""
        text = first.text
        while self.ahead is not None and self.ahead.kind in ("word", "comma", "colon"):
            text += self.ahead.text
            self.advance()
        return self.search_word(text, first, len(text), negated)

    def search_word(self, text: str, at: Token, length: int, negated: bool = False) -> Term:
        return Term(SEARCH_WORD.name, (Value(text),), "", negated, self.domain, at.column, length)

    def fact(self, name: Token) -> tuple[Fact, str]:
        """The fact that a word names, and its key."""
        facts = FACTS[self.domain]
        base, dot, key = name.text.partition(".")
        fact = facts.get(base)
        if fact is not None and fact.keyed and key:
            return fact, key
        if fact is not None and fact.keyed:
            raise self.fail("no-key", f"{base} lacks the name after its dot", f"write {base}.NAME:VALUE", at=name)
        if fact is not None and not dot:
            return fact, ""
        other: Domain = "visitor" if self.domain == "page" else "page"
        if base in FACTS[other]:
            raise self.fail(
                "wrong-domain",
                f"{base} is a fact of {_DOMAIN_WORDS[other]}, and this query is about {_DOMAIN_WORDS[self.domain]}",
                at=name,
            )
        raise self.fail("unknown-fact", f"there is no fact {name.text}", self._close_facts(name.text), at=name)

    def value(self, fact: Fact, values: dict[Value, None]) -> Token:
        """value = bare | '"' … '"'"""
        token = self.ahead
        if token is None or token.kind not in ("word", "quoted"):
            raise self.fail("no-value", f"a value of {fact.name} is missing here")
        self.advance()
        quoted = token.kind == "quoted"
        if not token.text:
            raise self.fail("no-value", f"a value of {fact.name} is missing here", at=token)
        if not quoted and token.text.startswith("-"):
            raise self.fail(
                "leading-minus",
                f"{token.text} starts with a minus",
                f"to negate, write -{fact.name}:{token.text[1:]}; else quote it",
                at=token,
            )
        try:
            values[fact.read(token.text, quoted)] = None
        except ValueProblem as problem:
            raise self.fail(problem.code, problem.message, problem.hint, at=token) from None
        return token

    def _hint_for_word(self, word: str) -> str:
        if word in FACTS[self.domain]:
            return f"write {word}:VALUE"
        return (
            "write a fact, a colon and a value, as in type:article"
            if self.domain == "page"
            else ("write a fact, a colon and a value, as in signed:in")
        )

    def _close_facts(self, word: str) -> str:
        names = list(FACTS[self.domain])
        close = difflib.get_close_matches(word, names, n=1)
        if close:
            return f"did you mean {close[0]}?"
        told = "facts are " + ", ".join(names)
        return f"{told}; a term is written with its taxonomy, term:{word}/…" if self.domain == "page" else told
