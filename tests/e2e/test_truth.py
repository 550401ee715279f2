"""What the application says is so: changes for everyone, picks, pins, places, the lens, what is saved and what is not."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import (
    HERE,
    Held,
    add_action,
    another_person,
    cell,
    choose,
    go,
    make_rules,
    put_live,
    save_rule,
    search,
    set_moment,
)
from .test_jobs import new_rule, publish

STRIPPED = '{"items": [{"type": "text", "text": "Marrowick, by water"}]}'


def side(page, name):
    return page.get_by_role("complementary", name=name)


def shown_side(page, state):
    """The rendered page of one side of the preview."""
    return page.get_by_role("region", name=state).frame_locator("iframe")


def save_piece(page, name):
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text(f"Saved {name}")).to_be_visible()


@pytest.mark.elsewhere
def test_a_save_after_a_refused_publication_is_seen(page):
    new_rule(page, "First", "page:/about", ("Footer", "leave empty", ""))
    page.get_by_role("link", name="Publish").click()
    other = another_person(page)
    # Somebody saves while the publication is on its way: earlier, this window could hear of it by itself.
    publication = Held(page, "**/revisions", "POST")
    with page.expect_request(lambda asked: asked.url.endswith("/revisions") and asked.method == "POST"):
        page.get_by_role("button", name="Publish 1 edit, 1 page").click()
    bare = {"do": "empty", "slot": "footer"}
    make_rules(other, {"name": "Meanwhile", "condition": {"include": "page:/contact"}, "actions": [bare]})
    publication.let_go()
    expect(page.get_by_text("The draft was edited while you looked at it")).to_be_visible()
    expect(page.get_by_role("button", name="Publish 2 edits, 2 pages")).to_be_visible()
    new_rule(page, "After the refusal", "page:/help", ("Footer", "leave empty", ""))
    go(page, "/marrowick/pages?path=/help&target=footer")
    expect(side(page, "Why: Footer on /help")).to_contain_text("Left empty by After the refusal")


@pytest.mark.elsewhere
def test_an_edit_of_a_shared_header_is_counted_on_every_page_that_shows_it(page, public):
    go(page, "/marrowick/pieces/main-header")
    page.get_by_role("button", name=re.compile("^Logo")).click()
    page.get_by_label("Logo: name").fill("Marrowick by water")
    save_piece(page, "Main header")
    page.get_by_role("link", name="Publish").click()
    expect(page.get_by_role("heading", name=re.compile(r"Looks different on 1\d\d pages"))).to_be_visible()
    drawn = page.get_by_role("list", name="Drawn differently")
    expect(drawn.get_by_role("listitem").first).to_contain_text("Main header")
    expect(page.get_by_role("button", name=re.compile(r"Publish 1 edit, 1\d\d pages"))).to_be_visible()
    go(page, "/marrowick/preview?path=/about&beside=live")
    expect(shown_side(page, "Draft").locator("header")).to_contain_text("Marrowick by water")
    expect(shown_side(page, "Live").locator("header")).not_to_contain_text("Marrowick by water")
    expect(page.get_by_role("region", name="Draft")).to_contain_text("differs from live in Main header")
    go(page, "/marrowick/preview?path=/tickets/pay&beside=live")
    expect(page.get_by_role("region", name="Draft")).to_contain_text(
        "same as live for this visitor, now; differs for visitors with the role crew"
    )
    publish(page)
    expect(public("/about").locator("header")).to_contain_text("Marrowick by water")
    go(page, "/marrowick/preview?path=/about&beside=live")
    expect(page.get_by_role("region", name="Draft")).to_contain_text("same as live, for everyone from now on")


@pytest.mark.elsewhere
def test_changes_say_for_whom_and_when(page):
    go(page, "/marrowick/rules")
    page.get_by_role("button", name="New rule").click()
    page.get_by_label("Name of the rule").fill("Night routes")
    page.get_by_label("Include, as text").fill("page:/routes")
    page.get_by_label("Visitors, as text", exact=True).fill("browser:firefox")
    add_action(page)
    choose(page.get_by_label("Place on the page"), "Footer")
    choose(page.get_by_label("What to do with Footer"), "leave empty")
    page.get_by_role("button", name="always", exact=True).click()
    page.get_by_label("Repeats", exact=True).fill("FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR")
    page.keyboard.press("Tab")
    expect(page.get_by_label("For", exact=True)).to_be_focused()
    expect(page.get_by_label("For", exact=True)).to_have_value("")
    # What is written as text and left has a first time and a length by itself.
    page.keyboard.press("Tab")
    expect(page.get_by_label("For", exact=True)).to_have_value("P1D")
    expect(page.get_by_role("status", name="Next times")).to_contain_text("Next: ")
    set_moment(page, "First", "2026-11-02T22:00")
    page.get_by_label("For", exact=True).fill("PT12H")
    save_rule(page)
    expect(page.get_by_text("Saved Night routes")).to_be_visible()
    page.get_by_role("link", name="Publish").click()
    whom = page.get_by_role("list", name="For whom, when and where")
    expect(whom.get_by_role("listitem")).to_contain_text(["Firefox visitors, weeknights from 22:00 to 10:00"])
    whom.get_by_role("button", name="1 page").click()
    expect(whom.get_by_role("link", name="/routes")).to_be_visible()


def test_a_picked_page_means_that_page(page):
    search(page, "dogs")
    page.get_by_label("Pick Dogs and other animals").click()
    bar = page.get_by_role("region", name="Picked pages")
    expect(bar.get_by_role("button", name="exactly this page")).to_have_attribute("aria-pressed", "true")
    expect(bar.get_by_role("button", name=re.compile("^right below Help"))).to_contain_text("+ 11 pages")
    bar.get_by_role("button", name="Put a piece on 1 page").click()
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    expect(side(page, "Reach").get_by_role("status")).to_contain_text("1page reached")
    expect(page.get_by_label("Include, as text")).to_have_text("page:/help/dogs")
    expect(page.get_by_label("Name of the rule")).to_have_value("Slim header on /help/dogs")
    # A wider one is a choice, said with its number.
    page.get_by_role("link", name="Pages", exact=True).click()
    bar.get_by_role("button", name=re.compile("^right below Help")).click()
    expect(bar.get_by_role("button", name="Put a piece on 12 pages")).to_be_visible()


def test_a_pin_is_changed_added_to_and_taken_off_where_it_stands(page):
    rules = page.get_by_label("Rules, the highest first")
    go(page, "/marrowick/pages?path=/about&target=header")
    trace = side(page, re.compile("^Why"))
    page.get_by_role("button", name="Pin a header", exact=True).click()
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    expect(trace).to_contain_text("Pinned here: Slim header")
    page.get_by_role("button", name="Change the pin").click()
    page.get_by_role("option", name=re.compile("^Night header")).click()
    expect(trace).to_contain_text("Pinned here: Night header")
    expect(trace).not_to_contain_text("Pinned here: Slim header")
    # A second target goes into the same rule.
    cell(page, "About us", "Footer").click()
    page.get_by_role("button", name="Pin a footer").click()
    page.get_by_role("button", name="Leave it empty here").click()
    expect(trace).to_contain_text("Pinned here: Footer left empty")
    page.get_by_role("link", name="Rules").click()
    expect(rules.get_by_role("link", name=re.compile("^Pin: .about"))).to_have_count(0)
    rules.get_by_role("button", name=re.compile(r"\d pins")).click()
    expect(rules.get_by_role("link", name=re.compile("^Pin: .about"))).to_have_count(1)
    # From the preview: the first goes, the rule stays; the last goes, and the rule with it.
    go(page, "/marrowick/preview?path=/about&target=header")
    page.get_by_role("button", name="Take the pin off").click()
    expect(trace).to_contain_text("Main header by Site header")
    go(page, "/marrowick/preview?path=/about&target=footer")
    expect(trace).to_contain_text("Pinned here: Footer left empty")
    page.get_by_role("button", name="Take the pin off").click()
    expect(trace).to_contain_text("Site footer by Site footer")
    page.get_by_role("link", name="Rules").click()
    expect(page.get_by_text("Pin: /about")).to_have_count(0)


@pytest.mark.elsewhere
def test_a_pin_that_could_not_show_says_what_stands_in_the_way(page, demo):
    demo.run(str(HERE / "arrange.py"), "/contact", "lock", "header")
    go(page, "/marrowick/pages?path=/contact&target=header")
    trace = side(page, re.compile("^Why"))
    expect(trace).to_contain_text("The ticket shop owns this slot here, so nothing can be pinned. It sells from there.")
    expect(page.get_by_role("button", name=re.compile("^Pin"))).to_have_count(0)
    summer = {"do": "fill", "slot": "header", "piece": "summer-header"}
    make_rules(page, {"name": "Everywhere", "condition": {"include": "all"}, "priority": 7, "actions": [summer]})
    page.goto("/marrowick/pages?path=/about&target=header")
    expect(trace).to_contain_text("A pin would not decide this by itself.")
    expect(trace).to_contain_text("Everywhere is stronger, on priority, for everyone.")
    page.get_by_role("button", name="Pin a header at priority 8").click()
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    expect(trace).to_contain_text("Slim header by Pin: /about")
    # A stronger addition would stay in a slot that is left empty.
    go(page, "/marrowick/pages?path=/about&target=above-footer")
    page.get_by_role("button", name=re.compile("^Pin a widget")).click()
    expect(page.get_by_role("dialog", name="Pin on /about")).to_contain_text("Winter notice would still be added")
    page.get_by_role("button", name="Leave it empty here, at priority 11").click()
    expect(trace).to_contain_text("Left empty by Pin: /about")


def test_nothing_else_reaches_this_page_is_said_only_where_it_is_so(page):
    trace = side(page, re.compile("^Why"))
    go(page, "/marrowick/pages?path=/about&target=header")
    expect(trace).to_contain_text("nothing else reaches this page")
    # Crew see another header here; for a signed-out visitor that rule is only not for them.
    go(page, "/marrowick/pages?path=/crew/rota&target=header")
    expect(trace).to_contain_text("no other rule that reaches this page is in force here now")


@pytest.mark.elsewhere
def test_reach_says_where_nothing_shows_and_offers_what_would(page):
    new_rule(page, "Help while paying", "page:/tickets/pay", ("Aside start", "fill with", "Help desk"))
    reach = side(page, "Reach")
    expect(reach.get_by_role("status")).to_contain_text("1page reached0where it wins and shows")
    expect(reach).to_contain_text("No place on 1 page. The template of these pages has no aside start")
    rules = page.get_by_label("Rules, the highest first")
    expect(rules.get_by_role("link", name="Help while paying no place on the page it wins")).to_be_visible()
    expect(reach.get_by_text("no place here")).to_be_visible()
    reach.get_by_role("button", name="+ use Reading too").click()
    expect(reach.get_by_role("status")).to_contain_text("1page reached1where it wins and shows")
    expect(reach).not_to_contain_text("No place")


@pytest.mark.elsewhere
def test_the_lens_is_whole(page):
    go(
        page,
        "/marrowick/pages?visitor=signed:in+role:crew+browser:firefox+accepts:nb,en+query.campaign:spring+referrer:news.example",
    )
    lens = page.get_by_label("Seen by", exact=True)
    for words in ("Signed-in crew", "Desktop", "Firefox", "reads nb, en", "campaign=spring", "from news.example"):
        expect(lens).to_contain_text(words)
    page.keyboard.press("l")
    dialog = page.get_by_role("dialog", name="The lens")
    expect(dialog.get_by_label("Reads languages")).to_have_value("nb, en")
    expect(dialog.get_by_role("combobox", name="Browser")).to_have_text("Firefox")
    dialog.get_by_role("button", name="phone").click()
    expect(lens).to_contain_text("Phone")
    dialog.get_by_label("In the address").fill("campaign=winter ref=mail")
    dialog.get_by_label("In the address").press("Enter")
    for words in ("Signed-in crew", "Firefox", "reads nb, en", "campaign=winter, ref=mail", "from news.example"):
        expect(lens).to_contain_text(words)
    expect(page).to_have_url(re.compile("query.campaign%3Awinter"))
    # What cannot be read says so, and leads back.
    page.goto("/marrowick/pages?visitor=role:crew")
    expect(lens).to_contain_text("a visitor that cannot be read")
    lens.get_by_role("button").first.click()
    dialog.get_by_role("button", name="See it as the usual visitor, now").click()
    expect(lens).to_contain_text("Signed-out visitor")


@pytest.mark.elsewhere
def test_the_specificity_of_a_rule_does_not_hang_on_the_lens(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=re.compile("^Crew at work")).click()
    shown = page.get_by_label("The condition as a sentence").get_by_text(re.compile("specificity"))
    out = shown.text_content()
    page.keyboard.press("l")
    crew = page.get_by_role("dialog", name="The lens").get_by_label("crew", exact=True)
    # It is drawn as chosen once the address says so.
    crew.click()
    expect(crew).to_be_checked()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Signed-in crew")).to_be_visible()
    expect(shown).to_have_text(out or "")


@pytest.mark.elsewhere
def test_unsaved_edits_are_marked_kept_and_never_overwritten(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=re.compile("^Legal")).click()
    page.get_by_label("Why the rule is there").fill("Lawyers asked")
    page.get_by_role("button", name="New rule").click()
    for name in ("Half a thought", "Another thought"):
        expect(page.get_by_label("Name of the rule")).not_to_have_value("Legal")
        expect(page.get_by_label("Name of the rule")).to_have_value("")
        page.get_by_label("Name of the rule").fill(name)
        if name == "Half a thought":
            page.get_by_role("button", name="New rule").click()
    rules = page.get_by_label("Rules, the highest first")
    for name in ("Half a thought", "Another thought"):
        expect(rules.get_by_role("link", name=f"{name} new, not saved yet")).to_be_visible()
    expect(rules.get_by_role("link", name=re.compile("^Legal edited, not saved"))).to_be_visible()
    go(page, "/marrowick/pieces/site-footer")
    page.get_by_label("Note").fill("For all")
    page.get_by_role("link", name="All pieces").click()
    expect(page.get_by_role("button", name=re.compile("Site footer.*edited, not saved"))).to_be_visible()
    expect(page.get_by_role("banner")).to_contain_text("4 unsaved, draft and live are the same")
    # The tab is closed; another one of the same person has everything.
    context = page.context
    again = context.new_page()
    page.close()
    again.goto("/marrowick/publish")
    waiting = again.get_by_role("region", name="Not saved")
    expect(waiting).to_contain_text("4 edits not saved, so not published")
    waiting.get_by_role("link", name="Half a thought").click()
    expect(again.get_by_label("Name of the rule")).to_have_value("Half a thought")
    again.get_by_role("button", name="Drop it").click()
    expect(again.get_by_role("banner")).to_contain_text("3 unsaved")
    again.get_by_role("link", name=re.compile("^Legal")).click()
    again.get_by_role("button", name="Save rule").click()
    expect(again.get_by_role("banner")).to_contain_text("2 unsaved, 1 saved and not live")
    expect(again.get_by_text("Saved Legal")).to_be_visible()
    again.get_by_label("Priority", exact=True).focus()
    again.keyboard.press("ArrowUp")
    expect(again.get_by_text("Saved Legal")).to_have_count(0)


@pytest.mark.elsewhere
def test_a_template_without_a_slot_is_one(page, public):
    go(page, "/marrowick/pieces")
    page.get_by_role("button", name="New piece").click()
    form = page.get_by_role("form", name="New piece")
    choose(form.get_by_label("Kind"), "template")
    form.get_by_label("Name").fill("Content alone")
    form.get_by_role("button", name="Make it").click()
    boxes = page.get_by_role("group", name="Slots that its pages have").get_by_role("checkbox")
    expect(boxes.first).to_be_checked()
    for number in range(boxes.count()):
        boxes.nth(number).set_checked(False)
    save_piece(page, "Content alone")
    page.reload()
    expect(boxes.first).not_to_be_checked()
    assert not any(boxes.nth(number).is_checked() for number in range(boxes.count()))
    alone = {"do": "use", "template": "content-alone"}
    make_rules(page, {"name": "Alone", "condition": {"include": "page:/about"}, "actions": [alone]})
    put_live(page)
    window = public("/about")
    expect(window.locator("main")).to_contain_text("A small ferry company")
    assert window.locator("header, footer, aside").count() == 0
    expect(window.get_by_role("heading", level=1)).to_have_count(1)


@pytest.mark.elsewhere
def test_enter_begins_a_new_row_of_areas(page):
    go(page, "/marrowick/pieces/standard")
    areas = page.get_by_label("Areas")
    before = areas.input_value()
    areas.focus()
    page.keyboard.press("Control+End")
    page.keyboard.press("Enter")
    first = before.splitlines()[-1].split()
    page.keyboard.type(" ".join(["below-header"] * len(first)))
    expect(areas).to_have_value(f"{before}\n{' '.join(['below-header'] * len(first))}")


def test_offers_never_cover_what_is_found_and_words_come_first(page):
    field = page.get_by_label("Find pages")
    field.fill("type")
    expect(page.get_by_role("listbox", name="What fits")).to_have_count(0)
    page.keyboard.press("Control+ ")
    offers = page.get_by_role("listbox", name="What fits")
    expect(offers.get_by_role("option").first).to_contain_text("type")
    field.fill("type:c")
    expect(offers.get_by_role("option").first).to_contain_text("crew")
    box, head = offers.bounding_box(), page.get_by_role("columnheader", name="Page").bounding_box()
    assert box["y"] + box["height"] <= head["y"]
    # What is written out is offered no more; a topic that is written like a fact is meant as a term.
    field.fill("type:crew")
    expect(offers).to_have_count(0)
    field.fill("topic:fo")
    expect(offers.get_by_role("option").first).to_contain_text("term:topic/food")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(field).to_have_value("term:topic/food")
    expect(offers).to_have_count(0)
    # What is found does not move under the pointer that goes to it.
    field.fill("type:crew page:")
    expect(offers).to_be_visible()
    page.get_by_role("columnheader", name="Page").click()
    expect(offers).to_be_visible()


@pytest.mark.elsewhere
def test_a_rule_is_never_saved_half_made_and_keeps_its_piece_where_it_fits(page):
    go(page, "/marrowick/rules")
    page.get_by_role("button", name="New rule").click()
    page.get_by_label("Name of the rule").fill("Widgets")
    page.get_by_label("Include, as text").fill("page:/about")
    add_action(page)
    expect(page.get_by_label("Place on the page")).to_have_text("choose where …")
    save = page.get_by_role("button", name="Save rule")
    expect(save).to_be_disabled()
    expect(page.get_by_text("Waits: 1 line of what it does not complete yet")).to_be_visible()
    choose(page.get_by_label("Place on the page"), "Before content")
    page.get_by_role("button", name="Piece for Before content").click()
    page.get_by_role("option", name=re.compile("^Winter notice")).click()
    expect(save).to_be_enabled()
    choose(page.get_by_label("Place on the page"), "After content")
    expect(page.get_by_role("button", name="Piece for After content")).to_contain_text("Winter notice")
    choose(page.get_by_label("What to do with After content"), "add after")
    expect(page.get_by_role("button", name="Piece for After content")).to_contain_text("Winter notice")
    choose(page.get_by_label("Place on the page"), "Header")
    expect(page.get_by_role("button", name="Piece for Header")).to_contain_text("Winter notice")
    choose(page.get_by_label("What to do with Header"), "fill with")
    expect(save).to_be_disabled()


def test_views_are_found_as_they_were_left(page):
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("dialog", name="Columns").get_by_label("Below header").click()
    page.keyboard.press("Escape")
    search(page, "contact")
    expect(page.locator(".grid[aria-busy=true]")).to_have_count(0)
    page.get_by_label("Pick Contact").click()
    cell(page, "Contact", "Below header").click()
    page.get_by_role("link", name="Rules").click()
    page.get_by_label("Find rules").fill("crew")
    page.get_by_role("link", name="Preview").click()
    expect(page.frame_locator("iframe").get_by_role("heading", name="Contact")).to_be_visible()
    page.get_by_role("link", name="Pages", exact=True).click()
    expect(page.get_by_label("Find pages")).to_have_value("contact")
    expect(page.get_by_role("columnheader", name="Below header")).to_be_visible()
    expect(page.get_by_role("region", name="Picked pages")).to_contain_text("1 page picked")
    page.get_by_role("link", name="Rules").click()
    expect(page.get_by_label("Find rules")).to_have_value("crew")


@pytest.mark.elsewhere
@pytest.mark.parametrize(
    ("address", "says"),
    [
        ("/marrowick/nowhere", "There is nothing at this address"),
        ("/marrowick/rules/99999", "This rule is not there any more"),
        ("/marrowick/pieces/none", "There is no piece none"),
        ("/marrowick/pages?path=/none&target=header", "There is no page /none"),
        ("/marrowick/pages?path=/about&target=none", "there is no slot none"),
        ("/elsewhere/pages", "There is no site elsewhere"),
    ],
)
def test_an_unknown_address_says_so(page, address, says):
    go(page, address)
    expect(page.get_by_text(says).first).to_be_visible()


def test_the_focus_goes_back_where_it_was(page):
    page.get_by_role("grid").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Close the trace").press("Enter")
    expect(page.get_by_role("grid")).to_be_focused()
    go(page, "/marrowick/pages?path=/about&target=header")
    button = page.get_by_role("button", name="Pin a header", exact=True)
    button.press("Enter")
    page.keyboard.press("Escape")
    expect(button).to_be_focused()


def test_the_frame_of_the_list_stands_before_its_pages(page):
    layouts = Held(page, "**/layout?*")
    page.goto("/marrowick/pages?at=2027-01-01T00:00")
    frame = page.locator(".grid[aria-busy=true]:not([role])")
    expect(frame).to_contain_text("Header")
    layouts.let_go()
    expect(page.get_by_role("grid")).to_be_visible()
    expect(frame).to_have_count(0)


def test_counts_say_nothing_while_they_are_not_known(page):
    counts = Held(page, "**/piece-pages*")
    go(page, "/marrowick/pieces")
    card = page.get_by_role("button", name=re.compile("^Main header"))
    expect(card).to_be_visible()
    expect(card).not_to_contain_text("page")
    expect(card).not_to_contain_text("nowhere")
    counts.let_go()
    expect(card).to_contain_text(re.compile(r"\d+ pages"))


@pytest.mark.elsewhere
def test_a_slot_in_the_content_is_offered_and_drawn_in_its_place(page, demo, public):
    demo.run(str(HERE / "arrange.py"), "/about", "slot", "harbour-news")
    new_rule(page, "News", "page:/about", ("Harbour news", "fill with", "Winter notice"))
    put_live(page)
    main = public("/about").locator("main")
    expect(main.locator("[data-slot=harbour-news]")).to_contain_text("Winter timetable")
    text = main.inner_text()
    assert text.index("Above the place") < text.index("Winter timetable") < text.index("Below the place")
    assert "Nothing here today" not in text


_COVERING = {
    "/about": '<svg viewBox="0 0 9 9" transform="scale(60)"><rect width="9" height="9"></rect></svg>',
    "/contact": '<svg width="9000" height="9000"><rect x="-4000" y="-4000" width="9000" height="9000"></rect></svg>',
    "/help": '<p class="tag" style="position:fixed;inset:0;background:red">Mine</p>',
    "/accessibility": '<p class="unseen outlined slot grid">Mine</p>' * 50,
    "/bring-your-bike": '<table width="9000" align="left"><tr><td>' + "Mine" * 900 + "</td></tr></table>",
}


def test_no_content_covers_what_is_not_its_own(page, demo, public):
    for path, markup in _COVERING.items():
        demo.run(str(HERE / "arrange.py"), path, "content", markup)
    put_live(page)
    for path in _COVERING:
        window = public(path)
        for region in ("header", "footer"):
            window.locator(region).scroll_into_view_if_needed()
            assert window.evaluate(
                """(region) => {
                    const box = document.querySelector(region).getBoundingClientRect();
                    const points = [[0.02, 0.5], [0.5, 0.5], [0.98, 0.5]];
                    return points.every(([x, y]) => document
                        .elementFromPoint(box.left + box.width * x, box.top + box.height * y)?.closest(region));
                }""",
                region,
            ), path


@pytest.mark.elsewhere
def test_a_page_whose_title_is_left_empty_keeps_a_heading_for_those_who_cannot_see(page, public):
    none = {"do": "empty", "slot": "title"}
    make_rules(page, {"name": "No title", "condition": {"include": "page:/about"}, "actions": [none]})
    put_live(page)
    heading = public("/about").get_by_role("heading", level=1)
    expect(heading).to_have_text("About us")
    box = heading.bounding_box()
    assert (box["width"], box["height"]) == (1, 1)


@pytest.mark.elsewhere
def test_a_write_makes_the_page_list_ask_for_its_layout_once(page):
    go(page, "/marrowick/pages?path=/about&target=header")
    button = page.get_by_role("button", name="Pin a header", exact=True)
    expect(button).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("that look like this$"))).to_be_visible()
    asked = []
    page.on("request", lambda request: "/layout?" in request.url and asked.append(request.url))
    button.click()
    page.get_by_role("option", name=re.compile("^Slim header")).click()
    expect(cell(page, "About us", "Header")).to_have_attribute("aria-label", "Header: Slim header")
    expect(page.get_by_text("Pinned on /about")).to_be_visible()
    page.wait_for_load_state("networkidle")
    # The columns of the list first; then all of them, as the trace tells of pages that look the same in everything.
    assert [address.endswith("targets=") for address in asked] == [False, True]


def test_two_navrels_on_one_host_do_not_sign_each_other_out(page, demo):
    names = {cookie["name"] for cookie in page.context.cookies()}
    assert names == {"navrel-session", "navrel-csrf"} or all(re.search(r"\d$", name) for name in names)
