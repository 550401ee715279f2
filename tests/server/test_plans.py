"""Publishing at a moment: what was looked at goes live then, once, whole; what stands in the way is told."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from navrel.core.questions.guards import Breach, Fault
from navrel.server.guards import services as guards
from navrel.server.publishing import services
from navrel.server.publishing.models import Plan, Revision
from navrel.server.publishing.planning import publish_due

RULE = {
    "name": "Harbour header",
    "condition": {"include": "within:/harbours"},
    "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
}
HOUR = timedelta(hours=1)


def on_the_clock(moment):
    return moment.astimezone(ZoneInfo("Europe/Dublin")).strftime("%Y-%m-%dT%H:%M")


def planned(api, ahead=HOUR, **body):
    version = api.get("impact").json()["version"]
    return api.post("plans", {"at": on_the_clock(datetime.now(UTC) + ahead), "version": version, **body})


def live_header(api, path="/harbours/norrvoe"):
    html = api.get("preview", path=path, state="live").json()["html"]
    return "slim-header" if 'data-piece="slim-header"' in html else "main-header"


def test_what_was_looked_at_goes_live_at_its_moment_and_later_edits_do_not(api):
    api.post("rules", RULE)
    answer = planned(api, note="Harbours first")
    assert answer.status_code == 201
    assert answer.json()["state"] == "waiting"
    api.post("rules", {**RULE, "name": "Later", "condition": {"include": "page:/about"}})
    assert publish_due() == [], "its moment has not come"
    assert live_header(api) == "main-header"
    (done,) = publish_due(datetime.now(UTC) + 2 * HOUR)
    assert (done.state, done.revision) == ("done", 2)
    assert live_header(api) == "slim-header"
    assert live_header(api, "/about") == "main-header"
    assert publish_due(datetime.now(UTC) + 2 * HOUR) == [], "once is enough"
    newest = api.get("revisions").json()["items"][0]
    assert (newest["number"], newest["note"], newest["by"]) == (2, "Harbours first", "una")
    assert [change["words"] for change in api.get("impact").json()["changes"]] == ["Later: made"]
    assert api.get("").json()["edits"] == 1, "what was edited after it was planned is ahead of it"


def test_what_was_published_meanwhile_is_never_taken_back(api):
    api.post("rules", RULE)
    planned(api)
    api.post("rules", {**RULE, "name": "About too", "condition": {"include": "page:/about"}})
    api.post("revisions", {"version": api.get("impact").json()["version"]})
    (refused,) = publish_due(datetime.now(UTC) + 2 * HOUR)
    assert (refused.state, refused.told) == ("refused", "Revision 2 was published after this was planned")
    assert live_header(api, "/about") == "slim-header"
    assert api.get("plans").json()["items"][0]["told"] == refused.told


def test_guards_are_asked_again_when_it_is_due(api, monkeypatch):
    api.post("rules", RULE)
    planned(api)
    real = guards.check_now
    broken = lambda state: [replace_broken(one) for one in real(state)]  # noqa: E731
    monkeypatch.setattr(services, "check_now", broken)
    (refused,) = publish_due(datetime.now(UTC) + 2 * HOUR)
    assert refused.state == "refused"
    assert refused.told.startswith("3 guards would be broken: Nothing to click away to")
    assert Revision.objects.count() == 1


def replace_broken(state):
    return replace(state, breaches=(Breach(Fault((), None, None), (), ()),))


def test_it_waits_for_guards_like_any_publication(api):
    api.delete(f"rules/{next(one['id'] for one in api.get('rules').json()['items'] if one['rule']['name'] == 'Legal')}")
    assert planned(api).status_code == 409
    answer = planned(api, overrule="Legal pages are drawn anew")
    assert answer.status_code == 201
    (done,) = publish_due(datetime.now(UTC) + 2 * HOUR)
    assert done.state == "done"
    assert api.get("revisions").json()["items"][0]["overruled"]["reason"] == "Legal pages are drawn anew"


def test_one_that_is_dropped_is_not_published(api):
    api.post("rules", RULE)
    made = planned(api).json()
    assert api.client.delete(f"/api/sites/marrowick/plans/{made['id']}").status_code == 204
    assert api.client.delete(f"/api/sites/marrowick/plans/{made['id']}").status_code == 404
    assert publish_due(datetime.now(UTC) + 2 * HOUR) == []
    assert api.get("plans").json()["items"] == []


@pytest.mark.parametrize("ahead", [timedelta(minutes=-5), timedelta(days=500)])
def test_a_moment_that_is_past_or_far_away_is_refused(api, ahead):
    api.post("rules", RULE)
    answer = planned(api, ahead)
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["parameter"] == "at"
    assert Plan.objects.count() == 0


def test_nothing_is_planned_where_nothing_differs_or_what_differs_was_not_looked_at(api):
    assert planned(api).json()["code"] == "nothing-to-publish"
    version = api.get("impact").json()["version"]
    api.post("rules", RULE)
    tomorrow = on_the_clock(datetime.now(UTC) + 24 * HOUR)
    assert api.post("plans", {"at": tomorrow, "version": version}).json()["code"] == "edited-meanwhile"
    assert api.post("plans", {"at": "noon", "version": version}).status_code == 422
