"""Files of a site that are no pages: kept once by their digest, on disk beside the database."""

from __future__ import annotations

import hashlib
import mimetypes
import os
import secrets
import time
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings

from .models import Asset, Original, StagedAsset, Visit

#: Largest file that is kept, in bytes.
MAX_ASSET = 64 * 1024 * 1024
#: Seconds after which what nothing names is taken away; before that it may be about to be named.
_LEFT_FOR = 3600
_UNKNOWN = "application/octet-stream"

# What the machine says of file names differs from one to the next; what sites are made of is said here.
_TYPES = mimetypes.MimeTypes()
for _suffix, _type in {
    ".js": "text/javascript", ".mjs": "text/javascript", ".json": "application/json", ".webp": "image/webp",
    ".avif": "image/avif",
    ".svg": "image/svg+xml", ".ico": "image/x-icon", ".woff": "font/woff", ".woff2": "font/woff2",
    ".ttf": "font/ttf", ".otf": "font/otf", ".webmanifest": "application/manifest+json", ".map": "application/json",
    ".md": "text/markdown", ".txt": "text/plain", ".xml": "application/xml", ".wasm": "application/wasm",
}.items():  # fmt: skip
    _TYPES.add_type(_type, _suffix)


def type_of(name: str) -> str:
    """The media type of a file by its name."""
    found, encoding = _TYPES.guess_type(name)
    return found if found and not encoding else _UNKNOWN


def keep(data: bytes) -> str:
    """Keep the bytes of a file; returns their digest. What is kept already is not written again."""
    digest = hashlib.sha256(data).hexdigest()
    place = place_of(digest)
    try:
        os.utime(place)
    except FileNotFoundError:
        # Written beside and moved into its place whole: whoever reads finds all of it, or nothing.
        beside = place.with_suffix(f".{secrets.token_hex(8)}")
        try:
            beside.write_bytes(data)
        except FileNotFoundError:
            place.parent.mkdir(parents=True, exist_ok=True)
            beside.write_bytes(data)
        beside.replace(place)
    return digest


def place_of(digest: str) -> Path:
    """Where the bytes with a digest are kept."""
    return Path(settings.ASSETS) / digest[:2] / digest


def forget_unnamed() -> int:
    """Take away what nothing names any more; returns how many files that were."""
    before = time.time() - _LEFT_FOR
    found = [place for place in _kept() if place.stat().st_mtime < before]
    digests = {place.name for place in found}
    named = {
        digest
        for model in (Asset, StagedAsset, Original, Visit)
        for digest in model.objects.filter(digest__in=digests).values_list("digest", flat=True)
    }
    left = [place for place in found if place.name not in named]
    for place in left:
        place.unlink(missing_ok=True)
    return len(left)


def _kept() -> Iterator[Path]:
    root = Path(settings.ASSETS)
    return root.glob("??/*") if root.exists() else iter(())
