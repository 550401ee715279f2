"""The real thing: both servers as the start command runs them, a database of their own, headless Chromium."""

from __future__ import annotations

import os
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

import psycopg
import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from navrel.launch.commands import serve, wait_until_served
from navrel.launch.database import free_port

HERE = Path(__file__).parent
CHROMIUM = os.environ.get("NAVREL_CHROMIUM", "/usr/bin/chromium")
CHROMIUM_FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip

expect.set_options(timeout=15_000)


@dataclass(frozen=True)
class Served:
    """Where the application and the published site are, and the environment they run in."""

    application: str
    published: str
    env: dict[str, str]

    def run(self, *command: str) -> None:
        """Run a program of the project beside the servers."""
        subprocess.run([sys.executable, *command], check=True, env={**os.environ, **self.env})


@pytest.fixture(scope="session")
def served(tmp_path_factory):
    base = urlsplit(os.environ["NAVREL_DATABASE_URL"])
    admin = base._replace(scheme="postgresql", path="/postgres").geturl()
    with psycopg.connect(admin, autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS navrel_e2e WITH (FORCE)")
        connection.execute("CREATE DATABASE navrel_e2e")
    ports = free_port(), free_port()
    env = {
        "NAVREL_DATABASE_URL": base._replace(path="/navrel_e2e").geturl(),
        "NAVREL_PUBLISHED_ORIGIN": f"http://127.0.0.1:{ports[1]}",
        "NAVREL_DEMO": "1",
    }
    found = Served(f"http://127.0.0.1:{ports[0]}", env["NAVREL_PUBLISHED_ORIGIN"], env)
    found.run("-m", "navrel.cli", "set-up")
    servers = [
        serve("navrel.server.wsgi", ports[0], {**os.environ, **env}),
        serve("navrel.server.delivery.wsgi", ports[1], {**os.environ, **env}),
    ]
    try:
        for name, server, port in zip(("application", "published site"), servers, ports, strict=True):
            wait_until_served(name, server, port)
        yield found
    finally:
        for server in servers:
            server.terminate()
        for server in servers:
            server.wait(timeout=20)


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def demo(served):
    """The demo site as it comes."""
    served.run(str(HERE / "reset.py"))
    return served


@pytest.fixture
def page(demo: Served, browser: Browser):
    """A signed-in window on the page list of the demo site. A script error fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=demo.application)
    window = context.new_page()
    errors: list[str] = []
    window.on("pageerror", lambda error: errors.append(str(error)))
    window.goto("/")
    window.get_by_role("button", name="Look around the demo").click()
    expect(window.get_by_role("grid")).to_be_visible()
    yield window
    context.close()
    assert errors == []


def cell(page: Page, title: str, target: str):
    """The cell of one page and one target in the page list."""
    return (
        page.get_by_role("row")
        .filter(has=page.get_by_label(f"Pick {title}", exact=True))
        .get_by_role("gridcell", name=f"{target}:")
    )


def search(page: Page, text: str) -> None:
    """Type into the query field of the page list."""
    page.get_by_label("Find pages").fill(text)


@pytest.fixture(scope="session")
def axe():
    """Run axe-core on a window: the serious findings, each with the elements concerned. Frames are left out."""
    source = (HERE.parents[1] / "frontend" / "node_modules" / "axe-core" / "axe.min.js").read_text()

    def findings(window: Page) -> list[str]:
        window.evaluate(source)
        found = window.evaluate("axe.run({exclude: ['iframe']}, {iframes: false})")
        return [
            f"{one['id']}: {', '.join(' '.join(node['target']) for node in one['nodes'][:3])}"
            for one in found["violations"]
            if one["impact"] in ("serious", "critical")
        ]

    return findings
