"""The interface and the intake on a made site of ten thousand pages, in headless Chromium."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from navrel_rehearsal import CHROMIUM_FLAGS, Stage, chromium_path, rehearse
from playwright.sync_api import Page, expect, sync_playwright

from .made import made_pages, write_folder

PAGES = 10_000
RULES = 300
RUNS = 5
HERE = Path(__file__).parent

#: Milliseconds until a condition in the window first holds, looked at on every frame; an error after twenty seconds.
_UNTIL = """
({action, holds}) => new Promise((resolve, reject) => {
  const test = new Function(`return (${holds})`);
  const start = performance.now();
  new Function(action)();
  const look = () => {
    const passed = performance.now() - start;
    if (test()) resolve(passed);
    else if (passed > 20_000) reject(new Error(`it never held: ${holds}`));
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
})
"""


def measure() -> Iterator[tuple[str, float, float, str, bool, str]]:
    """How long a hand waits, in milliseconds; and the intake of ten thousand files."""
    with rehearse("navrel_bench") as stage, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium_path(), args=list(CHROMIUM_FLAGS))
        window = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=stage.application)
        window.goto("/")
        window.get_by_role("button", name="Look around the demo").click()
        window.get_by_role("grid").wait_for()
        yield from _reach(window, "_demo", 100, "the demo site")
        yield from _trace(window, "_demo", 100, "the demo site")
        yield from _intake(stage)
        made = f"{PAGES:,} pages and {RULES} rules"
        yield from _first_rows(window)
        yield from _lens(window)
        yield from _typing(window)
        yield from _save(window)
        yield from _reach(window, "", 300, made)
        yield from _trace(window, "", 300, made)
        yield from _scroll(window)
        browser.close()


def _intake(stage: Stage) -> Iterator[tuple[str, float, float, str, bool, str]]:
    with tempfile.TemporaryDirectory() as name:
        write_folder(made_pages(PAGES), Path(name))
        started = time.perf_counter()
        stage.run(str(HERE / "take_in.py"), name, str(PAGES), str(RULES))
        seconds = time.perf_counter() - started
        peak = float((Path(name) / "peak").read_text())
    yield "intake_10000", seconds, 180, "s", True, "ten thousand files of 12 kB, by the command line"
    yield "intake_memory", peak, 300, "MiB", True, "peak resident memory of that intake"


def _first_rows(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    found = []
    for _ in range(RUNS):
        window.goto("/marrowick/pages", wait_until="commit")
        window.get_by_role("rowheader").nth(10).wait_for()
        found.append(
            window.evaluate(
                """() => {
                    const asked = performance.getEntriesByType('resource');
                    const data = asked.filter((one) => /\\/(pages|layout)\\?/.test(one.name));
                    return performance.now() - Math.max(...data.map((one) => one.responseEnd));
                }"""
            )
        )
    detail = f"{PAGES:,} pages; from the last byte of data to ten rows on screen, best of {RUNS}"
    yield "first_rows", min(found), 1000, "ms", True, detail


def _lens(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    found = []
    for _ in range(RUNS * 2):
        # Loaded anew, so that the answer for this visitor is nowhere kept in the window.
        window.goto("/marrowick/pages")
        window.get_by_role("rowheader").nth(10).wait_for()
        window.get_by_role("button", name="Signed-out visitor").click()
        window.get_by_role("button", name="Signed in", exact=True).wait_for()
        action = "[...document.querySelectorAll('button')].find((one) => one.textContent === 'Signed in').click()"
        holds = "document.getElementById('cell-3-2').getAttribute('aria-label') === 'Header: Slim header'"
        found.append(window.evaluate(_UNTIL, {"action": action, "holds": holds}))
    found.sort()
    detail = (
        f"{PAGES:,} pages; from the click to the strips redrawn, median of {len(found)}, slowest {found[-1]:.0f} ms"
    )
    yield "lens_change", found[len(found) // 2], 300, "ms", True, detail


def _typing(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    window.goto("/marrowick/pages")
    field = window.get_by_label("Find pages")
    told = window.get_by_role("status").filter(has_text="pages").first
    found = []
    for number in range(RUNS):
        field.fill("")
        expect(told).to_have_text(f"{PAGES} pages")
        started = time.perf_counter()
        field.fill(f'"number {1000 + number}"')
        expect(told).to_have_text(f"1 of {PAGES} pages")
        found.append((time.perf_counter() - started) * 1000)
    detail = "from the keystroke to the pages found, the pause of 60 ms for further keys included"
    yield "search", sorted(found)[len(found) // 2], 250, "ms", True, detail


def _save(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    """A rule pinned from the trace: from the choice that saves it to the strips redrawn."""
    found = []
    # Pages with none below them: the strips of a branch that is folded tell of all its pages.
    leaves = "tree.paths.filter((path, at) => tree.depths[at + 1] <= tree.depths[at])"
    asked = f"fetch('/api/sites/marrowick/pages?limit=90').then((one) => one.json()).then((tree) => {leaves})"
    for path in window.evaluate(asked)[20 : 20 + RUNS * 2]:
        window.goto(f"/marrowick/pages?path={path}&target=header")
        window.get_by_role("button", name="Pin a header").click()
        option = window.get_by_role("option", name="Slim header")
        option.wait_for()
        action = (
            "[...document.querySelectorAll('[role=option]')].find((one) => /Slim header/.test(one.textContent)).click()"
        )
        cell = "document.querySelector('[role=grid]').getAttribute('aria-activedescendant')"
        holds = f"document.getElementById({cell})?.getAttribute('aria-label') === 'Header: Slim header'"
        found.append(window.evaluate(_UNTIL, {"action": action, "holds": holds}))
    found.sort()
    detail = (
        f"{PAGES:,} pages; from the choice to the strips redrawn, median of {len(found)}, slowest {found[-1]:.0f} ms"
    )
    yield "save_to_strips", found[len(found) // 2], 300, "ms", True, detail


#: Type into a field as a hand does: React hears the event, not the value.
_TYPE = """
const field = document.querySelector('[aria-label="Include, as text"]');
Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set.call(field, '%s');
field.dispatchEvent(new Event('input', { bubbles: true }));
const told = document.querySelector('[aria-label="Reach"] [role=status]');
window.turned = 0;
new MutationObserver((all) => { window.turned += all.length; }).observe(told, { attributeFilter: ['aria-busy'] });
"""
#: Busy, and then no more.
_TOLD = "window.turned > 1"


def _reach(window: Page, name: str, goal: float, where: str) -> Iterator[tuple[str, float, float, str, bool, str]]:
    """A rule as it is typed: from the keystroke to the pages that it reaches."""
    window.goto("/marrowick/rules")
    window.get_by_role("link", name="Quiet checkout").click()
    window.get_by_role("status").filter(has_text="reached").wait_for()
    found = []
    for number in range(RUNS * 2):
        # Another one each time, so that no answer is known from before.
        action = _TYPE % f"words:>={100 + number}"
        found.append(window.evaluate(_UNTIL, {"action": action, "holds": _TOLD}))
    window.get_by_role("button", name="Back to saved").click()
    found.sort()
    detail = (
        f"{where}; the pause of 30 ms for further keys included, median of {len(found)}, slowest {found[-1]:.0f} ms"
    )
    yield f"reach_typing{name}", found[len(found) // 2], goal, "ms", True, detail


def _trace(window: Page, name: str, goal: float, where: str) -> Iterator[tuple[str, float, float, str, bool, str]]:
    """From the click on a cell to its account."""
    window.goto("/marrowick/pages")
    window.get_by_role("rowheader").nth(10).wait_for()
    found = []
    for row in range(2, 2 + RUNS * 2):
        title = f"[...document.querySelectorAll('#cell-{row}-0')][0].title"
        window.evaluate(f"window.wanted = {title}")
        holds = "document.querySelector(`aside[aria-label$=' on ${window.wanted}'][aria-busy=false] .outcome`) !== null"
        action = f"document.getElementById('cell-{row}-2').click()"
        found.append(window.evaluate(_UNTIL, {"action": action, "holds": holds}))
    found.sort()
    detail = f"{where}; median of {len(found)}, slowest {found[-1]:.0f} ms"
    yield f"trace_open{name}", found[len(found) // 2], goal, "ms", True, detail


#: The time from frame to frame while nothing moves, and while the list scrolls by a third of its height a frame.
_FRAMES = """
async () => {
  const grid = document.querySelector('[role=grid]');
  const frames = async (step) => {
    const found = [];
    let last = await new Promise(requestAnimationFrame);
    for (let number = 0; number < 90; number += 1) {
      if (step) grid.scrollTop += step;
      const now = await new Promise(requestAnimationFrame);
      found.push(now - last);
      last = now;
    }
    return found.sort((a, b) => a - b);
  };
  const idle = await frames(0);
  const moving = await frames(200);
  return [idle[45], moving[81]];
}
"""


def _scroll(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    window.goto("/marrowick/pages")
    window.get_by_role("rowheader").nth(10).wait_for()
    window.get_by_role("button", name="Open all").click()
    ratios = []
    for _ in range(RUNS):
        idle, moving = window.evaluate(_FRAMES)
        ratios.append(moving / idle)
        window.get_by_role("grid").evaluate("grid => { grid.scrollTop = 0; }")
    detail = f"{PAGES:,} pages, all open; nine of ten frames while scrolling are no longer than so many idle ones"
    yield "scroll_frames", sorted(ratios)[RUNS // 2], 2, "times", True, detail
