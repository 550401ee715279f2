"""Settings of the application: the API, the interface, sign-in."""

import os
from datetime import timedelta

from navrel.core.language.facts import DEVICES
from navrel.core.layout.model import FORMS, PIECE_KINDS

from .base import *  # noqa: F403
from .base import DATA_APPS, ROOT

ROOT_URLCONF = "navrel.server.urls"
WSGI_APPLICATION = "navrel.server.wsgi.application"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.postgres",
    "axes",
    "rest_framework",
    "drf_spectacular",
    *DATA_APPS,
    "navrel.server.outcomes",
    "navrel.server.walks",
    "navrel.server.accounts",
    "navrel.server.api.apps.ApiConfig",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "navrel.server.api.headers.SecurityHeaders",
    "navrel.server.api.outages.Outages",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.http.ConditionalGetMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
APPEND_SLASH = False
#: Two applications on one host, on different ports, share the browser's cookies; so each has names of its own.
_SUFFIX = os.environ.get("NAVREL_COOKIE_SUFFIX", "")
SESSION_COOKIE_NAME = f"navrel-session{_SUFFIX}"
CSRF_COOKIE_NAME = f"navrel-csrf{_SUFFIX}"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "navrel.server.api.forgery.refused"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.ScryptPasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
#: Sign-ins that fail are counted by account and address; too many of them have to wait.
AUTHENTICATION_BACKENDS = ["axes.backends.AxesBackend", "django.contrib.auth.backends.ModelBackend"]
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_RESET_ON_SUCCESS = True
#: What is kept of a sign-in stands in the log.
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False
#: Who has to wait is told by the view that signs in, as a problem like any other.
SILENCED_SYSTEM_CHECKS = ["axes.W002"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}", **more}
    for name, more in (
        ("UserAttributeSimilarityValidator", {}),
        ("MinimumLengthValidator", {"OPTIONS": {"min_length": 10}}),
        ("CommonPasswordValidator", {}),
    )
]
#: The largest request: a batch of files being taken in.
DATA_UPLOAD_MAX_MEMORY_SIZE = 32 * 1024 * 1024
DATA_UPLOAD_MAX_NUMBER_FILES = 200
DATA_UPLOAD_MAX_NUMBER_FIELDS = 1000

#: What whoever asks for counts has to show; nobody may where it is empty.
METRICS_TOKEN = os.environ.get("NAVREL_METRICS_TOKEN", "")

STATIC_URL = "/static/"
WHITENOISE_ROOT = ROOT / "frontend" / "dist"
#: The build names these by a digest of what they hold, so that a browser never has to ask again.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8}\.\w+$"
TEMPLATES: list[dict[str, object]] = []

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "navrel.server.accounts.bearing.Bearer",
        "navrel.server.api.authentication.SessionOr401",
    ],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["navrel.server.api.renderers.OrjsonRenderer"],
    "DEFAULT_PARSER_CLASSES": ["navrel.server.api.parsers.JSONParser"],
    "DEFAULT_SCHEMA_CLASS": "navrel.server.api.operations.RoomSchema",
    "EXCEPTION_HANDLER": "navrel.server.api.handling.handle",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Navrel",
    "DESCRIPTION": "Decide by rules which layout every page of a site gets, see why, publish it.",
    "VERSION": "1",
    "OAS_VERSION": "3.1.1",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": False,
    "ENUM_NAME_OVERRIDES": {
        "PieceKind": list(PIECE_KINDS),
        "EventKind": ["edit", "publication", "rights", "sign-in"],
        "WebhookKind": ["message", "purge"],
        "SendingState": ["waiting", "taken", "given-up"],
        "PersonRole": ["viewer", "editor", "publisher", "owner"],
        "TokenRole": ["published", "viewer", "editor", "publisher", "owner"],
        "UseKind": ["rule", "sidebar", "piece", "site"],
        "Decisive": ["priority", "specificity", "order"],
        "Device": list(DEVICES),
        "QueryDomain": ["page", "visitor"],
        "PageForm": list(FORMS),
    },
    "TAGS": [
        {"name": "accounts", "description": "Who is signed in, and what people may do at a site"},
        {"name": "inventory", "description": "Sites, their pages, and taking pages in"},
        {"name": "bindings", "description": "Where the slots of pages in their own HTML are"},
        {"name": "recipes", "description": "How the facts of pages are read out of their files"},
        {"name": "language", "description": "Queries and lenses: reading, writing and completing them"},
        {"name": "library", "description": "Pieces, and pictures of them"},
        {"name": "rules", "description": "Rules, pins, and how far a rule reaches"},
        {"name": "outcomes", "description": "What pages come to, and why"},
        {"name": "edits", "description": "What was written to the draft; undo and redo"},
        {"name": "exchange", "description": "Layout files, out and in"},
        {"name": "exporting", "description": "Sites as files, for static hosts"},
        {"name": "publishing", "description": "Preview, impact, publishing, revisions"},
        {"name": "logbook", "description": "Everything that was done"},
        {"name": "news", "description": "What others did, or the clock, that one may want to know"},
        {"name": "webhooks", "description": "Servers that are told when a site is published"},
        {"name": "walks", "description": "Going through pages one by one; previews for people without an account"},
    ],
}
