"""Which characters a text may hold: those that people can see, and white space.

What cannot be seen can make two names look alike, turn the order of what is read, or end a text early for another
program: control characters, lone surrogates, marks of direction, invisible ones and tags (Unicode Standard, general
categories Cc, Cs and Cf; Unicode Technical Report 36).
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Mapping
from typing import NamedTuple

#: Anything outside these needs no closer look: printable ASCII and what other letters are made of.
_SUSPECT = re.compile("[^\t\n\r -~\u00a1-\u00ac\u00ae-\u0378\u0400-\u052f\u4e00-\u9fff]")
#: Joiners that some scripts and emoji need between two of their characters.
_JOINERS = "\u200c\u200d"
#: Blank letters: letters by category, yet nothing is to be seen of them.
_BLANKS = frozenset("\u115f\u1160\u17b4\u17b5\u3164\uffa0\u2800")
_UNFIT = frozenset({"Cc", "Cs", "Cf"})

#: Deepest nesting of a document, and most values in it.
MAX_DEPTH = 40
MAX_VALUES = 2_000_000


class Unfit(NamedTuple):
    """A character that a text may not hold, and its place, from 0."""

    place: int
    character: str

    @property
    def message(self) -> str:
        name = unicodedata.name(self.character, "") or _kind(self.character)
        return f"this holds a character that cannot be seen: U+{ord(self.character):04X} ({name.lower()})"


def unfit(text: str) -> Unfit | None:
    """The first character that a text may not hold; None where it is fit."""
    for match in _SUSPECT.finditer(text):
        place, character = match.start(), match[0]
        if character in _BLANKS or ord(character) & 0xFFFE == 0xFFFE:
            return Unfit(place, character)
        if unicodedata.category(character) in _UNFIT and not _joins(text, place):
            return Unfit(place, character)
    return None


def _joins(text: str, place: int) -> bool:
    """Whether a joiner stands between two characters that it can join."""
    between = text[place - 1 : place] + text[place + 1 : place + 2]
    return text[place] in _JOINERS and len(between) == 2 and not between.isascii() and not between.isspace()


def _kind(character: str) -> str:
    category = unicodedata.category(character)
    return {"Cc": "control character", "Cs": "half of a surrogate pair"}.get(category, "no character")


def fit(text: str, most: int) -> str:
    """A text from outside without the characters that it may not hold, at most so many of them."""
    if unfit(text):
        text = "".join(character for character in text if character in _JOINERS or not unfit(character))
    return text[:most]


class Misfit(NamedTuple):
    """What is wrong in a tree of plain values, and the JSON Pointer (RFC 6901) of the place."""

    pointer: str
    message: str


def misfit(tree: object) -> Misfit | None:
    """The first text or key of a tree of plain values that holds an unfit character, or a tree that is too deep."""
    for count, (value, pointer, depth) in enumerate(_walk(tree)):
        if depth > MAX_DEPTH:
            return Misfit(pointer, f"this is nested more than {MAX_DEPTH} deep")
        if count > MAX_VALUES:
            return Misfit("", f"this holds more than {MAX_VALUES:,} values")
        if isinstance(value, str) and (found := unfit(value)):
            return Misfit(pointer, found.message)
    return None


def _walk(tree: object) -> Iterator[tuple[object, str, int]]:
    """Every value and key of a tree, each with its pointer and depth; not by recursion, as the depth is unknown."""
    waiting: list[tuple[object, str, int]] = [(tree, "", 0)]
    while waiting:
        value, pointer, depth = waiting.pop()
        yield value, pointer, depth
        if depth > MAX_DEPTH:
            continue
        if isinstance(value, Mapping):
            for key, inner in value.items():
                yield key, f"{pointer}/{escape(str(key))}", depth
                waiting.append((inner, f"{pointer}/{escape(str(key))}", depth + 1))
        elif isinstance(value, list):
            waiting.extend((inner, f"{pointer}/{number}", depth + 1) for number, inner in enumerate(value))


def escape(key: str) -> str:
    """A key as a step of a JSON Pointer (RFC 6901 section 3)."""
    return key.replace("~", "~0").replace("/", "~1").encode("utf-8", "replace").decode()
