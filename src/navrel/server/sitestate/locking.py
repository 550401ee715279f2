"""Finding a site, and locking it for a write.

Every write raises the site's version within its own transaction.
"""

from __future__ import annotations

from django.db.models import F

from navrel.server.api.errors import Missing
from navrel.server.inventory.models import Site as SiteRecord


def find_site(slug: str) -> SiteRecord:
    """The site with this slug. Raises Missing."""
    site = SiteRecord.objects.filter(slug=slug).first()
    if site is None:
        raise Missing("no-site", f"There is no site {slug}")
    return site


def lock_site(slug: str, *, inventory: bool = False) -> SiteRecord:
    """The site, locked until the transaction ends and with its version raised: how every write begins."""
    site = SiteRecord.objects.select_for_update().filter(slug=slug).first()
    if site is None:
        raise Missing("no-site", f"There is no site {slug}")
    SiteRecord.objects.filter(pk=site.pk).update(version=F("version") + 1)
    if inventory:
        raise_inventory(site)
    site.refresh_from_db()
    site.is_locked = True
    return site


def raise_inventory(site: SiteRecord) -> None:
    """Say of a locked site that its pages change too."""
    SiteRecord.objects.filter(pk=site.pk).update(inventory_version=F("inventory_version") + 1)
