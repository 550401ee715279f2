"""Both servers as the start command runs them, on a database of their own: for tests, pictures and benchmarks."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import urllib.request
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field
from urllib.parse import SplitResult, urlsplit

import psycopg
from psycopg import sql

from navrel.launch.database import free_port
from navrel.launch.serving import MODULES, PROCESSES, serve, wait_until_served

#: What of Chromium is not needed. Its address bar's two pages cost more than twice what an empty window does. Of two
#: such lists the last one holds, so this one also names what Playwright switches off.
_FEATURES_OFF = (
    "WebUIOmniboxPopup",
    "WebUIOmniboxAimPopup",
    "AimEnabled",
    "AvoidUnnecessaryBeforeUnloadCheckSync",
    "DestroyProfileOnBrowserClose",
    "HttpsUpgrades",
    "HttpsFirstBalancedModeAutoEnable",
    "LensOverlay",
    "MediaRouter",
    "NetworkTimeServiceQuerying",
    "OptimizationHints",
    "PaintHolding",
    "PreconnectToSearch",
    "ThirdPartyStoragePartitioning",
)

#: How Debian's Chromium is started: headless, without any connection of its own.
CHROMIUM_FLAGS = (
    f"--disable-features={','.join(_FEATURES_OFF)}",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
)

#: For windows: what a view asks for, counted; `quiet()` waits until nothing has been asked for 300 ms.
COUNT_REQUESTS = """
    (() => {
        let open = 0, last = performance.now();
        const ask = globalThis.fetch;
        globalThis.fetch = async (...asked) => {
            open++;
            try { return await ask(...asked); } finally { open--; last = performance.now(); }
        };
        globalThis.quiet = () => new Promise((done, fail) => {
            const until = performance.now() + 90_000;
            const look = () => {
                const now = performance.now();
                if (open === 0 && document.readyState === "complete" && now - last > 300) done();
                else if (now > until) fail(new Error("it never rests"));
                else setTimeout(look, 30);
            };
            look();
        });
    })()
"""


def served_revision(origin: str) -> int:
    """The number of the revision that a published site answers of."""
    with urllib.request.urlopen(f"{origin}/", timeout=60) as answer:  # noqa: S310
        answer.read()
        return int(answer.headers["Navrel-Revision"])


def chromium_path() -> str:
    """Debian's Chromium, as the launcher found it."""
    return os.environ.get("NAVREL_CHROMIUM", "/usr/bin/chromium-headless-shell")


@dataclass(frozen=True)
class Stage:
    """Where the application and the published site are, the environment they run in, and their processes by name.

    ``other``: a port on which nothing is, that the application may ask.
    """

    application: str
    published: str
    env: dict[str, str]
    other: int
    servers: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)

    def run(self, *command: str) -> None:
        """Run a Python program of the project beside the servers."""
        subprocess.run([sys.executable, *command], check=True, env={**os.environ, **self.env})

    def beside(self, *command: str) -> subprocess.Popen[str]:
        """Start a Python program of the project beside the servers, to be spoken to by lines."""
        pipe = subprocess.PIPE
        return subprocess.Popen(
            [sys.executable, *command], env={**os.environ, **self.env}, stdin=pipe, stdout=pipe, text=True
        )


@contextmanager
def rehearse(database: str, more: Mapping[str, str] | None = None, *, processes: int = PROCESSES) -> Iterator[Stage]:
    """Make the database anew with the demo site, and serve it until the end; ``more`` stands in the environment.

    ``processes``: how many each of the two servers is.
    """
    base = urlsplit(os.environ["NAVREL_DATABASE_URL"])
    with psycopg.connect(base._replace(scheme="postgresql", path="/postgres").geturl(), autocommit=True) as connection:
        name = sql.Identifier(database)
        connection.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(name))
        connection.execute(sql.SQL("CREATE DATABASE {}").format(name))
    ports = free_port(), free_port()
    with tempfile.TemporaryDirectory(prefix="navrel-assets-") as assets:
        yield from _served(base, database, ports, assets, processes, more or {})


def _served(
    base: SplitResult, database: str, ports: tuple[int, int], assets: str, processes: int, more: Mapping[str, str]
) -> Iterator[Stage]:
    other = free_port()
    env = {
        "NAVREL_ASSETS": assets,
        "NAVREL_DATABASE_URL": base._replace(path=f"/{database}").geturl(),
        "NAVREL_PUBLISHED_ORIGIN": f"http://127.0.0.1:{ports[1]}",
        "NAVREL_DEMO": "1",
        # The published site can be asked, so that a site can be read from an address.
        "NAVREL_INNER_HOSTS": f"127.0.0.1:{ports[1]},127.0.0.1:{other}",
        # What is published is what is looked at, however busy the machine.
        "NAVREL_READERS_WAIT": "30",
        **more,
    }
    stage = Stage(f"http://127.0.0.1:{ports[0]}", env["NAVREL_PUBLISHED_ORIGIN"], env, other)
    stage.run("-m", "navrel.cli", "set-up")
    for name, port in zip(MODULES, ports, strict=True):
        stage.servers[name] = serve(MODULES[name], port, {**os.environ, **env}, processes=processes)
    try:
        for (name, server), port in zip(stage.servers.items(), ports, strict=True):
            wait_until_served(name, server, port)
        yield stage
    finally:
        for server in stage.servers.values():
            server.terminate()
        for server in stage.servers.values():
            server.wait(timeout=20)
