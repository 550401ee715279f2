"""Going through pages one by one, trying something on, laying pages over each other, showing them to a colleague."""

import re
from io import BytesIO

import pytest
from PIL import Image
from playwright.sync_api import expect

from .conftest import cell, choose, go, passer_by, settle, switch_off
from .test_preview import SITE, shorter_checkout, side


def walk(page):
    return page.get_by_role("region", name="Walk", exact=True)


@pytest.mark.elsewhere
def test_the_changed_pages_are_walked_through_by_keyboard_and_publish_tells_how_many_were_looked_at(page):
    shorter_checkout(page)
    go(page, f"{SITE}/preview")
    page.get_by_role("button", name="Walk …").click()
    page.get_by_role("button", name=re.compile("^7 pages that publishing changes")).click()
    expect(walk(page)).to_contain_text("7 to look at")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("j")  # From a page that is not among them to the first that is.
    expect(walk(page)).to_contain_text("Page 1 of 7 that publishing changes")
    settle(page)
    page.keyboard.press("f")
    expect(walk(page)).to_contain_text("Page 2 of 7")
    expect(walk(page)).to_contain_text("6 to look at")
    settle(page)
    # What is not fine wants a note: the key leads to its field, Enter marks.
    page.keyboard.press("x")
    expect(page.get_by_label("Note about this page")).to_be_focused()
    page.keyboard.type("The steps are gone")
    page.keyboard.press("Enter")
    expect(walk(page)).to_contain_text("Page 3 of 7")
    expect(
        walk(page).get_by_role("img", name="1 fine, 1 not fine, 0 changed since it was looked at, 5 not looked at")
    ).to_be_visible()
    page.keyboard.press("k")
    expect(walk(page)).to_contain_text("demo found it not fine")
    expect(page.get_by_label("Note about this page")).to_have_value("The steps are gone")
    # The walk is in the address; its list leads to each page.
    page.reload()
    expect(walk(page)).to_contain_text("Page 2 of 7")
    walk(page).get_by_role("button", name=re.compile("^Page 2 of 7")).click()
    listed = page.get_by_role("dialog", name="Pages of the walk")
    expect(listed.get_by_role("button", name=re.compile("not fine$"))).to_have_count(1)
    page.keyboard.press("Escape")
    # Publish tells of it; an edit of a page that was found fine takes the mark away.
    go(page, f"{SITE}/publish")
    looked = page.get_by_role("region", name="Looked at")
    expect(looked).to_contain_text("2 of 7 changed pages looked at, 1 not fine")
    expect(looked).to_contain_text("The steps are gone")
    go(page, f"{SITE}/rules")
    switch_off(page, "Site header")
    expect(page.get_by_text("Switched off Site header")).to_be_visible()
    go(page, f"{SITE}/publish")
    expect(looked).to_contain_text(re.compile(r"0 of \d+ changed pages looked at, 2 changed since"))
    looked.get_by_role("link", name="Walk through them").click()
    expect(walk(page)).to_contain_text("that publishing changes")


@pytest.mark.elsewhere
def test_one_of_each_layout_and_the_pages_of_a_search_are_walked_through(page):
    go(page, f"{SITE}/preview")
    page.get_by_role("button", name="Walk …").click()
    page.get_by_role("button", name=re.compile("^[0-9]+ pages one of each layout")).click()
    expect(walk(page)).to_contain_text(re.compile("with layouts of their own"))
    page.get_by_role("button", name="End the walk").click()
    page.get_by_role("button", name="Walk …").click()
    page.get_by_label("Pages to walk through").fill("type:checkout")
    page.keyboard.press("Enter")
    expect(walk(page)).to_contain_text(re.compile("[0-9]+ pages? of the search type:checkout"))
    page.get_by_role("button", name="Next", exact=True).click()
    expect(walk(page)).to_contain_text("Page 1 of")
    go(page, f"{SITE}/preview?walk=changed")
    expect(walk(page)).to_contain_text("There are no pages that publishing changes.")


@pytest.mark.elsewhere
def test_a_piece_is_tried_on_walks_along_and_is_kept_as_a_pin_or_as_a_rule(page):
    go(page, f"{SITE}/preview?path=/about")
    edits = page.get_by_role("link", name=re.compile("^draft and live are the same"))
    expect(edits).to_be_visible()
    page.get_by_role("button", name="Try on …").click()
    page.get_by_role("combobox", name="Piece for Header").fill("Slim")
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    trial = page.get_by_role("status").filter(has_text="On trial")
    expect(trial).to_contain_text("Header: Slim header")
    drawn = side(page, "On trial").frame_locator("iframe")
    expect(drawn.locator("[data-piece=slim-header]")).to_have_count(1)
    # A template and a setting with it; then on to another page by a link inside.
    page.get_by_role("button", name="Try on …").click()
    choose(page.get_by_label("Where it is tried on"), "Footer")
    page.get_by_role("button", name="Leave it empty").click()
    expect(drawn.locator("[data-piece=site-footer]")).to_have_count(0)
    page.get_by_role("button", name="+ draft as it is").click()
    expect(side(page, "Draft as it is")).to_contain_text("differs in")
    expect(side(page, "Draft as it is").frame_locator("iframe").locator("[data-piece=site-footer]")).to_have_count(1)
    drawn.locator("header a[href='/']").first.click()
    expect(page).to_have_url(re.compile(r"path=%2F&|path=/&|path=%2F$"))
    expect(drawn.locator("[data-piece=slim-header]")).to_have_count(1)
    expect(edits).to_be_visible()  # Nothing was edited.
    # A rule of it, with both, for this page.
    page.get_by_role("button", name="Make a rule of it").click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Slim header")
    expect(page.get_by_role("main")).to_contain_text("Slim header")
    # Or a pin on the page at hand.
    go(page, f"{SITE}/preview?path=/contact")
    page.get_by_role("button", name="Try on …").click()
    page.get_by_role("combobox", name="Piece for Header").fill("Slim")
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    page.get_by_role("button", name="Keep it on this page").click()
    expect(page.get_by_text("Pinned on /contact. It is in the draft, not live yet.")).to_be_visible()
    expect(trial).to_have_count(0)
    go(page, f"{SITE}/pages?path=/contact")
    expect(cell(page, "Contact", "Header")).to_have_accessible_name(re.compile("Slim header"))


@pytest.mark.elsewhere
def test_the_draft_is_laid_over_what_is_live_faded_wiped_and_with_what_differs_marked(page):
    shorter_checkout(page)
    go(page, f"{SITE}/preview?path=/tickets/pay&beside=live&slots=off")
    page.get_by_role("button", name="Laid over").click()
    over = page.get_by_role("region", name="Draft over Live")
    expect(over).to_contain_text("differs in")
    slider = over.get_by_label("How much of Draft")
    slider.focus()
    page.keyboard.press("Home")
    expect(over.locator(".above")).to_have_css("clip-path", "inset(0px 100% 0px 0px)")
    over.get_by_role("button", name="Fade").click()
    page.keyboard.press("Tab")
    slider.focus()
    page.keyboard.press("End")
    expect(over.locator(".above")).to_have_css("opacity", "1")
    settle(page)
    # Where both are the same the marked picture is white; where they differ it is not.
    over.get_by_role("button", name="Mark").click()
    expect(over).to_contain_text("dark is what differs")
    settle(page)
    assert darkness(over.locator(".overlay").screenshot()) > 0.002
    go(page, f"{SITE}/preview?path=/about&beside=live&slots=off&over=mark")
    expect(over).to_contain_text("every slot looks the same")
    settle(page)
    assert darkness(over.locator(".overlay").screenshot()) < 0.0005


def darkness(picture):
    """The share of dark points in the middle of a picture."""
    image = Image.open(BytesIO(picture)).convert("L")
    wide, high = image.size
    points = image.crop((wide // 8, high // 8, wide * 7 // 8, high * 7 // 8)).histogram()
    return sum(points[:128]) / sum(points)


@pytest.mark.elsewhere
def test_who_sees_which_look_stands_as_a_table_and_keys_step_through_the_looks(page):
    go(page, f"{SITE}/preview?path=/crew/rota")
    table = page.get_by_role("table", name="Who sees which")
    expect(table).to_be_visible()
    crew = table.get_by_role("button", name=re.compile("visitors with the role crew"))
    expect(crew).to_have_attribute("aria-pressed", "false")
    crew.click()
    expect(crew).to_have_attribute("aria-pressed", "true")
    expect(page).to_have_url(re.compile("visitor=.*crew"))
    page.locator("body").press("Shift+J")
    expect(crew).to_have_attribute("aria-pressed", "false")
    page.locator("body").press("Shift+K")
    expect(crew).to_have_attribute("aria-pressed", "true")


@pytest.mark.elsewhere
def test_a_colleague_without_an_account_sees_the_draft_of_a_walk_and_leaves_a_remark(page, axe):
    shorter_checkout(page)
    go(page, f"{SITE}/preview?path=/tickets/pay&walk=changed")
    page.get_by_role("button", name="Share …").click()
    box = page.get_by_role("dialog", name="Show a colleague")
    box.get_by_role("button", name="Link to the 7 pages of the walk").click()
    address = box.get_by_label("Address for your colleague").input_value()
    colleague = passer_by(page)
    colleague.goto(address)
    expect(colleague.get_by_role("heading", name="Marrowick Ferries")).to_be_visible()
    expect(colleague.get_by_text("Draft, not live")).to_be_visible()
    pages = colleague.get_by_role("navigation", name="Pages of this preview").get_by_role("button")
    expect(pages).to_have_count(7)
    pages.filter(has_text="Pay").first.click()
    expect(colleague.frame_locator("iframe").locator("[data-piece=slim-header]")).to_have_count(0)
    assert axe(colleague) == []
    colleague.get_by_label("Your remark").fill("Where are the steps?")
    colleague.get_by_label("Your name").fill("Ida")
    colleague.get_by_role("button", name="Leave the remark").click()
    expect(colleague.get_by_role("status")).to_contain_text("has been left with those who edit the site")
    # It comes back to where the edit is, and to the page.
    page.goto(f"{SITE}/publish")
    remarks = page.get_by_role("region", name="Remarks")
    expect(remarks).to_contain_text("Where are the steps?")
    expect(remarks).to_contain_text("Ida")
    remarks.get_by_role("link").click()
    expect(page).to_have_url(re.compile("preview"))
    remarks.get_by_role("button", name=re.compile("^Dealt with")).click()
    expect(remarks).to_have_count(0)
    # Ended, it shows nothing any more.
    page.get_by_role("button", name="Share …").click()
    box.get_by_role("button", name="End the link to 7 pages").click()
    expect(box.get_by_role("listitem")).to_have_count(0)
    colleague.reload()
    expect(colleague.get_by_role("heading", name="This preview has ended, or was never there")).to_be_visible()
    colleague.context.close()
