"""Sites, and the life of an intake: begun, finished in one transaction, or stopped."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.db.models import Count, Q, QuerySet
from django.utils import timezone

from navrel.core.errors import Problem
from navrel.core.files.reading import read_bindings
from navrel.core.files.writing import write_setting
from navrel.core.layout.document import SiteDocument, is_slug
from navrel.core.layout.form import with_form
from navrel.core.layout.model import ARRANGED
from navrel.server.api.errors import Missing, Refused
from navrel.server.edits.parts import differing, snapshot
from navrel.server.edits.services import record
from navrel.server.logbook.services import note
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.locking import lock_site

from .bringing_in import (
    bring_in_aliases,
    bring_in_assets,
    bring_in_pages,
    bring_in_terms,
    mend_tree,
    part_paths,
    staged_pages,
)
from .differing import MOST_NAMED
from .filling_in import fill_in_staged
from .layout_pages import take_taxonomies
from .models import Intake, Site, StagedPage, Visit
from .moving import follow_moves, moved_pages
from .originals import know_places

#: Pages that one site can hold.
MAX_PAGES = 100_000
#: Names of elements that a report tells of what was left out.
MOST_ELEMENTS = 50


def make_site(document: SiteDocument) -> Site:
    """A new, empty site with the facts of a layout file; its pages come by an intake."""
    with transaction.atomic():
        site = Site.objects.create(
            slug=document.slug, name=document.name, base_url=document.base_url, language=document.language,
            time_zone=document.time_zone, roles=list(document.roles),
        )  # fmt: skip
        take_taxonomies(site, document.taxonomies)
    return site


@transaction.atomic
def make_empty_site(slug: str, name: str, address: str = "", form: str = ARRANGED, *, by: Any = None) -> Site:
    """A new site without pages, of which ``by`` is owner. Raises Refused for a slug that is none or is taken."""
    if not is_slug(slug):
        raise _bad_slug("bad-slug", f"{slug} is no slug", "Lower-case letters, digits and single hyphens.")
    if Site.objects.filter(slug=slug).exists():
        raise _bad_slug("taken", f"There is a site {slug} already")
    site = make_site(SiteDocument(name.strip() or slug, slug, address.rstrip("/")))
    site.settings = [write_setting(one) for one in with_form((), form)]
    site.save(update_fields=["settings"])
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


def find_intake(slug: str, number: int, *, lock: bool = False) -> Intake:
    """An intake of a site that is still open; ``lock``: kept from others until the transaction ends. Raises Missing."""
    intakes = Intake.objects.select_related("site")
    if lock:
        intakes = intakes.select_for_update(of=("self",))
    intake = intakes.filter(site__slug=slug, pk=number, finished=None).first()
    if intake is None:
        raise Missing("no-intake", "This intake is finished or was stopped", "Begin a new one.")
    return intake


def finish_intake(intake: Intake) -> dict[str, Any]:
    """Bring the staged pages into the site: update, add, mark as gone. All of it, or nothing. Returns the report."""
    with transaction.atomic():
        site = lock_site(intake.site.slug, inventory=True)
        part_paths(intake)
        staged = staged_pages(intake)
        if staged.count() > MAX_PAGES:
            raise Refused("too-many-pages", f"A site holds at most {MAX_PAGES:,} pages; these are {staged.count():,}")
        if not staged.exists():
            first = intake.staged.exclude(skipped="").order_by("pk").first()
            told = f"{first.file}: {first.skipped}" if first else "Choose a folder that holds HTML files."
            raise Refused("no-pages", "No page was found there", told)
        fill_in_staged(intake)
        mend_tree(site, intake)
        bring_in_terms(site, staged)
        moves = moved_pages(site, staged)
        difference = bring_in_pages(site, staged)
        left = site.pages.filter(gone=False).exclude(path__in=staged.values("path"))
        first_left = left.order_by("position").values_list("path", "title")[:MOST_NAMED]
        gone_pages = [{"file": path, "reason": title} for path, title in first_left]
        gone = left.update(gone=True)
        know_places(site, read_bindings(site.bindings))
        aliases, assets = bring_in_aliases(site, intake), bring_in_assets(site, intake)
        intake.report = {
            **difference.told, "gone": gone, "gone_pages": gone_pages,
            "moved": _moves(moves), "moved_count": len(moves), "aliases": aliases,
            "assets": assets, "same": intake.crawl.get("same", 0), "dropped": _dropped(staged), **_named(intake),
        }  # fmt: skip
        intake.finished = timezone.now()
        intake.save()
        intake.staged.all().delete()
        intake.staged_assets.all().delete()
        if intake.source:
            _know_source(site, intake)
        before = snapshot(site)
        follow_moves(site, moves)
        record(site, intake.by, differing(before, snapshot(site)), f"Took in {describe(intake.report)}")
    return dict(intake.report)


def _know_source(site: Site, intake: Intake) -> None:
    """Remember what was answered now, to ask with it the next time; a site without an address has that one."""
    Visit.objects.filter(intake__site=site, intake__finished__isnull=False).exclude(intake=intake).delete()
    if not site.base_url:
        before = snapshot(site)
        site.base_url = intake.base_url
        site.save(update_fields=["base_url"])
        record(site, intake.by, differing(before, snapshot(site)), f"Site: address {site.base_url}")


def _moves(moves: Mapping[str, str]) -> list[dict[str, str]]:
    return [{"file": old, "reason": f"is {new} now"} for old, new in list(moves.items())[:MOST_NAMED]]


def stop_intake(intake: Intake) -> None:
    """Give up an intake; the site stays as it was."""
    intake.delete()


def _dropped(staged: QuerySet[StagedPage]) -> list[dict[str, Any]]:
    """The elements that contents do not keep (they could run, reach out, or are of no standard); the most first."""
    found: Counter[str] = Counter()
    for elements in staged.exclude(facts__dropped={}).values_list("facts__dropped", flat=True).iterator():
        found.update(elements)
    return [{"element": element, "count": count} for element, count in found.most_common(MOST_ELEMENTS)]


def _named(intake: Intake) -> dict[str, Any]:
    skipped = intake.staged.exclude(skipped="").order_by("file")
    first = [(one.file, one.skipped) for one in skipped[:MOST_NAMED]]
    kept = intake.staged_assets.filter(address__in=[f"/{file}" for file, _ in first])
    served = {address[1:] for address in kept.values_list("address", flat=True)}
    remarks = intake.staged.filter(skipped="").exclude(remark="").order_by("file")
    return {
        "skipped_count": skipped.count(),
        "skipped": [
            {"file": file, "reason": f"{reason}; served as it is" if file in served else reason}
            for file, reason in first
        ],
        "remark_count": remarks.count(),
        "remarks": [{"file": one.file, "reason": one.remark} for one in remarks[:MOST_NAMED]],
    }


_summaries: Kept[dict[str, Any]] = Kept()


def inventory_summary(site: Site) -> dict[str, Any]:
    """How many pages a site has, by kind and type, and how many are gone; counted once for each of its states."""
    return _summaries.get(site.pk, site.inventory_version, lambda older: _summed_up(site))


def _summed_up(site: Site) -> dict[str, Any]:
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
        f"{report['unchanged']} as they were, {report['returned']} back again, {report['gone']} gone; "
        f"{report['skipped_count']} files skipped"
        + (f"; {report['moved_count']} moved, and what names them follows" if report["moved_count"] else "")
        + (f"; {report['assets']} other files" if report["assets"] else "")
        + (f"; {report['aliases']} addresses that lead on" if report["aliases"] else "")
        + (f"; {report['same']:,} were not sent again, as nothing is new there" if report["same"] else "")
        + (f"; {report['corrected']} keep facts that were corrected by hand" if report["corrected"] else "")
    )
