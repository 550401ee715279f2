"""An export as one ZIP archive, for whoever has no command line."""

from __future__ import annotations

import zipfile
from collections.abc import Collection
from typing import IO

#: When each file is said to be from: the same export is the same bytes (ZIP knows no earlier time).
_WHEN = (1980, 1, 1, 0, 0, 0)


class Archive:
    """A new archive that an export is written to; it keeps nothing from before."""

    def __init__(self, file: IO[bytes]) -> None:
        self._zip = zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED)

    def begin(self, names: Collection[str]) -> None:
        """Nothing stands in it yet."""

    def put(self, name: str, data: bytes) -> bool:
        """Write a file: it is always another, as there is none."""
        self._zip.writestr(zipfile.ZipInfo(name, _WHEN), data, zipfile.ZIP_DEFLATED)
        return True

    def finish(self, names: Collection[str]) -> list[str]:
        """End the archive; nothing is taken away."""
        self._zip.close()
        return []
