"""Every page of the published demo: whole HTML, no wider than the screen, nothing serious found by axe.

Axe looks at one page of each layout, at both widths.
"""

import json
from pathlib import Path

import html5lib
import pytest

from .conftest import HERE

PATHS = [page["path"] for page in json.loads((Path(HERE).parents[1] / "demo" / "layout.json").read_text())["pages"]]
#: Several pages a test, so that they run side by side.
STRETCHES = [PATHS[at : at + 11] for at in range(0, len(PATHS), 11)]


@pytest.fixture(scope="module")
def layouts():
    """The layouts of which axe has seen a page, over all stretches that are looked at here."""
    return set()


@pytest.mark.parametrize("paths", STRETCHES, ids=lambda paths: paths[0])
def test_pages_are_valid_and_axe_finds_nothing_serious(untouched, browser, axe, layouts, paths):
    context = browser.new_context(base_url=untouched.published)
    window = context.new_page()
    found, layout = [], ""
    for path in paths:
        # What reaches over the edge does so where it is narrow; wide, one page of each layout is looked at.
        for width in (390, 1280):
            if width == 1280 and layout in layouts:
                continue
            window.set_viewport_size({"width": width, "height": 800})
            answer = window.goto(path)
            assert answer is not None and answer.status == (404 if path == "/404" else 200), path
            if width == 390:
                html5lib.HTMLParser(strict=True).parse(answer.text())
            wide = window.evaluate("document.documentElement.scrollWidth")
            if wide > width:
                found.append(f"{path} at {width}: {wide} px wide")
            layout = window.evaluate(
                "[...document.querySelectorAll('[data-piece]')].map((one) => one.dataset.piece).join()"
            )
            if layout not in layouts:
                found += [f"{path} at {width}: {one}" for one in axe(window)]
            if width == 1280:
                layouts.add(layout)
    context.close()
    assert found == []
