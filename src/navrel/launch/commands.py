"""What ./navrel can do."""

from __future__ import annotations

import contextlib
import errno
import os
import secrets
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from types import FrameType

from .database import Cluster, free_port
from .house import (
    FRONTEND,
    ROOT,
    STATE,
    Stopped,
    check_python,
    environment,
    prepare_state,
    progress,
    run,
    say,
    venv_python,
)
from .options import APPLICATION_PORT, LOOPBACK, PUBLISHED_PORT, StartOptions, start_options, stop_options, test_help
from .processes import RUNNING, alone, in_turn, running, tell_running, wait_until_gone
from .processes import start as start_process
from .processes import stop as stop_process
from .tools import chromium, front_end, virtual_environment

_SERVER_COMMANDS = ("intake", "manage")
#: Ports after the usual one that are tried where nobody named one.
_MOST_PORTS = 50


def main(arguments: Sequence[str]) -> None:
    """Run one command and exit with its code."""
    name, *rest = arguments or ["--help"]
    try:
        check_python()
        match name:
            case "-h" | "--help":
                # Help is there before anything is installed.
                help_only = [sys.executable, "-m", "navrel.cli", "--help"]
                code = subprocess.run(help_only, env={**os.environ, **environment()}, check=False).returncode
            case "start":
                code = start(start_options(rest))
            case "dev":
                code = start(start_options(rest), dev=True)
            case "stop":
                stop_options(rest)
                code = end()
            case "test":
                test_help(rest)
                prepare()
                code = test(rest)
            case "screenshots" | "bench":
                prepare()
                code = with_database(name, rest)
            case "api":
                prepare()
                build()
                code = write_api()
            case "faults":
                prepare()
                build()
                code = _tool(name, rest)
            case "mutants":
                prepare()
                code = _tool(name, rest)
            case _ if name in _SERVER_COMMANDS:
                prepare()
                code = on_the_site(arguments)
            case _:
                prepare()
                code = _call(["-m", "navrel.cli", *arguments])
    except Stopped as stopped:
        print(stopped, file=sys.stderr)
        code = 1
    except OSError as error:
        # A full disk, a folder that cannot be written: what the system says of it, in one line.
        print(f"{error.strerror or error}{f': {error.filename}' if error.filename else ''}", file=sys.stderr)
        code = 1
    except KeyboardInterrupt:
        code = 130
    sys.exit(code)


def prepare() -> None:
    """Have the folder of what Navrel keeps, and the virtual environment; two launchers take turns."""
    prepare_state()
    with in_turn(STATE / "setting-up"):
        virtual_environment()


def build() -> None:
    """Have the front end built; two launchers take turns."""
    with in_turn(STATE / "setting-up"):
        front_end()


def start(options: StartOptions, *, dev: bool = False) -> int:
    """Set up what is missing, serve until Ctrl-C, stop everything. ``dev``: changes show without a new start."""
    prepare_state()
    with alone(STATE / "lock", _who_runs):
        prepare()
        ports = {
            "application": _choose_port(options.host, options.port, APPLICATION_PORT),
            "published site": _choose_port(options.host, options.public_port, PUBLISHED_PORT),
        }
        if len(set(ports.values())) < len(ports):
            raise Stopped("The application and the published site need two ports; give them different ones.")
        build()
        with _stopping_on_signals(), Cluster("postgres", adopt=True) as cluster:
            _serve_until_stopped(options.host, ports, cluster, dev=dev)
    return 0


def _serve_until_stopped(host: str, ports: dict[str, int], cluster: Cluster, *, dev: bool) -> None:
    shown = {name: f"http://{_reachable(host)}:{port}" for name, port in ports.items()}
    env = _server_environment(cluster, host, ports["application"], shown["published site"])
    run([venv_python(), "-m", "navrel.cli", "set-up"], env=env)
    servers: dict[str, subprocess.Popen[bytes]] = {}
    front_port = free_port()

    def again(name: str) -> subprocess.Popen[bytes]:
        if name == FRONT_END:
            return serve_front_end(front_port, shown["application"])
        return serve(MODULES[name], ports[name], env, host, reload=dev)

    try:
        for name in (*ports, *([FRONT_END] if dev else [])):
            servers[name] = again(name)
        for name, port in ports.items():
            wait_until_served(name, servers[name], port, host)
        tell_running(**shown)
        say(f"Navrel           {shown['application']}")
        say(f"Published site   {shown['published site']}")
        say("Demo sign-in     demo / marrowick")
        if dev:
            say(f"While you write   http://{LOOPBACK}:{front_port}")
        say("Ctrl-C stops it, or ./navrel stop; the data stays.")
        _watch(servers, cluster, again)
    except _Ended:
        say("Stopping …")
    finally:
        # From here on another Ctrl-C would only leave things behind.
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        RUNNING.unlink(missing_ok=True)
        for server in servers.values():
            with contextlib.suppress(ProcessLookupError):
                server.terminate()
        for server in servers.values():
            stop_process(server)


#: What Vite serves while the front end is being written.
FRONT_END = "front end"
#: What each of the two servers serves.
MODULES = {"application": "navrel.server.wsgi", "published site": "navrel.server.delivery.wsgi"}


def end() -> int:
    """End the Navrel that runs in this folder, and wait for it."""
    about = running()
    if about is None:
        say("Nothing runs here.")
        return 0
    with contextlib.suppress(ProcessLookupError):
        os.kill(about["pid"], signal.SIGTERM)
    if not wait_until_gone(about["pid"]):
        raise Stopped(f"Process {about['pid']} does not end. Look at what it is doing, then try again.")
    say("Stopped.")
    return 0


def _who_runs() -> str:
    about = running()
    if about is None:
        return "Another ./navrel start is setting up in this folder. Wait for it, or end it first."
    return (
        f"Navrel runs here already, as process {about['pid']}: {about['application']}, "
        f"the published site on {about['published site']}. ./navrel stop ends it."
    )


class _Ended(Exception):
    """Somebody asked the launcher to end."""


@contextlib.contextmanager
def _stopping_on_signals() -> Iterator[None]:
    """Turn Ctrl-C and SIGTERM into an exception, so that everything is stopped in order."""

    def ended(number: int, frame: FrameType | None) -> None:
        raise _Ended

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, ended)
    with contextlib.suppress(_Ended):
        yield


def test(arguments: Sequence[str]) -> int:
    """All checks and tests, or with arguments pytest on part of them. The first failure decides the exit code."""
    browser = chromium()
    build()
    with Cluster("test-postgres", lasting=False) as cluster:
        env = {**_server_environment(cluster), "NAVREL_CHROMIUM": str(browser)}
        if arguments:
            return _call(["-m", "pytest", *arguments], env)
        return _all_tests(env)


def _all_tests(env: dict[str, str]) -> int:
    python = str(venv_python())
    steps: list[tuple[str, list[str], bool]] = [
        ("ruff", [python, "-m", "ruff", "check", "src", "tests", "tools"], False),
        ("ruff format", [python, "-m", "ruff", "format", "--check", "-q", "src", "tests", "tools"], False),
        ("mypy", [python, "-m", "mypy"], False),
        ("import-linter", [str(venv_python().parent / "lint-imports")], False),
        ("front end: types", ["npm", "run", "-s", "types"], True),
        ("front end: lint", ["npm", "run", "-s", "lint"], True),
        ("front end: tests", ["npm", "run", "-s", "test"], True),
        ("pytest", [python, "-m", "pytest", "-n", "2", "--dist", "loadgroup"], False),
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
    build()
    with Cluster("test-postgres", lasting=False) as cluster:
        return _tool(name, arguments, {**_server_environment(cluster), "NAVREL_CHROMIUM": str(browser)})


def write_api() -> int:
    """Write the API's schema, and the front end's types from it, anew."""
    target = str(ROOT / "docs" / "openapi.json")
    schema = ["--file", target, "--format", "openapi-json"]
    settings = ["--settings", "navrel.server.settings.app"]
    code = _call(["-m", "django", "spectacular", *settings, *schema])
    if code:
        return code
    env = {**os.environ, **environment()}
    return subprocess.run(["npm", "run", "-s", "api"], cwd=FRONTEND, env=env, check=False).returncode


def on_the_site(arguments: Sequence[str]) -> int:
    """Run a command of the server on the database that is being edited."""
    with Cluster("postgres") as cluster:
        env = _server_environment(cluster)
        return _call(["-m", "navrel.cli", *arguments], env)


def _server_environment(
    cluster: Cluster, host: str = LOOPBACK, port: int = APPLICATION_PORT, published: str = ""
) -> dict[str, str]:
    key = STATE / "secret-key"
    if not key.exists():
        key.write_text(secrets.token_urlsafe(48))
        key.chmod(0o600)
    hosts = dict.fromkeys((LOOPBACK, "localhost", host, _reachable(host)))
    return {
        **environment(),
        "NAVREL_DATABASE_URL": cluster.url,
        "NAVREL_SECRET_KEY": key.read_text(),
        "NAVREL_DEMO": "1",
        "NAVREL_HOSTS": ",".join(hosts),
        # Cookies know no ports: two applications on one host would sign each other out.
        "NAVREL_COOKIE_SUFFIX": str(port),
        "NAVREL_PUBLISHED_ORIGIN": published or f"http://{LOOPBACK}:{PUBLISHED_PORT}",
    }


def _reachable(host: str) -> str:
    """The name under which a browser reaches what is served on an address."""
    return socket.gethostname() if host in ("0.0.0.0", "::") else host  # noqa: S104


def _call(arguments: Sequence[str], env: dict[str, str] | None = None) -> int:
    return subprocess.run(
        [str(venv_python()), *arguments], env={**os.environ, **environment(), **(env or {})}, check=False
    ).returncode


def _tool(name: str, arguments: Sequence[str], env: dict[str, str] | None = None) -> int:
    """Run one of the programs under ``tools``."""
    path = {"PYTHONPATH": f"{ROOT / 'src'}:{ROOT / 'tools'}"}
    return _call(["-m", f"navrel_{name}", *arguments], {**(env or {}), **path})


def serve(
    module: str, port: int, env: dict[str, str], host: str = LOOPBACK, *, reload: bool = False
) -> subprocess.Popen[bytes]:
    """Start one of the two servers on a port; with ``reload`` it starts anew whenever its sources change."""
    command = [
        str(venv_python()), "-m", "gunicorn", f"{module}:application", "--bind", f"{host}:{port}",
        "--workers", "2", "--threads", "4", "--timeout", "60", "--graceful-timeout", "10", "--log-level", "warning",
        "--no-control-socket", *(["--reload"] if reload else []),
    ]  # fmt: skip
    return start_process(command, env=env)


def serve_front_end(port: int, application: str) -> subprocess.Popen[bytes]:
    """Start Vite, which serves the front end as it is being written, and asks the application for all else."""
    command = ["npx", "vite", "--host", LOOPBACK, "--port", str(port), "--strictPort"]
    return start_process(command, cwd=FRONTEND, env={**environment(), "NAVREL_APPLICATION": application})


def _choose_port(host: str, wanted: int | None, usual: int) -> int:
    """The port that somebody named, or the usual one, or where that is taken a free one after it."""
    if wanted is not None:
        if not _is_free(host, wanted):
            raise Stopped(f"Port {wanted} is in use. End the program that has it, or name another port.")
        return wanted
    for port in range(usual, usual + 2 * _MOST_PORTS, 2):
        if _is_free(host, port):
            if port != usual:
                progress(f"Port {usual} is in use, perhaps by another Navrel; this one takes {port}.")
            return port
    return free_port()


def _is_free(host: str, port: int) -> bool:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except socket.gaierror:
            raise Stopped(f"There is no address {host} on this machine.") from None
        except PermissionError:
            raise Stopped(f"Port {port} is for root alone; name one from 1024 on.") from None
        except OSError as error:
            if error.errno == errno.EADDRNOTAVAIL:
                raise Stopped(f"There is no address {host} on this machine.") from None
            return False
    return True


def wait_until_served(name: str, server: subprocess.Popen[bytes], port: int, host: str = LOOPBACK) -> None:
    """Wait until a server takes connections. Raises Stopped when it ends first or takes more than a minute."""
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        if server.poll() is not None:
            raise Stopped(f"The {name} ended while starting; its reason stands above.")
        with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
            probe.settimeout(1)
            if probe.connect_ex((host, port)) == 0:
                return
        time.sleep(0.05)
    raise Stopped(f"The {name} does not answer on port {port}.")


#: A server that ends so often within a minute is not started again: something is wrong with it.
_MOST_RESTARTS = 10


def _watch(
    servers: dict[str, subprocess.Popen[bytes]], cluster: Cluster, again: Callable[[str], subprocess.Popen[bytes]]
) -> None:
    """Until somebody asks to end: start again what has ended by itself."""
    ended: list[float] = []
    while True:
        gone = [name for name, server in servers.items() if server.poll() is not None]
        if gone or cluster.has_ended:
            now = time.monotonic()
            ended = [*(moment for moment in ended if now - moment < 60), now]
            if len(ended) > _MOST_RESTARTS:
                raise Stopped("Something ends again and again; its reason stands above.")
        if cluster.has_ended:
            progress("The database ended by itself; starting it again …")
            _start_again(cluster)
        for name in gone:
            progress(f"The {name} ended by itself; starting it again …")
            servers[name] = again(name)
        time.sleep(0.1)


def _start_again(cluster: Cluster) -> None:
    """Start the database after it died; its last processes may hold on to its memory for a moment."""
    deadline = time.monotonic() + 20
    while True:
        try:
            return cluster.start()
        except Stopped:
            if time.monotonic() > deadline:
                raise
            time.sleep(0.2)
