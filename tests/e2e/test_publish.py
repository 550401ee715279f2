"""Publishing some of what was edited, comparing what was published, going back to it at once, copies that change nothing."""

import re
import zipfile

import pytest
from playwright.sync_api import expect

from . import conftest
from .conftest import Held, go
from .test_preview import SITE


def switch_off(page, rule):
    go(page, f"{SITE}/rules")
    conftest.switch_off(page, rule)
    expect(page.get_by_text(f"Switched off {rule}")).to_be_visible()


@pytest.mark.elsewhere
def test_nothing_is_offered_to_be_published_that_was_worked_out_before_the_newest_edit(page):
    switch_off(page, "Winter notice")
    go(page, f"{SITE}/publish")
    expect(page.get_by_role("button", name=re.compile("^Publish 1 edit, "))).to_be_enabled()
    switch_off(page, "Site footer")
    impact = Held(page, "**/impact")
    go(page, f"{SITE}/publish")
    expect(page.get_by_text("Working out what publishing would change")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Publish "))).to_have_count(0)
    impact.let_go()
    expect(page.get_by_role("button", name=re.compile("^Publish 2 edits, "))).to_be_enabled()
    # Undone where it stands, the way on is shut until that is worked out.
    impact = Held(page, "**/impact")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Publish 1 edit, "))).to_be_disabled()
    expect(page.get_by_text("Waits until it is worked out what that would change now")).to_be_visible()
    impact.let_go()
    expect(page.get_by_role("button", name=re.compile("^Publish 1 edit, "))).to_be_enabled()


def test_one_change_goes_live_and_another_waits(page, public):
    switch_off(page, "Winter notice")
    switch_off(page, "Site footer")
    go(page, f"{SITE}/publish")
    changed = page.get_by_role("list", name="What changed")
    expect(changed.get_by_role("listitem")).to_have_count(2)
    whole = page.get_by_role("button", name=re.compile("^Publish 2 edits, "))
    expect(whole).to_be_visible()
    # Only the pages that change, one by one, each leading to the pair of pictures.
    strip = page.get_by_role("navigation", name="Pages of Footer, everyone").first
    told = page.get_by_role("button", name=re.compile(r"^\d+ pages?$"))
    expect(strip.get_by_role("link").first).to_be_visible()
    assert str(strip.get_by_role("link").count()) in [text.split()[0] for text in told.all_inner_texts()] + ["60"]
    first, second = (strip.get_by_role("link").nth(number) for number in (0, 1))
    path = second.get_attribute("aria-label")
    first.focus()
    page.keyboard.press("ArrowRight")
    expect(second).to_be_focused()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(f"/preview\\?.*path={re.escape(path).replace('/', '(/|%2F)')}.*beside=live"))
    page.go_back()
    changed.get_by_role("checkbox", name="Publish: Site footer: switched off").uncheck()
    expect(changed).to_contain_text("Site footer: switched off · waits")
    part = page.get_by_role("button", name=re.compile("^Publish 1 of 2 changes, "))
    expect(part).to_be_visible()
    # What is told of pages is told of what goes along alone.
    expect(page.get_by_role("region", name="Looked at")).to_contain_text("of the draft with all its changes")
    expect(page.get_by_role("main")).not_to_contain_text("Site footer →")
    part.click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    # The notice is gone from the live site; the footer still stands there, and waits in the draft.
    expect(public("/about").locator("[data-piece=site-footer]")).to_have_count(1)
    expect(public("/about").locator("[data-piece=winter-notice]")).to_have_count(0)
    expect(page.get_by_role("link", name=re.compile("^1 saved and not live"))).to_be_visible()
    expect(changed.get_by_role("listitem")).to_have_count(1)
    edits = page.get_by_role("region", name="Edits since live")
    expect(edits.get_by_role("listitem")).to_have_count(1)
    expect(edits).to_contain_text("Site footer: switched off")
    expect(page.get_by_role("region", name="Revisions")).to_contain_text("some of what the draft had")


def test_guards_are_asked_of_what_goes_along_alone(page, public):
    """Without the footer the checkout has none, whatever rule is off; with it, a guard is broken."""
    switch_off(page, "Quiet checkout")
    switch_off(page, "Site footer")
    go(page, f"{SITE}/publish")
    changed = page.get_by_role("list", name="What changed")
    expect(page.get_by_role("button", name=re.compile("^Publish 2 edits, "))).to_be_enabled()
    changed.get_by_role("checkbox", name="Publish: Site footer: switched off").uncheck()
    part = page.get_by_role("button", name=re.compile("^Publish 1 of 2 changes, "))
    expect(page.get_by_text("Waits for 1 broken guard to be mended")).to_contain_text("Nothing to click away to")
    expect(part).to_be_disabled()
    page.get_by_label("Why the broken guard is overruled").fill("For one evening")
    part.click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    expect(page.get_by_role("region", name="Revisions")).to_contain_text("For one evening")
    expect(public("/tickets/pay").locator("[data-piece=site-footer]")).to_have_count(1)
    # What waited mends it again, and goes along without a reason.
    page.get_by_role("button", name=re.compile("^Publish 1 edit, ")).click()
    expect(page.get_by_text("Revision 3 is live")).to_be_visible()
    expect(public("/tickets/pay").locator("[data-piece=site-footer]")).to_have_count(0)


def test_two_revisions_are_compared_and_one_is_made_live_again_at_once(page, public):
    switch_off(page, "Winter notice")
    go(page, f"{SITE}/publish")
    page.get_by_label("Note for whoever looks back").fill("Spring comes early")
    page.get_by_role("button", name=re.compile("^Publish 1 edit, ")).click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    expect(public("/about").locator("[data-piece=winter-notice]")).to_have_count(0)
    page.get_by_role("button", name="Compare revision 1 with what is live").click()
    expect(page.get_by_role("heading", name="Revision 2 against revision 1")).to_be_visible()
    expect(page.get_by_role("list", name="What differs")).to_contain_text("Winter notice: switched on")
    expect(page.get_by_role("main")).to_contain_text("Winter notice")
    # The same link shows a colleague the same; turned round it says the opposite.
    page.reload()
    page.get_by_role("button", name="Turn round").click()
    expect(page.get_by_role("list", name="What differs")).to_contain_text("Winter notice: switched off")
    page.get_by_role("button", name="Turn round").click()
    page.get_by_label("Note for whoever looks back").fill("It does not")
    page.get_by_role("button", name=re.compile("^Make revision 1 live again, [0-9]+ pages$")).click()
    expect(page.get_by_text("Revision 3 is live: revision 1 again")).to_be_visible()
    expect(public("/about").locator("[data-piece=winter-notice]")).to_have_count(1)
    # The draft stays as it is, one edit ahead.
    expect(page.get_by_role("heading", name="Draft against live")).to_be_visible()
    expect(page.get_by_role("list", name="What changed")).to_contain_text("Winter notice: switched off")
    expect(page.get_by_role("region", name="Revisions")).to_contain_text("It does not")
    # Any two.
    go(page, f"{SITE}/publish?compare=1-3")
    expect(page.get_by_text("They are the same.")).to_be_visible()


@pytest.mark.elsewhere
def test_a_copy_in_place_of_a_piece_is_told_as_drawn_as_before_and_does_not_go_live_without_it(page, public):
    go(page, f"{SITE}/pieces/site-footer")
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_label("Name of the copy").fill("Quay footer")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_text("Made Quay footer, a copy of Site footer")).to_be_visible()
    go(page, f"{SITE}/pieces/site-footer")
    page.get_by_role("button", name="Replace …").click()
    page.get_by_role("dialog").get_by_role("option", name=re.compile("^Quay footer")).click()
    expect(page.get_by_text(re.compile("^Put Quay footer in the place of Site footer"))).to_be_visible()
    go(page, f"{SITE}/publish")
    expect(
        page.get_by_role("heading", name="No page looks different, for anyone at any time from now on")
    ).to_be_visible()
    alike = page.get_by_role("list", name="Drawn as before")
    expect(alike).to_contain_text("Footer: Quay footer")
    expect(alike.get_by_role("button", name=re.compile("^[0-9]+ pages$")).first).to_be_visible()
    # The preview says the same of a page.
    go(page, f"{SITE}/preview?path=/about")
    expect(page.get_by_role("region", name="Draft", exact=True)).to_contain_text("same as live")
    # The rule that shows the copy needs it.
    go(page, f"{SITE}/publish")
    page.get_by_role("checkbox", name="Publish: Quay footer: made").uncheck()
    refused = page.get_by_role("alert").filter(has_text="What is left out is needed")
    expect(refused).to_contain_text("The rule Site footer names the piece quay-footer")
    expect(page.get_by_role("button", name=re.compile("^Publish [0-9]"))).to_have_count(0)
    page.get_by_role("checkbox", name="Publish: Quay footer: made").check()
    page.get_by_role("button", name=re.compile("^Publish 2 edits, 0 pages")).click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    expect(public("/about").locator("[data-piece=quay-footer]")).to_have_count(1)


def told_of_saving(page):
    """On how many pages saving changes something, as the bar over the button tells."""
    told = page.get_by_role("status", name="What saving changes")
    expect(told).to_have_attribute("aria-busy", "false")
    expect(told).to_contain_text(re.compile("^Saving changes "))
    found = re.search(r"(\d+) page", told.inner_text())
    return int(found[1]) if found else 0


def a_piece(page):
    go(page, f"{SITE}/pieces/winter-notice")
    page.get_by_label("Note", exact=True).fill("For the ice.")
    assert told_of_saving(page) == 0
    conftest.add_item(page, "Text")
    expect(page.get_by_role("status", name="What saving changes")).to_contain_text("pages")


def a_rule(page):
    go(page, f"{SITE}/rules")
    page.get_by_role("link", name=re.compile("^Site footer")).click()
    page.get_by_role("switch", name="Rule is on").uncheck()


def a_page(page):
    go(page, f"{SITE}/pages?path=/about&facts=edit")
    page.get_by_label("Title", exact=True).fill("Who we are")


def the_settings(page):
    go(page, f"{SITE}/site")
    conftest.choose(page.get_by_label("Default of measure"), "wide")


@pytest.mark.parametrize(
    ("edit", "what"), [(a_piece, "piece"), (a_rule, "rule"), (a_page, "page"), (the_settings, "settings")]
)
def test_what_saving_changes_is_told_while_an_edit_is_made_and_is_what_publishing_then_tells(page, edit, what):
    edit(page)
    pages = told_of_saving(page)
    page.get_by_role("button", name="Which, and how").click()
    expect(page.get_by_role("dialog", name="What saving changes")).to_contain_text(f"Looks different on {pages} page")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=f"Save {what}").click()
    expect(page.get_by_text(re.compile("^Saved .*not live yet"))).to_be_visible()
    page.get_by_role("link", name="Publish").click()
    expect(page.get_by_role("button", name=re.compile(f"^Publish 1 edit, {pages} page"))).to_be_visible()


@pytest.mark.elsewhere
def test_the_files_of_a_revision_come_as_one_archive(page, untouched):
    go(page, "/marrowick/publish")
    with page.expect_download() as begun:
        page.get_by_role("link", name=re.compile("^Files of revision 1")).click()
    with zipfile.ZipFile(begun.value.path()) as archive:
        names = set(archive.namelist())
        assert {"index.html", "about.html", "404.html", "robots.txt"} <= names
        assert b"Marrowick Ferries" in archive.read("index.html")
    assert begun.value.suggested_filename == "marrowick-1.zip"
