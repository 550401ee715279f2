"""Bindings: which slot is where in the HTML of pages, tried, proposed, and shown."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.core.files.writing import write_binding
from navrel.core.layout.binding import Binding
from navrel.rendering.in_place.drawing import with_picked
from navrel.server.api.errors import Missing
from navrel.server.api.operations import operation
from navrel.server.api.views import IF_MATCH, SiteView, matched_version, parsed, tagged
from navrel.server.inventory.bringing_in import BATCH
from navrel.server.inventory.models import Original, Page, Site
from navrel.server.inventory.originals import ToldOriginal, bytes_of, look_for, place_in, told_originals
from navrel.server.publishing.showing import shown
from navrel.server.sitestate.draft import draft

from . import shapes
from .finding import LOSSES, MOST_NAMED, Find, find
from .proposing import propose
from .services import bindings_version, checked, fits, in_full, put_bindings, sample
from .taking import prove, take_finds, taken_up

LEFT = OpenApiParameter(
    "left",
    str,
    description="The keys of finds that stay as they are, with commas between; where it is not said, "
    "those whose pieces would lack something",
)


class BindingsView(SiteView):
    """The bindings of a site."""

    @operation("getBindings", responses=shapes.BindingsInfo)
    def get(self, request: Request, site: str) -> Response:
        """Where the slots of pages are in their own HTML, and how that fits; the version is in the ETag."""
        return _told(self.record)

    @operation(
        "putBindings",
        parameters=[IF_MATCH],
        request=shapes.BindingsRequest,
        responses=shapes.BindingsInfo,
        errors=[412, 422, 428],
    )
    def put(self, request: Request, site: str) -> Response:
        """Say anew where the slots of pages are; an edit like any other."""
        body = parsed(shapes.BindingsRequest, request.data)
        return _told(put_bindings(site, body["bindings"], matched_version(request), by=request.user))


def _told(site: Site) -> Response:
    originals = dict(told_originals(site, BATCH))
    document = draft(site).document
    info = _info(document.bindings, fits(document.bindings, document.tree, originals), originals, len(originals))
    version = bindings_version(site)
    return tagged({**info, "version": version}, version)


def _info(
    bindings: Sequence[Binding], found: Sequence[Any], asked: Mapping[str, Original | ToldOriginal], originals: int
) -> dict[str, Any]:
    return {
        "bindings": [in_full(write_binding(one)) for one in bindings],
        "fits": [asdict(fit) for fit in found],
        "originals": originals,
        "asked": len(asked),
        "version": 0,
    }


class TriedBindingsView(SiteView):
    """Bindings as they are being edited."""

    @operation(
        "tryBindings", role="viewer", request=shapes.BindingsRequest, responses=shapes.BindingsInfo, errors=[422]
    )
    def post(self, request: Request, site: str) -> Response:
        """How bindings would fit, looked at on some pages of all sections; nothing is saved."""
        record = self.record
        bindings = checked(parsed(shapes.BindingsRequest, request.data)["bindings"])
        originals = sample(record)
        look_for(originals.items(), bindings)
        found = fits(bindings, self.draft().index.tree, originals)
        with_file = Page.objects.filter(site=record, gone=False, original__isnull=False).count()
        return Response(_info(bindings, found, originals, with_file))


class ProposedBindingsView(SiteView):
    """Bindings that the pages propose."""

    @operation("proposeBindings", responses=shapes.ProposedBindings)
    def get(self, request: Request, site: str) -> Response:
        """Places that may be those of slots: by landmarks, by what they are called, by standing on many pages."""
        record = self.record
        found, asked = propose(record, self.draft().index.tree)
        proposed = [
            {
                "binding": in_full(write_binding(one.binding)),
                "why": one.why,
                "sure": one.sure,
                "distinct": one.distinct,
                "fit": asdict(one.fit),
            }
            for one in found
        ]
        return Response({"proposed": proposed, "asked": asked})


class PlacePictureView(SiteView):
    """Pictures of places."""

    @operation(
        "drawPlace", role="viewer", request=shapes.PlacePictureRequest, responses=shapes.PlacePicture, errors=[422]
    )
    def post(self, request: Request, site: str) -> Response:
        """A page in its own HTML, with the place that a binding finds marked (see the answer)."""
        body = parsed(shapes.PlacePictureRequest, request.data)
        record = self.record
        (binding,) = checked([body["binding"]])
        state = self.draft()
        page = state.page(body["path"])
        named = Page.objects.filter(site=record, path=page.path).select_related("original").first()
        original = named.original if named else None
        if original is None:
            raise Missing("no-original", f"{page.path} has no HTML of its own", "Take the site in from its files.")
        look_for([(page.path, original)], [binding])
        try:
            data = bytes_of(original.digest)
        except OSError:
            raise Missing("no-original", f"The file of {page.path} is not there any more") from None
        html = with_picked(data, place_in(original, binding)).decode(original.encoding, "replace")
        return Response({"html": shown(state.document, page, html)})


class FindsView(SiteView):
    """What the pages show today."""

    @operation("findShown", parameters=[LEFT], responses=shapes.FindsInfo)
    def get(self, request: Request, site: str) -> Response:
        """What stands in the places of slots today, and the rules that would come to just that."""
        record = self.record
        state = self.draft()
        left = request.query_params.get("left")
        found = find(record, LOSSES if left is None else left.split(","))
        rules, pieces = taken_up(found, [rule.name for rule in state.layout.rules])
        proof = prove(state, found, rules, pieces)
        slots = [
            {
                "slot": one.slot,
                "finds": [_find_info(each) for each in one.finds],
                "alone": len(one.alone),
                "alone_first": one.alone[:MOST_NAMED],
                "decided": len(one.decided),
            }
            for one in found
        ]
        wrong = list(dict.fromkeys(path for _, path in proof.wrong))
        made = {"pieces": len(pieces), "rules": len(rules)}
        told = {"right": proof.right, "lessened": proof.lessened, "wrong": len(proof.wrong)}
        return Response({"slots": slots, **told, "wrong_first": wrong[:MOST_NAMED], **made})

    @operation("takeFinds", request=shapes.TakeFindsRequest, responses=shapes.TakenFinds, errors=[409, 422])
    def post(self, request: Request, site: str) -> Response:
        """Make pieces and rules of what was found in some slots; one edit like any other."""
        body = parsed(shapes.TakeFindsRequest, request.data)
        return Response(take_finds(site, body["slots"], body["left"], by=request.user))


def _find_info(found: Find) -> dict[str, Any]:
    condition = found.condition
    return {
        "key": found.key,
        "name": found.piece.name,
        "pages": len(found.pages),
        "first": list(found.pages)[:MOST_NAMED],
        "include": str(condition.include) if condition else "",
        "exclude": str(condition.exclude) if condition else "",
        "problem": found.problem,
        "left": found.left,
        "lost": [{"what": what, "count": count} for what, count in found.lost],
        "pieces": len(found.pieces),
    }
