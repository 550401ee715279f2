"""Impact against both states resolved plainly, through every lens."""

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade import resolve_page, shown_entries
from navrel.core.document import SiteDocument
from navrel.core.impact import impact
from navrel.core.index import PageIndex
from navrel.core.model import Lens

from .strategies import NOW, TERM_PARENTS, layouts, sites
from .test_looks import any_visitor, later, lets_in


def state(site, layout):
    from navrel.core.document import Taxonomy, TaxonomyTerm

    terms = tuple(TaxonomyTerm(slug, slug, (TERM_PARENTS.get(f"topic/{slug}") or "topic/").split("/")[1] or None)
                  for slug in ("sea", "gulls", "food"))  # fmt: skip
    document = SiteDocument(
        "Marrowick", "marrowick", taxonomies=(Taxonomy("topic", "Topics", terms),), pages=site.pages, layout=layout
    )
    return document, PageIndex(document.site())


@st.composite
def edited(draw, layout):
    """The layout with something about it changed."""
    other = draw(layouts())
    rules = list(layout.rules)
    how = draw(st.sampled_from(("nothing", "add", "remove", "switch", "move", "default", "all")))
    if how == "all":
        return other
    if how == "default":
        return replace(layout, default_template=other.default_template)
    if how == "add" and other.rules:
        rules.insert(draw(st.integers(0, len(rules))), replace(other.rules[0], name="new"))
    elif rules and how != "nothing":
        rule = rules.pop(draw(st.integers(0, len(rules) - 1)))
        if how != "remove":
            rules.insert(
                draw(st.integers(0, len(rules))) if how == "move" else 0, replace(rule, on=rule.on != (how == "switch"))
            )
    return replace(layout, rules=tuple(rules))


def shown(layout, site, page, lens):
    """What each target shows, and by whom, with the widgets of its sidebars."""
    found = {}
    for target, trace in resolve_page(site, layout, page, lens).items():
        one = trace.outcome
        widgets = [
            w.slug
            for slug in one.pieces
            if slug in layout.pieces
            for w in shown_entries(layout, layout.pieces[slug], site, page, lens)
        ]
        found[target] = (one.state, one.pieces, one.value, tuple(widgets))
    return found


@settings(max_examples=120)
@given(sites(), layouts(), st.data())
def test_every_lens_sees_the_shifts_that_it_resolves_to(site, layout, data):
    before, before_index = state(site, layout)
    after, after_index = state(site, data.draw(edited(layout)))
    found = impact(before, before_index, after, after_index, NOW)
    assert found.untold == ()
    lens = Lens(data.draw(any_visitor), data.draw(later))
    for page in site.pages:
        old, new = (shown(one.layout, site, page, lens) for one in (before, after))
        differing = {target for target in old.keys() & new.keys() if old[target] != new[target]}
        told = {
            shift.target
            for shift in found.shifts
            if page in shift.pages
            for sighting in shift.seen
            if lets_in(sighting, lens.visitor) and any(lens.moment in span for span in sighting.spans)
        }
        possible = {shift.target for shift in found.shifts if page in shift.pages}
        assert told <= differing <= possible
        for shift in found.shifts:
            assert (
                shift.before is None
                or shift.after is None
                or shift.before != shift.after
                or shift.widgets[0] != shift.widgets[1]
            )


@given(sites(), layouts())
def test_nothing_differs_between_equal_states(site, layout):
    one, index = state(site, layout)
    assert impact(one, index, one, index, NOW).shifts == ()


def test_pages_that_come_and_go_shift_to_and_from_nothing():
    from .test_questions import header
    from .test_questions import state as small

    before = small(header("site", "all", "main"))
    after = replace(before, pages=(*before.pages[:2], replace(before.pages[0], path="/c")))
    found = impact(before, PageIndex(before.site()), after, PageIndex(after.site()), NOW)
    assert {(shift.pages[0].path, shift.before and shift.before.pieces, shift.after and shift.after.pieces) for shift in found.shifts} == {
        ("/c", None, ("main",)), ("/b", ("main",), None),
    }  # fmt: skip
    assert found.paths == {"/b", "/c"}
