"""Pages from a layout file: their facts, without contents of their own."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db.models import Max

from navrel.core.errors import DocumentError, Problem, TreeError
from navrel.core.files.parts import ReadParts
from navrel.core.files.writing import write_page
from navrel.core.layout.document import Taxonomy as CoreTaxonomy
from navrel.core.pages.page import Page as CorePage
from navrel.core.pages.tree import PageTree
from navrel.server.sitestate.locking import raise_inventory

from .facts import with_corrected_parents
from .models import Page, Site, Taxonomy, Term

_COLUMNS = ("title", "kind", "type", "parent", "terms", "lists", "author", "language", "published", "words", "fields",
            "slots", "locks", "address")  # fmt: skip


def take_pages(site: Site, parts: ReadParts) -> int:
    """Add the pages of a file to a locked site, and give those that are there the facts that it states.

    Returns how many pages it states. Raises DocumentError where they would make a loop of parents.
    """
    take_taxonomies(site, parts.taxonomies)
    raise_inventory(site)
    present = {page.path: page for page in Page.objects.filter(site=site)}
    position = (Page.objects.filter(site=site).aggregate(last=Max("position"))["last"] or 0) + 1
    new: list[Page] = []
    changed: list[Page] = []
    for page in parts.pages:
        record = present.get(page.path) or Page(site=site, path=page.path)
        for key, value in page_columns(page, site.language).items():
            setattr(record, key, value)
        record.bound = None if page.bound is None else list(page.bound)
        record.gone = False
        if record.pk is None:
            record.position = position
            position += 1
            new.append(record)
        else:
            changed.append(record)
    Page.objects.bulk_create(new, batch_size=500)
    Page.objects.bulk_update(changed, [*_COLUMNS, "gone", "bound"], batch_size=500)
    _check_tree(site)
    return len(parts.pages)


def page_columns(page: CorePage, language: str) -> dict[str, Any]:
    """A page's facts as its record has them."""
    tree = write_page(page, language)
    empty: dict[str, Any] = {"terms": [], "fields": {}, "slots": [], "locks": [], "words": 0, "published": None}
    found = {key: tree.get(key) or empty.get(key, "") for key in _COLUMNS}
    return {**found, "kind": page.kind, "published": page.published}


def take_taxonomies(site: Site, taxonomies: Iterable[CoreTaxonomy]) -> None:
    """Have taxonomies with their terms; those that are there get the names that a file states."""
    for taxonomy in taxonomies:
        record, _ = Taxonomy.objects.update_or_create(site=site, slug=taxonomy.slug, defaults={"name": taxonomy.name})
        terms = {
            term.slug: Term.objects.update_or_create(taxonomy=record, slug=term.slug, defaults={"name": term.name})[0]
            for term in taxonomy.terms
        }
        for term in taxonomy.terms:
            terms[term.slug].parent = terms.get(term.parent or "")
            terms[term.slug].save(update_fields=["parent"])


def _check_tree(site: Site) -> None:
    pairs = with_corrected_parents(site, Page.objects.filter(site=site, gone=False).values_list("path", "parent"))
    try:
        PageTree([CorePage(path, parent=parent) for path, parent in pairs])
    except TreeError as error:
        raise DocumentError([Problem("/pages", str(error), "loop")]) from None
