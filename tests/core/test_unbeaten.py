"""What is left of a page's rules once those are dropped that are beaten for certain: nobody can tell the difference."""

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.conditions import weigh_audience
from navrel.core.cascade.plain import compare, match_rules, standard_targets
from navrel.core.cascade.strength import acting_on_page, contend
from navrel.core.cascade.unbeaten import unbeaten
from navrel.core.files.reading import read_document
from navrel.core.language.visitor import Lens

from .strategies import layouts, sites
from .test_looks import any_visitor, later


def outcomes(layout, matches, lens):
    acting = acting_on_page(contend(matches, lambda audience: weigh_audience(lens, audience))[0])
    return {
        target: compare(acting.get(target, []), layout, target, locked=False)[0] for target in standard_targets(layout)
    }


@settings(max_examples=60)
@given(sites(), layouts(), any_visitor, later)
def test_without_the_beaten_rules_every_lens_sees_the_same(site, layout, visitor, moment):
    lens = Lens(visitor, moment)
    for page in site.pages:
        matches = match_rules(site, layout, page)[0]
        left = unbeaten(matches, named=True).matches
        assert outcomes(layout, left, lens) == outcomes(layout, matches, lens)


@settings(max_examples=60)
@given(sites(), layouts(), any_visitor, later, st.booleans())
def test_pages_of_one_likeness_get_the_same_of_their_rules(site, layout, visitor, moment, named):
    lens = Lens(visitor, moment)
    known = {}
    for page in site.pages:
        matches = match_rules(site, layout, page)[0]
        found = outcomes(layout, matches, lens)
        shown = {
            target: (one.state, one.pieces, one.value, one.by.name if named and one.by else "")
            for target, one in found.items()
        }
        assert known.setdefault(unbeaten(matches, named=named).likeness, shown) == shown


def left_of(*rules):
    """The names of the rules that are left on the only page, of some that all fill, empty or add to its footer."""
    slugs = ("plain", "grand", "note")
    document = read_document(
        {
            "navrel": 1,
            "site": {"name": "Marrowick Ferries"},
            "pages": [{"path": "/", "title": "Home"}],
            "pieces": [{"slug": slug, "kind": "widget" if slug == "note" else "footer"} for slug in slugs],
            "rules": [
                {
                    "name": name,
                    "priority": priority,
                    "condition": {"include": "all", **({"visitors": {"include": "signed:in"}} if signed else {})},
                    "actions": [{"slot": "footer", **action}],
                }
                for name, priority, signed, action in rules
            ],
        }
    )
    matches = match_rules(document.tree, document.layout, document.pages[0])[0]
    return [match.rule.name for match in unbeaten(matches, named=True).matches]


FILL, ADD, EMPTY = {"do": "fill", "piece": "plain"}, {"do": "append", "piece": "note"}, {"do": "empty"}


def test_what_everyone_gets_beats_all_that_is_weaker():
    assert left_of(("for all", 5, False, FILL), ("weak", 0, False, FILL), ("weak, some", 0, True, FILL)) == ["for all"]


def test_what_only_some_get_beats_nothing_for_certain():
    assert left_of(("some", 5, True, FILL), ("all", 0, False, FILL)) == ["some", "all"]


def test_within_a_rank_a_visitor_clause_may_still_win():
    assert left_of(("all", 0, False, FILL), ("some", 0, True, FILL)) == ["all", "some"]


def test_weaker_additions_stand_beside_a_filling_but_not_beside_an_emptying():
    assert left_of(("fills", 5, False, FILL), ("adds", 0, False, ADD)) == ["fills", "adds"]
    assert left_of(("empties", 5, False, EMPTY), ("adds", 0, False, ADD)) == ["empties"]


def test_a_piece_is_added_once():
    assert left_of(("adds", 5, False, ADD), ("adds again", 0, False, ADD)) == ["adds"]
    assert left_of(("adds for some", 5, True, ADD), ("adds", 0, False, ADD)) == ["adds for some", "adds"]
