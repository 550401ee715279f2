"""The site model that the core works on, built from the database and kept by version number.

Every write raises the site's version within its own transaction, so a kept model is used only while nothing
has changed, and a stale answer cannot be given.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from threading import Lock

from django.db.models import F

from navrel.core.cascade import standard_targets
from navrel.core.document import SiteDocument, Taxonomy, TaxonomyTerm
from navrel.core.index import PageIndex
from navrel.core.lookup import PageResolver
from navrel.core.model import Layout, Page, Piece, Rule, Setting, Target
from navrel.core.reading import read_piece, read_rule, read_settings
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.inventory.models import Site as SiteRecord
from navrel.server.inventory.models import Taxonomy as TaxonomyRecord
from navrel.server.library.models import Piece as PieceRecord
from navrel.server.problems import Missing
from navrel.server.rules.models import Rule as RuleRecord

#: Models kept in one process; a site takes two places, its draft and its live state.
_MOST_KEPT = 16


@dataclass(frozen=True)
class State:
    """One state of one site: everything that the core is asked about."""

    document: SiteDocument
    index: PageIndex

    @property
    def layout(self) -> Layout:
        return self.document.layout

    @cached_property
    def resolver(self) -> PageResolver:
        """Resolves single pages; made when first asked for, and kept as long as the state."""
        return PageResolver(self.index, self.layout)

    @property
    def targets(self) -> tuple[Target, ...]:
        """The targets that the site has."""
        return standard_targets(self.layout)

    def page(self, path: str) -> Page:
        """The page at ``path``. Raises Missing."""
        page = self.index.site.page(path)
        if page is None:
            raise Missing("no-page", f"There is no page {path}")
        return page


class Kept:
    """Values by a key and a version: asked again with the same version, the kept value is given."""

    def __init__(self) -> None:
        self._values: dict[object, tuple[object, State]] = {}
        self._lock = Lock()

    def get(self, key: object, version: object, make: Callable[[State | None], State]) -> State:
        """The value for ``key`` at ``version``; ``make`` is given the older value, if there is one."""
        with self._lock:
            known = self._values.pop(key, None)
            if known is None or known[0] != version:
                known = (version, make(known[1] if known else None))
            self._values[key] = known
            while len(self._values) > _MOST_KEPT:
                del self._values[next(iter(self._values))]
            return known[1]


_drafts = Kept()
_inventories: dict[int, int] = {}


def find_site(slug: str) -> SiteRecord:
    """The site with this slug. Raises Missing."""
    site = SiteRecord.objects.filter(slug=slug).first()
    if site is None:
        raise Missing("no-site", f"There is no site {slug}")
    return site


def lock_site(slug: str, *, inventory: bool = False) -> SiteRecord:
    """The site, locked until the transaction ends and with its version raised: how every write begins."""
    site = SiteRecord.objects.select_for_update().filter(slug=slug).first()
    if site is None:
        raise Missing("no-site", f"There is no site {slug}")
    raised = {"version": F("version") + 1}
    if inventory:
        raised["inventory_version"] = F("inventory_version") + 1
    SiteRecord.objects.filter(pk=site.pk).update(**raised)
    site.refresh_from_db()
    return site


def draft(site: SiteRecord) -> State:
    """The state that is being edited. ``site`` tells the version, so it has to be freshly read."""

    def make(older: State | None) -> State:
        same_pages = older is not None and _inventories.get(site.pk) == site.inventory_version
        _inventories[site.pk] = site.inventory_version
        document = _site_document(site, older.document if older and same_pages else None)
        return State(document, older.index if older and same_pages else PageIndex(document.site()))

    return _drafts.get(site.pk, site.version, make)


def _site_document(site: SiteRecord, same_pages: SiteDocument | None) -> SiteDocument:
    return SiteDocument(
        name=site.name,
        slug=site.slug,
        base_url=site.base_url,
        language=site.language,
        time_zone=site.time_zone,
        roles=tuple(site.roles),
        taxonomies=same_pages.taxonomies if same_pages else _taxonomies(site),
        pages=same_pages.pages if same_pages else _pages(site),
        layout=_layout(site),
    )


def _taxonomies(site: SiteRecord) -> tuple[Taxonomy, ...]:
    records = TaxonomyRecord.objects.filter(site=site).prefetch_related("terms", "terms__parent")
    return tuple(
        Taxonomy(
            record.slug,
            record.name,
            tuple(
                TaxonomyTerm(term.slug, term.name, term.parent.slug if term.parent else None)
                for term in record.terms.all()
            ),
        )
        for record in records
    )


def _pages(site: SiteRecord) -> tuple[Page, ...]:
    records = PageRecord.objects.filter(site=site, gone=False).only(*PAGE_FACTS)
    return tuple(
        Page(
            path=record.path,
            title=record.title or record.path,
            kind=record.kind,
            type=record.type,
            parent=record.parent or None,
            terms=tuple(record.terms),
            lists=record.lists,
            author=record.author,
            language=record.language or site.language,
            published=record.published,
            words=record.words,
            fields=record.fields,
            slots=tuple(record.slots),
            locks=tuple(record.locks),
        )
        for record in records.iterator(chunk_size=2000)
    )


#: The columns that the core needs of a page.
PAGE_FACTS = (
    "path", "title", "kind", "type", "parent", "terms", "lists", "author", "language", "published", "words",
    "fields", "slots", "locks",
)  # fmt: skip


def _layout(site: SiteRecord) -> Layout:
    pieces = core_pieces(PieceRecord.objects.filter(site=site))
    settings = read_settings(site.settings)
    rules = tuple(core_rule(record, pieces, settings) for record in RuleRecord.objects.filter(site=site))
    return Layout(pieces, rules, site.default_template or None, settings)


def core_pieces(records: object) -> dict[str, Piece]:
    """The pieces of these records, by slug, in their order."""
    found = list(records)  # type: ignore[call-overload]
    widgets = {record.slug: Piece(record.slug, "widget", record.name) for record in found if record.kind == "widget"}
    return {record.slug: read_piece(piece_tree(record), widgets) for record in found}


def piece_tree(record: PieceRecord) -> dict[str, object]:
    """A piece as it stands in the layout file."""
    return {
        "slug": record.slug,
        "kind": record.kind,
        "name": record.name,
        "note": record.note,
        "content": record.content,
        "slots": record.slots,
        "entries": record.entries,
    }


def core_rule(record: RuleRecord, pieces: dict[str, Piece], settings: tuple[Setting, ...]) -> Rule:
    """The core's rule for a record; its key is the record's id."""
    return replace(read_rule(rule_tree(record), pieces, settings), key=record.pk)


def rule_tree(record: RuleRecord) -> dict[str, object]:
    """A rule as it stands in the layout file."""
    return {
        "name": record.name,
        "note": record.note,
        "on": record.on,
        "priority": record.priority,
        "condition": record.condition,
        "actions": record.actions,
    }
