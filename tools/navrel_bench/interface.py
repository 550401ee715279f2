"""The interface and the intake on a made site of ten thousand pages, in headless Chromium."""

from __future__ import annotations

import re
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from navrel.server.rehearsal import CHROMIUM_FLAGS, Stage, chromium_path, rehearse

from .made import made_pages, write_folder

PAGES = 10_000
RUNS = 5
HERE = Path(__file__).parent

#: Seconds until a condition in the window first holds, looked at on every frame.
_UNTIL = """
({action, holds}) => new Promise((resolve) => {
  const test = new Function(`return (${holds})`);
  const start = performance.now();
  new Function(action)();
  const look = () => (test() ? resolve(performance.now() - start) : requestAnimationFrame(look));
  requestAnimationFrame(look);
})
"""


def measure() -> Iterator[tuple[str, float, float, str, bool, str]]:
    """How long a hand waits, in milliseconds; and the intake of ten thousand files."""
    with rehearse("navrel_bench") as stage:
        yield from _intake(stage)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=chromium_path(), args=list(CHROMIUM_FLAGS))
            window = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=stage.application)
            window.goto("/")
            window.get_by_role("button", name="Look around the demo").click()
            window.get_by_role("grid").wait_for()
            yield from _first_rows(window)
            yield from _lens(window)
            yield from _typing(window)
            browser.close()


def _intake(stage: Stage) -> Iterator[tuple[str, float, float, str, bool, str]]:
    with tempfile.TemporaryDirectory() as name:
        write_folder(made_pages(PAGES), Path(name))
        started = time.perf_counter()
        stage.run(str(HERE / "take_in.py"), name)
        seconds = time.perf_counter() - started
        peak = int((Path(name) / "peak").read_text()) / 1024
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
                    const wanted = performance.getEntriesByType('resource').filter((one) => /\\/(pages|layout)\\?/.test(one.name));
                    const data = Math.max(...wanted.map((one) => one.responseEnd));
                    return performance.now() - data;
                }"""
            )
        )
    detail = f"{PAGES:,} pages; from the last byte of data to ten rows on screen, best of {RUNS}"
    yield "first_rows", min(found), 1000, "ms", True, detail


def _lens(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    window.get_by_role("button", name="Signed-out visitor").click()
    found = []
    for run in range(RUNS * 2):
        name, header = ("Signed in", "Slim header") if run % 2 == 0 else ("Signed out", "Main header")
        action = f"[...document.querySelectorAll('button')].find((one) => one.textContent === '{name}').click()"
        holds = f"document.getElementById('cell-3-2').getAttribute('aria-label') === 'Header: {header}'"
        found.append(window.evaluate(_UNTIL, {"action": action, "holds": holds}))
    window.keyboard.press("Escape")
    detail = (
        f"{PAGES:,} pages; from the click to the strips redrawn, median of {len(found)}, slowest {max(found):.0f} ms"
    )
    yield "lens_change", sorted(found)[len(found) // 2], 300, "ms", True, detail


def _typing(window: Page) -> Iterator[tuple[str, float, float, str, bool, str]]:
    field = window.get_by_label("Find pages")
    found = []
    for number in range(RUNS):
        field.fill("")
        window.get_by_text(re.compile(rf"^{PAGES:,}|^{PAGES} pages".replace(",", ",?"))).wait_for()
        started = time.perf_counter()
        field.fill(f"number {1000 + number}")
        window.get_by_text("1 of", exact=False).first.wait_for()
        found.append((time.perf_counter() - started) * 1000)
    detail = "from the keystroke to the pages found, the pause of 60 ms for further keys included"
    yield "search", sorted(found)[len(found) // 2], 250, "ms", True, detail
