"""Take one picture of each main view with the demo data, into docs/screenshots."""

from __future__ import annotations

import re
import tempfile
from io import BytesIO
from pathlib import Path
from typing import Literal
from urllib.parse import urlsplit
from urllib.request import urlopen

from navrel_rehearsal import CHROMIUM_FLAGS, COUNT_REQUESTS, chromium_path, rehearse
from PIL import Image
from playwright.sync_api import Browser, Page, expect, sync_playwright

expect.set_options(timeout=20_000)

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"
SITE = "/marrowick"


def main() -> None:
    """Serve the demo site, make a few edits, and picture every view at 1280 by 800."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with rehearse("navrel_pictures") as stage, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium_path(), args=list(CHROMIUM_FLAGS))
        window = _window(browser, stage.application, "light")
        _edit(window)
        _trace(window)
        _schedule(window)
        _views(window)
        _walk(window)
        _people(window)
        _published(browser, stage.published)
        _in_place(window, stage.published)
        browser.close()


def _window(browser: Browser, address: str, scheme: Literal["light", "dark"]) -> Page:
    """A signed-in window on the page list, pictured on the way in light colours."""
    window = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address, color_scheme=scheme)
    window.add_init_script(COUNT_REQUESTS)
    window.goto("/")
    window.get_by_role("button", name="Look around the demo").click()
    expect(window.get_by_role("grid")).to_be_visible()
    if scheme == "light":
        _picture(window, "pages")
    return window


def _picture(window: Page, name: str) -> None:
    window.evaluate("quiet()")
    expect(window.get_by_role("progressbar")).to_have_count(0)
    window.screenshot(path=FOLDER / f"{name}.png", animations="disabled")


def _edit(window: Page) -> None:
    """Two edits, so that there is something to publish."""
    window.goto(f"{SITE}/rules")
    window.get_by_role("link", name="Quiet checkout").click()
    window.get_by_label("Include, as text").fill("within:/tickets type:checkout | page:/pass/renew,/tickets/gift")
    expect(window.get_by_role("complementary", name="Reach")).to_contain_text("since last save")
    expect(window.get_by_role("button", name="Piece for Header")).to_contain_text("Slim header")
    reach = window.get_by_role("complementary", name="Reach")
    reach.get_by_role("button", name=re.compile("^Gift tickets")).click()
    expect(reach).to_contain_text("✓ yes")
    window.get_by_role("button", name="within Tickets /tickets").hover()
    expect(reach.locator(".lit").first).to_be_visible()
    _picture(window, "rule")
    window.get_by_role("button", name="Save rule").click()
    expect(window.get_by_text("Saved Quiet checkout")).to_be_visible()
    window.goto(f"{SITE}/pieces/main-header")
    window.get_by_role("button", name=re.compile("^Logo")).click()
    window.get_by_label("Logo: name").fill("Marrowick Ferries, since 1911")
    window.get_by_role("button", name="Save piece").click()
    expect(window.get_by_text("Saved Main header")).to_be_visible()


def _trace(window: Page) -> None:
    """Picked pages with what a condition would add; a page's trace with its looks; pages that look alike together."""
    window.goto(f"{SITE}/pages?path=/tickets/pay&target=footer")
    for title in ("Extras", "Pay", "Review"):
        window.get_by_label(f"Pick {title}", exact=True).click()
    bar = window.get_by_role("region", name="Picked pages")
    bar.get_by_role("button", name=re.compile("^of type checkout")).click()
    expect(window.get_by_text("would come in", exact=True).first).to_be_visible()
    _picture(window, "trace")
    bar.get_by_role("button", name="Unpick", exact=True).click()
    window.goto(f"{SITE}/pages?path=/crew/rota&target=header")
    panel = window.get_by_role("complementary", name="Why: Header on /crew/rota")
    panel.get_by_role("button", name="Ask about a rule or a piece").click()
    panel.get_by_role("option", name=re.compile("^Legal")).click()
    expect(panel.get_by_role("region", name="Why not")).to_contain_text("Let it reach this page")
    panel.get_by_role("list", name="Looks of this page").scroll_into_view_if_needed()
    _picture(window, "why-not")


def _schedule(window: Page) -> None:
    """A rule for weekend evenings, as it is being made."""
    window.goto(f"{SITE}/rules")
    window.get_by_role("link", name=re.compile("^Winter notice")).click()
    window.get_by_role("button", name="always", exact=True).click()
    window.get_by_label("How it repeats").click()
    window.get_by_role("option", name="by weeks").click()
    days = window.get_by_role("group", name="On which weekdays")
    for day in ("Friday", "Saturday", "Monday", "Tuesday", "Wednesday", "Thursday", "Sunday"):
        wanted = "true" if day in ("Friday", "Saturday") else "false"
        if days.get_by_role("button", name=day).get_attribute("aria-pressed") != wanted:
            days.get_by_role("button", name=day).click()
    window.get_by_label("For", exact=True).fill("PT12H")
    expect(window.get_by_role("button", name=re.compile("^Fridays and Saturdays"))).to_be_visible()
    expect(window.get_by_role("status", name="Next times")).to_contain_text("12:00")
    _picture(window, "schedule")
    window.get_by_role("button", name="Back to saved").click()


def _views(window: Page) -> None:
    for name, address in {
        "preview": "/preview?path=/tickets/gift&beside=live",
        "publish": "/publish",
        "checks": "/checks",
        "guard": "/checks/guards/Nothing%20to%20click%20away%20to",
    }.items():
        window.goto(f"{SITE}{address}")
        if name == "preview":
            # Its looks are drawn once it has been looked at for a while.
            expect(window.get_by_role("region", name="Looks").locator("iframe")).to_have_count(2)
        if name == "checks":
            expect(window.get_by_role("listitem").first).to_be_visible()
        _picture(window, name)
    window.goto(f"{SITE}/pieces/site-footer")
    window.get_by_role("button", name="Link list: Know", exact=True).click()
    _picture(window, "piece")
    window.goto(f"{SITE}/pieces/standard")
    expect(window.get_by_role("region", name="Grid", exact=True)).to_be_visible()
    _picture(window, "template")
    window.goto(f"{SITE}/site/dress")
    expect(window.get_by_role("list", name="Dresses")).to_contain_text("through this lens")
    expect(window.frame_locator("iframe[title='Harbour, phone']").get_by_role("heading", level=1)).to_be_visible()
    _picture(window, "dress")
    window.goto(f"{SITE}/pieces/timetables")
    window.get_by_role("button", name="Where and when: entry 2").click()
    expect(window.get_by_label("On pages of entry 2, as text")).to_be_visible()
    _picture(window, "sidebar")


def _walk(window: Page) -> None:
    """A walk on which something was found and something is tried on; then two revisions."""
    window.goto(f"{SITE}/preview?walk=changed&path=/about")
    walk = window.get_by_role("region", name="Walk", exact=True)
    expect(walk).to_contain_text("that publishing changes")
    for _ in range(2):
        expect(walk.get_by_role("button", name="Fine", exact=True)).to_be_enabled()
        left = walk.get_by_role("status").inner_text()
        window.locator("body").press("f")
        expect(walk.get_by_role("status")).not_to_have_text(left)
    expect(walk.get_by_role("button", name="Not fine")).to_be_enabled()
    window.locator("body").press("x")
    window.get_by_label("Note about this page").fill("The name runs into the search box")
    window.keyboard.press("Enter")
    expect(walk.get_by_role("img")).to_have_attribute("aria-label", re.compile("1 not fine"))
    window.goto(
        f'{SITE}/preview?walk=changed&path=/crew/rota&try=[{{"do":"fill","slot":"header","piece":"slim-header"}}]'
        "&beside=plain"
    )
    expect(window.get_by_role("region", name="Draft as it is")).to_contain_text("differs in")
    expect(window.locator(".slot-label").first).to_be_visible()
    _picture(window, "walk")
    window.goto(f"{SITE}/publish")
    window.get_by_label("Why the broken guard is overruled").or_(window.get_by_label("Note for whoever")).first.fill(
        "Since 1911"
    )
    window.get_by_role("button", name=re.compile("^Publish [0-9]")).click()
    expect(window.get_by_text("Revision 2 is live")).to_be_visible()
    window.goto(f"{SITE}/publish?compare=1-2")
    expect(window.get_by_role("list", name="What differs").get_by_role("listitem").first).to_be_visible()
    _picture(window, "compared")


def _people(window: Page) -> None:
    """The people of the site, and an invitation."""
    window.goto(f"{SITE}/site/people")
    people = window.get_by_role("region", name="People")
    people.get_by_role("button", name="Make an invitation").click()
    expect(people.get_by_label("Address of the invitation")).to_be_visible()
    _picture(window, "people")


def _in_place(window: Page, published: str) -> None:
    """The published demo as a site that exists: saved as files, taken in, its slots bound."""
    listed = re.findall(r"<loc>(.*?)</loc>", urlopen(f"{published}/sitemap.xml").read().decode())  # noqa: S310
    with tempfile.TemporaryDirectory() as folder:
        for path in sorted({urlsplit(address).path for address in listed}):
            place = Path(folder) / path.strip("/") / "index.html"
            place.parent.mkdir(parents=True, exist_ok=True)
            place.write_bytes(urlopen(f"{published}{path}").read())  # noqa: S310
        window.goto("/_sites")
        window.get_by_label("Name of the site").fill("The quay")
        window.get_by_label("Short name").fill("quay")
        window.get_by_label("How its pages are drawn").click()
        window.get_by_role("option", name=re.compile("in their own HTML")).click()
        window.get_by_role("button", name="Make the site").click()
        window.get_by_label("Folder of HTML files").set_input_files(folder)
        expect(window.get_by_role("region", name="Taken in before")).to_be_visible()
    window.get_by_role("link", name="Proposed from the pages").click()
    window.get_by_role("button", name="Bind the first of each slot").click()
    window.get_by_role("button", name="Save bindings").click()
    expect(window.get_by_role("button", name="Save bindings")).to_have_count(0)
    window.get_by_role("button", name="Look what stands there").click()
    expect(window.get_by_role("region", name="What stands there today")).to_contain_text("come out as they are")
    window.get_by_role("button", name="Show", exact=True).nth(1).click()
    pictures = window.get_by_role("complementary", name="Pictures of the place").locator("iframe")
    expect(pictures).to_have_count(3)
    expect(window.get_by_role("complementary", name="Pictures of the place").locator(".outline")).to_have_count(3)
    _picture(window, "bindings")
    window.goto("/quay/site/recipe")
    window.get_by_role("button", name="Show Type").click()
    window.get_by_role("button", name=re.compile("^Add for Type: File name")).click()
    expect(window.get_by_role("status", name="What saving changes")).to_contain_text("pages")
    _picture(window, "recipe")


def _published(browser: Browser, address: str) -> None:
    """The home page of the published site at three widths, side by side in one picture."""
    shown: list[Image.Image] = []
    for width, height in ((1280, 1500), (800, 1500), (390, 1000)):
        window = browser.new_page(viewport={"width": width, "height": height}, base_url=address)
        window.goto("/")
        window.wait_for_load_state("networkidle")
        taken = Image.open(BytesIO(window.screenshot(animations="disabled")))
        shown.append(taken.resize((taken.width * 660 // taken.height, 660)))
    room = (1280 - sum(one.width for one in shown)) // (len(shown) + 1)
    sheet = Image.new("RGB", (1280, 800), "#e9e6dc")
    at = room
    for one in shown:
        sheet.paste(one, (at, 70))
        at += one.width + room
    sheet.save(FOLDER / "published.png")


main()
