"""A PostgreSQL cluster of Navrel's own, on a free loopback port."""

from __future__ import annotations

import hashlib
import os
import secrets
import shutil
import signal
import socket
import subprocess
import time
from contextlib import AbstractContextManager
from pathlib import Path
from types import TracebackType
from typing import Any, BinaryIO

from .house import STATE, Stopped, is_root, progress
from .processes import start, stop
from .tools import postgres_programs

#: What the database of Navrel is called.
DATABASE = "navrel"
#: The unprivileged user that Debian's package makes; the server refuses to run as root.
_UNPRIVILEGED = "postgres"


def free_port() -> int:
    """A loopback port that nothing uses now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Cluster(AbstractContextManager["Cluster"]):
    """A cluster with a name; entering starts it, leaving stops it.

    ``lasting`` False: speed before durability. A server that already runs is used, and left running; with ``adopt``,
    for the launcher that knows itself to be the only one, it is what an earlier one left behind, and is ended first.
    """

    def __init__(self, name: str, *, lasting: bool = True, adopt: bool = False) -> None:
        self.name = name
        self.lasting = lasting
        self.adopt = adopt
        self.programs = postgres_programs()
        self.home = _home(name)
        self.data = self.home / "data"
        self.port = 0
        self.server: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        """The database URL for the Django settings."""
        return self.url_of(DATABASE)

    def url_of(self, database: str) -> str:
        """The URL of one of its databases."""
        return f"postgres://navrel:{(self.home / 'password').read_text()}@127.0.0.1:{self.port}/{database}"

    def __enter__(self) -> Cluster:
        if not (self.data / "PG_VERSION").exists():
            self._make()
        running = self._running_port()
        if running is not None and self.adopt:
            self._program("pg_ctl", "stop", "-D", self.data, "-m", "fast", "-w", check=False)
            running = None
        if running is None:
            self.port = free_port()
            self.start()
        else:
            self.port = running
        self._have_database()
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        if self.server is not None:
            # A fast shutdown: transactions under way are rolled back, connections closed.
            stop(self.server, signal.SIGINT, patience=30)

    @property
    def has_ended(self) -> bool:
        """Whether the server that was started here runs no more."""
        return self.server is not None and self.server.poll() is not None

    def _make(self) -> None:
        progress("Making the database cluster …")
        shutil.rmtree(self.data, ignore_errors=True)
        password = self.home / "password"
        password.write_text(secrets.token_urlsafe(24))
        password.chmod(0o600)
        self._hand_over(password)
        self._program(
            "initdb", "-D", self.data, "-U", "navrel", "--auth=scram-sha-256", f"--pwfile={password}",
            "--encoding=UTF8", "--locale=C.UTF-8", "--no-instructions",
        )  # fmt: skip

    def start(self) -> None:
        """Start the server on its port, and wait until it takes connections. Raises Stopped."""
        settings = {"listen_addresses": "127.0.0.1", "port": str(self.port), "unix_socket_directories": ""}
        if not self.lasting:
            settings |= {"fsync": "off", "synchronous_commit": "off", "full_page_writes": "off"}
        options = [option for key, value in settings.items() for option in ("-c", f"{key}={value}")]
        log = self.home / "log"
        with log.open("ab") as output:
            self.server = start(
                [self.programs / "postgres", "-D", self.data, *options],
                dies_by=signal.SIGINT, cwd="/", stdin=subprocess.DEVNULL, stdout=output, stderr=subprocess.STDOUT,
                **_unprivileged(),
            )  # fmt: skip
        ready = [str(self.programs / "pg_isready"), "-q", "-h", "127.0.0.1", "-p", str(self.port)]
        deadline = time.monotonic() + 60
        while subprocess.run(ready, check=False).returncode:
            if self.has_ended or time.monotonic() > deadline:
                tail = log.read_text(errors="replace").strip().splitlines()[-1:]
                raise Stopped(f"The database in {self.data} does not start: {tail[0] if tail else 'it wrote no log'}")
            time.sleep(0.05)

    def _running_port(self) -> int | None:
        """The port of a server that an earlier launcher left running, if there is one."""
        if self._program("pg_ctl", "status", "-D", self.data, check=False):
            return None
        return int((self.data / "postmaster.pid").read_text().splitlines()[3])

    def _have_database(self) -> None:
        if DATABASE not in self.ask("SELECT datname FROM pg_database", "postgres"):
            self.client("psql", "-d", "postgres", "-qc", f"CREATE DATABASE {DATABASE}")

    def ask(self, query: str, database: str = DATABASE) -> list[str]:
        """The lines that a query comes to. Raises Stopped."""
        return self.client("psql", "-d", database, "-Atc", query).decode().splitlines()

    def client(self, name: str, *arguments: str | Path, **files: BinaryIO) -> bytes:
        """Run one of PostgreSQL's clients; what it printed, where ``files`` do not say where to. Raises Stopped."""
        env = {**os.environ, "PGPASSWORD": (self.home / "password").read_text()}
        connect = ["-h", "127.0.0.1", "-p", str(self.port), "-U", "navrel"]
        given: dict[str, Any] = {"stdin": subprocess.DEVNULL, "stdout": subprocess.PIPE, **files}
        done = subprocess.run(
            [self.programs / name, *connect, *arguments], env=env, stderr=subprocess.PIPE, check=False, **given
        )
        if done.returncode:
            raise Stopped(f"{name} failed: {done.stderr.decode(errors='replace').strip()}")
        return done.stdout or b""

    def _hand_over(self, path: Path) -> None:
        if is_root():
            shutil.chown(path, _UNPRIVILEGED, _UNPRIVILEGED)

    def _program(self, name: str, *arguments: str | Path, check: bool = True, env: dict[str, str] | None = None) -> int:
        """Run one of the server's programs, as the unprivileged user where the launcher is root."""
        with (self.home / "output").open("w+") as output:
            done = subprocess.run(
                [str(self.programs / name), *map(str, arguments)],
                cwd="/", env={**os.environ, **(env or {})}, stdin=subprocess.DEVNULL, stdout=output,
                stderr=subprocess.STDOUT, check=False, start_new_session=True, **_unprivileged(),
            )  # fmt: skip
            output.seek(0)
            if check and done.returncode:
                raise Stopped(f"{name} failed: {output.read().strip()}")
        return done.returncode


def _unprivileged() -> dict[str, Any]:
    """For `Popen`: as whom the server's programs run, which refuse to run as root."""
    return {"user": _UNPRIVILEGED, "group": _UNPRIVILEGED, "extra_groups": []} if is_root() else {}


def _home(name: str) -> Path:
    """The cluster's folder: under .navrel, or under /var/lib when root starts it where other users cannot enter."""
    home = STATE / name
    home.mkdir(exist_ok=True)
    if not is_root():
        return home
    shutil.chown(home, _UNPRIVILEGED, _UNPRIVILEGED)
    home.chmod(0o700)
    reachable = subprocess.run(
        ["test", "-w", str(home)], user=_UNPRIVILEGED, group=_UNPRIVILEGED, extra_groups=[], cwd="/", check=False
    )
    if reachable.returncode == 0:
        return home
    place = hashlib.sha256(str(STATE).encode()).hexdigest()[:12]
    elsewhere = Path("/var/lib/navrel") / place / name
    elsewhere.mkdir(parents=True, exist_ok=True)
    shutil.chown(elsewhere, _UNPRIVILEGED, _UNPRIVILEGED)
    elsewhere.chmod(0o700)
    (home / "moved").write_text(f"{elsewhere}\n")
    return elsewhere
