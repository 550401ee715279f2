"""Bindings by the API: tried, said, undone; where their slots show, and what is told of it."""

import json
import re

import pytest
from django.contrib.auth.models import User
from django.db import transaction

from navrel.core.files.reading import read_json
from navrel.core.files.writing import write_json
from navrel.server.bindings import finding
from navrel.server.inventory.blocks import MOST_MARKS
from navrel.server.inventory.called import kind_called
from navrel.server.inventory.models import Original, Site
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.library.services import make_piece
from navrel.server.outcomes.findings import findings
from navrel.server.publishing.services import impact_since_live, publish
from navrel.server.rules.services import make_rule
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import find_site, lock_site
from navrel.wording.findings import finding_words
from tests.sites import folders, write

FOOTER = {"slot": "footer", "selector": "[role=contentinfo]"}
CRUMBS = {"slot": "before-content", "selector": "ol.breadcrumb", "how": "after", "where": "within:/harbours"}


@pytest.fixture
def shore(api, tmp_path):
    """A site in place that una owns, without a binding."""
    site = make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    take_in_folder("shore", write(folders, tmp_path))
    site.refresh_from_db()
    return site


def put(api, *bindings):
    version = api.get("/api/sites/shore/bindings").json()["version"]
    return api.put("/api/sites/shore/bindings", {"bindings": list(bindings)}, version)


def test_bindings_tell_how_they_fit_before_and_after_they_are_saved(api, shore):
    told = api.post("/api/sites/shore/bindings/tried", {"bindings": [FOOTER, CRUMBS]}).json()
    assert (told["originals"], told["asked"]) == (8, 8)
    assert [(one["pages"], one["found"], one["inside"]) for one in told["fits"]] == [(8, 8, 0), (3, 3, 0)]
    assert Original.objects.exclude(places={}).count() == 0
    assert api.get("/api/sites/shore/bindings").json()["bindings"] == []
    saved = put(api, FOOTER, CRUMBS, {"slot": "title", "selector": "[role=contentinfo] a"}).json()
    assert [one["found"] for one in saved["fits"]] == [8, 3, 8]
    assert (saved["fits"][2]["inside"], saved["fits"][2]["several"]) == (8, 0)
    pages = {page.path: page.bound for page in draft(find_site("shore")).document.pages}
    assert pages["/"] == ("footer",) and pages["/harbours/hestan"] == ("before-content", "footer")


def test_pages_of_one_and_the_same_file_are_bound_each(api, tmp_path):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for name in ("index", "one", "two"):
        (tmp_path / f"{name}.html").write_text("<title>Quay</title><body><main>Boats</main><footer>By sea</footer>")
    take_in_folder("shore", tmp_path)
    assert put(api, {"slot": "footer", "selector": "footer"}).json()["fits"][0]["found"] == 3


@pytest.mark.parametrize(
    ("binding", "pointer"),
    [
        ({"slot": "footer", "selector": "div >"}, "/bindings/0/selector"),
        ({"slot": "No slot", "selector": "div"}, "/bindings/0/slot"),
        ({"slot": "footer", "selector": "div", "where": "type:"}, "/bindings/0/where"),
        ({"slot": "footer", "selector": "x" * 301}, "/bindings/0/selector"),
    ],
)
def test_what_cannot_be_asked_is_refused_where_it_stands(api, shore, binding, pointer):
    answer = put(api, binding)
    assert answer.status_code == 422
    assert pointer in [one["pointer"] for one in answer.json()["problems"]]
    assert Site.objects.get(slug="shore").bindings == []


def test_somebody_else_s_bindings_are_not_written_over(api, shore):
    version = api.get("/api/sites/shore/bindings").json()["version"]
    put(api, FOOTER)
    answer = api.put("/api/sites/shore/bindings", {"bindings": []}, version)
    assert answer.status_code == 412
    assert Site.objects.get(slug="shore").bindings == [FOOTER]


def test_bindings_change_nothing_to_be_seen_until_a_rule_acts_there_and_are_undone(api, shore):
    publish("shore", None, "")
    put(api, FOOTER)
    assert impact_since_live(find_site("shore")).paths == set()
    make_rule(
        "shore", {"name": "Bare", "condition": {"include": "all"}, "actions": [{"do": "empty", "slot": "footer"}]}
    )
    assert len(impact_since_live(find_site("shore")).paths) == 8
    publish("shore", None, "")
    put(api, {**FOOTER, "where": "within:/harbours"})
    assert len(impact_since_live(find_site("shore")).paths) == 5
    info = api.get("/api/sites/shore").json()
    assert info["undo"]["words"].startswith("Site: ")
    api.post(f"/api/sites/shore/edits/{info['undo']['number']}/undo")
    assert impact_since_live(find_site("shore")).paths == set()


def test_what_a_rule_does_in_a_place_is_told_of_the_rule_and_for_whom(api, shore):
    put(api, FOOTER)
    publish("shore", None, "")
    condition = {"include": "within:/harbours", "visitors": {"include": "signed:in"}}
    make_rule("shore", {"name": "Bare", "condition": condition, "actions": [{"do": "empty", "slot": "footer"}]})
    found = impact_since_live(find_site("shore"))
    assert (len(found.paths), found.own) == (3, ())
    told = api.get("/api/sites/shore/impact").json()
    assert ([one["words"] for one in told["audiences"]], told["own"]["pages"]) == (["signed-in visitors"], 0)


def test_a_place_changes_no_page_on_which_no_rule_acts_there(api, shore):
    actions = [{"do": "empty", "slot": "footer"}]
    make_rule("shore", {"name": "Bare", "condition": {"include": "within:/harbours"}, "actions": actions})
    make_rule("shore", {"name": "Off", "on": False, "condition": {"include": "all"}, "actions": actions})
    publish("shore", None, "")
    put(api, FOOTER)
    within = {page.path for page in draft(find_site("shore")).document.pages if page.path.startswith("/harbours")}
    assert impact_since_live(find_site("shore")).paths == within
    publish("shore", None, "")
    put(api, {"slot": "footer", "selector": "[role=contentinfo] a"})
    assert impact_since_live(find_site("shore")).paths == within
    put(api)
    assert impact_since_live(find_site("shore")).paths == within


def test_a_slot_that_is_not_bound_has_no_place_and_a_template_is_not_used(api, shore):
    put(api, FOOTER)
    make_piece(
        "shore",
        {"kind": "widget", "name": "Strip", "content": {"items": [{"type": "text", "text": "A strip of ours"}]}},
    )
    make_piece("shore", {"kind": "template", "name": "Plain"})
    actions = [{"do": "fill", "slot": "above-footer", "piece": "strip"}, {"do": "use", "template": "plain"}]
    make_rule("shore", {"name": "Strip", "condition": {"include": "page:/routes"}, "actions": actions})
    for target in ("above-footer", "template"):
        told = api.get("/api/sites/shore/trace", path="/routes", target=target).json()
        assert (told["seated"], told["in_place"], told["outcome"]["state"]) == (False, True, "filled"), target
    columns = {one["target"]: one["unseated"] for one in api.get("/api/sites/shore/layout").json()["columns"]}
    assert len(columns["above-footer"]) == len(columns["template"]) == 1
    seatless = [one for one in findings("shore", draft(find_site("shore"))) if one.check in ("unseated", "unbound")]
    assert [(one.check, one.severity, one.subject, one.page_count) for one in seatless] == [
        ("unbound", "hint", "above-footer", 1)
    ]
    assert finding_words(seatless[0]).what == "Above footer is to show “Strip” on 1 page whose HTML has no place for it"
    (told,) = [one for rule in api.get("/api/sites/shore/rules").json()["items"] for one in rule["by_target"]
               if one["target"] == "above-footer"]  # fmt: skip
    assert (told["unplaced"], told["unbound"], told["templates"]) == (1, 1, [])
    shown = api.get("/api/sites/shore/preview", path="/routes").json()
    assert 'href="/legal/imprint/"' in shown["html"] and "/files" not in shown["html"]
    assert shown["in_place"] and "A strip of ours" not in shown["html"]
    # Arranged by a pin of its form, the same page has both.
    form = [{"do": "set", "setting": "page-form", "value": "arranged"}]
    make_rule("shore", {"name": "Arranged", "condition": {"include": "page:/routes"}, "actions": form})
    assert api.get("/api/sites/shore/trace", path="/routes", target="above-footer").json()["seated"]
    shown = api.get("/api/sites/shore/preview", path="/routes").json()
    assert not shown["in_place"] and "A strip of ours" in shown["html"]


def test_places_are_pictured_and_what_has_none_says_so(api, shore):
    html = api.post("/api/sites/shore/bindings/picture", {"path": "/routes", "binding": FOOTER}).json()["html"]
    assert '<!--nv-picked--><div role="contentinfo">' in html and "/-/draft/shore/" in html
    assert html.split("<!--nv-picked-until-->")[0].endswith("</div>")
    beside = {**FOOTER, "how": "before"}
    html = api.post("/api/sites/shore/bindings/picture", {"path": "/routes", "binding": beside}).json()["html"]
    assert '<!--nv-picked--><div></div><!--nv-picked-until--><div role="contentinfo">' in html
    assert api.client.get(html.split('href="')[2].split('"')[0]).status_code in (200, 404)
    answer = api.post("/api/sites/shore/bindings/picture", {"path": "/nowhere", "binding": FOOTER})
    assert answer.status_code == 404
    assert api.post("/api/sites/shore/finds", {"slots": ["footer"]}).status_code == 409


def test_what_is_steady_is_proposed_before_what_each_page_has_of_its_own(api, tmp_path):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    names = ["index", *(f"quay-{number}" for number in range(1, 15))]
    entries = "".join(f"<li><a href={name}.html>Quay {name}</a></li>" for name in names)
    for at, name in enumerate(names):
        more = f"<a href={names[at - 1]}.html>Before {name}</a>"
        (tmp_path / f"{name}.html").write_text(
            f"<title>{name}</title><body><div class=navbar><ul class=menu>{entries}</ul>{more}</div>"
            f"<div id=column2><p>Also</p>{entries.replace('Quay', 'Pier')}</div><main>Boats of {name}</main>"
            f"<div class=near-footer>By sea</div><footer>This is {name}<p>By sea and by land, all year round</p></footer>"
        )
    take_in_folder("shore", tmp_path)
    assert proposed(api) == {
        "below-header": ("ul.menu", 1),
        "aside-start": ("#column2", 1),
        "footer": ("body > footer", 15),
    }
    told = api.get("/api/sites/shore/bindings/proposed").json()["proposed"]
    assert [one for one in told if one["binding"]["selector"] == "div.navbar" or not one["sure"]] == []


def proposed(api):
    """What is proposed first for each slot: the selector, and how many contents stand there."""
    firsts = {}
    for one in api.get("/api/sites/shore/bindings/proposed").json()["proposed"]:
        firsts.setdefault(one["binding"]["slot"], (one["binding"]["selector"], one["distinct"]))
    return firsts


@pytest.mark.parametrize(
    ("written", "firsts"),
    [
        # An old page has no names: its parts are told by where they stand. All of it may be its content.
        (
            "<body><table><tr><td>Marrowick by water</table><h1>{0}</h1><p>Boats of {0}<p>And more of {0}"
            "<center>By sea, all year</center></body>",
            {"above-header": ("body > table:first-child", 1), "above-footer": ("body > center:last-child", 1)},
        ),
        (
            "<body><div id=all><h1>{0}</h1><p>Boats of {0}<p>And more of {0}<p>By sea, all year</div><script></script>",
            {"above-footer": ("#all > p:last-child", 1)},
        ),
        # Of several classes the one that says what it is; and none that another part has first.
        (
            "<body><div class=row><h1>{0}</h1><div class='cell links'>Here</div><main>Boats of {0}</main></div>"
            "<div class=row><div class='twelve-wide foot'>By sea, all year</div></div>"
            "<div id=search class=dialog><div class=dialog-header>Look for</div></div></body>",
            {"above-header": ("div.cell", 1), "above-footer": ("#search", 1), "footer": ("div.foot", 1)},
        ),
        # A row is made of cells, which no piece is.
        (
            "<body><table><tr class=header><td>Boats</td></tr><tr><td class=footer>By sea, all year</td></tr></table>"
            "<h1>{0}</h1><p>Boats of {0}</body>",
            {"footer": ("td.footer", 1)},
        ),
    ],
    ids=["nameless", "held", "classes", "rows"],
)
def test_parts_are_bound_by_what_finds_them_first(api, tmp_path, written, firsts):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for name in ("index", *(f"quay-{number}" for number in range(1, 9))):
        (tmp_path / f"{name}.html").write_text(f"<title>{name}</title>{written.format(name)}")
    take_in_folder("shore", tmp_path)
    assert proposed(api) == firsts


def test_one_selector_binds_a_part_on_all_pages_and_what_leads_heads_pages_without_a_header(api, tmp_path):
    """Where an article has a footer too, the tag alone finds that; what skips to the content is no part of a page."""
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for number in range(9):
        own = f"<footer>Written of {number}</footer>" if number % 3 else ""
        (tmp_path / f"{number}.html").write_text(
            f"<title>Quay {number}</title><body><div id=root><div role=region><a href=#all>To the text</a></div>"
            "<nav class=bar><a href=0.html>Marrowick</a></nav>"
            f"<div id=all><main><article>Boats of {number}{own}</article></main></div>"
            f"<footer class=pager>Before {number}</footer><footer class=foot>By sea, all year</footer></div>"
        )
    take_in_folder("shore", tmp_path)
    told = api.get("/api/sites/shore/bindings/proposed").json()["proposed"]
    assert [(one["binding"]["slot"], one["binding"]["selector"], one["fit"]["found"], one["distinct"]) for one in told] == [
        ("header", "nav", 9, 1), ("footer", "footer.foot", 9, 1), ("footer", "footer.pager", 9, 9),
    ]  # fmt: skip


def test_a_sidebar_is_proposed_whole_and_a_header_of_a_section_heads_no_page(api, tmp_path):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for number in range(9):
        entries = "".join(f"<li><a href={at}.html>Quay {at}{' (here)' * (at == number)}</a></li>" for at in range(9))
        (tmp_path / f"{number}.html").write_text(
            f"<title>Quay {number}</title><body><div class=sidebar><div class=side-search>Find a boat</div>"
            f"<nav class=quays-nav>{entries}</nav></div>"
            f"<main><section><header><h2>Quay {number}</h2></header>Boats of {number}</section><nav>Next</nav></main>"
        )
    take_in_folder("shore", tmp_path)
    assert proposed(api) == {"aside-start": ("div.sidebar", 9)}


def test_what_most_pages_of_no_one_section_show_is_for_all_pages(api, tmp_path):
    """A list of pages would be true as well, and nobody would read it."""
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    shown = {f"quay-{number}": "By sea" for number in range(9)}
    shown |= {f"north/{number}": "By north" for number in range(6)}
    shown |= {f"south/{number}": "By south" for number in range(6)}
    shown |= {"bare": "", "bare-2": ""}
    for name, footer in shown.items():
        place = tmp_path / f"{name}.html"
        place.parent.mkdir(exist_ok=True)
        place.write_text(f"<title>{name}</title><body><main>Boats of {name}</main><footer>{footer}</footer>")
    take_in_folder("shore", tmp_path)
    put(api, {"slot": "footer", "selector": "footer"})
    told = api.get("/api/sites/shore/finds").json()
    finds = {one["pages"]: one for one in told["slots"][0]["finds"]}
    assert told["wrong"] == 0
    assert (finds[9]["include"], finds[9]["exclude"]) == ("all", "")
    # What is left as it is is taken out, too, and no piece is made of it.
    north = next(one for one in told["slots"][0]["finds"] if "/north/0" in one["first"])
    left = api.get("/api/sites/shore/finds", left=north["key"]).json()
    finds = {one["first"][0]: one for one in left["slots"][0]["finds"]}
    assert [path for path, one in finds.items() if one["left"]] == ["/north/0"]
    assert finds["/quay-0"]["exclude"] == "page:/north/0,/north/1,/north/2,/north/3,/north/4,/north/5"
    assert (left["rules"], left["right"], left["wrong"]) == (told["rules"] - 1, told["right"], 0)
    taken = api.post("/api/sites/shore/finds", {"slots": ["footer"], "left": [north["key"]]}).json()
    assert taken == {"pieces": 3, "rules": 3, "right": 23, "lessened": 0, "wrong": 0}
    for path, state in (("/north/3", "unset"), ("/south/3", "filled"), ("/quay-3", "filled"), ("/bare", "filled")):
        assert api.get("/api/sites/shore/trace", path=path, target="footer").json()["outcome"]["state"] == state


LOSSY = """<!doctype html><title>{name}</title><body><header>Marrowick {script}</header><main><h1>{name}</h1></main>
<footer><form action="/search"><input type="hidden" name="area" value="{area}"><input type="hidden" name="t" value="{n}">
</form></footer></body>"""


def test_what_a_piece_would_lack_is_told_and_left_unless_it_is_taken(api, tmp_path):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for n in range(30):
        script = "<script>show()</script>" if n < 4 else ""
        page = LOSSY.format(name=f"Page {n}", n=n, area="all" if n % 2 else "fares", script=script)
        (tmp_path / f"page-{n}.html").write_text(page)
    take_in_folder("shore", tmp_path)
    put(api, {"slot": "header", "selector": "header"}, {"slot": "footer", "selector": "footer"})
    told = api.get("/api/sites/shore/finds").json()
    header, footer = told["slots"]
    plain, lossy = header["finds"]
    assert (plain["pages"], plain["lost"], plain["left"]) == (26, [], False)
    assert (lossy["pages"], lossy["lost"], lossy["left"]) == (4, [{"what": "script", "count": 1}], True)
    # A value that is another one on each page is known on none.
    assert footer["finds"][0]["lost"] == [{"what": "mark or value that differs by page", "count": 1}]
    assert (told["right"], told["lessened"], told["wrong"], told["rules"]) == (60, 0, 0, 1)
    every = api.get("/api/sites/shore/finds?left=").json()
    assert (every["right"], every["lessened"], every["wrong"], every["rules"]) == (60, 34, 0, 3)
    taken = api.post("/api/sites/shore/finds", {"slots": ["header", "footer"], "left": None}).json()
    assert (taken["rules"], taken["lessened"], taken["wrong"]) == (1, 0, 0)


def test_too_many_marks_of_where_a_reader_is_are_not_lost_unsaid(api, tmp_path):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    for n in range(3):
        lines = '<i class="open">Boat</i>' * (MOST_MARKS + 1)
        (tmp_path / f"page-{n}.html").write_text(f"<title>{n}</title><main>Boats {n}</main><footer>{lines}</footer>")
    take_in_folder("shore", tmp_path)
    put(api, {"slot": "footer", "selector": "footer"})
    (slot,) = api.get("/api/sites/shore/finds").json()["slots"]
    assert [one["lost"] for one in slot["finds"]] == [[{"what": "mark or value that differs by page", "count": 1}]]


def test_what_was_looked_at_is_not_read_again_to_be_taken_until_something_differs(api, shore, monkeypatch):
    read = []
    shown = finding._shown
    monkeypatch.setattr(finding, "_shown", lambda *asked: read.append(1) or shown(*asked))
    put(api, FOOTER)
    first = api.get("/api/sites/shore/finds").json()
    taken = api.post("/api/sites/shore/finds", {"slots": ["footer"]}).json()
    assert (taken["right"], taken["wrong"]) == (first["right"], 0)
    assert len(read) == 1
    # Nor is it where somebody saved meanwhile, so that nobody else waits long to save.
    make_rule("shore", {"name": "Bare", "actions": [{"do": "empty", "slot": "footer"}]})
    with transaction.atomic():
        assert finding.find(lock_site("shore"))
    assert len(read) == 1
    put(api, {**FOOTER, "how": "after"}, CRUMBS)
    api.get("/api/sites/shore/finds")
    assert len(read) == 2


def test_what_rules_decide_already_is_not_found_again(api, shore):
    put(api, FOOTER)
    actions = [{"do": "empty", "slot": "footer"}]
    make_rule("shore", {"name": "Bare", "condition": {"include": "page:/routes"}, "actions": actions})
    told = api.get("/api/sites/shore/finds").json()
    (slot,) = told["slots"]
    pages = sum(one["pages"] for one in slot["finds"]) + slot["alone"]
    assert (slot["decided"], pages, told["right"], told["wrong"]) == (1, 7, 7, 0)
    api.post("/api/sites/shore/finds", {"slots": ["footer"]})
    told = api.get("/api/sites/shore/finds").json()
    (slot,) = told["slots"]
    assert (slot["finds"], told["rules"]) == ([], 0)
    assert (slot["decided"], told["right"], told["wrong"]) == (8 - slot["alone"], slot["alone"], 0)
    assert api.get("/api/sites/shore/trace", path="/routes", target="footer").json()["outcome"]["state"] == "empty"
    assert api.post("/api/sites/shore/finds", {"slots": ["footer"]}).status_code == 409


@pytest.mark.parametrize(("name", "kind"), [
    (".bar", "navigation"), ("#bar", "navigation"), (".menubar", "navigation"), ("#menu-bar", "navigation"),
    (".progress-bar", None), ("#chart_bar", None), (".bars", None), (".table-menu", None), ("#topbar", "header"),
])  # fmt: skip
def test_what_a_part_is_called_tells_its_kind(name, kind):
    told = kind_called(name)
    assert (told and told[0]) == kind


def test_finds_are_called_as_nothing_else_is(api, tmp_path):
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    # On the pages of two languages in three folders something else stands each time.
    for folder in ("north", "south", "west"):
        (tmp_path / folder).mkdir()
        for number in range(8):
            language = "en" if number < 4 else "nb"
            text = (
                f"<html lang={language}><title>{number}</title><main>Boats</main><footer>{folder} {language}</footer>"
            )
            (tmp_path / folder / f"{number}.html").write_text(text)
    take_in_folder("shore", tmp_path)
    make_piece("shore", {"kind": "footer", "name": "footer OF /west/*, EN", "content": {"items": []}})
    put(api, {"slot": "footer", "selector": "footer"})
    made = api.post("/api/sites/shore/finds", {"slots": ["footer"]})
    assert made.status_code == 200, made.content
    assert (made.json()["pieces"], made.json()["right"], made.json()["wrong"]) == (6, 24, 0)
    names = [piece.name for piece in draft(find_site("shore")).layout.pieces.values()]
    assert len({name.casefold() for name in names}) == 7
    assert "Footer of /west/*, en 2" in names


def picture(api, slug, path="", **asked):
    piece = draft(find_site("shore")).layout.pieces[slug]
    tree = {"name": piece.name, "kind": piece.kind, "content": piece.content}
    return api.post("/api/sites/shore/picture", {"piece": tree, "slug": slug, "path": path, **asked}).json()


def test_a_piece_is_pictured_where_it_stands_on_a_page_in_its_own_html(api, shore):
    put(api, FOOTER)
    api.post("/api/sites/shore/finds", {"slots": ["footer"]})
    some = {row["slug"]: row["some"] for row in api.get("/api/sites/shore/piece-pages").json()["items"]}
    (slug,) = [slug for slug, paths in some.items() if paths[0] == "/"]
    shown = picture(api, slug, "/", marked=True)
    plain = api.get("/api/sites/shore/preview", path="/").json()["html"]
    around = re.sub("<!--nv-picked(-until)?-->", "", shown["html"])
    assert shown["in_place"] and around == plain, "but for what marks it, the page as its preview shows it"
    assert "contentinfo" in shown["html"].split("<!--nv-picked-->")[1].split("<!--nv-picked-until-->")[0]
    alone = picture(api, slug, "/", alone=True)
    assert not alone["in_place"] and 'class="alone alone-footer"' in alone["html"]
    # Items of others can be told apart; those of another kind show where they stand, or would.
    make_piece("shore", {"kind": "footer", "name": "Ours", "content": {"items": [{"type": "text", "text": "Aye"}]}})
    ours = picture(api, "ours", "/harbours/hestan", marked=True)
    assert ours["in_place"] and 'data-item="/items/0"' in ours["html"].split("<!--nv-picked-->")[1]
    make_piece("shore", {"kind": "header", "name": "Top", "content": {"items": [{"type": "text", "text": "Aye"}]}})
    assert not picture(api, "top", "/")["in_place"], "no place is bound to its slot"


def test_a_widget_is_pictured_where_its_sidebar_stands(api, shore):
    put(api, {"slot": "aside-end", "selector": "[role=contentinfo]"})
    make_piece("shore", {"kind": "widget", "name": "Tide", "content": {"items": [{"type": "text", "text": "At nine"}]}})
    make_piece("shore", {"kind": "sidebar", "name": "Side", "entries": [{"piece": "tide"}]})
    assert not picture(api, "tide", "/")["in_place"], "it shows nowhere"
    fill = [{"do": "fill", "slot": "aside-end", "piece": "side"}]
    make_rule("shore", {"name": "Side", "condition": {"include": "page:/routes"}, "actions": fill})
    some = {row["slug"]: row["some"] for row in api.get("/api/sites/shore/piece-pages").json()["items"]}
    assert some == {"side": ["/routes"], "tide": ["/routes"]}
    shown = picture(api, "tide", "/routes")
    inner = shown["html"].split("<!--nv-picked-->")[1].split("<!--nv-picked-until-->")[0]
    assert shown["in_place"] and "At nine" in inner and 'data-piece="side"' not in inner


def test_a_layout_file_says_where_slots_are_and_comes_back_as_it_was(api, shore):
    put(api, FOOTER, CRUMBS)
    text = write_json(draft(find_site("shore")).document)
    tree = json.loads(text)
    assert tree["bindings"] == [FOOTER, CRUMBS]
    assert tree["pages"][0]["bound"] == ["footer"]
    assert write_json(read_json(text)) == text
