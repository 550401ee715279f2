"""What an edit would change on pages, asked before it is saved: what publishing tells once it is, and nothing is done."""

import pytest

from navrel.server.edits.models import Edit
from navrel.server.inventory.models import Site
from navrel.server.logbook.models import Event


def version_of(api, to):
    return int(api.get(to).headers["ETag"].strip('"'))


def weigh(api, to, body, version):
    return api.post("weighed-edit", {"to": to, "body": body, "version": version})


def piece(api, slug):
    found = next(one for one in api.get("pieces").json()["items"] if one["slug"] == slug)
    return {key: found[key] for key in ("kind", "name", "note", "content", "slots", "dress") if found.get(key)}, found


def an_edit_of_a_piece(api):
    tree, found = piece(api, "winter-notice")
    tree["content"] = {"items": [{"type": "text", "text": "Ice on the quay"}]}
    return "pieces/winter-notice", tree, found["version"]


def an_edit_of_a_rule(api):
    row = next(one for one in api.get("rules").json()["items"] if one["rule"]["name"] == "Site footer")
    return f"rules/{row['id']}", {**row["rule"], "on": False}, row["version"]


def an_edit_of_a_page(api):
    version = int(api.get("page", path="/about").headers["ETag"].strip('"'))
    return "page", {"path": "/about", "facts": {"title": "Who we are"}}, version


def an_edit_of_settings(api):
    items = api.get("settings").json()["items"]
    changed = [{**one, "default": "wide"} if one["name"] == "measure" else one for one in items]
    return "settings", {"items": changed}, version_of(api, "settings")


def an_edit_of_dresses(api):
    items = api.get("dresses").json()["items"]
    items[0]["colours"] = {**items[0]["colours"], "ink": "#101020"}
    return "dresses", {"items": items}, version_of(api, "dresses")


def an_edit_of_menus(api):
    items = api.get("menus").json()["items"]
    items[0]["entries"] = items[0]["entries"][:1]
    return "menus", {"items": items}, version_of(api, "menus")


EDITS = [
    an_edit_of_a_piece, an_edit_of_a_rule, an_edit_of_a_page, an_edit_of_settings, an_edit_of_dresses, an_edit_of_menus,
]  # fmt: skip


@pytest.mark.parametrize("edit", EDITS)
def test_what_is_told_is_what_publishing_tells_once_it_is_saved(api, edit):
    to, body, version = edit(api)
    before = (
        Site.objects.values().get(),
        Edit.objects.count(),
        Event.objects.count(),
        api.get(to, path="/about").json(),
    )
    told = weigh(api, to, body, version)
    assert told.status_code == 200, told.json()
    # Nothing was done, and nobody is told what was not.
    after = (
        Site.objects.values().get(),
        Edit.objects.count(),
        Event.objects.count(),
        api.get(to, path="/about").json(),
    )
    assert after == before
    assert api.get("impact").json()["pages"] == 0
    assert api.put(to, body, version).status_code == 200
    saved = api.get("impact").json()
    assert saved["pages"] > 0
    for part in ("pages", "audiences", "shifts", "redraws", "own", "untold"):
        assert told.json()[part] == saved[part]


def test_an_edit_that_is_not_made_leaves_nothing_behind_for_the_next(api):
    """The next edit has the version that the weighed one had; what it says is what counts."""
    to, body, version = an_edit_of_a_rule(api)
    weigh(api, to, body, version)
    api.put(to, {**body, "on": True, "name": "The footer"}, version)
    assert [row["rule"]["name"] for row in api.get("rules").json()["items"]][-1] == "The footer"
    assert api.get("impact").json()["pages"] == 0


def test_what_changes_nothing_is_told_to(api):
    to, body, version = an_edit_of_a_rule(api)
    assert weigh(api, to, {**body, "on": True, "note": "As ever"}, version).json()["pages"] == 0


def test_it_is_refused_as_saving_would_be(api):
    to, body, version = an_edit_of_a_rule(api)
    wrong = {**body, "condition": {"include": "typ:x"}}
    for sent, stated in ((wrong, version), (body, version + 7)):
        weighed, saved = weigh(api, to, sent, stated), api.put(to, sent, stated)
        assert weighed.status_code == saved.status_code >= 400
        assert weighed.json() == saved.json()
        assert weighed.headers["Content-Type"] == saved.headers["Content-Type"]


@pytest.mark.parametrize(
    "to", ["nowhere", "weighed-edit", "impact", "pieces", "members/una", "../else/settings", "rules/99999"]
)
def test_only_what_is_edited_can_be_asked_about(api, to):
    assert weigh(api, to, {}, 1).status_code in (400, 404, 422)
