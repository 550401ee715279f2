"""What happens at the desk while others ask the published site: rules, publications, and what everybody should see.

Run as a program with the environment of both servers. Each line that it reads is a request of JSON, and is answered by
one of JSON.
"""

import hashlib
import json
import sys
from datetime import datetime
from functools import cache

from navrel.cli.site import with_django

with_django()

from django.conf import settings  # noqa: E402
from django.contrib.auth import get_user_model  # noqa: E402
from django.test import Client  # noqa: E402

from navrel.core.language.visitor import Lens, Visitor  # noqa: E402
from navrel.rendering.page import draw_page  # noqa: E402
from navrel.server.accounts.tokens import make_token  # noqa: E402
from navrel.server.inventory.contents import read_content  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402
from navrel.server.publishing.live import find_revision, open_revision  # noqa: E402
from navrel.server.publishing.services import publish  # noqa: E402
from navrel.server.rules.services import remove_several  # noqa: E402
from navrel.server.webhooks.models import Sending  # noqa: E402
from navrel.server.webhooks.services import make_webhook  # noqa: E402

settings.ALLOWED_HOSTS = ["testserver"]
site = Site.objects.get(slug="marrowick")
user = get_user_model().objects.get(username="demo")
client = Client()
client.force_login(user)
rules = []


def webhook(kind, address):
    return make_webhook(site, kind, address, user).secret


def token():
    return make_token(user, site, "edge", "published", 1)[1]


def rule(**body):
    made = client.post("/api/sites/marrowick/rules", body, content_type="application/json")
    assert made.status_code == 201, made.content
    rules.append(made.json()["id"])


def clear():
    """Take away the rules that were made here."""
    if rules:
        remove_several("marrowick", rules)
        rules.clear()


def bindings(**places):
    version = client.get("/api/sites/marrowick/bindings").json()["version"]
    body = {"bindings": [{"slot": slot, "selector": selector} for slot, selector in places.items()]}
    headers = {"If-Match": f'"{version}"'}
    made = client.put("/api/sites/marrowick/bindings", body, content_type="application/json", headers=headers)
    assert made.status_code == 200, made.content


def published():
    return publish("marrowick", user).number


def taken(revision):
    found = [one.state for one in Sending.objects.filter(body__contains=f'"revision":{revision},')]
    return bool(found) and set(found) == {"taken"}


def now():
    """What the clock of the site shows, to the minute."""
    return site_state(1).document.now().isoformat(timespec="minutes")


@cache
def site_state(number):
    return open_revision(find_revision(site, number))


@cache
def drawn(number, path, at, told):
    """The status and a digest of what somebody should see: resolved plainly, and drawn for them alone."""
    state, visitor = site_state(number), json.loads(told)
    page = state.index.tree.meant(path)
    status = 200
    if page is None:
        status, page = 404, next(one for one in state.index.tree.pages if one.kind == "missing")
    seen_by = Visitor(
        **{**visitor, "accepts": tuple(visitor["accepts"]) or ("en",), "roles": frozenset(visitor["roles"])}
    )
    lens = Lens(seen_by, datetime.fromisoformat(at))
    return status, hashlib.sha256(
        draw_page(state.source, page, read_content(state.contents.get(page.path, "")), lens).data
    ).hexdigest()


for line in sys.stdin:
    asked = json.loads(line)
    print(json.dumps(globals()[asked.pop("do")](**asked)), flush=True)
