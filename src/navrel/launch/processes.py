"""Processes that end with the launcher, however it ends; and telling whether one runs."""

from __future__ import annotations

import ctypes
import fcntl
import json
import os
import signal
import subprocess
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from .house import ROOT, STATE, Stopped

#: prctl(2): the signal that a process gets when the thread that started it ends.
_PR_SET_PDEATHSIG = 1
_libc = ctypes.CDLL(None, use_errno=True)

#: Who runs here, and where it serves; written by the launcher that holds the lock.
RUNNING = STATE / "running.json"


def ends_with_parent(number: int = signal.SIGTERM) -> Callable[[], None]:
    """For `Popen(preexec_fn=…)`: the process gets this signal when the launcher ends, even by SIGKILL."""

    def tie() -> None:
        _libc.prctl(_PR_SET_PDEATHSIG, number, 0, 0, 0)

    return tie


def start(
    command: Sequence[str | Path], *, env: Mapping[str, str] | None = None, dies_by: int = signal.SIGTERM, **more: Any
) -> subprocess.Popen[bytes]:
    """Start a program in a session of its own, so that Ctrl-C reaches only the launcher, which stops it in order."""
    return subprocess.Popen(
        [str(part) for part in command],
        env={**os.environ, **(env or {})},
        start_new_session=True,
        preexec_fn=ends_with_parent(dies_by),
        **{"cwd": ROOT, **more},
    )


def stop(process: subprocess.Popen[bytes], number: int = signal.SIGTERM, patience: float = 20) -> None:
    """End a process: by a signal, and where that takes too long by SIGKILL."""
    if process.poll() is None:
        process.send_signal(number)
    try:
        process.wait(timeout=patience)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()


@contextmanager
def alone(lock: Path, otherwise: Callable[[], str]) -> Iterator[None]:
    """Hold a lock that only one process can hold; raises Stopped with ``otherwise`` where another does.

    The lock goes when the process ends, however it ends.
    """
    with lock.open("a") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise Stopped(otherwise()) from None
        yield


@contextmanager
def in_turn(lock: Path) -> Iterator[None]:
    """Hold a lock, waiting for whoever holds it now."""
    with lock.open("a") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def tell_running(**about: Any) -> None:
    """Write down who runs here and where it serves."""
    RUNNING.write_text(json.dumps({"pid": os.getpid(), **about}))


def running() -> dict[str, Any] | None:
    """Who runs here: what `tell_running` wrote; None where no launcher runs."""
    try:
        about = json.loads(RUNNING.read_text())
        command = Path(f"/proc/{about['pid']}/cmdline").read_bytes()
    except (OSError, ValueError, KeyError):
        return None
    return about if b"navrel" in command else None


def wait_until_gone(pid: int, patience: float = 60) -> bool:
    """Wait until a process has ended; whether it has."""
    deadline = time.monotonic() + patience
    while _is_alive(pid):
        if time.monotonic() > deadline:
            return False
        time.sleep(0.1)
    return True


def _is_alive(pid: int) -> bool:
    """Whether a process runs; one that has ended and waits for its parent to notice does not."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False
