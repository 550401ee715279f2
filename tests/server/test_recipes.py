"""How facts are read: said, tried, proposed, undone, in files; and what a hostile recipe does."""

import json

import pytest
from django.contrib.auth.models import User

from navrel.core.files.reading import read_json
from navrel.core.files.writing import write_json
from navrel.server.inventory import reader
from navrel.server.inventory.models import Page, Site
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.publishing.services import impact_since_live, publish
from navrel.server.rules.services import make_rule
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site
from tests.sites import old, write

AUTHOR = {"fact": "author", "places": [{"at": "element", "of": "td.main-content > i", "take": "by (.+)$"}]}
TYPE = {"fact": "type", "places": [{"at": "file", "take": "^old/(news)"}, {"at": "fixed", "of": "page"}]}
NEWS = ["/old/news97", "/old/news98", "/old/news99"]


@pytest.fixture
def quay(api, tmp_path):
    """An old site that una owns."""
    site = make_empty_site("quay", "Quay", "", "in-place", by=User.objects.get(username="una"))
    take_in_folder("quay", write(old, tmp_path))
    site.refresh_from_db()
    return site


def put(api, *lines):
    version = api.get("/api/sites/quay/recipe").json()["version"]
    return api.put("/api/sites/quay/recipe", {"recipe": list(lines)}, version)


def authors():
    return {page.path: page.author for page in draft(find_site("quay")).document.pages if page.author}


def test_a_recipe_is_tried_then_said_and_reads_all_pages_anew(api, quay):
    tried = api.post("/api/sites/quay/recipe/tried", {"recipe": [AUTHOR]}).json()
    assert tried["originals"] == 7 == len(tried["pages"])
    told = {page["path"]: fact for page in tried["pages"] for fact in page["facts"] if fact["fact"] == "author"}
    assert told["/old/news97"] == {"fact": "author", "now": "", "after": "sigrun-vale", "place": 0}
    assert told["/crew"] == {"fact": "author", "now": "", "after": "", "place": -1}
    assert authors() == {}
    saved = put(api, AUTHOR).json()
    assert (saved["recipe"], saved["told"]["author"]) == ([AUTHOR], 3)
    assert authors() == dict.fromkeys(NEWS, "sigrun-vale")


def test_what_is_tried_on_a_few_pages_changes_no_title_that_all_pages_tell(api, tmp_path):
    make_empty_site("quay", "Quay", "", "in-place", by=User.objects.get(username="una"))
    for number in range(60):
        heading = "Other stories" if number % 10 == 0 else f"Story {number}"
        page = f"<title>Quay: story {number}</title><body><main><h1>{heading}</h1><p>By sea</main>"
        (tmp_path / f"s{number}.html").write_text(page)
    take_in_folder("quay", tmp_path)
    titles = {page.path: page.title for page in draft(find_site("quay")).document.pages}
    assert titles["/s10"] == "story 10"
    for recipe in ([], [AUTHOR]):
        tried = api.post("/api/sites/quay/recipe/tried", {"recipe": recipe}).json()
        told = [fact for page in tried["pages"] for fact in page["facts"] if fact["fact"] == "title"]
        assert len(told) == 20 and all(fact["now"] == fact["after"] for fact in told)
    own = [{"fact": "title", "places": [{"at": "heading"}]}]
    tried = api.post("/api/sites/quay/recipe/tried", {"recipe": own}).json()
    after = {
        page["path"]: fact["after"] for page in tried["pages"] for fact in page["facts"] if fact["fact"] == "title"
    }
    assert {path: title for path, title in after.items() if title == "Other stories"} == {
        path: "Other stories" for path in after if path.endswith("0")
    }


def test_what_it_changes_is_told_for_the_pages_concerned_and_undone_with_it(api, quay):
    actions = [{"do": "set", "setting": "page-form", "value": "arranged"}]
    make_rule("quay", {"name": "News", "condition": {"include": "type:news"}, "actions": actions})
    publish("quay", None, "")
    body = {"to": "recipe", "body": {"recipe": [TYPE]}, "version": api.get("/api/sites/quay/recipe").json()["version"]}
    weighed = api.post("/api/sites/quay/weighed-edit", body).json()
    # The type of all is another; what is to be seen in slots and settings differs on three.
    assert (weighed["own"]["pages"], [shift["pages"] for shift in weighed["shifts"]]) == (7, [3])
    assert {page.type for page in draft(find_site("quay")).document.pages} == {""}
    assert put(api, TYPE).status_code == 200
    state = draft(find_site("quay"))
    assert {page.path for page in state.document.pages if page.type == "news"} == set(NEWS)
    assert len(impact_since_live(find_site("quay")).paths) == 7
    number = api.get("/api/sites/quay").json()["undo"]["number"]
    assert api.post(f"/api/sites/quay/edits/{number}/undo", {}).status_code in (200, 204)
    assert {page.type for page in draft(find_site("quay")).document.pages} == {""}
    assert Site.objects.get(slug="quay").recipe == []
    number = api.get("/api/sites/quay").json()["redo"]["number"]
    assert api.post(f"/api/sites/quay/edits/{number}/redo", {}).status_code in (200, 204)
    assert {page.path for page in draft(find_site("quay")).document.pages if page.type == "news"} == set(NEWS)


def test_the_recipe_reads_what_is_taken_in_after_it_and_corrections_stay(api, quay, tmp_path):
    put(api, AUTHOR)
    version = api.get("/api/sites/quay/page", path="/old/news97").json()["version"]
    facts = {"path": "/old/news97", "facts": {"author": "tove-marr"}}
    corrected = api.put("/api/sites/quay/page", facts, version)
    assert corrected.status_code == 200, corrected.json()
    text = (tmp_path / "old" / "news99.htm").read_text("latin-1").replace("Sigrun Vale", "Ove Strand")
    (tmp_path / "old" / "news99.htm").write_text(text, "latin-1")
    take_in_folder("quay", tmp_path)
    assert authors() == {"/old/news97": "tove-marr", "/old/news98": "sigrun-vale", "/old/news99": "ove-strand"}
    put(api)
    assert authors() == {"/old/news97": "tove-marr"}


@pytest.mark.parametrize(
    ("line", "pointer"),
    [
        ({"fact": "colour", "places": []}, "/recipe/0/fact"),
        ({"fact": "terms/No slug", "places": []}, "/recipe/0/fact"),
        ({"fact": "author", "places": [{"at": "element", "of": "p >"}]}, "/recipe/0/places/0/of"),
        ({"fact": "author", "places": [{"at": "element"}]}, "/recipe/0/places/0"),
        ({"fact": "author", "places": [{"at": "title", "take": "("}]}, "/recipe/0/places/0/take"),
        ({"fact": "type", "places": [{"at": "path", "of": "first"}]}, "/recipe/0/places/0/of"),
        ({"fact": "type", "places": [{"at": "nowhere"}]}, "/recipe/0/places/0/at"),
    ],
)
def test_what_cannot_be_followed_is_refused_where_it_stands(api, quay, line, pointer):
    answer = put(api, line)
    assert answer.status_code == 422
    assert pointer in [one["pointer"] for one in answer.json()["problems"]]
    assert Site.objects.get(slug="quay").recipe == []


def test_a_pattern_without_end_is_refused_by_name_of_the_page_and_nothing_is_changed(api, quay, monkeypatch):
    monkeypatch.setattr(reader, "MAX_SECONDS", 1)
    endless = {"fact": "type", "places": [{"at": "element", "of": "body", "take": "^(([a-zA-Z ,.;]+)+)+$"}]}
    answer = put(api, TYPE, AUTHOR, {**endless, "fact": "fields/all"})
    assert answer.status_code == 422
    assert "On /" in answer.json()["title"] and "the recipe cannot be followed" in answer.json()["title"]
    assert (Site.objects.get(slug="quay").recipe, authors()) == ([], {})


def test_what_a_place_says_at_its_worst_is_cut_to_what_a_page_can_have(api, quay, tmp_path):
    page = f"<html><head><title>T</title></head><body><main><h1>H</h1><p class=x>{'ø' * 3000}</p></main></body></html>"
    (tmp_path / "home.htm").write_text(page)
    take_in_folder("quay", tmp_path)
    whole = [{"at": "element", "of": ".x"}]
    facts = ("title", "type", "author", "terms/topic", "fields/deck", "parent", "language", "kind", "published")
    assert put(api, *({"fact": fact, "places": whole} for fact in facts)).status_code == 200
    found = Page.objects.get(site=quay, path="/home")
    assert (len(found.title), found.type, found.author) == (500, "o" * 80, "o" * 80)
    assert (found.terms, len(found.fields["deck"])) == ([f"topic/{'o' * 80}"], 500)
    assert (found.language, found.kind, found.published) == ("", "single", None)


def test_a_layout_file_carries_the_recipe_and_the_places_to_another_site(api, quay, tmp_path):
    put(api, AUTHOR, TYPE)
    bindings = api.get("/api/sites/quay/bindings").json()
    footer = {"slot": "footer", "selector": "p.foot"}
    assert api.put("/api/sites/quay/bindings", {"bindings": [footer]}, bindings["version"]).status_code == 200
    text = write_json(draft(find_site("quay")).document)
    assert write_json(read_json(text)) == text
    other = make_empty_site("other", "Other", "", "in-place", by=User.objects.get(username="una"))
    take_in_folder("other", tmp_path)
    tree = {key: value for key, value in json.loads(text).items() if key not in ("pages", "taxonomies")}
    answer = api.post("/api/sites/other/layout-file/take-in", {"file": tree, "site": True, "rules": "none"})
    assert answer.status_code == 200, answer.json()
    other.refresh_from_db()
    assert (other.recipe, other.bindings) == ([AUTHOR, TYPE], [footer])
    pages = {page.path: page for page in draft(find_site("other")).document.pages}
    assert [pages[path].author for path in NEWS] == ["sigrun-vale"] * 3
    assert pages["/crew"].bound == ("footer",)


@pytest.mark.parametrize(
    ("part", "pointer"),
    [
        ({"recipe": [{"fact": "type", "places": [{"at": "element", "of": "p >"}]}]}, "/recipe/0/places/0/of"),
        ({"recipe": [{"fact": "parent", "places": [{"at": "trail", "of": "x" * 301}]}]}, "/recipe/0/places/0/of"),
        ({"bindings": [{"slot": "footer", "selector": "p >"}]}, "/bindings/0/selector"),
    ],
)
def test_a_layout_file_cannot_bring_what_would_make_every_later_file_unreadable(api, part, pointer):
    empty = make_empty_site("empty", "Empty", "", "in-place", by=User.objects.get(username="una"))
    tree = {"navrel": 1, "site": {"name": "Empty"}, **part}
    answer = api.post("/api/sites/empty/layout-file/take-in", {"file": tree, "site": True})
    assert (answer.status_code, answer.json()["problems"][0]["pointer"][-len(pointer) :]) == (422, pointer)
    empty.refresh_from_db()
    assert (empty.recipe, empty.bindings) == ([], [])


def test_places_are_proposed_with_what_they_would_tell(api, quay, tmp_path):
    for number, name in enumerate(("fahren", "havner", "crew")):
        text = (tmp_path / f"{name}.htm").read_text("latin-1")
        byline = f'<p class="byline">By Ove Strand, {number + 3} May 2026</p>'
        (tmp_path / f"{name}.htm").write_text(text.replace("<P>Call", f"{byline}<P>Call"), "latin-1")
    take_in_folder("quay", tmp_path)
    told = api.get("/api/sites/quay/recipe/proposed").json()
    assert told["asked"] == 7
    place = {"at": "element", "of": ".byline"}
    known = [(one["fact"], {key: value for key, value in one["place"].items() if value}) for one in told["proposed"]]
    (at,) = [
        number for number, (fact, found) in enumerate(known) if fact == "author" and found.items() >= place.items()
    ]
    assert (told["proposed"][at]["pages"], told["proposed"][at]["more"]) == (3, 3)
    assert told["proposed"][at]["examples"] == ["ove-strand"]


@pytest.mark.parametrize(
    ("behind", "is_proposed"), [('<li><a href="/">All</a></li>', True), ('<li><a href="/fares">Fares</a></li>', False)]
)
def test_lists_that_lead_down_to_pages_are_proposed_as_trails(api, quay, tmp_path, behind, is_proposed):
    for section in "ab":
        for name in ("North", "South"):
            items = f'<li>Docs</li><li><a href="/">All</a></li><li><a href="{section}.html">{section}</a></li><li>{name}</li>{behind}'
            text = f'<!doctype html><html lang="en"><body><div class="way bar"><ul>{items}</ul></div><h1>{name} quay</h1><p>Text</p>'
            (tmp_path / f"{section}-{name}.html").write_text(text)
    take_in_folder("quay", tmp_path)
    told = api.get("/api/sites/quay/recipe/proposed").json()["proposed"]
    found = [one["examples"] for one in told if one["fact"] == "parent" and one["place"].get("of") == ".way"]
    assert [sorted(one) for one in found] == ([["/a", "/b"]] if is_proposed else [])


@pytest.mark.parametrize(
    ("around", "is_proposed"), [('nav class="tags"', True), ('nav class="menu"', False), ('pre class="tags"', False)]
)
def test_topics_are_those_of_the_page_not_of_what_leads_about_the_site(api, quay, tmp_path, around, is_proposed):
    for name in ("fahren", "havner", "crew"):
        text = (tmp_path / f"{name}.htm").read_text("latin-1")
        tags = f'<{around}><span class="tag">{name} news</span><span class="tag">Boats</span></{around[:3]}>'
        (tmp_path / f"{name}.htm").write_text(text.replace("<P>Call", f"{tags}<P>Call"), "latin-1")
    take_in_folder("quay", tmp_path)
    told = api.get("/api/sites/quay/recipe/proposed").json()["proposed"]
    assert any(one["fact"] == "terms/topic" and one["place"]["of"] == ".tag" for one in told) is is_proposed
