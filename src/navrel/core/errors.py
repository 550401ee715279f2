"""Errors as values: a code for machines, a message for people, and the place it stands."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """One thing that is wrong in a document: where (a JSON Pointer, RFC 6901), what, and what to do.

    ``column`` (from 1) and ``length`` tell where in a query text it stands; 0 where that does not apply. ``hint`` says
    what to write instead, and may be empty.
    """

    pointer: str
    message: str
    code: str = "invalid"
    column: int = 0
    length: int = 0
    hint: str = ""

    def __str__(self) -> str:
        """The problem in one line, for where there are no fields to put its parts in."""
        return _in_one_line(self.message, self.column, self.hint)

    @classmethod
    def of_query(cls, pointer: str, error: QueryError) -> Problem:
        """The problem that a query text at ``pointer`` has."""
        return cls(pointer, error.message, error.code, error.column, error.length, error.hint)


class DocumentError(ValueError):
    """A document cannot be used. Holds every problem found in it, in document order."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("; ".join(f"{problem.pointer or '/'}: {problem}" for problem in problems))
        self.problems = problems


class QueryError(ValueError):
    """A query text cannot be read.

    ``column`` counts characters from 1; ``length`` is how many of them are concerned (at least 1);
    ``hint`` says what to write instead, and may be empty.
    """

    def __init__(self, code: str, message: str, column: int, length: int = 1, hint: str = "") -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.column = column
        self.length = max(1, length)
        self.hint = hint

    def __str__(self) -> str:
        return _in_one_line(self.message, self.column, self.hint)


class ScheduleError(ValueError):
    """A schedule cannot be read. ``hint`` says what to write instead, and may be empty."""

    def __init__(self, code: str, message: str, hint: str = "") -> None:
        super().__init__(_in_one_line(message, 0, hint))
        self.code = code
        self.message = message
        self.hint = hint


class TreeError(ValueError):
    """The pages' parents, or the terms of a taxonomy, form a loop."""

    def __init__(self, loop: tuple[str, ...]) -> None:
        super().__init__("parents form a loop: " + " → ".join(loop))
        self.loop = loop


def _in_one_line(message: str, column: int, hint: str) -> str:
    place = f"column {column}: " if column else ""
    return f"{place}{message} ({hint})" if hint else f"{place}{message}"
