"""The log: everything that is done stands in it, in words, with who did it; looked up, and taken out as JSON Lines."""

import json

import pytest
from django.test import Client

from navrel.server.accounts.models import Membership
from navrel.server.publishing.services import publish

from .test_people import PASSWORD, invited, post, put

RULE = {"name": "Wind", "condition": {"include": "page:/about"}, "actions": [{"do": "empty", "slot": "footer"}]}


def log(api, **query):
    return [(one["kind"], one["by"], one["words"]) for one in api.get("log", **query).json()["items"]]


def test_edits_undone_and_done_again_and_publications_stand_in_it(api, site):
    made = api.post("rules", RULE).json()
    number = api.get("").json()["undo"]["number"]
    api.post(f"edits/{number}/undo")
    api.post(f"edits/{number}/redo")
    version = api.get("impact").json()["version"]
    api.post("revisions", {"version": version, "note": "Before the storm", "overrule": "for a trial"})
    api.post("revisions/1/publish", {"note": "After it"})
    told = log(api)
    assert (
        told[0][:2] == ("publication", "una")
        and told[0][2].startswith("Revision 3 is live")
        and told[0][2].endswith(": After it")
    )
    assert told[1][2].startswith("Revision 2 is live") and told[1][2].endswith(": Before the storm")
    assert told[2:5] == [
        ("edit", "una", "Redo: Wind: made"),
        ("edit", "una", "Undo: Wind: made"),
        ("edit", "una", "Wind: made"),
    ]
    assert made["id"]
    # What is refused leaves nothing.
    before = len(log(api))
    assert api.post("revisions/99/publish").status_code == 404
    assert api.post("rules", {**RULE, "actions": [{"do": "dance"}]}).status_code in (400, 422)
    assert len(log(api)) == before
    # What the program does itself has no name.
    api.post("rules", {**RULE, "name": "Another"})
    publish(site.slug, None, overrule="for a trial")
    assert log(api)[0][:2] == ("publication", "")


def test_rights_and_sign_ins_stand_in_it(api, site, django_user_model):
    token = invited(api.client, "viewer")
    ida = Client()
    post(ida, f"/api/invited/{token}", {"username": "ida", "password": PASSWORD})
    put(api.client, "people/ida", {"role": "editor"})
    post(Client(), "/api/session", {"username": "ida", "password": "wrong"})
    post(Client(), "/api/session", {"username": "ida", "password": PASSWORD})
    ida.delete("/api/session")
    assert log(api)[:6] == [
        ("sign-in", "ida", "Signed out"),
        ("sign-in", "ida", "Signed in from 127.0.0.1"),
        ("sign-in", "ida", "A sign-in from 127.0.0.1 had a wrong password"),
        ("rights", "una", "ida is editor, was viewer"),
        ("rights", "ida", "Joined as viewer"),
        ("rights", "una", "Invited somebody as viewer"),
    ]
    # Of accounts, only what people of this site did; and their names stay when they go.
    stranger = django_user_model.objects.create_user("bo", password=PASSWORD)
    post(Client(), "/api/session", {"username": "bo", "password": PASSWORD})
    assert not [one for one in log(api) if one[1] == "bo"]
    stranger.delete()
    api.client.delete("/api/sites/marrowick/people/ida")
    django_user_model.objects.get(username="ida").delete()
    assert ("rights", "ida", "Joined as viewer") in log(api)


def test_it_is_looked_up_by_words_by_who_and_by_kind(api):
    api.post("rules", RULE)
    api.post("rules", {**RULE, "name": "Tide"})
    assert [words for _, _, words in log(api, text="tide")] == ["Tide: made"]
    assert {by for _, by, _ in log(api, text="una")} == {"una"}
    assert {kind for kind, _, _ in log(api, kind="edit")} == {"edit"}
    assert log(api, text="nothing like it") == []
    assert api.get("log", kind="dance").status_code == 422
    part = api.get("log", limit=1, offset=1).json()
    assert len(part["items"]) == 1 and part["total"] >= 2


def test_owners_take_it_out_as_json_lines(api, site, django_user_model):
    api.post("rules", RULE)
    answer = api.client.get("/api/sites/marrowick/log.jsonl", {"kind": "edit"})
    lines = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]
    assert answer.headers["Content-Type"].startswith("application/jsonl")
    assert lines[0]["words"] == "Wind: made" and lines[0]["by"] == "una"
    assert len(lines) == api.get("log", kind="edit").json()["total"]
    imre = django_user_model.objects.create_user("imre")
    Membership.objects.create(site=site, user=imre, role="publisher")
    client = Client()
    client.force_login(imre)
    assert client.get("/api/sites/marrowick/log.jsonl").status_code == 403
    assert client.get("/api/sites/marrowick/log").status_code == 200


@pytest.mark.parametrize("text", ["%", "_", "\\", "'; drop table"])
def test_a_search_is_text_and_nothing_else(api, text):
    api.post("rules", RULE)
    assert log(api, text=text) == [one for one in log(api) if text in one[2]]
