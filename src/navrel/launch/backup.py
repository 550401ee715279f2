"""All that Navrel keeps, in one file, and out of one: the database, the files of sites, the key that signs."""

from __future__ import annotations

import argparse
import io
import json
import os
import re
import shutil
import tarfile
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from .database import DATABASE, Cluster
from .house import ASSETS, STATE, Stopped, is_demo, progress, set_demo

#: What a backup begins with, by which later ones know how to read it.
FORMAT = 1
_ABOUT, _DATABASE, _KEY = "about.json", "database.dump", "secret-key"
_ASSET = re.compile(r"assets/[0-9a-f]{2}/[0-9a-f]{64}")
#: The database that is being restored, until it takes the place of the one that is there; and that one, until it goes.
_BESIDE, _BEFORE = "navrel_restored", "navrel_before"


@dataclass(frozen=True)
class RestoreOptions:
    """What is restored; ``replace``: in place of what is there."""

    file: Path
    replace: bool


def backup_options(arguments: Sequence[str]) -> Path:
    """The file that a backup is written to."""
    parser = argparse.ArgumentParser(
        prog="./navrel backup",
        description="Write all that Navrel keeps to one file: sites, accounts, revisions, files. It goes on meanwhile.",
    )
    parser.add_argument("file", type=Path, help="where to; a file that is there is not overwritten")
    return Path(parser.parse_args(arguments).file)


def restore_options(arguments: Sequence[str]) -> RestoreOptions:
    """What is restored, and whether in place of what is there."""
    parser = argparse.ArgumentParser(
        prog="./navrel restore",
        description="Bring back what a backup holds, of this version of Navrel or an earlier one. Navrel must not run.",
    )
    parser.add_argument("file", type=Path, help="a backup")
    parser.add_argument("--replace", action="store_true", help="in place of what is here, which is lost")
    read = parser.parse_args(arguments)
    return RestoreOptions(read.file, read.replace)


def write_backup(cluster: Cluster, path: Path) -> int:
    """Write a backup; what is half-written is never under its name. Returns how many bytes it has. Raises Stopped."""
    if not (STATE / _KEY).exists():
        raise Stopped("Navrel was never started here: there is nothing to back up.")
    if path.exists():
        raise Stopped(f"{path} is there already. Name another file.")
    beside = path.with_name(f"{path.name}.part")
    try:
        with tempfile.TemporaryDirectory(dir=STATE) as folder, beside.open("wb") as file:
            os.fchmod(file.fileno(), 0o600)
            dump = Path(folder) / _DATABASE
            progress("Writing the database …")
            with dump.open("wb") as output:
                cluster.client("pg_dump", "-d", DATABASE, "-Fc", "--no-owner", "--no-privileges", stdout=output)
            with tarfile.open(fileobj=file, mode="w") as archive:
                about = {"navrel": "backup", "format": FORMAT, "made": int(time.time()), "demo": is_demo()}
                _add(archive, _ABOUT, json.dumps(about).encode())
                archive.add(dump, _DATABASE)
                _add(archive, _KEY, (STATE / _KEY).read_bytes())
                # Files are never changed, and taken away only an hour after nothing names them any more.
                for asset in sorted(_assets()):
                    archive.add(asset, f"assets/{asset.parent.name}/{asset.name}")
        beside.replace(path)
    finally:
        beside.unlink(missing_ok=True)
    return path.stat().st_size


def _assets() -> Iterator[Path]:
    return (path for path in ASSETS.glob("*/*") if _ASSET.fullmatch(f"assets/{path.parent.name}/{path.name}"))


def _add(archive: tarfile.TarFile, name: str, data: bytes) -> None:
    told = tarfile.TarInfo(name)
    told.size, told.mtime, told.mode = len(data), int(time.time()), 0o600
    archive.addfile(told, io.BytesIO(data))


@dataclass(frozen=True)
class Backup:
    """A backup that is open, and whether it is a demo's; what else it holds is not looked at yet."""

    archive: tarfile.TarFile
    path: Path
    demo: bool


@contextmanager
def opened_backup(path: Path) -> Iterator[Backup]:
    """Open a backup of this version of Navrel or an earlier one. Raises Stopped, and OSError."""
    try:
        with tarfile.open(path, "r:") as archive:
            yield Backup(archive, path, bool(_about(archive, path)["demo"]))
    except tarfile.TarError as error:
        raise Stopped(f"{path} is no backup, or a damaged one: {error}.") from None


def read_backup(cluster: Cluster, backup: Backup, replace: bool, set_up: Callable[[str, bool], object]) -> None:
    """Bring back what a backup holds: all of it, or nothing. Raises Stopped.

    ``replace``: in place of what is there. ``set_up`` brings a database up to date, given its URL and whether it is a
    demo's.
    """
    with tempfile.TemporaryDirectory(dir=STATE) as folder:
        if not replace and (sites := _sites(cluster)):
            raise Stopped(f"There is something here already: {', '.join(sites)}. With --replace it is lost.")
        # All is read, and the database made and brought up to date beside, before what is there is touched.
        held = _unpack(backup, Path(folder))
        progress("Reading the database …")
        _make_beside(cluster, held / _DATABASE)
        for asset in held.glob("assets/*/*"):
            place = ASSETS / asset.relative_to(held / "assets")
            place.parent.mkdir(parents=True, exist_ok=True)
            shutil.move(asset, place)
        set_up(cluster.url_of(_BESIDE), backup.demo)
        _put_in_place(cluster)
        shutil.move(held / _KEY, STATE / _KEY)
        (STATE / _KEY).chmod(0o600)
        set_demo(backup.demo)


def _sites(cluster: Cluster) -> list[str]:
    """The slugs of the sites that are there."""
    known = cluster.ask("SELECT 1 FROM information_schema.tables WHERE table_name = 'inventory_site'")
    return cluster.ask("SELECT slug FROM inventory_site ORDER BY id") if known else []


def _make_beside(cluster: Cluster, dump: Path) -> None:
    """Make a database of what was dumped, beside the one that is there. Raises Stopped."""
    _drop(cluster, _BESIDE)
    cluster.client("psql", "-d", "postgres", "-qc", f"CREATE DATABASE {_BESIDE}")
    with dump.open("rb") as data:
        cluster.client("pg_restore", "-d", _BESIDE, "--no-owner", "--exit-on-error", "--single-transaction", stdin=data)


def _put_in_place(cluster: Cluster) -> None:
    """Have the database that was made beside take the place of the one that is there, in one step."""
    _drop(cluster, _BEFORE)
    names = f"ALTER DATABASE {DATABASE} RENAME TO {_BEFORE}; ALTER DATABASE {_BESIDE} RENAME TO {DATABASE}"
    cluster.client("psql", "-d", "postgres", "-qc", names)
    _drop(cluster, _BEFORE)


def _drop(cluster: Cluster, name: str) -> None:
    cluster.client("psql", "-d", "postgres", "-qc", f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")


def _about(archive: tarfile.TarFile, path: Path) -> dict[str, object]:
    first = archive.next()
    file = archive.extractfile(first) if first is not None and first.name == _ABOUT and first.size < 10_000 else None
    try:
        about = json.loads(file.read()) if file is not None else {}
    except ValueError:
        about = {}
    if not isinstance(about, dict) or about.get("navrel") != "backup" or not isinstance(about.get("demo"), bool):
        raise Stopped(f"{path} is no backup of Navrel.")
    if about.get("format") != FORMAT:
        raise Stopped(f"{path} was written by a later Navrel. Bring this one up to date first.")
    return about


def _unpack(backup: Backup, folder: Path) -> Path:
    """What a backup holds, in a folder. Raises Stopped for one that holds anything else, or not all of it."""
    seen = set()
    for member in backup.archive:
        if not member.isfile() or not (member.name in (_ABOUT, _DATABASE, _KEY) or _ASSET.fullmatch(member.name)):
            raise Stopped(f"{backup.path} holds {member.name[:200]}, which no backup of Navrel does.")
        seen.add(member.name)
        backup.archive.extract(member, folder, filter="data")
    if lacking := {_DATABASE, _KEY} - seen:
        raise Stopped(f"{backup.path} is damaged: there is no {min(lacking)} in it.")
    return folder
