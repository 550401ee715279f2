"""What every page of a site glues to its title is taken off; what is a page's own stays."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.server.inventory.content import count_words
from navrel.server.inventory.languages import language_tag, languages_told
from navrel.server.inventory.titles import titles_of, unglued

OWN = ["Timetables", "Fares: all of them", "Crew - who we are", "Boats | old and new", "A/B"]


@pytest.mark.parametrize("glue", ["{} · Marrowick", "{} - Marrowick", "{} | Marrowick", "{}|Marrowick", "{} – Marrowick",
                                  "{} — Marrowick Ferries", "Marrowick -- {}", "Marrowick: {}", "Marrowick | {}", "{} :: Marrowick",
                                  "{}: Marrowick: A line of boats", "{} | Help | Marrowick", "Marrowick: {} - Help",
                                  "{} (Marrowick Ferries)", "{} (Marrowick (season 2026))"])  # fmt: skip
def test_what_most_titles_share_is_taken_off(glue):
    titles = [glue.format(own) for own in OWN]
    taken = unglued([*titles, "Marrowick"])
    assert [taken(title) for title in titles] == OWN
    assert taken("Marrowick") == "Marrowick"


@pytest.mark.parametrize("titles", [
    OWN, ["A · M", "B · M", "C · M"], ["A · M", "B · M", "C · N", "D · O", "E"], [], ["Same"] * 9,
])  # fmt: skip
def test_what_few_share_stays(titles):
    assert [unglued(titles)(title) for title in titles] == titles


def told(title, in_head=""):
    return {"title": title, "in_head": in_head}


def titled(recipe, pages):
    """What makes titles of the facts of pages that all stand beside each other."""
    title_of = titles_of(recipe, [("/page", page) for page in pages])
    return lambda page: title_of("/page", page)


def test_where_most_pages_have_the_same_heading_their_title_elements_tell_them_apart():
    pages = [told("Marrowick Ferries", f"{own} | Marrowick Ferries") for own in OWN]
    pages.append(told("A page with a heading of its own", "Another | Marrowick Ferries"))
    title_of = titled((), pages)
    assert [title_of(page) for page in pages] == [*OWN, "A page with a heading of its own"]
    # Where somebody said where titles stand they are what stands there.
    assert titled([{"fact": "title"}], pages)(pages[0]) == "Marrowick Ferries"


def test_where_two_pages_share_their_only_heading_their_title_elements_tell_them_apart():
    pages = [told("Marrowick", "Marrowick: for crew"), told("Marrowick", "Marrowick: for guests")]
    assert [titled((), pages)(page) for page in pages] == ["Marrowick: for crew", "Marrowick: for guests"]
    pages.append(told("Fares", "Marrowick: fares"))
    assert [titled((), pages)(page) for page in pages] == ["Marrowick", "Marrowick", "Fares"]


def test_a_heading_of_a_section_names_no_page_though_it_is_the_only_one():
    pages = [told("Documentation", f"Marrowick.{own}") for own in ("Moor", "Sail", "Load", "Turn")]
    pages += [told(own, f"{own} in short") for own in OWN]
    assert [titled((), pages)(page) for page in pages] == [
        "Marrowick.Moor",
        "Marrowick.Sail",
        "Marrowick.Load",
        "Marrowick.Turn",
        *OWN,
    ]
    # What the title elements have too is what their pages are called, though several are called so.
    pages = [told("Introduction", f"Introduction to {own}") for own in OWN]
    assert {titled((), pages + [told(own) for own in OWN])(page) for page in pages} == {"Introduction"}


def test_a_heading_below_what_the_title_element_says_is_that_of_a_section():
    sections = [("Mooring", "Marrowick.Moor"), ("Lines", "Marrowick.Moor.Line")]
    pages = [{**told(heading, head), "shows_head": True} for heading, head in sections]
    pages += [told(f"Marrowick.{own}", f"Marrowick.{own}") for own in OWN]
    assert [titled((), pages)(page) for page in pages[:2]] == ["Marrowick.Moor", "Marrowick.Moor.Line"]
    # The name of the site may stand before each heading, and be all that title elements say.
    pages = [{**told(own, "Marrowick Ferries"), "shows_head": True} for own in OWN]
    assert [titled((), pages)(page) for page in pages] == OWN


def test_the_heading_of_a_site_names_none_of_the_few_pages_that_seem_to_have_it():
    pages = [told(own, f"{own} — Marrowick 3 documentation") for own in OWN * 3]
    few = ["Notes on 1", "Notes on 2", "Notes on 3", "Notes on 4"]
    pages += [told("Marrowick 3 documentation", f"{own} — Marrowick 3 documentation") for own in few]
    pages.append(told("Marrowick 3 documentation", "Marrowick 3 documentation"))
    title_of = titled((), pages)
    assert [title_of(page) for page in pages] == [*OWN * 3, *few, "Marrowick 3 documentation"]


def test_a_page_without_a_heading_has_not_what_all_title_elements_share():
    pages = [told(own, f"{own} | Marrowick Ferries") for own in OWN]
    pages.append(told("Harbours | Marrowick Ferries", "Harbours | Marrowick Ferries"))
    assert [titled((), pages)(page) for page in pages] == [*OWN, "Harbours"]


def test_what_a_part_of_a_site_shares_is_taken_off_there():
    manuals = [("boats", "Boats Manual"), ("fares", "Fares Manual")]
    pages = [
        (f"/{folder}/{number}", told(f"{own}: {manual}", f"{own}: {manual}"))
        for folder, manual in manuals
        for number, own in enumerate([*OWN, manual])
    ]
    few = [(f"/crew/{own}", told(f"{own}: Crew", f"{own}: Crew")) for own in OWN[:3]]
    headed = [("/boats/old", told("The old: Boats Manual", "Old ones: Boats Manual"))]
    pages += few + headed
    title_of = titles_of((), pages)
    few_titles = [facts["title"] for _, facts in few]
    assert [title_of(*page) for page in pages] == [
        *OWN, "Boats Manual", *OWN, "Fares Manual", *few_titles, "The old: Boats Manual",
    ]  # fmt: skip


@pytest.mark.parametrize("glue", ["Marrowick Ferries - {}", "{} | Marrowick Ferries", "{} (Marrowick Ferries)"])
def test_the_name_of_the_home_page_is_taken_off_though_few_have_it(glue):
    pages = [("/", told("News", "Marrowick Ferries"))]
    pages += [(f"/tag/{own}", told("News", glue.format(own))) for own in ("Crew", "Fares", "Harbours")]
    pages += [(f"/{own}", told(own, own)) for own in OWN]
    title_of = titles_of((), pages)
    assert [title_of(*page) for page in pages] == ["Marrowick Ferries", "Crew", "Fares", "Harbours", *OWN]


@pytest.mark.parametrize("pages", [
    [told("Marrowick", "Marrowick - Boats")] * 3, [told("Marrowick", "Marrowick")] * 9,
    [told("Marrowick")] * 9, [told(own, f"{own} - Boats") for own in OWN], [],
])  # fmt: skip
def test_headings_stay_otherwise(pages):
    assert [titled((), pages)(page) for page in pages] == [page["title"] for page in pages]


@pytest.mark.parametrize(
    ("paths", "languages"),
    [
        (["/nb/hjelp", "/ga/cabhair", "/help"], ["nb", "ga", ""]),
        (["/nb/hjelp", "/help"], ["", ""]),
        (["/fares.nb", "/fares", "/boats"], ["nb", "", ""]),
        (["/fares.nb", "/fares.ga", "/boats"], ["nb", "ga", ""]),
        (["/ch1.en", "/ch2.en", "/index.en"], ["en", "en", "en"]),
        (["/zh_CN/ferry", "/pt-br/barco", "/zh-hant/a", "/en/a"], ["zh-CN", "pt-BR", "zh-Hant", "en"]),
        (["/a.zh_CN", "/a.en", "/b"], ["zh-CN", "en", ""]),
        (["/a.sr", "/a.sr@latin", "/a.sr@ijekavian", "/a.de_DE.utf8"], ["sr", "sr-Latn", "sr", ""]),
        (["/is-open/a", "/to-go/a", "/my_page/a", "/no/a"], ["", "", "", ""]),
        (["/node.js", "/about.us", "/fares", "/boats"], ["", "", "", ""]),
        (["/.en", "/fares.xx", "/boats.xx"], ["", "", ""]),
        (["/boat", "/boat.id", "/boat.crew", "/boat.length", "/boat.no"], [""] * 5),
        (["/boat", "/boat.nb", "/boat.1", "/notes-1.2", "/boat.ga"], ["", "nb", "", "", "ga"]),
        (["/nb/fares.ga", "/ga/fares", "/nb/fares"], ["nb", "ga", "nb"]),
        (["/"], [""]),
        ([], []),
    ],
)
def test_folders_and_names_tell_languages(paths, languages):
    assert list(map(languages_told(paths), paths)) == languages


@pytest.mark.parametrize(
    ("text", "tag"),
    [
        ("en-us", "en-US"), ("EN_us", "en-US"), ("zh-hant-tw", "zh-Hant-TW"), ("sr_RS.UTF-8@latin", "sr-Latn-RS"),
        ("ca@valencia", "ca"), ("de-1996", "de-1996"), ("de-CH-x-ch", "de-CH-x-ch"), ("en-US-u-nu-latn", "en-US-u-nu-latn"),
        (" en ", "en"), ("", ""), ("-en", ""), ("in English", ""), ("en, nb", ""), ("x" * 40, ""),
    ],
)  # fmt: skip
def test_language_tags_are_written_as_their_standard_asks(text, tag):
    assert language_tag(text) == tag


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", 0),
        ("The last boat", 3),
        ("Fähren über den Sund — täglich", 6),
        ("最后一班船。", 5),
        ("フェリーは 9:30 に出ます。", 7),
        ("다음 배는 아홉 시", 4),
        ("船 (Aurora)、北へ", 4),
    ],
)
def test_words_are_counted_where_nothing_parts_them_too(text, words):
    assert count_words(text) == words


@given(st.lists(st.text(max_size=30), max_size=20))
def test_no_title_is_emptied(titles):
    taken = unglued(titles)
    assert all(bool(taken(title)) == bool(title) and taken(title) in title for title in titles)
