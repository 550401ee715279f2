"""Guards: written, asked at every edit, and in the way of publishing."""

from navrel.server.publishing.models import Revision

BARE = {
    "name": "No footer in Help",
    "condition": {"include": "within:/help"},
    "demand": {"is": "bare", "slot": "footer"},
}
STAYS = {
    "name": "Home keeps its footer",
    "condition": {"include": "kind:home"},
    "demand": {"is": "shows", "slot": "footer"},
}
NO_FOOTER = {"name": "No footers", "condition": {"include": "kind:home"}, "priority": 50,
             "actions": [{"do": "empty", "slot": "footer"}]}  # fmt: skip


def trees(found):
    return [one["guard"] for one in found["items"]]


def declare(api, *guards, version=None):
    found = api.get("guards").json()
    tag = found["version"] if version is None else version
    return api.put("guards", {"items": [*trees(found), *guards]}, tag)


def named(response, name):
    return next(one for one in response.json()["items"] if one["guard"]["name"] == name)


def test_the_guards_of_the_demo_hold(api):
    found = api.get("guards").json()["items"]
    assert len(found) == 3
    assert [(one["broken"], one["unknown"]["pages"]) for one in found] == [(0, 0)] * 3
    assert found[0]["demands"] == "the footer shows nothing"
    assert found[0]["where"] == "in Tickets of type checkout"
    assert found[0]["who"] == "everyone, but not visitors with the role crew"
    assert found[0]["reached"] == 6


def test_a_guard_is_added_as_an_edit_that_is_undone(api):
    answer = declare(api, STAYS)
    assert answer.status_code == 200
    assert named(answer, "Home keeps its footer")["broken"] == 0
    edit = api.get("edits").json()["items"][0]
    assert edit["words"] == "Site: added the guard Home keeps its footer"
    assert api.post(f"edits/{edit['number']}/undo", {}).status_code in (200, 204)
    assert len(api.get("guards").json()["items"]) == 3


def test_how_they_stand_is_never_an_older_answer_that_was_kept(api):
    declare(api, STAYS)
    before = api.get("guards")
    api.post("rules", NO_FOOTER)
    after = api.client.get("/api/sites/marrowick/guards", headers={"If-None-Match": before.headers.get("ETag", "")})
    assert after.status_code == 200
    assert named(after, "Home keeps its footer")["broken"] == 1


def test_one_that_is_broken_names_pages_what_is_seen_for_whom_and_the_rule(api):
    tried = api.post("tried-guard", {"guard": {**BARE, "name": ""}}).json()
    assert tried["reached"] == tried["broken"] > 1
    (breach, *_) = tried["breaches"]
    assert breach["words"] == "the footer shows Site footer, by “Site footer”"
    assert breach["who"] == "everyone"
    assert breach["rule"] in {rule["id"] for rule in api.get("rules").json()["items"]}
    assert "/help" in breach["paths"]


def test_what_a_rule_would_break_is_told_while_it_is_edited(api):
    declare(api, STAYS)
    found = api.post("judged", {"rule": NO_FOOTER}).json()["items"]
    assert [one["what"] for one in found if one["check"] == "guard-broken"] == [
        "the guard “Home keeps its footer” is broken on 1 page"
    ]
    harmless = {**NO_FOOTER, "condition": {"include": "within:/help"}}
    assert not [one for one in api.post("judged", {"rule": harmless}).json()["items"] if one["check"] == "guard-broken"]


def test_a_broken_guard_stops_publishing_unless_it_is_overruled_with_a_reason_that_is_kept(api, site):
    declare(api, STAYS)
    api.post("rules", NO_FOOTER)
    assert api.get("findings").json()["items"][0]["check"] == "guard-broken"
    version = api.get("impact").json()["version"]
    refused = api.post("revisions", {"version": version, "overrule": "  "})
    assert refused.status_code == 409
    assert refused.json()["code"] == "guards-broken"
    assert "Home keeps its footer" in refused.json()["title"]
    assert Revision.objects.filter(site=site).count() == 1
    made = api.post("revisions", {"version": version, "overrule": "For the sale, until Monday"})
    assert made.status_code == 201
    assert made.json()["overruled"] == {"guards": ["Home keeps its footer"], "reason": "For the sale, until Monday"}
    assert api.get("revisions").json()["items"][1]["overruled"] is None


def test_two_people_do_not_overwrite_each_others_guards(api):
    version = api.get("guards").json()["version"]
    assert declare(api, STAYS, version=version).status_code == 200
    late = declare(api, BARE, version=version)
    assert late.status_code == 412
    assert late.json()["theirs"]["items"][-1]["name"] == "Home keeps its footer"


def test_one_that_cannot_be_used_is_told_of_in_its_place(api):
    wrong = {**STAYS, "demand": {"is": "holds", "pieces": ["gone"]}}
    answer = declare(api, wrong)
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["pointer"].endswith("/3/demand/pieces/0")
    assert len(api.get("guards").json()["items"]) == 3
    same = declare(api, {**STAYS, "name": "one SEARCH box a page"})
    assert "stands twice" in same.json()["problems"][0]["message"]


def test_a_piece_that_a_guard_names_says_so_before_it_goes_and_is_taken_out_with_it(api):
    holds = {**STAYS, "demand": {"is": "holds", "slot": "footer", "pieces": ["site-footer"]}}
    both = {**STAYS, "name": "Both", "demand": {"is": "lacks", "pieces": ["site-footer", "winter-notice"]}}
    declare(api, holds, both)
    uses = {one["name"]: one for one in api.get("pieces/site-footer/uses").json()["items"] if one["kind"] == "guard"}
    assert {name: one["ends"] for name, one in uses.items()} == {"Home keeps its footer": True, "Both": False}
    piece = api.get("pieces/site-footer")
    gone = api.delete("pieces/site-footer?take_out=true", piece.json()["version"])
    assert gone.status_code == 204, gone.content
    left = {one["name"]: one["demand"] for one in trees(api.get("guards").json())}
    assert "Home keeps its footer" not in left
    assert left["Both"]["pieces"] == ["winter-notice"]


def test_what_holds_today_is_proposed_and_taken_as_it_stands(api):
    proposed = api.get("guards/proposed").json()["items"]
    assert proposed and all(one["broken"] == 0 and one["reached"] for one in proposed)
    assert {"is": "shows", "slot": "header"} in [one["guard"]["demand"] for one in proposed]
    assert not [one for one in proposed if one["guard"]["demand"].get("item") == "search"], "that is guarded already"
    answer = declare(api, proposed[0]["guard"])
    assert answer.status_code == 200
    again = api.get("guards/proposed").json()["items"]
    assert proposed[0]["guard"] not in [one["guard"] for one in again]


def test_guards_leave_and_come_with_a_layout_file(api):
    file = api.get("layout-file").json()
    assert file["guards"][0]["name"] == "Nothing to click away to"
    file["guards"].append({**BARE, "demand": {"is": "lacks", "slot": "footer", "pieces": ["site-footer"]}})
    part = {"navrel": 1, "guards": file["guards"], "pieces": []}
    assert api.post("layout-file/look", {"file": part}).json()["guards"][-1] == "No footer in Help"
    assert api.post("layout-file/take-in", {"file": part, "rules": "off"}).status_code in (200, 201)
    found = trees(api.get("guards").json())
    assert len(found) == 4
    assert found[-1]["on"] is False
