"""Files from outside, whatever they are called: pictures and fonts."""

from __future__ import annotations

from .fonts import SIGNATURE, read_font
from .pictures import read_picture
from .taken import TakenFile


def read_file(data: bytes) -> TakenFile:
    """Read a file by what is in it. Raises BadFile."""
    return read_font(data) if data.startswith(SIGNATURE) else read_picture(data)
