"""Font files from outside: WOFF 2.0 and nothing else (W3C, WOFF File Format 2.0, section 4).

Browsers check the tables of a font before they use it; here its head has to say what it is and how long.
"""

from __future__ import annotations

import struct

from navrel.core.layout.dress import FONT_ENDING

from .taken import BadFile, TakenFile

MAX_FONT_BYTES = 2 * 1024 * 1024
SIGNATURE = b"wOF2"
#: signature, flavor, length, numTables, reserved, totalSfntSize, totalCompressedSize, and what is not looked at.
_HEAD = struct.Struct(">4s4sIHHII20x")
_FLAVOURS = (b"\x00\x01\x00\x00", b"OTTO", b"true")


def read_font(data: bytes) -> TakenFile:
    """Read a font file. Raises BadFile."""
    if len(data) > MAX_FONT_BYTES:
        raise BadFile(f"a font has at most {MAX_FONT_BYTES // 2**20} MiB; this one has {len(data) / 2**20:.1f}")
    if len(data) < _HEAD.size:
        raise BadFile("this font file is cut off")
    signature, flavour, length, tables, reserved, _, packed = _HEAD.unpack_from(data)
    if signature != SIGNATURE or flavour not in _FLAVOURS or reserved or not tables:
        raise BadFile("this is no single WOFF2 font that can be read")
    if length != len(data) or packed >= length:
        raise BadFile("this font file is cut off, or something follows it")
    return TakenFile("font/woff2", FONT_ENDING, data)
