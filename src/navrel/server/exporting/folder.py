"""The folder that a site is written to: what was put there is known by a list, and nothing else is touched."""

from __future__ import annotations

import json
import secrets
from collections.abc import Collection
from contextlib import suppress
from pathlib import Path

#: The list of the files that an export put there, beside them.
MANIFEST = ".navrel-export.json"
_FORMAT = 1
#: What the names of HTML files end in; any other ending may be part of an address, as in `/v1.2`.
_HTML = (".html", ".htm", ".xhtml")
#: The longest name of a file, in bytes, on the usual file systems.
_LONGEST_NAME = 255


class NoFolder(Exception):
    """The folder cannot be written to, and why."""


def file_of(address: str) -> str:
    """The file, from the folder on, that a static host serves at an address. Raises ValueError for one that has none.

    A page is served from the file with `.html` behind its address, one whose address ends in a slash from the
    `index.html` there.
    """
    parts = address.removeprefix("/").split("/")
    if any(part in (".", "..") or "\0" in part for part in parts) or "" in parts[:-1]:
        raise ValueError(f"{address} is no path of files")
    if parts[-1] == "":
        parts[-1] = "index.html"
    elif not parts[-1].endswith(_HTML):
        parts[-1] += ".html"
    if any(len(part.encode("utf-8", "surrogatepass")) > _LONGEST_NAME for part in parts):
        raise ValueError(f"{address[:80]}… has a part that is too long for a file")
    return "/".join(parts)


class Folder:
    """A folder that exports are written to. ``only_looks``: nothing is written, it is only told what would be."""

    def __init__(self, path: Path, *, only_looks: bool = False) -> None:
        self.path = path
        self.only_looks = only_looks
        self._known = self._read()

    def begin(self, names: Collection[str]) -> None:
        """What will be written, before it is: a run that is broken off leaves nothing that no later one knows of."""
        if not self.only_looks:
            self.path.mkdir(parents=True, exist_ok=True)
            self._write_list({*self._known, *names})

    def put(self, name: str, data: bytes) -> bool:
        """Write a file where it is another than the one that stands there; whether it is."""
        path = self.path / name
        if path.is_dir():
            raise NoFolder(f"{path} is a folder where a file has to be")
        with suppress(FileNotFoundError, NotADirectoryError):
            if path.stat().st_size == len(data) and path.read_bytes() == data:
                return False
        if not self.only_looks:
            self._put(path, data)
        return True

    def _put(self, path: Path, data: bytes) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        if not path.parent.resolve().is_relative_to(self.path.resolve()):
            raise NoFolder(f"{path.parent} leads out of the folder")
        # Whoever serves the folder meanwhile serves the old file or the new one.
        beside = path.with_name(f".{secrets.token_hex(8)}")
        try:
            beside.write_bytes(data)
            beside.replace(path)
        finally:
            beside.unlink(missing_ok=True)

    def finish(self, names: Collection[str]) -> list[str]:
        """Take away what an earlier export put there and this one did not; the names of those files."""
        gone = sorted(self._known.difference(names))
        if self.only_looks:
            return [name for name in gone if (self.path / name).is_file()]
        removed = []
        for name in gone:
            path = self.path / name
            if path.parent.resolve().is_relative_to(self.path.resolve()) and path.is_file():
                path.unlink()
                removed.append(name)
                self._tidy(path.parent)
        self._write_list(set(names))
        return removed

    def _tidy(self, folder: Path) -> None:
        """Take away folders that hold nothing any more."""
        while folder != self.path and not any(folder.iterdir()):
            folder.rmdir()
            folder = folder.parent

    def _read(self) -> set[str]:
        """What an earlier export put there. Raises NoFolder where others have put something there."""
        listed = self.path / MANIFEST
        try:
            told = json.loads(listed.read_text())
            names = told["files"] if told["format"] == _FORMAT else None
            if not isinstance(names, list):
                raise TypeError("it is of another format")
            return {file_name for file_name in names if isinstance(file_name, str) and _is_inside(file_name)}
        except FileNotFoundError:
            if self.path.exists() and any(self.path.iterdir()):
                raise NoFolder(f"{self.path} holds files that no export put there; name an empty folder") from None
            return set()
        except NotADirectoryError:
            raise NoFolder(f"{self.path} is no folder") from None
        except (ValueError, KeyError, TypeError) as error:
            raise NoFolder(f"{listed} cannot be read: {error}; name another folder") from None

    def _write_list(self, names: set[str]) -> None:
        told = {"format": _FORMAT, "files": sorted(names)}
        self.put(MANIFEST, json.dumps(told, indent=0).encode())


def _is_inside(name: str) -> bool:
    return not name.startswith("/") and ".." not in name.split("/") and "\0" not in name
