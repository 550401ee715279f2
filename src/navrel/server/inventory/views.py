"""Sites, their pages, and taking pages in."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.calendar.schedule import write_moment
from navrel.core.layout.model import SLOTS
from navrel.core.pages.page import LockNote, Page, person_name
from navrel.server.accounts.rights import runs_installation, sites_of
from navrel.server.api.errors import Forbidden, ParameterProblem, Refused
from navrel.server.api.operations import operation
from navrel.server.api.paging import MOST, Stretch, listing, stretch_parameters
from navrel.server.api.views import (
    IF_MATCH,
    IF_NONE_MATCH,
    PATH,
    SiteView,
    digest_tag,
    made,
    matched_version,
    parsed,
    tagged,
    unchanged,
)
from navrel.server.delivery.sign_in import knows_members
from navrel.server.edits.models import Edit
from navrel.server.edits.services import editing, steps
from navrel.server.publishing.changes import edits_since_live
from navrel.server.publishing.hosts import published_origin
from navrel.server.publishing.live import served

from . import services, shapes
from .correcting import correct_page
from .facts import page_of
from .models import Page as PageRecord
from .models import Site
from .setting_up import archive, facts_of, facts_version, set_up

#: Pages in one answer of the page list; a larger site is asked for in several.
MOST_LISTED = 20_000


ARCHIVED = OpenApiParameter("archived", bool, description="Those that are put away, in place of those that are not")


class SitesView(SiteView):
    """The sites."""

    @operation("listSites", parameters=[*stretch_parameters(), ARCHIVED], responses=listing(shapes.SiteRow))
    def get(self, request: Request) -> Response:
        """The sites at which whoever asks is something, by name."""
        stretch = Stretch.asked(request)
        away = request.query_params.get("archived") == "true"
        sites = sites_of(request).filter(archived__isnull=not away).order_by("name")
        records, total = stretch.of_records(sites)
        return Response(stretch.listed([_row(one) for one in records], total))

    @operation("makeSite", request=shapes.SiteRequest, responses={201: shapes.SiteRow}, errors=[403, 422])
    def post(self, request: Request) -> Response:
        """Make an empty site, which takes the account that runs the installation; it is the owner."""
        body = parsed(shapes.SiteRequest, request.data)
        if not runs_installation(request):
            raise Forbidden("not-running", "Only the account that runs this installation makes sites")
        record = services.make_empty_site(body["slug"], body["name"], body["address"], body["form"], by=request.user)
        return made(_row(record), f"/api/sites/{record.slug}")


def _row(site: Site) -> dict[str, Any]:
    return {"slug": site.slug, "name": site.name, "published_origin": published_origin(site)}


class SetUpView(SiteView):
    """What a site is."""

    @operation("getSetUp", responses=shapes.SetUpInfo)
    def get(self, request: Request, site: str) -> Response:
        """What the site is, with the version of that in the ETag."""
        return _set_up_info(self.record)

    @operation(
        "setUp", parameters=[IF_MATCH], request=shapes.SetUpTree, responses=shapes.SetUpInfo, errors=[412, 422, 428]
    )
    def put(self, request: Request, site: str) -> Response:
        """Say anew what the site is; an edit like any other."""
        facts = parsed(shapes.SetUpTree, request.data)
        return _set_up_info(set_up(site, facts, matched_version(request), by=request.user))


def _set_up_info(site: Site) -> Response:
    version = facts_version(site)
    return tagged({"facts": facts_of(site), "version": version}, version)


class ArchivedView(SiteView):
    """Whether a site is put away."""

    @operation("archiveSite", request=None, responses={204: None}, role="owner")
    def put(self, request: Request, site: str) -> Response:
        """Put the site away: it is neither listed nor served, and nothing of it is lost."""
        archive(site, request.user, away=True)
        return Response(status=204)

    @operation("bringSiteBack", responses={204: None}, role="owner")
    def delete(self, request: Request, site: str) -> Response:
        """Bring the site back as it was."""
        archive(site, request.user, away=False)
        return Response(status=204)


class SiteInfoView(SiteView):
    """One site."""

    @operation("getSite", responses=shapes.SiteInfo)
    def get(self, request: Request, site: str) -> Response:
        """What a site is, and how its draft stands to what is live."""
        record = self.record
        state = self.draft()
        serving = served(record)
        revision = serving.state.revision if serving.state else None
        summary = services.inventory_summary(record)
        slots = [str(target) for target in state.targets if target.kind == "slot"] or list(SLOTS)
        bound = {binding.slot for binding in state.document.bindings}
        undo, redo = steps(record, request.user)
        return Response(
            {
                "slug": record.slug, "name": record.name, "base_url": record.base_url, "language": record.language,
                "roles": record.roles, "default_template": record.default_template, "version": record.version,
                "inventory_version": record.inventory_version, **summary["counts"],
                "kinds": [{"name": one["kind"], "pages": one["pages"]} for one in summary["kinds"]],
                "types": [{"name": one["type"], "pages": one["pages"]} for one in summary["types"]],
                "slots": slots, "bound": [slot for slot in slots if slot in bound],
                "settings": record.settings, "edits": edits_since_live(record),
                "your_role": self.role, "undo": _step(undo), "redo": _step(redo),
                "live": {"number": revision.number, "published": revision.published, "note": revision.note}
                if revision else None,
                "unreadable": serving.passed_over,
                "archived": record.archived is not None,
                "published_origin": published_origin(record), "by_hand": record.by_hand,
                "knows_members": knows_members(record.slug),
                "now": write_moment(state.document.now().replace(microsecond=0)),
            }
        )  # fmt: skip


def _step(edit: Edit | None) -> dict[str, Any] | None:
    return {"number": edit.number, "words": edit.words} if edit else None


#: The facts by which pages can stand in groups: each in words, from a page and the names of terms.
FACTS_OF_PAGES: Mapping[str, Callable[[Page, Mapping[str, str]], str]] = {
    "type": lambda page, names: page.type,
    "kind": lambda page, names: page.kind,
    "author": lambda page, names: person_name(page.author),
    "lang": lambda page, names: page.language,
    "term": lambda page, names: ", ".join(names.get(term, term) for term in page.terms),
}
FACT = OpenApiParameter("fact", str, required=True, description=f"Which: one of {', '.join(FACTS_OF_PAGES)}")


class PagesView(SiteView):
    """The page tree."""

    @operation(
        "listPages",
        parameters=[*stretch_parameters(MOST_LISTED, MOST_LISTED), IF_NONE_MATCH],
        responses=shapes.PageColumns,
    )
    def get(self, request: Request, site: str) -> Response:
        """A stretch of the page tree, in tree order."""
        state = self.draft()
        tree = state.index.tree
        stretch = Stretch.asked(request, MOST_LISTED, MOST_LISTED)
        tag = digest_tag("pages", site, state.inventory_version, stretch)
        if answer := unchanged(request, tag):
            return answer
        pages = stretch.of(tree.pages)
        return Response(
            {
                "total": len(tree), "offset": stretch.offset, "inventory_version": state.inventory_version,
                "paths": [page.path for page in pages], "titles": [page.title for page in pages],
                "kinds": [page.kind for page in pages], "types": [page.type for page in pages],
                "depths": stretch.of(tree.depths),
            },
            headers={"ETag": tag},
        )  # fmt: skip


class PageFactView(SiteView):
    """One fact of all pages."""

    @operation("listPageFact", parameters=[FACT, IF_NONE_MATCH], responses=shapes.FactColumn, errors=[422])
    def get(self, request: Request, site: str) -> Response:
        """What a fact comes to on every page, for lists that stand in groups."""
        state = self.draft()
        read = FACTS_OF_PAGES.get(request.query_params.get("fact", ""))
        if read is None:
            raise Refused.for_parameter(ParameterProblem("fact", f"this is one of {', '.join(FACTS_OF_PAGES)}", "fact"))
        tag = digest_tag("page-fact", site, state.inventory_version, request.query_params["fact"])
        if answer := unchanged(request, tag):
            return answer
        names = state.document.term_names
        places: dict[str, int] = {}
        codes = [places.setdefault(read(page, names), len(places)) for page in state.index.tree.pages]
        return Response({"values": list(places), "codes": codes}, headers={"ETag": tag})


class PageView(SiteView):
    """One page."""

    @operation("getPage", parameters=[PATH], responses=shapes.PageFacts)
    def get(self, request: Request, site: str) -> Response:
        """The facts of one page, with their version in the ETag."""
        return self._told(site, request.query_params.get("path", ""))

    @operation(
        "correctPage",
        parameters=[IF_MATCH],
        request=shapes.CorrectionRequest,
        responses=shapes.PageFacts,
        errors=[412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Say facts of a page by hand. They stay when the pages are taken in again."""
        body = parsed(shapes.CorrectionRequest, request.data)
        correct_page(site, body["path"], body["facts"], matched_version(request), by=request.user)
        self.record.refresh_from_db()
        return self._told(site, body["path"])

    def _told(self, site: str, path: str) -> Response:
        state = self.draft()
        page = state.page(path)
        record = PageRecord.objects.get(site__slug=site, path=path)
        told = {
            **_facts_info(page), "parent": state.index.tree.parent_path(page),
            "path": page.path, "words": page.words, "slots": page.slots, "version": record.corrections_version,
            "corrected": list(record.corrections or {}),
            "taken": _facts_info(page_of(record, state.document.language, taken=True)),
        }  # fmt: skip
        return tagged(told, record.corrections_version)


def _facts_info(page: Page) -> dict[str, Any]:
    return {
        "title": page.title, "kind": page.kind, "type": page.type, "parent": page.parent, "terms": page.terms,
        "lists": page.lists, "author": page.author, "language": page.language, "published": page.published,
        "fields": dict(page.fields),
        "locks": [{"slot": slot, **page.lock_notes.get(slot, LockNote())._asdict()} for slot in page.locks],
    }  # fmt: skip


class TermsView(SiteView):
    """The terms of a site."""

    @operation("listTerms", parameters=stretch_parameters(MOST), responses=listing(shapes.TermRow))
    def get(self, request: Request, site: str) -> Response:
        """The terms of every taxonomy, each with the one above it."""
        document = self.draft().document
        pages = Counter(term for page in document.pages for term in page.terms)
        rows = [
            {
                "path": f"{taxonomy.slug}/{term.slug}", "name": term.name, "taxonomy": taxonomy.name,
                "parent": f"{taxonomy.slug}/{term.parent}" if term.parent else None,
                "pages": pages[f"{taxonomy.slug}/{term.slug}"],
            }
            for taxonomy in document.taxonomies
            for term in taxonomy.terms
        ]  # fmt: skip
        stretch = Stretch.asked(request, MOST)
        return Response(stretch.listed(list(stretch.of(rows)), len(rows)))


class ByHandView(SiteView):
    """Whether facts are corrected by hand."""

    @operation("allowByHand", request=shapes.ByHandRequest, responses={204: None}, errors=[422])
    def put(self, request: Request, site: str) -> Response:
        """Allow that the facts of pages are corrected by hand, or no longer; what was corrected stays."""
        allowed = parsed(shapes.ByHandRequest, request.data)["allowed"]
        with editing(site, request.user) as record:
            Site.objects.filter(pk=record.pk).update(by_hand=allowed)
        return Response(status=204)
