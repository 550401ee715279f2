"""The quick single-page resolver against the plain one."""

from dataclasses import replace
from unittest.mock import patch

from hypothesis import given, settings

from navrel.core.cascade.conditions import page_clauses
from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import match_rules, resolve_page
from navrel.core.index import classes as page_classes
from navrel.core.index.classes import PageClasses
from navrel.core.index.page_index import PageIndex

from .strategies import layouts, lenses, sites


@settings(max_examples=50)
@given(sites(), layouts(), lenses)
def test_looked_up_traces_are_those_of_the_plain_resolver(site, layout, lens):
    resolver = PageResolver(PageIndex(site), layout)
    for number, page in enumerate(site.pages):
        assert resolver.resolve(page, lens) == resolve_page(site, layout, page, lens)
        assert resolver.matches(number)[0] == match_rules(site, layout, page)[0]


@settings(max_examples=50)
@given(sites(), layouts(), lenses)
def test_the_first_few_pages_are_tested_one_by_one_and_come_to_the_same(site, layout, lens):
    with patch.object(page_classes, "_ROWS_AT_ONCE", 1):
        resolver, ready = (PageResolver(PageIndex(site), layout) for _ in range(2))
    ready.make_ready()
    for page in site.pages:
        assert resolver.resolve(page, lens) == ready.resolve(page, lens)
    assert "rows" not in vars(resolver.classes)
    assert "rows" in vars(ready.classes)


@given(sites(), layouts())
def test_after_a_few_pages_the_rows_of_all_are_made(site, layout):
    with patch.object(page_classes, "_ROWS_AT_ONCE", 2):
        classes = PageClasses.of(PageIndex(site), layout)
    for tested in range(len(site) // 2):
        classes.matching(tested)
        classes.matching(0)
        assert "rows" not in vars(classes)
    classes.matching(len(site) - 1)
    assert "rows" in vars(classes)


@given(sites(), layouts())
def test_layouts_that_ask_the_same_share_what_was_worked_out(site, layout):
    index = PageIndex(site)
    classes = PageClasses.of(index, layout)
    renamed = replace(layout, rules=tuple(replace(rule, name=f"New {rule.name}") for rule in layout.rules))
    assert PageClasses.of(index, renamed) is classes
    assert PageClasses.of(PageIndex(site), layout) is not classes


@settings(max_examples=50)
@given(sites(), layouts())
def test_pages_of_one_class_match_the_same_clauses_and_others_do_not(site, layout):
    classes = PageClasses.of(PageIndex(site), layout)

    entries = [entry for piece in layout.pieces.values() for entry in piece.entries]
    conditions = [one.condition for one in (*layout.rules, *entries)]

    def matching(page):
        clauses = [
            (tuple(page_clauses(site, page, one.include)), tuple(page_clauses(site, page, one.exclude)))
            for one in conditions
        ]
        return (
            clauses,
            frozenset(page.slots),
            page.bound and frozenset(page.bound),
            page.bound is None,
            frozenset(page.locks),
        )

    described = [matching(page) for page in site.pages]
    for number, one in zip(classes.numbers.tolist(), described, strict=True):
        assert [other == one for other in described] == (classes.numbers == number).tolist()
    assert [classes.numbers[first] for first in classes.firsts] == list(range(len(classes.firsts)))
