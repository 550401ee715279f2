"""Who is told of publications, and what was sent to them."""

from __future__ import annotations

from typing import Any

from django.db.models import OuterRef, Subquery
from rest_framework.request import Request
from rest_framework.response import Response

from navrel.server.api.operations import operation
from navrel.server.api.paging import Stretch, listing, stretch_parameters
from navrel.server.api.views import SiteView, made, parsed

from . import services, shapes
from .models import Sending, Webhook
from .sending import told_of


class WebhooksView(SiteView):
    """The servers that are told when the site is published."""

    @operation("listWebhooks", parameters=stretch_parameters(), responses=listing(shapes.WebhookRow), role="owner")
    def get(self, request: Request, site: str) -> Response:
        """The webhooks of the site, those first that were made first."""
        stretch = Stretch.asked(request)
        newest = Sending.objects.filter(webhook=OuterRef("pk")).values("state")[:1]
        known = Webhook.objects.filter(site=self.record).annotate(last=Subquery(newest))
        records, total = stretch.of_records(known)
        return Response(stretch.listed([{**_webhook(one), "last": one.last} for one in records], total))

    @operation(
        "makeWebhook",
        request=shapes.WebhookRequest,
        responses={201: shapes.NewWebhook},
        errors=[409, 422],
        role="owner",
    )
    def post(self, request: Request, site: str) -> Response:
        """Have a server told of every publication from now on."""
        body = parsed(shapes.WebhookRequest, request.data)
        kept = services.make_webhook(self.record, body["kind"], body["address"], request.user)
        told = {**_webhook(kept), "last": None, "secret": kept.secret}
        return made(told, f"/api/sites/{site}/webhooks/{kept.pk}")


class WebhookView(SiteView):
    """One server that is told."""

    @operation("removeWebhook", responses={204: None}, role="owner")
    def delete(self, request: Request, site: str, number: int) -> Response:
        """Have it told no more."""
        services.remove_webhook(self.record, number, request.user)
        return Response(status=204)


class SendingsView(SiteView):
    """What was sent to one server."""

    @operation("listSendings", parameters=stretch_parameters(), responses=listing(shapes.SendingRow), role="owner")
    def get(self, request: Request, site: str, number: int) -> Response:
        """The messages of the last 30 days, and those that wait, newest first."""
        stretch = Stretch.asked(request)
        webhook = services.find_webhook(self.record, number)
        records, total = stretch.of_records(services.sendings_of(webhook))
        return Response(stretch.listed([_sending(one) for one in records], total))

    @operation("tryWebhook", request=None, responses={201: shapes.SendingRow}, errors=[409], role="owner")
    def post(self, request: Request, site: str, number: int) -> Response:
        """Send a message that says nothing, to see whether it is taken."""
        sent = services.try_webhook(services.find_webhook(self.record, number))
        return made(_sending(sent), f"/api/sites/{site}/webhooks/{number}/sendings")


class AgainView(SiteView):
    """One message."""

    @operation("sendAgain", request=None, responses=shapes.SendingRow, errors=[409], role="owner")
    def post(self, request: Request, site: str, number: int, other: int) -> Response:
        """Send it once more, as it was."""
        return Response(_sending(services.send_again(services.find_webhook(self.record, number), other)))


def _webhook(one: Webhook) -> dict[str, Any]:
    return {"id": one.pk, "kind": one.kind, "address": one.address, "made": one.made}


def _sending(one: Sending) -> dict[str, Any]:
    return {
        "id": one.pk, "message": one.message, **told_of(one), "made": one.made, "state": one.state, "due": one.due,
        "attempts": one.attempts, "body": one.body,
    }  # fmt: skip
