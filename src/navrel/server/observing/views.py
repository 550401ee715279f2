"""What was counted, as Prometheus asks for it."""

from __future__ import annotations

from django.conf import settings
from django.db.models import Count, Max, Q
from django.http import HttpRequest, HttpResponse
from django.utils.crypto import constant_time_compare
from django.views.decorators.http import require_safe
from prometheus_client import CollectorRegistry, Gauge, generate_latest
from prometheus_client.exposition import CONTENT_TYPE_PLAIN_0_0_4

from navrel.server.inventory.models import Site
from navrel.server.webhooks.models import Sending

from .counting import counted


@require_safe
def metrics(request: HttpRequest) -> HttpResponse:
    """All that is counted, for whoever shows the token of `NAVREL_METRICS_TOKEN`; for nobody where there is none."""
    token = settings.METRICS_TOKEN
    if not token:
        return HttpResponse("There is nothing at this address.\n", status=404, content_type="text/plain")
    if not constant_time_compare(request.headers.get("Authorization", ""), f"Bearer {token}"):
        headers = {"WWW-Authenticate": 'Bearer realm="Navrel"'}
        return HttpResponse("This takes a token.\n", status=401, content_type="text/plain", headers=headers)
    text = generate_latest(counted()) + generate_latest(_standing())
    return HttpResponse(text, content_type=CONTENT_TYPE_PLAIN_0_0_4, headers={"Cache-Control": "no-store"})


def _standing() -> CollectorRegistry:
    """How things stand, by the database."""
    found = CollectorRegistry()
    revision = Gauge("navrel_site_revision", "The newest revision of a site", ["site"], registry=found)
    pages = Gauge("navrel_site_pages", "How many pages a site has", ["site"], registry=found)
    waiting = Gauge("navrel_webhooks_waiting", "Messages that wait to be sent", registry=found)
    sites = Site.objects.filter(archived=None)
    for slug, newest in sites.annotate(newest=Max("revisions__number")).values_list("slug", "newest"):
        revision.labels(slug).set(newest or 0)
    for slug, count in sites.annotate(count=Count("pages", filter=Q(pages__gone=False))).values_list("slug", "count"):
        pages.labels(slug).set(count)
    waiting.set(Sending.objects.filter(state="waiting").count())
    return found
