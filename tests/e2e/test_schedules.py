"""Rules that hold at times, and the lens that looks at another moment."""

import re

from playwright.sync_api import expect

from .conftest import cell, choose, set_moment

FRIDAY_EVENING, MONDAY = "2026-12-04T19:00", "2026-12-07T19:00"


def look_at(page, moment):
    """Set the lens to a moment, by its popover."""
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Signed-out visitor").click()
    set_moment(page.get_by_role("dialog", name="The lens"), "Moment", moment)
    page.keyboard.press("Escape")


def test_a_rule_for_weekend_evenings_wins_only_then_and_says_when_next(page):
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("button", name=re.compile("^New rule")).click()
    page.get_by_label("Name of the rule").fill("Weekend evenings")
    page.get_by_label("Include, as text", exact=True).fill("page:/about")
    page.get_by_role("button", name="+ something").click()
    choose(page.get_by_label("Place on the page"), "Header")
    page.get_by_label("Piece for Header").click()
    page.get_by_role("option", name=re.compile("Slim header")).click()
    page.get_by_label("Repeats", exact=True).fill("FREQ=WEEKLY;BYDAY=FR,SA")
    set_moment(page, "First", "2026-12-04T18:00")
    page.get_by_label("For", exact=True).fill("PT6M6")
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_role("alert").filter(has_text="PT6M6 is no duration").first).to_be_visible()
    page.get_by_label("For", exact=True).fill("PT6H")
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_text("Saved Weekend evenings")).to_be_visible()

    page.get_by_role("link", name="Pages", exact=True).click()
    look_at(page, FRIDAY_EVENING)
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Slim header")
    look_at(page, MONDAY)
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Main header")
    cell(page, "About us", "Header").click()
    trace = page.get_by_role("complementary", name=re.compile("Why"))
    expect(trace).to_contain_text("not now; next Fri 11 Dec")

    # The moment stays in the address, through views and reloads, and goes again.
    page.get_by_role("link", name="Rules").click()
    expect(page.get_by_role("link", name="Weekend evenings not through this lens")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name=re.compile("Mon 7 Dec"))).to_be_visible()
    page.get_by_role("button", name="Signed-out visitor").click()
    page.get_by_role("button", name="Now").click()
    expect(page.get_by_role("button", name=re.compile("Mon 7 Dec"))).to_have_count(0)
