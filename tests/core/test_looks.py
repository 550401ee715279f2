"""Looks against the plain resolver: every lens sees exactly one look, the one that it resolves to."""

from datetime import datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.calendar.schedule import MAX_SPANS
from navrel.core.cascade.conditions import Unmet, weigh_audience
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import shown_sidebars
from navrel.core.index.page_index import PageIndex
from navrel.core.language.facts import BROWSERS, DEVICES
from navrel.core.language.holding import visitor_term_holds
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.condition import Audience
from navrel.core.lenses.audience_table import audience_table
from navrel.core.lenses.looks import page_looks, site_looks
from navrel.core.lenses.space import LensSpace
from navrel.core.lenses.visitors import TooManyCombinations, VisitorSpace

from .strategies import NOW, layouts, queries, schedules, sites, visitor_terms

any_visitor = st.builds(
    lambda signed, roles, **more: Visitor("in" if signed else "out", roles if signed else frozenset(), **more),
    st.booleans(),
    st.frozensets(st.sampled_from(("crew", "passholder"))),
    device=st.sampled_from(DEVICES),
    browser=st.sampled_from(BROWSERS),
    accepts=st.lists(st.sampled_from(("nb", "nb-NO", "en", "de-CH")), unique=True, max_size=2).map(tuple),
    query=st.sampled_from(({}, {"campaign": "spring"}, {"campaign": "autumn"}, {"campaign": "x", "ref": "a"})),
    referrer=st.sampled_from(("", "example.org", "news.example.org", "other.example")),
)
later = st.integers(0, 200 * 24).map(lambda hours: NOW + timedelta(hours=hours))


def lets_in(sighting, visitor):
    holds = lambda term: visitor_term_holds(visitor, term)  # noqa: E731
    return not sighting.visitors or bool(sighting.visitors.matching(holds))


@settings(max_examples=50)
@given(sites(), layouts(), st.data())
def test_every_lens_sees_exactly_one_look_and_it_is_the_one_it_resolves_to(site, layout, data):
    page = data.draw(st.sampled_from(site.pages))
    found = page_looks(site, layout, page, NOW)
    lens = Lens(data.draw(any_visitor), data.draw(later))
    seen = [look for look in found.looks for sighting in look.seen if sighting.admits(lens)]
    if found.seen_until and lens.moment >= found.seen_until:
        return
    plain = {target: trace.outcome for target, trace in resolve_page(site, layout, page, lens).items()}
    shows = lambda outcomes: {t: (o.state, o.pieces, o.value) for t, o in outcomes.items()}  # noqa: E731
    alike = [look for look in found.looks if shows(look.outcomes) == shows(plain)
             and look.entries == shown_sidebars(site, layout, page, lens, plain)]  # fmt: skip
    assert len(alike) == 1, "looks are distinct, and none is missing"
    assert seen == alike, "each is seen by those to whom it is told to be seen, however much later"
    assert alike[0].lens.moment >= NOW


@settings(max_examples=60)
@given(sites(), layouts())
def test_a_class_has_the_looks_of_each_of_its_pages(site, layout):
    found = list(site_looks(PageIndex(site), layout, NOW))
    assert sorted(page.path for pages, _ in found for page in pages) == sorted(page.path for page in site.pages)
    for pages, looks in found:
        for page in pages:
            alone = page_looks(site, layout, page, NOW)
            assert [(look.outcomes, look.entries, look.seen) for look in looks.looks] == [
                (look.outcomes, look.entries, look.seen) for look in alone.looks
            ]


@given(queries(visitor_terms()), queries(visitor_terms()), any_visitor)
def test_a_space_grades_visitors_as_the_plain_test_does(include, exclude, visitor):
    """A visitor's row is found by its description, and has the grade that the visitor has."""
    audience = Audience(include, exclude)
    space = LensSpace([audience], NOW)
    plain = weigh_audience(Lens(visitor, NOW), audience)
    holding = [
        grades
        for grades, cells in space.cells.items()
        for sighting in space.sightings(cells)
        if lets_in(sighting, visitor)
    ]
    assert holding == [(None if isinstance(plain, Unmet) else plain,)]


def described(text):
    """How the visitors that a query lets in are described again."""
    query = parse_query(text, "visitor")
    space = VisitorSpace(query.terms)
    return str(space.query(space.grades(Audience(query)) >= 0))


@pytest.mark.parametrize(
    ("text", "again"),
    [
        ("signed:in", "signed:in"),
        ("-role:crew", "-role:crew"),
        ("role:crew signed:in", "role:crew"),
        ("device:phone,tablet,desktop", ""),
        ("-device:phone browser:safari", "-device:phone browser:safari"),
        ("accepts:nb -accepts:nb-NO", "accepts:nb -accepts:nb-no"),
        ("query.campaign:spring", "query.campaign:spring"),
        ("query.campaign:* -query.campaign:spring", "query.campaign:* -query.campaign:spring"),
        ("-query.campaign:*", "-query.campaign:*"),
        ("referrer:example.org", "referrer:example.org"),
    ],
)
def test_visitors_are_described_in_their_own_language(text, again):
    assert described(text) == again


@pytest.mark.parametrize("text", ["signed:out role:crew", "device:phone device:tablet", "signed:in signed:out",
                                  "accepts:nb-NO -accepts:nb", "query.a:b query.a:c"])  # fmt: skip
def test_visitors_that_cannot_be_are_in_no_space(text):
    query = parse_query(text, "visitor")
    assert (VisitorSpace(query.terms).grades(Audience(query)) == -1).all()


def test_more_combinations_than_can_be_told_apart_are_said_to_be():
    roles = " | ".join(f"role:r{number}" for number in range(17))
    with pytest.raises(TooManyCombinations, match="combinations of visitors and times; 65,536 can be told apart"):
        LensSpace([Audience(parse_query(roles, "visitor"))], NOW)
    fits = " | ".join(f"role:r{number}" for number in range(15))
    assert len(LensSpace([Audience(parse_query(fits, "visitor"))], NOW).visitors) == 2**15 + 1


@given(st.lists(schedules().filter(bool), min_size=1, max_size=3), later)
def test_a_timeline_knows_what_is_in_force_at_every_moment(found, moment):
    from navrel.core.calendar.schedule import timeline

    line = timeline(tuple(found), NOW)
    holding = [epoch for epoch in line.epochs if any(moment in span for span in epoch.spans)]
    expected = frozenset(number for number, schedule in enumerate(found) if schedule.holds(moment))
    if holding:
        assert [epoch.in_force for epoch in holding] == [expected]
    else:
        assert expected in {epoch.in_force for epoch in line.epochs}
    assert sum(len(epoch.spans) for epoch in line.epochs) <= MAX_SPANS + 1
    assert datetime.min < NOW


@settings(max_examples=60)
@given(sites(), layouts(), st.data())
def test_the_table_of_who_sees_which_has_each_lens_in_one_cell_with_the_look_it_sees(site, layout, data):
    page = data.draw(st.sampled_from(site.pages))
    found = page_looks(site, layout, page, NOW)
    table = audience_table(found)
    lens = Lens(data.draw(any_visitor), data.draw(later))
    if found.seen_until and lens.moment >= found.seen_until:
        return
    rows = [number for number, one in enumerate(table.visitors) if lets_in(one, lens.visitor)]
    columns = [number for number, one in enumerate(table.times) if one.admits(lens)]
    assert len(rows) == len(columns) == 1
    look = found.looks[table.looks[rows[0], columns[0]]]
    assert any(one.admits(lens) for one in look.seen)
    # No two rows, and no two columns, are the same; every look is in it.
    assert len({row.tobytes() for row in table.looks}) == len(table.visitors)
    assert len({column.tobytes() for column in table.looks.T}) == len(table.times)
    assert set(table.looks.flat) == set(range(len(found.looks)))
