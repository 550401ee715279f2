"""Pins tried out, against the pin really made and resolved through every lens."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.plain import resolve_page
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Lens
from navrel.core.layout.model import TEMPLATE, Action, Rule, Target
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.pins import Trial, pin_condition, pinned_path, try_pin

from .strategies import NOW, layouts, sites
from .test_impact import a_rule, header, small_state
from .test_looks import any_visitor, later

TARGETS = {
    Target("slot", "header"): Action("fill", "header", "slim"),
    Target("slot", "above-footer"): Action("empty", "above-footer"),
    TEMPLATE: Action("use", piece="plain"),
}


def pin(path, action, priority=0):
    return Rule("the pin", pin_condition(path), (action,), priority)


@settings(max_examples=50)
@given(sites(), layouts(), st.sampled_from(list(TARGETS)), st.data())
def test_a_trial_says_who_would_decide_instead_and_for_whom(site, layout, target, data):
    page = data.draw(st.sampled_from(site.pages))
    trial = try_pin(PageIndex(site), layout, page, target, NOW)
    lens = Lens(data.draw(any_visitor), data.draw(later))

    def decider(priority):
        rules = (pin(page.path, TARGETS[target], priority), *layout.rules)
        outcome = resolve_page(site, replace(layout, rules=rules), page, lens)[target].outcome
        return outcome.state, outcome.by.name if outcome.by else None, outcome.pieces

    state, by, _ = decider(0)
    if trial.is_locked:
        assert (state, trial.wins, trial.priority) == ("locked", False, None)
        return
    stronger = [one for one in trial.deciders if any(seen.admits(lens) for seen in one.seen)]
    assert by == (stronger[0].rule.name if stronger else "the pin")
    if by == "the pin":
        assert trial.wins
    assert trial.priority is not None
    assert decider(trial.priority)[1] == "the pin", "the offered priority does"
    if TARGETS[target].do == "empty":
        assert decider(trial.clearing)[2] == (), "and the clearing one leaves nothing"


def index_of(document):
    return PageIndex(document.tree)


def tried(*rules, path="/a", target="header"):
    document = small_state(*rules)
    index = index_of(document)
    return try_pin(index, document.layout, index.tree.page(path), Target.read(target), NOW)


def test_a_pin_meets_nothing_where_every_rule_reaches_more_than_its_page():
    assert tried(a_rule("all", "all", header("main"))) == Trial(False, wins=True)


def test_a_rule_that_names_the_page_and_asks_for_more_is_stronger_for_those_it_lets_in():
    trial = tried(a_rule("crew", "page:/a", header("main"), visitors="role:crew"))
    (one,) = trial.deciders
    assert (one.rule.name, one.on, [str(seen.visitors) for seen in one.seen]) == ("crew", "specificity", ["role:crew"])
    assert (trial.wins, trial.priority) == (True, 1)


def test_a_rule_of_the_highest_priority_cannot_be_beaten():
    trial = tried(a_rule("top", "all", header("main"), priority=1000))
    assert (trial.wins, trial.priority, trial.clearing) == (False, None, None)


def test_what_is_pinned_already_stands_in_nobodys_way():
    assert tried(a_rule("Pin", "page:/a", header("main"), priority=5)) == Trial(False, wins=True)


@pytest.mark.parametrize(
    ("include", "path"),
    [
        ("page:/a", "/a"), ('page:"/a b"', "/a b"), ("page:/a,/b", None), ("page:/a | page:/b", None), ("-page:/a", None),
        ("page:/a type:x", None), ("path:/a", None), ("", None),
    ],
)  # fmt: skip
def test_a_pin_is_a_rule_for_one_page_alone(include, path):
    assert pinned_path(Rule("r", replace(pin_condition("/a"), include=parse_query(include)))) == path


def test_a_rule_for_some_visitors_is_no_pin():
    condition = replace(pin_condition("/a"), visitors_include=parse_query("role:crew", "visitor"))
    assert pinned_path(Rule("r", condition)) is None
    assert pinned_path(Rule("r", pin_condition("/a"))) == "/a"


def test_a_locked_slot_takes_no_pin():
    site = PageTree([Page("/a", locks=("header",))])
    trial = try_pin(PageIndex(site), small_state().layout, site.pages[0], Target("slot", "header"), NOW)
    assert trial == Trial(True, priority=None, clearing=None)
