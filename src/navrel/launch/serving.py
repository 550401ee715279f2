"""The two servers: where they listen, what they find in their environment, starting them and seeing that they stay."""

from __future__ import annotations

import errno
import secrets
import socket
import subprocess
import time
from collections.abc import Callable, Iterable, Mapping
from tempfile import TemporaryDirectory

from .database import Cluster, free_port
from .house import FRONTEND, STATE, Stopped, environment, in_memory, progress, venv_python
from .options import APPLICATION_PORT, LOOPBACK, PUBLISHED_PORT
from .processes import start as start_process

#: Ports after the usual one that are tried where nobody named one.
_MOST_PORTS = 50
#: What Vite serves while the front end is being written.
FRONT_END = "front end"
#: What does by itself what is due: publications at a moment, feeds.
CLOCK = "clock"
#: By how many processes each of the two servers is served.
PROCESSES = 2
#: What each of the two servers serves.
MODULES = {"application": "navrel.server.wsgi", "published site": "navrel.server.delivery.wsgi"}


def server_environment(
    cluster: Cluster,
    host: str = LOOPBACK,
    port: int = APPLICATION_PORT,
    published: str = "",
    *,
    demo: bool = True,
    site_ports: Mapping[str, int] | None = None,
    site_prefixes: Mapping[str, str] | None = None,
) -> dict[str, str]:
    """What the servers find in their environment. ``demo``: whether they know the demo account.

    ``site_ports``: the ports on which single sites are served besides, by their slugs; ``site_prefixes``: the paths.
    """
    key = STATE / "secret-key"
    if not key.exists():
        key.write_text(secrets.token_urlsafe(48))
        key.chmod(0o600)
    hosts = dict.fromkeys((LOOPBACK, "localhost", host, reachable(host)))
    return {
        **environment(),
        "NAVREL_DATABASE_URL": cluster.url,
        "NAVREL_SECRET_KEY": key.read_text(),
        "NAVREL_DEMO": "1" if demo else "0",
        "NAVREL_HOSTS": ",".join(hosts),
        # Cookies know no ports: two applications on one host would sign each other out.
        "NAVREL_COOKIE_SUFFIX": str(port),
        "NAVREL_PUBLISHED_ORIGIN": published or f"http://{LOOPBACK}:{PUBLISHED_PORT}",
        "NAVREL_SITE_PORTS": ",".join(f"{slug}={port}" for slug, port in (site_ports or {}).items()),
        "NAVREL_SITE_PREFIXES": ",".join(f"{slug}={path}" for slug, path in (site_prefixes or {}).items()),
    }


def counts() -> TemporaryDirectory[str]:
    """A folder into which the servers count what they answer, as long as they are there."""
    return TemporaryDirectory(prefix="navrel-counts-", dir=in_memory(), ignore_cleanup_errors=True)


def reachable(host: str) -> str:
    """The name under which a browser reaches what is served on an address."""
    return socket.gethostname() if host in ("0.0.0.0", "::") else host  # noqa: S104


def serve(
    module: str,
    port: int,
    env: dict[str, str],
    host: str = LOOPBACK,
    *,
    more_ports: Iterable[int] = (),
    processes: int = PROCESSES,
    reload: bool = False,
) -> subprocess.Popen[bytes]:
    """Start one of the two servers on a port or more, served by so many processes.

    With ``reload`` it starts anew whenever its sources change.
    """
    binds = [part for one in (port, *more_ports) for part in ("--bind", f"{host}:{one}")]
    command = [
        str(venv_python()), "-m", "gunicorn", f"{module}:application", *binds,
        "--workers", str(processes), "--threads", "4", "--timeout", "60", "--graceful-timeout", "10",
        "--log-level", "warning", "--no-control-socket", *(["--reload"] if reload else []),
    ]  # fmt: skip
    if memory := in_memory():
        # By a file each process says that it is alive, between any two answers.
        command += ["--worker-tmp-dir", memory]
    return start_process(command, env=env)


def serve_clock(env: dict[str, str]) -> subprocess.Popen[bytes]:
    """Start what does what is due by itself, when it is due."""
    return start_process([str(venv_python()), "-m", "navrel.cli", "clock"], env=env)


def serve_front_end(port: int, application: str) -> subprocess.Popen[bytes]:
    """Start Vite, which serves the front end as it is being written, and asks the application for all else."""
    command = ["npx", "vite", "--host", LOOPBACK, "--port", str(port), "--strictPort"]
    return start_process(command, cwd=FRONTEND, env={**environment(), "NAVREL_APPLICATION": application})


def choose_port(host: str, wanted: int | None, usual: int) -> int:
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


#: What ends so often within a minute is not started again: something is wrong with it.
_MOST_RESTARTS = 10


def watch(
    servers: dict[str, subprocess.Popen[bytes]], cluster: Cluster, again: Callable[[str], subprocess.Popen[bytes]]
) -> None:
    """Until somebody asks to end: start again what has ended by itself."""
    ended: dict[str, list[float]] = {}

    def tell(name: str) -> None:
        """Tell that something ended, which is started again. Raises Stopped where it does not help."""
        now = time.monotonic()
        ended[name] = [*(moment for moment in ended.get(name, []) if now - moment < 60), now]
        if len(ended[name]) > _MOST_RESTARTS:
            raise Stopped(f"The {name} ends again and again; its reason stands above.")
        progress(f"The {name} ended by itself; starting it again …")

    while True:
        if cluster.has_ended:
            tell("database")
            _start_again(cluster)
        for name, server in servers.items():
            if server.poll() is not None:
                tell(name)
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
