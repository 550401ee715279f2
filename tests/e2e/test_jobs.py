"""Jobs that people do, each from end to end in the real interface, as far as the published site."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import add_action, cell, choose, go, make_rules, put_live, save_rule, search, set_moment, settle


def new_rule(page, name, include, *actions, site="marrowick"):
    """Write a rule in the editor: its condition as text, its actions by choosing. An action is (target, do, piece)."""
    go(page, f"/{site}/rules")
    page.get_by_role("button", name="New rule").click()
    page.get_by_label("Name of the rule").fill(name)
    page.get_by_label("Include, as text").fill(include)
    for target, do, piece in actions:
        add_action(page)
        choose(page.get_by_label("Place on the page", exact=True).last, target)
        if do != "use":
            choose(page.get_by_label(f"What to do with {target}").last, do)
        if piece:
            page.get_by_role("button", name=f"Piece for {target}").last.click()
            page.get_by_role("option", name=re.compile(f"^{piece}")).click()
    save_rule(page)
    expect(page.get_by_text(f"Saved {name}")).to_be_visible()
    expect(page).to_have_url(re.compile(r"/rules/\d+"))


def change_include(page, name, include):
    """Open a rule from the list and give it another include."""
    page.get_by_label("Rules, the highest first").get_by_role("link", name=re.compile(f"^{re.escape(name)}")).click()
    page.get_by_label("Include, as text").fill(include)
    save_rule(page)
    expect(page.get_by_text(f"Saved {name}")).to_be_visible()


def entry(page, number, part):
    """The text of one part of a sidebar entry's condition, unfolded where it is folded."""
    unfold = page.get_by_role("button", name=f"Where and when: entry {number}")
    if unfold.get_attribute("aria-expanded") == "false":
        unfold.click()
    return page.get_by_label(f"{part} of entry {number}, as text", exact=True)


def save_piece(page, name):
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text(f"Saved {name}").last).to_be_visible()
    expect(page.get_by_role("button", name="Save piece")).to_have_count(0)


def publish(page, overruling=""):
    """Publish what was edited; where that breaks a guard, why it is overruled."""
    page.get_by_role("link", name="Publish").click()
    settle(page)
    if overruling:
        page.get_by_label("Why the broken guard is overruled").fill(overruling)
    page.get_by_role("button", name=re.compile(r"^Publish \d")).click()
    expect(page.get_by_text(re.compile(r"Revision \d+ is live"))).to_be_visible()


def has_footer(window):
    return window.locator("footer").count() == 1


@pytest.mark.elsewhere
def test_w08_conditions_by_address_patterns_and_their_opposite(page, public):
    new_rule(
        page,
        "Quiet header",
        "path:/journal/*-*,/routes/:line | page:/ | path:/nb{/*}?",
        ("Header", "fill with", "Slim header"),
    )
    reach = page.get_by_role("complementary", name="Reach")
    expect(reach.get_by_text("/routes/north-isle", exact=True)).to_be_visible()
    expect(reach.get_by_text("/routes", exact=True)).to_have_count(0)
    # Rules that name a page alone, or ask for more, still stand above it; the list says so on each page.
    expect(reach).to_contain_text("outranked by Night header on specificity")
    publish(page)
    for path, slim in {
        "/": True,
        "/routes/outer-ring": True,
        "/journal/two-keepers": True,
        "/routes": False,
        "/about": False,
    }.items():
        assert (public(path).locator("[data-piece=slim-header]").count() == 1) is slim, path

    # The opposite: everywhere but there.
    page.get_by_role("link", name="Rules").click()
    change_include(page, "Quiet header", "-path:/journal/*-*,/routes/:line -page:/ -path:/nb{/*}? within:/")
    put_live(page)
    for path, slim in {
        "/": False,
        "/routes/outer-ring": False,
        "/journal/two-keepers": False,
        "/routes": True,
        "/about": True,
    }.items():
        assert (public(path).locator("[data-piece=slim-header]").count() == 1) is slim, path


@pytest.mark.elsewhere
def test_w10_a_slot_emptied_everywhere_and_then_only_in_some_places(page, public):
    new_rule(page, "No footer", "page:/about,/contact", ("Footer", "leave empty", ""))
    cases = {
        "all": (["/about", "/help", "/help/dogs", "/search", "/no-such-page"], []),
        "page:/about,/contact": (["/about", "/contact"], ["/help", "/"]),
        "child:/help": (["/help/dogs", "/help/wind"], ["/help", "/about"]),
        "type:article term:topic/food": (["/journal/harbour-kitchens"], ["/journal/two-keepers", "/topics/food"]),
        "kind:listing": (["/help", "/routes"], ["/help/dogs", "/"]),
        "kind:search": (["/search?q=tide"], ["/help", "/no-such-page"]),
        "kind:missing": (["/no-such-page"], ["/search", "/"]),
    }
    page.get_by_label("Priority", exact=True).fill("50")
    save_rule(page)
    expect(page.get_by_role("region", name="Priority +50")).to_be_visible()
    for include, (without, withal) in cases.items():
        page.get_by_role("link", name="Rules").click()
        change_include(page, "No footer", include)
        put_live(page)
        assert not any(has_footer(public(path)) for path in without), include
        assert all(has_footer(public(path)) for path in withal), include
    # The page list tells "left empty" apart from "nothing set".
    go(page, "/marrowick/pages")
    search(page, "kind:missing")
    expect(cell(page, "Not found", "Footer")).to_have_attribute("aria-label", "Footer: left empty")
    expect(cell(page, "Not found", "Aside end")).to_have_attribute("aria-label", "Aside end: nothing set")


def with_wind_line(page):
    """Open the sidebar of the journal and add the wind line to it, as its third entry."""
    go(page, "/marrowick/pieces/latest-stories")
    page.get_by_role("button", name="+ widget").click()
    page.get_by_role("option", name=re.compile("^Wind line")).click()
    return page.get_by_role("status", name="Reach of entry 3")


@pytest.mark.elsewhere
def test_w06_a_widget_by_role_sign_in_weekday_browser_address_and_page_type(page, public, drafted):
    reach = with_wind_line(page)
    article, other = "/journal/two-keepers", "/journal/aurora-gets-a-new-heart"
    wind = "[data-piece=wind-line]"

    def shows(path=article, **lens):
        return drafted(path, wind, **lens)

    # By default everywhere that the sidebar stands.
    save_piece(page, "Latest stories")
    expect(reach).to_contain_text("Matches 132 pages, shows on 40 through this lens")
    assert shows()
    for part, text, seen, unseen in [
        ("Visitors", "role:crew", {"visitor": "signed:in role:crew"}, {"visitor": "signed:in"}),
        ("Visitors", "signed:in", {"visitor": "signed:in"}, {"visitor": "signed:out"}),
        ("Visitors", "browser:safari", {"visitor": "browser:safari"}, {"visitor": "browser:edge"}),
        ("Visitors", "query.campaign:spring", {"visitor": "query.campaign:spring"}, {"visitor": "signed:out"}),
        ("On pages", "path:/journal/two-*", {"path": article}, {"path": other}),
        ("On pages", "type:article", {"path": article}, {"path": "/topics/food"}),
    ]:
        entry(page, 3, part).fill(text)
        save_piece(page, "Latest stories")
        assert shows(**seen), text
        assert not shows(**unseen), text
        entry(page, 3, part).fill("")
    # On Fridays only; for the visitors of the published site, what does not hang on the day.
    whole = page.get_by_role("region", name="Entry 3", exact=True)
    whole.get_by_role("button", name="always", exact=True).click()
    whole.get_by_label("Repeats", exact=True).fill("FREQ=WEEKLY;BYDAY=FR")
    whole.get_by_label("For", exact=True).fill("P1D")
    set_moment(whole, "First", "2026-12-04T00:00")
    save_piece(page, "Latest stories")
    assert shows(at="2026-12-11T12:00")
    assert not shows(at="2026-12-12T12:00")
    page.get_by_role("button", name=re.compile("^Undo: Latest stories")).click()
    expect(page.get_by_text("Undone: Latest stories")).to_be_visible()
    entry(page, 3, "Visitors").fill("browser:safari")
    save_piece(page, "Latest stories")
    publish(page)
    assert public(article).locator(wind).count() == 0


@pytest.mark.elsewhere
def test_w13_a_widget_on_all_pages_chosen_ones_all_others_or_none_with_a_note_on_why(page, public):
    reach = with_wind_line(page)
    articles = {"/journal/two-keepers": True, "/journal/counting-seals": True, "/journal/a-winter-without-ice": True}
    page.get_by_label("Why entry 3 is there").fill("Asked for by the pier at Norrvøy")

    def published(expected, publish=put_live):
        save_piece(page, "Latest stories")
        publish(page)
        for path, shows in expected.items():
            assert (public(path).locator("aside [data-piece=wind-line]").count() == 1) is shows, path

    published(articles, publish)
    go(page, "/marrowick/pieces/latest-stories")
    expect(page.get_by_label("Why entry 3 is there")).to_have_value("Asked for by the pier at Norrvøy")
    chosen = {**articles, "/journal/counting-seals": False}
    entry(page, 3, "On pages").fill("page:/journal/two-keepers,/journal/a-winter-without-ice")
    expect(reach).to_contain_text("Matches 2 pages, shows on 2")
    published(chosen)
    # All others, in one step.
    entry(page, 3, "On pages")
    page.get_by_role("region", name="Entry 3", exact=True).get_by_role("button", name="The opposite pages").click()
    expect(entry(page, 3, "But not on")).to_have_text("page:/journal/two-keepers,/journal/a-winter-without-ice")
    expect(entry(page, 3, "On pages")).to_have_text("")
    published({path: not shows for path, shows in chosen.items()})
    # On none for now; what was said stays.
    page.get_by_label("entry 3 is on").click()
    expect(reach).to_contain_text("Off: shows nowhere")
    published(dict.fromkeys(articles, False))
    page.get_by_label("entry 3 is on").click()
    # By the number of words on the page.
    entry(page, 3, "But not on").fill("")
    entry(page, 3, "On pages").fill("words:>=100000")
    expect(reach).to_contain_text("Matches 0 pages")
    published(dict.fromkeys(articles, False))
    entry(page, 3, "On pages").fill("words:<100000")
    published(articles)


@pytest.mark.elsewhere
def test_w18_a_sidebar_for_plain_pages_another_for_articles_and_a_widget_for_one_topic(page, public):
    new_rule(page, "Plain pages", "kind:single type:crew", ("Aside end", "fill with", "Help desk"))
    go(page, "/marrowick/pieces/latest-stories")
    page.get_by_role("button", name="+ widget").click()
    page.get_by_role("option", name=re.compile("^Wind line")).click()
    entry(page, 3, "On pages").fill("term:topic/weather")
    page.get_by_role("button", name="Save piece").click()
    expect(page.get_by_text("Saved Latest stories")).to_be_visible()
    publish(page)
    aside = lambda path: public(path).locator("aside")  # noqa: E731
    expect(aside("/crew/rota").locator("[data-piece=help-desk]")).to_be_visible()
    expect(aside("/journal/two-keepers").locator("[data-piece=latest-stories]")).to_be_visible()
    assert aside("/journal/two-keepers").locator("[data-piece=wind-line]").count() == 0
    expect(aside("/journal/a-winter-without-ice").locator("[data-piece=wind-line]")).to_be_visible()


@pytest.mark.elsewhere
def test_w20_one_page_overrides_two_settings_and_the_others_follow_the_site(page, public):
    def measure_on(path):
        return public(path).locator("body").get_attribute("data-measure")

    trail = "nav.breadcrumbs"
    assert (measure_on("/about"), public("/about").locator(trail).count()) == ("normal", 1)
    # Two settings of one page.
    go(page, "/marrowick/pages?path=/about&target=setting:measure")
    choose(page.get_by_label("Measure on this page"), "wide")
    page.get_by_role("button", name="Set it here").click()
    trace = page.get_by_role("complementary", name="Why: Measure on /about")
    expect(trace).to_contain_text("Wide by Pin: /about")
    go(page, "/marrowick/pages?path=/about&target=setting:breadcrumbs")
    page.get_by_role("group", name="Breadcrumbs on this page").get_by_role("button", name="off").click()
    page.get_by_role("button", name="Set it here").click()
    expect(page.get_by_role("complementary", name="Why: Breadcrumbs on /about")).to_contain_text("Off by Pin: /about")
    publish(page)
    assert (measure_on("/about"), public("/about").locator(trail).count()) == ("wide", 0)
    assert (measure_on("/contact"), public("/contact").locator(trail).count()) == ("normal", 1)

    # The site's defaults change: every page follows but the one that stands apart.
    page.get_by_role("link", name="Site", exact=True).click()
    choose(page.get_by_label("Default of measure", exact=True), "narrow")
    page.get_by_role("button", name="Save settings").click()
    expect(page.get_by_text("Saved the settings")).to_be_visible()
    put_live(page)
    assert (measure_on("/about"), measure_on("/contact"), measure_on("/")) == ("wide", "narrow", "narrow")

    # The page list tells the one apart, in a column like any other.
    page.get_by_role("link", name="Pages", exact=True).click()
    page.get_by_role("button", name="Columns").click()
    page.get_by_role("dialog", name="Columns").get_by_label("Measure").click()
    page.keyboard.press("Escape")
    search(page, "page:/about,/contact")
    expect(cell(page, "About us", "Measure")).to_have_attribute("aria-label", "Measure: wide")
    expect(cell(page, "Contact", "Measure")).to_have_attribute("aria-label", "Measure: narrow")
    # Back to what the site says, in one step.
    cell(page, "About us", "Measure").click()
    page.get_by_role("button", name="As the site").click()
    expect(cell(page, "About us", "Measure")).to_have_attribute("aria-label", "Measure: narrow")
    put_live(page)
    assert (measure_on("/about"), public("/about").locator(trail).count()) == ("narrow", 0)


@pytest.mark.elsewhere
def test_a_pin_overruled_by_a_rule_of_higher_priority_is_told_by_what(page):
    go(page, "/marrowick/pages?path=/crew/rota&target=header")
    page.get_by_role("button", name="Pin a header", exact=True).click()
    page.get_by_role("option", name=re.compile("^Night header")).click()
    trace = page.get_by_role("complementary", name="Why: Header on /crew/rota")
    expect(trace).to_contain_text("Night header by Pin: /crew/rota")
    summer = {"do": "fill", "slot": "header", "piece": "summer-header"}
    make_rules(page, {"name": "Summer everywhere", "condition": {"include": "all"}, "priority": 5, "actions": [summer]})
    page.reload()
    expect(trace).to_contain_text("Summer header by Summer everywhere")
    expect(trace).to_contain_text("decided on priority over Pin: /crew/rota")
