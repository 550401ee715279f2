"""What guards ask for, and how pages do not meet it, in words."""

import pytest

from navrel.core.layout.model import TEMPLATE, Demand, Target
from navrel.core.questions.guards import Fault
from navrel.wording.guards import demand_words, fault_words

NAMES = {"main": "Main header", "slim": "Slim header", "plain": "Plain"}
HEADER, ASIDE, CRUMBS = Target("slot", "header"), Target("slot", "aside-end"), Target("setting", "crumb-trail")
BY = "Site header"


@pytest.mark.parametrize(
    ("demand", "words"),
    [
        (Demand("shows", ASIDE), "the aside end shows something"),
        (Demand("bare", ASIDE), "the aside end shows nothing"),
        (Demand("holds", None, ("main", "gone")), "the page shows Main header and gone"),
        (Demand("lacks", HEADER, ("main", "slim")), "the header does not show Main header or Slim header"),
        (Demand("is", HEADER, ("main", "slim")), "the header shows Main header + Slim header and nothing else"),
        (Demand("is", TEMPLATE, ("plain",)), "the template is Plain"),
        (Demand("is", CRUMBS, values=(True, "wide", "")), "the setting crumb trail is on or wide or nothing"),
        (Demand("at-most", pieces=("main", "slim"), most=1), "the page shows at most 1 of Main header, Slim header"),
        (Demand("at-most", pieces=("main",)), "the page shows no piece of Main header"),
        (Demand("at-most", piece_kind="widget", most=2), "the page shows at most 2 widgets"),
        (Demand("at-most", item="notice"), "the page shows no piece with the item notice"),
    ],
)
def test_what_is_asked_for(demand, words):
    assert demand_words(demand, NAMES) == words


@pytest.mark.parametrize(
    ("demand", "fault", "words"),
    [
        (Demand("shows", HEADER), Fault((), None, None), "the header shows nothing"),
        (Demand("bare", HEADER), Fault(("main", "slim"), None, BY),
         "the header shows Main header + Slim header, by “Site header”"),
        (Demand("holds", HEADER, ("slim",)), Fault(("slim",), None, None), "the header does not show Slim header"),
        (Demand("lacks", None, ("slim",)), Fault(("slim",), None, BY), "the page shows Slim header, by “Site header”"),
        (Demand("is", TEMPLATE, ("plain",)), Fault((), None, None), "the template is none"),
        (Demand("is", CRUMBS, values=(True,)), Fault((), False, BY), "the setting crumb trail is off, by “Site header”"),
    ],
)  # fmt: skip
def test_how_it_is_not_met(demand, fault, words):
    assert fault_words(demand, fault, NAMES) == words
