"""Which addresses of a site are answered where it has no page: by files, and by what leads on."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from urllib.parse import unquote

from navrel.server.inventory.bringing_in import batches
from navrel.server.inventory.models import Alias, Asset

#: Addresses that are asked for at once.
_AT_ONCE = 2000


def answered(site: str, addresses: Collection[str]) -> set[str]:
    """Those addresses of a draft, written as paths of pages, that are answered though no page is there."""
    asked = {form for address in addresses for form in _forms(address)}
    found: set[str] = set()
    for some in batches(asked, _AT_ONCE):
        found.update(Alias.objects.filter(site__slug=site, address__in=some).values_list("address", flat=True))
        files = Asset.objects.filter(site__slug=site, current=True, address__in=some)
        found.update(files.values_list("address", flat=True))
    return {address for address in addresses if not found.isdisjoint(_forms(address))}


def _forms(address: str) -> Iterator[str]:
    """How what answers at an address may be told: the path of a page has no slash at its end."""
    for form in {address, unquote(address)}:
        folder = f"{form.rstrip('/')}/"
        yield from (form, folder, f"{folder}index.html")
