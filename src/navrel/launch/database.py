"""A PostgreSQL cluster of Navrel's own, on a free loopback port."""

from __future__ import annotations

import hashlib
import os
import secrets
import shutil
import socket
import subprocess
from contextlib import AbstractContextManager
from pathlib import Path
from types import TracebackType
from typing import Any

from .house import STATE, Stopped, is_root, say
from .tools import postgres_programs

#: The unprivileged user that Debian's package makes; the server refuses to run as root.
_UNPRIVILEGED = "postgres"


def free_port() -> int:
    """A loopback port that nothing uses now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Cluster(AbstractContextManager["Cluster"]):
    """A cluster with a name; entering starts it, leaving stops it.

    ``lasting`` False: speed before durability. A server that already runs is used; it is stopped at the end only
    with ``adopt``, for the launcher that knows itself to be the only one.
    """

    def __init__(self, name: str, *, lasting: bool = True, adopt: bool = False) -> None:
        self.name = name
        self.lasting = lasting
        self.stop_at_end = adopt
        self.programs = postgres_programs()
        self.home = _home(name)
        self.data = self.home / "data"
        self.port = 0

    @property
    def url(self) -> str:
        """The database URL for the Django settings."""
        return f"postgres://navrel:{(self.home / 'password').read_text()}@127.0.0.1:{self.port}/navrel"

    def __enter__(self) -> Cluster:
        if not (self.data / "PG_VERSION").exists():
            self._make()
        running = self._running_port()
        if running is None:
            self.port = free_port()
            self._start()
            self.stop_at_end = True
        else:
            self.port = running
        self._have_database()
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        if self.stop_at_end:
            self._program("pg_ctl", "stop", "-D", self.data, "-m", "fast", "-w", check=False)

    def _make(self) -> None:
        say("Making the database cluster …")
        shutil.rmtree(self.data, ignore_errors=True)
        password = self.home / "password"
        password.write_text(secrets.token_urlsafe(24))
        password.chmod(0o600)
        self._hand_over(password)
        self._program(
            "initdb", "-D", self.data, "-U", "navrel", "--auth=scram-sha-256", f"--pwfile={password}",
            "--encoding=UTF8", "--locale=C.UTF-8", "--no-instructions",
        )  # fmt: skip

    def _start(self) -> None:
        settings = {"listen_addresses": "127.0.0.1", "port": str(self.port), "unix_socket_directories": ""}
        if not self.lasting:
            settings |= {"fsync": "off", "synchronous_commit": "off", "full_page_writes": "off"}
        options = " ".join(f"-c {key}='{value}'" for key, value in settings.items())
        log = self.home / "log"
        try:
            self._program("pg_ctl", "start", "-D", self.data, "-l", log, "-w", "-t", "60", "-o", options)
        except Stopped:
            tail = log.read_text(errors="replace").strip().splitlines()[-1:] if log.exists() else []
            reason = tail[0] if tail else "it wrote no log"
            raise Stopped(f"The database in {self.data} does not start: {reason}") from None

    def _running_port(self) -> int | None:
        """The port of a server that an earlier launcher left running, if there is one."""
        if self._program("pg_ctl", "status", "-D", self.data, check=False):
            return None
        return int((self.data / "postmaster.pid").read_text().splitlines()[3])

    def _have_database(self) -> None:
        env = {"PGPASSWORD": (self.home / "password").read_text()}
        connect = ["-h", "127.0.0.1", "-p", str(self.port), "-U", "navrel"]
        listed = subprocess.run(
            [self.programs / "psql", *connect, "-d", "postgres", "-Atc", "SELECT datname FROM pg_database"],
            env={**os.environ, **env}, capture_output=True, text=True, check=False,
        )  # fmt: skip
        if listed.returncode:
            raise Stopped(f"The database does not answer: {listed.stderr.strip()}")
        if "navrel" not in listed.stdout.split():
            self._program("createdb", *connect, "navrel", env=env)

    def _hand_over(self, path: Path) -> None:
        if is_root():
            shutil.chown(path, _UNPRIVILEGED, _UNPRIVILEGED)

    def _program(self, name: str, *arguments: str | Path, check: bool = True, env: dict[str, str] | None = None) -> int:
        """Run one of the server's programs, as the unprivileged user where the launcher is root."""
        as_user: dict[str, Any] = (
            {"user": _UNPRIVILEGED, "group": _UNPRIVILEGED, "extra_groups": []} if is_root() else {}
        )
        with (self.home / "output").open("w+") as output:
            done = subprocess.run(
                [str(self.programs / name), *map(str, arguments)],
                cwd="/", env={**os.environ, **(env or {})}, stdin=subprocess.DEVNULL, stdout=output,
                stderr=subprocess.STDOUT, check=False, start_new_session=True, **as_user,
            )  # fmt: skip
            output.seek(0)
            if check and done.returncode:
                raise Stopped(f"{name} failed: {output.read().strip()}")
        return done.returncode


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
