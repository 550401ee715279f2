"""Reading the facts of pages anew out of the files that were taken in."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

import orjson

from navrel.server.api.errors import Refused

from .bringing_in import BATCH, batches, have_terms, rings_mended
from .decoding import Unreadable
from .filling_in import feed_facts, fill_in
from .languages import languages_told
from .models import Original, Page, Site
from .originals import bytes_of
from .reader import Reader, read_beside
from .reading import ReadFacts
from .titles import titles_of

#: The facts that a recipe tells.
FACTS = ("title", "kind", "type", "parent", "terms", "lists", "author", "language", "published", "fields")
Trees = Sequence[Mapping[str, Any]]


def with_files(site: Site, **narrowed: Any) -> Iterator[Page]:
    """The pages of a site whose files were taken in, in tree order; ``narrowed``: some of them."""
    listed = Page.objects.filter(site=site, gone=False, original__isnull=False, **narrowed).select_related("original")
    return listed.only("path", "address", "file", "original", *FACTS).order_by("position").iterator(chunk_size=BATCH)


def name_of(page: Page) -> str:
    """What the file of a page is called in its source."""
    return page.file or (page.address or page.path).lstrip("/") or "index.html"


def read_again(site: Site, pages: Iterable[Page], recipe: Trees) -> Iterator[tuple[Page, ReadFacts]]:
    """Read the facts of some pages by a recipe, as in the layout file; what has no file any more is passed over.

    Raises Refused where that takes too long.
    """
    text = orjson.dumps(recipe).decode()

    def read(reader: Reader, page: Page) -> tuple[Page, ReadFacts | None]:
        original: Original | None = page.original
        assert original is not None
        try:
            return page, reader.facts(name_of(page), bytes_of(original.digest), site.base_url, text)
        except OSError:
            return page, None
        except Unreadable as reason:
            told = f"On {page.path} the recipe cannot be followed: the file {reason}"
            raise Refused("bad-recipe", told, "Choose simpler selectors and patterns.") from None

    for batch in batches(pages, BATCH):
        yield from ((page, found) for page, found in read_beside(batch, read) if found is not None)


def read_anew(site: Site, recipe: Trees) -> None:
    """Have all pages of a locked site the facts that a recipe tells. Raises Refused."""
    bring_in_facts(site, recipe, read_again(site, with_files(site), recipe))


def bring_in_facts(site: Site, recipe: Trees, read: Iterable[tuple[Page, ReadFacts]]) -> None:
    """Have pages of a locked site the facts that were read by a recipe; terms that they name come to be.

    Raises Refused.
    """
    found = {page.path: told for page, told in completed(site, recipe, read)}
    names: dict[str, str] = {}
    for told in found.values():
        names.update(told.terms)
    have_terms(site, names)
    stated = dict(site.pages.filter(gone=False).values_list("path", "parent"))
    stated |= {path: told.facts["parent"] for path, told in found.items()}
    for path in rings_mended(site, stated.items()):
        if path in found:
            found[path].facts["parent"] = ""
    for batch in batches(found.items(), BATCH):
        Page.objects.bulk_create(
            [Page(site=site, path=path, **{name: told.facts[name] for name in FACTS}) for path, told in batch],
            update_conflicts=True,
            unique_fields=["site", "path"],
            update_fields=FACTS,
        )


def completed(site: Site, recipe: Trees, read: Iterable[tuple[Page, ReadFacts]]) -> list[tuple[Page, ReadFacts]]:
    """What was read of pages by a recipe, with what their site says of them: its feeds, folders, and other titles."""
    found = list(read)
    assets = site.assets.filter(current=True).order_by("address")
    fed = feed_facts(site.base_url, assets.values_list("address", "digest"))
    language_of = languages_told(site.pages.filter(gone=False).values_list("path", flat=True))
    title_of = titles_of(recipe, ((page.path, told.facts) for page, told in found))
    for page, told in found:
        if page.path in fed:
            told.terms.update(fill_in(told.facts, fed[page.path]))
        told.facts["title"] = title_of(page.path, told.facts)
        told.facts["language"] = told.facts["language"] or language_of(page.path)
    return found
