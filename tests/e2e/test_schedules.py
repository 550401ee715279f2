"""Rules that hold at times, and the lens that looks at another moment."""

import re

from playwright.sync_api import expect

from .conftest import add_action, cell, choose, save_rule, set_moment

FRIDAY_EVENING, MONDAY = "2054-12-04T19:00", "2054-12-07T19:00"


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
    add_action(page)
    choose(page.get_by_label("Place on the page"), "Header")
    page.get_by_label("Piece for Header").click()
    page.get_by_role("option", name=re.compile("Slim header")).click()
    # Weekdays by buttons, the clock by fields; what comes of it beside.
    page.get_by_role("button", name="always", exact=True).click()
    choose(page.get_by_label("How it repeats"), "by weeks")
    set_moment(page, "First", "2054-12-04T18:00")
    days = page.get_by_role("group", name="On which weekdays")
    for day in ("Friday", "Saturday"):
        if days.get_by_role("button", name=day).get_attribute("aria-pressed") == "false":
            days.get_by_role("button", name=day).click()
    for day in ("Monday", "Tuesday", "Wednesday", "Thursday", "Sunday"):
        if days.get_by_role("button", name=day).get_attribute("aria-pressed") == "true":
            days.get_by_role("button", name=day).click()
    expect(page.get_by_label("Repeats", exact=True)).to_have_value("FREQ=WEEKLY;BYDAY=FR,SA")
    choose(page.get_by_label("Unit of how long"), "hours")
    page.get_by_label("How long", exact=True).fill("6")
    expect(page.get_by_label("For", exact=True)).to_have_value("PT6H")
    expect(page.get_by_role("button", name=re.compile("^Fridays and Saturdays from 18:00"))).to_be_visible()
    expect(page.get_by_role("status", name="Next times")).to_contain_text("Fri 4 Dec 2054, 18:00 to midnight")
    expect(page.get_by_role("cell", name=re.compile("^5 ?, in force$"))).to_be_visible()
    page.get_by_label("For", exact=True).fill("PT6M6")
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_role("alert").filter(has_text="PT6M6 is no duration").first).to_be_visible()
    page.get_by_label("For", exact=True).fill("PT6H")
    save_rule(page)
    expect(page.get_by_text("Saved Weekend evenings")).to_be_visible()

    page.get_by_role("link", name="Pages", exact=True).click()
    look_at(page, FRIDAY_EVENING)
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Slim header")
    look_at(page, MONDAY)
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Main header")
    cell(page, "About us", "Header").click()
    trace = page.get_by_role("complementary", name=re.compile("Why"))
    expect(trace).to_contain_text("not now; next Fri 11 Dec 2054")

    # The moment stays in the address, through views and reloads, and goes again.
    page.get_by_role("link", name="Rules").click()
    expect(page.get_by_role("link", name="Weekend evenings not through this lens")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name=re.compile("Mon 7 Dec 2054"))).to_be_visible()
    page.get_by_role("button", name="Signed-out visitor").click()
    page.get_by_role("button", name="Now").click()
    expect(page.get_by_role("button", name=re.compile("Mon 7 Dec 2054"))).to_have_count(0)
