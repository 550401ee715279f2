"""Facts of pages that are corrected by hand: over what was taken in, for good, and like any other edit."""

import pytest

from navrel.server.demo import FOLDER
from navrel.server.inventory.models import Page
from navrel.server.inventory.services import describe
from navrel.server.inventory.sources import take_in_folder
from navrel.server.publishing.live import draft_contents, published
from navrel.server.publishing.services import publish

from .conftest import Api
from .test_edits_api import turn, words

ABOUT = "/about"


def facts(api, path=ABOUT):
    return api.get("page", path=path).json()


@pytest.fixture
def correct(api):
    """Say facts of a page by hand, from the newest version of them."""

    def put(path=ABOUT, version=None, **facts):
        newest = int(api.get("page", path=path).headers["ETag"].strip('"'))
        return api.put("page", {"path": path, "facts": facts}, version or newest)

    return put


def test_facts_are_said_by_hand_and_taken_back_to_what_was_taken_in(api, correct):
    before = facts(api)
    answer = correct(title="Who we are", terms=["topic/food"], published="2026-02-03", author="tove-lindqvist")
    assert answer.status_code == 200
    now = facts(api)
    assert (now["title"], now["terms"], now["published"]) == ("Who we are", ["topic/food"], "2026-02-03")
    assert set(now["corrected"]) == {"title", "terms", "published", "author"}
    assert (now["taken"]["title"], now["taken"]["terms"], now["taken"]["published"]) == (before["title"], [], None)
    assert api.get("search", query="term:topic/food page:/about").json()["total"] == 1
    assert words(api)[0] == "/about: terms topic/food, title Who we are, author tove-lindqvist, and 1 more"
    correct(title=None, terms=None, published=None, author=None)
    assert {**facts(api), "version": 1} == {**before, "version": 1}
    assert Page.objects.get(path=ABOUT).corrections is None


def test_what_is_said_as_it_was_taken_in_is_no_correction(api, correct):
    before = facts(api)
    edits = len(words(api))
    correct(title=before["title"], kind="single", fields={})
    assert facts(api)["corrected"] == []
    assert len(words(api)) == edits


def test_corrections_stay_when_the_pages_are_taken_in_again_and_that_is_said(api, correct, site):
    correct(title="Who we are", fields={"founded": "1871"}, parent="/help")
    report = take_in_folder("marrowick", FOLDER / "pages")
    assert report["corrected"] == 1
    assert describe(report).endswith("; 1 keep facts that were corrected by hand")
    now = facts(api)
    assert (now["title"], now["fields"], now["parent"]) == ("Who we are", {"founded": "1871"}, "/help")


def test_fields_that_were_taken_in_stay_beside_those_that_are_said(api, correct):
    path = Page.objects.filter(fields__has_key="vessel").first().path
    taken = facts(api, path)["fields"]
    correct(path, fields={**taken, "tide": "high"})
    assert facts(api, path)["fields"] == {**taken, "tide": "high"}
    Page.objects.filter(path=path).update(fields={**taken, "vessel": "Another"})
    correct(path, lists="")
    assert facts(api, path)["fields"] == {**taken, "vessel": "Another", "tide": "high"}
    correct(path, fields={})
    assert facts(api, path)["fields"] == {}


def test_a_correction_is_undone_and_done_again_and_others_do_not_stand_in_its_way(api, correct):
    correct(title="Who we are")
    number = api.get("").json()["undo"]["number"]
    correct(author="tove-lindqvist")
    assert turn(api, "undo", number).status_code == 200
    assert (facts(api)["title"], facts(api)["author"]) == ("About us", "tove-lindqvist")
    assert turn(api, "redo", number).status_code == 200
    correct(title="We")
    assert turn(api, "undo", number).status_code == 409
    assert facts(api)["title"] == "We"


def test_no_date_is_a_fact_too_through_undo_and_redo(api, correct):
    path = Page.objects.filter(published__isnull=False).first().path
    stated = facts(api, path)["published"]
    correct(path, published="")
    assert (facts(api, path)["published"], facts(api, path)["corrected"]) == (None, ["published"])
    number = api.get("").json()["undo"]["number"]
    assert turn(api, "undo", number).status_code == 200
    assert facts(api, path)["published"] == stated
    assert turn(api, "redo", number).status_code == 200
    assert facts(api, path)["published"] is None


def test_corrections_reach_the_published_site_when_it_is_published(api, correct, site):
    correct(title="Who we are")
    assert api.get("").json()["edits"] == 1
    site.refresh_from_db()
    assert next(page for page in published(site).document.pages if page.path == ABOUT).title == "About us"
    publish("marrowick", None, "after")
    site.refresh_from_db()
    assert next(page for page in published(site).document.pages if page.path == ABOUT).title == "Who we are"
    assert api.get("").json()["edits"] == 0
    assert dict(draft_contents(site))[ABOUT]


@pytest.mark.parametrize(
    ("wrong", "pointer"),
    [
        ({"title": "x" * 501}, "/facts/title"),
        ({"title": "a\u202eb"}, "/facts/title"),
        ({"title": 4}, "/facts/title"),
        ({"kind": "poster"}, "/facts/kind"),
        ({"terms": ["topic/none"]}, "/facts/terms/0"),
        ({"parent": "/nowhere"}, "/facts/parent"),
        ({"published": "2026-13-01"}, "/facts/published"),
        ({"fields": {"a": 3}}, "/facts/fields/a"),
        ({"locks": [{"slot": "No slot"}]}, "/facts/locks/0/slot"),
        ({"words": 4}, "/facts/words"),
        ({"language": "x" * 36}, "/facts/language"),
    ],
)
def test_what_cannot_be_a_fact_is_refused_with_its_place(api, correct, wrong, pointer):
    before = facts(api)
    answer = correct(**wrong)
    assert answer.status_code in (400, 422)
    assert answer.json()["problems"][0]["pointer"] == pointer, answer.json()
    assert facts(api) == before


def test_parents_that_would_make_a_loop_are_refused_by_hand_and_from_files(api, correct, site):
    correct("/help", parent="/about")
    answer = correct("/about", parent="/help")
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["pointer"] == "/facts/parent"
    assert facts(api, "/about")["parent"] == "/"


def test_of_two_people_the_second_is_told(api, correct, site, django_user_model):
    correct(title="Who we are", version=1)
    answer = correct(title="We", version=1)
    assert answer.status_code == 412
    assert answer.json()["theirs"]["title"] == "Who we are"


def test_a_lock_is_set_with_its_owner_and_told_wherever_it_is_seen(api, correct):
    lock = {"slot": "aside-end", "owner": "The ticket desk", "why": "Its own system fills this"}
    assert correct("/contact", locks=[lock]).status_code == 200
    assert facts(api, "/contact")["locks"] == [lock]
    column = api.get("layout", targets="aside-end").json()["columns"][0]
    number = api.get("pages").json()["paths"].index("/contact")
    assert {"page": number, "owner": lock["owner"], "why": lock["why"]} in column["locks"]
    trace = api.get("trace", path="/contact", target="aside-end").json()
    assert trace["outcome"]["state"] == "locked"
    assert (trace["pin"]["owner"], trace["pin"]["why"]) == (lock["owner"], lock["why"])
    place = next(one for one in api.get("places").json()["items"] if one["slot"] == "aside-end")
    assert {"owner": lock["owner"], "why": lock["why"]}.items() <= place["owners"][0].items()


def test_a_site_may_allow_no_corrections(api, correct):
    assert api.put("by-hand", {"allowed": False}, 1).status_code == 204
    assert api.get("").json()["by_hand"] is False
    answer = correct(title="We")
    assert (answer.status_code, answer.json()["code"]) == (422, "not-by-hand")
    assert words(api)[0] == "Site: facts of pages as taken in"
    assert turn(api, "undo").status_code == 200
    assert correct(title="We").status_code == 200


def test_terms_are_told_with_those_above_them(api: Api):
    rows = {row["path"]: row for row in api.get("terms").json()["items"]}
    assert rows["topic/food"]["taxonomy"] == "Topics"
    assert all(row["parent"] is None or row["parent"] in rows for row in rows.values())
    found = api.get("search", query="term:topic/food").json()["total"]
    assert rows["topic/food"]["pages"] == found
