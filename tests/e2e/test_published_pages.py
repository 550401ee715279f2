"""The pages of the published demo: whole HTML, no wider than the screen, nothing serious found by axe.

All are read; in the browser stands one page of each make, which is the pieces on it and the elements of its content;
axe looks at one page of each layout, at both widths.
"""

import json
from pathlib import Path
from urllib.error import HTTPError
from urllib.request import urlopen

import html5lib
import pytest

from .conftest import HERE

PATHS = [page["path"] for page in json.loads((Path(HERE).parents[1] / "demo" / "layout.json").read_text())["pages"]]
#: Several pages a test, so that they run side by side.
STRETCHES = [PATHS[at : at + 11] for at in range(0, len(PATHS), 11)]


@pytest.fixture(scope="module")
def makes():
    """The makes of pages that were looked at, over all stretches."""
    return set()


@pytest.fixture(scope="module")
def layouts():
    """The layouts of which axe has seen a page, over all stretches."""
    return set()


def read(origin, path):
    """What an address answers, read strictly: its layout, and its make."""
    try:
        with urlopen(origin + path) as answer:
            status, text = answer.status, answer.read()
    except HTTPError as refused:
        status, text = refused.code, refused.read()
    assert status == (404 if path == "/404" else 200), path
    tree = html5lib.HTMLParser(strict=True, namespaceHTMLElements=False).parse(text)
    layout = tuple(one.get("data-piece") for one in tree.iter() if one.get("data-piece"))
    return layout, (layout, frozenset(one.tag for one in tree.find("body//main").iter()))


@pytest.mark.parametrize("paths", STRETCHES, ids=lambda paths: paths[0])
def test_pages_are_valid_and_axe_finds_nothing_serious(untouched, browser, axe, makes, layouts, paths):
    context = browser.new_context(base_url=untouched.published)
    window = context.new_page()
    found = []
    for path in paths:
        layout, make = read(untouched.published, path)
        if make in makes:
            continue
        makes.add(make)
        # What reaches over the edge does so where it is narrow; wide, one page of each layout is looked at.
        for width in (390,) if layout in layouts else (390, 1280):
            window.set_viewport_size({"width": width, "height": 800})
            window.goto(path)
            wide = window.evaluate("document.documentElement.scrollWidth")
            if wide > width:
                found.append(f"{path} at {width}: {wide} px wide")
            if layout not in layouts:
                found += [f"{path} at {width}: {one}" for one in axe(window)]
        layouts.add(layout)
    context.close()
    assert found == []
