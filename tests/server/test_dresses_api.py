"""Dresses over the API: declared, drawn, told in edits and impact, kept in step with the setting, as far as live."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from navrel.server.exchange.taking import Choices, take_in

from ..rendering.test_dress import woff2

GALA = {"slug": "gala", "name": "Gala", "colours": {"paper": "#FFF8EC"}}


def declare(api, *items):
    return api.put("dresses", {"items": list(items)}, api.get("dresses").json()["version"])


def dresses(api):
    return api.get("dresses").json()["items"]


def choices(api):
    return next(one["choices"] for one in api.get("settings").json()["items"] if one["name"] == "dress")


def test_a_dress_is_declared_and_can_be_chosen_at_once(api):
    kept = dresses(api)
    assert declare(api, *kept, GALA).status_code == 200
    assert dresses(api) == [*kept, GALA]
    assert choices(api) == [*(one["slug"] for one in kept), "gala"]
    edits = api.get("edits").json()["items"]
    assert "added the dress Gala" in edits[0]["words"]
    assert api.get("impact").json()["pages"] == 0


def test_unchanged_dresses_are_no_edit(api):
    before = api.get("edits").json()["total"]
    assert declare(api, *dresses(api)).status_code == 200
    assert api.get("edits").json()["total"] == before


def test_a_changed_dress_is_impact_where_it_is_worn_and_undo_takes_it_back(api):
    harbour, lantern = dresses(api)
    declare(api, harbour, {**lantern, "measures": {"corner": 30}})
    impact = api.get("impact").json()
    assert [(one["dress"], one["piece"], one["pages"]) for one in impact["redraws"]] == [("lantern", "", 3)]
    assert (impact["dresses"]["lantern"], impact["pages"]) == ("Lantern", 3)
    standing = api.get("preview", path="/winter-lights").json()["standing"]
    assert (standing["same_through_lens"], standing["dress"]) == (False, True)
    assert api.get("preview", path="/about").json()["standing"]["dress"] is False
    assert "--corner:30px" in api.get("preview", path="/winter-lights").json()["html"]
    assert api.post(f"edits/{api.get('edits').json()['items'][0]['number']}/undo").status_code == 200
    assert api.get("impact").json()["pages"] == 0


def test_a_dress_that_a_rule_chooses_cannot_go(api):
    harbour, _ = dresses(api)
    refused = declare(api, harbour)
    assert refused.status_code == 409
    assert "The rule Campaigns sets dress to lantern" in refused.json()["title"]
    assert len(dresses(api)) == 2


def test_the_settings_cannot_offer_another_dress_than_there_is(api):
    asked = api.get("settings").json()
    items = [
        {**one, "choices": [*one["choices"], "nowhere"]} if one["name"] == "dress" else one for one in asked["items"]
    ]
    assert api.put("settings", {"items": items}, asked["version"]).status_code == 200
    assert choices(api) == ["harbour", "lantern"]


@pytest.mark.parametrize("wrong", [
    {"colours": {"paper": "}body{display:none"}}, {"colours": {"paper": "url(//evil.example)"}}, {"fonts": {"text": "Nowhere"}},
    {"measures": {"corner": 1000}}, {"name": "x" * 81}, {"name": "a\u202eb"}, {"slug": "Not a slug"}, {"css": "x"},
    {"colours": {f"c{n}": "#fff" for n in range(1000)}}, {"fonts": {"text": "gone.woff2"}},
])  # fmt: skip
def test_what_is_no_dress_is_refused_and_nothing_is_kept(api, wrong):
    kept = dresses(api)
    assert declare(api, *kept, {**GALA, **wrong}).status_code in (400, 409, 422)
    assert dresses(api) == kept
    drawn = api.post("dressed", {"dress": {**GALA, **wrong}, "path": "/about"})
    assert "evil" not in drawn.content.decode() and "display:none" not in json.dumps(drawn.json().get("html", ""))


def test_a_page_is_drawn_in_a_dress_as_it_is_edited_in_each_form(api):
    body = {"dress": {**GALA, "dark": {"paper": "#101010"}}, "path": "/about"}
    light, dark = (api.post("dressed", {**body, "form": form}).json()["html"] for form in ("light", "dark"))
    assert "--paper:#FFF8EC" in light and "#101010" not in light
    assert "--paper:#101010" in dark
    assert api.post("dressed", {**body, "path": "/nowhere"}).status_code == 404


def test_a_font_is_taken_in_worn_served_and_kept_while_it_is_worn(api):
    sent = {"data": SimpleUploadedFile("My Font.WOFF2", woff2())}
    made = api.client.post("/api/sites/marrowick/files", sent).json()
    assert (made["name"], made["type"]) == ("my-font.woff2", "font/woff2")
    harbour, lantern = dresses(api)
    assert declare(api, {**harbour, "fonts": {"head": made["name"]}}, lantern).status_code == 200
    html = api.get("preview", path="/about").json()["html"]
    assert f'url("{made["address"]}")format("woff2")' in html
    served = api.client.get(made["address"])
    assert (served["Content-Type"], served.content) == ("font/woff2", woff2())
    told = {one["name"]: one["pieces"] for one in api.get("files").json()["items"]}
    assert told["my-font.woff2"] == ["Harbour"]
    assert api.delete(f"files/{made['name']}").status_code == 409


def test_dresses_go_out_with_the_layout_and_come_in_where_the_site_is_taken(api, django_user_model):
    exported = api.get("layout-file").json()
    assert [one["slug"] for one in exported["dresses"]] == ["harbour", "lantern"]
    part = {"navrel": 1, "dresses": [GALA], "pieces": [{"slug": "tide", "kind": "widget", "name": "Tide"}]}
    take_in("marrowick", part, Choices())
    assert [one["slug"] for one in dresses(api)] == ["harbour", "lantern", "gala"]


def test_the_first_dress_of_a_site_does_not_come_unasked(api):
    from navrel.server.inventory.models import Site

    Site.objects.create(slug="bare", name="Bare")
    part = {"navrel": 1, "site": {"name": "Other"}, "dresses": [GALA]}
    take_in("bare", part, Choices())
    assert Site.objects.get(slug="bare").dresses == []
    take_in("bare", part, Choices(site=True))
    assert [one["slug"] for one in Site.objects.get(slug="bare").dresses] == ["gala"]
