"""Make a site whose pages are drawn in their own HTML, as found and live.

Run as a program: site_in_place.py BUILD [FILE …]. Files that are named have a script in their footer, and then nothing
that was found is taken.
"""

import os
import sys
import tempfile
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()
sys.path.insert(0, str(Path(__file__).parents[2]))

from django.contrib.auth.models import User  # noqa: E402

from navrel.core.files.writing import write_binding  # noqa: E402
from navrel.core.layout.binding import Binding  # noqa: E402
from navrel.server.bindings.services import bindings_version, put_bindings  # noqa: E402
from navrel.server.bindings.taking import take_finds  # noqa: E402
from navrel.server.inventory.services import make_empty_site  # noqa: E402
from navrel.server.inventory.sources import take_in_folder  # noqa: E402
from navrel.server.publishing.services import publish  # noqa: E402
from tests.sites import SITES, write  # noqa: E402

build = SITES[sys.argv[1]]
demo = User.objects.get(username="demo")
site = make_empty_site("shore", "Shore", "", "in-place", by=demo)
scripted = sys.argv[2:]
with tempfile.TemporaryDirectory() as folder:
    written = write(build, Path(folder))
    for name in scripted:
        text = (written / name).read_text()
        (written / name).write_text(text.replace('role="contentinfo">', 'role="contentinfo"><script>show()</script>'))
    take_in_folder("shore", written)
site.refresh_from_db()
trees = [write_binding(Binding(slot, selector)) for slot, selector in build.BINDINGS]
put_bindings("shore", trees, bindings_version(site), by=demo)
if not scripted:
    take_finds("shore", [slot for slot, _ in build.BINDINGS], by=demo)
publish("shore", demo, "As found")
