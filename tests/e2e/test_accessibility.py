"""axe-core on every view, light and dark, with the demo site as it comes. In the dark the colours alone differ."""

import pytest
from playwright.sync_api import expect

from .conftest import go, settle


@pytest.mark.parametrize(
    "address",
    [
        "/pages", "/pages?path=/tickets/pay&target=footer", "/pages?q=typ:x", "/pages?path=/about&facts=edit", "/pages?path=/about&target=setting:measure", "/rules", "/rules/1", "/pieces", "/nowhere",
        "/pieces/main-header", "/pieces/site-footer", "/pieces/help-desk", "/pieces/standard", "/starters", "/places", "/take-in", "/preview?path=/tickets/pay&beside=live", "/publish", "/checks/guards/Nothing%20to%20click%20away%20to", "/site", "/site/dress", "/site/recipe", "/site/bindings", "/pieces/story-end",
        "/site/people", "/site/log", "/preview?path=/crew/rota&walk=layouts", '/preview?path=/about&beside=plain&try=[{"do":"fill","slot":"header","piece":"slim-header"}]',
        "/preview?path=/tickets/pay&beside=live&over=wipe",
    ],
)  # fmt: skip
def test_axe_finds_nothing_serious(untouched, desk, axe, address):
    window = desk.kept("looking")
    go(window, f"/marrowick{address}")
    settle(window)
    for folded in window.get_by_role("button", name="Where and when").all():
        folded.click()
        expect(folded).to_have_attribute("aria-expanded", "true")
    serious = axe(window)
    window.emulate_media(color_scheme="dark")
    # Colours pass from one to the other.
    window.evaluate(
        "new Promise(requestAnimationFrame).then(() => Promise.allSettled(document.getAnimations().map((one) => one.finished)))"
    )
    dark = axe(window, colours=True)
    assert (serious, dark) == ([], [])
