"""The demo site, brought into an empty database."""

from __future__ import annotations

import hashlib
import json
from base64 import b64encode

from django.conf import settings
from django.db import transaction

from navrel.core.files.reading import json_tree, read_document
from navrel.server.accounts.services import have_demo_account
from navrel.server.exchange.taking import Choices, take_in
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import make_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.library.models import Feed
from navrel.server.publishing.services import publish

FOLDER = settings.ROOT / "demo"


def load_demo() -> Site:
    """Make the demo site: take its pages in, give it the layout of its layout file, publish it."""
    tree = {**json_tree((FOLDER / "layout.json").read_bytes()), "files": _pictures()}
    with transaction.atomic():
        site = make_site(read_document(tree))
        take_in_folder(site.slug, FOLDER / "pages")
        take_in(site.slug, tree, Choices(rules="as-written", site=True))
        _keep_feeds()
        publish(site.slug, None, "The demo site as it comes")
    site.refresh_from_db()
    return site


def _keep_feeds() -> None:
    """What the made-up services of its feeds said last, as nothing can be fetched from them."""
    for feed in json.loads((FOLDER / "feeds.json").read_bytes()):
        Feed.objects.get_or_create(url=feed["url"], defaults={"title": feed["title"], "entries": feed["entries"]})


def _pictures() -> list[dict[str, str]]:
    """The pictures drawn for it, as they stand in a layout file; what each is, taking it in tells by its content."""
    return [
        {
            "name": drawing.name,
            "type": "image/svg+xml",
            "digest": hashlib.sha256(drawing.read_bytes()).hexdigest(),
            "data": b64encode(drawing.read_bytes()).decode(),
        }
        for drawing in sorted((FOLDER / "pictures").glob("*.svg"))
    ]


def set_up() -> None:
    """The demo account, and the demo site where there is no site yet; of both nothing outside demo mode."""
    if settings.DEMO and not Site.objects.exists():
        load_demo()
    have_demo_account()
