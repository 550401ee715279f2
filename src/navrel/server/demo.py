"""The demo site, brought into an empty database."""

from __future__ import annotations

from django.conf import settings
from django.db import transaction

from navrel.core.files.reading import read_json
from navrel.core.files.writing import write_setting
from navrel.core.layout.document import SiteDocument
from navrel.server.accounts.services import have_demo_account
from navrel.server.edits.services import editing
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import make_site, take_in_folder
from navrel.server.library.services import load_pieces
from navrel.server.publishing.services import publish
from navrel.server.rules.services import load_rules

FOLDER = settings.ROOT / "demo"


def load_demo() -> Site:
    """Make the demo site: take its pages in, give it the layout of its layout file, publish it."""
    document = read_json((FOLDER / "layout.json").read_bytes())
    with transaction.atomic():
        site = make_site(document)
        take_in_folder(site.slug, FOLDER / "pages")
        load_layout(site, document)
        publish(site.slug, None, "The demo site as it comes")
    site.refresh_from_db()
    return site


def load_layout(site: Site, document: SiteDocument) -> None:
    """Give a site the pieces, the rules, the settings and the default template of a layout file."""
    with editing(site.slug, None, f"Took in the layout of {document.name}") as locked:
        load_pieces(locked, dict(document.layout.pieces))
        load_rules(locked, document.layout.rules)
        locked.default_template = document.layout.default_template or ""
        locked.settings = [write_setting(setting) for setting in document.layout.settings]
        locked.save(update_fields=["default_template", "settings"])


def set_up() -> None:
    """The demo account, and the demo site where there is no site yet."""
    have_demo_account()
    if not Site.objects.exists():
        load_demo()
