"""Publishing some changes and not others, comparing revisions, making one live again."""

import pytest

from navrel.server.publishing.live import live
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site

from .test_edits_api import links_in


def make_piece(api, name="Tide table"):
    content = {"items": [{"type": "text", "text": "High at noon"}]}
    return api.post("pieces", {"kind": "widget", "name": name, "content": content}).json()


def make_rule(api, name, include, piece="wind-line", slot="above-header"):
    actions = [{"do": "append", "slot": slot, "piece": piece}]
    return api.post("rules", {"name": name, "condition": {"include": include}, "actions": actions}).json()


def impact(api, parts=None):
    return (api.get("impact") if parts is None else api.post("impact", {"parts": parts})).json()


def publish(api, parts=None, **more):
    body = {"version": impact(api)["version"], "parts": parts, "overrule": "for a trial", **more}
    return api.post("revisions", body)


def words(found):
    return [one["words"] for one in found["changes"]]


def live_rules():
    return [rule.name for rule in live(find_site("marrowick")).layout.rules]


def test_one_of_two_changes_is_published_and_the_other_waits(api):
    first = make_rule(api, "Wind on contact", "page:/contact")
    make_rule(api, "Wind on about", "page:/about")
    before = api.get("").json()
    assert before["edits"] == 2
    chosen = impact(api, [f"rule/{first['id']}"])
    assert words(chosen) == ["Wind on contact: made"]
    assert (chosen["pages"], chosen["version"]) == (1, before["version"])
    assert chosen["shifts"][0]["paths"] == ["/contact"]
    # Asking changed nothing; the clock goes on.
    assert {**api.get("").json(), "now": before["now"]} == before
    made = publish(api, [f"rule/{first['id']}"]).json()
    assert made["chosen"] is True
    assert [one["words"] for one in made["changes"]] == ["Wind on contact: made"]
    assert "Wind on contact" in live_rules() and "Wind on about" not in live_rules()
    # The draft still has both; one edit is not live, and the list of edits names it alone.
    assert {"Wind on contact", "Wind on about"} <= {rule.name for rule in draft(find_site("marrowick")).layout.rules}
    assert api.get("").json()["edits"] == 1
    assert [one["words"] for one in api.get("edits").json()["items"]] == ["Wind on about: made"]
    assert words(impact(api)) == ["Wind on about: made"]
    assert publish(api).status_code == 201
    assert api.get("").json()["edits"] == 0
    assert live_rules() == [rule.name for rule in draft(find_site("marrowick")).layout.rules]


def test_a_change_that_needs_another_is_not_published_without_it(api):
    piece = make_piece(api)
    made = make_rule(api, "Tide on about", "page:/about", piece["slug"])
    alone = publish(api, [f"rule/{made['id']}"])
    assert alone.status_code == 409
    assert "Tide on about" in alone.json()["title"] and piece["slug"] in alone.json()["title"]
    assert impact_status(api, [f"rule/{made['id']}"]) == 409
    # Nothing half-done is left; the piece alone goes, and so do both.
    assert "Tide on about" not in live_rules()
    assert publish(api, [f"piece/{piece['slug']}"]).status_code == 201
    assert "Tide on about" not in live_rules()
    assert publish(api, [f"rule/{made['id']}"]).status_code == 201
    assert "Tide on about" in live_rules()


def impact_status(api, parts):
    return api.post("impact", {"parts": parts}).status_code


def test_a_removal_an_order_and_an_edited_piece_are_chosen_like_all_else(api):
    one, two = make_rule(api, "First", "page:/about"), make_rule(api, "Second", "page:/about")
    publish(api)
    api.delete(f"rules/{one['id']}", one["version"])
    moved = api.post(f"rules/{two['id']}/position", {"position": 4}, two["version"])
    assert moved.status_code == 200, moved.json()
    footer = api.get("pieces/site-footer").json()
    api.put("pieces/site-footer", links_in(footer, [{"text": "Help", "href": "/help"}]), footer["version"])
    parts = {one["part"]: one["words"] for one in impact(api)["changes"]}
    assert set(parts) == {f"rule/{one['id']}", "order", "piece/site-footer"}
    order = [rule for rule in live_rules() if rule != "First"]
    assert publish(api, ["piece/site-footer"]).status_code == 201
    assert "First" in live_rules()
    assert [rule for rule in live_rules() if rule != "First"] == order
    assert publish(api, ["order", f"rule/{one['id']}"]).status_code == 201
    assert live_rules() == [rule.name for rule in draft(find_site("marrowick")).layout.rules]
    assert impact(api)["changes"] == []


@pytest.mark.parametrize("parts", [["rule/999999"], ["order"], ["piece/nothing-like-it"], ["site"]])
def test_what_does_not_differ_cannot_be_chosen(api, parts):
    make_rule(api, "Wind", "page:/about")
    assert impact_status(api, parts) == 404
    assert publish(api, parts).status_code == 404


def test_nothing_chosen_is_nothing_to_publish(api):
    make_rule(api, "Wind", "page:/about")
    assert impact(api, [])["changes"] == []
    assert publish(api, []).status_code == 409


def test_two_revisions_are_compared_in_words_and_on_pages(api):
    make_rule(api, "Wind on contact", "page:/contact")
    publish(api)
    make_rule(api, "Wind on about", "page:/about")
    publish(api)
    found = api.get("revisions/1/against/3").json()
    assert sorted(words(found)) == ["Wind on about: made", "Wind on contact: made"]
    assert found["pages"] == 2
    back = api.get("revisions/3/against/1").json()
    assert sorted(words(back)) == ["Wind on about: removed", "Wind on contact: removed"]
    assert back["pages"] == 2
    assert api.get("revisions/2/against/2").json()["changes"] == []
    assert api.get("revisions/2/against/9").status_code == 404


def test_the_guards_that_only_the_chosen_would_break_are_named(api):
    rows = {row["rule"]["name"]: row for row in api.get("rules").json()["items"]}
    for name in ("Quiet checkout", "Site footer"):
        api.delete(f"rules/{rows[name]['id']}", rows[name]["version"])
    quiet, footer = (f"rule/{rows[name]['id']}" for name in ("Quiet checkout", "Site footer"))
    assert impact(api)["broken"] is None
    assert impact(api, [quiet])["broken"] == ["Nothing to click away to"]
    assert impact(api, [footer])["broken"] == []
    assert publish(api, [quiet], overrule="").status_code == 409
    assert publish(api, [footer], overrule="").status_code == 201


def test_a_revision_is_made_live_again_at_once_and_the_draft_stays(api):
    make_rule(api, "Wind on contact", "page:/contact")
    publish(api)
    assert "Wind on contact" in live_rules()
    made = api.post("revisions/1/publish", {"note": "The wind has dropped"}).json()
    assert (made["number"], made["note"], made["live"]) == (3, "The wind has dropped", True)
    assert [one["words"] for one in made["changes"]] == ["Wind on contact: removed"]
    assert "Wind on contact" not in live_rules()
    assert "Wind on contact" in [rule.name for rule in draft(find_site("marrowick")).layout.rules]
    # The draft is ahead by what it has and live has not.
    assert api.get("").json()["edits"] == 1
    assert words(impact(api)) == ["Wind on contact: made"]
    assert api.post("revisions/3/publish").status_code == 409
    assert api.post("revisions/99/publish").status_code == 404


def test_a_guard_stands_in_the_way_of_making_live_again(api):
    quiet = next(row for row in api.get("rules").json()["items"] if row["rule"]["name"] == "Quiet checkout")
    assert api.delete(f"rules/{quiet['id']}", quiet["version"]).status_code == 204
    publish(api)
    api.post("revisions/1/publish")
    assert api.post("revisions/2/publish").status_code == 409
    again = api.post("revisions/2/publish", {"overrule": "It is an experiment"})
    assert again.json()["overruled"]["reason"] == "It is an experiment"
