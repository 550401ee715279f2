"""Parents that pages state: whatever they state, what is kept of it is a tree."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.errors import TreeError
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree, rings, unringed

PATHS = ("/", "/a", "/a/b", "/a/b/c", "/d", "/d/e", "/f")
PARENTS = st.dictionaries(st.sampled_from(PATHS), st.sampled_from(PATHS))


def pages(parents):
    return [Page(path, parent=parents.get(path)) for path in PATHS]


def is_tree(pages):
    try:
        PageTree(pages)
    except TreeError:
        return False
    return True


@given(PARENTS)
def test_without_the_parents_that_are_left_out_pages_are_a_tree(parents):
    left_out = unringed(pages(parents))
    assert left_out <= parents.keys()
    assert is_tree(replace(page, parent=None) if page.path in left_out else page for page in pages(parents))
    assert bool(left_out) != is_tree(pages(parents))


@given(PARENTS, st.sets(st.sampled_from(PATHS)))
def test_what_is_to_be_kept_is_kept(parents, kept):
    assert not unringed(pages(parents), kept) & kept


def test_of_two_pages_in_each_other_both_stand_in_their_folders_and_what_is_below_stays():
    stated = {"/a": "/d", "/d": "/a", "/f": "/a"}
    assert unringed(pages(stated)) == {"/a", "/d"}
    assert unringed(pages(stated), {"/a"}) == {"/d"}


@given(st.dictionaries(st.sampled_from(PATHS), st.sampled_from(PATHS)))
def test_a_ring_is_told_once_and_comes_back_to_where_it_began(parent_of):
    found = rings(parent_of)
    for ring in found:
        assert [parent_of[path] for path in ring] == [*ring[1:], ring[0]]
    told = [path for ring in found for path in ring]
    assert len(told) == len(set(told))
    for path in PATHS:
        above = path
        for _ in PATHS:
            above = parent_of.get(above)
        assert (above is not None) == any(_leads_to(parent_of, path, ring) for ring in found)


def _leads_to(parent_of, path, ring):
    for _ in range(len(PATHS) + 1):
        if path in ring:
            return True
        path = parent_of.get(path)
    return False


@pytest.mark.parametrize("count", [2000])
def test_many_rings_are_undone_in_one_go(count):
    many = [Page(f"/{n}", parent=f"/{n ^ 1}") for n in range(count)]
    assert len(unringed(many)) == count
