"""The files of pages as they were taken in: where the slots of pages that are drawn in them have their places."""

from __future__ import annotations

import logging
from collections.abc import Collection, Iterable, Iterator, Sequence
from functools import partial
from typing import Any, NamedTuple

from django.db.models import Q

from navrel.core.cascade.seating import bindings_of
from navrel.core.layout.binding import Binding, Place, Seat, seats
from navrel.core.pages.page import Page as CorePage
from navrel.core.pages.tree import PageTree
from navrel.rendering.in_place.drawing import Original as DrawnFrom
from navrel.rendering.in_place.places import Asked
from navrel.server.api.errors import Refused

from .assets import place_of
from .bringing_in import BATCH, batches
from .decoding import Unreadable
from .models import Original, Page, Site
from .reader import Reader, read_beside

log = logging.getLogger(__name__)


class FrozenOriginal(NamedTuple):
    """What a page may be drawn from in a state: the digest and encoding of its file, and what stands where in it."""

    digest: str
    encoding: str
    seats: tuple[Seat, ...]
    title: tuple[int, int] | None

    @classmethod
    def of_archive(cls, told: Sequence[Any]) -> FrozenOriginal:
        """As it was written."""
        digest, encoding, seats, title = told
        return cls(digest, encoding, tuple(Seat(*seat) for seat in seats), tuple(title) if title else None)

    @property
    def written(self) -> tuple[object, ...]:
        """As it stands in an archive."""
        return self.digest, self.encoding, [tuple(seat) for seat in self.seats], self.title

    def read(self) -> DrawnFrom | None:
        """What the page is drawn from; None where the file is not there any more."""
        try:
            return DrawnFrom(bytes_of(self.digest), self.encoding, self.seats, self.title)
        except OSError:
            log.error("the file %s of a page is not there any more", self.digest)
            return None


def asked_of(bindings: Iterable[Binding]) -> tuple[Asked, ...]:
    """What bindings look for in a page, each once."""
    return tuple(dict.fromkeys(binding.place for binding in bindings))


def bytes_of(digest: str) -> bytes:
    """The file with a digest. Raises OSError where it is not there any more."""
    return place_of(digest).read_bytes()


def originals_of(site: Site, *narrowed: Q) -> Iterator[tuple[str, Original]]:
    """The path and the file of each page of a site that has one, in tree order; ``narrowed``: of some pages."""
    listed = Page.objects.filter(*narrowed, site=site, gone=False, original__isnull=False).select_related("original")
    for page in listed.only("path", "original").order_by("position").iterator(chunk_size=BATCH):
        assert page.original is not None
        yield page.path, page.original


class ToldOriginal(NamedTuple):
    """What a page's file tells of itself: of an `Original` as much as it takes to draw the page from it."""

    digest: str
    encoding: str
    title: list[int] | None
    places: dict[str, Any]


def told_originals(site: Site, chunk: int) -> Iterator[tuple[str, ToldOriginal]]:
    """The path of each page of a site that has a file, and what that tells; ``chunk``: how many are fetched at once."""
    columns = [f"original__{name}" for name in ToldOriginal._fields]
    rows = Page.objects.filter(site=site, gone=False, original__isnull=False).values_list("path", *columns)
    return ((path, ToldOriginal(*told)) for path, *told in rows.iterator(chunk_size=chunk))


def know_places(site: Site, bindings: Collection[Binding]) -> None:
    """Look for the places of bindings in all files of a site where that was not done yet. Raises Refused."""
    if bindings:
        known = [_key(*one) for one in asked_of(bindings)]
        for batch in batches(originals_of(site, ~Q(original__places__has_keys=known)), BATCH):
            # Pages may have one file. Each is there: put beside it, its places take the place of those that were known.
            # An update of many takes three times as long.
            found = {one.digest: one for one in look_for(batch, bindings)}
            Original.objects.bulk_create(
                found.values(), update_conflicts=True, unique_fields=["digest"], update_fields=["places"]
            )


def look_for(originals: Iterable[tuple[str, Original]], bindings: Collection[Binding]) -> list[Original]:
    """Look for the places of bindings in some files, each with its page's path; returns those that are told more now.

    Raises Refused where a selector takes too long, or cannot be asked.
    """
    wanted = {_key(*one): one for one in asked_of(bindings)}

    def look(reader: Reader, one: tuple[str, Original, list[str]]) -> Original:
        path, original, missing = one
        try:
            asked = [wanted[key] for key in missing]
            found = reader.places(bytes_of(original.digest), original.encoding, asked).places
        except OSError:
            found = dict.fromkeys(missing, None)
        except Unreadable as reason:
            raise Refused("bad-selector", f"On {path} a selector {reason}", "Choose a simpler selector.") from None
        original.places = {**original.places, **found}
        return original

    lacking = ((path, one, [key for key in wanted if key not in one.places]) for path, one in originals)
    return read_beside((one for one in lacking if one[2]), look)


def _key(how: str, selector: str) -> str:
    return f"{how} {selector}"


class Seating:
    """Which slots have a place where in the files of the pages of a site."""

    def __init__(self, bindings: Collection[Binding], tree: PageTree) -> None:
        self._bindings, self._tree = bindings, tree

    def seats(self, page: CorePage, original: Original | ToldOriginal) -> tuple[Seat, ...]:
        """The places of slots in the file of a page, in document order."""
        return seats(self.acting(page), partial(place_in, original))

    def frozen(self, page: CorePage, original: Original | ToldOriginal) -> FrozenOriginal:
        """What the page may be drawn from."""
        title = (original.title[0], original.title[1]) if original.title else None
        return FrozenOriginal(original.digest, original.encoding, self.seats(page, original), title)

    def acting(self, page: CorePage) -> tuple[Binding, ...]:
        """The bindings of pages that are built like this one."""
        return bindings_of(page, self._bindings, self._tree)


def place_in(original: Original | ToldOriginal, binding: Binding) -> Place | None:
    """Where a binding finds its place in a file, as it was looked for."""
    found = original.places.get(_key(*binding.place))
    return Place(*found) if found else None
