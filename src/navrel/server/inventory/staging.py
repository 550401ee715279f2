"""Reading files for an intake, and putting what is in them where it waits to be brought in."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from pathlib import PurePosixPath
from typing import NamedTuple

import orjson
from django.db import transaction

from navrel.core.files.reading import read_bindings
from navrel.core.text import fit
from navrel.rendering.in_place.places import Asked

from .assets import keep, type_of
from .decoding import MAX_FILE, TOO_LARGE, Unreadable
from .folders import File, StandIn, is_page
from .models import Content, Intake, Original, StagedAsset, StagedPage
from .originals import asked_of
from .reader import Reader, read_beside
from .reading import ReadPage

#: Files staged at a time: what bounds the memory of an intake.
BATCH = 200
#: Longest name of a file below its folder, in bytes: an index of the database holds no longer one.
MAX_NAME = 1500


class Staged(NamedTuple):
    """What one file comes to: a page, or why it is none; and a file as it is, where it is no page but can be had."""

    page: StagedPage | None = None
    read: ReadPage | None = None
    asset: StagedAsset | None = None


def stage_files(intake: Intake, files: Iterable[File]) -> int:
    """Read some files, and put what they hold where it waits. Returns how many."""
    return put_staged(read_files(intake, files))


@transaction.atomic
def put_staged(read: Sequence[Staged]) -> int:
    """Put what was read where its intake waits to be finished. Returns how many files that are."""
    # Of two files of one name the later one counts.
    pages = {one.page.file: (one.page, one.read) for one in read if one.page}
    assets = {one.asset.address: one.asset for one in read if one.asset}
    contents = {str(staged.content_id): page for staged, page in pages.values() if page}
    Content.objects.bulk_create(
        [Content(digest=digest, html=page.html, text=page.text) for digest, page in contents.items()],
        ignore_conflicts=True,
    )
    Original.objects.bulk_create(
        [
            Original(digest=staged.original_id, encoding=page.encoding, title=page.title_place, places=page.places)
            for staged, page in pages.values()
            if page and staged.original_id
        ],
        ignore_conflicts=True,
    )
    StagedPage.objects.bulk_create(
        [staged for staged, _ in pages.values()],
        update_conflicts=True,
        unique_fields=["intake", "file"],
        update_fields=["path", "facts", "content", "original", "skipped", "remark", "address", "also", "leads_to"],
    )
    StagedAsset.objects.bulk_create(
        assets.values(),
        update_conflicts=True,
        unique_fields=["intake", "address"],
        update_fields=["digest", "type", "size"],
    )
    return len(read)


def read_files(intake: Intake, files: Iterable[File]) -> list[Staged]:
    """Read some files, each when its turn comes, in their order."""
    asked = asked_of(read_bindings(intake.site.bindings))
    recipe = orjson.dumps(intake.site.recipe).decode()

    def read(reader: Reader, file: File) -> Staged:
        stated, data = file
        name = fit(stated, 999).replace("\\", "/") or "a file without a name"
        if len(name.encode()) > MAX_NAME:
            data = Unreadable(f"has a name of more than {MAX_NAME:,} bytes")
        if isinstance(data, Unreadable) or is_page(name, data):
            return _stage(reader, intake, name, data, asked, recipe)
        return Staged(asset=_asset(intake, name, data))

    return read_beside(files, read)


def _asset(intake: Intake, name: str, data: bytes) -> StagedAsset:
    return StagedAsset(
        intake=intake, address=fit(str(PurePosixPath("/", name)), 1000), digest=keep(data), type=type_of(name),
        size=len(data),
    )  # fmt: skip


def _stage(
    reader: Reader, intake: Intake, name: str, data: bytes | Unreadable, asked: Collection[Asked], recipe: str
) -> Staged:
    staged = StagedPage(intake=intake, file=name)
    # It may stand for many files: raised, it would keep what was read for each of them.
    if isinstance(data, Unreadable):
        staged.skipped = fit(str(data), 500)
        return Staged(staged)
    try:
        if len(data) > MAX_FILE:
            raise Unreadable(TOO_LARGE)
        page = reader.read(name, data, intake.base_url, asked, recipe)
    except Unreadable as reason:
        staged.skipped = fit(str(reason), 500)
        # What leads to it is to lead there still.
        return Staged(staged, asset=None if isinstance(data, StandIn) else _asset(intake, name, data))
    staged.path, staged.address, staged.also = page.path, page.address, page.also
    if page.leads_to:
        staged.leads_to = fit(page.leads_to, 2000)
        return Staged(staged)
    staged.facts = {**page.facts, "term_names": page.term_names, "dropped": page.dropped, "next": page.next}
    staged.content_id, staged.remark = page.digest, page.remark
    staged.original_id = keep(data) if page.encoding else None
    return Staged(staged, page)
