"""The rule editor: what is wrong with a rule as it is edited, whom it reaches and why, and where to look at it."""

import re

from playwright.sync_api import expect

from .conftest import add_action, choose, save_rule, settle


def reach(page):
    return page.get_by_role("complementary", name="Reach")


def new_rule(page, name):
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("button", name=re.compile("^New rule")).click()
    page.get_by_label("Name of the rule").fill(name)


def open_rule(page, name):
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("link", name=re.compile(f"^{name}")).click()
    settle(page)


def test_what_is_wrong_is_said_as_it_happens_with_the_click_that_mends_it(page):
    new_rule(page, "A mended rule")
    found = page.get_by_role("list", name="What the checks find about it")
    expect(found).to_contain_text("matches nothing")
    found.get_by_role("button", name="Apply it to every page").click()
    expect(page.get_by_label("Include, as text", exact=True)).to_have_text("all")
    expect(page.get_by_label("Name of the rule")).to_have_value("A mended rule")

    add_action(page)
    choose(page.get_by_label("Place on the page"), "Header")
    page.get_by_label("Piece for Header").click()
    page.get_by_role("option", name=re.compile("Slim header")).click()
    page.get_by_label("Priority", exact=True).fill("-1000")
    expect(found).to_contain_text("never wins")
    page.get_by_label("Not visitors, as text").fill("signed:in,out")
    expect(found).to_contain_text("lets no visitor in")
    found.get_by_role("button", name="Let everyone in").click()
    expect(page.get_by_label("Not visitors, as text")).to_have_text("")
    found.get_by_role("button", name=re.compile("^Give it priority")).click()
    expect(found).not_to_be_visible()
    save_rule(page)
    expect(page.get_by_text("Saved A mended rule")).to_be_visible()


def test_a_topic_has_pages_and_a_listing_and_each_can_be_meant(page):
    new_rule(page, "Food")
    include = page.get_by_label("Include, as text", exact=True)

    def which(name):
        return page.get_by_role("group", name="Which of it").get_by_role("button", name=re.compile(f"^{name}"))

    page.get_by_role("button", name="+ pages").click()
    editor = page.get_by_role("dialog", name="A new term")
    editor.get_by_role("button", name="term", exact=True).click()
    editor.get_by_placeholder("Type to search").fill("food")
    editor.get_by_role("option", name=re.compile("Food")).first.click()
    expect(which("its pages")).to_contain_text("6 pages")
    expect(which("its listing")).to_contain_text("1 page")
    which("its listing").click()
    editor.get_by_role("button", name="Done").click()
    expect(include).to_have_text("term:topic/food | lists:term/topic/food")
    expect(reach(page).get_by_role("status")).to_contain_text("7pages reached")

    # The listing alone; then a section: below it, itself, or both.
    page.get_by_role("button", name="lists Food", exact=True).click()
    page.get_by_role("button", name="Take away", exact=True).click()
    page.get_by_role("button", name="term Food", exact=True).click()
    which("its listing").click()
    which("its pages").click()
    page.get_by_role("button", name="Done").click()
    expect(include).to_have_text("lists:term/topic/food")
    include.fill("within:/tickets")
    page.get_by_role("button", name="within Tickets /tickets").click()
    which("its listing").click()
    page.get_by_role("group", name="Whether it is so").get_by_role("button", name="is not").click()
    page.get_by_role("button", name="Done").click()
    expect(include).to_have_text("-under:/tickets")
    expect(page.get_by_role("button", name="not under Tickets /tickets")).to_be_visible()


def test_a_page_is_tested_term_by_term_and_a_term_that_is_pointed_at_lights_its_pages_up(page):
    open_rule(page, "Quiet checkout")
    panel = reach(page)
    expect(panel.get_by_role("region", name="What it takes over")).to_contain_text("Header from Site header on 7 pages")
    panel.get_by_label("Page to test").fill("fares")
    page.get_by_role("option").filter(has_text="/tickets/fares").click()
    expect(panel).to_contain_text("✓ yes: in Tickets✗ no: of type checkout")
    expect(panel).to_contain_text("not reached")
    page.reload()
    expect(panel).to_contain_text("✗ no: of type checkout")
    row = panel.get_by_role("button", name=re.compile("^Booked"))
    row.click()
    expect(row).to_have_attribute("aria-expanded", "true")
    expect(panel).to_contain_text("Header, Footer, Aside end, Template: wins")

    page.get_by_role("button", name="within Tickets /tickets").hover()
    expect(panel.locator(".reach-page.lit")).to_have_count(6)
    page.get_by_role("button", name=re.compile("^page Renew your pass")).hover()
    expect(panel.locator(".reach-page.lit")).to_have_count(1)
    page.get_by_label("Name of the rule").hover()
    expect(panel.locator(".reach-page.lit")).to_have_count(0)
    panel.get_by_role("link", name="See it in Pages").first.click()
    expect(page).to_have_url(re.compile(r"/pages\?.*path=%2Ftickets%2Ffares"))


def test_what_a_rule_does_is_looked_at_for_one_place_or_for_all(page):
    open_rule(page, "Quiet checkout")
    page.get_by_label("Include, as text", exact=True).fill("within:/tickets type:checkout | page:/")
    panel = reach(page)
    expect(panel).to_contain_text("wins 3 of 4")
    choose(panel.get_by_label("Place to look at"), "Template")
    expect(panel).to_contain_text("outranked by Pin: home")
    choose(panel.get_by_label("Place to look at"), "All it does")
    expect(panel).to_contain_text("wins 3 of 4")


def test_a_page_that_gets_it_is_saved_for_and_looked_at_in_a_click(page):
    open_rule(page, "Quiet checkout")
    page.get_by_label("Include, as text", exact=True).fill("page:/about")
    expect(page.get_by_text("Save and see it on")).to_be_visible()
    page.get_by_role("button", name="About us", exact=True).click()
    expect(page).to_have_url(re.compile(r"/preview\?path=%2Fabout"))
    expect(page.frame_locator("iframe").first.locator("main")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Header Slim header"))).to_be_visible()


def test_include_and_exclude_change_places(page):
    open_rule(page, "Quiet checkout")
    page.get_by_label("Include, as text", exact=True).fill("type:checkout")
    page.get_by_label("Exclude, as text", exact=True).fill("page:/about")
    page.get_by_role("button", name="Swap on and not on").click()
    expect(page.get_by_label("Include, as text", exact=True)).to_have_text("page:/about")
    expect(page.get_by_label("Exclude, as text", exact=True)).to_have_text("type:checkout")


def test_a_place_is_chosen_on_the_map_of_a_page_and_lines_are_put_in_order(page):
    new_rule(page, "On the map")
    page.get_by_label("Include, as text", exact=True).fill("page:/tickets/fares")
    settle(page)
    page.get_by_role("button", name="+ at a place on the map").click()
    places = page.get_by_role("dialog", name="Places of the page")
    expect(places).to_contain_text("Fares")
    expect(places.get_by_role("button", name="Aside end")).to_contain_text("Help desk")
    places.get_by_role("button", name="Aside end").click()
    choose(page.get_by_label("What to do with Aside end"), "leave empty")
    settle(page)
    page.get_by_role("button", name="+ at a place on the map").click()
    places.get_by_role("button", name="Footer", exact=True).or_(
        places.get_by_role("button", name=re.compile("^Footer"))
    ).first.click()
    choose(page.get_by_label("What to do with Footer"), "leave empty")
    lines = page.get_by_role("combobox", name="Place on the page")
    expect(lines).to_have_text(["Aside end", "Footer"])
    page.get_by_role("button", name="Move Footer, line 2").focus()
    page.keyboard.press("Space")
    expect(page.get_by_text("Footer would be line 2")).to_be_attached()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_text("Footer would be line 1")).to_be_attached()
    page.keyboard.press("Space")
    expect(lines).to_have_text(["Footer", "Aside end"])
    save_rule(page)
    expect(page.get_by_text("Saved On the map")).to_be_visible()


def test_what_moving_a_rule_would_change_is_told_before_it_is_let_go(page):
    page.get_by_role("link", name="Rules").click()
    handle = page.get_by_role("button", name=re.compile("^Move Quiet checkout"))
    handle.focus()
    page.keyboard.press("Space")
    expect(page.get_by_role("status").filter(has_text="Quiet checkout would be number 4")).to_have_count(1)
    told = page.get_by_role("status").filter(has_text="Quiet checkout as number")
    for place in ("number 3", "number 2, with priority 10"):
        page.keyboard.press("ArrowUp")
        expect(told).to_contain_text(f"Quiet checkout as {place}")
    expect(told).to_contain_text(re.compile(r"changes \d+ pages?"))
    page.keyboard.press("Escape")
    expect(told).to_have_count(0)


def test_rules_are_put_into_groups_of_ones_own_which_change_no_order(page):
    page.get_by_role("link", name="Rules").click()
    listed = page.get_by_role("navigation", name="Rules, the highest first").get_by_role("link")
    expect(listed.filter(has_text="Quiet checkout")).to_be_visible()
    order = listed.locator("b.clip").all_inner_texts()
    page.get_by_role("button", name="Several").click()
    for name in ("Quiet checkout", "Night header"):
        page.get_by_role("checkbox", name=f"Pick {name}").check()
    bar = page.get_by_role("region", name="Several rules")
    bar.get_by_label("Name for a group").fill("Evenings")
    bar.get_by_role("button", name="Group them").click()
    expect(bar.get_by_role("button", name="Evenings")).to_have_attribute("aria-pressed", "true")
    bar.get_by_role("button", name="Close").click()
    assert listed.locator("b.clip").all_inner_texts() == order
    choose(page.get_by_label("Which rules"), "in your group Evenings")
    expect(listed).to_have_count(2)
    page.reload()
    expect(listed).to_have_count(2)
    expect(listed.filter(has_text="Night header").get_by_title("In your group Evenings")).to_be_visible()
    page.get_by_role("button", name="Several").click()
    bar.get_by_role("button", name="All shown").click()
    bar.get_by_role("button", name="Evenings").click()
    # A group without rules is gone, and all rules stand there again.
    expect(bar.get_by_role("button", name="Evenings")).to_have_count(0)
    expect(listed.filter(has_text="Quiet checkout")).to_be_visible()
    assert listed.locator("b.clip").all_inner_texts() == order


def test_several_rules_are_switched_at_once_and_found_by_who_edited_them(page):
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("button", name="Several").click()
    for name in ("Quiet checkout", "Night header"):
        page.get_by_role("checkbox", name=f"Pick {name}").check()
    bar = page.get_by_role("region", name="Several rules")
    expect(bar).to_contain_text("2 rules picked")
    bar.get_by_role("button", name="Off", exact=True).click()
    expect(page.get_by_text("Switched off 2 rules")).to_be_visible()
    bar.get_by_role("button", name="Close").click()
    choose(page.get_by_label("Which rules"), "edited since live")
    listed = page.get_by_role("navigation", name="Rules, the highest first").get_by_role("link")
    expect(listed).to_have_count(2)
    choose(page.get_by_label("Which rules"), "switched off")
    expect(listed.filter(has_text="Night header")).to_have_count(1)
    page.get_by_label("Which rules").click()
    page.get_by_role("option", name=re.compile("^edited by .* since live$")).click()
    expect(listed).to_have_count(2)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(listed).to_have_count(0)


def test_a_rule_is_switched_and_copied_from_the_list_where_its_note_stands(page):
    page.get_by_role("link", name="Rules").click()
    listed = page.get_by_role("navigation", name="Rules, the highest first")
    quiet = listed.get_by_role("link", name=re.compile("^Quiet checkout"))
    expect(quiet).to_contain_text("Once a fare is chosen")
    quiet.hover()
    listed.get_by_role("button", name="Switch off Quiet checkout").click()
    expect(page.get_by_text("Switched off Quiet checkout. In the draft, not live yet.")).to_be_visible()
    expect(quiet).to_contain_text("off")
    # By keyboard alone, and back again.
    on = listed.get_by_role("button", name="Switch on Quiet checkout")
    on.focus()
    expect(on).to_be_in_viewport()
    page.keyboard.press("Enter")
    expect(quiet).to_contain_text("header, footer, aside end, template")
    quiet.hover()
    listed.get_by_role("button", name="Copy Quiet checkout").click()
    expect(page.get_by_label("Name of the rule")).to_have_value(re.compile("^Quiet checkout.+"))
    expect(page.get_by_role("switch", name="Rule is on")).not_to_be_checked()
    # What waits for Save in the editor is not overwritten from the list.
    quiet.first.click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Quiet checkout")
    page.get_by_label("Priority", exact=True).fill("3")
    expect(listed.get_by_role("button", name="Switch off Quiet checkout")).to_be_disabled()
