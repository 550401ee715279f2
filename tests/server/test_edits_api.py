"""Edits over the API: every write is one, and can be taken back, by whom and as far as nothing stands in the way."""

import pytest
from django.test import Client

from navrel.server.accounts.models import Membership
from navrel.server.edits.models import Edit
from navrel.server.edits.parts import snapshot
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece
from navrel.server.rules.models import Rule

from .conftest import Api
from .test_rules_api import RULE


def words(api):
    return [edit["words"] for edit in api.get("edits").json()["items"]]


def names():
    return list(Rule.objects.values_list("name", flat=True))


def turn(api, which, number=None):
    """Undo or redo an edit, that which is next when none is named."""
    number = number or api.get("").json()[which]["number"]
    return api.post(f"edits/{number}/{which}")


@pytest.fixture
def another(site, django_user_model):
    """The client of somebody else."""
    client = Client()
    imre = django_user_model.objects.create_user("imre")
    Membership.objects.create(site=site, user=imre, role="editor")
    client.force_login(imre)
    return Api(client)


def layout_now():
    return snapshot(Site.objects.get())


def links_in(piece, more):
    """The demo's footer with one link more."""
    (cell, *others), *rows = (row["cells"] for row in piece["content"]["rows"])
    first = {**cell["items"][0], "links": [*cell["items"][0]["links"], *more]}
    cells = [{**cell, "items": [first]}, *others]
    return {**piece, "content": {**piece["content"], "rows": [{"cells": cells}, *({"cells": row} for row in rows)]}}


def rule_id(name):
    return Rule.objects.get(name=name).pk


def by_rule(name, version=1):
    return f"rules/{rule_id(name)}", version


#: Every kind of write, each with the words that tell of it.
WRITES = [
    (lambda api: api.post("rules", RULE), "Harbour header: made"),
    (
        lambda api: api.put(
            f"rules/{rule_id('Legal')}", {**api.get(f"rules/{rule_id('Legal')}").json()["rule"], "priority": 5, "on": False}, 1
        ),
        "Legal: switched off, priority 5, was 0",
    ),
    (lambda api: api.delete(*by_rule("Legal")), "Legal: removed"),
    (lambda api: api.post(f"rules/{rule_id('Legal')}/copy"), "Legal, copy: made"),
    (lambda api: api.post(f"rules/{rule_id('Legal')}/position", {"position": 1}, 1), "Legal: moved up"),
    (lambda api: api.post("pieces", {"kind": "widget", "name": "Tide clock"}), "Tide clock: made"),
    (lambda api: api.post("pieces/site-footer/copy", {"name": "Quay footer"}), "Quay footer: made"),
    (
        lambda api: api.put(
            "pieces/site-footer", links_in(api.get("pieces/site-footer").json(), [{"text": "Help", "href": "/help/x"}]), 1
        ),
        "Site footer: added a link to /help/x",
    ),
    (lambda api: api.client.delete("/api/sites/marrowick/pieces/slim-header?take_out=true", headers={"If-Match": '"1"'}),
     "Quiet checkout: no longer header: Slim header"),
    (
        lambda api: api.client.put(
            "/api/sites/marrowick/pins", {"path": "/about", "action": {"do": "empty", "slot": "footer"}},
            content_type="application/json",
        ),
        "Pin: /about: made",
    ),
]  # fmt: skip


@pytest.mark.parametrize(("write", "told"), WRITES)
def test_every_write_is_one_edit_that_undo_takes_back_and_redo_does_again(api, write, told):
    before = layout_now()
    assert write(api).status_code in (200, 201, 204)
    after = layout_now()
    (edit,) = api.get("edits").json()["items"]
    assert (edit["by"], edit["undone"], edit["undoable"], edit["in_the_way"]) == ("una", False, True, None)
    assert edit["words"].startswith(told)
    assert api.get("").json()["edits"] == 1
    assert turn(api, "undo").json() == {"number": edit["number"], "words": edit["words"], "undone": True}
    assert layout_now() == before
    assert (api.get("").json()["edits"], api.get("").json()["undo"]) == (0, None)
    assert turn(api, "redo").status_code == 200
    assert layout_now() == after
    assert api.get("edits").json()["items"][0]["undone"] is False


def test_what_changes_nothing_is_no_edit(api):
    rule = api.get(f"rules/{rule_id('Legal')}").json()
    assert api.put(f"rules/{rule['id']}", rule["rule"], rule["version"]).status_code == 200
    assert (words(api), api.get("").json()["undo"]) == ([], None)


def test_an_edit_from_the_middle_is_undone_where_nothing_later_touches_the_same(api):
    made = api.post("rules", RULE).json()
    footer = api.get("pieces/site-footer").json()
    api.put("pieces/site-footer", links_in(footer, [{"text": "One", "href": "/one"}]), 1)
    api.put(f"rules/{made['id']}", {**RULE, "priority": 7}, made["version"])
    numbers = [edit["number"] for edit in reversed(api.get("edits").json()["items"])]
    assert turn(api, "undo", numbers[1]).status_code == 200
    assert api.get("pieces/site-footer").json()["content"] == footer["content"]
    assert Rule.objects.get(pk=made["id"]).priority == 7
    listed = {edit["number"]: edit for edit in api.get("edits").json()["items"]}
    assert listed[numbers[0]]["in_the_way"] == "Harbour header: priority 7, was 0"
    refused = turn(api, "undo", numbers[0])
    assert refused.status_code == 409
    assert refused.json()["title"].endswith("changed again since: Harbour header: priority 7, was 0")
    assert refused.json()["detail"] == f"Undo edit {numbers[2]} first."
    assert "Harbour header" in names()


def test_two_fields_of_one_rule_do_not_stand_in_each_others_way(api):
    rule = api.post("rules", RULE).json()
    url = f"rules/{rule['id']}"
    api.put(url, {**RULE, "priority": 7}, 1)
    api.put(url, {**RULE, "priority": 7, "note": "Quiet"}, 2)
    first = api.get("edits").json()["items"][1]["number"]
    assert turn(api, "undo", first).status_code == 200
    record = Rule.objects.get(pk=rule["id"])
    assert (record.priority, record.note) == (0, "Quiet")
    assert api.put(url, {**RULE, "note": "Lost"}, 3).status_code == 412, "an editor that is open is told of it"


def test_each_person_steps_through_what_they_did(api, another):
    api.post("rules", {**RULE, "name": "Una's"})
    another.post("rules", {**RULE, "name": "Imre's"})
    assert turn(api, "undo").json()["words"] == "Una's: made"
    assert turn(another, "undo").json()["words"] == "Imre's: made"
    assert turn(api, "redo").json()["words"] == "Una's: made"
    api.post("rules", {**RULE, "name": "Next"})
    assert [step["words"] for step in (api.get("").json()["undo"], another.get("").json()["redo"])] == [
        "Next: made",
        "Imre's: made",
    ]
    api.post("rules", {**RULE, "name": "After"})
    turn(api, "undo")
    api.post("rules", {**RULE, "name": "Instead"})
    assert api.get("").json()["redo"] is None, "who does something new has nothing to redo"


def test_somebody_else_can_undo_it_from_the_list(api, another):
    api.post("rules", RULE)
    number = api.get("").json()["undo"]["number"]
    assert turn(another, "undo", number).status_code == 200
    assert (api.get("").json()["undo"], another.get("").json()["redo"]["number"]) == (None, number)


def test_undo_says_what_names_what_it_would_take_away(api):
    api.post("pieces", {"kind": "widget", "name": "Tide clock"})
    api.post("rules", {**RULE, "actions": [{"do": "append", "slot": "above-footer", "piece": "tide-clock"}]})
    number = api.get("edits").json()["items"][1]["number"]
    refused = turn(api, "undo", number)
    assert (refused.status_code, refused.json()["title"]) == (409, "The rule Harbour header names the piece tide-clock")
    assert Piece.objects.filter(slug="tide-clock").exists()


def test_undo_says_when_a_name_was_taken_meanwhile(api):
    api.delete(*by_rule("Legal"))
    api.post("rules", {**RULE, "name": "legal"})
    number = api.get("edits").json()["items"][1]["number"]
    refused = turn(api, "undo", number)
    assert (refused.status_code, refused.json()["title"]) == (409, "Another rule is called Legal now")
    assert "Legal" not in names()


@pytest.mark.parametrize(("number", "status"), [(9999, 404), (1, 409)])
def test_an_undo_of_what_is_gone_or_cannot_be_undone_changes_nothing(api, number, status):
    """Edit 1 of the demo brought its pages in."""
    before = layout_now()
    assert turn(api, "undo", number).status_code == status
    assert layout_now() == before


def test_an_edit_is_not_undone_twice(api):
    api.post("rules", RULE)
    number = api.get("").json()["undo"]["number"]
    assert [turn(api, "undo", number).status_code for _ in range(2)] == [200, 409]
    assert [turn(api, "redo", number).status_code for _ in range(2)] == [200, 409]


def test_a_removed_rule_comes_back_where_it_stood(api):
    before = names()
    api.delete(*by_rule("Food stories"))
    api.post("rules", RULE)
    turn(api, "undo", api.get("edits").json()["items"][1]["number"])
    assert names() == ["Harbour header", *before]
    assert list(Rule.objects.values_list("position", flat=True)) == list(range(1, len(before) + 2))


def test_the_draft_goes_back_to_live_in_one_edit(api):
    before = layout_now()
    api.post("rules", RULE)
    api.delete(*by_rule("Legal"))
    api.post(f"rules/{rule_id('Food stories')}/position", {"position": 1}, 1)
    api.put("pieces/site-footer", links_in(api.get("pieces/site-footer").json(), [{"text": "One", "href": "/one"}]), 1)
    assert api.post("back-to-live").status_code == 204
    assert layout_now() == before
    assert (api.get("").json()["edits"], api.get("impact").json()["changes"]) == (0, [])
    assert words(api)[0] == "Draft back to live"
    assert turn(api, "undo").status_code == 200
    assert "Harbour header" in names()
    assert "Legal" not in names()


def test_one_part_goes_back_to_live_and_the_others_stay(api):
    api.post("rules", RULE)
    api.delete(*by_rule("Legal"))
    changes = {change["words"]: change["part"] for change in api.get("impact").json()["changes"]}
    assert set(changes) == {"Harbour header: made", "Legal: removed"}
    assert api.post("back-to-live", {"part": changes["Legal: removed"]}).status_code == 204
    assert {"Legal", "Harbour header"} <= set(names())
    assert api.post("back-to-live", {"part": "rule/999999"}).status_code == 404


def test_the_order_goes_back_to_live_by_itself(api):
    before = names()
    api.post(f"rules/{rule_id('Legal')}/position", {"position": 1}, 1)
    (change,) = api.get("impact").json()["changes"]
    assert (change["what"], change["how"], change["part"]) == ("order", "moved", "order")
    assert api.post("back-to-live", {"part": "order"}).status_code == 204
    assert names() == before
    assert api.post("back-to-live").status_code == 409, "there is nothing left to take back"


def test_a_revision_is_brought_back_as_the_draft(api):
    before = layout_now()
    api.post("rules", RULE)
    api.delete(*by_rule("Legal"))
    body = {"version": api.get("impact").json()["version"], "overrule": "Legal pages are about to be drawn anew"}
    assert api.post("revisions", body).status_code == 201
    assert words(api) == [], "what is live is no edit since live"
    assert api.post("revisions/1/bring-back").status_code == 204
    assert layout_now() == before
    assert words(api) == ["Revision 1 brought back"]
    assert api.get("revisions").json()["items"][0]["live"], "nothing is published by that"
    assert api.post("revisions/99/bring-back").status_code == 404
    assert turn(api, "undo").status_code == 200
    assert "Harbour header" in names()


def test_a_revision_from_before_ids_were_kept_is_matched_by_name(api, monkeypatch):
    from navrel.server.publishing import changes, live

    monkeypatch.setattr(changes, "open_revision", lambda revision: _without_ids(live.open_revision(revision)))
    before = names(), set(Piece.objects.values_list("slug", flat=True))
    api.delete(*by_rule("Legal"))
    assert api.post("revisions/1/bring-back").status_code == 204
    assert (names(), set(Piece.objects.values_list("slug", flat=True))) == before


def _without_ids(state):
    from dataclasses import replace

    return replace(state, rule_ids=(), shelf={})


def test_a_piece_in_use_is_taken_out_of_all_that_names_it(api):
    api.post("rules", {**RULE, "actions": [{"do": "append", "slot": "above-footer", "piece": "call-us"}]})
    before = layout_now()
    uses = {use["name"]: use["ends"] for use in api.get("pieces/call-us/uses").json()["items"]}
    assert uses == {"Harbour header": True, "Help desk": False, "Pass corner": False}
    url = "/api/sites/marrowick/pieces/call-us?take_out=true"
    assert api.client.delete(url, headers={"If-Match": '"1"'}).status_code == 204
    assert "Harbour header" not in names()
    assert not any(entry["piece"] == "call-us" for piece in Piece.objects.all() for entry in piece.entries)
    assert list(Rule.objects.values_list("position", flat=True)) == list(range(1, Rule.objects.count() + 1))
    assert turn(api, "undo").status_code == 200
    assert layout_now() == before


def test_edits_are_listed_in_stretches(api):
    for number in range(5):
        api.post("rules", {**RULE, "name": f"Rule {number}"})
    found = api.get("edits", offset=1, limit=2).json()
    assert (found["total"], found["offset"], [edit["words"] for edit in found["items"]]) == (
        5, 1, ["Rule 3: made", "Rule 2: made"],
    )  # fmt: skip
    assert api.get("edits", since="ever").json()["total"] == 7
    assert Edit.objects.filter(site__slug="marrowick").count() == 7
