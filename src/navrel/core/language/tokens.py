"""Query text to tokens. One pass, no backtracking; every token knows its column."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from ..errors import QueryError

#: Longest query text that is read, in characters: some 4,000 hand-picked pages.
MAX_QUERY_LENGTH = 100_000

TokenKind = Literal["not", "word", "colon", "comma", "bar", "space", "quoted"]

_SPACE = re.compile(r"\s+")
#: A word before a colon (a fact), or a bare value after one; the parser knows which is due.
_FACT = re.compile(r'[^\s,|":]+')
_VALUE = re.compile(r'[^\s,|"]+')
_SINGLE: dict[str, TokenKind] = {",": "comma", "|": "bar"}


@dataclass(frozen=True)
class Token:
    """A piece of query text. ``column`` counts from 1; ``text`` is unescaped for quoted values."""

    kind: TokenKind
    text: str
    column: int
    length: int


def tokenize(text: str) -> Iterator[Token]:
    """The tokens of ``text``, left to right.

    Raises QueryError for a text over MAX_QUERY_LENGTH, an unclosed quote and an unknown escape.
    """
    if len(text) > MAX_QUERY_LENGTH:
        raise QueryError(
            "too-long",
            f"the query is {len(text):,} characters long; {MAX_QUERY_LENGTH:,} is the most",
            MAX_QUERY_LENGTH + 1,
            hint="describe the pages by what they have in common",
        )
    at = 0
    value_due = False
    term_starts = True
    while at < len(text):
        char = text[at]
        start = at
        if match := _SPACE.match(text, at):
            at = match.end()
            yield Token("space", match.group(), start + 1, at - start)
            value_due, term_starts = False, True
        elif char in _SINGLE:
            at += 1
            yield Token(_SINGLE[char], char, start + 1, 1)
            value_due, term_starts = char == ",", char == "|"
        elif char == '"':
            value, at = _quoted(text, at)
            yield Token("quoted", value, start + 1, at - start)
            value_due = term_starts = False
        elif char == "-" and term_starts:
            at += 1
            yield Token("not", char, start + 1, 1)
            term_starts = False
        elif char == ":" and not value_due:
            at += 1
            yield Token("colon", char, start + 1, 1)
            value_due, term_starts = True, False
        else:
            match = (_VALUE if value_due else _FACT).match(text, at)
            assert match is not None, "every other character starts a word"
            at = match.end()
            yield Token("word", match.group(), start + 1, at - start)
            value_due = term_starts = False


def _quoted(text: str, start: int) -> tuple[str, int]:
    """The value of the quoted text that opens at ``start``, and the place after its closing quote."""
    parts: list[str] = []
    at = start + 1
    while at < len(text):
        char = text[at]
        if char == '"':
            return "".join(parts), at + 1
        if char == "\\":
            escaped = text[at + 1 : at + 2]
            if escaped not in ('"', "\\"):
                raise QueryError(
                    "bad-escape", f"unknown escape \\{escaped}", at + 1, 2, 'only \\" and \\\\ are escapes'
                )
            parts.append(escaped)
            at += 2
        else:
            parts.append(char)
            at += 1
    raise QueryError("unclosed-quote", "this quote is never closed", start + 1, hint='add a closing "')
