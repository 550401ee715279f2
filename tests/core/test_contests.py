"""Whether rules can ever win, against every lens that there is tried one by one."""

from datetime import datetime

from hypothesis import given, settings

from navrel.core.cascade.plain import resolve_page
from navrel.core.index.page_index import PageIndex
from navrel.core.lenses.contests import Lenses, contests
from navrel.core.lenses.space import LensSpace

from .strategies import layouts, sites


def every_lens(layout):
    space = LensSpace((rule.condition.audience for rule in layout.rules), datetime.min)
    return [space.lens(cell) for cells in space.cells.values() for cell in cells]


@settings(max_examples=60)
@given(sites(), layouts())
def test_a_rule_can_win_exactly_where_some_lens_shows_it_winning(site, layout):
    index = PageIndex(site)
    plain = {
        (page.path, target, entry.rule.name, entry.action)
        for page in site.pages
        for lens in every_lens(layout)
        for target, trace in resolve_page(site, layout, page, lens).items()
        for entry in trace.entries
        if entry.state in ("won", "added", "duplicate")
    }
    for contest in contests(index, layout, Lenses()):
        for attempt in contest.attempts:
            assert not attempt.clear - attempt.open
        for action, rule in {(a.action, a.standing.rule.name) for a in contest.attempts}:
            mine = [a for a in contest.attempts if (a.action, a.standing.rule.name) == (action, rule)]
            paths = {path for path, target, name, one in plain if (target, name, one) == (contest.target, rule, action)}
            assert any(contest.can_ever_win(attempt) for attempt in mine) == bool(paths), (contest.target, rule)
            for number, page in enumerate(site.pages):
                here = index.term(parse(page.path))
                assert any(contest.can_win(attempt, here) for attempt in mine) == (page.path in paths), (number, rule)


def parse(path):
    from navrel.core.language.facts import Value
    from navrel.core.language.query import Term

    return Term("page", (Value(path),))
