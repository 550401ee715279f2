"""Parents that pages state: whatever they state, what is kept of it is a tree."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.errors import TreeError
from navrel.core.pages.page import Page
from navrel.core.pages.table import PageTable
from navrel.core.pages.tree import PageTree, rings, unringed

from .strategies import sites

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


def described(tree):
    """What a tree tells of each page, by its path."""
    return {page.path: (tree.parent_path(page), tree.depths[number]) for number, page in enumerate(tree.pages)}


@given(sites(), st.randoms(use_true_random=False))
def test_pages_that_stand_in_tree_order_stay_where_they_are(site, chance):
    table = PageTable.of(list(site.pages))
    again = PageTree(table)
    assert again.pages is table
    assert (again.numbers, again.parents, again.depths) == (site.numbers, site.parents, site.depths)
    mixed = list(site.pages)
    chance.shuffle(mixed)
    other = PageTree(mixed)
    assert described(other) == described(site)
    stay = PageTable.of(mixed)
    assert (PageTree(stay).pages is stay) == (list(other.pages) == mixed)


@given(sites())
def test_below_each_page_stand_those_whose_way_to_the_top_leads_over_it(site):
    for number, page in enumerate(site.pages):
        below = {one.path for one in site.pages if page.path in site.ancestor_paths(one)}
        assert {one.path for one in site.pages[number + 1 : site.ends[number]]} == below
        above = site.ancestor_paths(page)
        assert site.depths[number] == len(above)
        assert above == ([] if site.parent_path(page) is None else [site.parents[number], *above[1:]])


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
