"""What ./navrel can do."""

from __future__ import annotations

import os
import secrets
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Sequence
from types import FrameType

from .database import Cluster
from .house import FRONTEND, ROOT, STATE, Stopped, check_python, environment, prepare_state, run, say, venv_python
from .tools import chromium, front_end, virtual_environment

APPLICATION_PORT = 8420
PUBLISHED_PORT = 8421
_SERVER_COMMANDS = ("intake", "manage")


def main(arguments: Sequence[str]) -> None:
    """Run one command and exit with its code."""
    name, *rest = arguments or ["--help"]
    try:
        check_python()
        prepare_state()
        virtual_environment()
        match name:
            case "start":
                code = start()
            case "test":
                code = test(rest)
            case "screenshots" | "bench":
                code = with_database(name, rest)
            case _ if name in _SERVER_COMMANDS:
                code = on_the_site(arguments)
            case _:
                code = _call(["-m", "navrel.cli", *arguments])
    except Stopped as stopped:
        print(stopped, file=sys.stderr)
        code = 1
    except KeyboardInterrupt:
        code = 130
    sys.exit(code)


def start() -> int:
    """Set up what is missing, serve until Ctrl-C, stop everything."""
    for port in (APPLICATION_PORT, PUBLISHED_PORT):
        _port_is_free(port)
    front_end()
    with Cluster("postgres", adopt=True) as cluster:
        env = _server_environment(cluster)
        run([venv_python(), "-m", "navrel.cli", "set-up"], env=env)
        servers = {
            "application": serve("navrel.server.wsgi", APPLICATION_PORT, env),
            "published site": serve("navrel.server.delivery.wsgi", PUBLISHED_PORT, env),
        }
        try:
            for name, port in (("application", APPLICATION_PORT), ("published site", PUBLISHED_PORT)):
                wait_until_served(name, servers[name], port)
            say(f"Navrel           http://127.0.0.1:{APPLICATION_PORT}")
            say(f"Published site   http://127.0.0.1:{PUBLISHED_PORT}")
            say("Demo sign-in     demo / marrowick")
            say("Ctrl-C stops it; the data stays.")
            return _watch(servers)
        finally:
            for server in servers.values():
                server.terminate()
            for server in servers.values():
                server.wait(timeout=20)


def test(arguments: Sequence[str]) -> int:
    """All checks and tests, or with arguments pytest on part of them. The first failure decides the exit code."""
    browser = chromium()
    front_end()
    with Cluster("test-postgres", lasting=False) as cluster:
        env = {**_server_environment(cluster), "NAVREL_CHROMIUM": str(browser)}
        if arguments:
            return _call(["-m", "pytest", *arguments], env)
        return _all_tests(env)


def _all_tests(env: dict[str, str]) -> int:
    python = str(venv_python())
    steps: list[tuple[str, list[str], bool]] = [
        ("ruff", [python, "-m", "ruff", "check", "src", "tests"], False),
        ("ruff format", [python, "-m", "ruff", "format", "--check", "-q", "src", "tests"], False),
        ("mypy", [python, "-m", "mypy"], False),
        ("import-linter", [str(venv_python().parent / "lint-imports")], False),
        ("front end: types", ["npm", "run", "-s", "types"], True),
        ("front end: lint", ["npm", "run", "-s", "lint"], True),
        ("front end: tests", ["npm", "run", "-s", "test"], True),
        ("pytest", [python, "-m", "pytest"], False),
    ]
    failed = []
    for name, command, at_front in steps:
        say(f"— {name}")
        folder = FRONTEND if at_front else ROOT
        if subprocess.run(command, cwd=folder, env={**os.environ, **environment(), **env}, check=False).returncode:
            failed.append(name)
    if failed:
        say(f"Failed: {', '.join(failed)}")
    return 1 if failed else 0


def with_database(name: str, arguments: Sequence[str]) -> int:
    """Run a command on a database of its own, beside the one that is being edited."""
    browser = chromium()
    front_end()
    with Cluster("test-postgres", lasting=False) as cluster:
        env = {**_server_environment(cluster), "NAVREL_CHROMIUM": str(browser)}
        return _call(["-m", f"navrel_{name}", *arguments], {**env, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT / 'tools'}"})


def on_the_site(arguments: Sequence[str]) -> int:
    """Run a command of the server on the database that is being edited."""
    with Cluster("postgres") as cluster:
        env = _server_environment(cluster)
        return _call(["-m", "navrel.cli", *arguments], env)


def _server_environment(cluster: Cluster) -> dict[str, str]:
    key = STATE / "secret-key"
    if not key.exists():
        key.write_text(secrets.token_urlsafe(48))
        key.chmod(0o600)
    return {
        **environment(),
        "NAVREL_DATABASE_URL": cluster.url,
        "NAVREL_SECRET_KEY": key.read_text(),
        "NAVREL_DEMO": "1",
        "NAVREL_PUBLISHED_ORIGIN": f"http://127.0.0.1:{PUBLISHED_PORT}",
    }


def _call(arguments: Sequence[str], env: dict[str, str] | None = None) -> int:
    return subprocess.run(
        [str(venv_python()), *arguments], env={**os.environ, **environment(), **(env or {})}, check=False
    ).returncode


def serve(module: str, port: int, env: dict[str, str]) -> subprocess.Popen[bytes]:
    """Start one of the two servers on a loopback port, in a session of its own."""
    command = [
        str(venv_python()), "-m", "gunicorn", f"{module}:application", "--bind", f"127.0.0.1:{port}",
        "--workers", "2", "--threads", "4", "--timeout", "60", "--log-level", "warning", "--no-control-socket",
    ]  # fmt: skip
    # A session of its own, so that Ctrl-C reaches only the launcher, which then stops things in order.
    return subprocess.Popen(command, cwd=ROOT, env={**os.environ, **env}, start_new_session=True)


def _port_is_free(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            raise Stopped(
                f"Port {port} is in use, perhaps by another Navrel. End that program, then start again."
            ) from None


def wait_until_served(name: str, server: subprocess.Popen[bytes], port: int) -> None:
    """Wait until a server takes connections. Raises Stopped when it ends first or takes more than a minute."""
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        if server.poll() is not None:
            raise Stopped(f"The {name} ended while starting; its reason stands above.")
        with socket.socket() as probe:
            probe.settimeout(1)
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.05)
    raise Stopped(f"The {name} does not answer on port {port}.")


def _watch(servers: dict[str, subprocess.Popen[bytes]]) -> int:
    """Wait for Ctrl-C or SIGTERM, or for a server to end by itself."""

    def stop(number: int, frame: FrameType | None) -> None:
        raise KeyboardInterrupt

    signal.signal(signal.SIGTERM, stop)
    try:
        while True:
            for name, server in servers.items():
                if server.poll() is not None:
                    say(f"The {name} ended by itself (exit {server.returncode}).")
                    return 1
            time.sleep(0.2)
    except KeyboardInterrupt:
        say("Stopping …")
        return 0
