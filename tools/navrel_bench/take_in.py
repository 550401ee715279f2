"""Take a folder in as the site's pages, note the peak memory, and make rules. Run as a program, by the benchmark."""

import os
import sys
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from navrel.server.edits.services import editing  # noqa: E402
from navrel.server.inventory.services import take_in_folder  # noqa: E402
from navrel.server.rules.services import add_rules, checked_rule  # noqa: E402
from navrel_bench.made import made_pages, made_rules  # noqa: E402
from navrel_bench.memory import peak_memory  # noqa: E402

folder = Path(sys.argv[1])
take_in_folder("marrowick", folder)
(folder / "peak").write_text(str(peak_memory()))
pages, rules = map(int, sys.argv[2:])
with editing("marrowick", None) as site:
    add_rules(site, [checked_rule(site, tree) for tree in made_rules(made_pages(pages), rules)])
