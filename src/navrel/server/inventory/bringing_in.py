"""Bringing what an intake staged into its site: pages, terms, aliases, and the files that are no pages."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from itertools import chain, islice
from typing import TypeVar

from django.db.models import F, QuerySet

from navrel.core.errors import TreeError
from navrel.core.pages.page import Page as CorePage
from navrel.core.pages.page import page_path
from navrel.core.pages.tree import PageTree, unringed
from navrel.server.api.errors import Refused

from .addresses import file_address
from .differing import COMPARED, Difference
from .facts import corrections, with_corrected_parents
from .languages import languages_told
from .models import Alias, Asset, Intake, Page, Site, StagedPage, Taxonomy, Term
from .titles import titles_of

#: Records written at a time.
BATCH = 500
#: The facts of a page that its file states.
FACTS = (
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
Item = TypeVar("Item")


def batches(items: Iterable[Item], size: int) -> Iterator[list[Item]]:
    """Items, so many at a time."""
    walk = iter(items)
    while batch := list(islice(walk, size)):
        yield batch


def staged_pages(intake: Intake) -> QuerySet[StagedPage]:
    """What was staged that is a page."""
    return intake.staged.filter(skipped="", leads_to="")


def part_paths(intake: Intake) -> None:
    """Have one page a path: where files at several addresses come to one, the first by name has it.

    A second file for the same address is named as skipped, and its own address leads there.
    """
    first: dict[str, StagedPage] = {}
    changed: dict[int, StagedPage] = {}
    listed = staged_pages(intake).order_by("file").defer("facts")
    # What stands for a folder has its path before a file beside it of the same name.
    folders, others = listed.filter(address__endswith="/"), listed.exclude(address__endswith="/")
    for staged in chain(folders.iterator(chunk_size=2000), others.iterator(chunk_size=2000)):
        known = first.get(staged.path)
        if known is not None and known.address != staged.address and not (_is_stated(staged) or _is_stated(known)):
            staged.path = next((path for path in _other_paths(staged) if path not in first), staged.path)
            changed[staged.pk] = staged
        if (known := first.get(staged.path)) is None:
            first[staged.path] = staged
            continue
        staged.skipped = f"same address as {known.file}: {staged.path}"
        known.also = [*known.also, *staged.also]
        changed |= {staged.pk: staged, known.pk: known}
    StagedPage.objects.bulk_update(changed.values(), ["skipped", "path", "also"], batch_size=BATCH)


def _is_stated(staged: StagedPage) -> bool:
    """Whether a page states its address itself: then it means the page that is known there."""
    return staged.address != file_address(staged.file)


def _other_paths(staged: StagedPage) -> Iterator[str]:
    yield staged.address.rstrip("/")
    yield f"{staged.address.rstrip('/')}/index"


def mend_tree(site: Site, intake: Intake) -> None:
    """Where pages state parents that would have them stand in each other in a ring, leave them out, and say so.

    Raises Refused where they are said by hand.
    """
    pairs = staged_pages(intake).values_list("path", "facts__parent").iterator(chunk_size=2000)
    for batch in batches(rings_mended(site, pairs), BATCH):
        ringed = list(staged_pages(intake).filter(path__in=batch))
        for staged in ringed:
            remark = f"its parent {staged.facts['parent']} stands below it in a ring, so it stands in its folder"
            staged.remark = "; ".join(filter(None, (staged.remark, remark)))
            staged.facts = {**staged.facts, "parent": ""}
        StagedPage.objects.bulk_update(ringed, ["facts", "remark"])


def rings_mended(site: Site, pairs: Iterable[tuple[str, str]]) -> list[str]:
    """The paths whose parents have to be left out so that none stand in a ring. Raises Refused as above."""
    by_hand = {path for path, facts in corrections(site).items() if "parent" in facts}
    pages = [CorePage(path, parent=parent) for path, parent in with_corrected_parents(site, pairs)]
    left_out = unringed(pages, by_hand)
    try:
        PageTree([replace(page, parent=None) if page.path in left_out else page for page in pages])
    except TreeError as error:
        raise Refused("loop", f"The pages' {error}", "Correct the parent of one of these pages.") from None
    return sorted(left_out)


def bring_in_terms(site: Site, staged: QuerySet[StagedPage]) -> None:
    """Have the terms that pages carry, with their taxonomies; those that are there keep their names."""
    names: dict[str, str] = {}
    for facts in staged.exclude(facts__term_names={}).values_list("facts__term_names", flat=True).iterator():
        names.update(facts)
    have_terms(site, names)


def have_terms(site: Site, names: Mapping[str, str]) -> None:
    """Have terms, by ``taxonomy/slug`` with their names; those that are there keep their names."""
    wanted = [(*path.split("/", 1), name) for path, name in sorted(names.items())]
    Taxonomy.objects.bulk_create(
        [Taxonomy(site=site, slug=slug, name=slug.capitalize()) for slug in dict.fromkeys(one[0] for one in wanted)],
        ignore_conflicts=True,
    )
    taxonomies = {one.slug: one for one in Taxonomy.objects.filter(site=site)}
    Term.objects.bulk_create(
        [Term(taxonomy=taxonomies[taxonomy], slug=slug, name=name) for taxonomy, slug, name in wanted],
        batch_size=BATCH,
        ignore_conflicts=True,
    )


def bring_in_pages(site: Site, staged: QuerySet[StagedPage]) -> Difference:
    """Add the pages that are new and bring the others up to date; returns what differs."""
    found = Difference(is_first=not site.pages.exists())
    nexts = dict(staged.exclude(facts__next="").values_list("path", "facts__next"))
    paths = in_reading_order(sorted(staged.values_list("path", flat=True), key=lambda path: path.split("/")), nexts)
    positions = {path: number for number, path in enumerate(paths)}
    language_of = languages_told(paths)
    told = {name: F(f"facts__{name}") for name in ("title", "in_head", "shows_head")}
    stated = staged.values("path", **told)
    title_of = titles_of(site.recipe, ((one["path"], one) for one in stated.iterator()))
    for batch in batches(staged.iterator(chunk_size=BATCH), BATCH):
        pages = [
            Page(
                site=site,
                path=one.path,
                position=positions[one.path],
                content_id=one.content_id,
                original_id=one.original_id,
                gone=False,
                address="" if one.address == one.path else one.address,
                file=one.file,
                **{
                    **{name: one.facts[name] for name in FACTS},
                    "title": title_of(one.path, one.facts),
                    "language": one.facts["language"] or language_of(one.path),
                },
            )
            for one in batch
        ]
        before = site.pages.filter(path__in=[page.path for page in pages]).only("path", "gone", *COMPARED)
        known = {page.path: page for page in before}
        Page.objects.bulk_create(
            pages,
            update_conflicts=True,
            unique_fields=["site", "path"],
            update_fields=["position", "content", "original", "gone", "address", "file", *FACTS],
        )
        for page in pages:
            found.tell(page, known.get(page.path))
    found.corrected = len(corrections(site).keys() & positions.keys())
    return found


def in_reading_order(paths: Iterable[str], nexts: Mapping[str, str]) -> list[str]:
    """Pages in their order, but that one that says which is the next has it right behind it (HTML Standard, rel=next).

    What is the next of several is behind the first of them; a ring begins where its order puts it.
    """
    found: dict[str, None] = {}
    known = dict.fromkeys(paths)
    led_to = set(nexts.values())
    for start in (*(path for path in known if path not in led_to), *known):
        path: str | None = start
        while path in known and path not in found:
            found[path] = None
            path = nexts.get(path)
    return list(found)


def bring_in_aliases(site: Site, intake: Intake) -> int:
    """Have every other address that a file had, or that leads on by itself, lead to where it leads now."""
    pages = {path: address or path for path, address in site.pages.filter(gone=False).values_list("path", "address")}
    taken = {*pages, *pages.values()}
    found: dict[str, str] = {}
    for path, also in staged_pages(intake).exclude(also=[]).values_list("path", "also").iterator():
        found.update((address, pages[path]) for address in also)
    for address, file, target in intake.staged.exclude(leads_to="").values_list("address", "file", "leads_to"):
        found |= {address: target, f"/{file}": target}
    kept = [Alias(site=site, address=one, target=target) for one, target in found.items() if one not in taken]
    site.aliases.all().delete()
    Alias.objects.bulk_create(kept, batch_size=BATCH)
    return sum(page_path(one.address) not in pages for one in kept)


def bring_in_assets(site: Site, intake: Intake) -> int:
    """Put the files that are no pages in the place of those that were there; returns how many there are."""
    site.assets.filter(current=True).update(current=False)
    for batch in batches(intake.staged_assets.iterator(chunk_size=BATCH), BATCH):
        Asset.objects.bulk_create(
            [
                Asset(site=site, address=one.address, digest=one.digest, type=one.type, size=one.size, current=True)
                for one in batch
            ],
            update_conflicts=True,
            unique_fields=["site", "address", "digest"],
            update_fields=["current", "type"],
        )
    return intake.staged_assets.count()
