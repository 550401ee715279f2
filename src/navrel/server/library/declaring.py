"""What a site declares for all of its pieces and rules: its page settings, menus, dresses, guards."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from navrel.core.files.reading import read_dresses, read_guards, read_menus, read_settings
from navrel.core.files.writing import write_dress, write_guard, write_menu, write_setting
from navrel.core.layout.dressing import with_dress_setting
from navrel.server.api.errors import Outdated
from navrel.server.api.views import digest_version
from navrel.server.edits.services import editing
from navrel.server.edits.turning import check_references
from navrel.server.inventory.models import Site
from navrel.server.sitestate.records import names_on_shelf


@dataclass(frozen=True)
class Declared:
    """One kind of what a site declares: the column that holds it, its name for people, and how it is read and written.

    Reading raises DocumentError, with pointers that count from the request's body.
    """

    column: str
    name: str
    normal: Callable[[Site, list[Any]], list[Any]]

    def items(self, site: Site) -> list[Any]:
        """What the site declares, as in the layout file."""
        return list(getattr(site, self.column))

    def version(self, site: Site) -> int:
        """What it is told by in an entity tag: a digest of it (RFC 9110, section 8.8.3)."""
        return digest_version(self.items(site))

    def declare(self, site_slug: str, items: list[Any], version: int, *, by: Any = None) -> Site:
        """Declare it anew. Raises DocumentError, Outdated, and InTheWay where a rule or a piece needs what would go."""
        with editing(site_slug, by) as site:
            Outdated.check(
                f"The {self.name}", self.version(site), version, {"name": self.name, "items": self.items(site)}
            )
            setattr(site, self.column, self.normal(site, items))
            settings = with_dress_setting(read_settings(site.settings), read_dresses(site.dresses))
            site.settings = [write_setting(setting) for setting in settings]
            site.save(update_fields=[self.column, "settings"])
            check_references(site)
            return site


def _guards(site: Site, items: list[Any]) -> list[Any]:
    return [write_guard(guard) for guard in read_guards(items, names_on_shelf(site), read_settings(site.settings))]


SETTINGS = Declared("settings", "settings", lambda _, items: [write_setting(one) for one in read_settings(items)])
MENUS = Declared("menus", "menus", lambda _, items: [write_menu(one) for one in read_menus(items).values()])
DRESSES = Declared("dresses", "dresses", lambda _, items: [write_dress(one) for one in read_dresses(items).values()])
GUARDS = Declared("guards", "guards", _guards)
