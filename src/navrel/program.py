"""A layout file in a program of one's own: no server and no database.

    site = navrel.load("layout.json")
    found = site.resolve("/tickets", "device:phone", "2026-12-04T19:00")
    found.slots["header"].pieces

Making a site takes about as long as resolving all of its pages once; after that one page takes some hundred
microseconds, however many pages and rules there are. A site is not changed by being asked, and may be asked by several
threads at once.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from functools import cached_property, lru_cache
from os import PathLike
from pathlib import Path
from typing import TYPE_CHECKING, Any

from navrel.core.calendar.schedule import read_moment
from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import Outcome, Trace
from navrel.core.files.reading import read_document, read_json, read_yaml
from navrel.core.index.page_index import PageIndex
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.language.visitor_terms import parse_visitor
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import TEMPLATE, SettingValue, Target
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.described import described
from navrel.wording.traces import trace_lines

if TYPE_CHECKING:
    from navrel.rendering.page import Source


class NoSuchPage(LookupError):
    """There is no page at an address."""


class Site:
    """All that a layout file says, ready to be asked."""

    def __init__(self, document: SiteDocument) -> None:
        self.document = document
        self._index = PageIndex(document.tree)
        self.resolver = PageResolver(self._index, document.layout)
        self.resolver.make_ready()
        self._visitor = lru_cache(maxsize=1024)(lambda text: parse_visitor(text, document.language))

    @property
    def tree(self) -> PageTree:
        """Its pages in their tree."""
        return self._index.tree

    @cached_property
    def source(self) -> Source:
        """What its pages are drawn from."""
        # Drawing takes more packages than resolving.
        from navrel.rendering.page import Source

        return Source(self.document, self._index, self.resolver)

    def find(self, path: str) -> Page | None:
        """The page at an address; None for none."""
        return self._index.tree.meant(path)

    @property
    def paths(self) -> tuple[str, ...]:
        """The paths of its pages, in the order of the site."""
        return tuple(self._index.tree.pages.column("path"))

    def resolve(self, path: str, visitor: str | Visitor = "", at: str | datetime | None = None) -> PageLayout:
        """What the page at an address comes to.

        ``visitor`` is who looks, as terms such as `signed:in role:crew device:phone`; ``at`` when, as the clocks of the
        site show it, now where nothing is said. Raises NoSuchPage, QueryError and ScheduleError (`navrel.core.errors`).
        """
        page = self.find(path)
        if page is None:
            raise NoSuchPage(f"there is no page at {path}")
        seen_by = self._visitor(visitor) if isinstance(visitor, str) else visitor
        moment = read_moment(at) if isinstance(at, str) else at or self.document.now()
        lens = Lens(seen_by, moment)
        return PageLayout(self, page, lens, self.resolver.resolve(page, lens))

    def described(self, layout: PageLayout) -> dict[str, Any]:
        """A layout of one of its pages in plain values, as `./navrel resolve --json` prints it."""
        outcomes = {target: trace.outcome for target, trace in layout.traces.items()}
        told = described(self.document, self._index.tree, layout.page, layout.lens, outcomes)
        return {"path": layout.page.path, **told}


class PageLayout:
    """What one page comes to through a lens. ``traces`` say for every target who contended, and what decided."""

    def __init__(self, site: Site, page: Page, lens: Lens, traces: Mapping[Target, Trace]) -> None:
        self.page = page
        self.lens = lens
        self.traces = traces
        self._site = site

    @cached_property
    def template(self) -> str | None:
        """The slug of its template; None where it has none."""
        pieces = self.traces[TEMPLATE].outcome.pieces
        return pieces[0] if pieces else None

    @cached_property
    def slots(self) -> dict[str, Outcome]:
        """What each slot comes to: its state, the slugs of its pieces, and the rule that decides."""
        return {target.name: trace.outcome for target, trace in self.traces.items() if target.kind == "slot"}

    @cached_property
    def settings(self) -> dict[str, SettingValue | None]:
        """The value of each setting."""
        return {target.name: trace.outcome.value for target, trace in self.traces.items() if target.kind == "setting"}

    def explain(self, name: str) -> list[str]:
        """What a slot, `template` or `setting:NAME` comes to, then a line for each rule that has to do with it.

        Raises KeyError for what the page does not have.
        """
        return trace_lines(self.traces[Target.read(name)])

    def as_dict(self) -> dict[str, Any]:
        """It in plain values, as `./navrel resolve --json` prints it."""
        return self._site.described(self)


def load(source: str | PathLike[str] | Mapping[str, Any]) -> Site:
    """The site of a layout file, JSON or YAML by its name, or of what was read from one.

    Raises OSError, and DocumentError (`navrel.core.errors`) with all that is wrong, each at its JSON Pointer.
    """
    if isinstance(source, Mapping):
        return Site(read_document(dict(source)))
    path = Path(source)
    read = read_yaml if path.suffix in (".yaml", ".yml") else read_json
    return Site(read(path.read_bytes()))
