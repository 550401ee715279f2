"""Drawn pages as they are shown in the application, and the files of drafts that they take with them.

A page in a preview fetches its pictures and style sheets without an account: a preview may be shared. So the address
of a draft's files holds a signature, which nobody finds who was not given it.
"""

from __future__ import annotations

import hashlib
import re
from html import unescape

from django.core.signing import Signer
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils.crypto import constant_time_compare
from django.views.decorators.http import require_safe

from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page
from navrel.rendering.in_place.previewing import css_in_preview, in_preview
from navrel.server.delivery.assets import asset, nothing_here
from navrel.server.inventory.addresses import Around
from navrel.server.inventory.assets import place_of
from navrel.server.inventory.models import Asset

#: What references of a page are resolved against, where it says so.
_BASE = re.compile(r"""<base\b[^>]*?\shref\s*=\s*("[^"]*"|'[^']*'|[^\s>"']+)""", re.IGNORECASE)
#: Largest style sheet whose addresses are looked through, in bytes.
_MAX_CSS = 2 * 1024 * 1024


def shown(document: SiteDocument, page: Page, html: str) -> str:
    """A drawn page as it is shown in the application."""
    base = _BASE.search(html)
    around = Around(page.href, document.base_url, unescape(base[1].strip("\"'")) if base else "")
    return in_preview(html, around.own, beginning_of(document.slug))


def beginning_of(slug: str) -> str:
    """What the addresses of the files of a site's draft begin with."""
    signed = Signer(salt="files of a draft").signature(slug)
    return f"/-/draft/{slug}/{hashlib.sha256(signed.encode()).hexdigest()[:32]}"


@require_safe
def draft_file(request: HttpRequest, slug: str, signature: str, address: str) -> HttpResponseBase:
    """A file of a site that is no page, as its draft has it. Opened by itself it cannot run or reach anything."""
    beginning = beginning_of(slug)
    if not constant_time_compare(beginning.rpartition("/")[2], signature):
        return nothing_here()
    named = Asset.objects.filter(site__slug=slug, address=f"/{address}", current=True).first()
    if named is None:
        return nothing_here()
    answer = asset(request, named.address.rpartition("/")[2], named.digest, named.type)
    if named.type != "text/css" or named.size > _MAX_CSS or answer.status_code != 200:
        return answer
    css = css_in_preview(place_of(named.digest).read_bytes().decode("utf-8", "replace"), beginning)
    headers = {"ETag": f'"{named.digest}"', "X-Content-Type-Options": "nosniff"}
    return HttpResponse(css, content_type="text/css; charset=utf-8", headers=headers)
