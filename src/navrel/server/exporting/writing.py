"""A site as files: every page as one visitor sees it at one moment, with all that it needs, for any static host."""

from __future__ import annotations

import multiprocessing
import os
import re
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from datetime import datetime
from functools import partial
from html import escape
from typing import Protocol, TypeVar

from django.db import connections

from navrel.core.language.visitor import Lens
from navrel.core.pages.page import Page
from navrel.rendering.environment import stylesheet, stylesheet_address
from navrel.rendering.in_place.styles import in_place_stylesheet, in_place_stylesheet_address
from navrel.rendering.page import draw_page
from navrel.server.delivery.headers import in_place_policy
from navrel.server.delivery.well_known import WELL_KNOWN
from navrel.server.inventory.assets import place_of
from navrel.server.inventory.models import Content
from navrel.server.library.models import FileData
from navrel.server.publishing.live import LiveState

from .folder import file_of
from .looks import MOST_LOOKS, Distinction
from .nginx import Served, is_sayable, look_file

#: Pages that are drawn in one go: their contents are in memory meanwhile.
_AT_ONCE = 200
#: The most processes that draw.
_MOST_WORKERS = 8
_OWN = re.compile(rb"/-/[A-Za-z0-9._~%/-]+")
_PICTURE = re.compile(r"/-/files/([0-9a-f]{64})(?:-(\d{1,5}))?/[^/]+\Z")
#: The file that static hosts show where there is nothing.
_MISSING = "404.html"


class Target(Protocol):
    """What an export is written to; `Folder` tells what each does."""

    def begin(self, names: Collection[str]) -> None: ...

    def put(self, name: str, data: bytes) -> bool: ...

    def finish(self, names: Collection[str]) -> list[str]: ...


@dataclass
class Report:
    """What an export did. ``written`` files are new or others than before; ``problems`` tells what is left out.

    ``several``: the addresses of pages that others see otherwise, by what makes the difference; ``until``: the first
    moment at which a page changes by itself, None for never. ``served`` is what a server has to know of it.
    """

    pages: int = 0
    files: int = 0
    written: list[str] = field(default_factory=list)
    removed: list[str] = field(default_factory=list)
    several: dict[str, list[str]] = field(default_factory=dict)
    until: datetime | None = None
    problems: list[str] = field(default_factory=list)
    served: Served | None = None


@dataclass(frozen=True)
class _Job:
    """What all processes that draw have in common. ``looks``: what tells the looks of a page apart, by its address."""

    state: LiveState
    target: Target
    lens: Lens
    looks: Mapping[str, Distinction]


@dataclass
class _Part:
    """What became of some pages: the names of their files, those that are another now, and what they need besides.

    ``policies``: of those in their own HTML, by their addresses.
    """

    names: list[str] = field(default_factory=list)
    written: list[str] = field(default_factory=list)
    needs: set[str] = field(default_factory=set)
    policies: dict[str, str] = field(default_factory=dict)


_File = tuple[str, Callable[[], bytes]]
_Of = TypeVar("_Of")


def export(state: LiveState, target: Target, lens: Lens, workers: int | None = None, *, looks: bool = False) -> Report:
    """Write a site to a folder, or the like. Raises NoFolder, and OSError where something cannot be written.

    ``workers``: how many processes draw; as many as there are processors by itself. ``looks``: with the looks of pages
    that others see, as far as a plain request tells who asks.
    """
    report = Report()
    pages = _page_files(state, report)
    others = list(_other_files(state, report, {name for name, _ in pages}))
    pages = _without_folders(pages, [], report)
    others = _without_folders(others, [name for name, _ in pages], report)
    telling = _told_apart(state, [page for _, page in pages], report) if looks else {}
    names = {*(name for name, _ in pages), *(name for name, _ in others)}
    names.update(look_file(address, mark) for address, one in telling.items() for mark in one.visitors(lens.visitor))
    target.begin(names)
    names = {name for name, _ in others}
    needs: set[str] = set()
    policies: dict[str, str] = {}
    for part in _drawn(_Job(state, target, lens, telling), pages, workers):
        names.update(part.names)
        report.written += part.written
        needs |= part.needs
        policies |= part.policies
    for name, data in (*others, *_needed(needs, report)):
        names.add(name)
        if target.put(name, data()):
            report.written.append(name)
    report.removed = target.finish(names)
    report.pages, report.files = len(pages), len(names)
    report.written.sort()
    moved = {address: target for address, target in state.aliases.items() if is_sayable(address)}
    report.served = Served(state.document.language, looks=telling, moved=moved, policies=policies)
    _tell_several(state, lens, report)
    return report


def _without_folders(files: list[tuple[str, _Of]], before: Collection[str], report: Report) -> list[tuple[str, _Of]]:
    """Files without those that would be folders too, of each other or of some that stand there ``before``."""
    standing = set(before)
    fitting = [one for one in files if standing.isdisjoint(_parents(one[0]))]
    folders = {parent for name in (*before, *(name for name, _ in fitting)) for parent in _parents(name)}
    found = [one for one in fitting if one[0] not in folders]
    left = {name for name, _ in found}
    report.problems += [f"{name} would be a file and a folder" for name, _ in files if name not in left]
    return found


def _parents(name: str) -> Iterator[str]:
    """The folders that a file stands in, from the top down."""
    return (name[:at] for at, letter in enumerate(name) if letter == "/")


def _page_files(state: LiveState, report: Report) -> list[tuple[str, Page]]:
    """The file of every page; two pages have none in common."""
    found: dict[str, Page] = {}
    for page in state.index.tree.pages:
        try:
            name = file_of(page.href)
        except ValueError as error:
            report.problems.append(str(error))
            continue
        if name in found:
            report.problems.append(f"{page.href} and {found[name].href} would be one file, {name}")
            continue
        found[name] = page
        if page.kind == "search":
            report.problems.append(f"what {page.href} finds: files search nothing")
    missing = state.index.tree.missing
    if missing is not None:
        found.setdefault(_MISSING, missing)
    return list(found.items())


def _other_files(state: LiveState, report: Report, taken: set[str]) -> Iterator[_File]:
    """Files that are no pages, what programs look for, and where addresses lead that are no longer used."""
    for address, (digest, _) in state.assets.items():
        name = address.removeprefix("/")
        if name in taken or not _is_file(address):
            report.problems.append(f"{address} is a page's file too, or no path of files")
            continue
        taken.add(name)
        yield name, partial(_asset, digest)
    for address, tell in WELL_KNOWN.items():
        answer = tell(state)
        if answer.status_code == 200 and address.removeprefix("/") not in taken:
            taken.add(address.removeprefix("/"))
            yield address.removeprefix("/"), partial(bytes, answer.content)
    for address, target in state.aliases.items():
        try:
            name = file_of(address)
        except ValueError as error:
            report.problems.append(str(error))
            continue
        # What an alias differs in from its page may be what a file does not tell: a slash, `index.html`.
        if name not in taken:
            taken.add(name)
            yield name, partial(_leading_to, target)


def _is_file(address: str) -> bool:
    try:
        return file_of(address) != "" and not address.endswith("/")
    except ValueError:
        return False


def _asset(digest: str) -> bytes:
    return place_of(digest).read_bytes()


def _leading_to(target: str) -> bytes:
    """A page that leads to another (HTML, refresh): static hosts have no other way in common."""
    link = escape(target)
    return (
        f'<!doctype html><meta charset="utf-8"><title>{link}</title><link rel="canonical" href="{link}">'
        f'<meta http-equiv="refresh" content="0; url={link}"><a href="{link}">{link}</a>\n'
    ).encode()


def _needed(needs: set[str], report: Report) -> Iterator[_File]:
    """The style sheets and pictures that pages name."""
    sheets = {stylesheet_address(): stylesheet, in_place_stylesheet_address(): in_place_stylesheet}
    for address in sorted(needs):
        picture = _PICTURE.match(address)
        if address in sheets:
            yield address.removeprefix("/"), sheets[address]
        elif picture:
            kept = FileData.objects.filter(digest=picture[1], width=int(picture[2] or 0))
            data = kept.values_list("data", flat=True).first()
            if data is None:
                report.problems.append(f"{address} is named, and not there")
            else:
                yield address.removeprefix("/"), partial(bytes, data)


def _drawn(job: _Job, pages: list[tuple[str, Page]], workers: int | None) -> Iterator[_Part]:
    """Draw all pages, some at a time, by several processes where that is worth it."""
    parts = [pages[at : at + _AT_ONCE] for at in range(0, len(pages), _AT_ONCE)]
    count = min(workers or os.cpu_count() or 1, _MOST_WORKERS, len(parts))
    if count <= 1:
        yield from (_draw(job, part) for part in parts)
        return
    # Made before the processes part, so that they have it in common.
    job.state.resolving  # noqa: B018
    connections.close_all()
    with ProcessPoolExecutor(count, multiprocessing.get_context("fork"), _begin, (job,)) as pool:
        yield from pool.map(_draw_here, parts)


_here: list[_Job] = []


def _begin(job: _Job) -> None:
    _here[:] = [job]


def _draw_here(part: Sequence[tuple[str, Page]]) -> _Part:
    return _draw(_here[0], part)


def _draw(job: _Job, part: Sequence[tuple[str, Page]]) -> _Part:
    state = job.state
    digests = {page.path: state.contents.get(page.path, "") for _, page in part}
    contents = dict(Content.objects.filter(pk__in=set(digests.values())).values_list("pk", "html"))
    found = _Part()
    for name, page in part:
        content = contents.get(digests[page.path], "")
        # Whoever serves the files decides whether scripts run: most do.
        original = partial(state.served_original, page)
        draw = partial(draw_page, state.resolving, page, content, original=original, scripts_run=True)
        plain = draw(job.lens)
        if plain.in_place and is_sayable(page.href):
            found.policies[page.href] = in_place_policy(scripts=state.document.scripts)
        files = {name: plain.data}
        telling = job.looks.get(page.href)
        for mark, visitor in telling.visitors(job.lens.visitor).items() if telling else ():
            data = draw(Lens(visitor, job.lens.moment)).data
            if data != plain.data:
                files[look_file(page.href, mark)] = data
        for file_name, data in files.items():
            found.names.append(file_name)
            found.needs.update(address.decode() for address in _OWN.findall(data))
            if job.target.put(file_name, data):
                found.written.append(file_name)
    return found


def _told_apart(state: LiveState, pages: Iterable[Page], report: Report) -> dict[str, Distinction]:
    """What tells the looks of each page apart that has several."""
    known: dict[int, Distinction] = {}
    found = {}
    for page in pages:
        hinges = state.hinges.of(page)
        telling = known.setdefault(id(hinges), Distinction.of(hinges))
        if not telling.terms:
            continue
        if telling.kinds is None:
            report.problems.append(f"the looks of {page.href} that others see: they are more than {MOST_LOOKS}")
        elif not is_sayable(page.href) or not _is_file(f"/{look_file(page.href, '0' * len(telling.terms))}"):
            report.problems.append(f"the looks of {page.href} that others see: there are no files for them")
        else:
            found[page.href] = telling
    return found


def _tell_several(state: LiveState, lens: Lens, report: Report) -> None:
    untils = set()
    for page in state.index.tree.pages:
        hinges = state.hinges.of(page)
        for fact in hinges.facts:
            report.several.setdefault(fact, []).append(page.href)
        if hinges.is_timed:
            untils.add(hinges.until(lens.moment))
    report.until = min((until for until in untils if until is not None), default=None)
