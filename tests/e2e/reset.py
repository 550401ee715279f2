"""Bring the demo site of the end-to-end tests back to how it comes. Run as a program, with the tests' environment."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from navrel.server.demo import load_demo  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402

Site.objects.all().delete()
load_demo()
