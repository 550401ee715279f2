"""What a site draws, as it is served below a path of a host that is shared: addresses from the root on get that path.

What else stands in a file stays as it is, byte by byte, in whatever encoding.
"""

from __future__ import annotations

import re

from .in_place.references import ADDRESSES, ATTRIBUTE, changed_css, changed_srcset
from .in_place.tokens import replaced_tags

_ADDRESSES = frozenset({*ADDRESSES, "xlink:href"})
#: Bytes as letters, each as one: what is changed are letters of ASCII alone.
_AS_LETTERS = "latin-1"


class Mount:
    """A path below which a site is served. ``is_own``: what the site writes below that path means that already."""

    def __init__(self, path: str, *, is_own: bool = False) -> None:
        self.path = path
        self._kept = re.compile(f"//|{re.escape(path)}(?:[/?#]|$)" if is_own else "//")

    def address(self, reference: str) -> str:
        """Where a reference leads below the path: one that begins at the root of the host begins there."""
        start = reference.lstrip()
        if not start.startswith("/") or self._kept.match(start):
            return reference
        return f"{self.path}{start}"

    def css(self, css: bytes) -> bytes:
        """A style sheet."""
        return changed_css(css.decode(_AS_LETTERS), self.address).encode(_AS_LETTERS)

    def html(self, html: bytes) -> bytes:
        """A page."""

        def tag(name: str, written: bytes, text: bytes) -> bytes:
            return ATTRIBUTE.sub(self._attribute, written) + (self.css(text) if name == "style" else text)

        return replaced_tags(html, tag)

    def _attribute(self, found: re.Match[bytes]) -> bytes:
        key = found[1].decode(_AS_LETTERS).lower()
        written = found[3].decode(_AS_LETTERS)
        mark = written[:1] if written[:1] in ("'", '"') else ""
        value = written[1:-1] if mark else written
        if key in _ADDRESSES:
            changed = self.address(value)
        elif key == "srcset":
            # Written anew only where an address changes: spaces between candidates stay as they are.
            as_is, changed = (changed_srcset(value, change) for change in (str, self.address))
            changed = value if changed == as_is else changed
        elif key == "style":
            changed = changed_css(value, self.address)
        else:
            return found[0]
        return found[1] + found[2] + f"{mark}{changed}{mark}".encode(_AS_LETTERS)
