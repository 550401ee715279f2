"""Liquid as it is written in pieces: no files, no scripts, and an end to everything.

Loops, output, what is kept in names and time are bounded; so is every value that a filter takes or gives, since a few
words can ask for billions of characters.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from functools import lru_cache, wraps
from io import StringIO
from typing import Any

from liquid import BoundTemplate, Environment, RenderContext
from liquid.ast import Node
from liquid.builtin.expressions.primitive import RangeLiteral
from liquid.exceptions import FilterArgumentError, LiquidError, ResourceLimitError
from liquid.expression import Expression
from liquid.limits import to_int
from liquid.output import LimitedStringIO
from liquid.token import Token
from liquid.undefined import UNDEFINED

from .asking import ItemTag
from .filters import OWN_FILTERS

MAX_LOOPS = 1000
MAX_OUTPUT = 200_000
MAX_KEPT = 100_000
MAX_SECONDS = 0.5
#: The longest text, the longest list and the largest number that a filter takes or gives.
MAX_TEXT, MAX_LIST, MAX_NUMBER = 20_000, 2000, 10**15
#: The longest text that is put in place of another, or between others.
MAX_INSERTED = 1000
#: The longest markup.
MAX_CODE = 100_000

_TAGS = (
    "if", "unless", "case", "for", "break", "continue", "assign", "capture", "cycle", "comment", "#", "echo",
)  # fmt: skip
_FILTERS = (
    "abs", "append", "at_least", "at_most", "capitalize", "ceil", "compact", "concat", "default", "divided_by",
    "downcase", "escape", "find", "first", "floor", "has", "join", "last", "lstrip", "map", "minus", "modulo",
    "newline_to_br", "plus", "prepend", "reject", "remove", "remove_first", "remove_last", "replace", "replace_first",
    "replace_last", "reverse", "round", "rstrip", "size", "slice", "sort", "sort_natural", "split", "squish", "strip",
    "strip_html", "sum", "times", "truncate", "truncatewords", "uniq", "upcase", "url_encode", "where",
)  # fmt: skip
_INSERTING = ("join", "replace", "replace_first", "replace_last")


class MarkupError(Exception):
    """What is wrong with markup, for people. ``line`` counts from 1; 0 for the end of the text."""

    def __init__(self, message: str, line: int = 0) -> None:
        super().__init__(message)
        self.message, self.line = message, line

    def __str__(self) -> str:
        return f"line {self.line}: {self.message}" if self.line else self.message


class _TooLong(ResourceLimitError):
    """Something took too long, or grew too large."""


def _in_time(ends: float, token: Token | None = None) -> None:
    if time.monotonic() > ends:
        raise _TooLong(f"this takes longer than {MAX_SECONDS} seconds", token=token)


class _Context(RenderContext):
    """Looks whether the time is up whenever a value is asked for."""

    __slots__ = ("ends",)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.ends = time.monotonic() + MAX_SECONDS

    def get(self, path: list[object], *, token: Token | None, default: object = UNDEFINED) -> object:
        _in_time(self.ends, token)
        return super().get(path, token=token, default=default)


class _Buffer(LimitedStringIO):
    """Looks whether the time is up whenever something is written."""

    def __init__(self) -> None:
        super().__init__(limit=MAX_OUTPUT)
        self.ends = time.monotonic() + MAX_SECONDS

    def write(self, text: str) -> int:
        _in_time(self.ends)
        return super().write(text)


class _Template(BoundTemplate):
    context_class = _Context

    def _get_buffer(self) -> StringIO:
        return _Buffer()


class _Liquid(Environment):
    loop_iteration_limit = MAX_LOOPS
    local_namespace_limit = MAX_KEPT
    output_stream_limit = MAX_OUTPUT
    template_class = _Template


def _bounded(name: str, apply: Callable[..., Any]) -> Callable[..., Any]:
    """A filter all of whose values are checked for their size."""

    @wraps(apply)
    def checked(value: Any, *args: Any, **kwargs: Any) -> Any:
        for one in (value, *args):
            _check(one)
        if name in _INSERTING and any(isinstance(one, str) and len(one) > MAX_INSERTED for one in args):
            raise FilterArgumentError(f"{name} puts in at most {MAX_INSERTED} characters", token=None)
        found = apply(value, *args, **kwargs)
        _check(found)
        return found

    return checked


def _check(value: object) -> None:
    if isinstance(value, str) and len(value) > MAX_TEXT:
        raise _TooLong(f"a text of more than {MAX_TEXT:,} characters", token=None)
    if isinstance(value, range | list | tuple | Mapping) and _length(value) > MAX_LIST:
        raise _TooLong(f"a list of more than {MAX_LIST:,}", token=None)
    if isinstance(value, int | float) and not abs(value) <= MAX_NUMBER:
        raise _TooLong("a number of more than fifteen digits", token=None)


def _length(value: range | list[Any] | tuple[Any, ...] | Mapping[Any, Any]) -> int:
    # The length of a long range does not fit where Python keeps lengths.
    return abs(value.stop - value.start) if isinstance(value, range) else len(value)


#: What the environment keeps beside the tags that are written: text, output, and what is none of its tags.
_INNER = ("content", "output", "illegal")


@lru_cache
def _environment() -> Environment:
    found = _Liquid(autoescape=True, strict_filters=True)
    found.tags = {name: found.tags[name] for name in (*_TAGS, *_INNER)}
    found.add_tag(ItemTag)
    every = {**{name: found.filters[name] for name in _FILTERS}, **OWN_FILTERS}
    found.filters = {name: _bounded(name, apply) for name, apply in every.items()}
    return found


def filter_names() -> tuple[str, ...]:
    """The names of all filters."""
    return tuple(sorted(_environment().filters))


def tag_names() -> tuple[str, ...]:
    """The names of all tags."""
    return (*(name for name in _TAGS if name != "#"), ItemTag.name)


@lru_cache(maxsize=512)
def read_markup(code: str) -> BoundTemplate:
    """Read markup, once for each text. Raises MarkupError."""
    if len(code) > MAX_CODE:
        raise MarkupError(f"markup has at most {MAX_CODE:,} characters; this has {len(code):,}")
    try:
        template = _environment().from_string(code)
        for node in template.nodes:
            _check_ranges(node)
    except LiquidError as error:
        raise _told(error) from None
    except RecursionError:
        raise MarkupError("this is nested too deep") from None
    return template


def _check_ranges(node: Node) -> None:
    """Ranges are between two numbers that are written out, and short: what is counted is counted before it is done."""
    for expression in node.expressions():
        _check_expression(expression)
    for child in node.children(_NO_CONTEXT, include_partials=False):
        _check_ranges(child)


_NO_CONTEXT: Any = None


def _check_expression(expression: Expression) -> None:
    if isinstance(expression, RangeLiteral):
        ends = [str(expression.start), str(expression.stop)]
        if not all(end.lstrip("-").isdigit() and len(end) < 7 for end in ends):
            raise FilterArgumentError("a range is between two numbers that are written out", token=expression.token)
        if abs(to_int(ends[1]) - to_int(ends[0])) > MAX_LOOPS:
            raise FilterArgumentError(f"a range has at most {MAX_LOOPS:,} numbers", token=expression.token)
    for child in expression.children():
        _check_expression(child)


def fill_in_markup(template: BoundTemplate, told: Mapping[str, object]) -> str:
    """Markup with what it asks for filled in, escaped. Raises MarkupError."""
    try:
        return template.render(**told)
    except LiquidError as error:
        raise _told(error) from None
    except (ArithmeticError, ValueError, TypeError, RecursionError) as error:
        raise MarkupError(f"this cannot be worked out: {error}") from None


def _told(error: LiquidError) -> MarkupError:
    message = str(error.args[0]) if error.args else "this cannot be read"
    try:
        found = error.context()
    except ValueError:
        found = None
    return MarkupError(message.replace("found end of expression", "found nothing"), found[0] if found else 0)
