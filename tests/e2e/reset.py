"""Bring the demo site of the end-to-end tests back to how it comes, once for each line that is read.

Run as a program, with the tests' environment. It answers each line with one of its own.
"""

import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from navrel.server.demo import load_demo  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402

for _ in sys.stdin:
    Site.objects.all().delete()
    load_demo()
    print("as it comes", flush=True)
