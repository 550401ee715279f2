"""Pages of a site as they are shown inside the application: what they bring along comes from the draft's files.

Nothing is fetched from elsewhere there, and nothing runs; both are held by the policy of the application's pages.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from html import escape

from .references import ATTRIBUTE, changed_css, changed_srcset, value_of
from .tokens import replaced_tags

#: The address below the site that a reference leads to; None for one elsewhere.
Own = Callable[[str], str | None]

#: Attributes whose address is fetched, by element; `*` for every one.
_FETCHED = {
    "link": ("href",), "image": ("href", "xlink:href"), "use": ("href", "xlink:href"), "object": ("data",),
    "*": ("src", "poster", "background", "srcset"),
}  # fmt: skip
_LEADING = {"a": ("href",), "area": ("href",), "form": ("action",)}
#: Attributes that would lead the picture itself elsewhere.
_STOPPED = {"script": "src", "base": "href", "meta": "http-equiv", "iframe": "src", "frame": "src"}


def in_preview(html: str, own: Own, beginning: str) -> str:
    """A page as it is shown in the application.

    ``own`` resolves a reference of it; ``beginning`` is what the addresses of the draft's files begin with.
    """

    def fetched(reference: str) -> str:
        address = own(reference)
        return reference if address is None or address.startswith("/-/") else f"{beginning}{address}"

    def attribute(name: str, found: re.Match[bytes]) -> bytes:
        key = found[1].decode().lower()
        if _STOPPED.get(name) == key:
            return b"data-" + found[0]
        value = value_of(found)
        if key == "style":
            told = changed_css(value, fetched)
        elif key == "srcset":
            told = changed_srcset(value, fetched)
        elif key in _FETCHED.get(name, ()) or key in _FETCHED["*"]:
            told = fetched(value)
        elif key in _LEADING.get(name, ()) and not value.startswith("#"):
            told = own(value) or value
        else:
            return found[0]
        return found[1] + b'="' + escape(told).encode() + b'"'

    def tag(name: str, written: bytes, text: bytes) -> bytes:
        changed = ATTRIBUTE.sub(lambda found: attribute(name, found), written)
        return changed + (changed_css(text.decode(), fetched).encode() if name == "style" and text else text)

    return replaced_tags(html.encode(), tag).decode()


def css_in_preview(css: str, beginning: str) -> str:
    """A style sheet as it is served there: what it names from the root on comes from the draft's files too."""

    def fetched(reference: str) -> str:
        return f"{beginning}{reference}" if reference.startswith("/") and not reference.startswith("//") else reference

    return changed_css(css, fetched)
