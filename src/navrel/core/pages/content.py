"""What a page's own content says of itself to the checks."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ContentFacts:
    """What is found in one content.

    ``links``: the addresses that it leads to, as they stand; ``headings``: their levels, 1 to 6, in order;
    ``unnamed``: pictures without a text in their place; ``twice``: ids that more than one of its elements has.
    """

    links: tuple[str, ...] = ()
    headings: tuple[int, ...] = ()
    unnamed: int = 0
    twice: tuple[str, ...] = ()
