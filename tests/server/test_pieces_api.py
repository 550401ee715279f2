"""Pieces over the API."""

import re

import pytest

from navrel.server.library.models import Piece


def test_a_copy_has_its_own_name_slug_and_colour(api):
    made = api.post("pieces/main-header/copy", {"name": "Harbour header"})
    assert made.status_code == 201
    body = made.json()
    original = api.get("pieces/main-header").json()
    assert (body["slug"], body["kind"]) == ("harbour-header", "header")
    assert body["content"] == original["content"]
    assert body["colour"] != original["colour"]


@pytest.mark.parametrize(
    ("name", "message"),
    [
        ("", "a piece needs a name"),
        ("   ", "a piece needs a name"),
        ("Slim header", "there is already a header called Slim header"),
        ("x" * 81, "this name has 81 characters; 80 is the most"),
    ],
)
def test_bad_names_are_refused_with_the_reason(api, name, message):
    count = Piece.objects.count()
    answer = api.post("pieces/main-header/copy", {"name": name})
    assert answer.status_code == 422
    assert message in [problem["message"] for problem in answer.json()["problems"]]
    assert Piece.objects.count() == count


def test_two_kinds_may_share_a_name(api):
    answer = api.post("pieces", {"kind": "footer", "name": "Slim header"})
    assert (answer.status_code, answer.json()["slug"]) == (201, "slim-header-2")


@pytest.mark.parametrize(
    ("content", "pointer"),
    [
        ({"items": [{"type": "poster"}]}, "/content/items/0/type"),
        ({"items": [{"type": "logo", "size": 3}]}, "/content/items/0/size"),
        ({"items": [{"type": "logo", "href": "javascript:alert(1)"}]}, "/content/items/0/href"),
        (
            {"items": [{"type": "menu", "links": [{"text": "x", "href": " JavaScript:alert(1)"}]}]},
            "/content/items/0/links",
        ),
        ({"items": [{"type": "newest", "query": "typ:x"}]}, "/content/items/0/query"),
        ({"style": {"background": "url(//evil.example)"}}, "/content/style/background"),
        ({"style": {"position": "fixed"}}, "/content/style/position"),
        ({"script": "alert(1)"}, "/content/script"),
    ],
)
def test_contents_are_checked_with_their_place(api, content, pointer):
    answer = api.post("pieces", {"kind": "header", "name": "New", "content": content})
    assert answer.status_code == 422
    assert pointer in [problem["pointer"] for problem in answer.json()["problems"]]


def test_a_changed_piece_shows_on_its_pages_and_raises_its_version(api):
    piece = api.get("pieces/slim-header").json()
    tree = {key: piece[key] for key in ("name", "kind", "note", "content", "slots", "entries")}
    tree["content"] = {"items": [{"type": "logo", "text": "Quiet <b>harbour</b>"}]}
    answer = api.put("pieces/slim-header", tree, piece["version"])
    assert answer.headers["ETag"] == f'"{piece["version"] + 1}"'
    html = api.get("preview", path="/tickets/pay").json()["html"]
    assert "Quiet &lt;b&gt;harbour&lt;/b&gt;" in html
    assert api.put("pieces/slim-header", tree, piece["version"]).status_code == 412


def test_a_piece_in_use_is_not_removed_and_says_by_what(api):
    answer = api.delete("pieces/slim-header")
    assert answer.status_code == 409
    assert [(use["kind"], use["name"], use["ends"]) for use in answer.json()["uses"]] == [
        ("rule", "Quiet checkout", False),
        ("rule", "Legal", False),
        ("guard", "Legal pages keep the slim header", True),
    ]
    assert [use["key"] for use in api.get("pieces/call-us/uses").json()["items"]] == ["help-desk", "pass-corner"]
    assert api.delete("pieces/standard").status_code == 409


def test_every_piece_of_the_demo_can_be_saved_unchanged(api):
    for piece in api.get("pieces").json()["items"]:
        seen = api.get(f"pieces/{piece['slug']}").json()
        answer = api.put(f"pieces/{piece['slug']}", seen, seen["version"])
        assert (answer.status_code, {**answer.json(), "version": 1}) == (200, {**seen, "version": 1}), piece["slug"]


@pytest.mark.parametrize(("slots", "kept"), [(None, 10), ([], 0), (["footer"], 1)])
def test_a_template_with_an_empty_list_of_slots_has_none(api, slots, kept):
    made = api.post(
        "pieces", {"kind": "template", "name": "Bare", **({} if slots is None else {"slots": slots})}
    ).json()
    assert len(api.get(f"pieces/{made['slug']}").json()["slots"]) == kept
    rule = {
        "name": "Bare",
        "condition": {"include": "page:/about"},
        "actions": [{"do": "use", "template": made["slug"]}],
    }
    assert api.post("rules", rule).status_code == 201
    shown = api.get("preview", path="/about").json()
    seated = [one["target"] for one in shown["targets"] if one["seated"] and one["target"] not in ("template",)]
    assert len([slot for slot in seated if not slot.startswith("setting:") and slot != "sail-panel"]) == kept
    assert ('data-slot="footer"' in shown["html"]) == (kept > 0)


def test_an_unused_piece_goes(api):
    slug = api.post("pieces/main-header/copy", {"name": "Spare"}).json()["slug"]
    assert api.delete(f"pieces/{slug}").status_code == 204
    assert api.get(f"pieces/{slug}").status_code == 404


def test_the_shelf_counts_pages_through_the_lens(api):
    def shown(visitor):
        return {row["slug"]: row["pages"] for row in api.get("piece-pages", visitor=visitor).json()["items"]}

    assert "crew-header" not in shown("")
    assert shown("signed:in role:crew")["crew-header"] == 9
    assert shown("")["call-us"] > 0, "a widget counts where its sidebar shows it"


def test_a_picture_is_drawn_from_the_unsaved_piece(api):
    piece = {
        "kind": "widget",
        "name": "",
        "content": {"items": [{"type": "button", "text": "Come aboard", "href": "/tickets"}]},
    }
    html = api.post("picture", {"piece": piece}).json()["html"]
    assert '<a class="button full" href="/tickets">Come aboard</a>' in html


def test_what_the_markup_of_a_piece_loses_is_told_item_by_item(api):
    codes = (
        "<p class='note'>{{ page.title }}</p>",
        "<p id='a'>Aye</p><script src='/x.js'>1</script>{% if page.kind == 'home' %}<b onclick='a()'>Nay</b>{% endif %}",
        "{% foo",
    )
    cells = [{"items": [{"type": "markup", "code": code} for code in codes[:2]]}]
    piece = {"kind": "widget", "name": "", "content": {"rows": [{"cells": cells}]}}
    told = {path: api.post("picture", {"piece": piece, "path": path}).json()["lost"] for path in ("/", "/about")}
    assert told["/"] == [
        {
            "pointer": "/content/rows/0/cells/0/items/1",
            "lost": [{"what": what, "count": 1} for what in ("script", "p[id]", "b[onclick]")],
        }
    ]
    assert [one["what"] for one in told["/about"][0]["lost"]] == ["script", "p[id]"]
    broken = {"kind": "widget", "name": "", "content": {"items": [{"type": "markup", "code": codes[2]}]}}
    assert api.post("picture", {"piece": broken}).status_code == 422


def test_a_picture_shows_what_the_page_that_it_is_drawn_on_says(api):
    piece = {"kind": "widget", "name": "", "content": {"items": [{"type": "contents"}]}}
    drawn = {path: api.post("picture", {"piece": piece, "path": path}).json()["html"]
             for path in ("/journal/harbour-kitchens", "/journal/two-keepers")}  # fmt: skip
    led_to = {path: re.findall(r'href="#([^"]+)"', html) for path, html in drawn.items()}
    assert len(led_to["/journal/harbour-kitchens"]) == 6
    assert len(led_to["/journal/two-keepers"]) == 3
    assert len({*led_to["/journal/harbour-kitchens"], *led_to["/journal/two-keepers"]}) == 9


def test_item_types_are_described(api):
    types = {one["type"]: [part["name"] for part in one["parts"]] for one in api.get("/api/item-types").json()["items"]}
    assert types["menu"] == ["label", "shows", "menu", "links", "page", "depth", "count", "fold"]
    assert len(types) >= 28


def sidebar(*entries):
    return {"kind": "sidebar", "name": "Latest stories", "entries": list(entries)}


def test_how_far_each_entry_of_a_sidebar_reaches_while_it_is_edited(api):
    crew = {"piece": "wind-line", "condition": {"visitors": {"include": "role:crew"}}}
    body = {"slug": "latest-stories", "piece": sidebar({"piece": "wind-line"}, crew, {"piece": "call-us", "on": False})}
    found = api.post("sidebar-reach", body).json()
    everywhere, _, off = found["entries"]
    assert everywhere["shown"] == found["pages"] > 0
    assert everywhere["matched"] > everywhere["shown"]
    assert [one["shown"] for one in found["entries"]] == [found["pages"], 0, 0]
    as_crew = api.post("sidebar-reach", {**body, "visitor": "signed:in role:crew"}).json()
    assert as_crew["entries"][1]["shown"] == as_crew["pages"] > 0
    assert off["matched"] == everywhere["matched"], "what its condition matches, whether it is on or not"


def test_an_entry_that_cannot_be_read_says_where(api):
    wrong = sidebar({"piece": "wind-line", "condition": {"include": "typ:x"}})
    answer = api.post("sidebar-reach", {"slug": "latest-stories", "piece": wrong})
    assert (answer.status_code, answer.json()["problems"][0]["pointer"]) == (422, "/entries/0/condition/include")
    assert api.post("sidebar-reach", {"slug": "x", "piece": sidebar(), "visitor": "role:"}).status_code == 422


@pytest.mark.parametrize(
    ("given", "turned"),
    [
        (("type:article", "", "page", False), ("all", "type:article")),
        (("type:article", "", "page", True), ("", "type:article")),
        (("", "type:article", "page", True), ("type:article", "")),
        (("", "", "page", False), ("all", "")),
        (("role:crew", "", "visitor", True), ("", "role:crew")),
        (("type:a lang:en", "page:/x", "page", True), ("page:/x | -type:a | -lang:en", "")),
    ],
)
def test_a_condition_is_turned_round(api, given, turned):
    include, exclude, domain, empty_is_all = given
    body = {"include": include, "exclude": exclude, "domain": domain, "empty_is_all": empty_is_all}
    assert api.post("opposite", body).json() == {"include": turned[0], "exclude": turned[1]}


def test_what_cannot_be_turned_round_says_why(api):
    wrong = api.post("opposite", {"include": "typ:x", "exclude": "", "domain": "page"})
    assert (wrong.status_code, wrong.json()["problems"][0]["pointer"]) == (422, "/include")
    many = " | ".join(f"type:a{n} author:b{n}" for n in range(10))
    long = api.post("opposite", {"include": many, "exclude": "all -lang:nb", "domain": "page"})
    assert (long.status_code, long.json()["code"]) == (422, "too-long")


MEASURE = {"name": "measure", "type": "choice", "choices": ["narrow", "wide"], "default": "narrow"}


def declare(api, items, version=None):
    return api.put("settings", {"items": items}, version or api.get("settings").json()["version"])


def test_settings_are_declared_as_one_edit_that_can_be_undone(api):
    before = api.get("settings").json()["items"]
    answer = declare(api, [*before, {"name": "hero", "type": "switch", "help": "Whether the hero shows"}])
    assert answer.status_code == 200
    assert answer.json()["items"][-1] == {
        "name": "hero", "type": "switch", "default": False, "help": "Whether the hero shows",
    }  # fmt: skip
    step = api.get("").json()["undo"]
    assert step["words"] == "Site: added the setting hero"
    assert api.post(f"edits/{step['number']}/undo", {}).status_code == 200
    assert api.get("settings").json()["items"] == before


def test_a_default_that_changes_is_told_in_words(api):
    items = api.get("settings").json()["items"]
    changed = [{**one, "default": "wide"} if one["name"] == "measure" else one for one in items]
    assert declare(api, changed).status_code == 200
    assert api.get("").json()["undo"]["words"] == "Site: setting measure: default normal → wide"


@pytest.mark.parametrize(
    ("items", "pointer", "status"),
    [
        ([{"name": "Über", "type": "text"}], "/settings/0/name", 422),
        ([{"name": "x", "type": "text"}, {"name": "x", "type": "text"}], "/settings/1", 422),
        ([{"name": "x", "type": "choice"}], "/settings/0", 422),
        ([{"name": "x", "type": "number", "default": "four"}], "/settings/0/default", 400),
        ([{"name": "x", "type": "colour"}], "/settings/0/type", 422),
        ([{"name": "x", "type": "colour", "default": 3}], "/settings/0/type", 400),
        (["x"], "/settings/0", 400),
    ],
)
def test_settings_that_cannot_be_are_refused_with_their_place(api, items, pointer, status):
    before = api.get("settings").json()
    answer = declare(api, items)
    assert (answer.status_code, answer.json()["problems"][0]["pointer"]) == (status, pointer)
    assert api.get("settings").json() == before


def test_a_setting_that_a_rule_sets_can_neither_go_nor_lose_the_value(api):
    action = {"do": "set", "setting": "measure", "value": "wide"}
    made = api.post("rules", {"name": "Wide", "condition": {"include": "page:/about"}, "actions": [action]})
    assert made.status_code == 201
    items = api.get("settings").json()["items"]
    for refused in (
        [],
        [{**one, "choices": ["narrow", "normal"]} if one["name"] == "measure" else one for one in items],
    ):
        answer = declare(api, refused)
        assert (answer.status_code, answer.json()["code"]) == (409, "in-use")
        assert answer.json()["title"] == "The rule Wide sets measure to wide"
    assert api.get("settings").json()["items"] == items
    layout = api.get("layout?targets=setting:measure").json()["columns"][0]
    assert {one["value"] for one in layout["outcomes"]} == {"normal", "wide"}


def test_an_edit_that_a_rule_leans_on_is_not_undone_under_it(api):
    """Declared, then set by a rule: taking the declaration back would leave the rule with nothing to set."""
    items = api.get("settings").json()["items"]
    assert declare(api, [*items, {"name": "hero", "type": "switch"}]).status_code == 200
    number = api.get("").json()["undo"]["number"]
    action = {"do": "set", "setting": "hero", "value": True}
    api.post("rules", {"name": "Hero", "condition": {"include": "page:/"}, "actions": [action]})
    answer = api.post(f"edits/{number}/undo", {})
    assert (answer.status_code, answer.json()["code"]) == (409, "in-use")
    assert api.get("layout").status_code == 200


def test_two_people_who_declare_settings_at_once(api):
    before = api.get("settings").json()
    others = [one for one in before["items"] if one["name"] != "measure"]
    assert declare(api, [MEASURE, *others], before["version"]).status_code == 200
    answer = declare(api, others, before["version"])
    assert answer.status_code == 412
    assert answer.json()["theirs"]["items"][0] == MEASURE


def test_versions_of_a_piece_newest_first_and_a_copy_that_tells_how_it_differs(api):
    before = api.get("pieces/call-us").json()
    items = before["content"]["items"]
    tree = {key: before[key] for key in ("name", "kind", "note", "slots", "entries")}
    changed = {**tree, "content": {"items": [*items, {"type": "divider"}]}}
    assert api.put("pieces/call-us", changed, before["version"]).status_code == 200
    found = api.get("pieces/call-us/versions").json()
    assert found["total"] == 2
    newest, oldest = found["items"]
    assert "divider" in newest["words"] and newest["by"] and newest["edit"] > oldest["edit"]
    assert [len(one["piece"]["content"]["items"]) for one in (newest, oldest)] == [len(items) + 1, len(items)]
    # What an earlier edit left is saved like anything else, and is a version itself.
    version = api.get("pieces/call-us").json()["version"]
    assert api.put("pieces/call-us", oldest["piece"], version).status_code == 200
    assert api.get("pieces/call-us").json()["content"] == before["content"]
    assert api.get("pieces/call-us/versions").json()["total"] == 3
    assert api.get("pieces/nowhere/versions").status_code == 404


def test_a_copy_knows_its_original_for_as_long_as_that_is_there(api):
    copy = api.post("pieces/call-us/copy", {"name": "Call the quay"}).json()
    assert copy["origin"] == "call-us"
    where = f"pieces/{copy['slug']}"
    alike = api.get(f"{where}/difference").json()
    assert alike == {"origin": "call-us", "name": "Call us", "words": []}
    tree = {key: copy[key] for key in ("name", "kind", "note", "slots", "entries")}
    assert (
        api.put(where, {**tree, "content": {"items": copy["content"]["items"][1:]}}, copy["version"]).status_code == 200
    )
    assert api.get(f"{where}/difference").json()["words"] == ["removed a heading"]
    assert api.get("pieces/call-us/difference").json()["origin"] == ""
    original = api.get("pieces/call-us").json()
    gone = api.client.delete(
        "/api/sites/marrowick/pieces/call-us?take_out=true", headers={"If-Match": f'"{original["version"]}"'}
    )
    assert gone.status_code == 204
    assert api.get(f"{where}/difference").json()["origin"] == ""
    # Undoing brings the original back, and with it the difference.
    edit = api.get("edits").json()["items"][0]["number"]
    assert api.post(f"edits/{edit}/undo").status_code == 200
    assert api.get(f"{where}/difference").json()["name"] == "Call us"


def test_a_copy_that_goes_and_comes_again_still_knows_its_original(api):
    copy = api.post("pieces/call-us/copy", {"name": "Call the quay"}).json()
    where = f"/api/sites/marrowick/pieces/{copy['slug']}"
    assert api.client.delete(where, headers={"If-Match": f'"{copy["version"]}"'}).status_code == 204
    edit = api.get("edits").json()["items"][0]["number"]
    assert api.post(f"edits/{edit}/undo").status_code == 200
    assert api.get(f"pieces/{copy['slug']}").json()["origin"] == "call-us"
    assert api.post("back-to-live", {"part": ""}).status_code == 204
    assert api.get(f"pieces/{copy['slug']}").status_code == 404
