"""A layout of a page told in plain values, as the layout file's documentation shows it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..cascade.plain import Outcome
from ..cascade.seating import seated_slots, shown_entries
from ..language.visitor import Lens
from ..layout.document import SiteDocument
from ..layout.model import SLOTS, TEMPLATE, Target
from ..pages.page import Page
from ..pages.tree import PageTree


def described(
    document: SiteDocument, tree: PageTree, page: Page, lens: Lens, outcomes: Mapping[Target, Outcome]
) -> dict[str, Any]:
    """A layout of a page: its template, slots, sidebars, settings, and what has no place."""
    layout = document.layout
    template = outcomes[TEMPLATE]
    named = _named_slots(document, page, template.pieces)
    slots = {target.name: one for target, one in outcomes.items() if target.kind == "slot" and target.name in named}
    seated = seated_slots(layout, page, outcomes, lens, tree)
    return {
        "template": template.pieces[0] if template.pieces else None,
        "template_by": template.by.name if template.by else None,
        "slots": {
            name: {"state": one.state, "pieces": list(one.pieces), "by": one.by.name if one.by else None}
            for name, one in slots.items()
        },
        "entries": {
            slug: [widget.slug for widget in shown_entries(layout, layout.pieces[slug], tree, page, lens)]
            for name, one in slots.items()
            if name in seated
            for slug in one.pieces
            if layout.pieces[slug].kind == "sidebar"
        },
        "settings": {
            target.name: {"value": one.value, "by": one.by.name if one.by else None}
            for target, one in outcomes.items()
            if target.kind == "setting"
        },
        "unseated": [name for name, one in slots.items() if one.pieces and name not in seated],
    }


def _named_slots(document: SiteDocument, page: Page, template: tuple[str, ...]) -> set[str]:
    """The slots that are told of: the standard ones, and what any rule, the page's template or the page names."""
    found = {*SLOTS, *page.own_slots}
    found.update(action.slot for rule in document.layout.rules for action in rule.actions if action.slot)
    for slug in template:
        found.update(document.layout.pieces[slug].slots)
    return found
