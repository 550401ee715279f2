"""The preview: three widths, what stands beside, what differs, looks as pictures, any address; and publishing at a moment."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import go, set_moment, settle, switch_off

SITE = "/marrowick"


def side(page, name):
    return page.get_by_role("region", name=name, exact=True)


def label(page, side_name, slot):
    return side(page, side_name).get_by_role("button", name=re.compile(rf"^{slot}\b"))


def shorter_checkout(page):
    """Switch the rule of the checkout off, so that its pages differ from what is live."""
    go(page, f"{SITE}/rules")
    switch_off(page, "Quiet checkout")
    expect(page.get_by_text("Switched off Quiet checkout")).to_be_visible()


@pytest.mark.elsewhere
def test_what_stands_in_the_slots_is_told_beside_the_page_and_leads_to_the_trace(page):
    go(page, f"{SITE}/preview?path=/about")
    header = label(page, "Draft", "Header")
    expect(header).to_have_accessible_name("Header Main header by Site header")
    frame = side(page, "Draft").frame_locator("iframe")
    # Never over what it names.
    box, drawn = header.bounding_box(), side(page, "Draft").locator("iframe").bounding_box()
    assert box["x"] + box["width"] <= drawn["x"]
    header.hover()
    expect(frame.locator("[data-slot=header].lit")).to_have_count(1)
    label(page, "Draft", "Footer").focus()
    page.keyboard.press("Enter")
    trace = page.get_by_role("complementary", name="Why: Footer on /about")
    expect(trace).to_contain_text("Site footer by Site footer")
    # Opened for a slot, the page stands scrolled to it; by address too.
    page.set_viewport_size({"width": 1280, "height": 500})
    go(page, f"{SITE}/preview?path=/routes/night-crossing&target=footer")
    expect(label(page, "Draft", "Footer")).to_be_in_viewport()
    expect(label(page, "Draft", "Header")).to_have_count(0)


def test_a_member_is_drawn_and_it_is_told_that_nobody_is_one_where_the_site_is_served(page):
    told = page.get_by_text("Where this site is served nobody is signed in")
    go(page, f"{SITE}/preview?path=/crew&visitor=role:crew signed:in")
    expect(told).to_be_visible()
    go(page, f"{SITE}/preview?path=/crew&visitor=device:phone")
    expect(side(page, "Draft").frame_locator("iframe").locator("body")).to_contain_text("Crew")
    expect(told).to_have_count(0)


@pytest.mark.elsewhere
def test_three_widths_at_once(page):
    go(page, f"{SITE}/preview?path=/about")
    page.get_by_role("button", name="All three").click()
    wide = {}
    for name in ("Desktop, 1280 px", "Tablet, 800 px", "Phone, 390 px"):
        body = side(page, name).frame_locator("iframe").locator("body")
        expect(body).to_contain_text("About us")
        wide[name] = body.evaluate("() => innerWidth")
    assert list(wide.values()) == [1280, 800, 390]
    page.reload()
    expect(side(page, "Phone, 390 px")).to_be_visible()
    page.get_by_role("button", name="Phone", exact=True).click()
    expect(side(page, "Draft")).to_be_visible()


@pytest.mark.elsewhere
def test_live_a_revision_another_visitor_and_another_page_stand_beside_with_what_differs(page):
    shorter_checkout(page)
    go(page, f"{SITE}/preview?path=/tickets/pay")
    page.get_by_role("button", name="+ live").click()
    expect(side(page, "Live")).to_contain_text("differs in")
    expect(side(page, "Live")).to_contain_text("footer")
    expect(label(page, "Draft", "Footer")).to_have_accessible_name(re.compile("differs$"))
    expect(label(page, "Draft", "Title")).not_to_have_accessible_name(re.compile("differs$"))
    page.get_by_role("button", name="Take away Live").click()
    expect(side(page, "Live")).to_have_count(0)
    # A revision, published meanwhile, and the draft before it.
    go(page, f"{SITE}/publish")
    page.get_by_label("Why the broken guard is overruled").fill("A trial")
    page.get_by_role("button", name=re.compile("^Publish 1 edit")).click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    go(page, f"{SITE}/preview?path=/tickets/pay")
    page.get_by_role("button", name="+ beside it").click()
    page.get_by_role("button", name=re.compile("^Revision 1, The demo site")).click()
    expect(side(page, "Revision 1")).to_contain_text("differs in")
    expect(side(page, "Revision 1").frame_locator("iframe").locator("[data-piece=slim-header]")).to_have_count(1)
    expect(side(page, "Draft").frame_locator("iframe").locator("[data-piece=slim-header]")).to_have_count(0)
    # Another page, and the page as the crew sees it: four at once, and no more.
    go(page, f"{SITE}/preview?path=/crew/rota&beside=r1")
    page.get_by_role("button", name="+ beside it").click()
    page.get_by_role("button", name="Visitors with the role crew").click()
    expect(side(page, "signed:in role:crew")).to_contain_text("differs in header")
    page.get_by_role("button", name="+ beside it").click()
    page.get_by_label("Page to put beside it").fill("/crew/uniform")
    page.get_by_role("option", name=re.compile("Uniform")).click()
    expect(side(page, "/crew/uniform").frame_locator("iframe").locator("h1")).to_have_text("Uniform")
    expect(page.get_by_role("button", name="+ beside it")).to_have_count(0)
    page.reload()
    for name in ("Revision 1", "Draft", "signed:in role:crew", "/crew/uniform"):
        expect(side(page, name)).to_be_visible()


def test_pages_beside_each_other_are_scrolled_together(page):
    page.set_viewport_size({"width": 1280, "height": 500})
    go(page, f"{SITE}/preview?path=/routes/night-crossing&beside=live&width=phone")
    mine, theirs = (side(page, name).frame_locator("iframe").locator("html") for name in ("Draft", "Live"))
    expect(mine).to_contain_text("Night crossing")
    expect(theirs).to_contain_text("Night crossing")
    settle(page)
    mine.evaluate("root => { root.scrollTop = root.scrollHeight; }")
    expect(label(page, "Live", "Footer")).to_be_visible()
    assert theirs.evaluate("root => root.scrollTop") > 100


@pytest.mark.elsewhere
def test_every_look_of_a_page_is_a_picture_that_a_click_looks_through(page):
    go(page, f"{SITE}/preview?path=/crew/rota")
    looks = page.get_by_role("region", name="Looks")
    expect(looks).to_contain_text("2 looks, over every visitor and moment from now on")
    expect(looks.locator("iframe")).to_have_count(2)
    crew = looks.get_by_role("listitem").get_by_role("button", name="Visitors with the role crew")
    expect(crew).to_have_attribute("aria-pressed", "false")
    crew.click()
    expect(crew).to_have_attribute("aria-pressed", "true")
    expect(label(page, "Draft", "Header")).to_have_accessible_name("Header Crew header by Crew at work")


@pytest.mark.elsewhere
def test_any_address_is_typed_and_shows_what_is_served_there(page):
    go(page, f"{SITE}/preview?path=/about")
    finder = page.get_by_label("Page to look at")
    finder.fill("/no/such/page")
    finder.press("Enter")
    expect(page.get_by_text("There is no page at this address.").first).to_be_visible()
    expect(side(page, "Draft").frame_locator("iframe").locator("h1")).to_have_text("Not found")
    finder.fill("/about/")
    finder.press("Enter")
    expect(side(page, "Draft").frame_locator("iframe").locator("h1")).to_have_text("About us")
    # A link in the page walks the site within the preview.
    side(page, "Draft").frame_locator("iframe").get_by_role("link", name="Tickets").first.click()
    expect(page).to_have_url(re.compile("path=%2Ftickets"))


@pytest.mark.elsewhere
def test_a_publication_is_planned_for_a_moment_and_let_go_again(page, public):
    shorter_checkout(page)
    go(page, f"{SITE}/publish")
    page.get_by_label("Note for whoever looks back").fill("Before the holidays")
    page.get_by_label("Why the broken guard is overruled").fill("A trial")
    set_moment(page, "At a moment, not at once", "2001-01-01T06:00")
    page.get_by_role("button", name=re.compile("^Plan 1 edit")).click()
    expect(page.get_by_text("this moment is past, or more than a year away")).to_be_visible()
    ahead = page.evaluate("new Date(Date.now() + 20 * 864e5).toISOString().slice(0, 10)")
    set_moment(page, "At a moment, not at once", f"{ahead}T06:00")
    expect(page.get_by_text(re.compile("^Goes live on .*06:00 on the site's clock, as it is now"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Plan 1 edit")).click()
    planned = page.get_by_role("region", name="Planned")
    expect(planned).to_contain_text("Before the holidays")
    assert public("/tickets/pay").locator("[data-piece=slim-header]").count() == 1
    planned.get_by_role("button", name=re.compile("^Drop what is planned")).click()
    expect(page.get_by_text(re.compile("^Dropped what was to be published on"))).to_be_visible()
    expect(planned).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^Publish 1 edit"))).to_be_visible()
