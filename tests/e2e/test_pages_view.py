"""The page list: whole pages, marks, picking by hand and by pasting, searches with a name, columns as one wants them."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import cell, choose, go, save_rule, search, settle
from .test_jobs import publish


def picked(page):
    return page.get_by_role("region", name="Picked pages")


def title_of(page, title):
    return page.locator(".page-title", has_text=re.compile(f"^{title}$"))


def whole(page, path):
    return page.get_by_role("complementary", name=f"What {path} gets")


def test_a_whole_page_is_looked_at_by_pointer_and_by_keyboard_with_what_decides_each_place(page):
    search(page, "page:/tickets/pay,/about")
    title_of(page, "Pay").click()
    panel = whole(page, "/tickets/pay")
    row = panel.get_by_role("row").filter(has=page.get_by_role("button", name="Header", exact=True))
    expect(row).to_contain_text("Slim header")
    expect(row).to_contain_text("by Quiet checkout")
    expect(row.get_by_label("not the same for everyone at any time")).to_be_visible()
    page.reload()
    expect(panel).to_be_visible()
    panel.get_by_role("button", name="Header", exact=True).click()
    expect(page.get_by_role("complementary", name="Why: Header on /tickets/pay")).to_be_visible()
    page.get_by_role("button", name="Close the trace").click()

    page.get_by_role("grid").press("Home")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(whole(page, "/about")).to_be_visible()
    page.get_by_role("button", name="Close the page").click()
    expect(whole(page, "/about")).not_to_be_visible()
    # Where a search leaves fewer lines than the one that was active, keys go on from the last.
    search(page, "")
    page.get_by_role("grid").press("End")
    search(page, "page:/tickets/pay,/about")
    expect(page.get_by_role("grid")).to_have_attribute("aria-busy", "false")
    expect(page.get_by_role("status").filter(has_text="2 of 132 pages")).to_be_visible()
    page.get_by_role("grid").press("Enter")
    expect(whole(page, "/tickets/pay")).to_be_visible()


def test_what_is_not_the_same_for_everyone_is_marked_where_the_lens_asks_for_it(page):
    search(page, "page:/tickets/pay,/about")
    mark = "not the same for everyone at any time"
    expect(page.get_by_role("grid").get_by_label(mark)).to_have_count(0)
    page.get_by_role("button", name="Signed-out visitor").click()
    page.get_by_label("Mark in the list of pages what is not the same for anyone, at any time").click()
    page.keyboard.press("Escape")
    expect(cell(page, "Pay", "Header").get_by_label(mark)).to_be_visible()
    expect(cell(page, "About us", "Header").get_by_label(mark)).to_have_count(0)
    page.reload()
    expect(cell(page, "Pay", "Footer").get_by_label(mark)).to_be_visible()


def test_a_rule_is_switched_off_or_given_a_priority_where_it_is_met_and_what_that_changes_is_told_before(page):
    search(page, "page:/tickets/pay")
    cell(page, "Pay", "Header").click()
    change = page.get_by_role("button", name="Change Quiet checkout")
    dialog = page.get_by_role("dialog", name="Change Quiet checkout")
    change.click()
    expect(dialog.get_by_role("status").first).to_have_text("changes 7 pages")
    dialog.get_by_label("Priority of Quiet checkout").fill("-30")
    expect(dialog.get_by_role("status").nth(1)).to_have_text("changes 7 pages")
    dialog.get_by_role("button", name="Give it this priority").click()
    expect(page.get_by_text("Gave Quiet checkout priority -30")).to_be_visible()
    expect(cell(page, "Pay", "Header")).to_have_attribute("aria-label", "Header: Main header")
    change.click()
    dialog.get_by_role("button", name="Switch it off").click()
    expect(page.get_by_text("Switched Quiet checkout off")).to_be_visible()


@pytest.mark.elsewhere
def test_a_trace_tells_when_it_will_change_and_its_rule_opens_with_the_page_tested(page):
    go(page, "/marrowick/pages?path=/crew&target=above-footer")
    settle(page)
    search(page, "page:/tickets/pay")
    cell(page, "Pay", "Header").click()
    page.get_by_role("link", name="Open the rule").click()
    expect(page.get_by_role("complementary", name="Reach")).to_contain_text("✓ yes: in Tickets✓ yes: of type checkout")


def test_pages_are_picked_by_drawing_over_them(page):
    search(page, "within:/tickets")
    first, last = title_of(page, "Concessions"), title_of(page, "Gift tickets")
    start, end = first.bounding_box(), last.bounding_box()
    page.mouse.move(start["x"] + 5, start["y"] + 5)
    page.mouse.down()
    page.mouse.move(start["x"] + 5, (start["y"] + end["y"]) / 2, steps=3)
    page.mouse.move(end["x"] + 5, end["y"] + 5, steps=3)
    expect(page.locator(".page.dragged")).to_have_count(5)
    page.mouse.up()
    expect(picked(page)).to_contain_text("5 pages picked")
    expect(page.get_by_role("complementary")).to_have_count(0)


PASTE = """(field, text) => {
    const data = new DataTransfer();
    data.setData("text", text);
    field.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
}"""


def test_addresses_from_elsewhere_pick_their_pages_and_unknown_ones_are_named(page):
    page.get_by_label("Find pages").evaluate(
        PASTE, "https://marrowick.example/about\nhttps://marrowick.example/tickets/fares/?from=mail\n/no-such-page\n"
    )
    expect(page.get_by_text("Picked 2 pages by their addresses. Not on this site: /no-such-page")).to_be_visible()
    expect(picked(page)).to_contain_text("2 pages picked")
    expect(page.get_by_label("Find pages")).to_have_value("")

    page.get_by_role("link", name="Rules").click()
    page.get_by_role("button", name=re.compile("^New rule")).click()
    page.get_by_role("button", name="+ pages").click()
    editor = page.get_by_role("dialog", name="A new term")
    editor.get_by_placeholder("Type part of a title or a path").evaluate(PASTE, "/about\n/contact\n/gone")
    expect(editor.get_by_role("alert")).to_have_text("Not on this site: /gone")
    editor.get_by_role("button", name="Take away /gone").click()
    editor.get_by_role("button", name="Done").click()
    expect(page.get_by_label("Include, as text", exact=True)).to_have_text("page:/about,/contact")


def test_a_search_is_kept_under_a_name_and_given_to_a_rule(page):
    search(page, "type:campaign")
    page.get_by_role("button", name="Searches").click()
    page.get_by_label("Name for this search").fill("Campaigns")
    page.get_by_role("button", name="Keep it").click()
    page.keyboard.press("Escape")
    search(page, "")
    page.reload()
    page.get_by_role("button", name="Searches").click()
    page.get_by_role("button", name="Campaigns").click()
    page.keyboard.press("Escape")
    expect(page.get_by_label("Find pages")).to_have_value("type:campaign")

    page.get_by_role("button", name="Add to a rule").click()
    page.get_by_label("Rule to add them to", exact=True).fill("quiet")
    page.get_by_role("option", name=re.compile("Quiet checkout")).click()
    expect(page.get_by_label("Include, as text", exact=True)).to_have_text(re.compile(r"\| type:campaign$"))


def test_columns_stand_in_the_order_and_the_width_that_one_gives_them(page):
    names = page.get_by_role("columnheader")
    expect(names.nth(1)).to_have_text("Template")
    page.get_by_role("button", name="Columns").click()
    dialog = page.get_by_role("dialog", name="Columns")
    dialog.get_by_role("button", name="Template one column to the right").click()
    dialog.get_by_label("Measure").check()
    page.keyboard.press("Escape")
    expect(names).to_have_text([re.compile(".*"), "Header", "Template", "Title", "Aside end", "Above footer", "Footer",
                                "Measure"])  # fmt: skip
    line = page.get_by_role("separator", name="Width of Header")
    before = names.nth(1).bounding_box()["width"]
    line.focus()
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    assert names.nth(1).bounding_box()["width"] > before + 60
    page.reload()
    expect(names.nth(1)).to_have_text("Header")
    assert names.nth(1).bounding_box()["width"] > before + 60
    line.dblclick()
    page.wait_for_function(
        "(was) => document.querySelectorAll('[role=columnheader]')[1].offsetWidth < was + 10", arg=before
    )


def test_one_piece_is_pinned_on_several_pages_each_alone_and_marked_and_beaten(page):
    search(page, "page:/about,/contact")
    for title in ("About us", "Contact"):
        page.get_by_label(f"Pick {title}", exact=True).click()
    picked(page).get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Pin a piece on each of 2 pages").click()
    page.get_by_label("Piece to pin on these pages", exact=True).fill("slim")
    page.get_by_role("option", name=re.compile("Slim header")).click()
    expect(page.get_by_text("Pinned on 2 pages, each alone")).to_be_visible()
    expect(cell(page, "About us", "Header").get_by_label(re.compile("^pinned"))).to_be_visible()
    expect(cell(page, "Contact", "Header")).to_have_attribute("aria-label", "Header: Slim header")

    # A rule of higher priority beats them, and that is marked with its name.
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("link", name=re.compile("^Site header")).click()
    page.get_by_label("Priority", exact=True).fill("50")
    save_rule(page)
    expect(page.get_by_text("Saved Site header")).to_be_visible()
    page.get_by_role("link", name="Pages", exact=True).click()
    mark = cell(page, "About us", "Header").get_by_label("this page's own choice is beaten by Site header")
    expect(mark).to_be_visible()


def test_several_pieces_in_one_place_are_counted(page):
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("button", name=re.compile("^New rule")).click()
    page.get_by_label("Name of the rule").fill("Two at once")
    page.get_by_label("Include, as text", exact=True).fill("page:/about")
    settle(page)
    page.get_by_role("button", name="+ at a place on the map").click()
    page.get_by_role("dialog", name="Places of the page").get_by_role("button", name="Above footer").click()
    choose(page.get_by_label("What to do with Above footer"), "add after")
    page.get_by_role("button", name=re.compile("^Piece for Above footer")).click()
    page.get_by_role("option", name=re.compile("Wind")).first.click()
    save_rule(page)
    expect(page.get_by_text("Saved Two at once")).to_be_visible()
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "page:/about")
    expect(cell(page, "About us", "Above footer")).to_contain_text("Winter notice +1")


@pytest.mark.elsewhere
def test_a_piece_that_no_rule_brings_says_so_and_is_pinned_from_there(page):
    go(page, "/marrowick/pieces/main-header")
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_label("Name of the copy").fill("Bare header")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Bare header")
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "page:/about")
    cell(page, "About us", "Header").click()
    page.get_by_role("button", name="Ask about a rule or a piece").click()
    page.get_by_label("Rule or piece to ask about", exact=True).fill("bare")
    page.get_by_role("option", name=re.compile("no rule puts it here")).click()
    said = page.get_by_role("region", name="Why not")
    expect(said).to_contain_text("No rule puts “Bare header” into header.")
    said.get_by_role("button", name="Pin it here").click()
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Bare header")


@pytest.mark.elsewhere
def test_facts_are_corrected_by_hand_places_locked_and_both_told_where_they_are_seen(page, public):
    go(page, "/marrowick/pages?path=/about")
    facts = page.get_by_role("region", name="Facts")
    expect(facts).to_contain_text("About us")
    facts.get_by_role("button", name="Correct them").click()
    facts.get_by_label("Title", exact=True).fill("Who we are")
    facts.get_by_label("Food", exact=False).check()
    facts.get_by_label("Lock a place", exact=True).click()
    page.get_by_role("option", name="Aside end").click()
    facts.get_by_label("Who owns Aside end").fill("The ticket desk")
    facts.get_by_label("Why Aside end is locked").fill("Its own system fills this")
    # What is typed is kept, and marked, wherever one goes.
    page.get_by_role("link", name="Rules", exact=True).click()
    expect(page.get_by_text("1 unsaved", exact=False)).to_be_visible()
    go(page, "/marrowick/pages?path=/about")
    facts.get_by_role("button", name="Go on correcting them").click()
    expect(facts.get_by_label("Title", exact=True)).to_have_value("Who we are")
    facts.get_by_label("Language", exact=True).fill("x" * 40)
    facts.get_by_role("button", name="Save page").click()
    expect(facts.get_by_text("this is too long").first).to_be_visible()
    facts.get_by_label("Language", exact=True).fill("en")
    facts.get_by_role("button", name="Save page").click()
    expect(page.get_by_text("Saved the facts of /about")).to_be_visible()
    expect(facts.get_by_text("by hand")).to_have_count(3)
    expect(page.get_by_role("complementary", name="What /about gets")).to_contain_text(
        "locked: The ticket desk: Its own system fills this"
    )
    locked = cell(page, "Who we are", "Aside end")
    expect(locked).to_have_text("The ticket desk: Its own system fills this")
    locked.click()
    expect(page.get_by_text("The ticket desk").first).to_be_visible()
    search(page, "term:topic/food page:/about")
    expect(page.get_by_role("status").filter(has_text="1 of 132 pages")).to_be_visible()
    publish(page)
    expect(public("/about").get_by_role("heading", level=1)).to_have_text("Who we are")
    # One of them taken back, and all of it undone.
    go(page, "/marrowick/pages?path=/about&facts=edit")
    facts.get_by_role("button", name="As taken in").first.click()
    expect(facts.get_by_label("Title", exact=True)).to_have_value("About us")
    facts.get_by_role("button", name="Save page").click()
    expect(facts.get_by_text("by hand")).to_have_count(2)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(facts.get_by_text("by hand")).to_have_count(3)
    go(page, "/marrowick/site")
    page.get_by_label("Facts of pages may be corrected by hand").click()
    expect(page.get_by_text("The facts of pages are corrected no more")).to_be_visible()
    go(page, "/marrowick/pages?path=/about")
    expect(facts).to_contain_text("the site allows no corrections")
