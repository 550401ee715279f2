"""Numbers of things and lists of them, in words."""

from collections.abc import Sequence


def count_words(number: int, one: str) -> str:
    """A number of things in words: `1 guard`, `2 guards`."""
    return f"{number:,} {one}{'' if number == 1 else 's'}"


def count_pages(number: int) -> str:
    """A number of pages in words."""
    return count_words(number, "page")


def in_a_row(words: Sequence[str]) -> str:
    """Words as a sentence names them: "a", "a and b", "a, b and c"."""
    *first, last = words
    return f"{', '.join(first)} and {last}" if first else last
