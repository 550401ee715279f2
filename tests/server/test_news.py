"""News: what others did, or the clock, told once to those who did not do it, read once, and as a feed."""

from datetime import UTC, datetime, timedelta

import feedparser
import pytest
from django.test import Client

from navrel.server.accounts.models import Membership
from navrel.server.news import watching
from navrel.server.news.models import News
from navrel.server.news.services import forget_old
from navrel.server.publishing.live import live
from navrel.server.publishing.planning import publish_due
from navrel.server.sitestate.draft import draft

from .test_guards_api import NO_FOOTER, STAYS, declare
from .test_plans import HOUR, RULE, planned


@pytest.fixture
def ida(site, django_user_model):
    """Somebody else of the site: `ida("news")` asks."""
    user = django_user_model.objects.create_user("ida", password="kettle")
    Membership.objects.create(site=site, user=user, role="viewer")
    client = Client()
    client.force_login(user)
    News.objects.all().delete()
    return client


def told(client):
    return [(one["kind"], one["words"]) for one in client.get("/api/sites/marrowick/news").json()["items"]]


def test_a_guard_that_somebody_elses_edit_broke_is_told_once_and_not_to_them(api, ida):
    declare(api, STAYS)
    watching.watch_guards()
    assert told(ida) == []
    api.post("rules", NO_FOOTER)
    watching.watch_guards()
    watching.watch_guards()
    [(kind, words)] = told(ida)
    assert kind == "guard"
    assert words.startswith("The guard Home keeps its footer is broken on / (")
    assert words.endswith("since una saved: No footers: made")
    assert told(api.client) == []
    # Mended and broken again it is told again; edits of two people are told to both.
    api.post("rules", {**NO_FOOTER, "name": "Footer after all", "priority": 60,
                       "actions": [{"do": "fill", "slot": "footer", "piece": "site-footer"}]})  # fmt: skip
    watching.watch_guards()
    assert len(told(ida)) == 1
    row = next(one for one in api.get("rules").json()["items"] if one["rule"]["name"] == "Footer after all")
    api.delete(f"rules/{row['id']}", row["version"])
    watching.watch_guards()
    assert len(told(ida)) == 2


def test_a_guard_that_was_broken_when_it_was_first_looked_is_no_news(api, ida):
    declare(api, STAYS)
    api.post("rules", NO_FOOTER)
    watching.watch_guards()
    assert told(ida) == []


def test_a_publication_is_told_to_others_and_a_planned_one_to_whoever_planned_it_too(api, ida):
    api.post("rules", RULE)
    api.post("revisions", {"version": api.get("impact").json()["version"], "note": "Harbours"})
    assert told(ida) == [("publication", "Revision 2 is live: Harbours, published by una")]
    assert told(api.client) == []
    api.post("rules", {**RULE, "name": "Later", "condition": {"include": "page:/about"}})
    planned(api)
    publish_due(datetime.now(UTC) + 2 * HOUR)
    assert told(ida)[0] == told(api.client)[0] == ("publication", "Revision 3 is live")


def test_a_planned_publication_that_is_refused_is_told(api, ida):
    api.post("rules", RULE)
    planned(api)
    api.post("rules", {**RULE, "name": "About too", "condition": {"include": "page:/about"}})
    api.post("revisions", {"version": api.get("impact").json()["version"]})
    publish_due(datetime.now(UTC) + 2 * HOUR)
    kind, words = told(api.client)[0]
    assert kind == "publication"
    assert "was refused: Revision 2 was published after this was planned" in words


def test_what_is_live_and_begins_or_ends_within_a_day_is_told_once_a_moment(api, ida, site, monkeypatch):
    begins = draft(site).document.now() + 5 * HOUR
    schedule = {"from": begins.strftime("%Y-%m-%dT%H:00"), "until": (begins + 72 * HOUR).strftime("%Y-%m-%dT%H:00")}
    rule = {**RULE, "condition": {"include": "within:/harbours", "schedule": schedule}}
    assert api.post("rules", rule).status_code == 201
    asked = []
    monkeypatch.setattr(watching, "live", lambda one: asked.append(one) or live(one))
    for _ in range(2):
        watching.watch_schedules()
    assert told(ida) == [], "it is not live"
    assert asked == [], "no page is read where nothing begins or ends"
    api.post("revisions", {"version": api.get("impact").json()["version"]})
    watching.watch_schedules()
    watching.watch_schedules()
    found = [one for one in told(ida) if one[0] == "schedule"]
    assert [words.partition(": ")[2] for _, words in found] == ["Harbour header begins"]
    address = ida.get("/api/sites/marrowick/news").json()["items"][0]["to"]
    assert address.startswith("pages?at=")


def test_a_remark_from_a_preview_link_is_told_to_all(api, ida):
    made = api.post("preview-links", {"paths": ["/contact"], "hours": 24}).json()
    body = {"path": "/contact", "name": "Tove", "text": "The number is old\n" + "x" * 1950}
    assert (
        Client().post(f"/api/shared/{made['token']}/remarks", body, content_type="application/json").status_code == 204
    )
    [(kind, words)] = told(ida)
    assert (kind, words[:46]) == ("remark", "Tove says about /contact: The number is old xx")
    assert told(api.client) == [(kind, words)]


def test_news_is_read_once_and_never_unread_again(api, ida):
    for number in range(3):
        News.objects.create(
            site_id=Membership.objects.get(user__username="ida").site_id, kind="remark", words=str(number), to="publish"
        )
    unread = lambda: ida.get("/api/sites/marrowick/news/unread").json()["unread"]  # noqa: E731
    assert unread() == 3
    newest, middle, _ = (one["id"] for one in ida.get("/api/sites/marrowick/news").json()["items"])
    for last, left in ((middle, 1), (newest, 0), (middle, 0)):
        answer = ida.put("/api/sites/marrowick/news/unread", {"last": last}, content_type="application/json")
        assert (answer.status_code, unread()) == (204, left)
    assert [one["unread"] for one in ida.get("/api/sites/marrowick/news").json()["items"]] == [False] * 3
    assert api.get("news/unread").json()["unread"] == 3, "each for themselves"


def test_the_feed_is_read_with_a_token_in_its_address_which_opens_nothing_else(api, ida, site):
    News.objects.create(site=site, kind="remark", words="A <b>bold</b> & plain remark", to="publish")
    body = {"name": "Reader", "site": "marrowick", "role": "viewer", "days": 30}
    token = api.client.post("/api/tokens", body, content_type="application/json").json()["token"]
    answer = Client().get(f"/api/sites/marrowick/news.atom?token={token}")
    assert answer.headers["Content-Type"] == "application/atom+xml; charset=utf-8"
    feed = feedparser.parse(answer.content)
    assert (feed.bozo, feed.version) == (False, "atom10")
    [entry] = feed.entries
    assert (entry.title, entry.link) == ("A <b>bold</b> & plain remark", "http://testserver/marrowick/publish")
    assert Client().get("/api/sites/marrowick/news.atom?token=navrel_x").status_code == 401
    assert Client().get("/api/sites/marrowick/news.atom").status_code == 401
    assert Client().get(f"/api/sites/marrowick/rules?token={token}").status_code == 401


def test_old_news_is_forgotten(site):
    News.objects.all().delete()
    for days in (1, 89, 91):
        one = News.objects.create(site=site, kind="remark", words=str(days), to="publish")
        News.objects.filter(pk=one.pk).update(made=datetime.now(UTC) - timedelta(days=days))
    forget_old()
    assert sorted(News.objects.values_list("words", flat=True)) == ["1", "89"]
