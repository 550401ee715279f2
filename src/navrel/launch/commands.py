"""What ./navrel can do."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from types import FrameType

from .backup import RestoreOptions, backup_options, opened_backup, read_backup, restore_options, write_backup
from .database import Cluster, free_port
from .house import (
    FRONTEND,
    INSTALLED,
    ROOT,
    STATE,
    Stopped,
    check_python,
    environment,
    is_demo,
    prepare_state,
    run,
    say,
    set_demo,
    venv_python,
)
from .options import APPLICATION_PORT, LOOPBACK, PUBLISHED_PORT, StartOptions, start_options, stop_options, test_help
from .processes import RUNNING, alone, in_turn, running, tell_running, wait_until_gone
from .processes import stop as stop_process
from .serving import (
    CLOCK,
    FRONT_END,
    MODULES,
    choose_port,
    counts,
    reachable,
    serve,
    serve_clock,
    serve_front_end,
    server_environment,
    wait_until_served,
    watch,
)
from .tools import chromium, edges, front_end, load_generator, virtual_environment

_SERVER_COMMANDS = ("export", "intake", "layout", "site", "manage", "publish")


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
            case "build":
                prepare()
                build()
                say("Everything is installed and built. ./navrel start serves it.")
                code = 0
            case "backup":
                code = backup(backup_options(rest))
            case "restore":
                code = restore(restore_options(rest))
            case "wheel":
                prepare()
                code = wheel()
            case "mutants":
                prepare()
                code = mutants(rest)
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
    with in_turn(INSTALLED / "setting-up"):
        virtual_environment()


def build() -> None:
    """Have the front end built; two launchers take turns."""
    with in_turn(INSTALLED / "setting-up"):
        front_end()


def start(options: StartOptions, *, dev: bool = False) -> int:
    """Set up what is missing, serve until Ctrl-C, stop everything. ``dev``: changes show without a new start."""
    prepare_state()
    with alone(STATE / "lock", _who_runs):
        prepare()
        if options.empty is not None:
            set_demo(not options.empty)
        ports = {
            "application": choose_port(options.host, options.port, APPLICATION_PORT),
            "published site": choose_port(options.host, options.public_port, PUBLISHED_PORT),
        }
        site_ports = {slug: choose_port(options.host, port, port) for slug, port in options.site_ports.items()}
        if len({*ports.values(), *site_ports.values()}) < len(ports) + len(site_ports):
            raise Stopped("The application, the published site and single sites need ports of their own.")
        build()
        with _stopping_on_signals(), Cluster("postgres", adopt=True) as cluster, counts() as counted:
            _serve_until_stopped(options, ports, site_ports, cluster, counted, dev=dev)
    return 0


def _serve_until_stopped(
    options: StartOptions,
    ports: dict[str, int],
    site_ports: dict[str, int],
    cluster: Cluster,
    counted: str,
    *,
    dev: bool,
) -> None:
    host, prefixes = options.host, options.site_prefixes
    shown = {name: f"http://{reachable(host)}:{port}" for name, port in ports.items()}
    env = server_environment(
        cluster, host, ports["application"], shown["published site"], demo=is_demo(), site_ports=site_ports,
        site_prefixes=prefixes,
    )  # fmt: skip
    env["PROMETHEUS_MULTIPROC_DIR"] = counted
    run([venv_python(), "-m", "navrel.cli", "set-up"], env=env)
    first_account = run([venv_python(), "-m", "navrel.cli", "first-account"], env=env).strip()
    servers: dict[str, subprocess.Popen[bytes]] = {}
    front_port = free_port()

    def again(name: str) -> subprocess.Popen[bytes]:
        if name == FRONT_END:
            return serve_front_end(front_port, shown["application"])
        if name == CLOCK:
            return serve_clock(env)
        more = site_ports.values() if name == "published site" else ()
        return serve(MODULES[name], ports[name], env, host, more_ports=more, reload=dev)

    try:
        for name in (*ports, CLOCK, *([FRONT_END] if dev else [])):
            servers[name] = again(name)
        for name, port in ports.items():
            wait_until_served(name, servers[name], port, host)
        tell_running(**shown)
        say(f"Navrel           {shown['application']}")
        say(f"Published site   {shown['published site']}")
        for slug, port in site_ports.items():
            say(f"{slug:<17}http://{reachable(host)}:{port}")
        for slug, path in prefixes.items():
            say(f"{slug:<17}{shown['published site']}{path}/")
        if is_demo():
            say("Demo sign-in     demo / marrowick")
        if first_account:
            say(f"First account    {shown['application']}{first_account}")
        if dev:
            say(f"While you write   http://{LOOPBACK}:{front_port}")
        say("Ctrl-C stops it, or ./navrel stop; the data stays.")
        watch(servers, cluster, again)
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


#: A check: what it is called, its command, and the folder that it runs in.
Step = tuple[str, list[str], Path]

#: Two tests at a time; an ``-n`` or ``--pdb`` that comes after has its way.
PYTEST = ["-m", "pytest", "-n", "2", "--dist", "loadgroup"]


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
    edges()
    build()
    with Cluster("test-postgres", lasting=False) as cluster:
        env = {**server_environment(cluster), "NAVREL_CHROMIUM": str(browser)}
        if arguments:
            return _call([*PYTEST, *arguments], env)
        return _all_tests(env)


def _all_tests(env: dict[str, str]) -> int:
    python = str(venv_python())
    # Of what takes long, all that has no clock of its own is done in what the browser's tests leave of the processors.
    patiently = ["nice", "-n", "19"]
    quick: list[Step] = [
        ("ruff", [python, "-m", "ruff", "check", "src", "tests", "tools"], ROOT),
        ("ruff format", [python, "-m", "ruff", "format", "--check", "-q", "src", "tests", "tools"], ROOT),
        ("front end: lint", ["npm", "run", "-s", "lint"], FRONTEND),
    ]
    timed: list[Step] = [("front end: tests", ["npm", "run", "-s", "test"], FRONTEND)]
    types: list[Step] = [
        ("front end: types", [*patiently, "npm", "run", "-s", "types"], FRONTEND),
        ("mypy", [*patiently, python, "-m", "mypy"], ROOT),
        ("import-linter", [*patiently, str(venv_python().parent / "lint-imports")], ROOT),
    ]
    with ThreadPoolExecutor(2) as lanes:
        failed = [name for lane in lanes.map(partial(_lane, env), (quick, timed)) for name in lane]
        beside = lanes.submit(_lane, env, types)
        say("— pytest")
        if _call(PYTEST, env):
            failed.append("pytest")
        failed += beside.result()
    if failed:
        say(f"Failed: {', '.join(failed)}")
    return 1 if failed else 0


def _lane(env: dict[str, str], steps: list[Step]) -> list[str]:
    """Take steps one after the other, beside others; what each says is told in one go. Returns those that failed."""
    failed = []
    for name, command, folder in steps:
        done = subprocess.run(
            command, cwd=folder, env={**os.environ, **environment(), **env}, check=False, text=True,
            stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
        )  # fmt: skip
        say(f"— {name}\n{done.stdout.rstrip()}".rstrip())
        if done.returncode:
            failed.append(name)
    return failed


def with_database(name: str, arguments: Sequence[str]) -> int:
    """Run a command on a database of its own, beside the one that is being edited."""
    browser = chromium()
    if name == "bench":
        load_generator()
        edges()
    build()
    with Cluster("test-postgres", lasting=False) as cluster:
        return _tool(name, arguments, {**server_environment(cluster), "NAVREL_CHROMIUM": str(browser)})


def mutants(arguments: Sequence[str]) -> int:
    """Try the tests of the core on changed sources, in an environment of its own."""
    folder = INSTALLED / "mutants-venv"
    virtual_environment(folder, ROOT / "tools" / "navrel_mutants" / "requirements.lock")
    return _tool("mutants", arguments, python=folder / "bin" / "python")


def backup(path: Path) -> int:
    """Write all that is kept here to one file."""
    prepare_state()
    with Cluster("postgres") as cluster:
        size = write_backup(cluster, path)
    say(f"{path}: {size:,} bytes. Keep it where only you can read it: it holds the accounts, and the key that signs.")
    return 0


def restore(options: RestoreOptions) -> int:
    """Bring back what a backup holds."""
    prepare_state()
    # What cannot be brought back is refused before anything is installed or started for it.
    with opened_backup(options.file) as backup, alone(STATE / "lock", _who_runs):
        prepare()
        with Cluster("postgres", adopt=True) as cluster:

            def set_up(url: str, demo: bool) -> None:
                env = {**server_environment(cluster, demo=demo), "NAVREL_DATABASE_URL": url}
                run([venv_python(), "-m", "navrel.cli", "set-up"], env=env)

            read_backup(cluster, backup, options.replace, set_up)
            sites = cluster.ask("SELECT slug FROM inventory_site ORDER BY id")
    say(f"Restored: {', '.join(sites) or 'no site'}. ./navrel start serves it.")
    return 0


def wheel() -> int:
    """Build the package for programs of one's own, into the folder `dist`."""
    command = [str(venv_python()), "-m", "hatchling", "build", "-t", "wheel", "-d", str(ROOT / "dist")]
    return subprocess.run(
        command, cwd=ROOT / "packages" / "core", env={**os.environ, **environment()}, check=False
    ).returncode


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
        served = running() or {}
        env = server_environment(cluster, published=served.get("published site", ""), demo=is_demo())
        return _call(["-m", "navrel.cli", *arguments], env)


def _call(arguments: Sequence[str], env: dict[str, str] | None = None, python: Path | None = None) -> int:
    """Run a Python program of the project, by the Python of its environment where no other is given."""
    command = [str(python or venv_python()), *arguments]
    return subprocess.run(command, env={**os.environ, **environment(), **(env or {})}, check=False).returncode


def _tool(name: str, arguments: Sequence[str], env: dict[str, str] | None = None, python: Path | None = None) -> int:
    """Run one of the programs under ``tools``."""
    path = {"PYTHONPATH": f"{ROOT / 'src'}:{ROOT / 'tools'}"}
    return _call(["-m", f"navrel_{name}", *arguments], {**(env or {}), **path}, python)
