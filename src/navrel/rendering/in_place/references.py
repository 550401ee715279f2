"""What tags and style sheets lead to (HTML Standard, srcset; CSS Values, url)."""

from __future__ import annotations

import re
from collections.abc import Callable
from html import unescape

#: Attributes that hold one address (HTML Standard).
ADDRESSES = ("href", "src", "poster", "action", "formaction", "cite", "data", "background", "longdesc")
#: An attribute with a value: its name, what stands between, and the value as it is written.
ATTRIBUTE = re.compile(rb"""(?<=[\s"'/])([a-z][a-z:-]*)(\s*=\s*)("[^"]*"|'[^']*'|[^\s>"']+)""", re.IGNORECASE)
_URL = re.compile(r"""url\(\s*(["']?)([^"')]+)\1\s*\)""", re.IGNORECASE)
_IMPORT = re.compile(r"""(@import\s+)(["'])([^"']+)\2""", re.IGNORECASE)
#: Between the candidates of a srcset: a comma after a descriptor, or before a space; others belong to an address.
_CANDIDATES = re.compile(r"(?<=\d[wx])\s*,\s*|,\s+")

Change = Callable[[str], str]


def value_of(found: re.Match[bytes]) -> str:
    """The value of an attribute."""
    written = found[3].decode("utf-8", "replace")
    return unescape(written[1:-1] if written[:1] in ("'", '"') else written)


def changed_srcset(value: str, change: Change) -> str:
    """The candidates of a srcset with other addresses, each with its descriptor."""
    parts = (candidate.strip().partition(" ") for candidate in _CANDIDATES.split(value))
    return ", ".join(f"{change(reference)} {descriptor}".strip() for reference, _, descriptor in parts)


def changed_css(css: str, change: Change) -> str:
    """A style sheet, or declarations, with other addresses."""
    css = _URL.sub(lambda found: f"url({found[1]}{change(found[2].strip())}{found[1]})", css)
    return _IMPORT.sub(lambda found: f"{found[1]}{found[2]}{change(found[3])}{found[2]}", css)
