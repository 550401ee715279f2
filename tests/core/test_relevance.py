"""What makes a difference on a page: lenses that are alike in it see the same, up to the moment that is told."""

from datetime import datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.plain import match_rules, resolve_page
from navrel.core.cascade.seating import shown_sidebars
from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.lenses.looks import page_looks, shown
from navrel.core.lenses.relevance import Relevance, page_relevance

from .strategies import NOW, layouts, schedules, sites
from .test_looks import any_visitor, later


def relevance_on(site, layout, page):
    return page_relevance(site, layout, page, match_rules(site, layout, page)[0])


def seen(site, layout, page, lens):
    found = {target: trace.outcome for target, trace in resolve_page(site, layout, page, lens).items()}
    entries = shown_sidebars(site, layout, page, lens, found)
    return {target: shown(outcome) for target, outcome in found.items()}, entries


@settings(max_examples=80)
@given(sites(), layouts(), st.lists(any_visitor, min_size=2, max_size=6), st.lists(later, min_size=1, max_size=3))
def test_lenses_that_are_alike_in_it_see_the_same(site, layout, visitors, moments):
    for page in site.pages:
        relevance = relevance_on(site, layout, page)
        known = {}
        for visitor in visitors:
            for moment in moments:
                key = relevance.of_visitor(visitor), relevance.at(moment)
                found = seen(site, layout, page, Lens(visitor, moment))
                assert known.setdefault(key, found) == found


@settings(max_examples=80)
@given(sites(), layouts())
def test_a_page_on_which_nothing_matters_has_one_look(site, layout):
    for page in site.pages:
        relevance = relevance_on(site, layout, page)
        if not relevance.terms and not relevance.schedules:
            assert len(page_looks(site, layout, page, NOW).looks) == 1


@given(schedules(), later, st.integers(0, 10_000))
def test_nothing_begins_or_ends_before_the_moment_that_is_told(schedule, moment, minutes):
    relevance = Relevance(schedules=(schedule,) if schedule else ())
    until = relevance.until(moment)
    then = moment + timedelta(minutes=minutes)
    if until is None or then < until:
        assert relevance.at(then) == relevance.at(moment)
    if until is not None:
        assert until > moment and relevance.at(until) != relevance.at(moment)


def site_with(rules):
    pieces = [{"slug": slug, "kind": "footer"} for slug in ("plain", "grand")]
    pages = [{"path": "/", "title": "Home"}, {"path": "/about", "title": "About", "locks": ["footer"]}]
    stated = {"navrel": 1, "site": {"name": "Marrowick Ferries"}, "pages": pages, "pieces": pieces, "rules": rules}
    return read_document(stated)


def footer(piece, priority=0, **visitors):
    condition = {"include": "all", **({"visitors": visitors} if visitors else {})}
    actions = [{"do": "fill", "slot": "footer", "piece": piece}]
    return {"name": f"{piece} at {priority}", "priority": priority, "condition": condition, "actions": actions}


def test_what_is_beaten_or_locked_asks_nothing():
    for priority, facts in ((5, {"device", "query.ref"}), (-5, set())):
        on_phones = footer("grand", priority, include="device:phone,tablet", exclude="query.ref:mail")
        document = site_with([on_phones, footer("plain")])
        tree = PageIndex(document.tree).tree
        home, about = document.pages
        assert relevance_on(tree, document.layout, home).facts == facts
        assert relevance_on(tree, document.layout, about).facts == set(), "its footer is locked"


def test_it_tells_which_terms_hold():
    document = site_with([footer("grand", include="device:phone,tablet -role:crew")])
    relevance = relevance_on(document.tree, document.layout, document.pages[0])
    assert [str(term) for term in relevance.terms] == ["device:phone", "device:tablet", "role:crew"]
    assert relevance.of_visitor(Visitor(device="tablet")) == (False, True, False)
    assert relevance.of_visitor(Visitor("in", frozenset({"crew"}))) == (False, False, True)
    assert relevance.until(datetime(2026, 11, 1)) is None
