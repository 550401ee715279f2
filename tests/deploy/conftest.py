"""One published site behind nginx and Varnish for all tests here."""

import json
import os
from contextlib import ExitStack
from pathlib import Path

import pytest
from navrel_rehearsal import rehearse
from navrel_rehearsal.nginx import DEPLOY, nginx

from navrel.launch.database import free_port

from .edges import pages, receiver, varnish
from .old import old_site
from .place import COOKIE, SECRET, Desk, Place

HERE = Path(__file__).parent


@pytest.fixture(scope="session")
def place(tmp_path_factory):
    folder = tmp_path_factory.mktemp("edges")
    (folder / "key").write_text(SECRET)
    sign_in = {"marrowick": {"cookie": COOKIE, "algorithm": "HS256", "key_file": "key"}}
    (folder / "sign-in.json").write_text(json.dumps(sign_in))
    told, purged = free_port(), free_port()
    env = {
        "NAVREL_EDGE": "1", "NAVREL_SHARED_MAX_AGE": "86400", "NAVREL_STALE_AGE": "2", "NAVREL_READERS_WAIT": "0",
        "NAVREL_SIGN_IN": str(folder / "sign-in.json"), "NAVREL_INNER_HOSTS": f"127.0.0.1:{told},127.0.0.1:{purged}",
    }  # fmt: skip
    for name in ("nginx", "varnish", "pages/ssi", "pages/esi"):
        (folder / name).mkdir(parents=True)
    with ExitStack() as stack:
        stage = stack.enter_context(rehearse(f"navrel_edges_{os.environ.get('PYTEST_XDIST_WORKER', 'main')}", env))
        desk = Desk(stack.enter_context(stage.beside(str(HERE / "desk.py"))))
        stack.callback(desk.program.stdin.close)
        navrel, token = stage.published.removeprefix("http://"), desk("token")
        own = stack.enter_context(pages(folder / "pages/esi"))
        old = stack.enter_context(old_site())
        server = stack.enter_context(nginx(folder / "nginx", navrel, token, folder / "pages/ssi", old.host))
        cache = stack.enter_context(varnish(folder / "varnish", navrel, purged, token, own))
        secret = desk("webhook", kind="message", address=f"http://127.0.0.1:{told}/")
        desk("webhook", kind="purge", address=f"http://127.0.0.1:{purged}/")
        command = {
            "NAVREL_REVISION_FILE": str(folder / "nginx/navrel/revision.conf"),
            "NGINX_COMMAND": " ".join(server.command),
        }
        stack.enter_context(receiver(folder, told, secret, str(DEPLOY / "nginx" / "published"), **command))
        clock = stack.enter_context(stage.beside("-m", "navrel.cli", "clock"))
        stack.callback(clock.terminate)
        edges = {"nginx": server.origins["published-site"], "varnish": cache}
        pages_of = {"nginx": server.origins["own-pages"], "varnish": cache}
        found = Place(stage, desk, server, edges, pages_of, folder / "pages", token, old)
        found.wait_for_edges()
        yield found
