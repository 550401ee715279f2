"""The two views people live in: groups, picks, why not, looks, the palette, narrow windows."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from .conftest import add_action, cell, choose, go, put_live, save_rule, search, settle
from .test_jobs import new_rule, publish
from .test_pieces import pick, why

DEMO = Path(__file__).parents[2] / "demo" / "layout.json"


@pytest.mark.elsewhere
def test_w11_a_template_with_a_sidebar_given_to_one_more_page_in_two_clicks_by_author_and_by_section(page, public):
    new_rule(
        page,
        "With a desk",
        "page:/bring-your-bike,/spring-sailings",
        ("Template", "use", "Standard"),
        ("Aside end", "fill with", "Help desk"),
    )
    publish(page)
    desk = "[data-slot=aside-end] > [data-piece=help-desk]"
    assert public("/bring-your-bike").locator(desk).count() == 1
    assert public("/winter-lights").locator(desk).count() == 0
    # One more page: two clicks from where it shows that it lacks it.
    panel = why(page, "/winter-lights", "aside-end")
    panel.get_by_role("button", name="Add to a rule").click()
    page.get_by_role("option", name=re.compile("^With a desk")).click()
    expect(page.get_by_text("With a desk reaches 1 more page. In the draft, not live yet.")).to_be_visible()
    expect(panel).to_contain_text("Help desk by With a desk")
    # By author, as what the picked pages have in common, added to the rule and saved there.
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "author:imre-halloran type:article")
    page.get_by_label(re.compile("^Pick ")).first.wait_for()
    rows = page.get_by_role("row").filter(has_text="article")
    expect(rows.first).to_be_visible()
    page.get_by_role("button", name="Make a rule from this").click()
    expect(page.get_by_label("Include, as text")).to_have_text("author:imre-halloran type:article")
    page.get_by_label("Name of the rule").fill("Stories by Imre")
    add_action(page)
    choose(page.get_by_label("Place on the page", exact=True).last, "Aside end")
    page.get_by_role("button", name="Piece for Aside end").click()
    page.get_by_role("option", name=re.compile("^Timetables")).click()
    save_rule(page)
    # By section, each with a sidebar of its own: everything below Crew is picked at once.
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "within:/crew")
    expect(page.get_by_role("status").filter(has_text="9 of 132 pages")).to_be_visible()
    page.get_by_role("row").filter(has=page.get_by_label("Pick Crew", exact=True)).get_by_role(
        "button", name="pick all"
    ).click()
    bar = page.get_by_role("region", name="Picked pages")
    expect(bar).to_contain_text("9 pages picked")
    expect(bar).to_contain_text("all 9 pages in Crew")
    bar.get_by_role("button", name=re.compile("^in Crew")).click()
    bar.get_by_role("button", name="Put a piece on 9 pages").click()
    page.get_by_label("Piece to put on these pages").get_by_role("option", name=re.compile("Pass corner")).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Pass corner on pages in Crew")
    save_rule(page)
    put_live(page)
    assert public("/winter-lights").locator(desk).count() == 1
    assert public("/crew/rota").locator("[data-slot=aside-end] > [data-piece=pass-corner]").count() == 1
    assert public("/about").locator("[data-slot=aside-end]").count() == 0
    pages = json.loads(DEMO.read_text())["pages"]
    stories = [one["path"] for one in pages if one.get("author") == "imre-halloran" and one.get("type") == "article"]
    for path in stories[:2]:
        assert public(path).locator("[data-slot=aside-end] > [data-piece=timetables]").count() == 1


def test_what_a_condition_would_add_is_seen_in_the_list_before_it_is_chosen(page):
    pick(page, "When the wind decides", "Taking a car", "Dogs and other animals")
    bar = page.get_by_role("region", name="Picked pages")
    bar.get_by_role("button", name=re.compile("^right below Help")).hover()
    coming = page.get_by_text("would come in", exact=True)
    expect(coming.first).to_be_attached()
    bar.get_by_role("button", name="exactly these 3 pages").hover()
    expect(coming).to_have_count(0)
    bar.get_by_role("button", name=re.compile("^right below Help")).click()
    expect(bar.get_by_role("button", name="Put a piece on 12 pages")).to_be_visible()
    expect(coming.first).to_be_in_viewport()


@pytest.mark.elsewhere
def test_pages_are_left_out_of_a_rule_and_the_rest_of_it_stays(page):
    panel = why(page, "/help/wind", "aside-end")
    panel.get_by_role("button", name="Leave this page out of Help beside the page").click()
    expect(page.get_by_text("Left 1 page out of Help beside the page. In the draft, not live yet.")).to_be_visible()
    expect(panel).to_contain_text("no rule decides this here")
    page.get_by_role("button", name=re.compile("^Undo: ")).click()
    expect(panel).to_contain_text("Help desk by Help beside the page")
    # What is added to a slot that nothing fills has its rule, too, and its piece is a click away.
    panel = why(page, "/journal", "above-footer")
    expect(panel).to_contain_text("Winter notice, added by Winter noticeno rule fills it")
    panel.get_by_role("button", name="Leave this page out of Winter notice").click()
    expect(panel).to_contain_text("no rule decides this here")
    page.get_by_role("button", name=re.compile("^Undo: ")).click()
    expect(panel).to_contain_text("added by Winter notice")
    panel.get_by_role("link", name="Winter notice").first.click()
    expect(page).to_have_url(re.compile("/pieces/winter-notice"))
    # All pages of a rule cannot be left out of it; that is said, with what can be done.
    pick(page, "Bring your bike", "Spring sailings")
    bar = page.get_by_role("region", name="Picked pages")
    bar.get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Leave 2 pages out of a rule").click()
    page.get_by_role("option", name=re.compile("^Bring your bike")).click()
    expect(page.get_by_text("These are all the pages that the rule reaches")).to_be_visible()


@pytest.mark.elsewhere
def test_why_a_rule_does_not_show_here_and_what_would_change_that(page):
    panel = why(page, "/about", "aside-end")
    panel.get_by_role("button", name="Ask about a rule or a piece").click()
    panel.get_by_label("Rule or piece to ask about", exact=True).fill("help desk")
    panel.get_by_role("option", name=re.compile("^Help beside the page")).click()
    answer = panel.get_by_role("region", name="Why not")
    expect(answer).to_contain_text("“Help beside the page” is only for pages in Help, or in Tickets")
    answer.get_by_role("button", name="Let it reach this page: changes 1 page").click()
    expect(panel).to_contain_text("Help desk by Help beside the page")
    expect(answer).to_contain_text("shows here")
    # A rule that is beaten: each way to make it win, with what else it would change.
    panel = why(page, "/legal/terms", "header")
    panel.get_by_role("button", name="Ask about a rule or a piece").click()
    panel.get_by_label("Rule or piece to ask about", exact=True).fill("Site header")
    panel.get_by_role("option", name=re.compile("^Site header")).click()
    expect(answer).to_contain_text("“Legal” says more exactly which pages and visitors it is for")
    expect(answer.get_by_role("button", name=re.compile(r"^Give it priority 1: changes \d+ pages"))).to_be_visible()
    answer.get_by_role("button", name="Leave this page out of “Legal”: changes 1 page").click()
    expect(panel).to_contain_text("Main header by Site header")


@pytest.mark.elsewhere
def test_the_looks_of_a_page_are_told_and_a_click_looks_through_one(page):
    panel = why(page, "/crew/rota", "header")
    looks = panel.get_by_role("list", name="Looks of this page")
    expect(looks.get_by_role("listitem")).to_have_count(2)
    crew = looks.get_by_role("button", name=re.compile("^Visitors with the role crew"))
    expect(crew).to_contain_text("Header: Crew header")
    crew.click()
    expect(panel).to_contain_text("Crew header by Crew at work")
    expect(crew).to_have_attribute("aria-current", "true")
    expect(page.get_by_role("button", name=re.compile("Signed-in"))).to_be_visible()


def test_pages_that_look_alike_stand_together_and_are_picked_together(page):
    choose(page.get_by_label("How the list stands"), "by layout, alike together")
    first = page.get_by_role("row").nth(1)
    expect(first).to_contain_text("19 pages")
    first.get_by_role("button", name=re.compile("^Open Like ")).click()
    expect(page.get_by_role("row").nth(2).get_by_role("checkbox")).to_be_visible()
    first.get_by_role("checkbox").click()
    expect(page.get_by_role("region", name="Picked pages")).to_contain_text("19 pages picked")
    page.reload()
    expect(page.get_by_role("row").nth(1)).to_contain_text("19 pages")
    choose(page.get_by_label("How the list stands"), "by author")
    expect(page.get_by_role("row").filter(has_text="Imre Halloran").first).to_contain_text("page")
    choose(page.get_by_label("How the list stands"), "as the site's tree")
    expect(cell(page, "About us", "Header")).to_be_visible()


@pytest.mark.elsewhere
def test_a_moment_of_the_coming_weeks_is_chosen_where_something_changes(page):
    new_rule(page, "Soon", "page:/about", ("Header", "fill with", "Slim header"))
    page.get_by_role("button", name="always", exact=True).click()
    choose(page.get_by_label("How it repeats"), "by weeks")
    save_rule(page)
    page.get_by_role("button", name="Signed-out visitor").click()
    coming = page.get_by_role("list", name="What changes by itself")
    soon = coming.get_by_role("button", name=re.compile("Soon begins$")).first
    soon.click()
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "page:/about")
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Slim header")
    # The slider walks by hours, and says where it stands; a lens is kept under a name and looked through again. On a
    # slow machine too, where what is clicked is drawn long after the hand has gone on.
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 6})
    page.get_by_role("button", name="Signed-out visitor").click()
    slider = page.get_by_role("slider", name="Moment in the coming weeks")
    slider.press("Home")
    expect(slider).to_have_attribute("aria-valuetext", "now")
    expect(page).not_to_have_url(re.compile("[?&]at="))
    slider.press("ArrowRight")
    expect(page).to_have_url(re.compile("[?&]at="))
    hour = page.url.partition("at=")[2][len("2026-11-28T") :][:2]
    expect(slider).to_have_attribute("aria-valuetext", re.compile(f" {hour}:00$"))
    slider.press("Home")
    expect(slider).to_have_attribute("aria-valuetext", "now")
    page.get_by_role("button", name="Signed in", exact=True).click()
    page.get_by_label("Name for this lens").fill("A member")
    page.get_by_role("button", name="Keep it").click()
    page.get_by_role("button", name="Signed out", exact=True).click()
    page.get_by_role("button", name="A member", exact=True).click()
    page.keyboard.press("Escape")
    expect(page).to_have_url(re.compile("visitor=signed%3Ain"))


@pytest.mark.elsewhere
def test_a_rule_takes_the_priority_of_the_band_that_it_is_moved_into(page):
    go(page, "/marrowick/rules")
    page.get_by_role("button", name="Move Pin: home, number 3").focus()
    for key, said in (
        ("Space", "Pin: home would be number 3"),
        ("ArrowUp", "Pin: home would be number 2, with priority 10"),
        ("Space", "Pin: home is number 2, with priority 10"),
    ):
        page.keyboard.press(key)
        expect(page.get_by_text(said)).to_be_attached()
    expect(page.get_by_text("Pin: home is now number 2, with priority 10")).to_be_visible()
    expect(page.get_by_role("button", name="Move Pin: home, number 2")).to_be_visible()


#: Until a part of the front end has been fetched.
FETCHED = """
async (part) => {
  while (!performance.getEntriesByType('resource').some((one) => one.name.includes(part)))
    await new Promise(requestAnimationFrame);
}
"""


def test_the_palette_leads_to_pages_rules_and_pieces_in_spite_of_slips(page):
    page.evaluate(FETCHED, "ThingList")
    page.keyboard.press("Control+k")
    # A hand types on at once.
    page.keyboard.type("quiet chekcout", delay=30)
    field = page.get_by_role("combobox", name="Go to")
    expect(field).to_have_value("quiet chekcout")
    page.get_by_role("option", name=re.compile("^rule Quiet checkout")).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Quiet checkout")
    page.keyboard.press("Control+k")
    field.fill("rota")
    page.get_by_role("option", name=re.compile("^page The rota")).click()
    expect(page.get_by_role("complementary", name="What /crew/rota gets")).to_be_visible()
    # What was gone to last comes first.
    page.keyboard.press("Control+k")
    expect(page.get_by_role("option").first).to_contain_text("The rota")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the rule")).to_have_value("Quiet checkout")
    expect(field).to_have_count(0)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("Pick a page and all below it")


#: What stands beyond the right edge of the window, but for the columns of the list of pages.
BEYOND = """
() => [...document.querySelectorAll('main *')]
  .filter((one) => one.matches('button, input, a') || [...one.childNodes].some((in_it) => in_it.nodeType === 3))
  .filter((one) => !one.closest('[role=grid]') && one.checkVisibility({ visibilityProperty: true }))
  .filter((one) => one.getBoundingClientRect().right > innerWidth + 1)
  .map((one) => one.outerHTML.slice(0, 200))
"""


@pytest.mark.parametrize(
    "address",
    [
        "/pages?path=/about&target=footer",
        "/preview",
        "/publish",
        "/site",
        "/rules/3",
        "/checks",
        "/checks/guards/One%20search%20box%20a%20page",
        "/pieces/main-header",
    ],
)
def test_nothing_is_cut_in_a_narrow_or_a_wide_window(untouched, desk, axe, address):
    window = desk.kept("narrow")
    window.set_viewport_size({"width": 640, "height": 400})
    go(window, f"/marrowick{address}")
    shown = window.get_by_role("main")
    expect(shown.get_by_role("button").or_(shown.get_by_role("link")).first).to_be_visible()
    settle(window)
    assert axe(window) == []
    for width, height in [(640, 400), (1024, 700), (1920, 1080)]:
        window.set_viewport_size({"width": width, "height": height})
        settle(window)
        assert window.evaluate("document.documentElement.scrollWidth <= innerWidth")
        assert window.evaluate(BEYOND) == []
        for drawn in window.locator(".stage iframe").all():
            assert 100 < drawn.bounding_box()["height"] <= max(260, height)
        if "target=" in address:
            expect(window.locator(".cell.chosen")).to_be_in_viewport()
        if "rules" in address:
            overlap = window.evaluate(
                """() => [...document.querySelectorAll('.doing')].some(line => {
                    const boxes = [...line.children].map(one => one.getBoundingClientRect()).filter(box => box.width);
                    return boxes.some((a, i) => boxes.some((b, j) => i < j && a.left < b.right - 1
                        && b.left < a.right - 1 && a.top < b.bottom - 1 && b.top < a.bottom - 1));
                })"""
            )
            assert not overlap


def test_a_copied_link_shows_somebody_else_the_same_groups_and_the_same_rules(page):
    def as_somebody_else():
        """The same address where nothing was kept before."""
        address = page.url
        page.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
        page.goto("about:blank")
        page.goto(address)

    choose(page.get_by_label("How the list stands"), "by type")
    expect(page).to_have_url(re.compile(r"[?&]by=type\b"))
    as_somebody_else()
    expect(page.get_by_label("How the list stands")).to_have_text("by type")
    expect(page.get_by_label("Pick article", exact=True)).to_be_visible()
    choose(page.get_by_label("How the list stands"), "as the site's tree")
    expect(page).not_to_have_url(re.compile("by="))
    page.get_by_role("button", name="Close Harbours", exact=True).click()
    expect(page).to_have_url(re.compile("open=-%2Fharbours"))
    as_somebody_else()
    expect(page.get_by_role("button", name="Open Harbours", exact=True)).to_be_visible()
    page.get_by_role("button", name="Open Harbours", exact=True).click()
    expect(page).not_to_have_url(re.compile("open="))
    page.get_by_role("button", name="Open all").click()
    expect(page).to_have_url(re.compile("open=all"))
    page.get_by_role("button", name="Close all").click()
    expect(page).to_have_url(re.compile("open=none"))
    page.get_by_role("link", name="Rules", exact=True).click()
    listed = page.get_by_role("navigation", name="Rules, the highest first").get_by_role("link")
    page.get_by_label("Find rules").fill("o")
    choose(page.get_by_label("Which rules"), "winning somewhere")
    choose(page.get_by_label("Rules that act on"), "Header")
    expect(page).to_have_url(re.compile("find=o.*show=wins.*acts=header"))
    expect(listed.filter(has_text="Winter notice")).to_have_count(0)
    names = listed.all_inner_texts()
    listed.first.click()
    expect(page).to_have_url(re.compile(r"/rules/\d+\?find=o.*show=wins.*acts=header"))
    as_somebody_else()
    expect(listed).to_have_count(len(names))
    expect(page.get_by_label("Rules that act on")).to_have_text("Header")


@pytest.mark.elsewhere
def test_a_window_is_called_what_it_shows(page):
    called = {
        "pages": "Pages",
        "pages?path=/about": "/about · Pages",
        "preview?path=/about": "/about · Preview",
        "rules": "Rules",
        "pieces/main-header": "Main header · Pieces",
        "take-in": "Take in pieces",
        "checks/guards": "Guards",
        "site/people": "People",
        "site/bindings": "Where slots are in pages",
    }
    for address, title in called.items():
        go(page, f"/marrowick/{address}")
        expect(page).to_have_title(f"{title} · Marrowick Ferries · Navrel")
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("link", name=re.compile("^Campaigns")).click()
    expect(page).to_have_title("Campaigns · Rules · Marrowick Ferries · Navrel")
    page.get_by_role("button", name="New rule").click()
    expect(page).to_have_title("New rule · Rules · Marrowick Ferries · Navrel")
    go(page, "/_sites")
    expect(page).to_have_title("Sites · Navrel")
