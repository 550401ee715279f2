"""Pages of a site as they are shown inside the application: what they bring along comes from the draft's files.

Nothing is fetched from elsewhere there, and nothing runs; both are held by the policy of the application's pages.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from html import escape, unescape

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
_ATTRIBUTE = re.compile(rb"""(?<=[\s"'/])([a-z][a-z:-]*)(\s*=\s*)("[^"]*"|'[^']*'|[^\s>"']+)""", re.IGNORECASE)
_URL = re.compile(r"""url\(\s*(["']?)([^"')]+)\1\s*\)""", re.IGNORECASE)
_IMPORT = re.compile(r"""(@import\s+)(["'])([^"']+)\2""", re.IGNORECASE)


def in_preview(html: str, own: Own, beginning: str) -> str:
    """A page as it is shown in the application.

    ``own`` resolves a reference of it; ``beginning`` is what the addresses of the draft's files begin with.
    """

    def fetched(reference: str) -> str:
        address = own(reference)
        return reference if address is None or address.startswith("/-/") else f"{beginning}{address}"

    def styles(css: str) -> str:
        return _URL.sub(lambda found: f"url({found[1]}{fetched(found[2])}{found[1]})", css)

    def attribute(name: str, found: re.Match[bytes]) -> bytes:
        key = found[1].decode().lower()
        if _STOPPED.get(name) == key:
            return b"data-" + found[0]
        value = unescape(found[3].decode().strip("\"'") if found[3][:1] in (b'"', b"'") else found[3].decode())
        if key == "style":
            told = styles(value)
        elif key == "srcset":
            told = ", ".join(_candidate(one, fetched) for one in value.split(", "))
        elif key in _FETCHED.get(name, ()) or key in _FETCHED["*"]:
            told = fetched(value)
        elif key in _LEADING.get(name, ()) and not value.startswith("#"):
            told = own(value) or value
        else:
            return found[0]
        return found[1] + b'="' + escape(told).encode() + b'"'

    def tag(name: str, written: bytes, text: bytes) -> bytes:
        changed = _ATTRIBUTE.sub(lambda found: attribute(name, found), written)
        return changed + (styles(text.decode()).encode() if name == "style" and text else text)

    return replaced_tags(html.encode(), tag).decode()


def _candidate(candidate: str, fetched: Callable[[str], str]) -> str:
    reference, _, descriptor = candidate.strip().partition(" ")
    return f"{fetched(reference)} {descriptor}".strip()


def css_in_preview(css: str, beginning: str) -> str:
    """A style sheet as it is served there: what it names from the root on comes from the draft's files too."""

    def fetched(reference: str) -> str:
        return f"{beginning}{reference}" if reference.startswith("/") and not reference.startswith("//") else reference

    css = _URL.sub(lambda found: f"url({found[1]}{fetched(found[2].strip())}{found[1]})", css)
    return _IMPORT.sub(lambda found: f"{found[1]}{found[2]}{fetched(found[3])}{found[2]}", css)
