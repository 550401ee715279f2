"""Debian's nginx with the configuration under `deploy/nginx`, on loopback."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from navrel.launch.database import free_port
from navrel.launch.processes import start
from navrel.launch.serving import wait_until_served

DEPLOY = Path(__file__).parents[2] / "deploy"
#: The servers that are shipped, and one beside that serves a folder and nothing else.
SITES, STATIC = ("published-site", "own-pages", "old-site"), "static"


@dataclass
class Nginx:
    """A running nginx: its folder, its command, and the origins of its servers by the name of their file."""

    folder: Path
    command: list[str]
    origins: dict[str, str]
    process: subprocess.Popen[bytes]

    def children(self) -> set[int]:
        """The numbers of its processes that ask and answer."""
        found = set()
        for stat in Path("/proc").glob("[0-9]*/stat"):
            try:
                told = stat.read_text().rpartition(")")[2].split()
            except OSError:
                continue
            if int(told[1]) == self.process.pid:
                found.add(int(stat.parent.name))
        return found


def placed(file: str, folder: Path, **instead: str) -> Path:
    """A file of `deploy/` in a folder, with other addresses and folders in place of those that it names."""
    text = (DEPLOY / file).read_text()
    for shipped, own in instead.items():
        if shipped not in text:
            raise ValueError(f"{file} does not name {shipped}")
        text = text.replace(shipped, own)
    path = folder / Path(file).name
    path.write_text(text)
    return path


@contextmanager
def nginx(folder: Path, navrel: str, token: str, pages: Path, old: str = "127.0.0.1:9") -> Iterator[Nginx]:
    """nginx with the servers under `deploy/nginx`. Raises RuntimeError where it does not take its configuration.

    ``navrel``: host and port of the published site; ``token``: by which published layouts are asked for; ``pages``: the
    folder of pages that somebody else puts there, which is served as it is besides; ``old``: host and port of an old
    site.
    """
    ports = {site: free_port() for site in (*SITES, STATIC)}
    command = [
        "/usr/sbin/nginx",
        "-e",
        str(folder / "error.log"),
        "-c",
        str(_configured(folder, navrel, token, pages, old, ports)),
    ]
    checked = subprocess.run([*command, "-t"], capture_output=True, text=True, check=False)
    if checked.returncode:
        raise RuntimeError(checked.stderr)
    process = start(command, stderr=subprocess.DEVNULL)
    try:
        for port in ports.values():
            wait_until_served("nginx", process, port)
        yield Nginx(folder, command, {site: f"http://127.0.0.1:{port}" for site, port in ports.items()}, process)
    finally:
        process.terminate()
        process.wait(timeout=20)


def _configured(folder: Path, navrel: str, token: str, pages: Path, old: str, ports: dict[str, int]) -> Path:
    """The file that a server reads first, with all others that it names."""
    own = folder / "navrel"
    own.mkdir()
    (own / "revision.conf").write_text("set $navrel_revision 1;\n")
    (own / "token.conf").write_text(f'proxy_set_header Authorization "Bearer {token}";\n')
    etc = {"/etc/nginx/navrel": str(own)}
    placed("nginx/navrel-asks.conf", own)
    placed("nginx/navrel-visitor.conf", own)
    placed("nginx/navrel-keeps.conf", own, **etc)
    cache = {"127.0.0.1:8421": navrel, "/var/cache/nginx/navrel": str(folder / "cache")}
    written = [placed("nginx/navrel.conf", folder, **cache)]
    for site in SITES:
        more = {"own-pages": {"/srv/tickets": str(pages)}, "old-site": {"http://127.0.0.1:8080;": f"http://{old};"}}
        listen = {"listen 80;": f"listen 127.0.0.1:{ports[site]};"}
        written.append(placed(f"nginx/{site}.conf", folder, **listen, **etc, **more.get(site, {})))
    includes = " ".join(f"include {path};" for path in written)
    kinds = ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    temporary = " ".join(f"{kind}_temp_path {folder}/{kind};" for kind in kinds)
    first = folder / "nginx.conf"
    first.write_text(
        f"{'user root; ' if os.getuid() == 0 else ''}daemon off; worker_processes 2; pid {folder}/nginx.pid;\n"
        f"error_log {folder}/error.log; include /etc/nginx/modules-enabled/*.conf; events {{}}\n"
        f"http {{ include /etc/nginx/mime.types; sendfile on; tcp_nopush on; access_log off; {temporary}\n{includes}\n"
        f"server {{ listen 127.0.0.1:{ports[STATIC]}; root {pages}; }} }}\n"
    )
    return first
