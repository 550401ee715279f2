"""Where things stand, and how other programs are run."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
#: What Navrel keeps beside its own files. Elsewhere by NAVREL_STATE, for one that lives beside the usual one.
STATE = Path(os.environ.get("NAVREL_STATE") or ROOT / ".navrel")
#: What is installed and built for it. Elsewhere by NAVREL_INSTALLED, where that is to stay when what is kept moves.
INSTALLED = Path(os.environ.get("NAVREL_INSTALLED") or STATE)
#: The files of sites. Elsewhere by NAVREL_ASSETS.
ASSETS = Path(os.environ.get("NAVREL_ASSETS") or STATE / "assets")
#: Where files stand in memory, on Linux: whoever writes there never waits until a disk has written what others did.
_MEMORY = Path("/dev/shm")  # noqa: S108
VENV = INSTALLED / "venv"
FRONTEND = ROOT / "frontend"


class Stopped(Exception):
    """The launcher cannot go on; the message is one clear line for the person at the terminal."""


def say(text: str) -> None:
    """Tell the person at the terminal what a command comes to."""
    print(text, flush=True)


def progress(text: str) -> None:
    """Tell what is being done meanwhile; on standard error, so that what a command prints is that alone."""
    print(text, file=sys.stderr, flush=True)


def in_memory() -> str | None:
    """The folder for small files that servers write to all the time; None where that is the usual one."""
    return str(_MEMORY) if os.access(_MEMORY, os.W_OK) else None


def is_root() -> bool:
    """Whether the launcher may install Debian packages."""
    return os.geteuid() == 0


#: Where it stands, what is kept here is run without the demo.
_NO_DEMO = STATE / "without-demo"


def is_demo() -> bool:
    """Whether what is kept here is a demo, with an account whose password everybody knows."""
    return not _NO_DEMO.exists()


def set_demo(demo: bool) -> None:
    """Say whether what is kept here is a demo, from now on."""
    if demo:
        _NO_DEMO.unlink(missing_ok=True)
    else:
        _NO_DEMO.touch()


def run(command: Sequence[str | Path], *, cwd: Path = ROOT, env: Mapping[str, str] | None = None) -> str:
    """Run a program quietly; what it printed. Raises Stopped with the end of its output when it fails."""
    done = subprocess.run(
        [str(part) for part in command],
        cwd=cwd,
        env={**os.environ, **(env or {})},
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    if done.returncode:
        tail = "\n".join(done.stdout.strip().splitlines()[-12:])
        raise Stopped(f"{Path(str(command[0])).name} failed (exit {done.returncode}):\n{tail}")
    return done.stdout


def venv_python() -> Path:
    """The Python of the project's virtual environment."""
    return VENV / "bin" / "python"


def environment() -> dict[str, str]:
    """What every process of the project finds in its environment."""
    return {
        "PYTHONPATH": str(ROOT / "src"),
        "PATH": f"{VENV / 'bin'}:{os.environ.get('PATH', '/usr/bin:/bin')}",
        # In many a container it is set, and each of the processes would compile all sources anew before it begins.
        "PYTHONDONTWRITEBYTECODE": "",
    }


def digest(paths: Iterable[Path]) -> str:
    """A digest over files and folders, by name and content."""
    found = hashlib.sha256()
    for path in sorted(_files(paths)):
        found.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes() + b"\0")
    return found.hexdigest()


def _files(paths: Iterable[Path]) -> Iterable[Path]:
    for path in paths:
        if path.is_dir():
            yield from (file for file in path.rglob("*") if file.is_file())
        else:
            yield path


def once(stamp: str, state: str) -> bool:
    """Whether work marked by ``stamp`` still has to be done for this ``state``; `done` marks it."""
    path = INSTALLED / f"{stamp}.stamp"
    return not path.is_file() or path.read_text() != state


def done(stamp: str, state: str) -> None:
    """Mark the work of ``stamp`` as done for this ``state``."""
    (INSTALLED / f"{stamp}.stamp").write_text(state)


def prepare_state() -> None:
    """Make the folder that holds everything Navrel keeps beside its own files."""
    try:
        STATE.mkdir(exist_ok=True)
        INSTALLED.mkdir(exist_ok=True)
        probe = STATE / "probe"
        probe.write_bytes(b"\0" * 4096)
        probe.unlink()
    except OSError as error:
        raise Stopped(
            f"Cannot write to {STATE}: {error.strerror}. Free some space or mend the folder's rights."
        ) from None
    if shutil.disk_usage(STATE).free < 1 << 30 and not VENV.exists():
        raise Stopped(f"Setting up takes about 1 GiB, and the disk that holds {STATE} has less. Free some space.")


def check_python() -> None:
    """Refuse a Python that the lock file is not made for."""
    if sys.version_info[:2] != (3, 11):
        raise Stopped(f"Navrel runs on Python 3.11; this is {sys.version.split()[0]}. Run: python3.11 ./navrel …")
