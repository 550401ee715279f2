"""Settings of the published site: no accounts, no sessions, nothing that writes."""

from .base import *  # noqa: F403
from .base import DATA_APPS

ROOT_URLCONF = "navrel.server.delivery.urls"
WSGI_APPLICATION = "navrel.server.delivery.wsgi.application"
INSTALLED_APPS = [
    "django.contrib.auth", "django.contrib.contenttypes", "django.contrib.postgres",
    "navrel.server.accounts", *DATA_APPS,
]  # fmt: skip
MIDDLEWARE = [
    "navrel.server.delivery.keeping.Keeping",
    "navrel.server.delivery.headers.SafeHeaders",
    "navrel.server.api.outages.Outages",
    "navrel.server.delivery.headers.Squeeze",
    "django.middleware.http.ConditionalGetMiddleware",
    "navrel.server.delivery.mounting.Mounted",
]
#: Those that somebody asks for: what is not kept is read anew for each answer.
MOST_LIVE = 256
APPEND_SLASH = False
