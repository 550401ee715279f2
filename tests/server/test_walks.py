"""Walks, marks that fall away when their page changes, previews for people without an account, something tried on."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from django.core import signing
from django.test import Client

from navrel.core.cascade.bulk import resolve_all
from navrel.core.language.visitor import Lens, Visitor
from navrel.server.sitestate.draft import draft
from navrel.server.walks.models import PreviewLink, Remark

from .test_edits_api import links_in

CREW_ONLY = {"include": "role:crew"}


def notice_on(include, **more):
    return {
        "name": "Wind up there",
        "condition": {"include": include, **more},
        "actions": [{"do": "append", "slot": "above-header", "piece": "wind-line"}],
    }


def version_of(api):
    return api.get("").json()["version"]


def walk(api, **query):
    return api.get("walk", **query).json()


def mark(api, path, fine=True, note="", version=None):
    body = {"path": path, "fine": fine, "note": note, "version": version or version_of(api)}
    return api.client.put("/api/sites/marrowick/marks", body, content_type="application/json")


def mark_of(api, path):
    return next(one["mark"] for one in walk(api, pages="search", query=f"page:{path}")["items"])


def test_a_walk_goes_through_what_changes_for_anybody_or_one_of_each_layout_or_a_search(api, site):
    assert walk(api)["items"] == []
    api.post("rules", notice_on("page:/contact,/about", visitors=CREW_ONLY))
    assert [one["path"] for one in walk(api)["items"]] == ["/about", "/contact"]
    assert {one["path"] for one in walk(api, pages="search", query="type:article")["items"]} == {
        page.path for page in draft(site).document.pages if page.type == "article"
    }
    # One of each layout: no two of them come to the same, and every page comes to what one of them does.
    state = draft(site)
    lens = Lens(Visitor(), state.document.now())
    resolved = resolve_all(state.index, state.layout, lens, state.targets)
    layout_of = {
        page.path: tuple(int(found.codes[number]) for found in resolved.values())
        for number, page in enumerate(state.index.tree.pages)
    }
    walked = [layout_of[one["path"]] for one in walk(api, pages="layouts")["items"]]
    assert len(set(walked)) == len(walked)
    assert set(walked) == set(layout_of.values())


def test_a_walk_that_cannot_be_says_why(api):
    assert api.get("walk", pages="all-of-them").status_code == 422
    wrong = api.get("walk", pages="search", query="type:")
    assert wrong.status_code == 422
    assert wrong.json()["problems"][0]["parameter"] == "query"
    part = walk(api, pages="search", query="all", limit=2, offset=1)
    assert len(part["items"]) == 2
    assert part["total"] == len(draft_pages(api))


def draft_pages(api):
    return api.get("pages").json()["paths"]


def test_a_mark_stays_while_its_page_does_and_falls_away_when_it_changes_for_anybody(api, site):
    assert mark(api, "/contact", note="Looks right").json()["mark"]["by"] == "una"
    assert mark_of(api, "/contact") | {"made": 0} == {
        "fine": True, "note": "Looks right", "by": "una", "made": 0, "holds": True,
    }  # fmt: skip
    # Another page changes: the mark stays.
    api.post("rules", notice_on("page:/about"))
    assert mark_of(api, "/contact")["holds"]
    # This one changes for the crew alone, or in what a piece on it says: it falls away, and comes back with an undo.
    made = api.post("rules", {**notice_on("page:/contact", visitors=CREW_ONLY), "name": "For the crew"}).json()
    assert not mark_of(api, "/contact")["holds"]
    api.client.delete(f"/api/sites/marrowick/rules/{made['id']}", headers={"If-Match": f'"{made["version"]}"'})
    assert mark_of(api, "/contact")["holds"]
    footer = api.get("pieces/site-footer").json()
    answered = api.put("pieces/site-footer", links_in(footer, [{"text": "Help", "href": "/help"}]), footer["version"])
    assert answered.status_code == 200
    assert not mark_of(api, "/contact")["holds"]


def test_a_mark_falls_away_when_what_a_page_shows_at_a_later_time_changes(api, site):
    mark(api, "/contact")
    in_a_month = (draft(site).document.now() + timedelta(days=30)).strftime("%Y-%m-%dT%H:%M")
    api.post("rules", notice_on("page:/contact", schedule={"from": in_a_month}))
    assert not mark_of(api, "/contact")["holds"]


def test_what_was_edited_since_it_was_looked_at_is_not_marked(api):
    seen = version_of(api)
    api.post("rules", notice_on("page:/contact"))
    assert mark(api, "/contact", version=seen).status_code == 409
    assert mark_of(api, "/contact") is None
    assert mark(api, "/nowhere").status_code == 404
    assert mark(api, "/contact", note="x" * 2001).status_code in (400, 422)
    assert mark(api, "/contact", note="x" * 2000, fine=False).status_code == 200
    assert api.client.delete("/api/sites/marrowick/marks?path=/contact").status_code == 204
    assert mark_of(api, "/contact") is None
    assert api.client.delete("/api/sites/marrowick/marks?path=/contact").status_code == 404


def test_how_far_the_changed_pages_were_looked_at(api, site):
    assert api.get("looked").json()["pages"] == 0
    made = api.post("rules", notice_on("page:/contact,/about,/help")).json()
    mark(api, "/contact")
    mark(api, "/about", fine=False, note="Too tall")
    mark(api, "/legal/privacy")  # It does not change, and does not count.
    looked = api.get("looked").json()
    assert {name: looked[name] for name in ("pages", "fine", "amiss", "again")} == {
        "pages": 3, "fine": 1, "amiss": 1, "again": 0,
    }  # fmt: skip
    assert [(one["path"], one["mark"]["note"]) for one in looked["noted"]] == [("/about", "Too tall")]
    rule = {**notice_on("page:/contact,/about,/help"), "actions": [{"do": "empty", "slot": "footer"}]}
    assert api.put(f"rules/{made['id']}", rule, made["version"]).status_code == 200
    looked = api.get("looked").json()
    assert {name: looked[name] for name in ("pages", "fine", "amiss", "again")} == {
        "pages": 3, "fine": 0, "amiss": 0, "again": 2,
    }  # fmt: skip


def share(api, paths=("/contact", "/about"), **more):
    return api.post("preview-links", {"paths": list(paths), "hours": 24, **more})


def test_a_link_shows_the_draft_of_its_pages_only_to_whoever_has_it(api):
    api.post("rules", notice_on("page:/contact"))
    made = share(api)
    assert made.status_code == 201
    anybody = Client()
    shared = f"/api/shared/{made.json()['token']}"
    told = anybody.get(shared).json()
    assert [page["path"] for page in told["pages"]] == ["/contact", "/about"]
    assert 'data-piece="wind-line"' in anybody.get(f"{shared}/page", {"path": "/contact"}).json()["html"]
    assert anybody.get(f"{shared}/page", {"path": "/help"}).status_code == 404
    assert anybody.get("/api/sites/marrowick/remarks").status_code == 401
    # Through the lens that it was made with.
    crew = share(api, ["/crew/rota"], visitor="signed:in role:crew").json()
    usual = share(api, ["/crew/rota"]).json()
    pages = [anybody.get(f"/api/shared/{one['token']}/page", {"path": "/crew/rota"}).json() for one in (crew, usual)]
    assert pages[0]["html"] != pages[1]["html"]


def test_a_link_ends_by_itself_and_by_hand_and_cannot_be_guessed(api):
    made = share(api).json()
    anybody = Client()
    assert anybody.get(f"/api/shared/{made['token']}").status_code == 200
    number = PreviewLink.objects.get().pk
    for token in (str(number), signing.dumps(number), made["token"][:-1], made["token"] + "x", "a:b:c", "\u0000"):
        assert anybody.get(f"/api/shared/{token}").status_code in (400, 404), token
    PreviewLink.objects.update(ends=datetime.now(UTC) - timedelta(seconds=1))
    assert anybody.get(f"/api/shared/{made['token']}").status_code == 404
    assert api.get("preview-links").json()["total"] == 0
    other = share(api).json()
    assert api.client.delete(f"/api/sites/marrowick/preview-links/{other['id']}").status_code == 204
    assert anybody.get(f"/api/shared/{other['token']}").status_code == 404
    assert api.client.delete(f"/api/sites/marrowick/preview-links/{other['id']}").status_code == 404


@pytest.mark.parametrize(
    "body",
    [{"paths": []}, {"paths": ["/nowhere"]}, {"hours": 0}, {"hours": 24 * 32}, {"visitor": "role:"}, {"at": "soon"}],
)
def test_a_link_that_cannot_be_is_refused(api, body):
    answered = api.post("preview-links", {"paths": ["/contact"], "hours": 24, **body})
    assert answered.status_code in (400, 404, 422)
    assert not PreviewLink.objects.exists()


def test_remarks_come_back_to_those_who_edit(api):
    made = share(api).json()
    anybody = Client()
    address = f"/api/shared/{made['token']}/remarks"

    def say(**body):
        return anybody.post(address, {"path": "/contact", "text": "Too loud", **body}, content_type="application/json")

    assert say(name="Ida").status_code == 204
    assert say(path="/help").status_code == 404
    assert say(text="  ").status_code in (400, 422)
    assert say(text="x" * 2001).status_code in (400, 422)
    assert say(text="\u202eevil").status_code in (400, 422)
    [one] = api.get("remarks").json()["items"]
    assert (one["path"], one["name"], one["text"], one["done"]) == ("/contact", "Ida", "Too loud", False)
    done = f"/api/sites/marrowick/remarks/{one['id']}"
    assert api.client.put(done, {"done": True}, content_type="application/json").status_code == 204
    assert api.get("remarks").json()["items"][0]["done"]
    # Someone who holds the button down fills no disk.
    Remark.objects.bulk_create(Remark(link_id=made["id"], path="/contact", text="again") for _ in range(199))
    assert say().status_code == 409


def test_something_is_tried_on_without_an_edit(api):
    before = version_of(api)

    def tried(path, actions, state="draft"):
        return api.get("preview", path=path, trial=json.dumps(actions), state=state)

    slim = {"do": "fill", "slot": "header", "piece": "slim-header"}
    plain = {one["target"]: one["outcome"] for one in api.get("preview", path="/about").json()["targets"]}
    found = tried("/about", [slim]).json()
    on_trial = {one["target"]: one for one in found["targets"]}
    assert on_trial["header"]["outcome"]["pieces"] == ["slim-header"]
    assert on_trial["header"]["by"] == "On trial"
    assert 'data-piece="slim-header"' in found["html"]
    assert {name: one["outcome"] for name, one in on_trial.items() if name != "header"} == {
        name: one for name, one in plain.items() if name != "header"
    }
    assert found["standing"] is None
    # It beats whatever rules say, on every page; what rules add stays; nothing is edited.
    for path in draft_pages(api)[:40]:
        outcome = {one["target"]: one["outcome"] for one in tried(path, [slim]).json()["targets"]}["header"]
        assert outcome["state"] == "locked" or "slim-header" in outcome["pieces"]
    assert version_of(api) == before
    assert tried("/about", [{"do": "empty", "slot": "footer"}]).json()["html"].count("<footer") == 0
    for wrong in ("{", "7", '[{"do": "fill", "slot": "header", "piece": "no-such"}]', '[{"do": "dance"}]'):
        answered = api.get("preview", path="/about", trial=wrong)
        assert answered.status_code in (400, 422), wrong
        assert answered.json()["title"]


def test_who_sees_which_look_is_told_as_a_table(api):
    looks = api.get("looks", path="/crew/rota").json()
    table = looks["table"]
    assert len(table["looks"]) == len(table["visitors"])
    assert {number for row in table["looks"] for number in row} == set(range(len(looks["looks"])))
    assert (
        api.get("looks", path="/legal/privacy").json()["table"] is None
        or len(api.get("looks", path="/legal/privacy").json()["looks"]) > 1
    )
