"""What a site is: its name, address, language, zone, roles and default template; and putting a site away."""

from __future__ import annotations

import re
from typing import Any

from django.db import transaction
from django.utils import timezone

from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_settings, read_site
from navrel.core.files.writing import write_setting
from navrel.core.layout.form import form_of, with_form
from navrel.server.api.errors import Outdated
from navrel.server.api.views import digest_version
from navrel.server.edits.services import editing
from navrel.server.edits.turning import check_references
from navrel.server.logbook.services import note
from navrel.server.sitestate.locking import lock_site, raise_inventory
from navrel.server.sitestate.records import names_on_shelf

from .models import Site

_ADDRESS = re.compile(r"https?://[^\s/?#@]+(/[^\s?#]*)?")
FACTS = ("name", "base_url", "language", "time_zone", "roles", "default_template", "scripts")


def facts_of(site: Site) -> dict[str, Any]:
    """What a site is, as the layout file has it."""
    return {**{fact: getattr(site, fact) for fact in FACTS}, "form": form_of(read_settings(site.settings))}


def facts_version(site: Site) -> int:
    """What these facts are told by in an entity tag: a digest of them (RFC 9110, section 8.8.3)."""
    return digest_version(facts_of(site))


def set_up(slug: str, facts: dict[str, Any], version: int, *, by: Any) -> Site:
    """Say anew what a site is. Raises DocumentError, Outdated, and InTheWay."""
    with editing(slug, by) as site:
        before = facts_of(site)
        Outdated.check("What the site is", facts_version(site), version, before)
        if facts["base_url"] and not _ADDRESS.fullmatch(facts["base_url"]):
            raise DocumentError([Problem("/base_url", "write it as https://example.org", "address")])
        stated = {fact: facts[fact] for fact in FACTS}
        read = read_site({**stated, "slug": slug}, names_on_shelf(site))
        site.settings = [write_setting(one) for one in with_form(read_settings(site.settings), facts["form"])]
        site.name, site.base_url, site.language = read.name, read.base_url.rstrip("/"), read.language
        site.time_zone, site.roles, site.scripts = read.time_zone, list(read.roles), read.scripts
        site.default_template = read.layout.default_template or ""
        if site.language != before["language"]:
            # Pages that state no language have the site's.
            raise_inventory(site)
        site.save(update_fields=[*FACTS, "settings"])
        check_references(site)
        return site


@transaction.atomic
def archive(slug: str, by: Any, *, away: bool) -> None:
    """Put a site away, or bring it back. Nothing of it changes: it is neither listed nor served meanwhile."""
    site = lock_site(slug)
    if (site.archived is not None) == away:
        return
    site.archived = timezone.now() if away else None
    site.save(update_fields=["archived"])
    note(site, by, "rights", "Put the site away" if away else "Brought the site back")
