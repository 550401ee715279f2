"""Rules over the API: writing, refusing, ordering, two people at once, and what they come to."""

from base64 import b64decode
from typing import Any

import numpy as np
import pytest

from navrel.server.publishing.live import open_revision
from navrel.server.publishing.models import Revision
from navrel.server.rules.models import Rule

RULE: dict[str, Any] = {
    "name": "Harbour header",
    "condition": {"include": "within:/harbours"},
    "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
}


def names():
    return list(Rule.objects.values_list("name", flat=True))


def test_a_new_rule_stands_at_the_top_and_shows_at_once(api):
    made = api.post("rules", RULE)
    assert made.status_code == 201
    assert made.headers["ETag"] == '"1"'
    assert names()[0] == "Harbour header"
    found = api.get("trace", path="/harbours/norrvoe", target="header").json()
    assert found["by"] == "Harbour header"
    assert found["outcome"] == {
        "state": "filled",
        "pieces": ["slim-header"],
        "by": made.json()["id"],
        "value": None,
        "own_at": None,
    }
    assert (found["decisive"], found["runner_up"]) == ("specificity", "Site header")


@pytest.mark.parametrize(
    ("change", "pointer", "message"),
    [
        ({"name": " "}, "/name", "a rule needs a name"),
        ({"name": "x" * 81}, "/name", "this name has 81 characters; 80 is the most"),
        ({"name": "Site header"}, "/name", "there is already a rule called Site header"),
        ({"condition": {"include": "typ:a"}}, "/condition/include", "there is no fact typ"),
        ({"condition": {"exclude": 'author:"x'}}, "/condition/exclude", "this quote is never closed"),
        ({"condition": {"visitors": {"include": "type:a"}}}, "/condition/visitors/include", "type is a fact of pages, and this query is about visitors"),
        ({"priority": 2000}, "/priority", "this has to be a whole number from -1000 to 1000"),
        ({"actions": [{"do": "fill", "slot": "header", "piece": "nothing"}]}, "/actions/0/piece", "there is no piece nothing"),
        ({"colour": "red"}, "/colour", "there is no colour here"),
    ],
)  # fmt: skip
def test_a_refused_rule_says_where_and_changes_nothing(api, site, change, pointer, message):
    before = names()
    answer = api.post("rules", {**RULE, **change})
    assert answer.status_code == 422
    assert answer.headers["Content-Type"] == "application/problem+json"
    assert {"pointer": pointer, "message": message} in [
        {key: problem[key] for key in ("pointer", "message")} for problem in answer.json()["problems"]
    ]
    assert names() == before
    site.refresh_from_db()
    assert site.version == api.get("").json()["version"]


def test_a_query_error_carries_its_column(api):
    answer = api.post("rules", {**RULE, "condition": {"include": "within:/a colour:b"}}).json()
    assert answer["problems"] == [{
        "pointer": "/condition/include", "parameter": "", "message": "there is no fact colour", "hint": answer["problems"][0]["hint"],
        "code": "unknown-fact", "column": 11, "length": 6,
    }]  # fmt: skip


def test_the_second_of_two_people_is_told_and_sees_both_versions(api):
    made = api.post("rules", RULE).json()
    url = f"rules/{made['id']}"
    assert api.put(url, {**RULE, "note": "mine"}, made["version"]).status_code == 200
    refused = api.put(url, {**RULE, "note": "yours"}, made["version"])
    assert refused.status_code == 412
    body = refused.json()
    assert body["theirs"]["note"] == "mine"
    assert api.get(url).json()["rule"]["note"] == "mine"
    assert api.put(url, {**RULE, "note": "yours"}, body["version"]).status_code == 200


def test_a_write_without_a_version_is_refused(api):
    made = api.post("rules", RULE).json()
    answer = api.client.put(f"/api/sites/marrowick/rules/{made['id']}", RULE, content_type="application/json")
    assert (answer.status_code, answer.json()["code"]) == (428, "no-if-match")


def test_rules_move_between_places(api):
    before = names()
    last = Rule.objects.get(name=before[-1])
    answer = api.post(f"rules/{last.pk}/position", {"position": 2}, last.version)
    assert answer.json()["position"] == 2
    assert names() == [before[0], before[-1], *before[1:-1]]
    assert list(Rule.objects.values_list("position", flat=True)) == list(range(1, len(before) + 1))


def test_removing_a_rule_closes_the_gap(api):
    rule = Rule.objects.get(position=3)
    assert api.delete(f"rules/{rule.pk}").status_code == 204
    assert list(Rule.objects.values_list("position", flat=True)) == list(range(1, Rule.objects.count() + 1))
    assert api.get(f"rules/{rule.pk}").status_code == 404


def test_what_is_made_says_where_it_stands(api):
    rule = api.post("rules", RULE)
    piece = api.post("pieces", {"kind": "header", "name": "Bridge header"})
    copies = (
        api.post(f"rules/{rule.json()['id']}/copy"),
        api.post(f"pieces/{piece.json()['slug']}/copy", {"name": "Other bridge"}),
    )
    for answer in (rule, piece, *copies):
        assert answer.status_code == 201
        assert api.get(answer.headers["Location"]).json() == answer.json()


def test_neither_moving_nor_removing_passes_over_what_somebody_just_saved(api):
    rule = Rule.objects.get(position=3)
    api.put(f"rules/{rule.pk}", {**RULE, "note": "theirs"}, rule.version)
    for answer in (
        api.delete(f"rules/{rule.pk}", rule.version),
        api.post(f"rules/{rule.pk}/position", {"position": 1}, rule.version),
    ):
        assert (answer.status_code, answer.json()["theirs"]["note"]) == (412, "theirs")
    assert Rule.objects.get(pk=rule.pk).position == 3
    piece = api.get("pieces/winter-notice").json()
    assert api.put("pieces/winter-notice", {**piece, "note": "theirs"}, piece["version"]).status_code == 200
    assert api.delete("pieces/winter-notice", piece["version"]).status_code == 412


def test_every_rule_of_the_demo_can_be_saved_unchanged(api):
    for row in api.get("rules").json()["items"]:
        answer = api.put(f"rules/{row['id']}", row["rule"], row["version"])
        assert (answer.status_code, answer.json()["rule"]) == (200, row["rule"]), row["rule"]["name"]


def test_names_are_compared_without_case(api):
    answer = api.post("rules", {**RULE, "name": "quiet CHECKOUT"})
    assert (answer.status_code, answer.json()["problems"][0]["pointer"]) == (422, "/name")
    assert api.post("pieces", {"kind": "header", "name": "MAIN header"}).status_code == 422


def test_a_copy_stands_below_and_off(api):
    rule = Rule.objects.get(name="Quiet checkout")
    copy = api.post(f"rules/{rule.pk}/copy").json()
    assert copy["rule"]["name"] == "Quiet checkout, copy"
    assert copy["rule"]["on"] is False
    assert copy["position"] == rule.position + 1
    assert api.post(f"rules/{rule.pk}/copy").json()["rule"]["name"] == "Quiet checkout, copy 2"


def test_the_list_tells_reach_and_wins_through_the_lens(api):
    rows = {row["rule"]["name"]: row for row in api.get("rules").json()["items"]}
    quiet = rows["Quiet checkout"]
    assert (quiet["reach"], quiet["wins"], quiet["lets_in"]) == (7, 7, True)
    assert quiet["specificity"] == [0, 1, 1, 0]
    crew = {row["rule"]["name"]: row for row in api.get("rules", visitor="signed:in role:crew").json()["items"]}
    assert (crew["Quiet checkout"]["wins"], crew["Quiet checkout"]["lets_in"]) == (0, False)
    assert crew["Crew at work"]["wins"] == 9


def test_reach_of_an_unsaved_edit_tells_new_and_gone_pages(api):
    rule = Rule.objects.get(name="Quiet checkout")
    edited = {
        "name": rule.name,
        "condition": {"include": "within:/tickets type:checkout | page:/tickets/gift", "exclude": "page:/tickets/pay"},
        "actions": rule.actions,
    }
    found = api.post("reach", {"rule": edited, "id": rule.pk, "target": "footer"}).json()
    assert (found["reached"], found["new"], found["gone"], found["excluded"]) == (6, 1, 2, 1)
    states = {
        page["path"]: (page["standing"], page["clause"], *(one["fate"] for one in page["fates"]))
        for page in found["pages"]
    }
    assert states["/tickets/gift"] == ("reached", "", "wins")
    assert states["/tickets/pay"] == ("excluded", "page:/tickets/pay")
    assert states["/pass/renew"] == ("gone", "")
    assert {"/tickets/fares", "/tickets/help"} <= {miss["path"] for miss in found["nearly"]}


def test_reach_names_what_outranks(api):
    rule = {
        "name": "x",
        "condition": {"include": "type:article"},
        "actions": [{"do": "fill", "slot": "aside-end", "piece": "help-desk"}],
    }
    found = api.post("reach", {"rule": rule, "id": None}).json()
    by_path = {page["path"]: page for page in found["pages"]}
    kitchens = by_path["/journal/harbour-kitchens"]
    (fate,) = kitchens["fates"]
    assert fate == {"target": "aside-end", "fate": "outranked", "by": "Food stories", "on": "specificity"}


def test_any_page_is_tested_term_by_term(api):
    rule = {"name": "x", "condition": {"include": "within:/tickets type:checkout | type:help", "exclude": "-all"},
            "actions": [{"do": "empty", "slot": "footer"}]}  # fmt: skip
    found = api.post("reach", {"rule": rule, "path": "/tickets/fares"}).json()
    told = [(one["part"], one["clause"], one["place"], one["text"]) for one in found["terms"]]
    assert told == [
        ("include", 0, 0, "within:/tickets"), ("include", 0, 1, "type:checkout"), ("include", 1, 0, "type:help"),
        ("exclude", 0, 0, "-all"),
    ]  # fmt: skip
    assert (found["tested"]["standing"], found["tested"]["holds"]) == ("not-included", [0])
    assert found["lacks"]["path"] in {one["path"] for one in found["nearly"]}
    assert api.post("reach", {"rule": rule, "path": "/nowhere"}).status_code == 404


def test_what_a_rule_takes_over_is_told_with_those_it_takes_it_from(api):
    rule = {"name": "x", "condition": {"include": "page:/about"}, "priority": 900,
            "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}]}  # fmt: skip
    found = api.post("reach", {"rule": rule}).json()
    before = api.get("trace", path="/about", target="header").json()["by"]
    assert found["taken"] == [{"target": "header", "rule": before, "pages": 1}]
    assert found["gets"]["path"] == "/about"


def test_a_rule_is_judged_as_it_stands_in_the_editor_and_mended_by_a_click(api):
    def judged(rule):
        answer = api.post("judged", {"rule": rule})
        assert answer.status_code == 200
        return {one["check"]: one for one in answer.json()["items"]}

    header = [{"do": "fill", "slot": "header", "piece": "slim-header"}]
    found = judged({"name": "", "condition": {"include": ""}, "actions": header})
    assert found["no-include"]["mending"]["words"] == "Apply it to every page"
    mended = found["no-include"]["mending"]["tree"]
    assert mended["condition"]["include"] == "all"
    found = judged({**mended, "priority": -1000})
    assert found["never-wins"]["severity"] == "warning"
    raised = found["never-wins"]["mending"]["tree"]
    assert "never-wins" not in judged(raised)
    over = {"include": "page:/about", "schedule": {"until": "2001-01-01T00:00"}}
    found = judged({"name": "x", "condition": over, "actions": header, "priority": 900})
    assert "schedule" not in found["over"]["mending"]["tree"]["condition"]


def test_queries_are_read_with_counts(api):
    found = api.post("query", {"text": "within:/tickets -type:checkout", "domain": "page"}).json()
    assert found["normal"] == "within:/tickets -type:checkout"
    assert [(term["text"], term["negated"], term["pages"]) for term in found["clauses"][0]] == [
        ("within:/tickets", False, 12),
        ("type:checkout", True, 6),
    ]
    broken = api.post("query", {"text": "kind:poster", "domain": "page"}).json()
    assert (broken["problem"]["column"], broken["problem"]["code"]) == (6, "unknown-word")


def test_the_layout_names_an_outcome_for_every_page(api, site):
    answer = api.get("layout", targets="template,footer").json()
    assert [column["target"] for column in answer["columns"]] == ["template", "footer"]
    footer = answer["columns"][1]
    assert len(footer["codes"]) == api.get("").json()["pages"]
    tree = api.get("pages").json()
    shown = dict(zip(tree["paths"], footer["codes"], strict=True))
    assert footer["outcomes"][shown["/tickets/pay"]]["state"] == "empty"
    assert footer["outcomes"][shown["/about"]]["pieces"] == ["site-footer"]


def in_set(bits, paths):
    """The paths of the pages in a set as it stands in answers."""
    held = np.unpackbits(np.frombuffer(b64decode(bits), np.uint8))[: len(paths)]
    return [path for path, has in zip(paths, held, strict=True) if has]


def test_targets_that_were_not_asked_for_tell_where_they_have_anything(api, site):
    paths = api.get("pages").json()["paths"]
    columns = {one["target"]: one for one in api.get("layout").json()["columns"]}
    others = {
        one["target"]: in_set(one["pages"], paths) for one in api.get("layout", targets="footer").json()["others"]
    }
    assert "footer" not in others
    for target, column in columns.items():
        used = [
            one["by"] is not None or (one["state"] == "filled" and one["value"] is None) for one in column["outcomes"]
        ]
        there = [path for path, code in zip(paths, column["codes"], strict=True) if used[code]]
        assert target == "footer" or others.get(target, []) == there, target
    assert "setting:dress" in others
    assert api.get("layout").json()["others"] == []


@pytest.mark.parametrize("query", ["type:checkout", "all", "no such words", "page:/about,/contact"])
def test_a_search_tells_its_pages_by_a_bit_each(api, query):
    tree = api.get("pages").json()
    found = api.get("search", query=query).json()
    pages = in_set(found["pages"], tree["paths"])
    assert len(pages) == found["total"]
    expected = {
        "type:checkout": [path for path, kind in zip(tree["paths"], tree["types"], strict=True) if kind == "checkout"],
        "all": tree["paths"], "no such words": [], "page:/about,/contact": ["/about", "/contact"],
    }  # fmt: skip
    assert pages == expected[query]


def test_suggestions_come_from_the_site(api):
    paths = [f"/tickets/{name}" for name in ("choose", "passengers", "extras", "review", "pay", "done")]
    found = api.post("suggestions", {"paths": paths}).json()["items"]
    assert (found[0]["include"], found[0]["adds"], found[0]["lasting"]) == ("type:checkout", 0, True)


@pytest.mark.parametrize(
    "path", ["trace?path=/nowhere&target=header", "preview?path=/about&state=99", "rules/999999", "pieces/nothing"]
)
def test_what_is_not_there_is_a_404_problem(api, path):
    answer = api.get(path)
    assert answer.status_code == 404
    assert answer.headers["Content-Type"] == "application/problem+json"


def test_another_site_is_not_there(api):
    assert api.get("/api/sites/elsewhere/rules").status_code == 404
    assert api.get("/api/nothing").json()["code"] == "not-found"


def test_a_bad_lens_is_refused(api):
    answer = api.get("layout", visitor="role:crew")
    assert answer.status_code == 422
    (problem,) = answer.json()["problems"]
    assert (problem["parameter"], problem["message"], problem["hint"]) == (
        "visitor", "only a signed-in visitor has a role", "add signed:in",
    )  # fmt: skip


@pytest.mark.parametrize("path", ["layout?at=2026-12-01", "pages", "rules?at=2026-12-01"])
def test_a_large_answer_is_not_sent_again_while_it_is_the_same(api, path):
    url = f"/api/sites/marrowick/{path}"
    first = api.client.get(url)
    assert first.headers["Cache-Control"] == "private, no-cache"
    again = api.client.get(url, headers={"If-None-Match": first.headers["ETag"]})
    assert (again.status_code, again.content) == (304, b"")
    if path != "pages":
        api.post("rules", RULE)
        assert api.client.get(url, headers={"If-None-Match": first.headers["ETag"]}).status_code == 200


def test_a_page_list_comes_in_stretches(api):
    first = api.get("pages", offset=0, limit=5).json()
    rest = api.get("pages", offset=5).json()
    assert len(first["paths"]) == 5
    assert len(first["paths"]) + len(rest["paths"]) == first["total"]
    assert api.get("pages", offset="x").status_code == 400


def test_asking_again_reads_no_rules_or_pages(api, django_assert_num_queries):
    """The model is kept by version: session, user, and the site with the role there are read, nothing else."""
    api.get("trace", path="/", target="header")
    with django_assert_num_queries(3):
        api.get("trace", path="/about", target="footer")


WEEKENDS = {
    "from": "2026-12-01T00:00",
    "repeats": {"rrule": "FREQ=WEEKLY;BYDAY=FR,SA", "start": "2026-12-04T18:00", "duration": "PT6H"},
}


def test_a_schedule_is_kept_and_the_lens_has_a_moment(api):
    rule = {**RULE, "condition": {**RULE["condition"], "schedule": WEEKENDS}}
    made = api.post("rules", rule).json()
    assert made["rule"]["condition"]["schedule"] == WEEKENDS
    place = {"path": "/harbours/norrvoe", "target": "header"}
    friday = api.get("trace", **place, at="2026-12-04T19:00").json()
    assert (friday["by"], friday["entries"][0]["ends"]) == ("Harbour header", "2026-12-05T00:00")
    monday = api.get("trace", **place, at="2026-12-07T19:00").json()
    mine = next(entry for entry in monday["entries"] if entry["rule"] == made["id"])
    assert (mine["state"], mine["next_start"]) == ("time", "2026-12-11T18:00")
    rows = {row["id"]: row for row in api.get("rules", at="2026-12-07T19:00").json()["items"]}
    assert (rows[made["id"]]["lets_in"], rows[made["id"]]["wins"]) == (False, 0)
    refused = api.get("layout", at="tomorrow").json()
    assert refused["problems"][0]["message"] == "tomorrow is no local date-time"
    assert (refused["title"], refused["detail"]) == (
        "tomorrow is no local date-time", "write it as 2026-12-01T18:00",
    )  # fmt: skip


def test_a_bad_schedule_is_refused_in_its_place(api):
    wrong = {**WEEKENDS, "until": "2026-12-24T00:00Z"}
    answer = api.post("rules", {**RULE, "condition": {**RULE["condition"], "schedule": wrong}})
    assert answer.status_code == 422
    assert [problem["pointer"] for problem in answer.json()["problems"]] == ["/condition/schedule/until"]
    assert not Rule.objects.filter(name=RULE["name"]).exists()


def test_settings_are_set_by_rules_and_stay_through_publishing(api, site):
    site.settings = [*site.settings, {"name": "crumbs", "type": "switch", "default": True}]
    site.version += 1
    site.save()
    rule = {**RULE, "actions": [{"do": "set", "setting": "crumbs", "value": False}]}
    assert api.post("rules", rule).status_code == 201
    columns = api.get("layout", targets="setting:crumbs").json()["columns"]
    assert [outcome["value"] for outcome in columns[0]["outcomes"]] == [True, False]
    wrong = api.post("rules", {**rule, "name": "other", "actions": [{"do": "set", "setting": "crumbs", "value": "no"}]})
    assert wrong.json()["problems"][0]["message"] == "crumbs takes true or false"
    version = api.get("").json()["version"]
    assert api.post("revisions", {"note": "crumbs off", "version": version}).status_code == 201
    assert open_revision(Revision.objects.latest("number")).layout.setting_defaults["crumbs"] is True


def test_what_fits_at_the_caret_is_offered(api):
    found = api.post("completion", {"text": "type:check -ki", "caret": 10, "domain": "page"}).json()
    assert (found["start"], found["end"], found["what"]) == (5, 10, "value")
    assert found["offers"][0] == {"insert": "checkout", "label": "checkout", "about": "", "pages": 6}
    fact = api.post("completion", {"text": "type:check -ki", "caret": 99, "domain": "page"}).json()
    assert [offer["insert"] for offer in fact["offers"]] == ["kind:"]


def test_changing_a_rule_is_tried_before_it_is_done(api):
    rule = Rule.objects.get(name="Quiet checkout")
    (saved,) = [row for row in api.get("rules").json()["items"] if row["id"] == rule.pk]
    off = api.post("trial", {"rule": {**saved["rule"], "on": False}, "id": rule.pk}).json()
    assert off["pages"] == saved["reach"] == len(off["paths"])
    same = api.post("trial", {"rule": saved["rule"], "id": rule.pk, "position": saved["position"]}).json()
    assert same == {"pages": 0, "paths": [], "untold": 0}
    lower = api.post("trial", {"rule": {**saved["rule"], "priority": -900}, "id": rule.pk}).json()
    assert 0 < lower["pages"] <= off["pages"]
    assert api.post("trial", {"rule": saved["rule"], "id": 10**6}).status_code == 404
    assert [row["rule"] for row in api.get("rules").json()["items"] if row["id"] == rule.pk] == [saved["rule"]]


def test_the_same_is_done_to_several_rules_in_one_edit(api):
    rows = [row for row in api.get("rules").json()["items"] if row["pin"] is None][:3]
    ids = [row["id"] for row in rows]

    def now():
        return {row["id"]: row["rule"] for row in api.get("rules").json()["items"] if row["id"] in ids}

    before = now()
    assert api.post("rules/several", {"ids": [*ids, ids[0]], "do": "switch-off"}).json() == {"rules": 3}
    assert [rule["on"] for rule in now().values()] == [False] * 3
    edit = api.get("edits").json()["items"][0]
    assert sorted(edit["parts"]) == sorted(f"rule/{number}" for number in ids)
    assert api.post("rules/several", {"ids": ids, "do": "switch-off"}).json() == {"rules": 0}
    assert api.post("rules/several", {"ids": ids, "do": "switch-on"}).json() == {"rules": 3}
    assert now() == before
    api.post("rules/several", {"ids": ids[:2], "do": "prioritise", "priority": 33})
    assert [now()[number].get("priority", 0) for number in ids[:2]] == [33, 33]
    refused = api.post("rules/several", {"ids": [ids[0], 10**6], "do": "remove"})
    assert refused.status_code == 404 and set(now()) == set(ids), "nothing half done is left"
    assert api.post("rules/several", {"ids": ids, "do": "remove"}).json() == {"rules": 3}
    assert now() == {}
