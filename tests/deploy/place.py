"""The published site behind nginx and Varnish, and a desk beside, at which it is edited and published."""

from __future__ import annotations

import json
import os
import subprocess
import time
from dataclasses import dataclass, field
from pathlib import Path
from threading import Lock
from typing import Any

from navrel_faults.installation import wait_for
from navrel_rehearsal import Stage
from navrel_rehearsal.nginx import Nginx

from navrel.launch.serving import MODULES, serve, wait_until_served

from .edges import fetched, renewed
from .old import OldSite

SECRET = "a secret that the ferries alone and Navrel know"
#: The cookie in which the site's own sign-in puts its token, as the configurations name it.
COOKIE = "ferries_member"


class Desk:
    """The program beside, where rules are written and published, and it is known what everybody should see."""

    def __init__(self, program: subprocess.Popen[str]) -> None:
        self.program, self.lock = program, Lock()

    def __call__(self, do: str, **more: Any) -> Any:
        assert self.program.stdin is not None and self.program.stdout is not None
        with self.lock:
            self.program.stdin.write(json.dumps({"do": do, **more}) + "\n")
            self.program.stdin.flush()
            return json.loads(self.program.stdout.readline())

    def header(self, name: str, path: str, visitors: str = "", schedule: Any = None) -> None:
        """Have a page show another header: to some visitors, from a moment on."""
        condition = {"include": f"page:{path}", "visitors": {"include": visitors}, "schedule": schedule}
        actions = [{"do": "fill", "slot": "header", "piece": "slim-header"}]
        self("rule", name=name, priority=90, condition=condition, actions=actions)


@dataclass
class Place:
    """The published site behind two edges, and when each revision was published, and told to both.

    ``edges``: the origins of the published site behind each; ``pages``: those of pages that somebody else puts there,
    ``folder``: where they are; ``token``: by which published layouts are asked for; ``old``: a site that was there before.
    """

    stage: Stage
    desk: Desk
    nginx: Nginx
    edges: dict[str, str]
    pages: dict[str, str]
    folder: Path
    token: str
    old: OldSite
    begun: dict[int, float] = field(default_factory=lambda: {1: 0.0})
    told: dict[int, float] = field(default_factory=lambda: {1: 0.0})

    def publish(self) -> None:
        """Publish, and wait until both edges know."""
        workers = self.nginx.children()
        newest = max(self.begun)
        self.begun[newest + 1] = time.time()
        number = self.desk("published")
        assert number == newest + 1
        wait_for("both edges to be told", lambda: self.desk("taken", revision=number))
        renewed(self.nginx, workers)
        self.told[number] = time.time()

    def end_navrel(self) -> None:
        """End the published site; the edges go on."""
        server = self.stage.servers["published site"]
        server.terminate()
        server.wait(timeout=20)

    def restart(self, **env: str) -> None:
        """Have the published site back, with other settings than before, and both edges know it."""
        self.start_again(**env)
        self.wait_for_edges()

    def start_again(self, **env: str) -> None:
        """Have the published site back, whether it can answer or not."""
        self.end_navrel()
        port = int(self.stage.published.rpartition(":")[2])
        again = serve(MODULES["published site"], port, {**os.environ, **self.stage.env, **env})
        self.stage.servers["published site"] = again
        wait_until_served("published site", again, port)

    def wait_for_edges(self) -> None:
        """Wait until both edges know that Navrel answers: of what nobody has asked for yet."""
        for origin in self.edges.values():
            wait_for("an answer", lambda origin=origin: fetched(f"{origin}/crew/galley?{time.time()}")[0] == 200)  # type: ignore[misc]
