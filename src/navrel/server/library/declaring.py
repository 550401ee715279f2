"""The settings that a site declares for its pages."""

from __future__ import annotations

import zlib
from typing import Any

import orjson

from navrel.core.files.reading import read_settings
from navrel.core.files.writing import write_setting
from navrel.server.api.errors import Outdated
from navrel.server.edits.services import editing
from navrel.server.edits.turning import check_references
from navrel.server.inventory.models import Site

#: Versions in entity tags have nine digits at the most.
_DIGITS = 10**9


def settings_version(site: Site) -> int:
    """What the declared settings are told by in an entity tag: a digest of them (RFC 9110, section 8.8.3)."""
    return zlib.crc32(orjson.dumps(site.settings, option=orjson.OPT_SORT_KEYS)) % _DIGITS


def declare_settings(site_slug: str, items: list[Any], version: int, *, by: Any = None) -> Site:
    """Declare a site's settings anew. Raises DocumentError, Outdated, and InTheWay where a rule needs another one."""
    with editing(site_slug, by) as site:
        Outdated.check(
            "The settings", settings_version(site), version, {"name": "Page settings", "items": site.settings}
        )
        site.settings = [write_setting(setting) for setting in read_settings(items)]
        site.save(update_fields=["settings"])
        check_references(site)
        return site
