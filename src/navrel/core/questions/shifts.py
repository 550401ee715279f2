"""What an impact is told in: shifts, redraws, and the pages that differ in themselves."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from ..cascade.plain import Outcome
from ..language.query import Query
from ..layout.model import Target
from ..lenses.space import Sighting
from ..pages.page import Page

#: Tells of a page's path which pieces, each with its slot, show just what stands in its own HTML in the slot's place.
Standing = Callable[[str], frozenset[tuple[str, str]]]


def nowhere(_: str) -> frozenset[tuple[str, str]]:
    """No piece is known to show what stands on a page."""
    return frozenset()


@dataclass(frozen=True)
class Redrawing:
    """What is drawn differently in itself, wherever the cascade puts it.

    ``pieces``: slugs, everywhere; ``on_pages``: further slugs, by the path on which; ``pages``: the paths of pages
    that come or go, or whose own content or facts differ; ``dresses``: what each dress comes to, by its slug, before
    and after.
    """

    pieces: frozenset[str] = frozenset()
    on_pages: Mapping[str, frozenset[str]] = field(default_factory=dict)
    pages: frozenset[str] = frozenset()
    dresses: tuple[Mapping[str, object], Mapping[str, object]] = ({}, {})

    def on(self, path: str) -> frozenset[str]:
        """The pieces that are drawn differently on one page, if they stand there."""
        return self.pieces | self.on_pages.get(path, frozenset())


@dataclass(frozen=True)
class Shift:
    """One target that comes out differently in the same way: on these pages, for these visitors at these times.

    ``before`` and ``after`` are None where the page is not there. ``widgets``: what the sidebars in the slot show,
    and ``seated`` whether the slot has a place, before and after. ``alike``: whether other pieces stand there that are
    drawn from the same, such as a copy; or one that shows what stood there in the page's own HTML.
    """

    target: Target
    before: Outcome | None
    after: Outcome | None
    widgets: tuple[tuple[str, ...], tuple[str, ...]]
    seen: tuple[Sighting, ...]
    pages: tuple[Page, ...]
    seated: tuple[bool, bool] = (True, True)
    alike: bool = False

    @property
    def is_visible(self) -> bool:
        """Whether anybody can see it: a slot without a place shows nothing, and what is drawn alike looks the same."""
        return any(self.seated) and not self.alike


@dataclass(frozen=True)
class Redraw:
    """A piece that stands on these pages before and after, for these visitors at these times, drawn differently.

    Or the dress that they wear before and after; then ``piece`` is empty.
    """

    piece: str
    seen: tuple[Sighting, ...]
    pages: tuple[Page, ...]
    dress: str = ""


@dataclass(frozen=True)
class Impact:
    """Every shift and redraw, most pages first, and the pages that come or go or whose own content or facts differ.

    ``untold``: pages with more combinations of visitors than can be told apart.
    """

    shifts: tuple[Shift, ...] = ()
    redraws: tuple[Redraw, ...] = ()
    own: tuple[Page, ...] = ()
    untold: tuple[Page, ...] = ()

    @property
    def visible(self) -> tuple[Shift | Redraw, ...]:
        """The shifts and redraws that somebody can see."""
        return (*(shift for shift in self.shifts if shift.is_visible), *self.redraws)

    @property
    def paths(self) -> set[str]:
        """The paths of all pages on which somebody can see a difference."""
        return {page.path for one in self.visible for page in one.pages} | {page.path for page in self.own}

    def on(self, path: str) -> list[Shift | Redraw]:
        """The visible shifts and redraws on one page."""
        return self._by_path.get(path, [])

    @cached_property
    def _by_path(self) -> dict[str, list[Shift | Redraw]]:
        found: dict[str, list[Shift | Redraw]] = {}
        for one in self.visible:
            for page in one.pages:
                found.setdefault(page.path, []).append(one)
        return found

    def by_audience(self) -> list[tuple[tuple[Sighting, ...], tuple[Page, ...]]]:
        """Who sees a difference when, and on which pages; most pages first, everyone and always where that is so."""
        found: dict[tuple[Sighting, ...], dict[str, Page]] = {}
        for one in self.visible:
            found.setdefault(one.seen, {}).update((page.path, page) for page in one.pages)
        if self.own:
            everyone = next((seen for seen in found if is_everyone(seen)), (Sighting(Query(), ()),))
            found.setdefault(everyone, {}).update((page.path, page) for page in self.own)
        listed = [(seen, tuple(pages.values())) for seen, pages in found.items()]
        return sorted(listed, key=lambda one: -len(one[1]))


def is_everyone(seen: tuple[Sighting, ...]) -> bool:
    """Whether something is seen by everybody at all times."""
    return len(seen) == 1 and not seen[0].visitors and all(span.end is None for span in seen[0].spans)
