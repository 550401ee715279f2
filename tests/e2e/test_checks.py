"""Findings: let be with a reason until the thing changes, and mended in place with the impact shown first."""

import re

from playwright.sync_api import expect

from .conftest import HERE, go, make_rules, save_rule
from .test_jobs import publish
from .test_preview import SITE
from .test_rules_view import new_rule


def checks(page):
    page.get_by_role("link", name=re.compile("^Checks")).click()
    return page.get_by_role("listitem")


def wrong_rule(page):
    """A rule that names a page that is not there, saved."""
    new_rule(page, "Sold out")
    page.get_by_label("Include, as text", exact=True).fill("page:/about,/sold-out")
    page.get_by_role("button", name="+ something").click()
    page.get_by_label("Place on the page").click()
    page.get_by_role("option", name="Above header", exact=True).click()
    page.get_by_label("Piece for Above header").click()
    page.get_by_role("option", name=re.compile("^Wind line")).click()
    save_rule(page)
    expect(page.get_by_text("Saved Sold out")).to_be_visible()


def test_a_finding_is_let_be_with_a_reason_and_told_again_once_the_thing_changes(page):
    wrong_rule(page)
    found = checks(page).filter(has_text="“Sold out” names what is not there")
    badge = page.get_by_role("link", name=re.compile("^Checks")).locator("em")
    expect(found).to_have_count(1)
    expect(badge).to_be_visible()
    before = int(badge.inner_text())
    found.get_by_role("button", name=re.compile("^Let it be")).click()
    box = page.get_by_role("dialog", name="Let it be")
    expect(box.get_by_role("button", name="Let it be")).to_be_disabled()
    box.get_by_label("Why it is let be").fill("The page comes in spring")
    page.keyboard.press("Enter")
    expect(found).to_have_count(0)
    expect(badge).to_have_text(str(before - 1))
    page.get_by_role("button", name="1 finding is let be: show").click()
    expect(found).to_contain_text("Let be by demo: The page comes in spring")
    page.get_by_role("link", name="Rules", exact=True).click()
    page.get_by_role("link", name=re.compile("^Sold out")).click()
    page.get_by_label("Include, as text", exact=True).fill("page:/about,/sold-out,/gone-too")
    save_rule(page)
    expect(page.get_by_text("Saved Sold out")).to_be_visible()
    found = checks(page).filter(has_text="“Sold out” names what is not there")
    expect(found.get_by_role("button", name=re.compile("^Let it be"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("let be:"))).to_have_count(0)


def test_a_finding_about_a_rule_is_mended_in_place_with_what_that_changes_beside_it(page):
    wrong_rule(page)
    found = checks(page).filter(has_text="“Sold out” names what is not there")
    found.get_by_role("button", name="Mend it").click()
    box = page.get_by_role("dialog", name="Mend it")
    expect(box.get_by_role("status").first).to_have_text("changes 0 pages")
    expect(box.get_by_role("status").last).to_have_text("changes 1 page")
    box.get_by_role("button", name="Take what is gone out").click()
    expect(page.get_by_text("Take what is gone out: Sold out. In the draft, not live yet.")).to_be_visible()
    expect(found).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(found).to_have_count(1)


def test_a_notice_is_left_out_of_the_page_that_it_leads_to(page, public):
    assert public("/routes").locator("[data-piece=winter-notice]").count() == 1
    found = checks(page).filter(has_text="“Winter notice” brings “Winter notice” to /routes, where its notice leads")
    found.get_by_role("button", name="Mend it").click()
    box = page.get_by_role("dialog", name="Mend it")
    expect(box.get_by_role("status").first).to_have_text("changes 1 page")
    box.get_by_role("button", name="Leave /routes out of it").click()
    expect(page.get_by_text("Leave /routes out of it: Winter notice. In the draft, not live yet.")).to_be_visible()
    expect(found).to_have_count(0)
    publish(page)
    assert public("/routes").locator("[data-piece=winter-notice]").count() == 0
    assert public("/about").locator("[data-piece=winter-notice]").count() == 1


def test_what_is_wrong_in_the_text_of_pages_is_told_with_its_pages(page, demo):
    text = '<h2 id="x">A</h2><h4 id="x">B</h4><p><a href="/sold">c</a></p><img src="/a.png">'
    demo.run(str(HERE / "arrange.py"), "/about", "content", text)
    page.reload()
    listed = checks(page)
    link = listed.filter(has_text="1 page leads to /sold, where there is no page")
    expect(link).to_be_visible()
    expect(listed.filter(has_text="Pictures on 1 page have no text in their place")).to_be_visible()
    expect(listed.filter(has_text="Two parts of the text have the same id on 1 page")).to_be_visible()
    expect(listed.filter(has_text="Headings on 1 page skip a level")).to_be_visible()
    link.get_by_role("link", name="Show 1 page").click()
    expect(page.get_by_role("status").filter(has_text="1 of 132 pages")).to_be_visible()


def test_a_menu_that_wraps_and_ink_on_a_light_title_are_measured_in_drawn_pages(page):
    """A see-through header has white ink, for the pictures that it stands on; the title of About is light."""
    see_through = {"do": "set", "setting": "header-ground", "value": "see-through"}
    make_rules(
        page, {"name": "Clear", "condition": {"include": "page:/about"}, "priority": 9, "actions": [see_through]}
    )
    go(page, f"{SITE}/checks")
    known = page.get_by_role("link", name=re.compile(r"^Checks \d+ findings"))
    expect(known).to_be_visible()
    before = int("".join(filter(str.isdigit, known.inner_text())))
    drawn = page.get_by_role("region", name="Measured in drawn pages")
    drawn.get_by_role("button", name="Measure one page of each layout").click()
    expect(drawn.get_by_role("status")).to_contain_text(re.compile("^Measured .* by demo"), timeout=120_000)
    found = page.get_by_role("region", name="Is probably not meant").get_by_role("listitem")
    expect(found.filter(has_text="The menu Legal wraps onto 2 lines on a phone, in “Legal footer”")).to_have_count(1)
    ink = found.filter(
        has_text=re.compile("stands out 1.* under it on a phone, a tablet and the desktop, in “Main header”")
    )
    expect(ink.get_by_role("link", name="/about", exact=True)).to_have_count(1)
    # The demo's own see-through headers stand on pictures, of which nothing is claimed.
    expect(ink.get_by_role("link", name="/journal/")).to_have_count(0)
    # It counts as every finding does, and stands on the piece.
    expect(page.get_by_role("link", name=re.compile(rf"^Checks {before + 2} findings"))).to_be_visible()
    ink.get_by_role("link", name="/about", exact=True).click()
    expect(page).to_have_url(re.compile("/preview.*target=header"))
