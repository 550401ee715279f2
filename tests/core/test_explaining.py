"""Conditions that explain what pages show, against the pages themselves."""

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.bulk import resolve_all
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.binding import Binding, Place, Seat, seats
from navrel.core.layout.model import Action, Layout, Piece, Rule, Target
from navrel.core.questions.explaining import explain

from .strategies import NOW, sites

PIECES = {f"find-{number}": Piece(f"find-{number}", "header", f"Find {number}") for number in range(4)}


@settings(max_examples=60)
@given(sites(), st.data())
def test_rules_of_these_conditions_come_to_what_each_page_shows(site, data):
    """Whatever pages show what: each resolves to its own, and those that show something else to nothing."""
    shown = {page.path: data.draw(st.integers(0, 4), label=page.path) for page in site.pages}
    groups = [[path for path, one in shown.items() if one == number] for number in range(4)]
    groups = sorted((one for one in groups if len(one) > 1), key=lambda paths: (-len(paths), paths))
    told = {path for paths in groups for path in paths}
    alone = [path for path, one in shown.items() if one < 4 and path not in told]
    conditions = explain(PageIndex(site), groups, alone)
    rules = tuple(
        Rule(f"rule {number}", condition, (Action("fill", "header", f"find-{number}"),))
        for number, condition in reversed(list(enumerate(conditions)))
        if condition is not None
    )
    index = PageIndex(site)
    resolved = resolve_all(index, Layout(PIECES, rules), Lens(Visitor(), NOW))[Target("slot", "header")]
    for number, page in enumerate(site.pages):
        wanted = next(((f"find-{at}",) for at, paths in enumerate(groups) if page.path in paths), ())
        if wanted or page.path in alone:
            assert resolved.on(number).pieces == wanted or _is_locked(page), (page.path, conditions)


def _is_locked(page):
    return "header" in page.locks


def test_of_a_slot_the_first_binding_counts_that_finds_a_place_and_none_inside_another():
    places = {
        "a": Place(10, 50), "b": Place(20, 30), "c": Place(50, 60), "d": None, "e": Place(60, 60), "f": Place(5, 9),
    }  # fmt: skip
    bindings = (
        Binding("footer", "d"), Binding("footer", "c"), Binding("footer", "f"), Binding("title", "b"),
        Binding("header", "a"), Binding("above-footer", "e", "before"),
    )  # fmt: skip
    assert seats(bindings, lambda one: places[one.selector]) == (
        Seat("header", 10, 50), Seat("footer", 50, 60), Seat("above-footer", 60, 60),
    )  # fmt: skip
