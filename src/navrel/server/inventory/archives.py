"""Reading the files of an archive, ZIP or tar: each when its turn comes, none too large, none from outside."""

from __future__ import annotations

import stat
import tarfile
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import IO

from navrel.server.api.errors import Refused

from .assets import MAX_ASSET
from .decoding import Unreadable
from .folders import HIDDEN, LARGEST, NO_FILE, File, is_hidden

#: Files of one archive, and the bytes that they come to in all.
MAX_MEMBERS = 200_000
MAX_TOTAL = 16 * 1024**3

_LINK = Unreadable("a link; archives are taken in without")
_OUTSIDE = Unreadable("a path that leads out of the archive")
_LOCKED = Unreadable("is encrypted")


def is_archive(path: Path) -> bool:
    """Whether a file is an archive that can be read, by what is in it."""
    return path.is_file() and (zipfile.is_zipfile(path) or tarfile.is_tarfile(path))


def archive_files(path: Path) -> Iterator[File]:
    """The files of an archive; the one folder that all of them stand in is no part of their names. Raises Refused."""
    with _members(path) as members:
        parted = [(one, _hidden_part(one.name)) for one in members]
        kept = [one for one, hidden in parted if hidden is None]
        folders = {hidden for one, hidden in parted if hidden is not None and hidden != one.name}
        if (count := len(kept) + len(folders)) > MAX_MEMBERS:
            raise Refused("too-many-files", f"The archive holds {count:,} files; {MAX_MEMBERS:,} is the most")
        top = _top(one.name for one in kept)
        yield from ((name.removeprefix(top), HIDDEN) for name in sorted(folders))
        total = 0
        for member in kept:
            data = member.read()
            if not isinstance(data, Unreadable):
                total += len(data)
            if total > MAX_TOTAL:
                raise Refused("too-large", f"The files of the archive come to more than {MAX_TOTAL // 1024**3} GB")
            yield member.name.removeprefix(top), data


class _Member:
    """A file of an archive. What it says of its own size is not believed."""

    def __init__(self, name: str, problem: Unreadable | None = None) -> None:
        self.name = name.replace("\\", "/").removeprefix("./")
        parts = PurePosixPath(self.name).parts
        self._problem = _OUTSIDE if ".." in parts or self.name.startswith("/") else problem

    def read(self) -> bytes | Unreadable:
        """Its bytes, or the reason why they cannot be had."""
        if self._problem is not None:
            return self._problem
        try:
            with self._opened() as file:
                data = file.read(MAX_ASSET + 1)
        except (OSError, EOFError, RuntimeError, zipfile.BadZipFile, tarfile.TarError, ValueError, KeyError) as error:
            return Unreadable(f"cannot be read out of the archive: {type(error).__name__}")
        return data if len(data) <= MAX_ASSET else LARGEST

    def _opened(self) -> IO[bytes]:
        raise NotImplementedError


class _Zipped(_Member):
    def __init__(self, archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> None:
        link = stat.S_ISLNK(info.external_attr >> 16)
        super().__init__(info.filename, _LINK if link else _LOCKED if info.flag_bits & 1 else None)
        self._archive, self._info = archive, info

    def _opened(self) -> IO[bytes]:
        return self._archive.open(self._info)


class _Tarred(_Member):
    def __init__(self, archive: tarfile.TarFile, info: tarfile.TarInfo) -> None:
        super().__init__(info.name, _LINK if info.issym() or info.islnk() else None if info.isfile() else NO_FILE)
        self._archive, self._info = archive, info

    def _opened(self) -> IO[bytes]:
        file = self._archive.extractfile(self._info)
        if file is None:
            raise EOFError
        return file


@contextmanager
def _members(path: Path) -> Iterator[Iterable[_Member]]:
    """What an archive holds, but for its folders. Raises Refused for one that is broken."""
    try:
        if zipfile.is_zipfile(path):
            with zipfile.ZipFile(path) as zipped:
                yield [_Zipped(zipped, one) for one in zipped.infolist() if not one.is_dir()]
        else:
            with tarfile.open(path) as tarred:
                yield [_Tarred(tarred, one) for one in tarred if not one.isdir()]
    except (zipfile.BadZipFile, tarfile.TarError, EOFError) as error:
        raise Refused("broken-archive", f"The archive {path.name} cannot be read", str(error)) from None


def _hidden_part(name: str) -> str | None:
    """The hidden folder in which a file stands, or the file itself where it is hidden; None where nothing is."""
    path = PurePosixPath(name)
    return next((str(one) for one in (*reversed(path.parents), path) if is_hidden(one.name)), None)


def _top(names: Iterable[str]) -> str:
    """The folder that all files stand in, with its slash; empty where there is none."""
    tops = {name.partition("/")[0] if "/" in name else "" for name in names}
    (top,) = tops if len(tops) == 1 else ("",)
    return f"{top}/" if top else ""
