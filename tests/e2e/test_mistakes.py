"""What people get wrong, and what the tool does about it."""

import json
import re

import pytest
from playwright.sync_api import expect

from .conftest import choose, go, make_rules, settle
from .test_jobs import publish
from .test_pieces import pick, why
from .test_preview import SITE, side
from .test_rules_view import new_rule
from .test_views import DEMO

VIEWS = [
    "pages", "pages?path=/about&target=footer", "rules", "rules/3", "pieces", "pieces/latest-stories", "preview?path=/about",
    "checks", "checks/guards", "publish", "places", "starters", "take-in", "site", "site/dress", "site/recipe", "site/bindings", "site/log", "site/people",
]  # fmt: skip


def rule(name, include, priority=0, **condition):
    return {
        "name": name,
        "priority": priority,
        "condition": {"include": include, **condition},
        "actions": [{"do": "fill", "slot": "header", "piece": "night-header"}],
    }


@pytest.mark.elsewhere
def test_a_page_that_shows_the_wrong_thing_names_the_setting_that_did_it_and_what_it_beats(page):
    panel = why(page, "/tickets/pay", "header")
    expect(panel).to_contain_text("Slim header by Quiet checkout")
    expect(panel).to_contain_text("decided on specificity over Site header")
    expect(panel).to_contain_text(re.compile("Quiet checkout ?won"))
    expect(panel).to_contain_text(re.compile("Site header ?outranked"))


@pytest.mark.elsewhere
def test_an_edit_of_a_shared_piece_says_beside_it_where_else_it_shows(page):
    go(page, f"{SITE}/pieces/main-header")
    page.get_by_role("textbox", name="Note").fill("seen by everybody")
    told = page.get_by_role("status", name="What saving changes")
    expect(told).to_contain_text("Saving changes nothing to be seen")
    page.get_by_role("button", name="Back to saved").click()
    page.get_by_role("button", name=re.compile("^Logo")).click()
    page.get_by_label("Logo: name").fill("Marrowick by water")
    expect(told).to_contain_text(re.compile(r"Saving changes how 1\d\d pages look"))
    number = re.findall(r"1\d\d", told.inner_text())[0]
    page.get_by_role("button", name="Save piece").click()
    page.get_by_role("link", name="Publish").click()
    expect(page.get_by_role("heading", name=f"Looks different on {number} pages")).to_be_visible()


def test_what_can_never_apply_or_is_always_beaten_is_found_over_all_visitors_and_moments(page):
    make_rules(
        page,
        rule("Always beaten", "page:/about", -50),
        rule("Beats it", "page:/about", 50),
        rule("Both at once", "kind:home kind:single"),
        # Beaten for whoever is signed out, and only then: no finding.
        rule("Not always", "page:/contact", 10),
        rule("Sometimes", "page:/contact", 50, visitors={"include": "signed:out"}),
    )
    page.goto(f"{SITE}/checks")
    found = page.get_by_role("listitem")
    expect(found.filter(has_text="“Always beaten”").filter(has_text="never")).to_have_count(1)
    expect(found.filter(has_text="“Both at once”")).not_to_have_count(0)
    expect(found.filter(has_text="“Not always” never")).to_have_count(0)
    expect(found.filter(has_text="“Sometimes” never")).to_have_count(0)


@pytest.mark.elsewhere
def test_an_empty_sidebar_nobody_a_past_date_and_a_pattern_that_matches_nothing_are_found(page):
    go(page, f"{SITE}/pieces")
    page.get_by_role("button", name="New piece").click()
    form = page.get_by_role("form", name="New piece")
    choose(form.get_by_label("Kind"), "sidebar")
    form.get_by_label("Name").fill("New sidebar")
    form.get_by_role("button", name="Make it").click()
    expect(page.get_by_label("Name of the piece")).to_have_value("New sidebar")
    empty = {"name": "Beside nothing", "condition": {"include": "page:/about"},
             "actions": [{"do": "fill", "slot": "aside-end", "piece": "new-sidebar"}]}  # fmt: skip
    make_rules(
        page,
        empty,
        rule("For nobody", "page:/about", visitors={"include": "signed:in signed:out"}),
        rule("Long past", "page:/about", schedule={"from": "2020-01-01", "until": "2020-02-01"}),
        rule("No such pattern", "path:/nowhere/*"),
    )
    page.goto(f"{SITE}/checks")
    found = page.get_by_role("listitem")
    for name in ("For nobody", "Long past", "No such pattern"):
        expect(found.filter(has_text=f"“{name}”")).not_to_have_count(0)
    expect(found.filter(has_text="New sidebar")).not_to_have_count(0)


@pytest.mark.elsewhere
def test_saved_is_never_taken_for_live_nor_the_preview_for_either(page, public):
    go(page, f"{SITE}/rules")
    state = page.get_by_role("banner").get_by_role("link")
    expect(state).to_have_text("draft and live are the same")
    page.get_by_role("link", name=re.compile("^Site footer")).click()
    page.get_by_label("Rule is on").click()
    expect(state).to_have_text("1 unsaved, draft and live are the same")
    page.get_by_role("button", name="Save rule").click()
    expect(state).to_have_text("1 saved and not live")
    go(page, f"{SITE}/preview?path=/about")
    expect(side(page, "Draft")).to_contain_text("differs from live")
    expect(side(page, "Draft").frame_locator("iframe").locator("[data-piece=site-footer]")).to_have_count(0)
    assert public("/about").locator("[data-piece=site-footer]").count() == 1
    publish(page)
    expect(state).to_have_text("draft and live are the same")
    assert public("/about").locator("[data-piece=site-footer]").count() == 0


def test_whatever_is_off_says_why(page):
    silent = {}
    for view in VIEWS:
        go(page, f"{SITE}/{view}")
        settle(page)
        # A name that begins with what is lacking says it too, as that of undo does where there is nothing to undo.
        found = page.evaluate(
            """() => [...document.querySelectorAll('button:disabled, [aria-disabled=true]')]
                .map((one) => [one.getAttribute('aria-label') ?? one.textContent, one.title || one.closest('[title]')?.title || ''])
                .filter(([name, why]) => !name.startsWith('Nothing to') && (why === '' || why === name))"""
        )
        if found:
            silent[view] = found
    assert silent == {}


@pytest.mark.elsewhere
@pytest.mark.parametrize("typed", ["Winter li", "/winter-li"])
def test_pages_are_picked_by_title_and_path_and_no_identifier_is_looked_up(page, typed):
    go(page, f"{SITE}/rules")
    new_rule(page, "Lights")
    page.get_by_role("button", name="+ pages").click()
    editor = page.get_by_role("dialog", name="A new term")
    editor.get_by_role("button", name="page", exact=True).click()
    editor.get_by_placeholder("Part of a title or a path").fill(typed)
    editor.get_by_role("option", name=re.compile("Winter lights")).click()
    editor.get_by_role("button", name="Done").click()
    expect(page.get_by_label("Include, as text", exact=True)).to_have_text("page:/winter-lights")


def test_many_hand_picked_pages_are_proposed_as_what_they_have_in_common_with_what_that_would_add(page):
    pages = json.loads(DEMO.read_text())["pages"]
    food = [one["title"] for one in pages if "topic/food" in one.get("terms", [])]
    assert len(food) > 4
    pick(page, *food[1:])
    bar = page.get_by_role("region", name="Picked pages")
    # What they have in common, all of it: the one that was forgotten would come in, and is shown in the list.
    bar.get_by_role("button", name=re.compile(r"Food.*\+ ?1\b", re.IGNORECASE)).first.click()
    expect(bar.get_by_role("button", name=f"Put a piece on {len(food)} pages")).to_be_visible()
    expect(page.get_by_text("would come in", exact=True)).to_be_in_viewport()


@pytest.mark.elsewhere
def test_what_looks_right_on_the_desktop_stands_beside_the_two_other_widths(page):
    go(page, f"{SITE}/preview?path=/tickets/pay")
    page.get_by_role("button", name="All three").click()
    for name in ("Desktop, 1280 px", "Tablet, 800 px", "Phone, 390 px"):
        expect(side(page, name).frame_locator("iframe").get_by_role("heading", level=1)).to_be_visible()
