"""What pages hinge on: lenses that are alike in it are shown the same bytes; what makes no difference is not named."""

from datetime import datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.lookup import PageResolver
from navrel.core.language.visitor import Lens, Visitor
from navrel.rendering.hinges import Clock, SiteHinges, Telling, told_by_markup
from navrel.rendering.items.feeds import FeedEntry, no_feeds
from navrel.rendering.page import draw_page

from ..core.test_looks import any_visitor
from .test_rendering import piece_with, put, source

NOON = datetime(2026, 11, 23, 12)
#: Items that tell something of the visitor or of the time, by what they tell.
TELLING = {
    "signed": {"type": "sign-in", "text": "Log on", "out_text": "Log off"},
    "hours": {
        "type": "hours",
        "hours": [{"day": "mon", "from": "08:00", "until": "18:30"}, {"day": "tue", "from": "07:45", "until": "23:59"}],
    },
    "day": {"type": "calendar", "query": "all"},
    "year": {"type": "text", "text": "Since 1921, and in {today.year}"},
    "role": {"type": "markup", "code": "{% for role in visitor.roles %}<b>{{ role }}</b>{% endfor %}"},
    "device": {"type": "markup", "code": "<p>On a {{ visitor.device }} in {{ today.year }}</p>"},
    "nothing": {"type": "text", "text": "Quays"},
}
PAGES = [
    {"path": "/", "title": "Home"},
    {"path": "/news", "title": "News", "published": "2026-11-01"},
    {"path": "/news/fog", "title": "Fog", "published": "2026-11-20"},
]
VISITORS = ("", "device:phone", "role:crew", "accepts:nb", "query.campaign:spring", "-referrer:example.org")
_rules = st.lists(
    st.fixed_dictionaries({
        "priority": st.integers(0, 2), "include": st.sampled_from(("all", "within:/news", "page:/")),
        "visitors": st.sampled_from(VISITORS), "piece": st.sampled_from((*TELLING, "side")),
        "do": st.sampled_from(("fill", "append")), "timed": st.booleans(),
    }),
    min_size=1, max_size=5,
)  # fmt: skip
_moments = st.integers(0, 3 * 24 * 60).map(lambda minutes: NOON + timedelta(minutes=minutes))


def made_site(rules):
    pieces = [piece_with("widget", item) | {"slug": name} for name, item in TELLING.items()]
    side = {
        "slug": "side",
        "kind": "widget",
        "content": {"items": [{"type": "piece", "piece": "role"}, {"type": "piece", "piece": "day"}]},
    }
    stated = []
    for number, rule in enumerate(rules):
        condition = {"include": rule["include"]}
        if rule["visitors"]:
            condition["visitors"] = {"include": rule["visitors"]}
        if rule["timed"]:
            condition["schedule"] = {"from": "2026-11-23T14:00", "until": "2026-11-25T09:30"}
        actions = [{"do": rule["do"], "slot": "below-header", "piece": rule["piece"]}]
        stated.append(
            {"name": f"Rule {number}", "priority": rule["priority"], "condition": condition, "actions": actions}
        )
    return source([*pieces, side], stated, PAGES)


def hinges_of(made):
    return SiteHinges(PageResolver(made.index, made.document.layout))


def key_of(hung, lens, feeds=no_feeds):
    return hung.of_visitor(lens.visitor), hung.at(lens.moment), hung.said(feeds)


def bytes_of(made, page, lens):
    return draw_page(made, page, "<p>Words</p>", lens).data


@settings(max_examples=60, deadline=None)
@given(_rules, st.lists(any_visitor, min_size=2, max_size=5), st.lists(_moments, min_size=1, max_size=3))
def test_lenses_that_are_alike_in_it_are_shown_the_same_bytes(rules, visitors, moments):
    made = made_site(rules)
    hinges = hinges_of(made)
    for page in made.index.tree.pages:
        hung = hinges.of(page)
        known = {}
        for lens in (Lens(visitor, moment) for visitor in visitors for moment in moments):
            found = bytes_of(made, page, lens)
            assert known.setdefault(key_of(hung, lens), found) == found


@settings(max_examples=60, deadline=None)
@given(_rules, any_visitor, _moments, st.integers(0, 2 * 24 * 60))
def test_the_same_is_shown_until_the_moment_that_is_told(rules, visitor, moment, minutes):
    made = made_site(rules)
    page = made.index.tree.page("/news/fog")
    hung = hinges_of(made).of(page)
    until, then = hung.until(moment), moment + timedelta(minutes=minutes)
    if until is None or then < until:
        assert bytes_of(made, page, Lens(visitor, then)) == bytes_of(made, page, Lens(visitor, moment))


@pytest.mark.parametrize(
    ("piece", "facts", "until"),
    [
        ("signed", {"signed"}, None),
        ("hours", set(), datetime(2026, 11, 23, 18, 30)),
        ("day", set(), datetime(2026, 11, 24)),
        ("year", set(), datetime(2027, 1, 1)),
        ("role", {"role"}, None),
        ("device", {"device"}, datetime(2027, 1, 1)),
        ("side", {"role"}, datetime(2026, 11, 24)),
        ("nothing", set(), None),
    ],
)
def test_it_is_known_what_an_item_tells(piece, facts, until):
    made = made_site(
        [{"include": "page:/", "visitors": "", "piece": piece, "do": "fill", "priority": 0, "timed": False}]
    )
    hinges = hinges_of(made)
    home, news = (hinges.of(made.index.tree.page(path)) for path in ("/", "/news"))
    assert (home.facts, home.until(NOON)) == (facts, until)
    assert (news.facts, news.until(NOON)) == (set(), None)


def test_settings_that_rules_set_tell_the_time_too():
    titled = {"name": "Titles", "condition": {"include": "page:/"}, "actions": [{"do": "set", "setting": "document-title", "value": "{page.title} {today.date}"}]}  # fmt: skip
    settings_of = [{"name": "document-title", "type": "text", "default": ""}]
    made = source([], [titled], PAGES, settings=settings_of)
    hinges = hinges_of(made)
    assert hinges.of(made.index.tree.page("/")).until(NOON) == datetime(2026, 11, 24)
    assert hinges.of(made.index.tree.page("/news")).until(NOON) is None


def test_what_a_feed_says_is_part_of_it():
    made = source([piece_with("footer", {"type": "feed", "url": "https://feeds.example/a"})], [put("footer", "footer")])
    hung = hinges_of(made).of(made.index.tree.page("/"))
    lens = Lens(Visitor(), NOON)
    assert key_of(hung, lens) != key_of(hung, lens, lambda url: (FeedEntry("Fog", ""),))


@pytest.mark.parametrize(
    ("code", "facts", "clock"),
    [
        ("{{ page.title }}", set(), Clock.NEVER),
        ("{{ visitor.device }}{{ today.year }}", {"device"}, Clock.YEAR),
        ('{% if visitor["roles"] contains "crew" %}{{ today.date }}{% endif %}', {"role"}, Clock.DAY),
        ("{% assign who = visitor %}{{ who.browser }}", {"signed", "role", "device", "browser"}, Clock.NEVER),
        ('{% assign n = "device" %}{{ visitor[n] }}', {"signed", "role", "device", "browser"}, Clock.NEVER),
        ('{% assign n = "visi" | append: "tor" %}{{ [n].device }}', {"device"}, Clock.DAY),
        ("{% for visitor in menus.main %}{{ visitor.device }}{% endfor %}", set(), Clock.NEVER),
        ("{% nonsense", set(), Clock.NEVER),
    ],
)
def test_markup_tells_what_it_asks_for(code, facts, clock):
    assert told_by_markup(code) == Telling(frozenset(facts), clock)
