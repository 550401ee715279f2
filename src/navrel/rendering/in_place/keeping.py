"""Keeping what was put into a page that its own scripts draw anew in the browser, as frameworks hydrate theirs."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from functools import cache
from importlib import resources
from typing import NamedTuple

#: What the pages of frameworks say that hydrate them (React, Vue, Svelte, Angular, Qwik and what is built on them): as
#: an id, an attribute, or in a script. What a page's text says of them is nothing.
_IDS = (b"__next", b"__NEXT_DATA__", b"___gatsby", b"__docusaurus", b"__nuxt", b"__NUXT_DATA__", b"svelte-announcer")
_ATTRIBUTES = (b"data-server-rendered", b"data-reactroot", b"ng-server-context", b"q:container")
_IN_SCRIPTS = (
    b"__next_f", b"__NEXT", b"___gatsby", b"__NUXT__", b"__VP_HASH_MAP__", b"__VUEPRESS", b"__remixContext",
    b"__reactRouterContext", b"__sveltekit",
)  # fmt: skip
_HYDRATED = re.compile(
    rb"<[a-zA-Z][^<>]*\s(?:id=[\"']?(?:%b)\b|%b)|<(?:script|SCRIPT)\b[^<>]*>[^<]*?(?:%b)"
    % tuple(map(b"|".join, (_IDS, _ATTRIBUTES, _IN_SCRIPTS)))
)
_SCRIPT = re.compile(rb"<script\b|</body\s*>", re.IGNORECASE)

#: How something stands in the page: as bindings say, or `inside` where an element stays around what is in its place;
#: and the selector of what it stands at.
Way = tuple[str, str]


class Kept(NamedTuple):
    """What is kept: its ways to its place, the first that finds one; and the HTML that stood there."""

    ways: Sequence[Way]
    stood: str


def is_hydrated(data: bytes) -> bool:
    """Whether the scripts of a page draw it anew from what they know of it."""
    # Most pages say none of it, which is found out in a fraction of the time.
    said = any(one in data for one in (*_IDS, *_ATTRIBUTES, *_IN_SCRIPTS))
    return said and _HYDRATED.search(data) is not None


def fenced(number: int, markup: str) -> str:
    """Markup that is to be kept, between comments that tell which it is."""
    return f"<!--nv-kept {number}-->{markup}<!--nv-kept-until {number}-->"


def keeper(places: Sequence[Kept], *, title: bool) -> str:
    """The script that keeps what stands between the comments. ``title``: whether the title element is kept too."""
    told = json.dumps({"places": [one._asdict() for one in places], "title": title})
    # Nothing in it ends the script, or begins a comment there (HTML Standard, 4.12.1.3).
    return f"<script>{_script()}{told.replace('<', chr(92) + 'u003c')});</script>"


def keeper_at(data: bytes, after: int) -> int:
    """Where the script stands in a page: behind a byte, before the scripts there; at its end where there are none."""
    found = _SCRIPT.search(data, after)
    return found.start() if found else len(data)


@cache
def _script() -> str:
    text = resources.files(__package__).joinpath("keeping.js").read_text()
    return "\n".join(line.strip() for line in text.partition("*/\n")[2].rstrip().splitlines())
