"""What the application and the published site have in common. Configuration comes from the environment."""

from __future__ import annotations

import os
from pathlib import Path
from urllib.parse import unquote, urlsplit

from navrel.server.observing.telling import logging_settings

ROOT = Path(__file__).resolve().parents[4]

SECRET_KEY = os.environ.get("NAVREL_SECRET_KEY", "only-for-checks-that-start-no-server")
DEBUG = False
ALLOWED_HOSTS = os.environ.get("NAVREL_HOSTS", "127.0.0.1,localhost").split(",")
#: Whether the demo account exists and is offered on the sign-in page.
DEMO = os.environ.get("NAVREL_DEMO") == "1"
DEMO_ACCOUNT = ("demo", "marrowick")
PUBLISHED_ORIGIN = os.environ.get("NAVREL_PUBLISHED_ORIGIN", "http://127.0.0.1:8421")
#: The sites that are served on a port of their own besides, by the port.
SITE_PORTS = {
    port: slug for slug, _, port in (one.partition("=") for one in os.environ.get("NAVREL_SITE_PORTS", "").split(","))
}
#: The sites that are served below a path besides, by the path, the longest first.
SITE_PREFIXES = {
    path: slug
    for slug, _, path in sorted(
        (one.partition("=") for one in os.environ.get("NAVREL_SITE_PREFIXES", "").split(",") if one),
        key=lambda parts: -len(parts[2]),
    )
}

_database = urlsplit(os.environ.get("NAVREL_DATABASE_URL", "postgres://navrel@127.0.0.1:5432/navrel"))
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": _database.path.lstrip("/"),
        "USER": _database.username,
        "PASSWORD": unquote(_database.password or ""),
        "HOST": _database.hostname,
        "PORT": _database.port,
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

#: Where the files of sites that are no pages are kept.
ASSETS = os.environ.get("NAVREL_ASSETS") or str(Path(os.environ.get("NAVREL_STATE") or ROOT / ".navrel") / "assets")
#: How long a reader may wait, in seconds, for a revision that was just published and is being made ready; then what was
#: served before is served once more.
READERS_WAIT = float(os.environ.get("NAVREL_READERS_WAIT", "0"))
#: How many sites' live states each process keeps, those that were asked for last.
MOST_LIVE = 16
#: How many bytes of pages that were drawn each process of the published site keeps.
MOST_KEPT = int(float(os.environ.get("NAVREL_KEPT_MIB", "64")) * 2**20)
#: For how long, in seconds, browsers, and caches before the server, use a page without asking, and how much longer
#: while they ask; never beyond the moment at which it changes by itself. Caches have to be told of publications.
MAX_AGE = int(os.environ.get("NAVREL_MAX_AGE", "0"))
SHARED_MAX_AGE = int(os.environ.get("NAVREL_SHARED_MAX_AGE", "0"))
STALE_AGE = int(os.environ.get("NAVREL_STALE_AGE", "60"))
#: Whether all requests come through an edge of one's own that says who asks in headers of its own, Navrel-Device and
#: its like, and lets none through that it did not set itself.
EDGE = os.environ.get("NAVREL_EDGE") == "1"
#: The file that says how members of sites are known by the sites' own sign-ins: delivery/sign_in.py tells how.
SIGN_IN = os.environ.get("NAVREL_SIGN_IN", "")
#: The sites that are drawn over an old one, which is asked for each page, by their slugs: the origin of the old one.
OLD_SITES = {
    slug: origin.rstrip("/")
    for slug, _, origin in (one.partition("=") for one in os.environ.get("NAVREL_OLD_SITES", "").split(",") if one)
}
#: Hosts with their ports that people may have asked, for feeds and for whole sites, although they are not on the open
#: web or at its usual ports; parted by commas.
INNER_HOSTS = [host for host in os.environ.get("NAVREL_INNER_HOSTS", "").split(",") if host]

DATA_APPS = [
    "navrel.server.inventory",
    "navrel.server.library",
    "navrel.server.rules",
    "navrel.server.publishing",
    "navrel.server.edits",
    "navrel.server.logbook",
    "navrel.server.news",
    "navrel.server.webhooks",
]
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
#: How the log is written: `json` for programs, with a line for each request; else for people.
LOGGING = logging_settings(os.environ.get("NAVREL_LOG", ""))
