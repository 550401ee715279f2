"""Undo, redo, back to live and bring back, as a person does them: across views and a reload, by button and by key."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import another_person, cell, go, save_rule, search


def edit_footer(page, address, name="Help desk"):
    """Add a link to the footer and save it."""
    go(page, "/marrowick/pieces/site-footer")
    page.get_by_role("button", name="Link list: Sail", exact=True).click()
    first = page.get_by_role("region", name="Link list, settings")
    first.get_by_role("button", name="+ link").click()
    links = first.get_by_label(re.compile("text of link"))
    links.last.fill(name)
    first.get_by_label(re.compile("address of link")).last.fill(address)
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text("Saved Site footer")).to_be_visible()


def switch_off(page, name):
    """Switch a rule off and save it."""
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=name).click()
    page.get_by_label("Rule is on").click()
    save_rule(page)
    expect(page.get_by_text(f"Saved {name}")).to_be_visible()


def undo_button(page, words):
    return page.get_by_role("banner").get_by_role("button", name=f"Undo: {words}", exact=True)


def redo_button(page, words):
    return page.get_by_role("banner").get_by_role("button", name=f"Redo: {words}", exact=True)


def log(page):
    return page.get_by_role("region", name="Edits since live").get_by_role("listitem")


FOOTER = "Site footer: added a link to /help/desk"


@pytest.mark.elsewhere
def test_an_edit_is_undone_and_redone_in_other_views_and_after_a_reload(page):
    edit_footer(page, "/help/desk")
    page.get_by_role("link", name="Pages", exact=True).click()
    expect(undo_button(page, FOOTER)).to_be_visible()
    page.reload()
    undo_button(page, FOOTER).click()
    expect(page.get_by_text(f"Undone: {FOOTER}")).to_be_visible()
    expect(page.get_by_text("draft and live are the same")).to_be_visible()
    expect(page.get_by_role("button", name="Nothing to undo")).to_be_disabled()
    go(page, "/marrowick/preview?path=/about")
    redo_button(page, FOOTER).click()
    expect(page.get_by_text(f"Done again: {FOOTER}")).to_be_visible()
    expect(page.frame_locator("iframe").get_by_role("link", name="Help desk")).to_be_visible()


def test_undo_and_redo_by_key(page):
    switch_off(page, "Quiet checkout")
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "pay")
    page.get_by_label("Find pages").press("Tab")
    expect(cell(page, "Pay", "Footer")).to_have_attribute("aria-label", "Footer: Site footer")
    page.keyboard.press("Control+z")
    expect(cell(page, "Pay", "Footer")).to_have_attribute("aria-label", "Footer: left empty")
    page.keyboard.press("Control+Shift+z")
    expect(cell(page, "Pay", "Footer")).to_have_attribute("aria-label", "Footer: Site footer")
    # Keys that come faster than their answers are lost neither.
    for _ in range(3):
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+Shift+z")
    page.keyboard.press("Control+z")
    expect(cell(page, "Pay", "Footer")).to_have_attribute("aria-label", "Footer: left empty")
    expect(page.get_by_role("banner").get_by_role("button", name=re.compile("^Redo: Quiet checkout"))).to_be_enabled()


def test_what_is_typed_and_not_saved_is_undone_before_what_was_saved(page):
    switch_off(page, "Quiet checkout")
    name = page.get_by_label("Name of the rule")
    name.fill("Silent checkout")
    undo_button(page, "unsaved edit of Silent checkout").click()
    expect(name).to_have_value("Quiet checkout")
    expect(undo_button(page, "Quiet checkout: switched off")).to_be_visible()
    redo_button(page, "unsaved edit of Quiet checkout").click()
    expect(name).to_have_value("Silent checkout")


@pytest.mark.elsewhere
def test_one_edit_from_the_middle_is_undone_or_says_what_stands_in_the_way(page):
    edit_footer(page, "/help/desk")
    switch_off(page, "Quiet checkout")
    edit_footer(page, "/help/night", "At night")
    go(page, "/marrowick/publish")
    expect(log(page)).to_have_count(3)
    blocked = log(page).filter(has_text="/help/desk").get_by_role("button", name=f"Undo: {FOOTER}")
    expect(blocked).to_be_disabled()
    expect(log(page).filter(has_text="/help/desk").last).to_contain_text(
        "Undo this first: Site footer: added a link to /help/night"
    )
    page.get_by_role("button", name="Undo: Quiet checkout: switched off").last.click()
    expect(page.get_by_text("Undone: Quiet checkout: switched off")).to_be_visible()
    expect(log(page).filter(has_text="Quiet checkout")).to_contain_text("undone")
    expect(page.get_by_role("list", name="What changed").get_by_role("listitem")).to_have_count(1)
    page.get_by_role("button", name="Undo: Site footer: added a link to /help/night").last.click()
    expect(blocked).to_be_enabled()
    blocked.click()
    expect(page.get_by_text("Nothing to publish: the live site is the same as the draft.")).to_be_visible()


@pytest.mark.elsewhere
def test_one_part_and_then_all_of_the_draft_go_back_to_live(page):
    edit_footer(page, "/help/desk")
    switch_off(page, "Quiet checkout")
    go(page, "/marrowick/publish")
    page.get_by_role("button", name=f"Back to live: {FOOTER}").click()
    expect(page.get_by_text(f"Back as it is live: {FOOTER}")).to_be_visible()
    expect(page.get_by_role("list", name="What changed").get_by_role("listitem")).to_have_count(1)
    edit_footer(page, "/help/night", "At night")
    go(page, "/marrowick/publish")
    page.get_by_role("button", name="Take all 2 back to live").click()
    expect(page.get_by_text("Nothing to publish: the live site is the same as the draft.")).to_be_visible()
    page.reload()
    undo_button(page, "Draft back to live").click()
    expect(page.get_by_role("list", name="What changed").get_by_role("listitem")).to_have_count(2)


def test_a_revision_is_brought_back_and_that_is_undone_too(page):
    switch_off(page, "Quiet checkout")
    go(page, "/marrowick/publish")
    page.get_by_label("Why the broken guard is overruled").fill("To be brought back")
    page.get_by_role("button", name=re.compile("^Publish 1 edit")).click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    expect(page.get_by_role("region", name="Edits since live")).to_contain_text("None.")
    page.get_by_role("button", name="Bring revision 1 back as the draft").click()
    expect(page.get_by_text("Revision 1 is the draft again")).to_be_visible()
    expect(page.get_by_role("list", name="What changed")).to_contain_text("Quiet checkout: switched on")
    go(page, "/marrowick/pages?q=pay")
    expect(cell(page, "Pay", "Footer")).to_have_attribute("aria-label", "Footer: left empty")
    undo_button(page, "Revision 1 brought back").click()
    expect(cell(page, "Pay", "Footer")).to_have_attribute("aria-label", "Footer: Site footer")


@pytest.mark.elsewhere
def test_a_removed_rule_comes_back_with_its_reach(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name="Quiet checkout").click()
    page.get_by_role("button", name="Remove …").click()
    page.get_by_role("button", name="Remove, 7 pages").click()
    expect(page.get_by_text("Removed Quiet checkout")).to_be_visible()
    undo_button(page, "Quiet checkout: removed").click()
    page.get_by_role("link", name="Quiet checkout").click()
    expect(page.get_by_role("complementary", name="Reach")).to_contain_text("7pages reached")


def test_what_somebody_else_did_stands_in_the_list_and_not_on_the_button(page):
    other = another_person(page)
    switch_off(other, "Quiet checkout")
    other.context.close()
    go(page, "/marrowick/publish")
    expect(log(page)).to_contain_text("Quiet checkout: switched off")
