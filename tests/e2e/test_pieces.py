"""The jobs that are about pieces: taken in, started, copied, varied, replaced, put where they belong, as far as live."""

import json
import re

import pytest
from playwright.sync_api import expect

from .conftest import HERE, add_item, cell, choose, go, make_rules, put_live, save_rule, search, set_moment, settle
from .test_jobs import change_include, has_footer, new_rule, publish, save_piece


def write_file(folder, name, *pieces):
    """A layout file of some widgets and footers, on disk."""
    target = folder / name
    target.write_text(json.dumps({"navrel": 1, "pieces": list(pieces)}))
    return target


def made_of(kind, slug, name, text):
    return {"slug": slug, "kind": kind, "name": name, "content": {"items": [{"type": "text", "text": text}]}}


def open_file(page, target, site="marrowick"):
    go(page, f"/{site}/pieces")
    page.get_by_role("link", name="Take in …").click()
    page.get_by_label("Layout file").set_input_files(target)
    expect(page.get_by_role("list", name="Pieces in the file")).to_be_visible()


def export(page, link):
    """Save what a link downloads; its path."""
    with page.expect_download() as saved:
        page.get_by_role("link", name=link, exact=True).click()
    return saved.value.path()


def new_from_starter(page, starter, name):
    go(page, "/marrowick/pieces")
    page.get_by_role("link", name="Starters").click()
    expect(page.get_by_role("link", name="Pieces", exact=True)).to_have_attribute("aria-current", "page")
    page.get_by_role("region", name=starter, exact=True).get_by_role("button", name="Start from it").click()
    form = page.get_by_role("form", name=f"Start from {starter}")
    form.get_by_label("Name of the piece").fill(name)
    form.get_by_role("button", name="Make it").click()
    expect(page.get_by_label("Name of the piece")).to_have_value(name)


def put_on_pages(page, include, name):
    """From a piece in the editor to a saved rule that puts it on some pages."""
    page.get_by_role("button", name="Put it on pages").click()
    page.get_by_label("Name of the rule").fill(name)
    page.get_by_label("Include, as text").fill(include)
    save_rule(page)
    expect(page.get_by_text(f"Saved {name}")).to_be_visible()


def pick(page, *titles):
    """Pick pages in the list, each found by its title."""
    page.get_by_role("link", name="Pages", exact=True).click()
    for title in titles:
        search(page, title)
        page.get_by_label(f"Pick {title}", exact=True).click()
    search(page, "")
    expect(page.get_by_role("region", name="Picked pages")).to_contain_text(f"{len(titles)} page")


def change(page, part, text):
    """Write one part of the condition of the rule that is open, and save it."""
    page.get_by_label(f"{part}, as text", exact=True).fill(text)
    save_rule(page)


def why(page, path, target, site="marrowick"):
    go(page, f"/{site}/pages?path={path}&target={target}")
    return page.get_by_role("complementary", name=re.compile("^Why: "))


def test_w01_a_footer_from_a_file_then_none_on_articles_on_five_pages_and_on_three_more(page, public, tmp_path):
    sent = write_file(
        tmp_path, "parts.navrel.json",
        made_of("footer", "harbour-footer", "Harbour footer", "Every harbour, every day"),
        made_of("footer", "site-footer", "Site footer", "Another one of that name"),
        made_of("widget", "tide", "Tide", "High at noon"),
    )  # fmt: skip
    open_file(page, sent)
    site_footer = page.get_by_role("listitem", name="Site footer")
    expect(site_footer).to_contain_text("Clashes with Site footer, which is here")
    choose(page.get_by_label("What becomes of Tide"), "leave it out")
    page.get_by_role("button", name="Take in 1 piece", exact=True).click()
    expect(page.get_by_text("Took in 1 piece. It is in the draft, not live yet.")).to_be_visible()
    settle(page)
    page.get_by_role("button", name=re.compile("^Harbour footer")).click()
    put_on_pages(page, "all", "One footer")
    publish(page)
    assert "Every harbour" in public("/about").locator("footer").inner_text()
    new_rule(page, "No footer on stories", "type:article", ("Footer", "leave empty", ""))
    five = ["/about", "/contact", "/accessibility", "/help/wind", "/help/cars"]
    pick(page, "About us", "Contact", "Getting aboard", "When the wind decides", "Taking a car")
    bar = page.get_by_role("region", name="Picked pages")
    bar.get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Leave a place empty on 5 pages").click()
    dialog = page.get_by_role("dialog", name="Leave a place empty on 5 pages")
    expect(dialog.get_by_role("option", name=re.compile("^Footer"))).to_contain_text("now: Harbour footer")
    dialog.get_by_role("option", name=re.compile("^Footer")).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("No footer on 5 pages")
    page.get_by_label("Name of the rule").fill("None here")
    save_rule(page)
    put_live(page)
    assert not any(has_footer(public(path)) for path in (*five, "/journal/two-keepers"))
    three = ["/help/dogs", "/help/delays", "/help/children"]
    page.get_by_role("link", name="Pages", exact=True).click()
    bar.get_by_role("button", name="Unpick").click()
    pick(page, "Dogs and other animals", "Delays", "Sailing with children")
    bar.get_by_role("button", name="Add to a rule").click()
    page.get_by_label("Rule to add them to", exact=True).fill("None")
    page.get_by_role("option", name=re.compile("None here footer.*3 pages")).click()
    expect(page.get_by_text("None here reaches 3 more pages. In the draft, not live yet.")).to_be_visible()
    put_live(page)
    assert not any(has_footer(public(path)) for path in (*five, *three))
    assert has_footer(public("/routes"))
    page.get_by_role("link", name="Rules").click()
    page.get_by_label("Rules, the highest first").get_by_role("link", name=re.compile("^None here")).click()
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("None here, copy")
    page.get_by_label("Include, as text").fill("page:/routes")
    page.get_by_label("Rule is on").click()
    save_rule(page)
    expect(page.get_by_text("Saved None here, copy")).to_be_visible()
    put_live(page)
    assert not has_footer(public("/routes"))


@pytest.mark.elsewhere
def test_w05_a_bare_header_from_a_copy_of_its_own_ground_exported_and_taken_in_under_another_name(
    page, public, drafted
):
    go(page, "/marrowick/pieces/main-header")
    page.get_by_role("button", name="Menu: Main", exact=True).click()
    add_item(page, "Button")
    page.get_by_label("Button: text").fill("Book a place")
    page.get_by_label("Button: leads to").fill("/tickets/choose")
    save_piece(page, "Main header")
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_label("Name of the copy").fill("Bare header")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Bare header")
    for item in ("Menu: Main", "Search box: Search", "Button: Book a place"):
        page.get_by_role("button", name=item, exact=True).click()
        page.get_by_role("button", name=re.compile("^Take away ")).last.click()
        expect(page.get_by_role("button", name=item, exact=True)).to_have_count(0)
    choose(page.get_by_label("ground", exact=True), "soft")
    choose(page.get_by_label("ink", exact=True), "brand")
    save_piece(page, "Bare header")
    kept = export(page, "Export")
    # Its pages picked one by one; then by their author as well, but for one of them.
    pick(page, "Terms of carriage", "Privacy")
    bar = page.get_by_role("region", name="Picked pages")
    bar.get_by_role("button", name="Put a piece on 2 pages").click()
    page.get_by_label("Piece to put on these pages").get_by_role("option", name=re.compile("Bare header")).click()
    page.get_by_label("Name of the rule").fill("Bare for some")
    expect(page.get_by_label("Include, as text")).to_have_text("page:/legal/privacy,/legal/terms")
    save_rule(page)
    change(page, "Include", "page:/legal/terms | author:imre-halloran")
    change(page, "Exclude", "page:/journal/two-keepers")
    bare, member, crew = "[data-piece=bare-header]", "signed:in role:passholder", "signed:in role:crew"
    assert not drafted("/journal/two-keepers", bare)
    assert not drafted("/legal/privacy", bare)
    # For members; then for all but crew; then in the week of the sale alone.
    change(page, "Visitors", "role:passholder")
    assert drafted("/legal/terms", bare, visitor=member)
    assert not drafted("/legal/terms", bare, visitor=crew)
    change(page, "Visitors", "")
    change(page, "Not visitors", "role:crew")
    assert drafted("/legal/terms", bare, visitor=member)
    assert not drafted("/legal/terms", bare, visitor=crew)
    page.get_by_role("button", name="always", exact=True).click()
    set_moment(page, "From", "2027-03-01T00:00")
    set_moment(page, "Until", "2027-03-08T00:00")
    save_rule(page)
    assert drafted("/legal/terms", bare, at="2027-03-05T12:00")
    assert not drafted("/legal/terms", bare, at="2027-03-08T00:00")
    page.get_by_role("button", name=re.compile("^Undo: Bare for some")).click()
    expect(page.get_by_text("Undone: Bare for some")).to_be_visible()
    go(page, "/marrowick/preview?path=/legal/terms")
    header = page.frame_locator("iframe").first.locator("header")
    expect(header.get_by_role("link", name="Marrowick Ferries")).to_be_visible()
    # Looking at it changed nothing that is live.
    assert public("/legal/terms").locator("header [data-piece=bare-header]").count() == 0
    publish(page, overruling="Terms of carriage get the bare header")
    live = public("/legal/terms").locator("[data-piece=bare-header]")
    assert live.evaluate("one => getComputedStyle(one).backgroundColor") == "rgb(241, 244, 241)"
    assert live.locator("nav, form").count() == 0
    assert live.get_by_text("Book a place").count() == 0
    open_file(page, kept)
    choose(page.get_by_label("What becomes of Bare header"), "take it under another name")
    page.get_by_label("New name of Bare header").fill("Bare header II")
    page.get_by_role("button", name="Take in 1 piece").click()
    page.get_by_role("button", name=re.compile("^Bare header II")).click()
    expect(page.get_by_role("button", name=re.compile("^Logo"))).to_be_visible()
    go(page, "/marrowick/pieces/bare-header")
    page.get_by_role("button", name="Remove …").click()
    dialog = page.get_by_role("dialog", name="Remove Bare header")
    expect(dialog.get_by_role("link", name="Bare for some")).to_be_visible()
    dialog.get_by_role("button", name=re.compile("and remove it$")).click()
    expect(page.get_by_text("Removed Bare header")).to_be_visible()
    page.get_by_role("banner").get_by_role("button", name=re.compile("^Undo: ")).click()
    expect(page.get_by_text(re.compile("^Undone: "))).to_be_visible()
    go(page, "/marrowick/pieces/bare-header")
    expect(page.get_by_label("Name of the piece")).to_have_value("Bare header")


@pytest.mark.elsewhere
def test_w12_another_header_and_no_strip_above_on_one_page(page, public):
    new_rule(page, "Strip", "all", ("Above header", "add after", "Winter notice"))
    panel = why(page, "/about", "header")
    panel.get_by_role("button", name="Pin a header").click()
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    expect(panel).to_contain_text("Pinned here: Slim header")
    panel = why(page, "/about", "above-header")
    panel.get_by_role("button", name=re.compile("^Pin a ")).click()
    page.get_by_role("button", name=re.compile("^Leave it empty here")).click()
    expect(panel).to_contain_text("left empty")
    publish(page)
    window = public("/about")
    assert window.locator("[data-piece=slim-header]").count() == 1
    assert window.locator("[data-slot=above-header]").count() == 0
    assert public("/contact").locator("[data-slot=above-header]").count() == 1
    # Two pieces that say the same on one page are pointed out, there and in the piece.
    before = {"do": "prepend", "slot": "above-header", "piece": "wind-line"}
    make_rules(page, {"name": "Wind up there", "condition": {"include": "page:/contact"}, "actions": [before]})
    page.goto("/marrowick/checks")
    twice = page.get_by_role("listitem").filter(has_text="“Wind line” and “Winter notice” say the same")
    expect(twice).to_contain_text("Both hold a notice.")
    twice.locator("summary").click()
    expect(twice.get_by_role("link", name="Contact", exact=True)).to_be_visible()
    twice.get_by_role("link", name="Open the piece").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Winter notice")
    expect(page.get_by_role("list", name="What the checks find about it")).to_contain_text("say the same")


def test_w14_header_and_footer_off_one_page_each_on_its_own_and_reach_beside_taking_away(page, public):
    for target in ("header", "footer"):
        panel = why(page, "/about", target)
        panel.get_by_role("button", name=re.compile("^Pin a ")).click()
        page.get_by_role("button", name=re.compile("^Leave it empty here")).click()
        expect(panel).to_contain_text("left empty")
    publish(page)
    window = public("/about")
    assert window.locator("header, footer").count() == 0
    assert "ferry company" in window.locator("main").inner_text()
    go(page, "/marrowick/pieces/site-footer")
    page.get_by_role("button", name="Link list: Sail", exact=True).click()
    settings = page.get_by_role("region", name="Link list, settings")
    expect(settings).to_contain_text(re.compile(r"From Site footer: changes \d+ pages"))


@pytest.mark.elsewhere
def test_w16_starters_for_header_footer_and_the_not_found_page(page, public):
    new_from_starter(page, "Two lines", "Fresh header")
    put_on_pages(page, "all", "Fresh everywhere")
    new_from_starter(page, "One line", "Fresh footer")
    put_on_pages(page, "page:/journal | page:/routes/north-isle", "Fresh here")
    new_from_starter(page, "Not found", "Lost")
    page.get_by_role("button", name="Button: Go home", exact=True).click()
    page.get_by_label("Button: text").fill("Back to the quay")
    save_piece(page, "Lost")
    new_rule(
        page, "Lost pages", "kind:missing", ("Template", "use", "Standard"), ("After content", "add after", "Lost")
    )
    publish(page, overruling="The not-found page has a search box of its own")
    assert public("/about").locator("[data-piece=fresh-header]").count() == 1
    for path, fresh in {"/journal": 1, "/routes/north-isle": 1, "/journal/two-keepers": 0}.items():
        assert public(path).locator("[data-piece=fresh-footer]").count() == fresh
    assert public("/no/such/page").get_by_role("link", name="Back to the quay").count() == 1


@pytest.mark.elsewhere
def test_w17_one_widget_more_beside_one_page_and_the_sidebar_swapped_on_another(page, public):
    panel = why(page, "/help/wind", "aside-end")
    panel.get_by_role("button", name="Add a widget here").click()
    page.get_by_role("button", name="at the top").click()
    page.get_by_role("option", name=re.compile("^Wind line")).click()
    expect(page.get_by_text(re.compile("^Pinned on /help/wind"))).to_be_visible()
    panel = why(page, "/help/children", "aside-end")
    panel.get_by_role("button", name="Add a widget here").click()
    page.get_by_role("button", name="at the bottom").click()
    page.get_by_role("option", name=re.compile("^Wind line")).click()
    expect(page.get_by_text(re.compile("^Pinned on /help/children"))).to_be_visible()
    # Between two that stand there: in the sidebar, above one of its widgets, on this page alone.
    panel = why(page, "/help/dogs", "aside-end")
    panel.get_by_role("button", name="Add a widget here").click()
    choose(page.get_by_label("Above which widget"), "above Call us in Help desk")
    page.get_by_role("option", name=re.compile("^Wind line")).click()
    expect(page.get_by_text("Put Wind line into Help desk, on /help/dogs alone")).to_be_visible()
    panel = why(page, "/help/cars", "aside-end")
    panel.get_by_role("button", name="Pin a sidebar").click()
    page.get_by_role("option", name=re.compile("^Timetables")).click()
    expect(panel).to_contain_text("Pinned here: Timetables")
    publish(page)
    assert beside(public("/help/wind")) == ["wind-line", "help-desk"]
    assert beside(public("/help/children")) == ["help-desk", "wind-line"]
    assert beside(public("/help/cars")) == ["timetables"]
    for path, widgets in (("/help/dogs", ["wind-line", "call-us"]), ("/help/delays", ["call-us"])):
        shown = public(path).locator("[data-slot=aside-end] > [data-piece]")
        assert [one.get_attribute("data-piece") for one in shown.all()] == ["help-desk"]
        inside = [one.get_attribute("data-piece") for one in shown.locator("[data-piece]").all()]
        assert [slug for slug in inside if slug in widgets or slug == "wind-line"] == widgets, path
    # For a section: on its pages, on its listing, or on both.
    new_rule(page, "Wind for food", "page:/about", ("Aside end", "add after", "Wind line"))
    wind = "[data-slot=aside-end] > [data-piece=wind-line]"
    for include, on_pages, on_listing in (
        ("term:topic/food", 1, 0),
        ("lists:term/topic/food", 0, 1),
        ("term:topic/food | lists:term/topic/food", 1, 1),
    ):
        page.get_by_role("link", name="Rules").click()
        change_include(page, "Wind for food", include)
        put_live(page)
        assert public("/journal/harbour-kitchens").locator(wind).count() == on_pages, include
        assert public("/topics/food").locator(wind).count() == on_listing, include


@pytest.mark.elsewhere
def test_w21_a_notice_but_not_where_it_leads_a_call_to_act_and_a_button_after_the_menu(page, public):
    new_rule(
        page,
        "Notice",
        "all",
        ("Above header", "add after", "Winter notice"),
        ("Above header", "add after", "Wind line"),
    )
    page.get_by_label("Exclude, as text").fill("page:/routes")
    save_rule(page)
    call = {"do": "append", "slot": "above-footer", "piece": "book-now"}
    make_rules(page, {"name": "Call", "condition": {"include": "type:harbour"}, "actions": [call]})
    go(page, "/marrowick/pieces/main-header")
    page.get_by_role("button", name="Menu: Main", exact=True).click()
    add_item(page, "Widget")
    choose(page.get_by_label("Widget: widget"), "Wind line")
    page.get_by_role("button", name="Menu: Main", exact=True).click()
    add_item(page, "Button")
    page.get_by_label("Button: text").fill("Book a place")
    page.get_by_label("Button: leads to").fill("/tickets/choose")
    lines = page.get_by_role("region", name="Items").locator(".item-line")
    expect(lines).to_have_text(
        [
            re.compile("Logo"),
            re.compile("Menu"),
            re.compile("Book a place"),
            re.compile("Widget: Wind line"),
            re.compile("Search"),
        ]
    )
    save_piece(page, "Main header")
    go(page, "/marrowick/pieces/wind-line")
    page.get_by_role("button", name="Remove …").click()
    expect(page.get_by_role("dialog", name="Remove Wind line").get_by_role("link", name="Main header")).to_be_visible()
    page.keyboard.press("Escape")
    publish(page)
    window = public("/about")
    above = window.locator("[data-slot=above-header] > [data-piece]")
    assert [one.get_attribute("data-piece") for one in above.all()] == ["winter-notice", "wind-line"]
    header = window.locator("header").inner_text()
    assert header.index("Help") < header.index("Book a place") < header.index("Is it blowing")
    assert public("/routes").locator("[data-slot=above-header]").count() == 0
    above_footer = public("/harbours/corran-head").locator("[data-slot=above-footer]")
    assert above_footer.locator("[data-piece=book-now]").count() == 1


@pytest.mark.elsewhere
def test_items_are_moved_by_keyboard_copied_to_another_piece_and_chosen_in_the_picture(page):
    go(page, "/marrowick/pieces/site-footer")
    sail = page.get_by_role("button", name="Link list: Sail", exact=True)
    sail.click()
    sail.press("Alt+ArrowDown")
    column = page.get_by_role("region", name="Column 2")
    expect(column.locator(".item-line")).to_have_text([re.compile("Sail"), re.compile("Know")])
    page.get_by_role("button", name="Link list: Sail", exact=True).press("Control+c")
    expect(page.get_by_text("Copied Link list")).to_be_visible()
    go(page, "/marrowick/pieces/call-us")
    page.get_by_role("button", name="+ item").click()
    page.get_by_role("button", name="Paste Link list").click()
    expect(page.frame_locator("iframe").first.get_by_role("link", name="Harbours")).to_be_visible()
    page.frame_locator("iframe").first.get_by_text("Somebody answers").click()
    expect(page.get_by_label("Heading: text")).to_have_value("Somebody answers")
    page.get_by_label("Heading: text").fill("Somebody listens")
    expect(page.frame_locator("iframe").first.get_by_text("Somebody listens")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Heading: text")).to_have_value("Somebody answers")


def add_widgets(page, *names):
    for name in names:
        page.get_by_role("button", name="+ widget").click()
        page.get_by_role("option", name=re.compile(f"^{name}")).click()


def beside(window, slot="aside-end"):
    """The pieces that stand in a slot of the published page."""
    shown = window.locator(f"[data-slot={slot}] > [data-piece]")
    return [one.get_attribute("data-piece") for one in shown.all()]


@pytest.mark.elsewhere
def test_w03_a_sidebar_on_one_page_then_one_for_all_articles_that_overrules_what_pages_chose(page, public, demo):
    new_from_starter(page, "Beside the page", "Quay corner")
    add_widgets(page, "Call us", "Wind line")
    save_piece(page, "Quay corner")
    article = "/journal/two-keepers"
    panel = why(page, article, "aside-start")
    panel.get_by_role("button", name="Pin a sidebar").click()
    page.get_by_role("option", name=re.compile("^Quay corner")).click()
    expect(panel).to_contain_text("Pinned here: Quay corner")
    # And on another page at the other side.
    panel = why(page, "/contact", "aside-end")
    panel.get_by_role("button", name="Pin a sidebar").click()
    page.get_by_role("option", name=re.compile("^Quay corner")).click()
    expect(panel).to_contain_text("Pinned here: Quay corner")
    publish(page)
    assert [beside(public("/contact"), f"aside-{side}") for side in ("start", "end")] == [[], ["quay-corner"]]
    assert beside(public(article), "aside-start") == ["quay-corner"]
    assert beside(public("/journal/aurora-gets-a-new-heart"), "aside-start") == []
    # One for all articles, above what single pages chose.
    go(page, "/marrowick/pieces/timetables")
    page.get_by_role("button", name="Put it on pages").click()
    page.get_by_label("Name of the rule").fill("Articles")
    page.get_by_label("Include, as text").fill("type:article")
    page.get_by_label("Priority", exact=True).fill("5")
    choose(page.get_by_label("Place on the page", exact=True), "Aside start")
    save_rule(page)
    expect(page.get_by_text("Saved Articles")).to_be_visible()
    panel = why(page, article, "aside-start")
    expect(panel).to_contain_text("Pinned here: Quay corner")
    expect(panel).to_contain_text("Articles is stronger, on priority, for everyone")
    put_live(page)
    assert beside(public(article), "aside-start") == ["timetables"]
    demo.run(str(HERE / "arrange.py"), "/about", "lock", "footer")
    expect(why(page, "/about", "footer")).to_contain_text("The ticket shop owns this slot here")


@pytest.mark.elsewhere
def test_w04_a_second_sidebar_for_two_pages_that_says_while_it_would_show_blank(page, public):
    new_from_starter(page, "Beside the page", "Wind desk")
    expect(page.get_by_text("No widgets yet, so it would show blank wherever it stands.")).to_be_visible()
    put_on_pages(page, "page:/help/wind,/help/cars", "Two pages")
    page.get_by_role("link", name="Checks").click()
    blank = page.get_by_role("listitem").filter(has_text="“Wind desk” shows blank on 2 pages")
    expect(blank).to_contain_text("It has no entries yet.")
    publish(page)
    assert "wind-desk" not in beside(public("/help/dogs"))
    go(page, "/marrowick/pieces/wind-desk")
    expect(page.get_by_text("No widgets yet, so it would show blank wherever it stands.")).to_be_visible()
    add_widgets(page, "Wind line")
    expect(page.get_by_role("status", name="Where the sidebar stands")).to_have_text(
        "Stands on 2 pages through this lens."
    )
    expect(page.get_by_text("No widgets yet, so it would show blank wherever it stands.")).to_have_count(0)
    save_piece(page, "Wind desk")
    put_live(page)
    assert [beside(public(path)) for path in ("/help/wind", "/help/cars", "/help/dogs")] == [
        ["wind-desk"],
        ["wind-desk"],
        ["help-desk"],
    ]


def test_a_template_is_told_by_its_glyph_in_the_list_and_where_one_is_chosen(page):
    first = cell(page, "About us", "Template")
    expect(first.locator("svg.glyph")).to_be_visible()
    panel = why(page, "/about", "template")
    panel.get_by_role("button", name="Pin a template").click()
    options = page.get_by_role("dialog", name="Pin on /about").get_by_role("option")
    expect(options.filter(has_text="in force here")).to_contain_text("Standard")
    for number in range(options.count()):
        expect(options.nth(number).locator("svg.glyph rect").first).to_be_visible()


@pytest.mark.elsewhere
def test_the_menus_of_the_site_are_edited_and_shown_where_a_piece_shows_them(page, public):
    go(page, "/marrowick/site")
    menu = page.get_by_role("region", name="Menu Sail")
    menu.get_by_role("button", name="+ line", exact=True).click()
    menu.get_by_label("Text of line 6 of Sail").fill("Tides")
    menu.get_by_label("Address of line 6 of Sail").fill("/help/wind#tides")
    page.get_by_role("button", name="Save menus").click()
    expect(page.get_by_text("Saved the menus. They are in the draft, not live yet.")).to_be_visible()
    page.get_by_role("link", name="Publish").click()
    drawn = page.get_by_role("list", name="Drawn differently").get_by_role("listitem")
    for header in ("Main header", "Night header"):
        expect(drawn.filter(has_text=header).first).to_be_visible()
    expect(drawn.filter(has_text="Summer header")).to_have_count(0)
    publish(page)
    header = public("/routes/night-crossing").locator("header")
    expect(header.get_by_role("link", name="Tides")).to_have_attribute("href", "/help/wind#tides")
    header.locator("summary").hover()
    expect(header.get_by_role("link", name="Seal Bay")).to_be_visible()


@pytest.mark.elsewhere
def test_an_item_is_taken_away_on_one_page_alone_by_a_piece_of_its_own(page, public):
    go(page, "/marrowick/pieces/site-footer")
    page.get_by_label("Page to look at").fill("About us")
    page.get_by_role("option", name=re.compile("^About us")).click()
    page.get_by_role("button", name="Link list: Sail", exact=True).click()
    page.get_by_role("button", name="Or a footer of its own for /about").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Site footer on About us")
    page.get_by_role("button", name="Link list: Sail", exact=True).click()
    page.get_by_role("button", name="Take away Link list").click()
    save_piece(page, "Site footer on About us")
    put_live(page)
    assert public("/about").locator("footer").get_by_text("Sail", exact=True).count() == 0
    assert public("/contact").locator("footer").get_by_text("Sail", exact=True).count() == 1


@pytest.mark.elsewhere
def test_a_template_is_drawn_by_dragging_by_keyboard_and_as_text_at_each_width(page, public):
    go(page, "/marrowick/pieces/plain")
    grid = page.get_by_role("region", name="Grid", exact=True)
    areas = page.get_by_label("Areas")
    expect(areas).to_have_value("header\ntitle\ncontent\nfooter")
    grid.get_by_role("button", name="Row 3, column 1: content").click()
    page.get_by_role("button", name="+ column").click()
    # By keyboard: the cell beside the content, and what lies there.
    grid.get_by_role("button", name="Row 3, column 1: content").focus()
    page.keyboard.press("ArrowRight")
    choose(page.get_by_label("What lies there"), "Aside end")
    expect(areas).to_have_value("header header\ntitle title\ncontent aside-end\nfooter footer")
    expect(page.get_by_role("checkbox", name="aside-end")).to_be_checked()
    # By dragging over two cells: the title goes, and the header reaches down.
    first = grid.get_by_role("button", name="Row 2, column 1: title").bounding_box()
    second = grid.get_by_role("button", name="Row 2, column 2: title").bounding_box()
    page.mouse.move(first["x"] + 9, first["y"] + 9)
    page.mouse.down()
    page.mouse.move(second["x"] + 9, second["y"] + 9)
    page.mouse.up()
    choose(page.get_by_label("What lies there"), "nothing")
    expect(areas).to_have_value("header header\n. .\ncontent aside-end\nfooter footer")
    page.get_by_label("Width of column 2").fill("20rem")
    expect(page.get_by_label("Columns")).to_have_value("minmax(0, 1fr) 20rem")
    page.get_by_role("button", name="Phone", exact=True).click()
    grid.get_by_role("button", name="Row 3, column 2: aside-end").click()
    page.get_by_role("button", name="− column").click()
    expect(areas).to_have_value("header\n.\ncontent\nfooter")
    save_piece(page, "Plain")
    plain = {"do": "use", "template": "plain"}
    make_rules(page, {"name": "Plain here", "condition": {"include": "page:/tickets/help"}, "actions": [plain]})
    put_live(page)
    public("/tickets/help").set_viewport_size({"width": 1280, "height": 800})
    window = public("/tickets/help")
    main, aside = window.locator("main").bounding_box(), window.locator("aside").bounding_box()
    assert aside["x"] > main["x"] + main["width"] / 2
    window.set_viewport_size({"width": 390, "height": 800})
    assert window.locator("main").bounding_box()["width"] > 380


@pytest.mark.elsewhere
def test_w07_articles_of_one_topic_get_related_offers_then_a_second_topic_and_shared_widgets_stay(page, public):
    new_from_starter(page, "Beside the page", "Offers")
    add_widgets(page, "Book now", "Newest stories")
    save_piece(page, "Offers")
    put_on_pages(page, "type:article term:topic/boats", "Offers by topic")
    publish(page)
    boats, weather = "/journal/the-school-boat", "/journal/how-to-read-a-tide-table"
    assert beside(public(boats)) == ["offers"]
    assert "offers" not in beside(public(weather))
    page.get_by_role("link", name="Rules").click()
    change_include(page, "Offers by topic", "type:article term:topic/boats,topic/weather")
    put_live(page)
    assert [beside(public(path)) for path in (boats, weather)] == [["offers"], ["offers"]]
    # The widget that both sidebars share is one piece: in the new one, and where it was.
    assert public(weather).locator("[data-piece=offers] [data-piece=newest-stories]").count() == 1
    assert public("/journal").locator("[data-piece=latest-stories] [data-piece=newest-stories]").count() == 1


@pytest.mark.elsewhere
def test_w15_at_the_side_in_the_content_in_a_menus_panel_on_listings_and_for_a_type(page, public, demo):
    demo.run(str(HERE / "arrange.py"), "/about", "slot", "harbour-news")
    new_rule(page, "In the text", "page:/about", ("Harbour news", "fill with", "Winter notice"))
    new_rule(page, "In the panel", "all", ("Sail panel", "fill with", "Book now"))
    make_rules(
        page,
        {"name": "On listings", "condition": {"include": "kind:listing -within:/journal"},
         "actions": [{"do": "append", "slot": "after-content", "piece": "wind-line"}]},
        {"name": "For a type", "condition": {"include": "type:crew"},
         "actions": [{"do": "fill", "slot": "aside-end", "piece": "help-desk"}]},
    )  # fmt: skip
    publish(page)
    assert public("/about").locator("main [data-slot=harbour-news] [data-piece=winter-notice]").count() == 1
    panel = public("/routes/night-crossing").locator("header [data-slot=sail-panel]")
    expect(panel).to_be_hidden()
    public("/routes/night-crossing").locator("header summary").hover()
    expect(panel.get_by_role("link", name="Choose a sailing")).to_be_visible()
    assert public("/routes").locator("[data-slot=after-content] [data-piece=wind-line]").count() == 1
    assert public("/routes/north-isle").locator("[data-slot=after-content]").count() == 0
    assert beside(public("/crew/rota")) == ["help-desk"]


def test_w19_articles_get_a_footer_with_one_thing_more_and_what_is_saved_and_live_is_clear(page, public):
    state = page.get_by_role("banner")
    go(page, "/marrowick/pieces/site-footer")
    expect(state).to_contain_text("draft and live are the same")
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_label("Name of the copy").fill("Footer of stories")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Footer of stories")
    page.get_by_role("button", name="Link list: Know", exact=True).click()
    add_item(page, "Topics")
    expect(state).to_contain_text("1 unsaved, 1 saved and not live")
    save_piece(page, "Footer of stories")
    expect(state).not_to_contain_text("unsaved")
    put_on_pages(page, "type:article", "One thing more")
    expect(state).to_contain_text("saved and not live")
    assert public("/journal/two-keepers").locator("footer .topics").count() == 0
    publish(page)
    expect(state).to_contain_text("draft and live are the same")
    footer = public("/journal/two-keepers").locator("footer")
    assert footer.locator(".topics").count() == 1 and "Getting aboard" in footer.inner_text()
    assert public("/about").locator("footer .topics").count() == 0


def heading_font(window):
    return window.locator("h1").first.evaluate("one => getComputedStyle(one).fontFamily")


def corner(window):
    return window.locator("html").evaluate("one => getComputedStyle(one).getPropertyValue('--corner')")


@pytest.mark.elsewhere
def test_w09_templates_per_page_and_per_article_told_at_a_glance_and_another_dress_for_one_page(page, public):
    # Per article, by a rule; per page, by a pin. The chooser shows each as a picture, the one in force marked.
    new_rule(page, "Stories across", "type:article", ("Template", "use", "Full bleed"))
    page.get_by_label("Priority", exact=True).fill("5")
    save_rule(page)
    expect(page.get_by_text("Saved Stories across")).to_be_visible()
    why(page, "/contact", "template").get_by_role("button", name="Pin a template").click()
    options = page.get_by_role("dialog", name="Pin on /contact").get_by_role("option")
    expect(options.filter(has_text="in force here")).to_contain_text("Standard")
    glyphs = {options.nth(at).locator("svg.glyph").inner_html() for at in range(options.count())}
    assert len(glyphs) == options.count() >= 4
    options.filter(has_text="Reading").click()
    expect(page.get_by_role("complementary", name="Why: Template on /contact")).to_contain_text("Pinned here: Reading")
    go(page, "/marrowick/pages")
    search(page, "page:/contact,/about,/journal/two-keepers")
    told = {
        title: cell(page, title, "Template").locator("svg.glyph").inner_html()
        for title in ("Contact", "About us", "Two keepers who did not speak")
    }
    assert len(set(told.values())) == 3
    expect(cell(page, "Contact", "Template")).to_have_attribute("aria-label", "Template: Reading")
    expect(cell(page, "Two keepers who did not speak", "Template")).to_have_attribute(
        "aria-label", "Template: Full bleed"
    )

    # Another dress for one page: one made from the first, then pinned.
    go(page, "/marrowick/site/dress")
    page.get_by_role("button", name="+ dress like Harbour").click()
    page.get_by_label("Name of the dress").fill("Gala")
    page.get_by_label("Colour ink, written").fill("#777777")
    expect(page.get_by_role("list", name="Contrast")).to_contain_text("of 4.5 that text needs")
    page.get_by_label("Colour ink, written").fill("#2B1140")
    expect(page.get_by_role("list", name="Contrast")).not_to_contain_text("that text needs")
    choose(page.get_by_role("combobox", name="Font for headings and menus"), "typewriter")
    page.get_by_label("roundness of corners").fill("22")
    drawn = page.frame_locator("iframe[title='Gala, phone']").locator("html")
    expect(drawn).to_have_css("--corner", "22px")
    page.get_by_role("button", name="Save dresses").click()
    expect(page.get_by_text("Saved the dresses. They are in the draft, not live yet.")).to_be_visible()
    go(page, "/marrowick/pages?path=/contact&target=setting:dress")
    choose(page.get_by_label("Dress on this page"), "gala")
    page.get_by_role("button", name="Set it here").click()
    expect(page.get_by_role("complementary", name="Why: Dress on /contact")).to_contain_text("Gala by Pin: /contact")
    publish(page)
    assert (corner(public("/contact")), corner(public("/about"))) == ("22px", "4px")
    assert "mono" in heading_font(public("/contact")).lower()
    assert "mono" not in heading_font(public("/about")).lower()
    assert public("/journal/two-keepers").locator(".slot-aside-end").count() == 0


def test_a_dress_follows_a_device_that_asks_for_dark_pages(page, public):
    def grounds(window):
        """The ground of a page on a device that asks for light pages, and on one that asks for dark ones."""
        found = []
        for scheme in ("light", "dark"):
            window.emulate_media(color_scheme=scheme)
            found.append(window.locator("html").evaluate("one => getComputedStyle(one).backgroundColor"))
        return found

    assert grounds(public("/about")) == ["rgb(255, 255, 255)", "rgb(18, 26, 32)"]
    assert grounds(public("/winter-lights")) == ["rgb(255, 249, 238)", "rgb(255, 249, 238)"]


@pytest.mark.elsewhere
def test_a_font_file_is_worn_from_the_published_site(page, public):
    font = next(
        (HERE.parents[1] / "frontend/node_modules/@fontsource/ibm-plex-mono/files").glob("*latin-400-normal.woff2")
    )
    go(page, "/marrowick/site/dress")
    page.get_by_label("Font for text, from a file").set_input_files(font)
    expect(page.get_by_text(f"Took in {font.name}")).to_be_visible()
    page.get_by_role("button", name="Save dresses").click()
    expect(page.get_by_text("Saved the dresses.")).to_be_visible()
    put_live(page)
    window = public("/about")
    assert window.evaluate("document.fonts.ready.then(() => [...document.fonts].map(one => one.status))") == ["loaded"]


@pytest.mark.elsewhere
def test_columns_are_shared_by_dragging_the_line_between_them_or_by_keys(page):
    go(page, "/marrowick/pieces/site-footer")
    first, second = (page.get_by_label(f"Width of column {number} of row 1, 0 for its own") for number in (1, 2))
    line = page.get_by_role("separator", name="Line after column 1 of row 1")
    line.focus()
    page.keyboard.press("ArrowRight")
    expect(first).to_have_value("4")
    expect(second).to_have_value("2")
    box, bar = line.bounding_box(), line.locator("xpath=../..").bounding_box()
    assert box and bar
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 2.2 * bar["width"] / 12, y, steps=6)
    page.mouse.up()
    expect(first).to_have_value("2")
    expect(second).to_have_value("4")
    save_piece(page, "Site footer")
    go(page, "/marrowick/pieces/standard")
    page.get_by_role("separator", name="Line after column 1 of the grid").focus()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Width of column 2", exact=True)).to_have_value("20rem")


@pytest.mark.elsewhere
def test_a_copy_tells_how_it_differs_and_an_earlier_version_is_brought_back(page):
    go(page, "/marrowick/pieces/call-us")
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_label("Name of the copy").fill("Call the quay")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Call the quay")
    expect(page.get_by_text("A copy of Call us, alike so far")).to_be_visible()
    page.get_by_role("button", name="Heading: Somebody answers", exact=True).click()
    page.get_by_label("Heading: text").fill("Ask the quay")
    save_piece(page, "Call the quay")
    page.get_by_text("A copy of Call us, which differs").click()
    expect(page.get_by_text("heading now “Ask the quay”", exact=True)).to_be_visible()
    page.get_by_role("button", name="Versions …").click()
    versions = page.get_by_role("dialog", name="Versions of Call the quay")
    expect(versions.get_by_role("listitem")).to_have_count(2)
    versions.get_by_role("button", name=re.compile("^Bring back")).click()
    expect(page.get_by_role("button", name="Heading: Somebody answers", exact=True)).to_be_visible()
    save_piece(page, "Call the quay")
    expect(page.get_by_text("A copy of Call us, alike so far")).to_be_visible()


def write_below(page, text):
    """Write a line below the chosen markup."""
    page.get_by_role("textbox", name="Markup: markup").click()
    page.keyboard.press("Control+End")
    page.keyboard.press("Enter")
    page.keyboard.insert_text(text)


@pytest.mark.elsewhere
def test_a_piece_is_turned_into_markup_and_written_on_with_its_mistakes_marked(page, public):
    go(page, "/marrowick/pieces/legal-footer")
    page.get_by_role("button", name="Into markup").click()
    expect(page.get_by_text(re.compile("^Turned into markup, not saved yet"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Markup: ")).last.click()
    write_below(page, "{% foo %}")
    expect(page.get_by_text("unexpected tag 'foo'").first).to_be_visible()
    expect(page.locator(".cm-lintRange-error")).to_be_visible()
    for _ in "{% foo %}":
        page.keyboard.press("Backspace")
    page.keyboard.insert_text("<p class='note'>Of {{ page.ti")
    page.keyboard.press("Control+Space")
    page.get_by_role("option", name="page.title").click()
    page.keyboard.insert_text(" }}</p><script>alert(1)</script>")
    expect(page.get_by_text("Left out of this markup: 1 script.")).to_be_visible()
    page.get_by_role("textbox", name="Markup: styles").click()
    page.keyboard.insert_text(".note { color: rgb(1, 2, 3); } footer { display: none; }")
    save_piece(page, "Legal footer")
    put_live(page)
    footer = public("/legal/terms").locator("footer")
    expect(footer.get_by_text("Of Terms of carriage")).to_have_css("color", "rgb(1, 2, 3)")
    expect(footer.get_by_role("link", name="Privacy")).to_be_visible()


@pytest.mark.elsewhere
def test_what_markup_is_not_told_of_it_asks_for_as_an_item(page, public):
    go(page, "/marrowick/pieces/booking-strip")
    page.get_by_role("button", name="Into markup").click()
    expect(page.get_by_role("button", name=re.compile("^Markup: "))).to_have_count(3)
    expect(page.get_by_role("button", name=re.compile("^Opening hours"))).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Markup: .*hours")).click()
    write_below(page, '{% item {"type": "clock"} %}')
    expect(page.get_by_text("item clock, type: an item is one of").first).to_be_visible()
    page.keyboard.press("Control+z")
    page.keyboard.insert_text('{% item {"type": "languages", "label": "Read in"} %}')
    save_piece(page, "Booking strip")
    put_live(page)
    strip = public("/").locator("[data-piece=booking-strip]")
    expect(strip.locator(".hours .heading")).to_have_text("Ticket hall")
    expect(strip.get_by_role("navigation", name="Read in")).to_be_visible()


@pytest.mark.elsewhere
def test_a_piece_is_replaced_on_some_pages_by_a_rule_that_is_seen_first(page, public):
    go(page, "/marrowick/pieces/site-footer")
    page.get_by_role("button", name="Replace …").click()
    dialog = page.get_by_role("dialog", name="Replace Site footer")
    dialog.get_by_role("button", name="On some pages").click()
    dialog.get_by_label("On which pages it is replaced").fill("page:/about,/contact")
    dialog.get_by_role("option", name=re.compile("^Legal footer")).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Legal footer instead of Site footer")
    expect(page.get_by_role("complementary", name="Reach")).to_contain_text("2pages reached")
    save_rule(page)
    expect(page.get_by_text("Saved Legal footer instead of Site footer")).to_be_visible()
    put_live(page)
    shown = [
        public(path).locator("footer [data-piece]").first.get_attribute("data-piece") for path in ("/about", "/routes")
    ]
    assert shown == ["legal-footer", "site-footer"]
