"""Take one picture of each main view with the demo data, into docs/screenshots."""

from __future__ import annotations

import json
import re
from io import BytesIO
from pathlib import Path
from typing import Literal

from navrel_rehearsal import CHROMIUM_FLAGS, chromium_path, rehearse
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
        _views(window)
        _picture(_window(browser, stage.application, "dark"), "pages-dark")
        _published(browser, stage.published)
        browser.close()


def _window(browser: Browser, address: str, scheme: Literal["light", "dark"]) -> Page:
    """A signed-in window on the page list, pictured on the way in light colours."""
    window = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address, color_scheme=scheme)
    window.goto("/")
    if scheme == "light":
        _picture(window, "sign-in")
    window.get_by_role("button", name="Look around the demo").click()
    expect(window.get_by_role("grid")).to_be_visible()
    if scheme == "light":
        _picture(window, "pages")
    return window


def _picture(window: Page, name: str) -> None:
    window.wait_for_load_state("networkidle")
    expect(window.get_by_role("progressbar")).to_have_count(0)
    window.screenshot(path=FOLDER / f"{name}.png", animations="disabled")


def _edit(window: Page) -> None:
    """Two edits, so that there is something to publish."""
    window.goto(f"{SITE}/rules")
    window.get_by_role("link", name="Quiet checkout").click()
    window.get_by_label("Include, as text").fill("within:/tickets type:checkout | page:/pass/renew,/tickets/gift")
    expect(window.get_by_role("complementary", name="Reach")).to_contain_text("since last save")
    expect(window.get_by_role("button", name="Piece for Header")).to_contain_text("Slim header")
    _picture(window, "rule")
    window.get_by_role("button", name="Save rule").click()
    expect(window.get_by_text("Saved Quiet checkout")).to_be_visible()
    window.goto(f"{SITE}/pieces/main-header")
    window.get_by_role("button", name=re.compile("^Logo")).click()
    window.get_by_label("Logo: name").fill("Marrowick Ferries, since 1911")
    window.get_by_role("button", name="Save piece").click()
    expect(window.get_by_text("Saved Main header")).to_be_visible()


def _trace(window: Page) -> None:
    window.goto(f"{SITE}/pages?path=/tickets/pay&target=footer")
    for title in ("Extras", "Pay", "Review"):
        window.get_by_label(f"Pick {title}", exact=True).click()
    expect(window.get_by_role("region", name="Picked pages")).to_contain_text("exactly these 3 pages")
    _picture(window, "trace")
    window.get_by_role("button", name="Drop", exact=True).click()
    window.goto(f"{SITE}/pages?path=/crew/rota&target=header&visitor=signed:in+role:crew+browser:firefox")
    window.get_by_role("button", name="Signed-in crew").click()
    expect(window.get_by_role("dialog", name="The lens")).to_contain_text("Came from")
    _picture(window, "lens")
    window.keyboard.press("Escape")


def _views(window: Page) -> None:
    for name, address in {
        "pieces": "/pieces",
        "starters": "/starters",
        "places": "/places",
        "preview": "/preview?path=/tickets/gift&beside=live",
        "publish": "/publish",
        "site": "/site",
    }.items():
        window.goto(f"{SITE}{address}")
        _picture(window, name)
    window.goto(f"{SITE}/pieces/site-footer")
    window.get_by_role("button", name="Link list: Know", exact=True).click()
    _picture(window, "piece")
    window.goto(f"{SITE}/pieces/standard")
    expect(window.get_by_role("region", name="Grid", exact=True)).to_be_visible()
    _picture(window, "template")
    _taking_in(window)
    window.goto(f"{SITE}/site/dress")
    expect(window.get_by_role("list", name="Dresses")).to_contain_text("through this lens")
    expect(window.frame_locator("iframe[title='Harbour, phone']").get_by_role("heading", level=1)).to_be_visible()
    _picture(window, "dress")
    window.goto(f"{SITE}/pieces/timetables")
    window.get_by_role("button", name="Where and when: entry 2").click()
    expect(window.get_by_label("On pages of entry 2, as text")).to_be_visible()
    _picture(window, "sidebar")
    window.goto(f"{SITE}/site")
    window.get_by_label("Name of document-title").scroll_into_view_if_needed()
    _picture(window, "settings")


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


def _taking_in(window: Page) -> None:
    """A file of three pieces, one of which clashes, before it is taken in."""
    answer = window.request.get(f"/api{SITE.replace('/', '/sites/')}/layout-file?pieces=slim-header,call-us")
    tree = answer.json()
    tree["pieces"][0]["content"]["style"]["background"] = "#F3E3C2"
    tide = [{"type": "heading", "text": "High water"}, {"type": "text", "text": "At **noon** at Corran Head."}]
    tree["pieces"].append({"slug": "tide", "kind": "widget", "name": "Tide", "content": {"items": tide}})
    file = {"name": "harbour.navrel.json", "mimeType": "application/json", "buffer": json.dumps(tree).encode()}
    window.goto(f"{SITE}/take-in")
    window.get_by_label("Layout file").set_input_files(file)  # type: ignore[arg-type]
    expect(window.get_by_role("list", name="Pieces in the file")).to_be_visible()
    _picture(window, "take-in")


main()
