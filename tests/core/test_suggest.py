"""Suggestions: what picked pages have in common, exactly, with a few named beside, or nearly."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.index.page_index import PageIndex
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.suggest import MOST_SUGGESTIONS, suggest

from .strategies import sites

ROUTES = [f"/routes/r{number}" for number in range(14)]
PAGES = [
    Page("/", kind="home"),
    Page("/routes", kind="listing"),
    *(Page(path, type="route", fields={"vessel": "Aurora" if n % 2 else "Tern"}) for n, path in enumerate(ROUTES)),
    Page("/routes/map"),
    Page("/routes/fares"),
    Page("/harbours", kind="listing"),
    *(Page(f"/harbours/h{number}", type="harbour", language="nb" if number < 3 else "en") for number in range(9)),
    Page("/old/ferry", type="route"),
]


def suggestions(*paths):
    """The suggestions for some pages: include, exclude, and what each would add and miss."""
    return [
        (str(one.include), str(one.exclude), [p.path for p in one.adds], [p.path for p in one.misses])
        for one in suggest(PageIndex(PageTree(PAGES)), paths)
    ]


def test_fourteen_picked_pages_become_one_condition_for_today_and_later():
    found = suggest(PageIndex(PageTree(PAGES)), ROUTES)
    assert (str(found[0].include), found[0].adds, found[0].misses, found[0].lasting) == (
        "child:/routes type:route", (), (), True,
    )  # fmt: skip
    assert (str(found[-1].include), found[-1].lasting) == ("page:" + ",".join(sorted(ROUTES, key=ROUTES.index)), False)


def test_a_page_left_out_on_purpose_becomes_an_exclusion():
    assert suggestions(*ROUTES[1:])[0] == ("child:/routes type:route", "page:/routes/r0", [], [])


def test_a_page_beside_the_others_is_named():
    assert suggestions(*ROUTES, "/harbours/h1")[0] == ("child:/routes type:route | page:/harbours/h1", "", [], [])


def test_wider_conditions_say_what_they_would_add():
    found = suggestions(*ROUTES)
    wider = next(one for one in found if one[0] == "type:route" and not one[1])
    assert wider == ("type:route", "", ["/old/ferry"], [])


def test_a_field_can_be_what_pages_have_in_common():
    assert suggestions(*ROUTES[1::2])[0][:2] == ("field.vessel:Aurora", "")


def test_a_folder_that_no_page_stands_for_is_what_its_pages_have_in_common():
    paths = [f"/index-files/{number}" for number in range(9)]
    index = PageIndex(PageTree([Page("/"), Page("/about"), *map(Page, paths)]))
    best = suggest(index, paths)[0]
    assert (str(best.include), best.adds, best.lasting) == ("path:/index-files/*", (), True)
    # Of a section with a page of its own it is the page that is named.
    index = PageIndex(PageTree([Page("/"), Page("/index-files"), Page("/about"), *map(Page, paths)]))
    assert str(suggest(index, paths)[0].include) == "child:/index-files"


def test_few_picks_are_not_explained_by_naming_half_of_them():
    for include, exclude, _, _ in suggestions("/routes/r1", "/harbours/h1"):
        assert " | " not in include and exclude == ""


@pytest.mark.parametrize("paths", [ROUTES, ROUTES[1:], [*ROUTES, "/harbours/h1"], ["/", "/routes"]])
def test_the_order_in_which_pages_are_picked_does_not_matter(paths):
    assert suggestions(*paths) == suggestions(*reversed(paths))


@settings(max_examples=60)
@given(sites(), st.data())
def test_every_suggestion_means_what_it_says(site, data):
    """Include without exclude is what was picked, with what it adds and without what it misses."""
    picked = data.draw(st.lists(st.sampled_from(site.pages), min_size=1, unique_by=lambda page: page.path))
    index = PageIndex(site)
    found = suggest(index, [page.path for page in picked])
    assert 1 <= len(found) <= MOST_SUGGESTIONS
    for one in found:
        met = index.query(one.include) - index.query(one.exclude)
        paths = {site.pages[number].path for number in met.numbers().tolist()}
        expected = {page.path for page in (*picked, *one.adds)} - {page.path for page in one.misses}
        assert paths == expected
    assert not found[-1].lasting and all(one.lasting for one in found[:-1])
    wrong = [len(one.adds) + len(one.misses) for one in found[:-1]]
    assert wrong == sorted(wrong), "those that meet the picked pages best come first"
