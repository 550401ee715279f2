"""The real thing: both servers as the start command runs them, a database of their own, headless Chromium."""

from __future__ import annotations

import json
import os
import re
import time
from pathlib import Path
from typing import Any

import pytest
from navrel_rehearsal import CHROMIUM_FLAGS, COUNT_REQUESTS, Stage, chromium_path, rehearse, served_revision
from playwright.sync_api import Browser, Locator, Page, Route, expect, sync_playwright

HERE = Path(__file__).parent
#: How long the published site may take to serve what was published, in seconds.
LONGEST = 15

expect.set_options(timeout=15_000)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Try a browser's test a second time: on an overloaded machine a click that meets a moving view can be lost.

    What is wrong fails twice.
    """
    for item in items:
        if item.path.is_relative_to(HERE):
            item.add_marker(pytest.mark.flaky(reruns=1))


@pytest.fixture(scope="session")
def served():
    # Each process works out for itself what every edit comes to, and two processors do all of it here.
    with rehearse(f"navrel_e2e_{os.environ.get('PYTEST_XDIST_WORKER', 'main')}", processes=1) as stage:
        yield stage


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium_path(), args=CHROMIUM_FLAGS)
        yield browser
        browser.close()


@pytest.fixture(scope="session")
def reset(served):
    """Bring the demo site back to how it comes. One program does it for all tests, as starting one takes its time."""
    with served.beside(str(HERE / "reset.py")) as program:
        assert program.stdin is not None and program.stdout is not None
        asked, answers = program.stdin, program.stdout

        def back() -> None:
            asked.write("reset\n")
            asked.flush()
            assert answers.readline().strip() == "as it comes"

        yield back
        asked.close()


@pytest.fixture
def demo(served, reset):
    """The demo site as it comes."""
    reset()
    return served


@pytest.fixture(scope="module")
def untouched(served, reset):
    """The demo site as it comes, for tests that change nothing."""
    reset()
    return served


@pytest.fixture(scope="session")
def signed_in(served: Stage, browser: Browser):
    """The cookies of somebody who has signed in, so that not every test has to."""
    context = browser.new_context(base_url=served.application)
    window = context.new_page()
    window.goto("/")
    window.get_by_role("button", name="Look around the demo").click()
    expect(window.get_by_role("grid")).to_be_visible()
    state = context.storage_state()
    context.close()
    return {"cookies": state["cookies"]}


def opened(browser: Browser, **more: Any) -> Page:
    """A window of its own, whose requests are counted."""
    context = browser.new_context(**more)
    context.add_init_script(COUNT_REQUESTS)
    return context.new_page()


class Desk:
    """A window that tests use one after another, as a new one costs more than many tests do; each finds it empty."""

    def __init__(self, browser: Browser, origin: str, nothing: str, cookies: list[Any]) -> None:
        self.browser = browser
        self.origin = origin
        self.nothing = f"{origin}{nothing}"
        self.cookies = cookies
        self.errors: list[str] = []
        self.window = self._open()
        self.kept_for = ""

    def _open(self) -> Page:
        window = opened(self.browser, base_url=self.origin)
        window.on("pageerror", lambda error: self.errors.append(str(error)))
        return window

    def cleared(self) -> Page:
        """The window, with nothing left in it of whoever had it before."""
        self.kept_for = ""
        if self.window.is_closed():
            self.window.context.close()
            self.window = self._open()
        window, context = self.window, self.window.context
        for other in context.pages:
            if other is not window:
                other.close()
        window.unroute_all()
        window.set_viewport_size({"width": 1280, "height": 800})
        window.emulate_media(color_scheme="light", reduced_motion="reduce")
        context.clear_cookies()
        context.add_cookies(self.cookies)
        self.rest()
        # Only a document of the origin can empty what the origin stored.
        window.evaluate("localStorage.clear(), sessionStorage.clear()")
        self.errors.clear()
        return window

    def kept(self, name: str) -> Page:
        """The window as the test before left it, if that was one of the same name: for tests that only look."""
        if self.kept_for != name or self.window.is_closed():
            self.cleared()
            self.kept_for = name
        self.window.emulate_media(color_scheme="light", reduced_motion="reduce")
        return self.window

    def rest(self) -> None:
        """Leave what is shown, for a document that does nothing: of the same origin, whose process then is used on."""
        if self.window.url != self.nothing and not self.window.is_closed():
            self.window.goto(self.nothing)

    def close(self) -> None:
        self.window.context.close()


@pytest.fixture(scope="session")
def desk(served: Stage, browser: Browser, signed_in):
    desk = Desk(browser, served.application, "/navrel.svg", signed_in["cookies"])
    yield desk
    desk.close()


@pytest.fixture(scope="session")
def street(served: Stage, browser: Browser):
    desk = Desk(browser, served.published, "/-/none", [])
    yield desk
    desk.close()


@pytest.fixture
def page(demo: Stage, desk: Desk, street: Desk, browser: Browser, request: pytest.FixtureRequest):
    """A signed-in window on the page list of the demo site. A script error fails the test.

    A test that is marked `elsewhere` goes to another view first, and is given an empty one.
    """
    window = desk.cleared()
    # Among them the window of passers-by, which tests ask for after this.
    lasting = browser.contexts
    if not request.node.get_closest_marker("elsewhere"):
        window.goto("/")
        expect(window.get_by_role("grid")).to_be_visible()
    yield window
    # What is still asked for by views that nobody looks at any more must not meet the next test's site.
    for context in browser.contexts:
        if context not in lasting:
            context.close()
    desk.rest()
    assert desk.errors == []


#: Goes to an address as a link of the application does, and waits until what stands there is another view.
FOLLOW = """
    async (address) => {
        const main = () => document.querySelector("main[data-address]");
        const left = main()?.dataset.address;
        if (left === undefined) return false;
        history.pushState(null, "", address);
        dispatchEvent(new PopStateEvent("popstate", { state: null }));
        while (main()?.dataset.address === left && left !== address) await new Promise((done) => setTimeout(done, 5));
        return true;
    }
"""


def go(window: Page, address: str) -> None:
    """Go to an address: from view to view as people do in one window, and by loading the application where it is not."""
    if not window.evaluate(FOLLOW, address):
        window.goto(address)


def passer_by(page: Page) -> Page:
    """A window of somebody who is not signed in. Of two windows in one context the one behind draws but once a second."""
    assert page.context.browser is not None
    return opened(page.context.browser, viewport=page.viewport_size)


def beside(page: Page) -> Page:
    """A second window of the same person."""
    assert page.context.browser is not None
    return opened(
        page.context.browser,
        viewport=page.viewport_size,
        base_url=page.evaluate("location.origin"),
        storage_state={"cookies": page.context.storage_state()["cookies"]},
        reduced_motion="reduce",
    )


@pytest.fixture
def public(demo, street: Desk):
    """A window on the published site: `public("/about")` goes there."""
    window = street.cleared()

    def visit(path):
        window.goto(path)
        return window

    return visit


@pytest.fixture
def drafted(page):
    """Whether something is drawn on a page of the draft, seen through a lens (`visitor`, `at`), in a second window."""
    window = beside(page)

    def shows(path, selector, **lens):
        query = "&".join(f"{key}={value}" for key, value in {"path": path, **lens}.items())
        window.goto(f"/marrowick/preview?{query}")
        frame = window.frame_locator("iframe").first
        expect(frame.locator("main")).to_be_visible()
        expect(window.get_by_role("progressbar")).to_have_count(0)
        return frame.locator(selector).count() == 1

    yield shows
    window.context.close()


class Held:
    """Requests, of one method or of any, that wait until they are let go; then none waits any more, however late."""

    def __init__(self, page: Page, address: str, method: str = "") -> None:
        self._waiting: list[Route] = []
        self._method, self._is_open = method, False
        page.route(address, self._asked)

    def _asked(self, route: Route) -> None:
        if self._is_open or self._method not in ("", route.request.method):
            route.continue_()
        else:
            self._waiting.append(route)

    def let_go(self) -> None:
        """Answer what waits, and what comes."""
        self._is_open = True
        for route in self._waiting:
            route.continue_()


def another_person(page: Page) -> Page:
    """A window of somebody else: another browser, signed in for itself."""
    assert page.context.browser is not None
    window = opened(page.context.browser, viewport=page.viewport_size, base_url=page.evaluate("location.origin"))
    window.goto("/")
    window.get_by_role("button", name="Look around the demo").click()
    expect(window.get_by_role("grid")).to_be_visible()
    return window


def switch_off(page: Page, rule: str) -> None:
    """Switch a rule off from its line in the list, which holds its buttons for the keyboard too."""
    page.get_by_role("button", name=f"Switch off {rule}").focus()
    page.keyboard.press("Enter")


def send(page, method, address, body):
    """Send something as the interface does; the status, and what the answer says."""
    return page.evaluate(
        """async ([method, address, body]) => {
          const session = await (await fetch('/api/session')).json();
          const named = document.cookie.split('; ').find((one) => one.startsWith(session.csrf_cookie + '='));
          const headers = {'X-CSRFToken': decodeURIComponent(named.split('=')[1])};
          let sent = body;
          if (address.endsWith('/files')) {
            sent = new FormData();
            sent.append('data', new File([body], 'hostile.svg'));
          } else {
            headers['Content-Type'] = 'application/json';
            if (method === 'PUT') headers['If-Match'] = `"${(await (await fetch(address)).json()).version}"`;
          }
          const answer = await fetch(address, {method, headers, body: sent});
          return [answer.status, await answer.text()];
        }""",
        [method, address, body],
    )


def make_rules(page, *rules):
    """Save rules, as a program would: for tests of something else."""
    for rule in rules:
        status, said = send(page, "POST", "/api/sites/marrowick/rules", json.dumps(rule))
        assert status == 201, said


def put_live(page):
    """Publish what was edited, as a program would, and wait until it is served: for tests of something else."""
    site = page.evaluate("fetch('/api/sites/marrowick').then((answer) => answer.json())")
    status, said = send(page, "POST", "/api/sites/marrowick/revisions", json.dumps({"version": site["version"]}))
    assert status == 201, said
    until = time.monotonic() + LONGEST
    while served_revision(site["published_origin"]) != json.loads(said)["number"]:
        assert time.monotonic() < until, "what was published is not served"


def settle(window: Page) -> None:
    """Wait until a view has everything that it shows, also where many pictures are drawn on a busy machine.

    What it waits for itself before it asks, at most for a quarter of a second, is waited for too.
    """
    window.evaluate("quiet()")
    expect(window.get_by_role("progressbar")).to_have_count(0)
    expect(window.locator("[aria-busy=true]")).to_have_count(0)


def save_rule(page: Page) -> None:
    """Save the rule that is open, and wait until it is: what tells of an earlier save may still be on the screen."""
    page.get_by_role("button", name="Save rule").click()
    expect(page.get_by_role("button", name="Save rule")).to_have_count(0)


def cell(page: Page, title: str, target: str):
    """The cell of one page and one target in the page list."""
    return (
        page.get_by_role("row")
        .filter(has=page.get_by_label(f"Pick {title}", exact=True))
        .get_by_role("gridcell", name=re.compile(f"^{target}:"))
    )


def choose(field: Locator, option: str) -> None:
    """Open a list that stands behind a field, and choose from it."""
    field.click()
    field.page.get_by_role("option", name=option, exact=True).click()


def add_action(page: Page) -> None:
    """Add a line to what the rule that is open in the editor does."""
    settle(page)  # What is worked out about the rule moves what stands below it.
    page.get_by_role("button", name="+ something").click()


def add_item(page: Page, name: str) -> None:
    """Add an item to the piece that is open in the editor, after the chosen one."""
    page.get_by_role("button", name="+ item").click()
    dialog = page.get_by_role("dialog", name="Add an item")
    dialog.get_by_label("Add an item", exact=True).fill(name)
    dialog.get_by_role("option").filter(has=page.get_by_text(name, exact=True)).first.click()


def set_moment(where: Page | Locator, label: str, moment: str) -> None:
    """Type a local date-time into a field, part by part."""
    year = where.get_by_role("group", name=label).get_by_role("spinbutton", name="Year")
    year.click()
    year.press_sequentially("".join(letter for letter in moment if letter.isdigit()))


def search(page: Page, text: str) -> None:
    """Type into the query field of the page list."""
    page.get_by_label("Find pages").fill(text)


@pytest.fixture(scope="session")
def axe():
    """Run axe-core on a window: the serious findings, each with the elements concerned. Frames are left out.

    ``colours``: look for weak contrast alone.
    """
    source = (HERE.parents[1] / "frontend" / "node_modules" / "axe-core" / "axe.min.js").read_text()

    def findings(window: Page, *, colours: bool = False) -> list[str]:
        if not window.evaluate("'axe' in globalThis"):
            window.evaluate(source)
        options = {"iframes": False, "resultTypes": ["violations"]} | (
            {"runOnly": ["color-contrast"]} if colours else {}
        )
        found = window.evaluate("(options) => axe.run({exclude: ['iframe']}, options)", options)
        return [
            f"{one['id']}: {', '.join(' '.join(node['target']) for node in one['nodes'][:3])}"
            for one in found["violations"]
            if one["impact"] in ("serious", "critical")
        ]

    return findings
