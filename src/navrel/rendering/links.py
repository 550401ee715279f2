"""Where an address leads, as a browser reads it (URL Standard, WHATWG): the same site, or another."""

from __future__ import annotations

import re
from urllib.parse import urlsplit

_SAFE_SCHEMES = ("http", "https", "mailto", "tel")
#: A browser takes tabs and line ends out of an address, and control characters and spaces off its ends.
_DROPPED = re.compile("[\t\n\r]")
_ENDS = "".join(map(chr, range(0x21)))
_SCHEME = re.compile(r"[A-Za-z][A-Za-z0-9+.\-]*:")


def as_read(address: str) -> str:
    """An address as a browser reads it: what it drops dropped, backslashes as slashes."""
    return _DROPPED.sub("", address.strip(_ENDS)).replace("\\", "/")


def scheme_of(address: str) -> str:
    """The scheme of an address in lower case, empty for one without."""
    found = _SCHEME.match(as_read(address))
    return found[0][:-1].lower() if found else ""


def stays_here(address: str) -> bool:
    """Whether an address leads to the site that it stands on: no scheme, no host."""
    return not scheme_of(address) and not as_read(address).startswith("//")


def is_safe(address: str) -> bool:
    """Whether a link may lead there: to this site, or plainly to another by a scheme that runs nothing."""
    if stays_here(address):
        # What a browser would read otherwise than it stands is not plain.
        return as_read(address) == address.strip()
    if scheme_of(address) not in _SAFE_SCHEMES or as_read(address) != address.strip():
        return False
    try:
        urlsplit(address)
    except ValueError:
        return False
    return True


def safe_href(text: str) -> str:
    """The address if it is one that a link may lead to, else `#`."""
    return text.strip() if is_safe(text) else "#"
