"""What every page of a site glues to its title is taken off; what is a page's own stays."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.server.inventory.titles import unglued

OWN = ["Timetables", "Fares: all of them", "Crew - who we are", "Boats | old and new", "A/B"]


@pytest.mark.parametrize("glue", ["{} · Marrowick", "{} - Marrowick", "{} | Marrowick", "{}|Marrowick", "{} – Marrowick",
                                  "{} — Marrowick Ferries", "Marrowick: {}", "Marrowick | {}", "{} :: Marrowick",
                                  "{}: Marrowick: A line of boats", "{} | Help | Marrowick", "Marrowick: {} - Help"])  # fmt: skip
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


@given(st.lists(st.text(max_size=30), max_size=20))
def test_no_title_is_emptied(titles):
    taken = unglued(titles)
    assert all(bool(taken(title)) == bool(title) and taken(title) in title for title in titles)
