"""Sites and the taking-in of pages: stage files in batches, then bring them into the site in one transaction."""

from __future__ import annotations

import os
import stat
from collections.abc import Iterable, Iterator
from itertools import islice
from pathlib import Path
from typing import Any, TypeVar

from django.db import transaction
from django.db.models import Count, Q
from django.utils import timezone

from navrel.core.errors import Problem, TreeError
from navrel.core.layout.document import SiteDocument, is_slug
from navrel.core.pages.page import Page as CorePage
from navrel.core.pages.tree import PageTree
from navrel.core.text import fit
from navrel.server.api.errors import Missing, Refused
from navrel.server.edits.services import record
from navrel.server.logbook.services import note
from navrel.server.sitestate.locking import lock_site

from .facts import corrections, with_corrected_parents
from .models import Content, Intake, Page, Site, StagedPage, Taxonomy, Term
from .reader import Reader, a_reader
from .reading import MAX_FILE, PAGE_SUFFIXES, TOO_LARGE, ReadPage, Unreadable

#: Files staged, and pages written, at a time: what bounds the memory of an intake.
BATCH = 200
#: Pages that one site can hold.
MAX_PAGES = 100_000
#: Skipped files and remarks named in a report; the rest is counted.
MOST_NAMED = 200

#: A file's name below its folder, and its bytes, or the reason why they could not be had.
File = tuple[str, bytes | Unreadable]
Item = TypeVar("Item")


def make_site(document: SiteDocument) -> Site:
    """A new, empty site with the facts of a layout file; its pages come by an intake."""
    with transaction.atomic():
        site = Site.objects.create(
            slug=document.slug, name=document.name, base_url=document.base_url, language=document.language,
            time_zone=document.time_zone, roles=list(document.roles),
        )  # fmt: skip
        for taxonomy in document.taxonomies:
            _have_taxonomy(site, taxonomy.slug, taxonomy.name)
            for term in taxonomy.terms:
                _have_term(site, f"{taxonomy.slug}/{term.slug}", term.name)
        for path, above in document.term_parents.items():
            taxonomy_slug, slug = path.split("/", 1)
            parent = Term.objects.get(taxonomy__site=site, taxonomy__slug=taxonomy_slug, slug=above.split("/", 1)[1])
            Term.objects.filter(taxonomy__site=site, taxonomy__slug=taxonomy_slug, slug=slug).update(parent=parent)
    return site


@transaction.atomic
def make_empty_site(slug: str, name: str, address: str = "", *, by: Any = None) -> Site:
    """A new site without pages, of which ``by`` is owner. Raises Refused for a slug that is none or is taken."""
    if not is_slug(slug):
        raise _bad_slug("bad-slug", f"{slug} is no slug", "Lower-case letters, digits and single hyphens.")
    if Site.objects.filter(slug=slug).exists():
        raise _bad_slug("taken", f"There is a site {slug} already")
    site = make_site(SiteDocument(name.strip() or slug, slug, address.rstrip("/")))
    if by is not None:
        site.memberships.create(user=by, role="owner")
    note(site, by, "rights", "Made the site")
    return site


def _bad_slug(code: str, title: str, hint: str = "") -> Refused:
    return Refused(code, title, hint, problems=[Problem("/slug", f"{title}. {hint}".strip(), code)])


def start_intake(slug: str, user: Any) -> Intake:
    """Begin taking pages in. Nothing of the site changes before the intake is finished."""
    site = Site.objects.filter(slug=slug).first()
    if site is None:
        raise Missing("no-site", f"There is no site {slug}")
    return Intake.objects.create(site=site, by=user)


def find_intake(slug: str, number: int) -> Intake:
    """An intake of a site that is still open. Raises Missing."""
    intake = Intake.objects.select_related("site").filter(site__slug=slug, pk=number, finished=None).first()
    if intake is None:
        raise Missing("no-intake", "This intake is finished or was stopped", "Begin a new one.")
    return intake


@transaction.atomic
def stage_files(intake: Intake, files: Iterable[File]) -> int:
    """Read some files. Returns how many."""
    with a_reader() as reader:
        read = [_stage(reader, intake, name, data) for name, data in files]
    contents = {page.digest: page for _, page in read if page}
    Content.objects.bulk_create(
        [Content(digest=digest, html=page.html, text=page.text) for digest, page in contents.items()],
        ignore_conflicts=True,
    )
    StagedPage.objects.bulk_create(
        [staged for staged, _ in read],
        update_conflicts=True,
        unique_fields=["intake", "file"],
        update_fields=["path", "facts", "content", "skipped", "remark"],
    )
    return len(read)


def _stage(reader: Reader, intake: Intake, name: str, data: bytes | Unreadable) -> tuple[StagedPage, ReadPage | None]:
    name = fit(name, 1000).replace("\\", "/") or "a file without a name"
    try:
        if isinstance(data, Unreadable):
            raise data
        page = reader.read(name, data)
    except Unreadable as reason:
        return StagedPage(intake=intake, file=name, skipped=fit(str(reason), 500)), None
    facts = {**page.facts, "term_names": page.term_names}
    staged = StagedPage(
        intake=intake, file=name, path=page.path, facts=facts, content_id=page.digest, remark=page.remark
    )
    return staged, page


def finish_intake(intake: Intake) -> dict[str, Any]:
    """Bring the staged pages into the site: update, add, mark as gone. All of it, or nothing. Returns the report."""
    with transaction.atomic():
        site = lock_site(intake.site.slug, inventory=True)
        _drop_repeated(intake)
        staged = intake.staged.filter(skipped="")
        if staged.count() > MAX_PAGES:
            raise Refused("too-many-pages", f"A site holds at most {MAX_PAGES:,} pages; these are {staged.count():,}")
        if not staged.exists():
            raise Refused("no-pages", "No page was found in these files", "Choose a folder that holds HTML files.")
        _check_tree(site, intake)
        _have_terms(site, staged)
        counts = _bring_in(site, staged)
        gone = site.pages.filter(gone=False).exclude(path__in=staged.values("path")).update(gone=True)
        intake.report = {**counts, "gone": gone, **_named(intake)}
        intake.finished = timezone.now()
        intake.save()
        intake.staged.all().delete()
        record(site, intake.by, (), f"Took in {describe(intake.report)}")
    return dict(intake.report)


def stop_intake(intake: Intake) -> None:
    """Give up an intake; the site stays as it was."""
    intake.delete()


def _drop_repeated(intake: Intake) -> None:
    """Of several files for one address the first by name stays; the others are named as skipped."""
    first: dict[str, str] = {}
    repeated = []
    for staged in intake.staged.filter(skipped="").order_by("file").only("file", "path").iterator(chunk_size=2000):
        if staged.path in first:
            staged.skipped = f"same address as {first[staged.path]}: {staged.path}"
            repeated.append(staged)
        else:
            first[staged.path] = staged.file
    StagedPage.objects.bulk_update(repeated, ["skipped"], batch_size=BATCH)


def _check_tree(site: Site, intake: Intake) -> None:
    pairs = intake.staged.filter(skipped="").values_list("path", "facts__parent").iterator(chunk_size=2000)
    try:
        PageTree([CorePage(path, parent=parent) for path, parent in with_corrected_parents(site, pairs)])
    except TreeError as error:
        raise Refused("loop", f"The pages' {error}", "Mend the breadcrumbs of one of these pages.") from None


def _have_terms(site: Site, staged: Any) -> None:
    names: dict[str, str] = {}
    for facts in staged.values_list("facts__term_names", flat=True).iterator(chunk_size=2000):
        names.update(facts)
    for path, name in sorted(names.items()):
        _have_taxonomy(site, path.split("/", 1)[0])
        _have_term(site, path, name)


def _have_taxonomy(site: Site, slug: str, name: str = "") -> None:
    Taxonomy.objects.get_or_create(site=site, slug=slug, defaults={"name": name or slug.capitalize()})


def _have_term(site: Site, path: str, name: str) -> None:
    taxonomy, slug = path.split("/", 1)
    Term.objects.get_or_create(
        taxonomy=Taxonomy.objects.get(site=site, slug=taxonomy), slug=slug, defaults={"name": name}
    )


def _bring_in(site: Site, staged: Any) -> dict[str, int]:
    known = dict(site.pages.values_list("path", "gone"))
    paths = sorted(staged.values_list("path", flat=True), key=lambda path: path.split("/"))
    positions = {path: number for number, path in enumerate(paths)}
    facts = (
        "title",
        "kind",
        "type",
        "parent",
        "terms",
        "lists",
        "author",
        "language",
        "published",
        "words",
        "fields",
        "slots",
    )
    added = 0
    for batch in _batches(staged.iterator(chunk_size=BATCH), BATCH):
        pages = [
            Page(
                site=site,
                path=one.path,
                position=positions[one.path],
                content_id=one.content_id,
                gone=False,
                **{name: one.facts[name] for name in facts},
            )
            for one in batch
        ]
        added += sum(page.path not in known for page in pages)
        Page.objects.bulk_create(
            pages,
            update_conflicts=True,
            unique_fields=["site", "path"],
            update_fields=["position", "content", "gone", *facts],
        )
    returned = sum(known.get(path, False) for path in paths)
    corrected = len(corrections(site).keys() & set(paths))
    return {"pages": len(paths), "added": added, "updated": len(paths) - added - returned, "returned": returned,
            "corrected": corrected}  # fmt: skip


def _named(intake: Intake) -> dict[str, Any]:
    skipped = intake.staged.exclude(skipped="").order_by("file")
    remarks = intake.staged.filter(skipped="").exclude(remark="").order_by("file")
    return {
        "skipped_count": skipped.count(),
        "skipped": [{"file": one.file, "reason": one.skipped} for one in skipped[:MOST_NAMED]],
        "remark_count": remarks.count(),
        "remarks": [{"file": one.file, "reason": one.remark} for one in remarks[:MOST_NAMED]],
    }


def folder_files(folder: Path) -> Iterator[File]:
    """The page files below a folder, in order of name, each read when its turn comes.

    Links are followed within the folder; one that leads out of it, and whatever is no plain file, is named.
    """
    root = folder.resolve()
    seen = {root}
    for place, folders, names in os.walk(folder, followlinks=True):
        kept = []
        for name in sorted(folders):
            path = Path(place) / name
            real = path.resolve()
            if not real.is_relative_to(root):
                yield path.relative_to(folder).as_posix(), _OUTSIDE
            elif real not in seen:
                seen.add(real)
                kept.append(name)
        folders[:] = kept
        for name in sorted(names):
            path = Path(place) / name
            if path.suffix.lower() in PAGE_SUFFIXES:
                outside = path.is_symlink() and not path.resolve().is_relative_to(root)
                yield path.relative_to(folder).as_posix(), _OUTSIDE if outside else _bytes_of(path)


_OUTSIDE = Unreadable("a link that leads out of the folder; it is not followed")
_NO_FILE = Unreadable("no plain file, but a pipe, a socket or a device")


def _bytes_of(path: Path) -> bytes | Unreadable:
    try:
        # A pipe would keep whoever opens it waiting, so it is looked at first and opened without waiting.
        if not stat.S_ISREG(path.stat().st_mode):
            return _NO_FILE
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK), "rb") as file:
            data = file.read(MAX_FILE + 1)
    except OSError as error:
        return Unreadable(f"cannot be opened: {error.strerror}")
    return data if len(data) <= MAX_FILE else TOO_LARGE


def take_in_folder(slug: str, folder: Path, progress: Any = lambda count: None) -> dict[str, Any]:
    """Take in every page file of a folder; ``progress`` is told how many files have been read."""
    intake = start_intake(slug, None)
    try:
        count = 0
        for batch in _batches(folder_files(folder), BATCH):
            count += stage_files(intake, batch)
            progress(count)
        return finish_intake(intake)
    except BaseException:
        stop_intake(intake)
        raise


def _batches(items: Iterable[Item], size: int) -> Iterator[list[Item]]:
    walk = iter(items)
    while batch := list(islice(walk, size)):
        yield batch


def inventory_summary(site: Site) -> dict[str, Any]:
    """How many pages a site has, by kind and type, and how many are gone."""
    present = site.pages.filter(gone=False)
    return {
        "counts": site.pages.aggregate(pages=Count("id", filter=Q(gone=False)), gone=Count("id", filter=Q(gone=True))),
        "kinds": list(present.values("kind").annotate(pages=Count("id")).order_by("-pages", "kind")),
        "types": list(
            present.exclude(type="").values("type").annotate(pages=Count("id")).order_by("-pages", "type")[:50]
        ),
    }


def describe(report: dict[str, Any]) -> str:
    """An intake's report in one sentence."""
    return (
        f"{report['pages']} pages: {report['added']} added, {report['updated']} updated, "
        f"{report['returned']} back again, {report['gone']} gone; {report['skipped_count']} files skipped"
        + (f"; {report['corrected']} keep facts that were corrected by hand" if report["corrected"] else "")
    )
