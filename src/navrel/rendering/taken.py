"""What a file from outside has become: told by its content, harmless, ready to be kept."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field


class BadFile(ValueError):
    """What is wrong with a file, for people."""


@dataclass(frozen=True)
class TakenFile:
    """A file as it is kept: its type (a media type), bytes, and size in pixels; smaller versions by their width.

    A font has no size.
    """

    type: str
    ending: str
    data: bytes
    width: int = 0
    height: int = 0
    smaller: Mapping[int, bytes] = field(default_factory=dict)

    @property
    def digest(self) -> str:
        """The SHA-256 of its bytes, in hexadecimal."""
        return hashlib.sha256(self.data).hexdigest()
