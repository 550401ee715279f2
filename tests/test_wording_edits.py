"""What an edit did, in words."""

from typing import Any

import pytest

from navrel.server.edits.parts import Part
from navrel.wording.edits import edit_words

RULE: dict[str, Any] = {
    "name": "Quiet", "note": "", "on": True, "priority": 0, "condition": {"include": "all"},
    "actions": [{"do": "fill", "slot": "header", "piece": "main"}],
}  # fmt: skip
MENU = {"type": "menu", "label": "Main", "links": [{"text": "Help", "href": "/help"}]}
PIECE = {
    "kind": "footer", "name": "Site footer", "note": "", "content": {"items": [MENU, {"type": "search"}]}, "slots": [],
    "entries": [], "colour": 0, "position": 0,
}  # fmt: skip
NAMES = {"main": "Main header", "slim": "Slim header", "call": "Call us", "std": "Standard"}


def told(key, before, after):
    return edit_words([Part(key, before, after)], NAMES)


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"name": "Silent"}, "Quiet: renamed to Silent"),
        ({"on": False, "priority": 5}, "Quiet: switched off, priority 5, was 0"),
        ({"note": "why"}, "Quiet: note changed"),
        ({"condition": {"include": "all", "exclude": "page:/a"}}, "Quiet: not on page:/a, was nothing"),
        ({"condition": {"include": "all", "visitors": {"include": "signed:in"}}}, "Quiet: for other visitors"),
        ({"condition": {"include": "all", "schedule": {"from": "2026-12-01"}}}, "Quiet: at other times"),
        ({"actions": [{"do": "fill", "slot": "header", "piece": "slim"}]}, "Quiet: header: Slim header"),
        ({"actions": []}, "Quiet: no longer header: Main header"),
        ({"actions": [*RULE["actions"], {"do": "empty", "slot": "footer"}]}, "Quiet: footer: left empty"),
        ({"actions": [*RULE["actions"], {"do": "append", "slot": "above-footer", "piece": "call"}]}, "Quiet: above footer: after it: Call us"),
        ({"actions": [*RULE["actions"], {"do": "use", "template": "std"}]}, "Quiet: template: Standard"),
        ({"actions": [*RULE["actions"], {"do": "set", "setting": "crumbs", "value": False}]}, "Quiet: crumbs set to False"),
    ],
)  # fmt: skip
def test_a_rule_tells_what_changed_in_it(changed, words):
    assert told("rule/1", RULE, {**RULE, **changed}) == words


def test_a_long_condition_is_told_from_where_it_differs():
    before = {**RULE, "condition": {"include": "within:/tickets type:checkout | page:/pass/renew"}}
    after = {**RULE, "condition": {"include": "within:/tickets type:checkout | page:/pass/renew,/gift"}}
    assert told("rule/1", before, after) == "Quiet: on … page:/pass/renew,/gift, was … page:/pass/renew"
    shorter = {**RULE, "condition": {"include": "within:/tickets type:checkout"}}
    assert told("rule/1", before, shorter) == "Quiet: on … type:checkout, was … type:checkout | page:/pass/renew"


def content(*items, **more):
    return {**PIECE, "content": {"items": list(items), **more}}


@pytest.mark.parametrize(
    ("after", "words"),
    [
        (content({**MENU, "links": [*MENU["links"], {"text": "Map", "href": "/map"}]}, {"type": "search"}), "Site footer: added a link to /map"),
        (content({**MENU, "links": []}, {"type": "search"}), "Site footer: removed the link to /help"),
        (content(MENU), "Site footer: removed the search box"),
        (content(MENU, {"type": "search"}, {"type": "text", "text": "x"}), "Site footer: added a text"),
        (content({"type": "search"}, MENU), "Site footer: moved a menu"),
        (content({**MENU, "label": "Foot"}, {"type": "search"}), "Site footer: menu now “Foot”"),
        (content(MENU, {"type": "search"}, style={"ink": "#FFFFFF"}), "Site footer: another look"),
        ({**PIECE, "slots": ["inner"]}, "Site footer: added the slot inner"),
        ({**PIECE, "entries": [{"piece": "call"}]}, "Site footer: added the widget Call us"),
        ({**PIECE, "note": "x"}, "Site footer: note changed"),
    ],
)  # fmt: skip
def test_a_piece_tells_what_changed_in_it(after, words):
    assert told("piece/site-footer", PIECE, after) in (words, words.replace("moved a menu", "moved the search box"))


def test_what_comes_goes_and_moves():
    assert told("rule/1", None, RULE) == "Quiet: made"
    assert told("piece/site-footer", PIECE, None) == "Site footer: removed"
    moved = Part("place/1", {"position": 5, "above": 3}, {"position": 2, "above": 9})
    assert edit_words([moved], {"rule/1": "Quiet"}) == "Quiet: moved up"
    assert edit_words([moved], NAMES) == "A rule: moved up"
    assert (
        edit_words([Part("rule/1", None, RULE), Part("place/1", None, {"position": 1, "above": None})], {})
        == "Quiet: made"
    )
    assert told("site", {"default_template": "", "settings": []}, {"default_template": "std", "settings": []}) == (
        "Site: default template Standard"
    )


def test_many_parts_are_counted():
    parts = [Part(f"rule/{n}", None, {**RULE, "name": f"R{n}"}) for n in range(5)]
    assert edit_words(parts, {}) == "R0: made; R1: made; R2: made; and 2 more"


def with_content(**content):
    return {**PIECE, "content": content}


LOGO = {"type": "logo", "text": "Marrowick", "href": "/"}


@pytest.mark.parametrize(
    ("before", "after", "words"),
    [
        ({"items": [LOGO, MENU]}, {"items": [{**LOGO, "text": "By water"}, dict(reversed(MENU.items()))]},
         "Site footer: logo now “By water”"),
        ({"items": [LOGO, MENU]}, {"rows": [{"cells": [{"items": [LOGO]}, {"items": [MENU]}]}]},
         "Site footer: items arranged otherwise"),
        ({"rows": [{"cells": [{"items": [LOGO]}]}]}, {"rows": [{"cells": [{"items": [LOGO, {"type": "hours"}]}]}]},
         "Site footer: added opening hours"),
        ({"items": [LOGO], "style": {"arrange": "row"}}, {"items": [LOGO], "style": {"arrange": "row", "ink": "brand"}},
         "Site footer: another look"),
    ],
)  # fmt: skip
def test_what_became_of_a_content(before, after, words):
    assert told("piece/site-footer", with_content(**before), with_content(**after)) == words
