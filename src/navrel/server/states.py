"""The site model that the core works on, built from the database and kept by version number.

Every write raises the site's version within its own transaction. Only committed states are kept, each read in one
snapshot together with its version, so a stale or a torn answer cannot be given.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property
from threading import Lock
from typing import Any, Generic, TypeVar, cast

from django.db import connection, transaction
from django.db.models import F

from navrel.core.cascade.lookup import PageResolver
from navrel.core.cascade.plain import standard_targets
from navrel.core.files.reading import read_piece, read_rule, read_settings
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.document import SiteDocument, Taxonomy, TaxonomyTerm
from navrel.core.layout.model import Layout, Piece, PieceKind, Rule, Setting, Target
from navrel.core.pages.page import LockNote, Page
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
    """One state of one site: everything that the core is asked about. ``version`` is the site's at that state."""

    document: SiteDocument
    index: PageIndex
    version: int = 0
    inventory_version: int = 0

    @property
    def layout(self) -> Layout:
        return self.document.layout

    @cached_property
    def resolver(self) -> PageResolver:
        """Resolves single pages; made when first asked for, and kept as long as the state."""
        return PageResolver(self.index, self.layout)

    @cached_property
    def targets(self) -> tuple[Target, ...]:
        """The targets that the site has, the slots in the content of its pages among them."""
        own = sorted({slot for page in self.document.pages for slot in page.slots})
        return tuple(dict.fromkeys((*standard_targets(self.layout), *(Target("slot", slot) for slot in own))))

    def page(self, path: str) -> Page:
        """The page at ``path``. Raises Missing."""
        page = self.index.tree.page(path)
        if page is None:
            raise Missing("no-page", f"There is no page {path}")
        return page


Value = TypeVar("Value")


@dataclass
class _Place(Generic[Value]):
    """Where one value is kept. ``building`` is held by whoever makes it."""

    building: Lock = field(default_factory=Lock)
    version: object = None
    value: Value | None = None


class Kept(Generic[Value]):
    """Values by a key and a version: asked again with the same version, the kept value is given.

    A key has one builder at a time; others wait for that key only.
    """

    def __init__(self) -> None:
        self._places: dict[object, _Place[Value]] = {}
        self._lock = Lock()

    def get(self, key: object, version: object, make: Callable[[Value | None], Value]) -> Value:
        """The value for ``key`` at ``version``; ``make`` is given the older value, if there is one."""
        place = self._place(key)
        with place.building:
            if place.value is None or place.version != version:
                place.value, place.version = make(place.value), version
            return place.value

    def newest(self, key: object) -> Value | None:
        """The value that is kept for ``key`` now, whatever its version."""
        return self._place(key).value

    def _place(self, key: object) -> _Place[Value]:
        with self._lock:
            place = self._places.pop(key, None) or _Place[Value]()
            self._places[key] = place
            while len(self._places) > _MOST_KEPT:
                del self._places[next(iter(self._places))]
            return place


_drafts: Kept[State] = Kept()


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
    site.is_locked = True
    return site


def draft(site: SiteRecord) -> State:
    """The state that is being edited, as it was committed last.

    For a site that this transaction has locked: as the transaction sees it, kept for nobody else.
    """
    if site.is_locked:
        return _read(site, _drafts.newest(site.pk))
    return _drafts.get(site.pk, site.version, lambda older: _read_committed(site.pk, older))


def _read_committed(number: int, older: State | None) -> State:
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


def _read(site: SiteRecord, older: State | None) -> State:
    """The state that a site's records hold; pages are taken from an older state where none has changed since."""
    same_pages = older if older and older.inventory_version == site.inventory_version else None
    document = _site_document(site, same_pages.document if same_pages else None)
    index = same_pages.index if same_pages else PageIndex(document.tree())
    return State(document, index, site.version, site.inventory_version)


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
            **_locks(record.locks),
        )
        for record in records.iterator(chunk_size=2000)
    )


def _locks(locks: list[Any]) -> dict[str, Any]:
    """A page's locks as the core has them; in the database they stand as in the layout file."""
    objects = [lock if isinstance(lock, dict) else {"slot": lock} for lock in locks]
    notes = {one["slot"]: LockNote(one.get("owner", ""), one.get("why", "")) for one in objects if len(one) > 1}
    return {"locks": tuple(one["slot"] for one in objects), "lock_notes": notes}


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


def core_pieces(records: Iterable[PieceRecord]) -> dict[str, Piece]:
    """The pieces of these records, by slug, in their order."""
    found = list(records)
    known = piece_names(found)
    return {record.slug: read_piece(piece_tree(record), known) for record in found}


def piece_names(records: Iterable[PieceRecord]) -> dict[str, Piece]:
    """Slug, kind and name of pieces: as much as it takes to check what names them."""
    return {record.slug: Piece(record.slug, cast(PieceKind, record.kind), record.name) for record in records}


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


def stated_name(tree: dict[str, Any]) -> Any:
    """The name that a tree states, without white space around it; what is no text is left for the reader to refuse."""
    name = tree.get("name") or ""
    return name.strip() if isinstance(name, str) else name
