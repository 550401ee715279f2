"""What can be asked about one page, and about what is to come, as the API tells it."""

import pytest


def test_looks_say_which_is_seen_and_where_they_differ(api):
    def looks(**lens):
        return api.get("looks", path="/crew/rota", **lens).json()

    told = looks()
    assert told["told"] and len(told["looks"]) == 2
    assert [one["current"] for one in told["looks"]].count(True) == 1
    crew = next(one for one in told["looks"] if "with the role crew" in one["words"])
    assert {"target": "header", "outcome": crew["differs"][0]["outcome"]} in crew["differs"]
    through = looks(visitor=crew["visitor"])
    assert [one["words"] for one in through["looks"] if one["current"]] == [crew["words"]]
    assert api.get("looks", path="/nowhere").status_code == 404


def test_a_page_that_everyone_sees_alike_has_one_look(api):
    told = api.get("looks", path="/about").json()
    assert [(one["words"], one["differs"], one["current"]) for one in told["looks"]] == [("everyone", [], True)]


def test_why_not_offers_what_makes_it_show_and_doing_it_does(api):
    rules = {row["rule"]["name"]: row for row in api.get("rules").json()["items"]}
    asked = {"path": "/legal/terms", "target": "header", "rule": rules["Site header"]["id"]}
    told = api.post("why-not", asked).json()
    assert not told["shows"]
    assert told["words"] == "“Legal” says more exactly which pages and visitors it is for, at the same priority"
    spared = next(one for one in told["remedies"] if one["rule"] == rules["Legal"]["id"])
    assert spared["pages"] == 1
    api.put(f"rules/{spared['rule']}", spared["tree"], rules["Legal"]["version"])
    assert api.post("why-not", asked).json()["shows"]
    assert api.get("trace", path="/legal/terms", target="header").json()["by"] == "Site header"


def test_why_not_refuses_a_rule_that_does_not_act_there(api):
    rule = api.get("rules").json()["items"][0]["id"]
    answer = api.post("why-not", {"path": "/about", "target": "before-content", "rule": rule})
    assert answer.status_code == 404


@pytest.mark.parametrize(("days", "status"), [("0", 422), ("x", 422), ("99999", 422), ("30", 200)])
def test_how_far_ahead_is_looked_is_bounded(api, days, status):
    assert api.get("boundaries", days=days).status_code == status


def test_what_begins_and_ends_is_told_with_its_moment(api):
    api.post(
        "rules",
        {
            "name": "Soon",
            "condition": {"include": "page:/about", "schedule": {"from": "2199-01-01T00:00", "until": "2199-02-01T00:00"}},
            "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
        },
    )  # fmt: skip
    assert api.get("boundaries").json()["items"] == []
    assert api.get("boundaries", days=3650, query="page:/about colour:red").status_code == 422
    coming = {"name": "Daily", "condition": {"include": "page:/about", "schedule": {
        "repeats": {"rrule": "FREQ=DAILY", "start": "2026-01-01T06:00", "duration": "PT1H"}}},
        "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}]}  # fmt: skip
    api.post("rules", coming)
    found = api.get("boundaries", days=2, limit=3).json()
    assert found["total"] == 4 and len(found["items"]) == 3
    assert {name for one in found["items"] for name in (*one["begins"], *one["ends"])} == {"Daily"}
    assert api.get("boundaries", days=2, query="page:/contact").json()["items"] == []


def test_a_schedule_is_told_in_words_with_its_next_times(api):
    told = api.post("schedule", {"schedule": {"repeats": {
        "rrule": "FREQ=WEEKLY;BYDAY=FR,SA", "start": "2026-12-04T18:00", "duration": "PT6H"}}}).json()  # fmt: skip
    assert told["words"].startswith("Fridays and Saturdays from 18:00 to midnight")
    assert len(told["spans"]) == 60 and told["more"]
    assert api.post("schedule", {"schedule": {}}).json() == {"words": "always", "spans": [], "more": False}
    broken = {"schedule": {"repeats": {"rrule": "FREQ=NEVER", "start": "", "duration": ""}}}
    assert api.post("schedule", broken).json() == {"words": "", "spans": [], "more": False}


@pytest.mark.parametrize("fact", ["type", "kind", "author", "lang", "term"])
def test_a_fact_of_all_pages_comes_as_one_column(api, fact):
    found = api.get("page-fact", fact=fact).json()
    assert len(found["codes"]) == 132
    assert set(found["codes"]) == set(range(len(found["values"])))
    assert api.get("page-fact", fact="colour").status_code == 422


def test_pages_come_into_a_rule_and_go_out_of_it(api):
    row = next(one for one in api.get("rules").json()["items"] if one["rule"]["name"] == "Bring your bike")

    def move(paths, do, version):
        return api.post(f"rules/{row['id']}/pages", {"paths": paths, "do": do}, version)

    added = move(["/about", "/contact"], "add", row["version"])
    assert added.json()["rule"]["condition"]["include"] == "page:/bring-your-bike,/spring-sailings,/about,/contact"
    version = added.json()["version"]
    assert move(["/about"], "add", row["version"]).status_code == 412
    assert move(["/nowhere"], "add", version).status_code == 404
    left = move(["/about", "/contact"], "leave-out", version).json()
    assert left["rule"]["condition"]["include"] == "page:/bring-your-bike,/spring-sailings"
    refused = move(["/bring-your-bike", "/spring-sailings"], "leave-out", left["version"])
    assert (refused.status_code, refused.json()["code"]) == (409, "nothing-left")
    reaching = {one["id"]: one["pages"] for one in api.post("reaching", {"paths": ["/about", "/bring-your-bike"]}).json()["items"]}  # fmt: skip
    assert reaching[row["id"]] == 1


def test_pages_tell_in_which_targets_they_are_not_the_same_for_everyone(api):
    found = api.post("unlike", {"paths": ["/tickets/pay", "/nowhere", "/about"]}).json()
    told = {row["path"]: set(row["targets"]) for row in found["items"]}
    assert set(told) == {"/tickets/pay", "/about"} and all(row["told"] for row in found["items"])
    for path, targets in told.items():
        looks = api.get("looks", path=path).json()["looks"]
        assert {one["target"] for look in looks for one in look["differs"]} <= targets
    assert {"header", "footer"} <= told["/tickets/pay"], "the crew get the usual ones"
    many = api.post("unlike", {"paths": ["/about"] * 150})
    assert len(many.json()["items"]) == 100


def test_a_trace_tells_when_it_changes_by_itself(api):
    schedule = {"from": "2001-02-03T04:00", "until": "2097-01-01T00:00"}
    rule = {"name": "A century", "priority": 900, "condition": {"include": "page:/about", "schedule": schedule},
            "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}]}  # fmt: skip
    api.post("rules", rule)
    now = api.get("trace", path="/about", target="header").json()
    assert (now["last"], now["next"]) == (None, None), "beyond the horizon"
    soon = api.get("trace", path="/about", target="header", at="2096-12-01T00:00").json()
    assert (soon["next"]["at"], soon["next"]["outcome"]["pieces"]) == ("2097-01-01T00:00", ["main-header"])
    later = api.get("trace", path="/about", target="header", at="2097-01-02T00:00").json()
    assert (later["last"]["at"], later["last"]["outcome"]["pieces"], later["next"]) == (
        "2097-01-01T00:00", ["slim-header"], None,
    )  # fmt: skip
