"""Give a site so many made pages, without contents, and rules. Run as a program, by the benchmark."""

import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from navrel.core.files.parts import ReadParts  # noqa: E402
from navrel.server.edits.services import editing  # noqa: E402
from navrel.server.inventory.layout_pages import take_pages  # noqa: E402
from navrel.server.rules.services import add_rules, checked_rule  # noqa: E402
from navrel_bench.made import made_pages, made_rules  # noqa: E402

count, rules = map(int, sys.argv[1:])
pages = made_pages(count)
with editing("marrowick", None) as site:
    take_pages(site, ReadParts(pages=tuple(pages)))
    add_rules(site, [checked_rule(site, tree) for tree in made_rules(pages, rules)])
