"""Under which names, ports and paths sites are served."""

from __future__ import annotations

from collections.abc import Sequence
from urllib.parse import urlsplit

from django.conf import settings
from django.db.models import QuerySet
from django.http.request import validate_host

from navrel.server.inventory.models import Site

#: Where a request says whose path was asked for.
MOUNTED = "navrel.site"


def served_sites() -> QuerySet[Site]:
    """The sites that are served, those that were made first before the others."""
    return Site.objects.filter(archived=None).order_by("pk")


def served_site(sites: Sequence[Site], host: str, port: str = "", mounted: str = "") -> Site | None:
    """Which of the sites is served under the name of a host, given without a port; None where that is nobody's.

    ``port``: on which it was asked for; that of a single site is its own under every name. ``mounted``: the slug of the
    site whose path was asked for. A site has the host of its
    address, and its slug below `localhost` (RFC 6761, section 6.3); the hosts of the server itself are the first
    site's. Where there is one site alone, every other name is its own too.
    """
    host = host.lower().rstrip(".")
    slug, _, below = host.partition(".")
    if own := mounted or settings.SITE_PORTS.get(port):
        return next((site for site in sites if site.slug == own), None)
    # A site may have been read from here: the server's own name does not become that site's.
    is_own = host in (urlsplit(settings.PUBLISHED_ORIGIN).hostname, "localhost", "127.0.0.1")
    for site in sites:
        at_address = not is_own and host == (urlsplit(site.base_url).hostname or "")
        if at_address or (below == "localhost" and slug == site.slug):
            return site
    alone = len(sites) == 1 and below != "localhost"
    return sites[0] if sites and (alone or validate_host(host, settings.ALLOWED_HOSTS)) else None


def published_origin(site: Site) -> str:
    """Where a site is served by this installation; empty where that is nowhere."""
    if site.archived:
        return ""
    origin = urlsplit(settings.PUBLISHED_ORIGIN)
    port = next((port for port, slug in settings.SITE_PORTS.items() if slug == site.slug), "")
    if port:
        return f"{origin.scheme}://{origin.hostname}:{port}"
    if prefix := next((one for one, slug in settings.SITE_PREFIXES.items() if slug == site.slug), ""):
        return f"{settings.PUBLISHED_ORIGIN}{prefix}"
    first = served_sites().first()
    if first and first.pk == site.pk:
        return str(settings.PUBLISHED_ORIGIN)
    if origin.hostname in ("127.0.0.1", "localhost"):
        return f"{origin.scheme}://{site.slug}.localhost:{origin.port}"
    return site.base_url
