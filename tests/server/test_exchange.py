"""Layouts out of a site and in again: whole, in parts, under other names, and what is refused."""

import json
from base64 import b64encode

import pytest

from navrel.server.exchange.out import as_text, whole_layout
from navrel.server.exchange.taking import Choices, take_in
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import make_empty_site
from navrel.server.library.files import take_file
from navrel.server.sitestate.draft import draft

SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><path d="M0 10h40"/></svg>'


def widget(slug="tide", **more):
    return {
        "slug": slug,
        "kind": "widget",
        "name": "Tide",
        "content": {"items": [{"type": "text", "text": "High"}]},
    } | more


def file(**parts):
    return {"navrel": 1, **parts}


def test_a_layout_taken_into_an_empty_site_and_out_again_is_the_same_bytes(site):
    take_file("marrowick", "Quay at dawn.svg", SVG)
    first = as_text(whole_layout(draft(site)))
    Site.objects.filter(pk=site.pk).update(slug="old")
    make_empty_site("marrowick", "Another name")
    take_in("marrowick", json.loads(first), Choices(rules="as-written", pages=True, site=True))
    again = as_text(whole_layout(draft(Site.objects.get(slug="marrowick"))))
    assert again == first
    assert '"data"' in first and '"fields"' in first


def test_some_pieces_go_out_with_what_they_need_and_nothing_else(api):
    answer = api.get("layout-file", pieces="timetables")
    assert answer["Content-Disposition"] == 'attachment; filename="timetables.navrel.json"'
    tree = answer.json()
    assert {piece["slug"] for piece in tree["pieces"]} == {
        "timetables",
        "book-now",
        "daily-lines",
        "wind-line",
        "sea-notices",
    }
    assert set(tree) == {"navrel", "pieces"}
    quiet, legal = api.get("layout-file", pieces="slim-header", rules="true").json()["rules"]
    assert [action["do"] for action in quiet["actions"]] == ["fill", "empty", "empty"]
    assert legal["actions"] == [{"do": "fill", "slot": "header", "piece": "slim-header"}]
    assert api.get("layout-file", pieces="nobody").status_code == 404


def test_what_is_in_a_file_is_told_with_pictures_and_what_clashes(api):
    sent = file(
        pieces=[widget(), {"slug": "mine", "kind": "header", "name": "Main header"}],
        rules=[{"name": "Tides", "actions": [{"do": "append", "slot": "above-footer", "piece": "tide"}]}],
    )
    found = api.post("layout-file/look", {"file": sent}).json()
    tide, header = found["pieces"]
    assert (tide["clash"], header["clash"], header["clash_name"]) == ("", "main-header", "Main header")
    assert "High" in tide["html"]
    assert found["rules"] == ["Tides"]
    mine = api.get("layout-file", pieces="call-us").json()
    assert [(one["clash"], one["same"]) for one in api.post("layout-file/look", {"file": mine}).json()["pieces"]] == [
        ("call-us", True)
    ]


def test_taking_in_is_one_edit_whose_rules_are_off_unless_asked(api):
    before = api.get("edits").json()["total"]
    rule = {"name": "Legal", "actions": [{"do": "append", "slot": "above-footer", "piece": "tide"}]}
    taken = api.post("layout-file/take-in", {"file": file(pieces=[widget()], rules=[rule])})
    assert taken.json() == {"pieces": 1, "rules": 1, "pages": 0, "files": 0}
    newest = api.get("rules").json()["items"][-1]["rule"]
    assert (newest["name"], newest.get("on")) == ("Legal 2", False)
    edits = api.get("edits").json()
    assert edits["total"] == before + 1
    api.post(f"edits/{edits['items'][0]['number']}/undo")
    assert "tide" not in {piece["slug"] for piece in api.get("pieces").json()["items"]}


@pytest.mark.parametrize(
    ("choice", "slugs", "said"),
    [
        ({"how": "leave"}, {"call-us"}, "Somebody answers"),
        ({"how": "replace"}, {"call-us"}, "High"),
        ({"how": "rename", "name": "Call us too"}, {"call-us", "call-us-too"}, "Somebody answers"),
    ],
    ids=lambda value: value.get("how") if isinstance(value, dict) else None,
)
def test_a_piece_of_the_same_name_replaces_is_renamed_or_left_out(api, choice, slugs, said):
    sent = file(pieces=[widget("call-us", name="Call us"), {"slug": "desk", "kind": "sidebar", "name": "Desk",
                                                           "entries": [{"piece": "call-us"}]}])  # fmt: skip
    assert api.post("layout-file/take-in", {"file": sent, "pieces": [{"slug": "call-us", **choice}]}).status_code == 200
    here = {piece["slug"]: piece for piece in api.get("pieces").json()["items"]}
    assert {slug for slug in here if slug.startswith("call-us")} == slugs
    assert said in json.dumps(here["call-us"]["content"])
    assert here["desk"]["entries"][0]["piece"] == ("call-us-too" if choice["how"] == "rename" else "call-us")


def test_only_what_is_named_comes_where_that_is_asked(api):
    sent = file(pieces=[widget("a", name="A"), widget("b", name="B"), widget("c", name="C")])
    api.post("layout-file/take-in", {"file": sent, "only_named": True, "pieces": [{"slug": "b", "how": "add"}]})
    assert {"a", "b", "c"} & {piece["slug"] for piece in api.get("pieces").json()["items"]} == {"b"}


@pytest.mark.parametrize(
    ("sent", "pointer", "message"),
    [
        (file(navrel=2), "/navrel", "this has to be 1"),
        (file(pieces=[widget(kind="wing")]), "/pieces/0/kind", "wing is none of"),
        (file(pieces=[widget(content={"items": [{"type": "spell"}]})]), "/pieces/0/content/items/0/type", "an item is one"),
        (file(rules=[{"name": "R", "actions": [{"do": "fill", "slot": "header", "piece": "no"}]}]),
         "/rules/0/actions/0/piece", "there is no piece no"),
        (file(files=[{"name": "a.svg", "type": "image/svg+xml", "digest": "0" * 64, "width": 1, "height": 1,
                      "data": b64encode(b"<html/>").decode()}]), "/files/0/data", "this is no PNG"),
        (file(files=[{"name": "a.svg", "type": "image/svg+xml", "digest": "0" * 64}]), "/files/0", "are missing"),
        (file(pieces=[widget("a", content={"items": [{"type": "piece", "piece": "b"}]}),
                      widget("b", name="B", content={"items": [{"type": "piece", "piece": "a"}]})]),
         "/pieces/0/content", "Tide would contain itself: Tide → B → Tide"),
    ],
)  # fmt: skip
def test_a_file_that_is_not_whole_changes_nothing(api, site, sent, pointer, message):
    before = as_text(whole_layout(draft(site)))
    answer = api.post("layout-file/take-in", {"file": sent})
    assert answer.status_code == 422
    problems = answer.json()["problems"]
    assert any(one["pointer"].endswith(pointer) and message in one["message"] for one in problems), problems
    site.refresh_from_db()
    assert as_text(whole_layout(draft(site))) == before


def test_menus_and_settings_come_where_the_site_lacks_them(api):
    menus = [{"slug": "main", "name": "Main", "entries": [{"page": "/routes"}]}]
    sent = file(site={"name": "X", "settings": [{"name": "ribbon", "type": "switch"}, {"name": "measure", "type": "text"}]},
                menus=menus)  # fmt: skip
    api.post("layout-file/take-in", {"file": sent})
    assert api.get("menus").json()["items"][-1:] == menus
    settings = {one["name"]: one["type"] for one in api.get("settings").json()["items"]}
    assert (settings["ribbon"], settings["measure"]) == ("switch", "choice")


@pytest.mark.parametrize("sent", [{}, "no object", None, [], {"navrel": "x"}])
def test_what_is_no_layout_file_is_refused(api, sent):
    assert api.post("layout-file/take-in", {"file": sent}).status_code == 400
    assert api.post("layout-file/look", {"file": sent}).status_code in (400, 422)
