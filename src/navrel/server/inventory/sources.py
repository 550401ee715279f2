"""Taking a site in from where it is: a folder, an archive, what a crawler wrote down, or its address."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from itertools import islice
from pathlib import Path
from typing import Any

from .archives import archive_files, is_archive
from .bringing_in import batches
from .crawling import begin_crawl, crawl_of, crawl_on, goes_on, unfinished_crawls
from .folders import File, folder_files
from .models import Intake
from .services import finish_intake, start_intake, stop_intake
from .staging import BATCH, Staged, put_staged, read_files
from .tables import is_table, table_pages
from .warc import is_warc, warc_files

#: A batch that is staged at once holds no more files once they come to so many bytes.
_BATCH_BYTES = 4 * 1024 * 1024

Progress = Callable[[int], object]
Look = Callable[[Intake], tuple[dict[str, Any], Any]]


def take_in_folder(
    slug: str, source: Path, progress: Progress = lambda count: None, look: Look | None = None
) -> dict[str, Any]:
    """Take in every file of a folder or an archive, or a table of facts. ``progress`` is told how many have been read.

    With ``look`` it is only looked at what would come of it, and told on how many pages that is seen. Raises Refused.
    """
    intake = start_intake(slug, None)
    try:
        stage_source(intake, source, progress=progress)
        report = _finished(intake, look)
    except BaseException:
        stop_intake(intake)
        raise
    if look is not None:
        stop_intake(intake)
    return report


def take_in_address(
    slug: str, address: str, progress: Progress = lambda count: None, look: Look | None = None, *, anew: bool = False
) -> dict[str, Any]:
    """Take in all that a site leads to, by its address, as above; what breaks off goes on where it stopped.

    ``anew``: what was asked before, and was not taken in, is asked again.
    """
    intake = unfinished_crawls(slug).filter(source__in=(address, f"{address}/")).first()
    if intake is not None and (anew or not goes_on(intake)):
        stop_intake(intake)
        intake = None
    if intake is None:
        intake = start_intake(slug, None)
        begin_crawl(intake, address, inner=True)
    crawl = crawl_of(intake)
    while crawl.waiting:
        crawl = crawl_on(intake)
        progress(crawl.asked)
    return _finished(intake, look)


def _finished(intake: Intake, look: Look | None) -> dict[str, Any]:
    """The report of an intake that is brought in, or only looked at."""
    if look is None:
        return finish_intake(intake)
    report, weighed = look(intake)
    return {**report, "changed": len(weighed.impact.paths)}


def stage_source(intake: Intake, source: Path, name: str = "", progress: Progress = lambda count: None) -> None:
    """Stage all that a source holds. ``name``: what a table is called. Raises Refused."""
    if is_table(source):
        count = 0
        for batch in batches(table_pages(intake, source, name), BATCH):
            count += put_staged([Staged(staged) for staged in batch])
            progress(count)
    else:
        _stage_files(intake, _files(source, intake.site.base_url), progress)


def _stage_files(intake: Intake, files: Iterator[File], progress: Progress) -> None:
    """Stage files in batches: one is read while the one before it is written."""
    count = 0
    with ThreadPoolExecutor(1) as beside:

        def read() -> list[Staged]:
            return read_files(intake, _batch(files))

        ahead = beside.submit(read)
        while batch := ahead.result():
            ahead = beside.submit(read)
            count += put_staged(batch)
            progress(count)


def _batch(files: Iterator[File]) -> Iterator[File]:
    """As many files as are staged at once, fewer where they are large: what was read of them is in memory together."""
    size = 0
    for file in islice(files, BATCH):
        yield file
        size += len(file[1]) if isinstance(file[1], bytes) else 0
        if size > _BATCH_BYTES:
            return


def is_source(path: Path) -> bool:
    """Whether a site can be taken in from there."""
    return path.is_dir() or is_table(path) or is_archive(path) or is_warc(path)


def _files(source: Path, base_url: str) -> Iterator[File]:
    """The files of a folder, of an archive, or of what a crawler wrote down. Raises Refused."""
    if source.is_dir():
        return folder_files(source)
    return warc_files(source, base_url) if is_warc(source) else archive_files(source)
