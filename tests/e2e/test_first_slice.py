"""The main job from end to end, and what the interface does with mistakes, hostile texts and the keyboard."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import Held, add_item, another_person, cell, choose, go, passer_by, search


def strips(page, target="header"):
    """What every page of the site gets for a target, by path, as the interface is told."""
    return page.evaluate(
        """async (target) => {
            const tree = await (await fetch('/api/sites/marrowick/pages')).json();
            const layout = await (await fetch(`/api/sites/marrowick/layout?targets=${target}`)).json();
            const column = layout.columns[0];
            return Object.fromEntries(tree.paths.map((path, n) => [path, column.outcomes[column.codes[n]].pieces.join()]));
        }""",
        target,
    )


def pick_by_title(page, part, title):
    search(page, part)
    expect(page.get_by_role("status").filter(has_text=" of 132 pages")).to_be_visible()
    page.get_by_label(f"Pick {title}", exact=True).click()


def test_w02_a_header_from_a_copy_reaches_two_pages_found_by_their_titles(page, demo):
    before = strips(page)
    # A header from a copy; a taken name is refused with its reason first.
    page.get_by_role("link", name="Pieces").click()
    page.get_by_role("button", name=re.compile("Main header")).click()
    page.get_by_role("button", name="Copy", exact=True).click()
    page.get_by_label("Name of the copy").fill("Slim header")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_role("alert")).to_have_text("there is already a header called Slim header")
    page.get_by_label("Name of the copy").fill("Festival header")
    page.get_by_role("button", name="Make the copy").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("Festival header")
    page.get_by_role("button", name=re.compile("^Logo")).click()
    page.get_by_label("Logo: name").fill("Marrowick at night")
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text("Saved Festival header")).to_be_visible()

    # Two pages found by typing part of their titles.
    page.get_by_role("link", name="Pages", exact=True).click()
    pick_by_title(page, "winter li", "Winter lights")
    pick_by_title(page, "spring sail", "Spring sailings")
    search(page, "")
    bar = page.get_by_role("region", name="Picked pages")
    expect(bar).to_contain_text("2 pages picked")
    expect(bar.get_by_role("button", name="exactly these 2 pages")).to_have_attribute("aria-pressed", "true")
    bar.get_by_role("button", name="Put a piece on 2 pages").click()
    page.get_by_label("Piece to put on these pages").get_by_role("option", name=re.compile("Festival header")).click()

    # The rule stands in the editor with its reach, for signed-out visitors only.
    expect(page.get_by_role("complementary", name="Reach")).to_contain_text("2pages reached")
    page.get_by_label("Name of the rule").fill("Festival")
    page.get_by_label("Visitors, as text", exact=True).fill("signed:out")
    expect(page.get_by_role("button", name="signed out", exact=True)).to_be_visible()
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_text("Saved Festival. It is in the draft, not live yet.")).to_be_visible()

    # The strip changed on those two and on nothing else.
    after = strips(page)
    changed = {path for path in after if after[path] != before[path]}
    assert changed == {"/spring-sailings", "/winter-lights"}
    assert {after[path] for path in changed} == {"festival-header"}
    page.get_by_role("link", name="Pages", exact=True).click()
    search(page, "page:/winter-lights,/search")
    expect(cell(page, "Winter lights", "Header")).to_have_attribute("aria-label", "Header: Festival header")
    expect(cell(page, "Search results", "Header")).to_have_attribute("aria-label", "Header: Main header")

    # The trace says why.
    cell(page, "Winter lights", "Header").click()
    trace = page.get_by_role("complementary", name="Why: Header on /winter-lights")
    expect(trace).to_contain_text("Festival header by Festival")
    expect(trace).to_contain_text("decided on specificity over Site header")
    expect(trace).to_contain_text("1 · 0 · 0 · 1")

    # A signed-in visitor does not get it.
    page.keyboard.press("l")
    page.get_by_role("button", name="Signed in", exact=True).click()
    page.keyboard.press("Escape")
    expect(trace).to_contain_text("Main header by Site header")
    expect(trace).to_contain_text("only for other visitors")
    go(page, "/marrowick/pages?path=/winter-lights&target=header")

    # One changed page and one unchanged one, previewed.
    page.get_by_role("link", name="Look at the page").click()
    shown = page.frame_locator("iframe")
    expect(shown.locator("header")).to_contain_text("Marrowick at night")
    finder = page.get_by_label("Page to look at")
    finder.fill("bring your")
    page.get_by_role("option", name=re.compile("Bring your bike")).click()
    expect(page).to_have_url(re.compile("path=%2Fbring-your-bike"))
    expect(shown.get_by_role("heading", name="Bring your bike")).to_be_visible()
    expect(shown.locator("header")).not_to_contain_text("Marrowick at night")

    # Not live before it is published; then on the one and not on the other.
    public = passer_by(page)
    public.goto(f"{demo.published}/winter-lights")
    expect(public.locator("header")).not_to_contain_text("Marrowick at night")
    page.get_by_role("link", name="Publish").click()
    expect(page.get_by_text("Festival: made", exact=True).first).to_be_visible()
    expect(page.get_by_text("Festival header: made", exact=True).first).to_be_visible()
    expect(page.get_by_role("heading", name="Looks different on 2 pages")).to_be_visible()
    page.get_by_label("Note for whoever looks back").fill("For the festival")
    page.get_by_role("button", name="Publish 3 edits, 2 pages").click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    expect(page.get_by_text("draft and live are the same")).to_be_visible()
    expect(page.get_by_role("complementary", name="Revisions")).to_contain_text("For the festival")
    public.reload()
    expect(public.locator("header")).to_contain_text("Marrowick at night")
    public.goto(f"{demo.published}/bring-your-bike")
    expect(public.locator("header")).to_contain_text("Marrowick Ferries")
    expect(public.locator("header")).not_to_contain_text("Marrowick at night")


def test_a_mistake_in_a_query_is_shown_at_its_column_and_nothing_is_saved(page):
    search(page, "type:article colour:red")
    expect(page.get_by_role("alert")).to_contain_text("Column 14: there is no fact colour")
    expect(page.get_by_role("status").filter(has_text="132 pages")).to_be_visible()
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("link", name=re.compile("^Legal")).click()
    include = page.get_by_label("Include, as text")
    include.fill('within:"/legal')
    expect(page.get_by_role("alert")).to_contain_text("Column 8: this quote is never closed")
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_text("column 8: this quote is never closed", exact=False).last).to_be_visible()
    page.get_by_role("button", name="Back to saved").click()
    expect(include).to_have_text("within:/legal")


@pytest.mark.elsewhere
def test_a_sentence_is_edited_by_its_tokens_and_its_text_alike(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=re.compile("^Legal")).click()
    reach = page.get_by_role("complementary", name="Reach")
    expect(reach).to_contain_text("7pages reached")
    page.get_by_role("button", name="+ or", exact=True).click()
    editor = page.get_by_role("dialog", name="A new term")
    editor.get_by_label("Value", exact=True).fill("imprint")
    editor.get_by_role("button", name="author", exact=True).click()
    editor.get_by_label("Value", exact=True).fill("maren")
    editor.get_by_role("option", name=re.compile("maren-dufay")).click()
    editor.get_by_role("button", name="Done").click()
    expect(page.get_by_label("Include, as text")).to_have_text("within:/legal | author:maren-dufay")
    expect(reach).to_contain_text("since last save")
    expect(reach.get_by_text("new", exact=True).first).to_be_visible()
    page.get_by_label("Include, as text").fill("within:/legal")
    expect(page.get_by_role("button", name="author maren-dufay")).to_have_count(0)
    expect(reach).to_contain_text("7pages reached")


@pytest.mark.elsewhere
def test_two_people_saving_one_rule_lose_nothing(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=re.compile("^Campaigns")).click()
    page.get_by_label("Why the rule is there").fill("mine")
    page.get_by_label("Include, as text").fill("type:campaign -page:/bring-your-bike")
    other = another_person(page)
    other.goto(page.url)
    other.get_by_label("Why the rule is there").fill("theirs")
    other.get_by_label("Exclude, as text").fill("page:/spring-sailings")
    other.get_by_role("button", name="Save rule").click()
    expect(other.get_by_text("Saved Campaigns")).to_be_visible()
    page.get_by_role("button", name="Save rule").click()
    conflict = page.get_by_role("alert", name="Changed meanwhile")

    def part(name, who):
        found = conflict.get_by_role("group", name=f"{name} {who}")
        return found.get_by_role("radio", name=re.compile("^Yours")), found.get_by_role(
            "radio", name=re.compile("^Theirs")
        )

    # What only one of two changed stands chosen; where both did, mine does until I say otherwise.
    mine, _ = part("Condition, include", "only you changed it")
    expect(mine).to_be_checked()
    _, theirs = part("Condition, exclude", "only they changed it")
    expect(theirs).to_be_checked()
    mine, theirs = part("Note", "both changed it")
    expect(mine).to_be_checked()
    theirs.check()
    expect(conflict.get_by_role("group")).to_have_count(3)
    conflict.get_by_role("button", name="Save both together").click()
    expect(page.get_by_text("Saved Campaigns")).to_be_visible()
    expect(conflict).to_have_count(0)
    other.reload()
    for window in (other, page):
        expect(window.get_by_label("Why the rule is there")).to_have_value("theirs")
        expect(window.get_by_label("Include, as text")).to_have_text("type:campaign -page:/bring-your-bike")
        expect(window.get_by_label("Exclude, as text")).to_have_text("page:/spring-sailings")
    expect(page.get_by_text("not saved yet")).to_have_count(0)


@pytest.mark.elsewhere
def test_two_people_saving_one_piece_put_both_together(page):
    go(page, "/marrowick/pieces/call-us")
    page.get_by_label("Note").fill("mine")
    other = another_person(page)
    other.goto(page.url)
    other.get_by_label("Name of the piece").fill("Ring us")
    other.get_by_role("button", name="Save piece").click()
    expect(other.get_by_text(re.compile("^Saved Ring us"))).to_be_visible()
    page.get_by_role("button", name="Save piece").click()
    conflict = page.get_by_role("alert", name="Changed meanwhile")
    expect(conflict.get_by_role("group")).to_have_count(2)
    conflict.get_by_role("button", name="Save both together").click()
    expect(page.get_by_text(re.compile("^Saved "))).to_be_visible()
    # The other window shows it by itself.
    expect(other.get_by_label("Name of the piece")).to_have_value("Ring us")
    expect(other.get_by_role("textbox", name="Note")).to_have_value("mine")


@pytest.mark.elsewhere
def test_an_unsaved_edit_survives_a_reload(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=re.compile("^Campaigns")).click()
    page.get_by_label("Name of the rule").fill("Offers")
    page.reload()
    expect(page.get_by_label("Name of the rule")).to_have_value("Offers")
    expect(page.get_by_text("Edited, not saved yet")).to_be_visible()


def test_the_lens_resolves_everything_anew(page):
    search(page, "within:/crew")
    expect(cell(page, "The rota", "Header")).to_have_attribute("aria-label", "Header: Main header")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Signed-out visitor").click()
    page.get_by_label("crew", exact=True).click()
    expect(page.get_by_label("crew", exact=True)).to_be_checked()
    page.keyboard.press("Escape")
    expect(cell(page, "The rota", "Header")).to_have_attribute("aria-label", "Header: Crew header")
    expect(page).to_have_url(re.compile("visitor=signed%3Ain"))


@pytest.mark.elsewhere
def test_closed_sections_are_summed_up(page):
    go(page, "/marrowick/pages?path=/journal&target=aside-end")
    header = cell(page, "Journal", "Aside end")
    expect(header).to_have_attribute("aria-label", "Aside end: Latest stories on 25, Harbour food on 6")
    page.get_by_role("button", name="Open Journal").click()
    expect(header).to_have_attribute("aria-label", "Aside end: Latest stories")
    expect(page.get_by_label("Pick A card for the purser", exact=True)).to_be_visible()


def test_the_keyboard_alone_is_enough_to_find_explain_and_pin(page):
    page.keyboard.press("/")
    expect(page.get_by_label("Find pages")).to_be_focused()
    page.keyboard.type("imprint")
    expect(page.get_by_role("status").filter(has_text="1 of 132 pages")).to_be_visible()
    page.get_by_role("grid").focus()
    page.keyboard.press("Home")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    trace = page.get_by_role("complementary", name="Why: Footer on /legal/imprint")
    expect(trace).to_contain_text("Legal footer by Legal")
    page.get_by_role("grid").focus()
    page.keyboard.press("p")
    expect(page.get_by_label("Piece for Footer").first).to_be_focused()
    page.keyboard.type("journal")
    page.keyboard.press("Enter")
    expect(trace).to_contain_text("Journal footer by Pin: /legal/imprint")
    expect(trace).to_contain_text("decided on specificity over Legal")
    page.get_by_role("grid").focus()
    page.keyboard.press(" ")
    expect(page.get_by_role("region", name="Picked pages")).to_contain_text("1 page picked")


@pytest.mark.elsewhere
def test_script_in_a_piece_never_runs(page, demo):
    go(page, "/marrowick/pieces/site-footer")
    nasty = "<img src=x onerror=\"document.title='owned'\"><script>document.title='owned'</script>"
    page.get_by_role("button", name=re.compile("^Text: Ticket Hall")).click()
    page.get_by_label("Text: text").fill(nasty)
    page.get_by_role("button", name="Link list: Sail", exact=True).click()
    page.get_by_label("Link list: address of link 1").fill("javascript:alert(1)")
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_role("alert").first).to_contain_text("an address starts with /, #, https:, mailto: or tel:")
    page.get_by_label("Link list: address of link 1").fill("/routes")
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text("Saved Site footer")).to_be_visible()
    go(page, "/marrowick/preview?path=/about")
    expect(page.frame_locator("iframe").locator("footer")).to_contain_text("<img src=x")
    assert "owned" not in page.title()
    page.get_by_role("link", name="Publish").click()
    page.get_by_role("button", name=re.compile("^Publish 1 edit")).click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    public = passer_by(page)
    public.goto(f"{demo.published}/about")
    expect(public.locator("footer")).to_contain_text("<img src=x")
    assert "owned" not in public.title()
    assert public.locator("footer img").count() == 0


def test_pages_are_taken_in_from_a_folder_with_a_report(page, tmp_path):
    (tmp_path / "site").mkdir()
    (tmp_path / "site" / "index.html").write_text(
        "<html lang=en><body><main><h1>Home</h1><p>Hello.</p><script>document.title='owned'</script></main></body></html>"
    )
    (tmp_path / "site" / "broken.html").write_bytes(b"\0\1\2")
    page.get_by_role("link", name="Site").click()
    page.get_by_label("Folder of HTML files").set_input_files(str(tmp_path / "site"))
    # What would come of it is told first; left, nothing has changed.
    look = page.get_by_role("region", name="What would come of it")
    expect(look).to_contain_text("1 page: 0 added, 1 updated, 0 as they were, 0 back again, 131 gone.")
    expect(look.get_by_role("heading", name="Looks different on 132 pages")).to_be_visible()
    look.get_by_role("button", name="Leave it").click()
    expect(look).to_have_count(0)
    expect(page.get_by_role("complementary", name="What the site holds")).to_contain_text("132")
    page.get_by_label("Folder of HTML files").set_input_files(str(tmp_path / "site"))
    look.get_by_role("button", name="Take it in").click()
    expect(look).to_have_count(0)
    report = page.get_by_role("region", name="Take pages in").get_by_role("status").filter(has_text="0 added")
    expect(report).to_contain_text("1 page: 0 added, 1 updated, 0 as they were, 0 back again, 131 gone.")
    expect(report).to_contain_text("broken.html")
    expect(report).to_contain_text("binary, not text")
    page.get_by_role("link", name="Preview").click()
    expect(page.frame_locator("iframe").locator("main")).to_contain_text("Hello.")
    assert "owned" not in page.title()


@pytest.mark.elsewhere
def test_rules_are_reordered_by_keyboard_and_the_order_decides(page):
    go(page, "/marrowick/rules")
    names = page.get_by_label("Rules, the highest first").get_by_role("listitem").locator("b")
    expect(names).to_have_count(25)
    before = names.all_text_contents()
    page.get_by_role("button", name="Move Site header, number 24").focus()
    for key, said in (
        ("Space", "Site header would be number 24"),
        ("ArrowUp", "Site header would be number 23"),
        ("ArrowUp", "Site header would be number 22"),
        ("Space", "Site header is number 22"),
    ):
        page.keyboard.press(key)
        expect(page.get_by_text(said)).to_be_attached()
    expect(page.get_by_text("Site header is now number 22")).to_be_visible()
    expect(names.nth(21)).to_have_text("Site header")
    assert sorted(names.all_text_contents()) == sorted(before)


@pytest.mark.elsewhere
def test_a_piece_in_use_says_where_before_it_is_removed(page):
    go(page, "/marrowick/pieces/call-us")
    page.get_by_role("button", name="Remove …").click()
    dialog = page.get_by_role("dialog", name="Remove Call us")
    expect(dialog.get_by_role("link", name="Help desk")).to_be_visible()
    expect(dialog.get_by_role("link", name="Pass corner")).to_be_visible()
    expect(dialog.get_by_role("button", name="Remove it", exact=True)).to_have_count(0)
    dialog.get_by_role("button", name="Take it out of these 2 and remove it").click()
    expect(page.get_by_text("Removed Call us")).to_be_visible()
    go(page, "/marrowick/pieces/help-desk")
    expect(page.get_by_label("Name of the piece")).to_have_value("Help desk")
    expect(page.get_by_role("region", name="Entry").get_by_text("call-us")).to_have_count(0)
    page.get_by_role("button", name="Undo: ").click()
    expect(page.get_by_role("region", name="Entry").get_by_text("Call us")).to_be_visible()


@pytest.mark.elsewhere
def test_a_new_piece_is_filled_and_drawn_while_it_is_edited(page):
    go(page, "/marrowick/pieces")
    page.get_by_role("button", name="New piece").click()
    form = page.get_by_role("form", name="New piece")
    choose(form.get_by_label("Kind"), "widget")
    form.get_by_label("Name").fill("Tide today")
    form.get_by_role("button", name="Make it").click()
    add_item(page, "Heading")
    page.get_by_label("Heading: text").fill("High water at noon")
    expect(page.frame_locator("iframe").first.get_by_role("heading", name="High water at noon")).to_be_visible()
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text("Saved Tide today")).to_be_visible()
    page.get_by_role("link", name="All pieces").click()
    expect(page.get_by_role("button", name=re.compile("Tide today.*used nowhere"))).to_be_visible()


@pytest.mark.elsewhere
def test_what_is_typed_while_a_rule_is_being_saved_is_not_lost(page):
    go(page, "/marrowick/rules")
    page.get_by_role("link", name=re.compile("^Campaigns")).click()
    note = page.get_by_label("Why the rule is there")
    note.fill("first")
    saving = Held(page, "**/rules/*", "PUT")
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_role("button", name="Save rule")).to_be_disabled()
    note.fill("second")
    saving.let_go()
    expect(page.get_by_text("Saved Campaigns")).to_be_visible()
    expect(note).to_have_value("second")
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_text("Edited, not saved yet")).to_have_count(0)
    page.reload()
    expect(note).to_have_value("second")
