"""Pinning and unpinning over the API, reach where nothing shows, and the lens by its facts."""

import pytest

from navrel.server.inventory.models import Site
from navrel.server.rules.models import Rule

from .test_gate import send

HEADER = {"do": "fill", "slot": "header", "piece": "slim-header"}


def pin(api, action, path="/about", priority=None):
    return send(api, "put", "pins", {"path": path, "action": action, "priority": priority})


def pins():
    return {
        rule.name: [action.get("piece") or action["do"] for action in rule.actions]
        for rule in Rule.objects.filter(name__startswith="Pin: /")
    }


def unpin(api, target, path="/about"):
    return api.client.delete(f"/api/sites/marrowick/pins?path={path}&target={target}")


def test_a_second_choice_replaces_the_first_and_the_last_to_go_takes_the_rule_along(api):
    assert pin(api, HEADER).json()["rule"]["condition"] == {"include": "page:/about"}
    pin(api, {**HEADER, "piece": "night-header"})
    assert pins() == {"Pin: /about": ["night-header"]}
    pin(api, {"do": "empty", "slot": "footer"})
    pin(api, {"do": "use", "template": "plain"})
    assert pins() == {"Pin: /about": ["night-header", "empty", "use"]}
    trace = api.get("trace", path="/about", target="header").json()
    assert (trace["pin"]["action"]["piece"], trace["outcome"]["pieces"]) == ("night-header", ["night-header"])
    assert [unpin(api, target).status_code for target in ("header", "footer")] == [204, 204]
    assert pins() == {"Pin: /about": ["use"]}
    assert unpin(api, "template").status_code == 204
    assert pins() == {}
    assert unpin(api, "template").status_code == 404
    assert list(Rule.objects.values_list("position", flat=True)) == list(range(1, Rule.objects.count() + 1))


def test_a_pin_of_another_priority_stands_in_a_rule_of_its_own(api):
    pin(api, HEADER)
    pin(api, {"do": "empty", "slot": "footer"}, priority=7)
    assert pins() == {"Pin: /about": ["slim-header"], "Pin: /about 2": ["empty"]}
    pin(api, HEADER, priority=7)
    assert pins() == {"Pin: /about 2": ["empty", "slim-header"]}
    pin(api, {**HEADER, "piece": "night-header"})
    assert pins() == {"Pin: /about 2": ["empty", "night-header"]}, "it keeps the priority of what it replaces"


@pytest.mark.parametrize(
    ("action", "path", "status"),
    [
        (HEADER, "/nowhere", 404), ({**HEADER, "piece": "none"}, "/about", 422), ({**HEADER, "piece": "site-footer"}, "/about", 422),
        ({"do": "fill", "slot": "header"}, "/about", 422), ({"do": "dance"}, "/about", 422), ({}, "/about", 400),
        ({"do": "set", "setting": "none", "value": 1}, "/about", 422),
    ],
)  # fmt: skip
def test_what_cannot_be_pinned_is_refused_and_nothing_changes(api, action, path, status):
    before = Site.objects.get().version
    assert pin(api, action, path).status_code == status
    assert (pins(), Site.objects.get().version) == ({}, before)


def test_a_pin_on_a_long_path_has_a_name_that_fits(api, site):
    long = "/" + "a" * 300
    site.pages.filter(path="/about").update(path=long)
    Site.objects.update(version=site.version + 1, inventory_version=site.inventory_version + 1)
    assert len(pin(api, HEADER, long).json()["rule"]["name"]) <= 80


def test_reach_counts_what_is_seen_and_says_where_there_is_no_place(api):
    rule = {"name": "r", "condition": {"include": "kind:search | page:/about"}, "actions": [
        {"do": "fill", "slot": "aside-start", "piece": "help-desk"}]}  # fmt: skip
    found = api.post("reach", {"rule": rule}).json()
    (target,) = found["by_target"]
    assert (found["reached"], target["pages"] + target["unplaced"]) == (2, 2)
    assert target["unplaced"] > 0
    templates = {
        row["slug"]
        for row in api.get("pieces").json()["items"]
        if row["kind"] == "template" and "aside-start" in row["slots"]
    }
    assert set(target["templates"]) == templates
    unplaced = [row["path"] for row in found["pages"] if row["fates"][0]["fate"] == "unplaced"]
    assert len(unplaced) == target["unplaced"]
    shown = {row["target"]: row for row in api.get("preview", path=unplaced[0]).json()["targets"]}
    assert shown["aside-start"]["seated"] is False


def test_a_lens_is_read_by_its_terms_and_written_by_its_facts(api):
    text = "signed:in role:crew browser:firefox accepts:nb,en query.campaign:spring referrer:news.example"
    read = api.post("lens", {"visitor": text}).json()
    assert read["facts"] == {
        "signed": "in", "roles": ["crew"], "device": "desktop", "browser": "firefox", "accepts": ["nb", "en"],
        "query": {"campaign": "spring"}, "referrer": "news.example",
    }  # fmt: skip
    assert read["words"] == [
        "Signed-in crew",
        "Desktop",
        "Firefox",
        "reads nb, en",
        "campaign=spring",
        "from news.example",
    ]
    written = api.post("lens", {"facts": {**read["facts"], "device": "phone"}}).json()
    assert (
        written["visitor"]
        == "signed:in role:crew device:phone browser:firefox accepts:nb,en query.campaign:spring referrer:news.example"
    )
    out = api.post("lens", {"facts": {**read["facts"], "signed": "out"}}).json()
    assert out["facts"]["roles"] == [], "roles go when one signs out"
    odd = {**read["facts"], "query": {"a": 'x "y"'}, "roles": ["night, crew"]}
    assert api.post("lens", {"facts": odd}).json()["facts"]["roles"] == ["night, crew"]


@pytest.mark.parametrize(
    "facts", [{"signed": "maybe"}, {"device": "watch"}, {"roles": "crew"}, {"accepts": ["!!"]}, {"referrer": "a b/c"}]
)
def test_a_fact_that_is_none_is_refused(api, facts):
    whole = {
        "signed": "out",
        "roles": [],
        "device": "desktop",
        "browser": "other",
        "accepts": [],
        "query": {},
        "referrer": "",
    }
    assert api.post("lens", {"facts": {**whole, **facts}}).status_code in (400, 422)


def test_locks_tell_their_owner(api, site):
    site.pages.filter(path="/about").update(
        locks=["footer", {"slot": "header", "owner": "The ticket shop", "why": "It sells."}]
    )
    Site.objects.update(version=site.version + 1, inventory_version=site.inventory_version + 1)
    header = api.get("trace", path="/about", target="header").json()
    assert (header["outcome"]["state"], header["pin"]["owner"], header["pin"]["why"]) == (
        "locked",
        "The ticket shop",
        "It sells.",
    )
    assert api.get("trace", path="/about", target="footer").json()["pin"]["owner"] == ""


def test_one_choice_is_pinned_on_several_pages_each_alone_in_one_edit(api):
    paths = ["/about", "/contact", "/tickets/fares", "/about"]
    action = {"do": "fill", "slot": "header", "piece": "slim-header"}
    answer = api.post("pins", {"paths": paths, "action": action})
    assert (answer.status_code, answer.json()) == (200, {"pages": 3})
    for path in paths:
        pin = api.get("trace", path=path, target="header").json()["pin"]
        assert pin["action"]["piece"] == "slim-header"
    assert api.get("edits").json()["total"] == 1
    refused = api.post("pins", {"paths": ["/about", "/nowhere"], "action": {**action, "piece": "main-header"}})
    assert refused.status_code == 404
    pin = api.get("trace", path="/about", target="header").json()["pin"]
    assert pin["action"]["piece"] == "slim-header", "nothing half done is left"
