"""The interface and the intake on a made site of ten thousand pages, in headless Chromium."""

from __future__ import annotations

import json
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path

from navrel_rehearsal import CHROMIUM_FLAGS, Stage, chromium_path, rehearse
from playwright.sync_api import Page, expect, sync_playwright

from .made import made_pages, write_folder

PAGES = 10_000
MORE_PAGES = 100_000
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
        stage.run(str(HERE / "put_rule.py"))
        demo = "the demo site"
        yield from _lens(window, "_demo", 100, demo)
        yield from _search(window, "_demo", 100, demo, ["ferry", "harbour", "ticket", "help", "journal"])
        yield from _reach(window, "_demo", 100, demo)
        yield from _trace(window, "_demo", 100, demo)
        yield from _intake(stage)
        made = f"{PAGES:,} pages and {RULES} rules"
        rows, after = _first_rows(window)
        detail = f"{made}; from the last byte of data to ten rows on screen, best of {RUNS}"
        yield "first_rows", after, 1000, "ms", True, detail
        yield from _lens(window, "", 300, made)
        yield from _search(window, "", 300, made, [f'"number {number}"' for number in range(1000, 1000 + RUNS)])
        yield from _save(window)
        yield from _reach(window, "", 300, made)
        yield from _trace(window, "", 300, made)
        yield from _scroll(window)
        stage.run(str(HERE / "put_pages.py"), str(MORE_PAGES), "0")
        window.goto("/marrowick/pages")
        window.get_by_role("rowheader").nth(10).wait_for(timeout=60_000)
        more, _ = _first_rows(window)
        detail = f"{MORE_PAGES:,} pages; from the address to ten rows: {more:.0f} ms, {rows:.0f} ms at {PAGES:,}"
        yield "first_rows_100k", more / rows, 2, "times", True, detail
        yield "heap_100k", _heap(window), 60, "MiB", True, f"{MORE_PAGES:,} pages; used by the page list"
        browser.close()


def _intake(stage: Stage) -> Iterator[tuple[str, float, float, str, bool, str]]:
    with tempfile.TemporaryDirectory() as name:
        write_folder(made_pages(PAGES), Path(name))
        stage.run(str(HERE / "take_in.py"), name, str(PAGES), str(RULES))
        took = json.loads((Path(name) / "took").read_text())
    parsed = took["parsed"]
    told = f"{PAGES:,} files of 12 kB: {took['taken']:.1f} s, over {parsed:.1f} s for lxml to parse them alone"
    yield "intake_10000", took["taken"] / parsed, 3, "times", True, told
    yield "intake_memory", took["memory"], 150, "MiB", True, "peak resident memory of that intake above its start"
    told = f"two slots bound and {took['finds']} things found there: {took['found']:.1f} s, over the same"
    yield "finds_10000", took["found"] / parsed, 3, "times", True, told


def _first_rows(window: Page) -> tuple[float, float]:
    """Milliseconds to ten rows on screen, from the address on and from the last byte of data on: the best of each."""
    found = []
    for _ in range(RUNS):
        window.goto("/marrowick/pages", wait_until="commit")
        window.get_by_role("rowheader").nth(10).wait_for()
        passed, data = window.evaluate(
            """() => {
                const asked = performance.getEntriesByType('resource');
                const data = asked.filter((one) => /\\/(pages|layout)\\?/.test(one.name));
                return [performance.now(), Math.max(...data.map((one) => one.responseEnd))];
            }"""
        )
        found.append((passed, passed - data))
        # What still comes is waited for, so that the next visit has the machine to itself.
        window.wait_for_load_state("networkidle")
    return min(passed for passed, _ in found), min(after for _, after in found)


def _heap(window: Page) -> float:
    """What the window's scripts use once what can be given back is given back, in MiB."""
    devtools = window.context.new_cdp_session(window)
    devtools.send("HeapProfiler.collectGarbage")
    return float(devtools.send("Runtime.getHeapUsage")["usedSize"]) / 2**20


def _lens(window: Page, name: str, goal: float, where: str) -> Iterator[tuple[str, float, float, str, bool, str]]:
    found = []
    for _ in range(RUNS):
        # Loaded anew, so that the answers for these visitors are nowhere kept in the window.
        window.goto("/marrowick/pages")
        window.get_by_role("rowheader").nth(10).wait_for()
        window.wait_for_load_state("networkidle")
        window.get_by_role("button", name="Signed-out visitor").click()
        for device, signed in (("desktop", "Signed in"), ("phone", "Signed out"), ("tablet", "Signed in")):
            window.get_by_role("button", name=device, exact=True).click()
            window.evaluate(_QUIET)
            action = f"[...document.querySelectorAll('button')].find((one) => one.textContent === '{signed}').click()"
            found.append(window.evaluate(_UNTIL, {"action": _WATCHED + action, "holds": "window.redrawn"}))
            window.evaluate(_QUIET)
    found.sort()
    detail = f"{where}; from the click to the strips redrawn, median of {len(found)}, slowest {found[-1]:.0f} ms"
    yield f"lens_change{name}", found[len(found) // 2], goal, "ms", True, detail


#: Until nothing has been fetched for half a second.
_QUIET = """
async () => {
  const fetched = () => performance.getEntriesByType('resource').length;
  for (let before = -1; before !== fetched();) {
    before = fetched();
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}
"""
#: Whether a cell of the list shows something else than it did.
_WATCHED = """
window.redrawn = false;
new MutationObserver(() => { window.redrawn = true; }).observe(
  document.querySelector('[role=grid]'), { subtree: true, attributeFilter: ['aria-label'] });
"""


def _search(
    window: Page, name: str, goal: float, where: str, queries: list[str]
) -> Iterator[tuple[str, float, float, str, bool, str]]:
    window.goto("/marrowick/pages")
    window.get_by_label("Find pages").wait_for()
    window.wait_for_load_state("networkidle")
    found = []
    for query in queries:
        action = _TYPE_SEARCH % json.dumps(query)
        found.append(window.evaluate(_UNTIL, {"action": action, "holds": "window.counted"}))
        window.get_by_label("Find pages").fill("")
        expect(window.get_by_role("status").filter(has_text=re.compile(r"^[\d,]+ pages$")).first).to_be_visible()
    found.sort()
    detail = (
        f"{where}; from the keystroke to the pages found, the pause of 60 ms for further keys included, "
        f"median of {len(found)}, slowest {found[-1]:.0f} ms"
    )
    yield f"search{name}", found[len(found) // 2], goal, "ms", True, detail


#: Type into the field as a hand does, and look for another count of pages.
_TYPE_SEARCH = """
const field = document.querySelector('[aria-label="Find pages"]');
Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), 'value').set.call(field, %s);
field.dispatchEvent(new Event('input', { bubbles: true }));
const told = [...document.querySelectorAll('[role=status]')].find((one) => /[\\d,]+ pages$/.test(one.textContent));
window.counted = false;
new MutationObserver(() => { window.counted = true; }).observe(
  told, { subtree: true, characterData: true, childList: true });
"""


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


#: Put another text in as a hand does: the editor hears what is put in, and the view what the editor says.
_TYPE = """
const field = document.querySelector('[aria-label="Include, as text"]');
field.focus();
document.execCommand('selectAll');
document.execCommand('insertText', false, '%s');
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
