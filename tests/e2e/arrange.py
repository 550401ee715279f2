"""Give a page of the demo site what its files do not have. Run as a program: arrange.py PATH lock|slot|content VALUE."""

import hashlib
import os
import sys

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from django.db import transaction  # noqa: E402

from navrel.rendering.sanitising import sanitise  # noqa: E402
from navrel.server.inventory.models import Content, Page  # noqa: E402
from navrel.server.sitestate.locking import lock_site  # noqa: E402

path, what, name = sys.argv[1:]
with transaction.atomic():
    page = Page.objects.get(site=lock_site("marrowick", inventory=True), path=path)
    if what == "lock":
        page.locks = [{"slot": name, "owner": "The ticket shop", "why": "It sells from there."}]
    else:
        if what == "slot":
            page.slots = [name]
        slot = f'<p>Above the place.</p><slot name="{name}"><em>Nothing here today.</em></slot><p>Below the place.</p>'
        html = slot if what == "slot" else sanitise(name)
        digest = hashlib.sha256(html.encode()).hexdigest()
        page.content, _ = Content.objects.get_or_create(digest=digest, defaults={"html": html, "text": "Above. Below."})
    page.save()
