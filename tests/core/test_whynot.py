"""Why a rule does not show somewhere, and that each change that is offered makes it show, and touches one rule alone."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.plain import trace
from navrel.core.files.reading import read_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.questions.whynot import why_not
from navrel.wording.pages import PageWords
from navrel.wording.whynot import remedy_words, why_words

from .strategies import layouts, lenses, sites


def state_of(tree, layout, page, lens, rule, action):
    entries = trace(tree, layout, page, lens, action.target).entries
    return next(one.state for one in entries if one.rule.name == rule.name and one.action == action)


@settings(max_examples=60)
@given(sites(), layouts(), lenses, st.data())
def test_each_remedy_makes_it_show_and_changes_one_rule(tree, layout, lens, data):
    acting = [(rule, action) for rule in layout.rules for action in rule.actions]
    if not acting:
        return
    rule, action = data.draw(st.sampled_from(acting))
    page = data.draw(st.sampled_from(tree.pages))
    found = why_not(PageIndex(tree), layout, page, lens, rule, action)
    assert found.shows == (state_of(tree, layout, page, lens, rule, action) in ("won", "added"))
    assert not (found.shows and found.remedies)
    for remedy in found.remedies:
        assert state_of(tree, remedy.layout, page, lens, rule, action) in ("won", "added")
        names = [one.name for one in layout.rules]
        assert sorted(one.name for one in remedy.layout.rules) == sorted(names)
        kept = {one.name: one for one in layout.rules}
        changed = [one.name for one in remedy.layout.rules if one != kept[one.name]]
        assert changed == ([remedy.rule.name] if remedy.position is None else [])


def made(*rules):
    return read_document(
        {
            "navrel": 1,
            "site": {"name": "Marrowick Ferries", "base_url": "https://marrowick.example", "roles": ["crew"]},
            "pages": [
                {"path": "/", "title": "Home"},
                {"path": "/about", "title": "About us"},
                {"path": "/legal", "title": "Legal"},
                {"path": "/legal/terms", "title": "Terms"},
            ],
            "pieces": [
                {"slug": "wide", "kind": "header", "name": "Wide header"},
                {"slug": "slim", "kind": "header", "name": "Slim header"},
            ],
            "rules": [{"actions": [{"do": "fill", "slot": "header", "piece": "slim"}], **rule} for rule in rules],
        }
    )


WIDE = {
    "name": "Wide",
    "condition": {"include": "all"},
    "actions": [{"do": "fill", "slot": "header", "piece": "wide"}],
}


@pytest.mark.parametrize(
    ("rules", "why", "remedies"),
    [
        (({"name": "S", "on": False, "condition": {"include": "all"}}, WIDE), "“S” is switched off", ["Switch it on"]),
        (
            ({"name": "S", "condition": {"include": "within:/legal"}}, WIDE),
            "“S” is only for pages in Legal",
            ["Let it reach this page"],
        ),
        (
            ({"name": "S", "condition": {"include": "all", "exclude": "page:/about"}}, WIDE),
            "“S” leaves out pages About us",
            ["Let it reach this page"],
        ),
        (
            ({"name": "S", "condition": {"include": "all", "visitors": {"include": "role:crew"}}}, WIDE),
            "“S” is only for visitors with the role crew",
            [],
        ),
        (
            (WIDE, {"name": "S", "condition": {"include": "all"}}),
            "“Wide” stands higher in the list, and is as strong in everything else",
            ["Give it priority 1", "Move it up to number 1", "Leave this page out of “Wide”"],
        ),
        (
            ({**WIDE, "priority": 7}, {"name": "S", "condition": {"include": "page:/about"}}),
            "“Wide” is of higher priority: 7 against 0",
            ["Give it priority 7", "Leave this page out of “Wide”"],
        ),
        (
            ({**WIDE, "condition": {"include": "page:/about"}}, {"name": "S", "condition": {"include": "all"}}),
            "“Wide” says more exactly which pages and visitors it is for, at the same priority",
            ["Give it priority 1", "Switch “Wide” off"],
        ),
        (
            ({**WIDE, "priority": 3}, {"name": "S", "on": False, "condition": {"include": "page:/legal"}}),
            "“S” is switched off",
            ["Switch it on and let it reach this page and give it priority 3"],
        ),
    ],
)  # fmt: skip
def test_it_is_told_in_a_sentence_with_what_would_change_it(rules, why, remedies):
    document = made(*rules)
    index = PageIndex(document.tree)
    lens = Lens(Visitor(), document.now())
    rule = next(one for one in document.layout.rules if one.name == "S")
    page = index.tree.pages[index.tree.numbers["/about"]]
    found = why_not(index, document.layout, page, lens, rule, rule.actions[0])
    assert why_words(found.entry, PageWords(document, index), lens.moment) == why
    assert [remedy_words(one) for one in found.remedies] == remedies


def test_what_shows_and_what_is_locked_has_no_remedy():
    document = made({"name": "S", "condition": {"include": "all"}})
    index = PageIndex(document.tree)
    rule = document.layout.rules[0]
    lens = Lens(Visitor(), document.now())
    page = index.tree.pages[index.tree.numbers["/about"]]
    assert why_not(index, document.layout, page, lens, rule, rule.actions[0]).shows
    locked = replace(page, locks=("header",))
    found = why_not(index, document.layout, locked, lens, rule, rule.actions[0])
    assert (found.shows, found.entry.state, found.remedies) == (False, "locked", ())
