"""A site's pages and taxonomies, with the page tree worked out once."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from functools import cache, cached_property

from ..errors import TreeError
from .page import Page, page_path
from .table import PageTable

#: How often rings are looked for anew where some were undone; past that no stated parent is kept.
_MOST_ROUNDS = 50
#: Top pages that stand last in the tree, whatever their path: they are answers, not places.
_LAST_KINDS = {"search": 1, "missing": 2}
#: The place of the page above a top page.
_NOWHERE = -1


class PageTree:
    """The pages of a site in tree order: every page stands before those below it, siblings in given order.

    ``parents`` names an ancestor term for a term (both ``taxonomy/slug``). A page's position in ``pages`` is
    its number in every array of the core, so a whole section is one unbroken range of numbers.

    Raises TreeError when parents form a loop, ValueError when a path stands twice.
    """

    def __init__(self, pages: Iterable[Page], term_parents: Mapping[str, str] | None = None) -> None:
        given = PageTable.of(pages)
        self._term_parents = dict(term_parents or {})
        paths = given.column("path")
        places = {path: place for place, path in enumerate(paths)}
        if len(places) != len(paths):
            raise ValueError("a path stands twice")
        above, kinds = _places_above(paths, given.column("parent"), places), given.column("kind")
        order = list(range(len(paths))) if _is_in_tree_order(above, kinds) else _in_tree_order(above, kinds)
        if len(order) != len(paths):
            raise TreeError(_loop(paths, above, order))
        self.pages = given.ordered(order)
        self.numbers: dict[str, int] = (
            places if self.pages is given else {paths[place]: number for number, place in enumerate(order)}
        )
        #: The path of the page above each, None for a top page.
        self.parents: list[str | None] = [None if above[place] == _NOWHERE else paths[above[place]] for place in order]
        self.depths: list[int] = []
        for parent in self.parents:
            self.depths.append(0 if parent is None else self.depths[self.numbers[parent]] + 1)

    def __len__(self) -> int:
        return len(self.pages)

    def page(self, path: str) -> Page | None:
        """The page at ``path``, None where there is none."""
        number = self.numbers.get(path)
        return None if number is None else self.pages[number]

    def meant(self, address: str) -> Page | None:
        """The page that an address means in whatever form: with a slash at its end, a suffix, or `index`."""
        number = self._addressed.get(address)
        number = self.numbers.get(page_path(address)) if number is None else number
        return None if number is None else self.pages[number]

    @cached_property
    def _addressed(self) -> dict[str, int]:
        addresses = self.pages.column("address")
        return {**self.numbers, **{address: at for at, address in enumerate(addresses) if address}}

    @cached_property
    def missing(self) -> Page | None:
        """The page that is answered where there is none; None for a site without one."""
        kinds = self.pages.column("kind")
        return self.pages[kinds.index("missing")] if "missing" in kinds else None

    def parent_path(self, page: Page) -> str | None:
        """The path of the page above, None for a top page."""
        return self.parents[self.numbers[page.path]]

    def ancestor_paths(self, page: Page) -> list[str]:
        """The paths of all pages above, nearest first."""
        found = []
        path = self.parent_path(page)
        while path is not None:
            found.append(path)
            path = self.parents[self.numbers[path]]
        return found

    def in_folder(self, path: str) -> list[int]:
        """The numbers of the pages at addresses below a path at which there is no page: those of its folder."""
        if path in self.numbers:
            return []
        inside = f"{path.rstrip('/')}/"
        # Few conditions name a folder: paths that are sorted for them would cost all sites more.
        return [number for one, number in self.numbers.items() if one.startswith(inside)]

    @cached_property
    def folders(self) -> list[str]:
        """The paths above those of pages at which there is no page, sorted."""
        return sorted({above for path in self.numbers for above in _folders_of(path)}.difference(self.numbers))

    @cached_property
    def ends(self) -> tuple[int, ...]:
        """For each page, the number after the last page below it."""
        ends = [0] * len(self.pages)
        open_pages: list[int] = []
        for number, depth in enumerate(self.depths):
            while open_pages and self.depths[open_pages[-1]] >= depth:
                ends[open_pages.pop()] = number
            open_pages.append(number)
        for number in open_pages:
            ends[number] = len(self.pages)
        return tuple(ends)

    def term_lineage(self, term: str) -> tuple[str, ...]:
        """The term and those above it, nearest first. Raises TreeError when its parents form a loop."""
        lineage = self._lineages.get(term)
        if lineage is None:
            found = [term]
            while (above := self._term_parents.get(found[-1])) is not None:
                if above in found:
                    raise TreeError((*found[found.index(above) :], above))
                found.append(above)
            lineage = self._lineages[term] = tuple(found)
        return lineage

    @cached_property
    def _lineages(self) -> dict[str, tuple[str, ...]]:
        return {}


def _parent_path(path: str, stated: str | None, known: Container[str]) -> str | None:
    """The stated parent where it exists, else the nearest ancestor by path that does."""
    if stated is not None and stated in known:
        return stated
    return None if path in ("", "/") else _nearest(path.rpartition("/")[0], known)


def _nearest(folder: str, known: Container[str]) -> str | None:
    """The path of a folder or of the nearest one above it that is known."""
    while (folder or "/") not in known:
        if folder in ("", "/"):
            return None
        folder = folder.rpartition("/")[0]
    return folder or "/"


def _places_above(paths: Sequence[str], stated: Sequence[str | None], places: Mapping[str, int]) -> list[int]:
    """The place of the page above each, as `_parent_path` has it."""
    # Many pages stand in the same folder.
    nearest = cache(lambda folder: _NOWHERE if (path := _nearest(folder, places)) is None else places[path])
    return [
        places[parent]
        if parent is not None and parent in places
        else (nearest(path.rpartition("/")[0]) if path not in ("", "/") else _NOWHERE)
        for path, parent in zip(paths, stated, strict=True)
    ]


def _folders_of(path: str) -> Iterator[str]:
    """The paths above a path, nearest first, but for that of the home page."""
    while path := path.rpartition("/")[0]:
        yield path


def rings(parent_of: Mapping[str, str | None]) -> list[list[str]]:
    """Every ring that parents form, each once, from any of its paths upwards."""
    found: list[list[str]] = []
    seen: dict[str, int] = {}
    for number, start in enumerate(parent_of):
        walk: list[str] = []
        path: str | None = start
        while path is not None and path not in seen:
            seen[path] = number
            walk.append(path)
            path = parent_of.get(path)
        if path is not None and seen[path] == number:
            found.append(walk[walk.index(path) :])
    return found


def unringed(pages: Iterable[Page], kept: Container[str] = ()) -> set[str]:
    """Pages whose stated parents have to be left out so that those form no ring, but for pages that keep theirs."""
    by_path = {page.path: page for page in pages}
    left_out: set[str] = set()
    for _ in range(_MOST_ROUNDS):
        parents = {path: _parent_path(path, page.parent, by_path) for path, page in by_path.items()}
        found = [path for ring in rings(parents) for path in ring if by_path[path].parent and path not in kept]
        if not found:
            return left_out
        left_out.update(found)
        by_path.update((path, replace(by_path[path], parent=None)) for path in found)
    return {path for path, page in by_path.items() if (page.parent and path not in kept) or path in left_out}


def _is_in_tree_order(above: Sequence[int], kinds: Sequence[str]) -> bool:
    """Whether pages stand depth first as they are given, by the place of the page above each."""
    #: For the pages above some that stand last: the rank of what stood below them so far.
    ranks: dict[int, int] = {}
    for place, parent in enumerate(above):
        # It is below the page before it, or below one that is above that.
        last = place - 1
        while last != parent:
            if last == _NOWHERE:
                return False
            last = above[last]
        rank = _LAST_KINDS.get(kinds[place], 0)
        if rank < ranks.get(parent, rank):
            return False
        if rank:
            ranks[parent] = rank
    return True


def _in_tree_order(above: Sequence[int], kinds: Sequence[str]) -> list[int]:
    """The places of pages depth first. Those in or below a loop are left out.

    Walks with a stack: a site may be deep.
    """
    children: dict[int, list[int]] = {}
    for place, parent in enumerate(above):
        children.setdefault(parent, []).append(place)
    for parent in {above[place] for place, kind in enumerate(kinds) if kind in _LAST_KINDS}:
        children[parent].sort(key=lambda place: _LAST_KINDS.get(kinds[place], 0))
    order: list[int] = []
    waiting = children.get(_NOWHERE, [])[::-1]
    while waiting:
        place = waiting.pop()
        order.append(place)
        if place in children:
            waiting += reversed(children[place])
    return order


def _loop(paths: Sequence[str], above: Sequence[int], placed: Iterable[int]) -> tuple[str, ...]:
    """One loop among the pages that no top page leads to."""
    place = min(set(range(len(paths))).difference(placed), key=paths.__getitem__)
    seen: list[int] = []
    while place not in seen:
        seen.append(place)
        place = above[place]
    return tuple(paths[one] for one in (*seen[seen.index(place) :], place))
