"""Addresses of files, and of what their markup leads to, as the site has them.

Sources: RFC 3986 (references and their resolution), the HTML Standard (base elements, srcset, redirects by meta).
"""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import SplitResult, quote, unquote, urljoin, urlsplit

from lxml import etree

from navrel.core.pages.page import PAGE_SUFFIXES
from navrel.core.text import fit
from navrel.rendering.in_place.references import ADDRESSES, changed_srcset

#: The attribute that holds several addresses.
_SEVERAL = "srcset"
#: Stands for the site's own host while references are resolved.
_HERE = "http://site.invalid"
_PORTS = {"http": 80, "https": 443}
_REFRESH = re.compile(r"\s*(\d*\.?\d*)\s*[;,\s]\s*(?:url\s*=)?\s*['\"]?([^'\"]+)", re.IGNORECASE)
#: How a script leads on (HTML Standard, the Location interface).
_LOCATING = re.compile(r"\blocation(?:\.href)?\s*=[^=]|\blocation\.(?:replace|assign)\s*\(")
#: Longest pause of a page that leads on, in seconds; with a longer one it is there to be read.
_MOST_PAUSE = 5


@lru_cache(maxsize=256)
def file_address(name: str) -> str:
    """Where a file below a folder is served: `a/b.html` at `/a/b.html`, `a/index.html` at `/a/`."""
    pure = PurePosixPath("/" + fit(name, 999))
    if pure.suffix.lower() in PAGE_SUFFIXES and pure.stem.lower() == "index":
        return "/" if str(pure.parent) == "/" else f"{pure.parent}/"
    return str(pure)


def name_of(parts: SplitResult) -> tuple[str, int | None] | None:
    """What a site is told by in an address: its host, and its port but where that is the one of the scheme.

    With and without `www.`, and by either scheme, it is the same site: old pages and sitemaps name it as it was. None
    for an address that is none.
    """
    try:
        port = parts.port
    except ValueError:
        return None
    return (parts.hostname or "").removeprefix("www."), None if port == _PORTS.get(parts.scheme) else port


class Around:
    """What references in one file are resolved against: where it is served, its base element, the site's address."""

    def __init__(self, address: str, base_url: str, base: str = "") -> None:
        self._site = urlsplit(base_url)
        self._name = name_of(self._site)
        self._base = f"{_HERE}{quote(address)}"
        if base:
            self._base = self._absolute(base)

    def own(self, reference: str) -> str | None:
        """The address below the site that a reference leads to, with query and fragment; None for one elsewhere."""
        try:
            parts = urlsplit(self._absolute(reference))
        except ValueError:
            return None
        path = parts.path or "/"
        if parts.scheme not in ("http", "https"):
            return None
        if parts.netloc != urlsplit(_HERE).netloc:
            below = self._site.path.rstrip("/")
            if not self._site.netloc or name_of(parts) != self._name or not f"{path}/".startswith(f"{below}/"):
                return None
            path = path[len(below) :] or "/"
        # Two slashes at the beginning would name a host.
        path = f"/{path.lstrip('/')}"
        query = f"?{parts.query}" if parts.query else ""
        return f"{path}{query}{f'#{parts.fragment}' if parts.fragment else ''}"

    def _absolute(self, reference: str) -> str:
        return urljoin(self._base, reference.strip())


def led_on(tree: Any) -> str:
    """The reference that a page leads on to by itself, at once or nearly so; empty for one that stays.

    Where it would lead without scripts alone (HTML Standard, `noscript`), it does if its scripts lead on too.
    """
    for meta in tree.iter("meta"):
        if (meta.get("http-equiv") or "").strip().lower() != "refresh":
            continue
        found = _REFRESH.match(meta.get("content") or "")
        if not found or float(found[1] or 0) > _MOST_PAUSE:
            continue
        leads = any(_LOCATING.search(script.text or "") for script in tree.iter("script"))
        if leads or next(meta.iterancestors("noscript"), None) is None:
            return found[2].strip()
    return ""


def root_links(content: Any, around: Around) -> None:
    """Write what a content leads to so that it leads there from anywhere on the site."""
    # Most of what a page leads to it leads to many times.
    known: dict[str, str] = {}

    def rooted(reference: str) -> str:
        if reference not in known:
            known[reference] = around.own(reference) or reference
        return known[reference]

    for element in content.iter(etree.Element):
        for name, value in element.items():
            if name in ADDRESSES:
                reference, mark, fragment = value.partition("#")
                if reference and (own := rooted(reference)) != reference:
                    element.set(name, f"{own}{mark}{fragment}")
            elif name == _SEVERAL:
                element.set(name, changed_srcset(value, rooted))


def address_of(own: str) -> str:
    """The address without query and fragment, as it is asked for: decoded."""
    return unquote(own.split("#", 1)[0].split("?", 1)[0])
