"""Take a folder in as the site's pages, find what stands on them, and make rules; what it took, as JSON in `took`.

Run as a program, by the benchmark.
"""

import json
import os
import sys
import time
from collections.abc import Callable
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from django.db import transaction  # noqa: E402
from lxml import html  # noqa: E402

from navrel.server.bindings.finding import find  # noqa: E402
from navrel.server.bindings.services import bindings_version, put_bindings  # noqa: E402
from navrel.server.edits.services import editing  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402
from navrel.server.inventory.sources import take_in_folder  # noqa: E402
from navrel.server.rules.services import add_rules, checked_rule  # noqa: E402
from navrel.server.sitestate.locking import lock_site  # noqa: E402
from navrel_bench.made import made_pages, made_rules  # noqa: E402
from navrel_bench.memory import peak_memory  # noqa: E402

folder = Path(sys.argv[1])
pages, rules = map(int, sys.argv[2:])
files = sorted(folder.rglob("*.html"))


def timed(work: Callable[[], object]) -> float:
    """The seconds that some work takes."""
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


took = {"parsed": timed(lambda: [html.document_fromstring(file.read_bytes()) for file in files])}
before = peak_memory()
took["taken"] = timed(lambda: take_in_folder("marrowick", folder))
took["memory"] = peak_memory() - before
bindings = [{"slot": "header", "selector": "body > header"}, {"slot": "footer", "selector": "body > footer"}]


def bind_and_find() -> None:
    """Bind two slots, and look what stands in them on every page, as on a site without a rule."""
    site = Site.objects.get(slug="marrowick")
    put_bindings("marrowick", bindings, bindings_version(site), by=None)
    with transaction.atomic():
        locked = lock_site("marrowick")
        locked.rules.all().delete()
        found = find(locked)
        transaction.set_rollback(True)
    took["finds"] = sum(len(one.finds) for one in found)


took["found"] = timed(bind_and_find)
put_bindings("marrowick", [], bindings_version(Site.objects.get(slug="marrowick")), by=None)
(folder / "took").write_text(json.dumps(took))
with editing("marrowick", None) as site:
    add_rules(site, [checked_rule(site, tree) for tree in made_rules(made_pages(pages), rules)])
