"""Correcting the facts of pages by hand. What is corrected stays so when the pages are taken in again."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db.models import CharField

from navrel.core.errors import DocumentError, Problem, TreeError
from navrel.core.files.parts import read_parts
from navrel.core.files.writing import write_page
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page as CorePage
from navrel.core.pages.tree import PageTree
from navrel.server.api.errors import Missing, Outdated, Refused
from navrel.server.edits.services import editing
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.locking import raise_inventory

from .facts import BY_HAND, page_of
from .layout_pages import page_columns
from .models import Page

Facts = Mapping[str, Any]


def correct_page(site_slug: str, path: str, facts: Facts, version: int, *, by: Any = None) -> Page:
    """Say facts of a page by hand, as the layout file has them; None for one that is to be as it was taken in.

    Raises Missing, Outdated, Refused where the site allows none, and DocumentError with pointers from `/facts`.
    """
    with editing(site_slug, by) as site:
        if not site.by_hand:
            raise Refused("not-by-hand", "The facts of pages are as they were taken in here", "Allow it under Site.")
        record = Page.objects.filter(site=site, path=path, gone=False).first()
        if record is None:
            raise Missing("no-page", f"There is no page {path}")
        now, taken = page_of(record, site.language), page_of(record, site.language, taken=True)
        Outdated.check(now.title, record.corrections_version, version, write_page(now, site.language))
        document = draft(site).document
        stated = _stated(write_page(now, site.language), write_page(taken, site.language), facts)
        wanted = page_columns(_read(document, stated), site.language)
        record.corrections = _differing(page_columns(taken, site.language), wanted) or None
        _check_tree(document, page_of(record, site.language))
        record.corrections_version += 1
        record.save(update_fields=["corrections", "corrections_version"])
        raise_inventory(site)
    return record


def _stated(now: Facts, taken: Facts, facts: Facts) -> dict[str, Any]:
    unknown = [name for name in facts if name not in BY_HAND]
    if unknown:
        raise DocumentError([Problem(f"/facts/{name}", f"{name} is no fact that people correct") for name in unknown])
    found = {**now, **{name: taken.get(name) if value is None else value for name, value in facts.items()}}
    return {name: value for name, value in found.items() if value is not None}


def _read(document: SiteDocument, tree: Facts) -> CorePage:
    """A page from its tree, checked as in a layout file."""
    try:
        (page,) = read_parts({"navrel": 1, "pages": [tree]}, document).pages
    except DocumentError as error:
        raise DocumentError([_in_facts(problem) for problem in error.problems]) from None
    columns = page_columns(page, document.language)
    long = [name for name in BY_HAND if _is_long(name, columns[name])]
    if long:
        raise DocumentError([Problem(f"/facts/{name}", "this is too long") for name in long])
    return page


def _in_facts(problem: Problem) -> Problem:
    return Problem(problem.pointer.replace("/pages/0", "/facts", 1), problem.message, problem.code, hint=problem.hint)


def _is_long(name: str, value: Any) -> bool:
    column = Page._meta.get_field(name)
    return isinstance(column, CharField) and isinstance(value, str) and len(value) > (column.max_length or 0)


def _differing(taken: Facts, wanted: Facts) -> dict[str, Any]:
    """The facts that are not as they were taken in, as JSON has them; of the free fields, those that are not."""
    found = {name: wanted[name] for name in BY_HAND if wanted[name] != taken[name]}
    if "fields" in found:
        names = {**taken["fields"], **wanted["fields"]}
        now = {name: wanted["fields"].get(name, "") for name in names}
        found["fields"] = {name: value for name, value in now.items() if value != taken["fields"].get(name, "")}
    if "published" in found:
        # No date is said by an empty text: null would be nothing said.
        found["published"] = found["published"].isoformat() if found["published"] else ""
    return found


def _check_tree(document: SiteDocument, page: CorePage) -> None:
    """Whether the pages are a tree with this one as it is now."""
    try:
        PageTree([page if one.path == page.path else one for one in document.pages])
    except TreeError as error:
        raise DocumentError([Problem("/facts/parent", str(error), "loop")]) from None
