"""The published site under load, against an empty view of the same server; and as files."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from navrel_faults.installation import free_port
from navrel_rehearsal import Stage, rehearse
from navrel_rehearsal.nginx import nginx

from navrel.launch.serving import serve, wait_until_served

#: Each is asked so many times in turn, for so many seconds, by so many at once; the best of them counts.
ROUNDS, SECONDS, AT_ONCE = 3, 3, 8
_PATH = "/about"
_LAYOUT = f"/-/layout/v1/marrowick?path={_PATH}&html=yes"


def measure() -> Iterator[tuple[str, float, float, str, bool, str]]:
    """How many requests a second of each kind, over those that an empty view answers."""
    with rehearse("navrel_bench_delivery") as stage, _empty() as empty:
        asked = urllib.request.urlopen(f"{stage.published}{_PATH}", timeout=20)  # noqa: S310
        tag = asked.headers["ETag"]
        kinds = {
            "empty": (empty, ()),
            "published": (f"{stage.published}{_PATH}", ("Accept-Encoding: gzip",)),
            "layout": (f"{stage.published}{_LAYOUT}", (f"Authorization: Bearer {_token(stage)}",)),
            "unchanged": (f"{stage.published}{_PATH}", (f"If-None-Match: {tag}",)),
        }
        best = dict.fromkeys(kinds, 0.0)
        for _ in range(ROUNDS):
            for kind, (address, headers) in kinds.items():
                best[kind] = max(best[kind], _rate(address, headers))
        exported = _export(stage)
    told = f"requests a second, best of {ROUNDS}: empty {best['empty']:,.0f}"
    for kind, goal in (("published", 0.7), ("layout", 0.7), ("unchanged", 0.9)):
        detail = f"{told}, {kind} {best[kind]:,.0f}; wrk, {AT_ONCE} at once"
        yield f"{kind}_vs_empty", best[kind] / best["empty"], goal, "×", False, detail
    yield exported
    yield from _behind_nginx()


_INCLUDES = "".join(f'<!--#include virtual="/-/include/slots/{slot}" -->' for slot in ("header", "aside-end", "footer"))


def _behind_nginx() -> Iterator[tuple[str, float, float, str, bool, str]]:
    """How many pages a second nginx gives that Navrel has drawn, or parts of them, over files of the same size."""
    edge = {"NAVREL_EDGE": "1", "NAVREL_SHARED_MAX_AGE": "86400"}
    with rehearse("navrel_bench_edge", edge) as stage, tempfile.TemporaryDirectory() as name:
        folder, navrel = Path(name), stage.published.removeprefix("http://")
        (folder / "pages").mkdir()
        with nginx(folder, navrel, _token(stage), folder / "pages") as server:
            kept, own, static = (server.origins[site] for site in ("published-site", "own-pages", "static"))
            (folder / "pages" / "about.html").write_text(f"<!doctype html><title>Own</title>{_INCLUDES}")
            addresses = {"cached": f"{kept}{_PATH}", "included": f"{own}{_PATH}"}
            for kind, address in addresses.items():
                with urllib.request.urlopen(address, timeout=20) as answer:  # noqa: S310
                    (folder / "pages" / f"{kind}.bin").write_bytes(answer.read())
            best = dict.fromkeys(("cached", "included", "cached file", "included file"), 0.0)
            for _ in range(ROUNDS):
                for kind, address in addresses.items():
                    best[kind] = max(best[kind], _rate(address, ()))
                    best[f"{kind} file"] = max(best[f"{kind} file"], _rate(f"{static}/{kind}.bin", ()))
    for kind, goal in (("cached", 0.5), ("included", 0.3)):
        file = best[f"{kind} file"]
        detail = (
            f"requests a second, best of {ROUNDS}: {best[kind]:,.0f} against {file:,.0f} of a file of as many bytes"
        )
        yield f"{kind}_vs_static", best[kind] / file, goal, "×", False, detail


def _token(stage: Stage) -> str:
    """A token that asks for published layouts."""
    with stage.beside("-c", _MAKES_ONE) as program:
        return program.communicate(timeout=60)[0].strip()


_MAKES_ONE = """
import os
os.environ["DJANGO_SETTINGS_MODULE"] = "navrel.server.settings.app"
import django
django.setup()
from django.contrib.auth import get_user_model
from navrel.server.accounts.tokens import make_token
from navrel.server.inventory.models import Site
user = get_user_model().objects.get(username="demo")
print(make_token(user, Site.objects.get(slug="marrowick"), "bench", "published", 1)[1])
"""


def _export(stage: Stage) -> tuple[str, float, float, str, bool, str]:
    """How long an export takes, over drawing the same pages in one process without writing them."""
    env = {"DJANGO_SETTINGS_MODULE": "navrel.server.settings.app", **os.environ, **stage.env}
    command = [sys.executable, str(Path(__file__).parent / "write_files.py")]
    said = subprocess.run(command, capture_output=True, text=True, check=True, env=env).stdout
    drawing, export = map(float, said.split())
    detail = f"10,000 arranged pages: drawn in {drawing:.1f} s by one process, exported in {export:.1f} s"
    return "export_rate", export / drawing, 0.8, "×", True, detail


@contextmanager
def _empty() -> Iterator[str]:
    port = free_port()
    paths = os.pathsep.join((str(Path(__file__).parents[1]), os.environ.get("PYTHONPATH", "")))
    server = serve("navrel_bench.empty", port, {**os.environ, "PYTHONPATH": paths})
    try:
        wait_until_served("empty view", server, port)
        yield f"http://127.0.0.1:{port}/"
    finally:
        server.terminate()
        server.wait(timeout=20)


def _rate(address: str, headers: tuple[str, ...]) -> float:
    """Answers a second. Raises RuntimeError where any was an error."""
    more = [part for header in headers for part in ("-H", header)]
    command = ["wrk", "-t1", f"-c{AT_ONCE}", f"-d{SECONDS}s", *more, address]
    said = subprocess.run(command, capture_output=True, text=True, check=True, timeout=SECONDS + 30).stdout
    rate = re.search(r"Requests/sec:\s+([\d.]+)", said)
    if rate is None or "Non-2xx" in said or "Socket errors" in said:
        raise RuntimeError(said)
    return float(rate[1])
