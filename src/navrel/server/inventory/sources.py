"""Taking a site in from where it is: a folder, an archive, what a crawler wrote down, or its address."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import chain, islice
from pathlib import Path
from typing import Any

from .archives import archive_files
from .crawling import Crawl
from .folders import File, folder_files
from .models import Intake
from .services import BATCH, finish_intake, stage_files, start_intake, stop_intake
from .warc import is_warc, warc_files


def take_in_folder(
    slug: str,
    source: Path | str,
    progress: Callable[[int], object] = lambda count: None,
    look: Callable[[Intake], tuple[dict[str, Any], Any]] | None = None,
) -> dict[str, Any]:
    """Take in every file of a folder, of an archive, or all that a site leads to, given by its address.

    ``progress`` is told how many have been read.

    With ``look`` it is only looked at what would come of it, and told on how many pages that is seen. Raises Refused.
    """
    intake = start_intake(slug, None)
    try:
        count = 0
        files = _files(source, intake.site.base_url)
        for first in files:
            count += stage_files(intake, chain((first,), islice(files, BATCH - 1)))
            progress(count)
        if look is None:
            return finish_intake(intake)
        report, weighed = look(intake)
        stop_intake(intake)
        return {**report, "changed": len(weighed.impact.paths)}
    except BaseException:
        stop_intake(intake)
        raise


def _files(source: Path | str, base_url: str) -> Iterator[File]:
    """The files of a folder, of an archive, of what a crawler wrote down, or of a site. Raises Refused."""
    if isinstance(source, str):
        return Crawl(source).files()
    if source.is_dir():
        return folder_files(source)
    return warc_files(source, base_url) if is_warc(source) else archive_files(source)
