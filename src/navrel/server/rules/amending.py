"""Single pages brought into the reach of a rule, or left out of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from navrel.core.files.writing import write_rule
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.condition import Condition
from navrel.core.pages.page import Page
from navrel.core.questions.amending import NothingLeft, with_pages, without_pages
from navrel.server.api.errors import InTheWay
from navrel.server.edits.services import editing
from navrel.server.sitestate.draft import draft

from .models import Rule
from .services import change_locked, find_newest

_Amend = Callable[[PageIndex, Condition, Sequence[Page]], Condition]


def add_pages(site_slug: str, number: int, paths: Sequence[str], version: int, *, by: Any = None) -> Rule:
    """Let a rule reach these pages too. Raises Missing for a page that there is not, and Outdated."""
    return _amended(site_slug, number, paths, version, with_pages, by)


def leave_out_pages(site_slug: str, number: int, paths: Sequence[str], version: int, *, by: Any = None) -> Rule:
    """Keep these pages out of a rule. Raises Missing, Outdated, and InTheWay where nothing of it would be left."""
    try:
        return _amended(site_slug, number, paths, version, without_pages, by)
    except NothingLeft:
        raise InTheWay(
            "nothing-left", "These are all the pages that the rule reaches", "Switch it off, or remove it."
        ) from None


def _amended(site_slug: str, number: int, paths: Sequence[str], version: int, amend: _Amend, by: Any) -> Rule:
    with editing(site_slug, by) as site:
        find_newest(site, number, version)
        state = draft(site)
        rule = next(one for one in state.layout.rules if one.key == number)
        pages = [state.page(path) for path in dict.fromkeys(paths)]
        condition = amend(state.index, rule.condition, pages)
        return change_locked(site, number, write_rule(replace(rule, condition=condition)))
