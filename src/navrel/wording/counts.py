"""Numbers of things, in words."""


def count_words(number: int, one: str) -> str:
    """A number of things in words: `1 guard`, `2 guards`."""
    return f"{number:,} {one}{'' if number == 1 else 's'}"


def count_pages(number: int) -> str:
    """A number of pages in words."""
    return count_words(number, "page")
