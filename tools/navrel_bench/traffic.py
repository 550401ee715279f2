"""Readers of the published site while it is published again and again: how long the slowest of them waits."""

from __future__ import annotations

import json
import re
import statistics
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from navrel_faults.installation import Installation

REQUESTS, AT_ONCE, PUBLICATIONS = 2_000, 8, 10
PATHS = ("/about", "/help", "/routes", "/contact", "/tickets")


def measure() -> Iterator[tuple[str, float, float, str, bool, str]]:
    """The slowest answer over the median, through ten publications; errors and mixed pages end it."""
    with tempfile.TemporaryDirectory() as folder:
        here = Installation(Path(folder))
        here.start()
        try:
            here.sign_in()
            _publish(here, 0)
            for path in PATHS:
                here.visit(path)
            waits, states = _visit_while_publishing(here)
        finally:
            here.end()
    middle, slowest = statistics.median(waits), max(waits)
    detail = (
        f"{len(waits):,} requests, {AT_ONCE} at once, {PUBLICATIONS} publications, {states} states seen, none mixed: "
        f"median {middle * 1000:.0f} ms, slowest {slowest * 1000:.0f} ms"
    )
    yield "publication_tail", slowest / middle, 10, "×", True, detail


def _visit_while_publishing(here: Installation) -> tuple[list[float], int]:
    """How long each request took, in seconds, and how many published states were seen."""
    waits: list[float] = []
    seen: set[bytes] = set()

    def visit(number: int) -> None:
        begun = time.perf_counter()
        status, html = here.visit(PATHS[number % len(PATHS)])
        waits.append(time.perf_counter() - begun)
        numbers = re.findall(rb"Crossing (\d+)", html)
        if status != 200 or len(numbers) != 2 or len(set(numbers)) != 1:
            raise RuntimeError(f"{status}, of the publications {numbers}")
        seen.add(numbers[0])

    with ThreadPoolExecutor(AT_ONCE) as pool:
        visits = [pool.submit(visit, number) for number in range(REQUESTS)]
        for number in range(1, PUBLICATIONS + 1):
            _publish(here, number)
        for one in visits:
            one.result(120)
    return waits, len(seen)


def _publish(here: Installation, number: int) -> None:
    """Write the number of a publication into header and footer, and publish both in one revision."""
    for slug in ("main-header", "site-footer"):
        piece = json.loads(here.ask(f"/api/sites/marrowick/pieces/{slug}")[1])
        body = {**piece, "content": {"items": [{"type": "text", "text": f"Crossing {number}"}]}}
        _done(here.ask(f"/api/sites/marrowick/pieces/{slug}", "PUT", body, version=piece["version"]))
    version = json.loads(here.ask("/api/sites/marrowick/impact")[1])["version"]
    _done(here.ask("/api/sites/marrowick/revisions", "POST", {"version": version}))


def _done(answer: tuple[int, bytes]) -> None:
    status, body = answer
    if status not in (200, 201):
        raise RuntimeError(f"{status}: {body.decode(errors='replace')}")
