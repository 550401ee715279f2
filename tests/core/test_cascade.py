"""The cascade in worked examples, each a sentence of the design."""

from datetime import datetime

import pytest

from navrel.core.cascade.plain import resolve_page, trace
from navrel.core.cascade.seating import seated_slots, shown_entries
from navrel.core.files.reading import read_document
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.model import TEMPLATE, Target

HEADER, FOOTER, ABOVE = (Target("slot", slot) for slot in ("header", "footer", "above-footer"))
NOW = datetime(2026, 11, 23, 12)
ANYONE = Lens(Visitor(), NOW)
CREW = Lens(Visitor("in", frozenset({"crew"})), NOW)


def site_with(*rules, pages=(), **site):
    """A small site: three ticket pages and a journal, some pieces, and these rules."""
    document = read_document(
        {
            "navrel": 1,
            "site": {"name": "Marrowick Ferries", **site},
            "pages": [
                {"path": "/", "kind": "home"},
                {"path": "/tickets", "kind": "listing"},
                {"path": "/tickets/pay", "type": "checkout"},
                {"path": "/tickets/help", "locks": ["footer"]},
                *pages,
            ],
            "pieces": [
                {"slug": "main", "kind": "header"},
                {"slug": "slim", "kind": "header"},
                {"slug": "foot", "kind": "footer"},
                {"slug": "note", "kind": "widget"},
                {"slug": "call", "kind": "widget", "slots": ["inner"]},
                {
                    "slug": "desk",
                    "kind": "sidebar",
                    "entries": [
                        {"piece": "note", "condition": {"exclude": "type:checkout"}},
                        {"piece": "call", "condition": {"visitors": {"include": "role:crew"}}},
                    ],
                },
                {"slug": "plain", "kind": "template", "slots": ["header", "footer"]},
            ],
            "rules": [
                {"name": name, "condition": condition, "actions": list(actions), **more}
                for name, condition, actions, more in rules
            ],
        }
    )
    return document.tree, document.layout


def rule(name, include, *actions, exclude="", visitors="", **more):
    return name, {"include": include, "exclude": exclude, "visitors": {"include": visitors}}, actions, more


def fill(slot, piece, **more):
    return {"do": "fill", "slot": slot, "piece": piece, **more}


def empty(slot):
    return {"do": "empty", "slot": slot}


def add(do, slot, piece):
    return {"do": do, "slot": slot, "piece": piece}


def look(rules, path, target, lens=ANYONE):
    """The trace of one target, and the states of its entries by rule."""
    site, layout = site_with(*rules)
    page = site.page(path)
    assert page is not None
    found = trace(site, layout, page, lens, target)
    return found, {entry.rule.name: entry.state for entry in found.entries}


def test_priority_beats_specificity():
    found, states = look(
        [
            rule("one page", "page:/tickets/pay", fill("header", "slim")),
            rule("high", "all", fill("header", "main"), priority=1),
        ],
        "/tickets/pay",
        HEADER,
    )
    assert found.outcome.pieces == ("main",)
    assert states == {"high": "won", "one page": "outranked"}
    assert found.runner_up.on == "priority"


def test_specificity_beats_order():
    found, _ = look(
        [rule("site", "all", fill("header", "main")), rule("checkout", "type:checkout", fill("header", "slim"))],
        "/tickets/pay",
        HEADER,
    )
    assert found.outcome.pieces == ("slim",)
    assert found.runner_up.on == "specificity"
    assert str(found.decider.strength.specificity) == "0 · 0 · 1 · 0"


def test_the_rule_higher_in_the_list_wins_a_tie():
    found, states = look(
        [rule("first", "all", fill("header", "main")), rule("second", "all", fill("header", "slim"))], "/", HEADER
    )
    assert states == {"first": "won", "second": "outranked"}
    assert found.runner_up.on == "order"


def test_the_greatest_of_several_matching_clauses_counts():
    found, _ = look([rule("r", "all | within:/tickets type:checkout", fill("header", "main"))], "/tickets/pay", HEADER)
    assert tuple(found.decider.strength.specificity) == (0, 1, 1, 0)


def test_a_visitor_clause_adds_to_specificity():
    rules = [
        rule("everyone", "all", fill("header", "main")),
        rule("crew", "all", fill("header", "slim"), visitors="signed:in role:crew"),
    ]
    found, _ = look(rules, "/", HEADER, CREW)
    assert found.outcome.pieces == ("slim",)
    assert found.decider.strength.specificity.audience == 2
    found, states = look(rules, "/", HEADER)
    assert found.outcome.pieces == ("main",)
    assert states["crew"] == "visitor"


def test_an_empty_decider_drops_weaker_additions_and_keeps_stronger_ones():
    found, states = look(
        [
            rule("pinned note", "page:/tickets/pay", add("append", "above-footer", "call")),
            rule("quiet", "type:checkout", empty("above-footer")),
            rule("notice", "all", add("append", "above-footer", "note")),
        ],
        "/tickets/pay",
        ABOVE,
    )
    assert found.outcome.state == "filled"
    assert found.outcome.pieces == ("call",)
    assert states == {"pinned note": "added", "quiet": "won", "notice": "cleared"}


def test_additions_stand_around_the_filler_strongest_first():
    found, states = look(
        [
            rule("weak", "all", add("prepend", "above-footer", "call")),
            rule("strong", "within:/tickets", fill("above-footer", "note"), add("append", "above-footer", "note")),
        ],
        "/tickets/pay",
        ABOVE,
    )
    assert found.outcome.pieces == ("call", "note")
    assert states["weak"] == "added"
    assert [entry.state for entry in found.entries] == ["won", "duplicate", "added"]


def test_what_a_page_has_there_stays_only_where_nothing_fills_a_slot_or_leaves_it_empty():
    notes = [
        rule("before", "all", add("prepend", "above-footer", "call")),
        rule("after", "all", add("append", "above-footer", "note")),
    ]
    found, _ = look(notes, "/", ABOVE)
    assert (found.outcome.pieces, found.outcome.own_at, found.outcome.is_open) == (("call", "note"), 1, True)
    assert found.outcome.around(("own",)) == ("call", "own", "note")
    for decided in (fill("above-footer", "note"), empty("above-footer")):
        found, _ = look([*notes, rule("weak", "all", decided)], "/", ABOVE)
        assert (found.outcome.own_at, found.outcome.is_open) == (None, False)
    found, _ = look([], "/", ABOVE)
    assert (found.outcome.own_at, found.outcome.is_open, found.outcome.around(("own",))) == (None, True, ("own",))


def test_an_exclusive_fill_keeps_its_own_additions():
    found, _ = look(
        [
            rule("own", "all", fill("above-footer", "note", exclusive=True), add("append", "above-footer", "call")),
            rule("other", "all", add("prepend", "above-footer", "call")),
        ],
        "/",
        ABOVE,
    )
    assert found.outcome.pieces == ("note", "call")


def test_a_locked_slot_is_locked_whatever_contends():
    found, states = look([rule("foot", "all", fill("footer", "foot"))], "/tickets/help", FOOTER)
    assert found.outcome.state == "locked"
    assert states == {"foot": "locked"}


@pytest.mark.parametrize(
    ("more", "state"),
    [({"on": False}, "off"), ({"exclude": "type:checkout"}, "excluded"), ({"visitors": "role:crew"}, "visitor")],
)
def test_a_rule_that_stands_aside_says_why(more, state):
    include = "all"
    _, states = look([rule("r", include, fill("header", "main"), **more)], "/tickets/pay", HEADER)
    assert states == {"r": state}


def test_off_names_the_state_before_everything_else():
    _, states = look([rule("r", "page:/nowhere", fill("footer", "foot"), on=False)], "/tickets/help", FOOTER)
    assert states == {"r": "off"}


def test_excluded_names_the_clause():
    found, _ = look(
        [rule("r", "all", fill("header", "main"), exclude="kind:home | type:checkout")], "/tickets/pay", HEADER
    )
    assert found.entries[0].clause == "type:checkout"


def test_nothing_set_and_left_empty_are_told_apart():
    assert look([], "/", FOOTER)[0].outcome.state == "unset"
    assert look([rule("r", "all", empty("footer"))], "/", FOOTER)[0].outcome.state == "empty"


def test_a_pin_beats_what_reaches_more_and_loses_to_what_asks_for_more():
    rules = [
        rule("section", "within:/tickets type:checkout", fill("header", "main")),
        rule("pin", "page:/tickets/pay", fill("header", "slim")),
        rule("crew pin", "page:/tickets/pay", fill("header", "main"), visitors="role:crew"),
    ]
    assert look(rules, "/tickets/pay", HEADER)[0].outcome.by.name == "pin"
    assert look(rules, "/tickets/pay", HEADER, CREW)[0].outcome.by.name == "crew pin"


def test_the_default_template_is_used_where_no_rule_says():
    site, layout = site_with(default_template="plain")
    found = resolve_page(site, layout, site.page("/"), ANYONE)[TEMPLATE]
    assert (found.outcome.pieces, found.outcome.by) == (("plain",), None)


def test_a_sidebar_shows_the_entries_that_hold_here():
    site, layout = site_with()
    desk = layout.pieces["desk"]
    shown = lambda path, lens: [piece.slug for piece in shown_entries(layout, desk, site, site.page(path), lens)]  # noqa: E731
    assert shown("/", ANYONE) == ["note"]
    assert shown("/tickets/pay", ANYONE) == []
    assert shown("/tickets/pay", CREW) == ["call"]


def test_a_slot_held_by_a_shown_piece_is_seated():
    rules = [rule("r", "all", {"do": "use", "template": "plain"}, fill("inner", "note"))]
    site, layout = site_with(
        *rules, rule("deep", "kind:home", fill("aside-end", "desk"), add("append", "header", "call"))
    )

    def seated(path):
        page = site.page(path)
        traces = resolve_page(site, layout, page, ANYONE)
        return seated_slots(layout, page, {one: found.outcome for one, found in traces.items()}, ANYONE, site)

    assert "inner" in seated("/")
    assert "inner" not in seated("/tickets")
    assert "aside-end" not in seated("/")
