"""A very large site where it is served: a new process's first page, and what a publication takes from its readers."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from functools import partial
from pathlib import Path
from threading import Event

from navrel_rehearsal import Stage, rehearse, served_revision

PAGES, RULES, PUBLICATIONS = 100_000, 1_000, 10
#: Between two questions of the one reader, in seconds.
_PAUSE = 0.005
#: So many seconds it is asked with nothing published: what the machine holds up by itself.
_ALONE = 20.0
#: After so many seconds a revision is not served any more.
_LONGEST = 120.0
HERE = Path(__file__).parent

Measured = Iterator[tuple[str, float, float, str, bool, str]]


def measure() -> Measured:
    """CPU seconds, waits and memory of the processes that serve it."""
    made = f"{PAGES:,} pages, {RULES:,} rules"
    # Readers get what was there before while what is new is made ready, as they do where nothing else is said.
    with rehearse("navrel_bench_published", {"NAVREL_READERS_WAIT": "0"}) as stage:
        stage.run(str(HERE / "put_pages.py"), str(PAGES), str(RULES))
        with stage.beside(str(HERE / "publish_lines.py")) as publisher:
            assert publisher.stdin is not None and publisher.stdout is not None
            asked, answers = publisher.stdin, publisher.stdout

            def publish(line: object) -> None:
                asked.write(f"{line}\n")
                asked.flush()
                _wait_for(stage, int(answers.readline()))

            publish("first")
            first, parsed = _first_request(stage)
            detail = f"{made}: {first:.2f} s of CPU, {parsed:.2f} s to unpack and parse its archive alone; best of 3"
            yield "first_request", first / parsed, 4, "times", True, detail
            before = _memory(stage)
            alone, _ = _waits_while(stage, lambda: time.sleep(_ALONE))
            waits, stood = _waits_while(stage, partial(_publish_all, publish))
            after = _memory(stage)
            asked.close()
    middle, slowest = statistics.median(waits) * 1000, max(waits) * 1000
    detail = (
        f"{made}; {len(waits):,} answers through {PUBLICATIONS} publications: median {middle:.1f} ms, "
        f"slowest {slowest:.0f} ms ({max(alone) * 1000:.0f} ms with nothing published), "
        f"{stood * 1000:.0f} ms aside in which a processor stood still"
    )
    yield "publication_stall", slowest / middle, 10, "times", True, detail
    detail = f"{made}: {before:.0f} MiB in all after one publication, {after:.0f} after {PUBLICATIONS} more"
    yield "delivery_memory", after / before, 1.2, "times", True, detail


def _first_request(stage: Stage) -> tuple[float, float]:
    """CPU seconds of the first page of a new process, and of reading its archive as JSON alone: the least of each."""
    command = [sys.executable, str(HERE / "first_request.py")]
    env = {**os.environ, **stage.env}
    said = [subprocess.run(command, capture_output=True, text=True, check=True, env=env).stdout for _ in range(3)]
    firsts, parsed = zip(*(map(float, one.split()) for one in said), strict=True)
    return min(firsts), min(parsed)


def _wait_for(stage: Stage, number: int) -> None:
    """Wait until each process serves a revision: many answers in a row are of it."""
    until = time.monotonic() + _LONGEST
    in_a_row = 0
    while in_a_row < 20:
        in_a_row = in_a_row + 1 if served_revision(stage.published) == number else 0
        if time.monotonic() > until:
            raise RuntimeError(f"Revision {number} is not served")
        time.sleep(_PAUSE)


def _publish_all(publish: Callable[[object], None]) -> None:
    for number in range(PUBLICATIONS):
        publish(number)


def _waits_while(stage: Stage, work: Callable[[], object]) -> tuple[list[float], float]:
    """How long each answer took, in seconds, while some work is done; and what was left out of all of them.

    That is the time in which a processor stood still: a process on it that does nothing but wait was late too.
    """
    ended = Event()
    asked: list[tuple[float, float]] = []

    def visit() -> None:
        while not ended.is_set():
            begun = time.monotonic()
            served_revision(stage.published)
            asked.append((begun, time.monotonic()))
            time.sleep(_PAUSE)

    with ExitStack() as stack:
        watching = [
            stack.enter_context(stage.beside(str(HERE / "still.py"), str(one))) for one in os.sched_getaffinity(0)
        ]
        pool = stack.enter_context(ThreadPoolExecutor(1))
        visits = pool.submit(visit)
        try:
            work()
        finally:
            ended.set()
        visits.result(60)
        still = _merged(
            tuple(map(float, line.split())) for one in watching for line in one.communicate("")[0].splitlines()
        )
    left_out = [sum(max(0.0, min(end, to) - max(begun, since)) for since, to in still) for begun, end in asked]
    return [end - begun - out for (begun, end), out in zip(asked, left_out, strict=True)], sum(left_out)


def _merged(spans: Iterable[tuple[float, ...]]) -> list[tuple[float, float]]:
    """Spans of time, those that overlap as one."""
    found: list[tuple[float, float]] = []
    for since, to in sorted(spans):
        if found and since <= found[-1][1]:
            found[-1] = found[-1][0], max(to, found[-1][1])
        else:
            found.append((since, to))
    return found


def _memory(stage: Stage) -> float:
    """The resident memory of all processes of the published site, in MiB (proc(5))."""
    server = stage.servers["published site"].pid
    family = [server, *map(int, Path(f"/proc/{server}/task/{server}/children").read_text().split())]
    pages = sum(int(Path(f"/proc/{one}/statm").read_text().split()[1]) for one in family)
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20
