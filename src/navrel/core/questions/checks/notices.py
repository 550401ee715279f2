"""Notices that stand where they lead."""

from __future__ import annotations

from collections.abc import Iterator

from ...cascade.lookup import PageResolver
from ...layout.contents import items_of
from ...layout.model import Piece
from ...pages.page import path_of
from .finding import Finding, Survey


def notices_here(survey: Survey) -> Iterator[Finding]:
    """A rule that brings a notice to the very page that it leads to."""
    tree = survey.index.tree
    # A rule is judged at each rest of a hand, mostly among rules that bring no notice at all.
    brought = {action.piece for rule in survey.layout.rules for action in rule.actions}
    pieces = [piece for piece in survey.layout.pieces.values() if piece.slug in brought]
    leading = {
        piece.slug: led
        for piece in pieces
        if (led := {page.path for path in _led_to(piece) if (page := tree.meant(path))})
    }
    if not leading:
        return
    resolver = PageResolver(survey.index, survey.layout)
    for slug, paths in leading.items():
        for path in sorted(paths):
            number = tree.numbers[path]
            for match in resolver.matches(number)[0]:
                brings = [action.target for action in match.rule.actions if action.piece == slug]
                if any(slug in survey.resolved[target].on(number).pieces for target in brings):
                    yield Finding(
                        "notice-here", "hint", survey.rule_pointer(match.place), match.rule.name,
                        {"piece": survey.name_of(slug)}, pages=(survey.index.tree.pages[number],), page_count=1,
                    )  # fmt: skip


def _led_to(piece: Piece) -> set[str]:
    """The paths that the notices of a piece lead to."""
    hrefs = (item.get("href") for item in items_of(piece.content) if item.get("type") == "notice")
    return {path_of(href) for href in hrefs if isinstance(href, str)}
