"""Whole jobs by somebody who has a keyboard and nothing else."""

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

from .conftest import settle
from .test_jobs import has_footer
from .test_pieces import made_of, write_file

MOST_STEPS = 400
MOST_VISITS = 30


class Hands:
    """Keys alone: the focus goes where Tab, arrows and the palette take it."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def write(self, text: str) -> None:
        self.page.keyboard.type(text)

    def to(self, wanted: Locator, key: str = "Tab") -> None:
        """Walk to a control."""
        expect(wanted).to_be_visible()
        control = wanted.element_handle()
        for _ in range(MOST_STEPS):
            at = self.page.evaluate("(one) => one.isConnected ? one === document.activeElement : null", control)
            if at:
                return
            if at is None:  # Drawn anew meanwhile.
                control = wanted.element_handle()
                continue
            self.press(key)
        raise AssertionError(f"the keyboard does not reach {wanted}")

    def use(self, wanted: Locator, key: str = "Tab") -> None:
        """Walk to a button or a link, and press it."""
        self.to(wanted, key)
        self.press("Enter")

    def into(self, wanted: Locator, text: str) -> None:
        """Walk to a field and write, in the place of what stands there."""
        self.to(wanted)
        self.press("Control+a")
        self.write(text)

    def choose(self, wanted: Locator, option: str, key: str = "Tab") -> None:
        """Open a list, walk to an option, and choose it."""
        self.use(wanted, key)
        self.to(self.page.get_by_role("option", name=option, exact=True), "ArrowDown")
        self.press("Enter")

    def offered(self, name: str) -> None:
        """Walk to one of the things that a field offers, and take it."""
        options = self.page.get_by_role("option")
        expect(options.first).to_be_visible()
        for _ in range(MOST_STEPS):
            meant = self.page.evaluate(
                "document.getElementById(document.activeElement.getAttribute('aria-activedescendant'))?.innerText ?? ''"
            )
            if meant.startswith(name):
                return self.press("Enter")
            self.press("ArrowDown")
        raise AssertionError(f"the keyboard does not reach {name}")

    def command(self, text: str) -> None:
        """What the palette offers first for a text."""
        self.press("Control+k")
        field = self.page.get_by_role("combobox", name="Go to")
        expect(field).to_be_focused()
        self.write(text)
        first = self.page.get_by_role("option").first
        expect(first).to_have_text(re.compile(text, re.I))
        expect(first).to_have_class(re.compile("Mui-focused"))
        self.press("Enter")
        expect(field).to_have_count(0)

    def new_rule(self, name: str) -> None:
        """A new rule, which waits for its name."""
        self.command("New rule")
        field = self.page.get_by_label("Name of the rule")
        expect(field).to_have_value("")
        expect(field).to_be_focused()
        self.write(name)

    def save_rule(self) -> None:
        self.press("Control+s")
        expect(self.page.get_by_role("button", name="Save rule")).to_have_count(0)

    def publish(self) -> None:
        self.command("Publish")
        self.use(self.page.get_by_role("button", name=re.compile(r"^Publish \d")))
        expect(self.page.get_by_text(re.compile(r"Revision \d+ is live"))).to_be_visible()

    def find(self, text: str) -> None:
        """Search the list of pages, and go into it."""
        self.to(self.page.get_by_label("Find pages"), "Shift+Tab")
        self.press("Control+a")
        self.write(text)
        settle(self.page)
        self.to(self.page.get_by_role("grid"))


def comes(seen: Callable[[], bool]) -> bool:
    """Whether something is seen on the published site within some visits: keys are faster than its servers may be."""
    return any(seen() for _ in range(MOST_VISITS))


def test_w01_by_keyboard_alone(page, public, tmp_path):
    hands = Hands(page)
    parts = (
        made_of("footer", "harbour-footer", "Harbour footer", "Every harbour, every day"),
        made_of("widget", "tide", "Tide", "High at noon"),
    )
    sent = write_file(tmp_path, "parts.navrel.json", *parts)
    hands.command("Take in pieces")
    with page.expect_file_chooser() as chooser:
        hands.use(page.get_by_role("button", name=re.compile("^Choose a file")))
    chooser.value.set_files(sent)
    hands.choose(page.get_by_role("combobox", name="What becomes of Tide"), "leave it out")
    hands.use(page.get_by_role("button", name="Take in 1 piece", exact=True))
    expect(page.get_by_text("Took in 1 piece. It is in the draft, not live yet.")).to_be_visible()
    hands.command("Harbour footer")
    hands.use(page.get_by_role("button", name="Put it on pages"))
    expect(page.get_by_label("Name of the rule")).to_be_focused()
    hands.press("Control+a")
    hands.write("One footer")
    hands.into(page.get_by_label("Include, as text", exact=True), "all")
    hands.save_rule()

    hands.new_rule("No footer on stories")
    hands.into(page.get_by_label("Include, as text", exact=True), "type:article")
    settle(page)
    hands.use(page.get_by_role("button", name="+ something"), "Shift+Tab")
    # What is added stands right above the button that adds.
    hands.choose(page.get_by_role("combobox", name="Place on the page"), "Footer", "Shift+Tab")
    hands.choose(page.get_by_role("combobox", name="What to do with Footer"), "leave empty")
    hands.save_rule()

    # Five pages are picked in the list, with the space bar, and have no footer.
    hands.command("Pages")
    hands.find("page:/help/wind,/help/cars,/help/dogs,/help/delays,/help/children")
    hands.press("Home", "ArrowDown")  # The home page, and the section that the five are in.
    for _ in range(5):
        hands.press("ArrowDown", "Space")
    bar = page.get_by_role("region", name="Picked pages")
    expect(bar).to_contain_text("5 pages picked")
    hands.use(bar.get_by_role("button", name="More"))
    hands.to(page.get_by_role("menuitem", name="Leave a place empty on 5 pages"), "ArrowDown")
    hands.press("Enter")
    expect(page.get_by_label("Place to leave empty", exact=True)).to_be_focused()
    hands.write("footer")
    hands.offered("Footer")
    expect(page.get_by_label("Name of the rule")).to_be_focused()
    hands.press("Control+a")
    hands.write("None here")
    hands.save_rule()
    hands.publish()
    without = ("/help/wind", "/help/children", "/journal/two-keepers")
    assert comes(lambda: not any(has_footer(public(path)) for path in without))

    # Three more pages for the rule, from the list, and a copy of it for another.
    hands.command("Pages")
    hands.use(bar.get_by_role("button", name="Unpick"))
    hands.find("page:/about,/contact,/accessibility")
    hands.press("Home")
    for _ in range(3):
        hands.press("ArrowDown", "Space")
    expect(bar).to_contain_text("3 pages picked")
    hands.use(bar.get_by_role("button", name="Add to a rule"))
    hands.write("None here")
    hands.offered("None here")
    expect(page.get_by_text("None here reaches 3 more pages. In the draft, not live yet.")).to_be_visible()
    hands.command("None here")
    hands.use(page.get_by_role("button", name="Copy", exact=True))
    expect(page.get_by_label("Name of the rule")).to_have_value("None here, copy")
    hands.into(page.get_by_label("Include, as text", exact=True), "page:/routes")
    hands.to(page.get_by_label("Rule is on"))
    hands.press("Space")
    hands.save_rule()
    hands.publish()
    later = ("/about", "/contact", "/accessibility", "/routes")
    assert comes(lambda: not any(has_footer(public(path)) for path in later))
    assert has_footer(public("/harbours"))


def test_w21_by_keyboard_alone(page, public):
    hands = Hands(page)

    def add(slot, piece, key="Shift+Tab"):
        settle(page)
        hands.use(page.get_by_role("button", name="+ something"), key)
        places = page.get_by_role("combobox", name="Place on the page")
        # What is added stands right above the button that adds.
        hands.choose(places.last, slot, "Shift+Tab")
        doing = page.get_by_role("combobox", name=f"What to do with {slot}").last
        hands.choose(doing, "add after")
        hands.use(page.get_by_role("button", name=f"Piece for {slot}").last)
        hands.write(piece)
        hands.offered(piece)

    hands.new_rule("Notice")
    hands.into(page.get_by_label("Include, as text", exact=True), "all")
    hands.into(page.get_by_label("Exclude, as text", exact=True), "page:/routes")
    add("Above header", "Winter notice")
    add("Above header", "Wind line", "Tab")
    hands.save_rule()
    # Who writes stays where they are, also when what they write is saved for the first time.
    expect(page.get_by_role("button", name="Piece for Above header: Wind line")).to_be_focused()
    # The order of the two is that of the lines, which are lifted and put down.
    hands.to(page.get_by_role("button", name="Move Above header, line 2"), "Shift+Tab")
    hands.press("Space")
    expect(page.get_by_text("Above header would be line 2")).to_be_attached()
    hands.press("ArrowUp")
    expect(page.get_by_text("Above header would be line 1")).to_be_attached()
    hands.press("Space")
    hands.save_rule()

    hands.new_rule("Call")
    hands.into(page.get_by_label("Include, as text", exact=True), "type:harbour")
    add("Above footer", "Book now")
    hands.save_rule()

    hands.command("Main header")
    hands.use(page.get_by_role("button", name="Menu: Main", exact=True))
    hands.use(page.get_by_role("button", name="+ item"))
    hands.write("Button")
    hands.offered("Button")
    hands.into(page.get_by_label("Button: text"), "Book a place")
    hands.into(page.get_by_label("Button: leads to"), "/tickets/choose")
    hands.press("Control+s")
    expect(page.get_by_text("Saved Main header").last).to_be_visible()
    hands.publish()
    window = public("/about")
    above = window.locator("[data-slot=above-header] > [data-piece]")
    assert [one.get_attribute("data-piece") for one in above.all()] == ["wind-line", "winter-notice"]
    header = window.locator("header").inner_text()
    assert header.index("Help") < header.index("Book a place")
    assert public("/routes").locator("[data-slot=above-header]").count() == 0
    assert public("/harbours/corran-head").locator("[data-slot=above-footer] [data-piece=book-now]").count() == 1
