"""A site's pages and taxonomies, with the page tree worked out once."""

from __future__ import annotations

from collections.abc import Container, Iterable, Mapping
from dataclasses import replace
from functools import cached_property

from ..errors import TreeError
from .page import Page, page_path

#: How often rings are looked for anew where some were undone; past that no stated parent is kept.
_MOST_ROUNDS = 50
#: Top pages that stand last in the tree, whatever their path: they are answers, not places.
_LAST_KINDS = {"search": 1, "missing": 2}


class PageTree:
    """The pages of a site in tree order: every page stands before those below it, siblings in given order.

    ``parents`` names an ancestor term for a term (both ``taxonomy/slug``). A page's position in ``pages`` is
    its number in every array of the core, so a whole section is one unbroken range of numbers.

    Raises TreeError when parents form a loop, ValueError when a path stands twice.
    """

    def __init__(self, pages: Iterable[Page], term_parents: Mapping[str, str] | None = None) -> None:
        given = tuple(pages)
        self._term_parents = dict(term_parents or {})
        by_path = {page.path: page for page in given}
        if len(by_path) != len(given):
            raise ValueError("a path stands twice")
        self._parent_of = {page.path: _parent_path(page, by_path) for page in given}
        self.pages: tuple[Page, ...]
        self.depths: tuple[int, ...]
        self.pages, self.depths = _in_tree_order(given, self._parent_of)
        self.numbers: dict[str, int] = {page.path: number for number, page in enumerate(self.pages)}

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
        return {**self.numbers, **{page.address: at for at, page in enumerate(self.pages) if page.address}}

    def parent_path(self, page: Page) -> str | None:
        """The path of the page above, None for a top page."""
        return self._parent_of[page.path]

    def ancestor_paths(self, page: Page) -> list[str]:
        """The paths of all pages above, nearest first."""
        found = []
        path = self._parent_of[page.path]
        while path is not None:
            found.append(path)
            path = self._parent_of[path]
        return found

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


def _parent_path(page: Page, by_path: Mapping[str, Page]) -> str | None:
    """The stated parent where it exists, else the nearest ancestor by path that does."""
    if page.parent is not None and page.parent in by_path:
        return page.parent
    path = page.path
    while path not in ("", "/"):
        path = path.rpartition("/")[0]
        if (path or "/") in by_path and (path or "/") != page.path:
            return path or "/"
    return None


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
        parents = {path: _parent_path(page, by_path) for path, page in by_path.items()}
        found = [path for ring in rings(parents) for path in ring if by_path[path].parent and path not in kept]
        if not found:
            return left_out
        left_out.update(found)
        by_path.update((path, replace(by_path[path], parent=None)) for path in found)
    return {path for path, page in by_path.items() if (page.parent and path not in kept) or path in left_out}


def _in_tree_order(
    pages: tuple[Page, ...], parent_of: Mapping[str, str | None]
) -> tuple[tuple[Page, ...], tuple[int, ...]]:
    """The pages depth first, and their depths. Walks with a stack: a site may be deep."""
    children: dict[str | None, list[Page]] = {}
    for page in pages:
        children.setdefault(parent_of[page.path], []).append(page)
    for path in {parent_of[page.path] for page in pages if page.kind in _LAST_KINDS}:
        children[path].sort(key=lambda page: _LAST_KINDS.get(page.kind, 0))
    for siblings in children.values():
        siblings.reverse()
    ordered: list[Page] = []
    depths: list[int] = []
    waiting = [(page, 0) for page in children.get(None, ())]
    while waiting:
        page, depth = waiting.pop()
        ordered.append(page)
        depths.append(depth)
        if page.path in children:
            waiting += [(child, depth + 1) for child in children[page.path]]
    if len(ordered) != len(pages):
        raise TreeError(_loop(pages, parent_of, {page.path for page in ordered}))
    return tuple(ordered), tuple(depths)


def _loop(pages: tuple[Page, ...], parent_of: Mapping[str, str | None], placed: set[str]) -> tuple[str, ...]:
    """One loop among the pages that no top page leads to."""
    path: str | None = min(page.path for page in pages if page.path not in placed)
    seen: list[str] = []
    while path is not None and path not in seen:
        seen.append(path)
        path = parent_of[path]
    assert path is not None, "a page without a way to the top stands in or below a loop"
    return (*seen[seen.index(path) :], path)
