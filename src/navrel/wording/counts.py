"""Numbers of things, in words."""


def count_pages(number: int) -> str:
    """A number of pages in words."""
    return "1 page" if number == 1 else f"{number:,} pages"
