"""What becomes of pieces, menus and pictures: replaced, varied, started, shown, taken in, and what is refused."""

import json
from io import BytesIO

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from navrel.server.delivery.assets import FOREVER

SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><path d="M0 10h40"/></svg>'


def change(api, slug, **changes):
    piece = api.get(f"pieces/{slug}").json()
    return api.put(f"pieces/{slug}", {**piece, **changes}, piece["version"])


def edits(api):
    return api.get("edits").json()["items"]


def test_a_piece_is_replaced_wherever_it_is_used_in_one_edit(api):
    assert api.post("pieces/call-us/replace", {"by": "book-now"}).json() == {"uses": 2}
    entries = api.get("pieces/help-desk").json()["entries"]
    assert [entry["piece"] for entry in entries] == ["book-now", "common-questions", "book-now"]
    assert api.get("pieces/call-us/uses").json()["items"] == []
    api.post("pieces/standard/replace", {"by": "plain"})
    assert api.get("").json()["default_template"] == "plain"
    api.post(f"edits/{edits(api)[0]['number']}/undo")
    assert api.get("").json()["default_template"] == "standard"


@pytest.mark.parametrize(
    ("piece", "by", "status", "said"),
    [
        ("call-us", "main-header", 422, "Main header is a header; Call us is a widget"),
        ("call-us", "call-us", 422, "choose another piece"),
        ("call-us", "nobody", 404, "There is no piece nobody"),
    ],
)
def test_what_cannot_take_its_place_is_refused(api, piece, by, status, said):
    answer = api.post(f"pieces/{piece}/replace", {"by": by})
    assert answer.status_code == status
    assert said in json.dumps(answer.json())


def test_a_piece_that_nothing_uses_is_not_replaced(api):
    api.post("pieces", {"kind": "widget", "name": "Alone"})
    assert api.post("pieces/alone/replace", {"by": "call-us"}).status_code == 409


def test_a_piece_is_varied_on_one_page_and_the_shared_one_stays(api):
    made = api.post("pieces/site-footer/vary", {"path": "/about", "target": "footer"}).json()
    assert made["name"] == "Site footer on About us"
    assert made["content"] == api.get("pieces/site-footer").json()["content"]
    trace = api.get("trace", path="/about", target="footer").json()
    assert (trace["outcome"]["pieces"], trace["pin"]["action"]["piece"]) == ([made["slug"]], made["slug"])
    assert len([one for one in edits(api) if "Site footer on About us" in one["words"]]) == 1
    again = api.post("pieces/standard/vary", {"path": "/about", "target": "template"}).json()
    assert api.get("trace", path="/about", target="template").json()["outcome"]["pieces"] == [again["slug"]]


def test_every_place_is_told_with_what_has_it_and_what_it_shows(api):
    change(api, "call-us", content={"items": [{"type": "slot", "name": "call-corner"}]})
    places = {one["slot"]: one for one in api.get("places").json()["items"]}
    assert list(places)[:2] == ["above-header", "header"]
    footer = places["footer"]
    assert footer["templates"] == ["standard", "reading", "plain", "full-bleed"]
    layout = {one["target"]: one for one in api.get("layout").json()["columns"]}["footer"]
    for shown in footer["shown"]:
        codes = [n for n, one in enumerate(layout["outcomes"]) if shown["slug"] in one["pieces"]]
        assert sum(code in codes for code in layout["codes"]) == shown["pages"]
    assert footer["shows"] == sum(bool(layout["outcomes"][code]["pieces"]) for code in layout["codes"])
    corner = places["call-corner"]
    assert (corner["pieces"], corner["shows"], corner["rules"]) == (["call-us"], 0, 0)
    assert corner["seated"] == {one["slug"]: one["pages"] for one in api.get("piece-pages").json()["items"]}["call-us"]


def test_a_slot_in_a_piece_is_a_target_of_rules_and_drawn_there(api):
    change(api, "call-us", content={"items": [{"type": "slot", "name": "call-corner"}]})
    rule = {"name": "In the corner", "condition": {"include": "all"},
            "actions": [{"do": "fill", "slot": "call-corner", "piece": "book-now"}]}  # fmt: skip
    assert api.post("rules", rule).status_code == 201
    html = api.get("preview", path="/help/wind").json()["html"]
    assert (
        html.index('data-piece="call-us"') < html.index('data-slot="call-corner"') < html.index("A place on the boat")
    )


def test_a_piece_inside_of_itself_is_refused_with_the_way(api):
    embed = lambda slug: {"items": [{"type": "piece", "piece": slug}]}  # noqa: E731
    assert change(api, "call-us", content=embed("book-now")).status_code == 200
    answer = change(api, "book-now", content=embed("call-us"))
    assert answer.status_code == 422
    assert "Book now would contain itself: Book now → Call us → Book now" in json.dumps(
        answer.json(), ensure_ascii=False
    )
    uses = api.get("pieces/book-now/uses").json()["items"]
    assert {"kind": "piece", "key": "call-us", "name": "Call us", "ends": False} in uses
    version = api.get("pieces/book-now").json()["version"]
    api.client.delete("/api/sites/marrowick/pieces/book-now?take_out=true", headers={"If-Match": f'"{version}"'})
    assert api.get("pieces/call-us").json()["content"] == {"items": []}


def test_every_starter_makes_a_piece_that_can_be_saved(api):
    listed = api.get("starters").json()["items"]
    drawn = {one["slug"]: one["html"] for one in listed}
    assert "Previous" in drawn["widget-neighbours"], "it is drawn on a page that has some"
    assert 'href="#' in drawn["widget-contents"], "and that has headings"
    assert len(listed) >= 18 and {one["kind"] for one in listed} == {
        "header", "footer", "sidebar", "widget", "title", "template"
    }  # fmt: skip
    for one in listed:
        made = api.post(f"starters/{one['slug']}", {"name": f"My {one['name']} {one['kind']}"})
        assert made.status_code == 201, made.json()
        piece = made.json()
        assert api.put(f"pieces/{piece['slug']}", piece, piece["version"]).status_code == 200
    assert api.post("starters/header-bar", {"name": "My Bar header"}).status_code == 422
    assert api.post("starters/nothing", {"name": "X"}).status_code == 404


MENU = {"slug": "main", "name": "Main menu", "entries": [{"page": "/routes", "entries": [{"text": "X", "href": "/x"}]}]}


def test_menus_are_declared_shown_and_kept_while_a_piece_shows_them(api):
    declared = api.get("menus").json()
    both, version = [*declared["items"], MENU], declared["version"]
    assert api.put("menus", {"items": both}, version).json()["items"] == both
    assert api.put("menus", {"items": declared["items"]}, version).status_code == 412
    change(api, "slim-header", content={"items": [{"type": "menu", "menu": "main"}]})
    html = api.get("preview", path="/legal/terms").json()["html"]
    assert "Routes</summary>" in html and '<a href="/x">X</a>' in html
    version = api.get("menus").json()["version"]
    refused = api.put("menus", {"items": declared["items"]}, version)
    assert refused.status_code == 409 and "Slim header shows the menu main" in refused.json()["title"]
    impact = api.get("impact").json()
    assert "Main menu" in json.dumps(impact)
    assert change(api, "slim-header", content={"items": [{"type": "menu", "menu": "none"}]}).status_code == 422


@pytest.mark.parametrize(
    "entry",
    [{}, {"page": "/a", "href": "/b"}, {"text": "X", "colour": 1}, {"text": 3}, {"text": "X", "panel": "Not a slot"},
     {"text": "X", "entries": [{"text": "Y", "entries": [{"text": "Z", "entries": [{"text": "W"}]}]}]}],
)  # fmt: skip
def test_a_menu_that_is_not_whole_is_refused(api, entry):
    before = api.get("menus").json()
    items = [*before["items"], {**MENU, "entries": [entry]}]
    assert api.put("menus", {"items": items}, before["version"]).status_code in (400, 422)
    assert api.get("menus").json() == before


def take(api, name, data):
    sent = {"data": SimpleUploadedFile(name, data)}
    return api.client.post("/api/sites/marrowick/files", sent)


def test_a_picture_is_taken_in_shown_served_and_kept_while_it_is_shown(api):
    made = take(api, "../../Quay at <b>dawn</b>.PNG", SVG).json()
    assert (made["name"], made["type"], made["width"]) == ("b.svg", "image/svg+xml", 40)
    served = api.client.get(made["address"])
    assert (served.status_code, served["Content-Type"], served["Cache-Control"]) == (200, "image/svg+xml", FOREVER)
    assert "sandbox" in served["Content-Security-Policy"]
    change(api, "call-us", content={"items": [{"type": "image", "file": made["name"], "alt": "A quay"}]})
    assert f'<img src="{made["address"]}"' in api.get("preview", path="/help/wind").json()["html"]
    assert [one["pieces"] for one in api.get("files").json()["items"] if one["name"] == "b.svg"] == [["Call us"]]
    assert api.delete("files/b.svg").status_code == 409
    change(api, "call-us", content={})
    assert api.delete("files/b.svg").status_code == 204
    assert "b.svg" not in [one["name"] for one in api.get("files").json()["items"]]
    assert api.client.get(made["address"]).status_code == 200


def test_a_smaller_version_is_served_and_others_are_not(api):
    out = BytesIO()
    Image.new("RGB", (1000, 500)).save(out, "PNG")
    address = take(api, "sea.png", out.getvalue()).json()["address"]
    assert Image.open(BytesIO(api.client.get(address).content)).size == (480, 240)
    assert api.client.get(address.replace("-480", "-481")).status_code == 404


@pytest.mark.parametrize("data", [b"", b"<html>", b"\x89PNG broken", SVG.replace(b"svg xmlns", b"svg x")])
def test_what_is_no_picture_is_refused(api, data):
    before = api.get("files").json()
    assert take(api, "x.png", data).status_code in (400, 422)
    assert api.get("files").json() == before


@pytest.mark.parametrize("address", ["/-/site-0000000000000000.css", "/-/files/" + "0" * 64 + "/x.png", "/-/", "/-/x"])
def test_what_is_not_there_is_not_found(api, address):
    assert api.client.get(address).status_code == 404


def declare(api, name, **more):
    declared = api.get("settings").json()
    setting = {"name": name, "type": "text", **more}
    assert api.put("settings", {"items": [*declared["items"], setting]}, declared["version"]).status_code == 200


def test_a_menu_and_a_picture_that_a_page_setting_says_are_followed(api):
    declare(api, "which-menu", default="sail")
    declare(api, "which-picture", default="quay.svg")
    bound = {"type": "menu", "menu": {"setting": "which-menu"}}
    image = {"type": "image", "file": {"setting": "which-picture"}, "alt": "A quay"}
    assert change(api, "slim-header", content={"items": [bound, image]}).status_code == 200
    made = take(api, "quay.svg", SVG).json()
    html = api.get("preview", path="/legal/terms").json()["html"]
    assert "Seal Bay" in html and made["address"] in html
    # The panel of the menu has a place there; what goes out with the piece is every menu that it may show.
    place = next(one for one in api.get("places").json()["items"] if one["slot"] == "sail-panel")
    assert place["seated"] > 2
    tree = api.get("layout-file", pieces="slim-header").json()
    assert [menu["slug"] for menu in tree["menus"]] == ["sail"]
    assert api.get("impact").status_code == 200
    menus = api.get("menus").json()
    entries = [*menus["items"][0]["entries"], {"text": "Tides", "href": "/help/wind"}]
    items = [{**menus["items"][0], "entries": entries}]
    api.post("revisions", {"version": api.get("impact").json()["version"]})
    assert api.put("menus", {"items": items}, menus["version"]).status_code == 200
    drawn = {one["piece"] for one in api.get("impact").json()["redraws"]}
    assert {"slim-header", "night-header"} <= drawn


@pytest.mark.parametrize(
    "item",
    [
        {"type": "piece", "piece": {"setting": "measure"}},
        {"type": "slot", "name": {"setting": "measure"}},
        {"type": "slides", "pieces": {"setting": "measure"}},
        {"type": "links", "links": {"setting": "measure"}},
        {"type": "menu", "menu": {"setting": "no-such-setting"}},
    ],
    ids=lambda item: item["type"],
)
def test_what_a_page_setting_cannot_say_is_refused(api, item):
    assert change(api, "slim-header", content={"items": [item]}).status_code == 422


def test_a_file_of_too_many_pictures_is_not_sent(api, monkeypatch):
    take(api, "quay.svg", SVG)
    monkeypatch.setattr("navrel.server.exchange.out.MOST_DATA", 10)
    answer = api.get("layout-file")
    assert (answer.status_code, answer.json()["code"]) == (409, "too-large")
