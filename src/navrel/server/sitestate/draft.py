"""The state that is being edited, built from the database and kept by version number.

Only committed states are kept, each read in one snapshot together with its version, so a stale or a torn answer
cannot be given.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice

from django.db import connection, transaction

from navrel.core.files.reading import read_bindings, read_files, read_recipe
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument, Taxonomy, TaxonomyTerm
from navrel.core.layout.form import has_form
from navrel.core.layout.model import Layout, Setting
from navrel.core.pages.page import Page
from navrel.core.pages.table import PageTable, joined
from navrel.core.pages.tree import PageTree
from navrel.server.api.errors import Missing
from navrel.server.inventory.facts import COLUMNS, facts_of
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.inventory.models import Site as SiteRecord
from navrel.server.inventory.models import Taxonomy as TaxonomyRecord
from navrel.server.inventory.originals import FrozenOriginal, Seating, told_originals
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.lasting import MANY_PAGES, made_to_last
from navrel.server.sitestate.records import NOTHING_READ, ReadLayout, read_layout
from navrel.server.sitestate.state import SiteState


@dataclass(frozen=True)
class DraftState(SiteState):
    """The state of a draft, with what its layout was read from."""

    read: ReadLayout = NOTHING_READ


_drafts: Kept[DraftState] = Kept()
#: How many pages are fetched from the database at once.
_CHUNK = 2000


def draft(site: SiteRecord) -> DraftState:
    """The state that is being edited, as it was committed last.

    For a site that this transaction has locked: as the transaction sees it, kept for nobody else.
    """
    if site.is_locked:
        return _read(site, _drafts.newest(site.pk))
    return _drafts.get(site.pk, site.version, lambda older: _read_committed(site.pk, older))


def _read_committed(number: int, older: DraftState | None) -> DraftState:
    """The newest committed state, in one snapshot: all of it is as the version read with it says."""
    own_transaction = not connection.in_atomic_block
    with transaction.atomic():
        if own_transaction:
            with connection.cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY")
        site = SiteRecord.objects.filter(pk=number).first()
        if site is None:
            raise Missing("no-site", "This site is not there any more")
        return older if older and older.version == site.version else _read(site, older)


def _read(site: SiteRecord, older: DraftState | None) -> DraftState:
    """The state that a site's records hold; pages are taken from an older state where none has changed since."""
    read = read_layout(site, older.read) if older else read_layout(site)
    if older and _same_pages(older, site, read.layout):
        document = _site_document(site, read.layout, older.document.taxonomies, older.document.pages)
        document.take_tree(older.document)
        index, originals = older.index, older.originals
    else:
        with made_to_last(many=older is None or older.index.size > MANY_PAGES):
            pages, originals = _pages(site, read.layout.settings)
            document = _site_document(site, read.layout, _taxonomies(site), pages)
            index = PageIndex(document.tree)
    return DraftState(document, index, site.version, site.inventory_version, read, originals=originals)


def _same_pages(older: DraftState, site: SiteRecord, layout: Layout) -> bool:
    """Whether the pages are as they were in an older state; which slots they have hangs on whether there is a form."""
    same_form = has_form(layout.settings) == has_form(older.layout.settings)
    return older.inventory_version == site.inventory_version and same_form


def _site_document(
    site: SiteRecord, layout: Layout, taxonomies: tuple[Taxonomy, ...], pages: Sequence[Page]
) -> SiteDocument:
    return SiteDocument(
        name=site.name,
        slug=site.slug,
        base_url=site.base_url,
        language=site.language,
        time_zone=site.time_zone,
        roles=tuple(site.roles),
        taxonomies=taxonomies,
        pages=pages,
        layout=layout,
        files=read_files(site.files),
        bindings=read_bindings(site.bindings),
        recipe=read_recipe(site.recipe),
        scripts=site.scripts,
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


def _pages(site: SiteRecord, settings: Iterable[Setting]) -> tuple[PageTable, Mapping[str, FrozenOriginal]]:
    """The pages, each with the slots that are bound in its HTML, and what they may be drawn from."""
    # Rows, not records: of very many pages these take a good part of the time.
    rows = PageRecord.objects.filter(site=site, gone=False).values_list(*COLUMNS).iterator(chunk_size=_CHUNK)
    facts = joined(facts_of(some, site.language) for some in iter(lambda: list(islice(rows, _CHUNK)), []))
    pages = PageTable.by_facts(facts)
    if not has_form(settings):
        return pages, {}
    tree = PageTree(pages)
    seating = Seating(read_bindings(site.bindings), tree)
    found = {
        path: seating.frozen(page, original)
        for path, original in told_originals(site, _CHUNK)
        if (page := tree.page(path)) is not None
    }
    seats = (found[path].seats if path in found else None for path in facts["path"])
    bound = [
        known if own is None else tuple(seat.slot for seat in own)
        for known, own in zip(facts["bound"], seats, strict=True)
    ]
    return PageTable.by_facts({**facts, "bound": bound}), found
