"""The live state that the public site serves, and revisions as they are kept."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from threading import Thread, current_thread
from typing import Any, NamedTuple

from django.conf import settings
from django.db import connection
from django.db.models import BinaryField, Func

from navrel.core.files.writing import write_document
from navrel.core.index.page_index import PageIndex
from navrel.core.layout.binding import Seat
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Layout, Target
from navrel.core.pages.page import Page
from navrel.core.pages.pageset import PageSet
from navrel.core.pages.table import PageTable
from navrel.core.questions.reach import rule_pages
from navrel.rendering.hinges import SiteHinges
from navrel.rendering.in_place.drawing import Original
from navrel.rendering.page import Source
from navrel.server.api.errors import InTheWay, Missing
from navrel.server.bindings.standing import standing_in
from navrel.server.inventory.models import Page as PageRecord
from navrel.server.inventory.models import Site
from navrel.server.library.models import Piece
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.lasting import MANY_PAGES, made_to_last
from navrel.server.sitestate.state import SiteState

from .models import Revision
from .packing import Archived, Unreadable, pack, unpack, unpack_layout

#: Revisions that are tried, newest first, where the newest cannot be read.
_MOST_TRIED = 20
#: Archives of more bytes hold very many pages. So many are read at once.
_LARGE = 256 * 1024
log = logging.getLogger(__name__)


@dataclass(frozen=True)
class LiveState(SiteState):
    """A published state: also knows its revision, and the content of every page by digest.

    ``aliases``: addresses that lead to others; ``assets``: digest and media type of each file that is no page, by its
    address. ``stands``: of some pages, by slot, the pieces that show what stands in their files there.
    ``rule_ids`` are the ids that the rules had in the draft, in their order, and ``shelf`` the colour, position and
    origin of each piece by slug; both are empty in revisions that were published before they were kept. ``archived``:
    what was read of its archive; None for a draft that is looked at as if it were live.
    """

    revision: Revision = field(kw_only=True)
    contents: dict[str, str] = field(kw_only=True)
    aliases: dict[str, str] = field(kw_only=True, default_factory=dict)
    assets: dict[str, tuple[str, str]] = field(kw_only=True, default_factory=dict)
    stands: Mapping[str, frozenset[tuple[str, str]]] = field(kw_only=True, default_factory=dict)
    rule_ids: tuple[int, ...] = field(kw_only=True, default=())
    shelf: dict[str, dict[str, Any]] = field(kw_only=True, default_factory=dict)
    archived: Archived | None = field(kw_only=True, default=None)

    def served_original(self, page: Page) -> Original | None:
        """The HTML of a page of its own as it is served: in it stays what pieces show; None where it has none."""
        own = self.original(page)
        stands = self.stands.get(page.path)
        return replace(own, stands=stands) if own and stands else own

    @cached_property
    def resolving(self) -> Source:
        """What its pages are drawn from where very many are."""
        return replace(self.source, resolver=self.resolver)

    @property
    def _large(self) -> dict[int, Any]:
        """What holds very much, each once, by what tells it from all else."""
        pages, layout = (self.document.pages, self.index.tree.pages), self.layout
        large = [*pages, self.contents, self.originals, self.assets, self.stands, layout.rules, layout.pieces]
        return {id(one): one for one in large}

    def parts(self, newer: LiveState | None) -> list[list[object]]:
        """What most of it is made of that a newer state has not too, to be let go of a part at a time (`let_go`)."""
        shared = newer._large if newer else {}
        large = [one for key, one in self._large.items() if key not in shared]
        leaves: list[list[object]] = []
        for one in large:
            leaves += (
                one.parts if isinstance(one, PageTable) else [list(one.values() if isinstance(one, dict) else one)]
            )
        holders = [vars(one) for one in (self, self.document, self.index.tree, self.index)]
        if "resolver" in holders[0]:
            holders.append(vars(self.resolver))
        return leaves + [[one] for holder in holders for one in holder.values()]

    @cached_property
    def hinges(self) -> SiteHinges:
        """What its pages hinge on."""
        return SiteHinges(self.resolver)


@dataclass(frozen=True)
class Served:
    """What a site serves: its newest revision that can be read, and the numbers of newer ones that cannot."""

    state: LiveState | None
    passed_over: tuple[int, ...] = ()


_served: Kept[Served] = Kept(settings.MOST_LIVE)


def newest_revision(site: Site) -> Revision | None:
    """The newest revision, without its archive."""
    return Revision.objects.filter(site=site).defer("archive").select_related("by").first()


def layout_of(revision: Revision) -> Layout:
    """The layout of a revision, for which none of its pages is read. Raises Unreadable."""
    return unpack_layout(archive_of(revision))


def newest_key(site: Site) -> int | None:
    """The key of the newest revision: what is asked with nearly every answer."""
    return Revision.objects.filter(site=site).values_list("pk", flat=True).first()


def served(site: Site, ahead: Callable[[LiveState], None] = lambda state: None) -> Served:
    """What the published site serves now; ``ahead`` is called with what is new before anybody gets it."""
    newest = newest_key(site)
    if newest is None:
        return Served(None)

    def made_ready(older: Served | None) -> Served:
        found = _newest_readable(site, older)
        if found.state is not None:
            with made_to_last(many=found.state.index.size > MANY_PAGES):
                ahead(found.state)
        return found

    return _served.get(site.pk, newest, made_ready)


def newest_served(site: int) -> LiveState | None:
    """What this process serves of a site, by its key, without asking the database; None for nothing yet."""
    found = _served.newest(site)
    return found.state if found else None


def served_meanwhile(site: Site, patience: float) -> Served:
    """What readers get: the newest revision, or what was served before where that takes more than ``patience`` seconds.

    It is made ready beside, once a process.
    """
    newest = newest_revision(site)
    if newest is None:
        return Served(None)
    asking = current_thread()
    return _served.meanwhile(site.pk, newest.pk, lambda older: _opened_beside(site, newest, older, asking), patience)


def _opened_beside(site: Site, newest: Revision, older: Served | None, asking: Thread) -> Served:
    """The newest revision; a thread of its own leaves no connection behind."""
    try:
        return Served(open_revision(newest, older.state if older else None))
    except Unreadable:
        return _newest_readable(site, older)
    finally:
        if current_thread() is not asking:
            connection.close()


def live(site: Site) -> LiveState | None:
    """The state that is live, None before the first publication."""
    return served(site).state


def _newest_readable(site: Site, older: Served | None) -> Served:
    passed_over: list[int] = []
    # The archives of those that are not tried stay where they are.
    for revision in Revision.objects.filter(site=site).defer("archive").select_related("by")[:_MOST_TRIED]:
        try:
            return Served(open_revision(revision, older.state if older else None), tuple(passed_over))
        except Unreadable as reason:
            log.error("%s of %s cannot be read: %s", revision, site.slug, reason)
            passed_over.append(revision.number)
    return Served(None, tuple(passed_over))


def open_archive(archive: bytes) -> SiteState:
    """Read an archive that is no revision yet. Raises Unreadable."""
    document = unpack(archive).document
    return SiteState(document, PageIndex(document.tree))


def open_revision(revision: Revision, older: LiveState | None = None, *, archive: bytes | None = None) -> LiveState:
    """Read a revision's archive; what an older one has in common with it is there once. Raises Unreadable.

    ``archive``: where the database was asked for it already.
    """
    archive = archive_of(revision) if archive is None else archive
    with made_to_last(many=len(archive) > _LARGE):
        archived = unpack(archive, older.archived if older else None)
        document, beside, _ = archived
        alike = older if older and older.index.tree is document.tree else None
        return LiveState(
            document,
            alike.index if alike else PageIndex(document.tree),
            revision=revision,
            contents=beside["contents"],
            aliases=beside.get("aliases", {}),
            assets=beside["assets"],
            originals=beside["originals"],
            stands=beside["stands"],
            rule_ids=tuple(beside.get("rule_ids", ())),
            shelf=beside.get("shelf", {}),
            archived=archived,
        )


def archive_of(revision: Revision) -> bytes:
    """The archive of a revision, a slice at a time: no other thread runs while what the database sends is read."""
    own = Revision.objects.filter(pk=revision.pk)
    slices: list[bytes] = []
    while not slices or len(slices[-1]) == _LARGE:
        part = Func("archive", 1 + len(slices) * _LARGE, _LARGE, function="SUBSTRING", output_field=BinaryField())
        slices.append(bytes(own.values_list(part, flat=True).get()))
    return b"".join(slices)


_opened: Kept[LiveState] = Kept()


def opened(site: Site, number: int) -> LiveState:
    """A revision as it was published, kept while it is looked at. Raises Missing, and InTheWay if unreadable."""
    revision = find_revision(site, number)
    try:
        return _opened.get((site.pk, number), revision.pk, lambda _: open_revision(revision, newest_served(site.pk)))
    except Unreadable:
        raise InTheWay("unreadable", f"Revision {number} cannot be read") from None


def served_at(state: SiteState, address: str) -> Page | None:
    """What is served at an address: the page that it means, else the not-found page."""
    return state.index.tree.meant(address) or state.index.tree.missing


def find_revision(site: Site, number: int) -> Revision:
    """A revision by its number. Raises Missing."""
    revision = Revision.objects.filter(site=site, number=number).defer("archive").select_related("by").first()
    if revision is None:
        raise Missing("no-revision", f"There is no revision {number}")
    return revision


def packed(site: Site, state: SiteState) -> bytes:
    """A draft as a revision keeps it. Raises Unreadable for one that would not come out again as it went in."""
    # In the order of the tree: whoever reads it need not look for that.
    written = write_document(replace(state.document, pages=state.index.tree.pages))
    beside = {
        "contents": dict(draft_contents(site)),
        "aliases": draft_aliases(site),
        "assets": draft_assets(site),
        "originals": {path: one.written for path, one in state.originals.items()},
        "stands": {path: sorted(stands) for path, stands in draft_stands(site, state).items()},
        "rule_ids": [rule.key for rule in state.document.layout.rules],
        "shelf": {
            piece.pop("slug"): piece
            for piece in map(dict, Piece.objects.filter(site=site).values("slug", "colour", "position", "origin"))
        },
    }
    archive = pack(written, beside)
    if write_document(unpack(archive).document) != written:
        raise Unreadable("what is read back differs from what was written")
    return archive


def as_if_live(site: Site, state: SiteState) -> LiveState:
    """A draft as it would be if it were published now."""
    return LiveState(
        state.document,
        state.index,
        revision=Revision(site=site, number=0),
        contents=dict(draft_contents(site)),
        aliases=draft_aliases(site),
        assets=draft_assets(site),
        originals=state.originals,
        stands=draft_stands(site, state),
    )


def draft_contents(site: Site) -> Iterator[tuple[str, str]]:
    """The path and the content digest of every page of the draft."""
    pairs = PageRecord.objects.filter(site=site, gone=False).values_list("path", "content_id")
    return ((path, digest or "") for path, digest in pairs.iterator())


def draft_stands(site: Site, state: SiteState) -> dict[str, frozenset[tuple[str, str]]]:
    """The pieces of a draft that show what stands in the files of its pages, by page."""
    standing = standing_in(site, state)
    return {path: stands for path in state.originals if (stands := standing(path))}


def draft_assets(site: Site) -> dict[str, tuple[str, str]]:
    """Digest and media type of every file of the draft that is no page, by address."""
    listed = site.assets.filter(current=True).values_list("address", "digest", "type")
    return {address: (digest, media_type) for address, digest, media_type in listed}


class Own(NamedTuple):
    """What a page is drawn from in itself: its content, and its file; on which slots rules act, and where these are."""

    content: str
    file: tuple[str, str] | None = None
    acted: frozenset[str] = frozenset()
    seats: tuple[Seat, ...] = ()

    def differs(self, other: Own) -> bool:
        """Whether it is another.

        Where no rule acts on a slot it makes no difference where it is; what one does that was not there is told of it.
        """
        both = self.acted & other.acted
        here, there = ([seat for seat in one.seats if seat.slot in both] for one in (self, other))
        return (self.content, self.file, here) != (other.content, other.file, there)


def drawn_from(site: Site, state: SiteState) -> dict[str, Own]:
    """What the pages of a state are drawn from in themselves, by path."""
    contents = state.contents if isinstance(state, LiveState) else dict(draft_contents(site))
    acted = _acted_on(state) if state.originals else {}

    def told(path: str, digest: str) -> Own:
        original = state.originals.get(path)
        if original is None:
            return Own(digest)
        number = state.index.tree.numbers[path]
        slots = frozenset(slot for slot, pages in acted.items() if number in pages)
        return Own(digest, (original.digest, original.encoding), slots, original.seats)

    return {path: told(path, digest) for path, digest in contents.items()}


def _acted_on(state: SiteState) -> dict[str, PageSet]:
    """For each slot that rules act on, the pages on which they do for anybody at any time."""
    found: dict[str, PageSet] = {}
    for rule in state.layout.rules:
        if not rule.on:
            continue
        pages = rule_pages(state.index, rule)
        for slot in {action.slot for action in rule.actions if action.slot}:
            found[slot] = found[slot] | pages if slot in found else pages
    return {slot: pages - state.index.locking(Target("slot", slot)) for slot, pages in found.items()}


def draft_aliases(site: Site) -> dict[str, str]:
    """Where every other address of the draft leads."""
    return dict(site.aliases.values_list("address", "target"))


def published(site: Site) -> LiveState:
    """What is live; before the first publication a site without pages, pieces and rules."""
    found = live(site)
    if found is not None:
        return found
    nothing = SiteDocument(name=site.name, slug=site.slug)
    return LiveState(nothing, PageIndex(nothing.tree), revision=Revision(site=site, number=0), contents={})
