"""Sites that exist: taken in, bound, found, and decided about by rules, drawn in their own HTML as far as live."""

import json
import re
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import expect

from tests.sites import PNG, journal

from .conftest import HERE, cell, choose, go, save_rule, search, send, settle
from .test_jobs import change_include, new_rule, publish, save_piece
from .test_pieces import made_of, open_file, put_on_pages, why, write_below, write_file


@pytest.fixture
def live(public):
    """A window on a published site: `live("/about")` goes there."""

    def visit(path, site="shore"):
        port = urlsplit(public("/-/none").url).port
        return public(f"http://{site}.localhost:{port}{path}")

    return visit


@pytest.fixture
def shore(page, demo):
    """A site of one folder a page, as found and live."""
    demo.run(str(HERE / "site_in_place.py"), "folders")
    return page


@pytest.mark.elsewhere
def test_a_site_that_exists_comes_in_from_its_folder_and_goes_live_with_its_looks(page, live, tmp_path):
    for name, data in journal.files().items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_bytes(PNG if name.endswith(".png") else data)
    go(page, "/_sites")
    page.get_by_label("Name of the site").fill("Journal")
    page.get_by_label("Short name").fill("journal")
    choose(page.get_by_label("How its pages are drawn"), "Its pages are drawn in their own HTML: a site that exists")
    page.get_by_role("button", name="Make the site").click()
    steps = page.get_by_role("region", name="First steps")
    expect(steps.get_by_role("listitem").filter(has_text="done")).to_have_count(1)
    page.get_by_label("Folder of HTML files").set_input_files(tmp_path)
    expect(page.get_by_role("region", name="Take pages in").get_by_role("status")).to_contain_text("10 added")
    expect(steps).to_contain_text("10 pages")
    steps.get_by_role("link", name="Proposed from the pages").click()
    # Each proposal says why, and is shown on pages before it is taken.
    proposed = page.get_by_role("region", name="Proposed")
    expect(proposed).to_contain_text("It is a landmark: header · on all 10 · the same everywhere")
    proposed.get_by_role("button", name="Show body > footer").click()
    pictures = page.get_by_role("complementary", name="Pictures of the place").locator("iframe")
    expect(pictures).to_have_count(3)
    expect(pictures.first.content_frame.locator("body > footer")).to_contain_text("Who writes here")
    # Outlined where it stands, which is brought into sight.
    expect(page.get_by_role("complementary", name="Pictures of the place").locator(".outline")).to_have_count(3)
    page.get_by_role("button", name="Bind the first of each slot").click()
    expect(page.get_by_role("status", name="What saving changes")).to_contain_text("changes nothing to be seen")
    footer = page.get_by_role("region", name="Binding of Footer")
    footer.get_by_label("Selector of Footer").fill("footer >")
    expect(page.get_by_role("region", name="Bindings").get_by_role("alert").first).to_contain_text("no selector")
    footer.get_by_label("Selector of Footer").fill("body > footer")
    expect(footer).to_contain_text("on all 10")
    page.get_by_role("button", name="Save bindings").click()
    expect(page.get_by_text("Saved where slots are. It is in the draft, not live yet.")).to_be_visible()
    page.get_by_role("button", name="Look what stands there").click()
    found = page.get_by_role("region", name="What stands there today")
    expect(found).to_contain_text("All 30 places come out as they are")
    # Each is seen as it stands on its page.
    top = (
        found.get_by_role("region", name="Found in Header").locator("iframe").first.content_frame.locator("header.top")
    )
    assert top.evaluate("one => getComputedStyle(one).backgroundColor") == "rgb(15, 92, 122)"
    some = found.get_by_label(re.compile("^Take what .* shows in Footer$")).last
    some.uncheck()
    expect(found.get_by_role("button", name="Make 3 pieces and 3 rules")).to_be_enabled()
    expect(found.get_by_role("region", name="Found in Footer")).to_contain_text("stays as it is there")
    some.check()
    found.get_by_role("button", name="Make 4 pieces and 4 rules").click()
    found.get_by_role("link", name="See the strips").click()
    expect(cell(page, "All posts", "Header")).to_have_attribute("aria-label", re.compile("^Header: Header as found"))
    expect(cell(page, "Terns are back", "Footer")).to_have_attribute(
        "aria-label", re.compile("^Footer: Footer as found")
    )
    expect(cell(page, "Who writes here", "Footer")).to_have_attribute("aria-label", re.compile("^Footer: Footer of "))
    # On the shelf pieces are seen in the styles of the site.
    go(page, "/journal/pieces")
    card = page.get_by_role("button", name=re.compile("^Header as found"))
    on_page = card.locator("iframe").content_frame.locator("header.top")
    assert on_page.evaluate("one => getComputedStyle(one).backgroundColor") == "rgb(15, 92, 122)"
    shown, drawn = card.locator(".picture").bounding_box(), on_page.bounding_box()
    assert abs(shown["y"] - drawn["y"]) < 2 and abs(shown["height"] - drawn["height"]) < 2
    # The footer of one section says one thing more.
    go(page, "/journal/pieces/footer-as-found")
    expect(page.get_by_role("button", name="By itself")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Markup")).first.click()
    write_below(page, "<p id='boat'>Next boat at nine</p>")
    expect(page.get_by_role("status", name="What saving changes")).to_contain_text("changes how 6 pages look")
    save_piece(page, "Footer as found")
    go(page, "/journal/preview?path=/posts/terns-are-back")
    drawn = page.frame_locator("iframe").first
    expect(drawn.locator("#boat")).to_be_visible()
    assert drawn.locator("header.top").evaluate("one => getComputedStyle(one).backgroundColor") == "rgb(15, 92, 122)"
    expect(drawn.locator("main img")).to_have_js_property("naturalWidth", 1)
    publish(page)
    window = live("/posts/terns-are-back", "journal")
    expect(window.locator("#boat")).to_have_text("Next boat at nine")
    assert window.locator("header.top").evaluate("one => getComputedStyle(one).backgroundColor") == "rgb(15, 92, 122)"
    assert window.locator("main img").evaluate("one => one.naturalWidth") == 1
    window.get_by_role("link", name="Who writes here").click()
    expect(window.get_by_role("heading", name="Who writes here")).to_be_visible()
    assert window.locator("#boat").count() == 0


def test_what_was_found_looks_as_before_and_what_a_piece_would_lack_stays_unless_it_is_ticked(page, demo):
    scripted = [f"harbours/{name}index.html" for name in ("", "hestan/", "seal-bay/")]
    demo.run(str(HERE / "site_in_place.py"), "folders", *scripted)
    page.goto("/shore/site/bindings")
    page.get_by_role("button", name="Look what stands there").click()
    found = page.get_by_role("region", name="What stands there today")
    expect(found.get_by_role("status")).to_contain_text("All 23 places come out as they are")
    footer = found.get_by_role("region", name="Found in Footer")
    lacking = footer.get_by_role("row").filter(has_text="3 pages")
    expect(lacking).to_contain_text("stays as it is there")
    expect(lacking).to_contain_text("Its piece would lack 1 script")
    tick = lacking.get_by_role("checkbox")
    expect(tick).not_to_be_checked()
    tick.check()
    expect(found.get_by_role("status")).to_contain_text(
        "20 places come out as they are, 3 without what their pieces lack"
    )
    tick.uncheck()
    expect(found.get_by_role("status")).to_contain_text("All 23 places come out as they are")
    found.get_by_role("button", name="Make 2 pieces and 2 rules").click()
    expect(found).to_contain_text("Made 2 pieces and 2 rules of what was found.")
    page.get_by_role("link", name="Publish").click()
    expect(
        page.get_by_role("heading", name="No page looks different, for anyone at any time from now on")
    ).to_be_visible()
    as_before = page.get_by_role("list", name="Drawn as before")
    expect(as_before.get_by_role("listitem")).to_have_text(
        [
            re.compile("^Header: what stood there, now by Header as found"),
            re.compile("^Footer: what stood there, now by"),
        ]
    )
    # Beside what is live, with its slots outlined.
    go(page, "/shore/preview?path=/routes&beside=live")
    expect(page.get_by_role("button", name=re.compile(r"^Header\s*Header as found"))).to_be_visible()
    expect(page.get_by_text(re.compile("every slot looks the same$"))).to_be_visible()
    publish(page)
    page.get_by_role("button", name=re.compile("^Undo")).first.click()
    expect(as_before).to_contain_text("what stands in the page itself, as Header as found showed it")
    expect(
        page.get_by_role("heading", name="No page looks different, for anyone at any time from now on")
    ).to_be_visible()


def footers(live, *paths):
    return [live(path).locator("[role=contentinfo]").count() for path in paths]


def test_w01_a_footer_from_a_file_and_none_on_some_pages_of_a_site_in_place(shore, live, tmp_path):
    open_file(shore, write_file(tmp_path, "one.json", made_of("footer", "new", "New footer", "Every harbour")), "shore")
    shore.get_by_role("button", name="Take in 1 piece", exact=True).click()
    expect(shore.get_by_text("Took in 1 piece. It is in the draft, not live yet.")).to_be_visible()
    # As pictures come, the shelf moves.
    settle(shore)
    shore.get_by_role("button", name=re.compile("^New footer")).click()
    put_on_pages(shore, "within:/routes", "One footer")
    new_rule(shore, "None here", "page:/legal/imprint", ("Footer", "leave empty", ""), site="shore")
    publish(shore)
    assert "Every harbour" in live("/routes/north-isle").locator("footer").inner_text()
    assert footers(live, "/routes", "/legal/imprint", "/harbours/hestan", "/") == [0, 0, 1, 1]
    # What stands there is of the page's own kind still: its styles, and nothing of it twice.
    assert live("/legal/imprint").locator("[role=banner]").count() == 1


def test_w10_a_slot_emptied_everywhere_and_in_some_places_of_a_site_in_place(shore, live):
    new_rule(shore, "No footer", "all", ("Footer", "leave empty", ""), site="shore")
    shore.get_by_label("Priority", exact=True).fill("50")
    save_rule(shore)
    expect(shore.get_by_role("region", name="Priority +50")).to_be_visible()
    publish(shore)
    assert footers(live, "/", "/routes", "/harbours/hestan") == [0, 0, 0]
    shore.get_by_role("link", name="Rules").click()
    change_include(shore, "No footer", "within:/harbours")
    publish(shore)
    assert footers(live, "/", "/routes", "/harbours/hestan") == [1, 1, 0]
    shore.goto("/shore/pages")
    expect(cell(shore, "Hestan", "Footer")).to_have_attribute("aria-label", "Footer: left empty")


def test_w17_one_widget_more_on_one_page_of_a_site_in_place_the_rest_unchanged(page, demo, live):
    demo.run(str(HERE / "site_in_place.py"), "folders", "index.html")
    page.goto("/shore/pages")
    tide = {"kind": "widget", "name": "Tide", "content": {"items": [{"type": "text", "text": "High water at nine"}]}}
    assert send(page, "POST", "/api/sites/shore/pieces", json.dumps(tide))[0] == 201
    page.reload()
    before = live("/routes").locator("[role=contentinfo]").inner_text()
    panel = why(page, "/routes", "footer", "shore")
    panel.get_by_role("button", name="Add a widget here").click()
    page.get_by_role("button", name="at the top").click()
    page.get_by_role("option", name=re.compile("^Tide")).click()
    expect(page.get_by_text(re.compile("^Pinned on /routes"))).to_be_visible()
    expect(panel).to_contain_text("no rule fills it: whatever the page has there stays, with this added to it")
    page.get_by_role("link", name="Publish").click()
    expect(page.get_by_role("heading", name="Looks different on 1 page")).to_be_visible()
    expect(page.get_by_text("Tide, added to whatever stands there")).to_be_visible()
    publish(page)
    shown = live("/routes").locator("[role=contentinfo]")
    expect(shown).to_have_count(1)
    assert shown.inner_text().split() == ["High", "water", "at", "nine", *before.split()]
    assert live("/").locator("[role=contentinfo]").inner_text().split() == before.split()


def test_w14_header_and_footer_off_one_page_of_a_site_in_place_as_a_guard_and_checks_tell(shore, live):
    shore.goto("/shore/checks/guards")
    shore.get_by_role("button", name="New guard").click()
    shore.get_by_label("Name of the guard").fill("A header everywhere")
    shore.get_by_label("On pages, as text").fill("all")
    choose(shore.get_by_label("What the guard is about"), "Header")
    choose(shore.get_by_label("What has to be so"), "shows something")
    expect(shore.get_by_role("complementary", name="How it stands")).to_contain_text("Holds on 8 pages")
    shore.get_by_role("button", name="Save guard").click()
    expect(shore.get_by_text("Saved the guard A header everywhere")).to_be_visible()
    for target in ("header", "footer"):
        panel = why(shore, "/routes", target, "shore")
        panel.get_by_role("button", name=re.compile("^Pin a ")).click()
        shore.get_by_role("button", name=re.compile("^Leave it empty here")).click()
        expect(panel).to_contain_text("left empty")
    shore.get_by_role("link", name="Preview", exact=True).click()
    drawn = shore.frame_locator("iframe").first
    expect(drawn.get_by_role("heading", name="Routes")).to_be_visible()
    assert drawn.locator("[role=banner], [role=contentinfo]").count() == 0
    shore.get_by_role("link", name="Publish").click()
    settle(shore)
    expect(shore.get_by_role("main")).to_contain_text("A header everywhere")
    publish(shore, overruling="The routes have a map in its place")
    assert live("/routes").locator("[role=banner], [role=contentinfo]").count() == 0
    assert live("/routes/north-isle").locator("[role=banner], [role=contentinfo]").count() == 2


@pytest.mark.elsewhere
def test_what_scripts_draw_anew_keeps_what_is_decided_and_links_lead_to_whole_pages(demo, live):
    demo.run(str(HERE / "site_drawn_anew.py"))
    window = live("/", "quay")
    as_decided(window)
    # As often as it is drawn.
    window.evaluate("draw()")
    as_decided(window)
    window.get_by_role("link", name="To the fares").click()
    expect(window.get_by_role("heading", name="Fares")).to_be_visible()
    as_decided(window)


def as_decided(window):
    """What is seen on a page is what was decided; its own scripts found it as it was written."""
    expect(window.get_by_text("New footer")).to_be_visible()
    expect(window.get_by_text("Old footer")).to_be_hidden()
    expect(window.locator("aside")).to_have_text(re.compile("Own aside.*No boats today", re.DOTALL))
    expect(window.locator("header")).to_be_hidden()
    expect(window).to_have_title(re.compile(" of Marrowick$"))
    expect(window.locator("html")).to_have_attribute("data-found", "as written")


def test_facts_are_read_where_the_pages_have_them_tried_saved_and_undone(shore, axe):
    shore.goto("/shore/site")
    shore.get_by_role("link", name="How facts of pages are read").click()
    kind = shore.get_by_role("region", name="Type", exact=True)
    expect(kind).to_contain_text("as it comes · on 0 of 8 pages")
    # What the pages propose, added; then said more exactly, as what twenty pages come to tells beside.
    kind.get_by_role("button", name=re.compile("^Add for Type: File name")).click()
    beside = shore.get_by_role("complementary", name="What twenty pages come to")
    expect(beside.get_by_role("row").filter(has_text="/harbours/hestan")).to_contain_text("harbours")
    kind.get_by_role("textbox", name="What values mean at place 2 of Type").fill("harbours = harbour, routes = route")
    expect(beside.get_by_role("row").filter(has_text="/harbours/hestan")).to_contain_text(re.compile("harbour(?!s)"))
    expect(kind.get_by_role("listitem").last).to_contain_text("tells 5")
    expect(beside.get_by_role("status")).to_contain_text("Told on 5 of 8 pages of all sections; saving changes 5")
    kind.get_by_role("textbox", name="Pattern of place 2 of Type").fill("(")
    expect(shore.get_by_role("alert").first).to_contain_text("regular expression")
    kind.get_by_role("textbox", name="Pattern of place 2 of Type").fill(r"^(routes|harbours)/\w")
    # A fact of the site's own.
    shore.get_by_label("Another fact").fill("terms/season")
    shore.get_by_role("button", name="Add fact").click()
    season = shore.get_by_role("region", name="Terms: season")
    season.get_by_role("textbox", name="Of what place 1 of Terms: season looks").fill("details summary")
    season.get_by_role("button", name="Take … at place 1 of Terms: season").click()
    season.get_by_role("textbox", name="Pattern of place 1 of Terms: season").fill("^In (.+)")
    expect(beside.get_by_role("row").filter(has_text="/legal/imprint")).to_contain_text("winter")
    expect(shore.get_by_role("status", name="What saving changes")).to_contain_text(re.compile("of 8 pages"))
    # What is being worked out anew is pale meanwhile.
    settle(shore)
    assert axe(shore) == []
    shore.get_by_role("button", name="Save recipe").click()
    expect(shore.get_by_text("Saved how facts are read")).to_be_visible()
    shore.reload()
    expect(shore.get_by_role("region", name="Terms: season")).to_contain_text("on 8 of 8 pages")
    shore.goto("/shore/pages")
    search(shore, "type:harbour term:season/winter")
    expect(shore.get_by_role("status").filter(has_text="3 of 8 pages")).to_be_visible()
    shore.get_by_role("banner").get_by_role("button", name=re.compile("^Undo: ")).click()
    expect(shore.get_by_text(re.compile("^Undone: "))).to_be_visible()
    expect(shore.get_by_role("status").filter(has_text="0 of 8 pages")).to_be_visible()
