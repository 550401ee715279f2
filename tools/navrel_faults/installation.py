"""A Navrel of its own, beside the usual one: started, asked, and looked at from outside. Standard library only."""

from __future__ import annotations

import http.client
import http.cookiejar
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[2]
SHARED = ("venv", "boot", "venv.stamp", "npm.stamp", "build.stamp")
PATIENCE = 60


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def wait_for(what: str, holds: Callable[[], Any], patience: float = PATIENCE) -> Any:
    """Wait until something holds, and return it. Raises TimeoutError."""
    deadline = time.monotonic() + patience
    while not (found := holds()):
        if time.monotonic() > deadline:
            raise TimeoutError(f"waited {patience:.0f} s for {what}")
        time.sleep(0.05)
    return found


class Installation:
    """A Navrel with a state folder of its own. What is already installed for the usual one is used.

    ``settings`` stand in its environment.
    """

    def __init__(self, folder: Path, **settings: str) -> None:
        self.settings = settings
        self.state = folder / "state"
        self.state.mkdir(parents=True)
        usual = Path(os.environ.get("NAVREL_STATE") or ROOT / ".navrel")
        for name in SHARED:
            if (usual / name).exists():
                (self.state / name).symlink_to(usual / name)
        self.ports = free_port(), free_port()
        self.application, self.published = (f"http://127.0.0.1:{port}" for port in self.ports)
        self.output = folder / "output"
        self.launcher: subprocess.Popen[bytes] | None = None
        self._cookies = http.cookiejar.CookieJar()
        self._opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self._cookies), urllib.request.ProxyHandler({})
        )
        self._token = ""

    def run(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        """Run another ./navrel command here."""
        return subprocess.run(
            [sys.executable, str(ROOT / "navrel"), *arguments],
            env=self._env(), capture_output=True, text=True, check=False, timeout=PATIENCE * 2,
        )  # fmt: skip

    def start(self, *options: str) -> None:
        """Start it, and wait until it serves."""
        self.output.write_bytes(b"")
        with self.output.open("ab") as output:
            launcher = subprocess.Popen(
                [sys.executable, str(ROOT / "navrel"), "start", "--port", str(self.ports[0]), "--public-port",
                 str(self.ports[1]), *options],
                env=self._env(), stdout=output, stderr=subprocess.STDOUT, start_new_session=True,
            )  # fmt: skip
        self.launcher = launcher
        wait_for("the start", lambda: "Ctrl-C" in self.said() or launcher.poll() is not None, 180)
        if launcher.poll() is not None:
            raise RuntimeError(f"it did not start: {self.said()}")

    def said(self) -> str:
        return self.output.read_text(errors="replace")

    def processes(self) -> dict[str, list[int]]:
        """What runs of it: the launcher, the masters and workers of its servers, the database."""
        found: dict[str, list[int]] = {"launcher": [], "master": [], "worker": [], "database": []}
        parents, commands = {}, {}
        for folder in Path("/proc").glob("[0-9]*"):
            try:
                command = (folder / "cmdline").read_bytes().decode(errors="replace").split("\0")
                status = (folder / "stat").read_text().rpartition(")")[2].split()
            except (OSError, ValueError):
                continue
            if status[0] != "Z":
                commands[int(folder.name)], parents[int(folder.name)] = command, int(status[1])
        binds = {f"127.0.0.1:{port}" for port in self.ports}
        served = {pid for pid, command in commands.items() if binds & set(command)}
        for pid, command in commands.items():
            if self.launcher and pid == self.launcher.pid:
                found["launcher"].append(pid)
            elif pid in served:
                found["worker" if parents[pid] in served else "master"].append(pid)
            elif "-D" in command and self._data() in command:
                found["database"].append(pid)
        return found

    def _data(self) -> str:
        moved = self.state / "postgres" / "moved"
        home = Path(moved.read_text().strip()) if moved.exists() else self.state / "postgres"
        return str(home / "data")

    def kill(self, kind: str, number: int = signal.SIGKILL) -> None:
        """Kill the first process of a kind."""
        for pid in self.processes()[kind][:1]:
            os.kill(pid, number)

    def sign_in(self) -> None:
        # What was killed before may be starting again just now.
        wait_for("the application", lambda: self.ask("/api/session")[0] == 200)
        self.enter("/api/session", json.loads(self.ask("/api/session")[1])["demo"])

    def enter(self, path: str, account: dict[str, str]) -> int:
        """Send an account to where one is signed in or made, and go on as it; the status of the answer."""
        cookie = json.loads(self.ask("/api/session")[1])["csrf_cookie"]
        status, _ = self.ask(path, "POST", account, token=self._cookie(cookie))
        self._token = self._cookie(cookie)
        return status

    def _cookie(self, name: str) -> str:
        return next(cookie.value or "" for cookie in self._cookies if cookie.name == name)

    def ask(
        self, path: str, method: str = "GET", body: Any = None, *, token: str = "", version: int | None = None
    ) -> tuple[int, bytes]:
        """Ask the application; 0 where it does not answer."""
        headers = {"Content-Type": "application/json", "X-CSRFToken": token or self._token}
        if version is not None:
            headers["If-Match"] = f'"{version}"'
        data = None if body is None else json.dumps(body).encode()
        return self._send(urllib.request.Request(self.application + path, data, headers, method=method))

    def visit(self, path: str) -> tuple[int, bytes]:
        """Ask the published site; 0 where it does not answer."""
        return self._send(urllib.request.Request(self.published + path))

    def _send(self, request: urllib.request.Request) -> tuple[int, bytes]:
        try:
            with self._opener.open(request, timeout=20) as answer:
                return answer.status, answer.read()
        except urllib.error.HTTPError as error:
            return error.code, error.read()
        except (OSError, http.client.HTTPException):
            return 0, b""

    def end(self) -> None:
        """End it for good, and take away what it kept."""
        if self.launcher and self.launcher.poll() is None:
            self.launcher.terminate()
            self.launcher.wait(timeout=PATIENCE)
        data = Path(self._data())
        if data.is_relative_to("/var/lib/navrel"):
            subprocess.run(["rm", "-rf", str(data.parent.parent)], check=False)

    def _env(self) -> dict[str, str]:
        kept = {key: value for key, value in os.environ.items() if not key.startswith("NAVREL_")}
        return {**kept, **self.settings, "NAVREL_STATE": str(self.state)}
