"""Pieces that were found change nothing to be seen, as long as they show what stands in the page; and no longer."""

import re
from functools import partial

import pytest
from django.contrib.auth.models import User

from navrel.core.files.writing import write_rule
from navrel.core.language.visitor import Lens, Visitor
from navrel.rendering.page import draw_page
from navrel.server.edits.models import Edit
from navrel.server.edits.services import undo
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.library.services import make_piece
from navrel.server.publishing.live import open_revision
from navrel.server.publishing.services import impact_since_live, publish
from navrel.server.rules.services import make_rule
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site

PAGE = """<!doctype html><title>{name}</title><body><header><a href="/">Marrowick</a> {script}</header><main><h1>{name}</h1>
<p>Boats.</p></main><aside class="side"><a href="/page-1.html">First</a> <a href="/page-2.html">Second</a></aside></body>"""


def address(piece):
    return f"/api/sites/shore/pieces/{piece}"


@pytest.fixture
def shore(api, tmp_path):
    """A site in place, bound and published: three pages of it have a script in their header."""
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for number in range(12):
        script = "<script>show()</script>" if number < 3 else ""
        (tmp_path / f"page-{number}.html").write_text(PAGE.format(name=f"Page {number}", script=script))
    take_in_folder("shore", tmp_path)
    bindings = [{"slot": "header", "selector": "header"}, {"slot": "aside-end", "selector": ".side"}]
    version = api.get("/api/sites/shore/bindings").json()["version"]
    assert api.put("/api/sites/shore/bindings", {"bindings": bindings}, version).status_code == 200
    publish("shore", User.objects.get(username="una"))
    return tmp_path


def differing():
    return len(impact_since_live(find_site("shore")).paths)


def take(api, left=None):
    taken = api.post("/api/sites/shore/finds", {"slots": ["header", "aside-end"], "left": left})
    assert taken.status_code == 200, taken.content


def notice(**action):
    """A rule that adds a notice to all asides."""
    add = {"slot": "aside-end", "piece": "notice", **action}
    return make_rule("shore", {"name": "Notice", "condition": {"include": "all"}, "actions": [add]})


def aside(api, path="/page-5"):
    html = api.get("/api/sites/shore/preview", path=path).json()["html"]
    assert html.count("<aside") == 1
    return html[html.index("<aside") : html.index("</aside>")]


def test_what_is_added_stands_beside_what_the_pages_have_there_found_or_not(api, shore):
    make_piece("shore", {"kind": "widget", "name": "Notice", "content": {"items": [{"type": "text", "text": "Gale"}]}})
    notice(do="append")
    own = aside(api)
    assert own.startswith('<aside class="side"><a href="/page-1.html">First</a>') and own.index("Second") < own.index(
        "Gale"
    )
    told = api.get("/api/sites/shore/trace", path="/page-5", target="aside-end").json()
    assert told["outcome"]["own_at"] == 0 and told["in_place"]
    publish("shore", User.objects.get(username="una"))
    # What was found takes the place of just that, and looks the same.
    take(api)
    assert differing() == 0
    assert [one["alike"] for one in api.get("/api/sites/shore/impact").json()["shifts"]] == [True, True]
    assert aside(api).index("Second") < aside(api).index("Gale")
    publish("shore", User.objects.get(username="una"))
    version = api.get("/api/sites/shore/pieces/notice").json()["version"]
    piece = {"kind": "widget", "name": "Notice", "content": {"items": [{"type": "text", "text": "Calm"}]}}
    assert api.put("/api/sites/shore/pieces/notice", piece, version).status_code == 200
    assert differing() == 12


def test_a_sidebar_of_ours_stands_in_the_column_of_the_page(api, shore):
    make_piece("shore", {"kind": "widget", "name": "Tide", "content": {"items": [{"type": "text", "text": "At nine"}]}})
    make_piece("shore", {"kind": "sidebar", "name": "Side", "entries": [{"piece": "tide"}]})
    make_piece("shore", {"kind": "sidebar", "name": "Bare", "entries": []})
    for name, path in (("side", "/page-5"), ("bare", "/page-6")):
        fill = [{"do": "fill", "slot": "aside-end", "piece": name}]
        make_rule("shore", {"name": name, "condition": {"include": f"page:{path}"}, "actions": fill})
    own = aside(api)
    assert own.startswith('<aside class="side"><') and "At nine" in own and "First" not in own
    html = api.get("/api/sites/shore/preview", path="/page-6").json()["html"]
    assert "<aside" not in html, "where nothing shows there is no column"


def test_a_found_sidebar_is_pictured_as_it_stands_on_the_page(api, shore):
    take(api)
    (slug,) = [one["slug"] for one in api.get("/api/sites/shore/pieces").json()["items"] if one["kind"] == "sidebar"]
    piece = api.get(address(slug)).json()
    body = {
        "piece": {key: piece[key] for key in ("name", "kind", "content", "entries")},
        "slug": slug,
        "path": "/page-5",
    }
    shown = api.post("/api/sites/shore/picture", body).json()["html"]
    plain = api.get("/api/sites/shore/preview", path="/page-5").json()["html"]
    assert re.sub("<!--nv-picked(-until)?-->", "", shown) == plain


def test_a_notice_is_pictured_beside_what_it_is_added_to(api, shore):
    content = {"items": [{"type": "text", "text": "Gale"}]}
    make_piece("shore", {"kind": "widget", "name": "Notice", "content": content})
    notice(do="prepend")
    piece = {"kind": "widget", "name": "Notice", "content": content}
    shown = api.post("/api/sites/shore/picture", {"piece": piece, "slug": "notice", "path": "/page-5"}).json()["html"]
    before, picked = shown.split("<!--nv-picked-->")
    assert before.endswith('<aside class="side">') and "First" in picked.split("<!--nv-picked-until-->")[1]


def test_what_was_found_is_drawn_as_before_taken_and_undone(api, shore):
    take(api)
    told = api.get("/api/sites/shore/impact").json()
    assert (told["pages"], told["audiences"]) == (0, [])
    assert {(one["target"], one["pages"], one["alike"]) for one in told["shifts"]} == {
        ("header", 9, True), ("aside-end", 12, True),
    }  # fmt: skip
    publish("shore", User.objects.get(username="una"))
    undo("shore", User.objects.get(username="una"), Edit.objects.latest("number").number)
    told = api.get("/api/sites/shore/impact").json()
    assert told["pages"] == 0 and all(one["alike"] for one in told["shifts"])


def test_what_was_found_is_outlined_with_nothing_around_it_and_loses_nothing(api, shore):
    take(api)

    def shown(outlines):
        asked = {"path": "/page-5", "outlines": outlines}
        return api.get("/api/sites/shore/preview", **asked).json()["html"]

    plain, outlined = shown("false"), shown("true")
    assert '<header data-nv-shows="header" data-slot="header">' in outlined
    assert 'class="side" ' not in outlined and outlined.count("data-slot=") == 2
    bare = re.sub(r' data-(?:nv-shows|slot)="[a-z-]+"', "", outlined)
    styles = re.search(r"<style>\[data-nv-stays\].*?</style>", bare)
    assert styles is not None and bare.replace(styles[0], "") == plain
    for slot in ("header", "aside-end"):
        assert re.search(rf'\[data-nv-shows="{slot}"\]{{outline:2px solid #[0-9A-Fa-f]{{6}}', styles[0])
    (piece,) = (one for one in draft(find_site("shore")).layout.pieces.values() if one.kind == "header")
    sent = {"kind": "header", "name": piece.name, "content": piece.content}
    told = api.post("/api/sites/shore/picture", {"piece": sent, "path": "/page-5"}).json()
    assert "<header>" in piece.content["items"][0]["code"] and told["lost"] == []


def test_what_a_piece_shows_that_stands_in_a_page_is_published_as_it_stands_there(api, shore):
    # What no piece says: how a tag is written, and a comment.
    for file in shore.iterdir():
        file.write_text(file.read_text().replace("<header>", "<header ><!-- top -->").replace("<aside", "<aside\n"))
    take_in_folder("shore", shore)
    take(api)

    def published():
        state = open_revision(publish("shore", User.objects.get(username="una")))
        drawn, lens = {}, Lens(Visitor(), state.document.now())
        for page in state.index.tree.pages:
            data = draw_page(state.source, page, "", lens, original=partial(state.served_original, page)).data
            drawn[page.path] = data.decode().replace((shore / f"{page.path[1:]}.html").read_text(), "as it was")
        return drawn

    assert set(published().values()) == {"as it was"}
    # The preview draws what the pieces show: the same.
    standing = api.get("/api/sites/shore/preview", path="/page-5").json()["standing"]
    assert standing["same_through_lens"] and standing["targets"] == []
    # What is added stands in that very element.
    make_piece("shore", {"kind": "widget", "name": "Notice", "content": {"items": [{"type": "text", "text": "Gale"}]}})
    notice(do="append")
    drawn = published()["/page-5"]
    assert "<header ><!-- top -->" in drawn and re.search(
        r'<aside\n class="side">.*Second</a><.*Gale.*</aside>', drawn, re.DOTALL
    )
    # What was changed is drawn.
    (piece,) = (one for one in draft(find_site("shore")).layout.pieces.values() if one.kind == "header")
    told = api.get(address(piece.slug)).json()
    code = piece.content["items"][0]["code"].replace("Marrowick", "Ferries")
    changed = {"name": piece.name, "content": {"items": [{"type": "markup", "code": code}]}}
    assert api.put(address(piece.slug), changed, told["version"]).status_code == 200
    drawn = published()["/page-5"]
    assert "<header>" in drawn and "Ferries" in drawn and "<aside\n" in drawn


def test_what_loses_something_looks_different(api, shore):
    take(api, left=[])
    assert differing() == 3


def test_a_piece_that_was_changed_looks_different(api, shore):
    take(api)
    (piece,) = (one for one in draft(find_site("shore")).layout.pieces.values() if one.kind == "header")
    told = api.get(address(piece.slug)).json()
    code = piece.content["items"][0]["code"].replace("Marrowick", "Ferries")
    changed = {"name": piece.name, "content": {"items": [{"type": "markup", "code": code}]}}
    assert api.put(address(piece.slug), changed, told["version"]).status_code == 200
    assert differing() == 9


def test_a_sidebar_with_another_widget_looks_different(api, shore):
    take(api)
    (sidebar,) = (one for one in draft(find_site("shore")).layout.pieces.values() if one.kind == "sidebar")
    told = api.get(address(sidebar.slug)).json()
    entries = [{"piece": sidebar.entries[0].piece, "condition": {"include": "page:/page-3"}}]
    assert api.put(address(sidebar.slug), {"name": "Side", "entries": entries}, told["version"]).status_code == 200
    assert differing() == 12


def test_a_found_piece_on_a_page_that_shows_something_else_looks_different(api, shore):
    take(api)
    (piece,) = (one for one in draft(find_site("shore")).layout.pieces.values() if one.kind == "header")
    actions = [{"do": "fill", "slot": "header", "piece": piece.slug}]
    make_rule("shore", {"name": "Here too", "condition": {"include": "page:/page-1"}, "actions": actions})
    assert impact_since_live(find_site("shore")).paths == {"/page-1"}


def test_pages_that_are_arranged_look_different(api, shore):
    take(api)
    actions = [{"do": "set", "setting": "page-form", "value": "arranged"}]
    make_rule("shore", {"name": "Arranged", "condition": {"include": "page:/page-5"}, "actions": actions})
    assert impact_since_live(find_site("shore")).paths == {"/page-5"}


def test_a_file_that_changed_is_told_as_that_and_what_stands_there_is_known_no_more(api, shore):
    take(api)
    (shore / "page-4.html").write_text(PAGE.format(name="Page 4", script="<b>New</b>"))
    take_in_folder("shore", shore)
    found = impact_since_live(find_site("shore"))
    assert found.paths == {"/page-4"}
    assert {page.path for one in found.shifts if not one.alike for page in one.pages} == {"/page-4"}


def test_a_place_that_is_bound_otherwise_is_another(api, shore):
    take(api)
    told = api.get("/api/sites/shore/bindings").json()
    bindings = [{"slot": "header", "selector": "header", "how": "before"}, {"slot": "aside-end", "selector": ".side"}]
    assert api.put("/api/sites/shore/bindings", {"bindings": bindings}, told["version"]).status_code == 200
    # What stands there is there twice now.
    assert differing() == 9


def test_trying_another_reach_of_a_rule_counts_only_what_looks_different(api, shore):
    take(api)
    publish("shore", User.objects.get(username="una"))
    (rule,) = (one for one in draft(find_site("shore")).layout.rules if "Header" in one.name)
    tree = {**write_rule(rule), "condition": {"include": "page:/page-7"}}
    told = api.post("/api/sites/shore/trial", {"rule": tree, "id": rule.key})
    assert (told.status_code, told.json()["pages"]) == (200, 0)


def test_what_would_make_a_found_piece_show_again_counts_only_what_looks_different(api, shore):
    take(api)
    rules = api.get("/api/sites/shore/rules").json()["items"]
    (row,) = (one for one in rules if "Header" in one["rule"]["name"])
    off = api.put(f"/api/sites/shore/rules/{row['id']}", {**row["rule"], "on": False}, row["version"])
    assert off.status_code == 200
    told = api.post("/api/sites/shore/why-not", {"path": "/page-7", "target": "header", "rule": row["id"]}).json()
    assert (told["shows"], [one["pages"] for one in told["remedies"]]) == (False, [0])
