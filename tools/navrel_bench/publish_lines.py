"""Publish the site anew for each line that is read, with the line in a header. Run as a program, by the benchmark."""

import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from navrel.server.library.services import change_piece, find_piece  # noqa: E402
from navrel.server.publishing.services import publish  # noqa: E402

for line in sys.stdin:
    piece = find_piece("marrowick", "main-header")
    tree = {"name": piece.name, "content": {"items": [{"type": "text", "text": f"Crossing {line.strip()}"}]}}
    change_piece("marrowick", piece.slug, tree, piece.version)
    print(publish("marrowick", None, overrule="measured").number, flush=True)
