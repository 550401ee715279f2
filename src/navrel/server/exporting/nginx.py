"""Configuration of nginx for an exported site: its addresses, where old ones lead, who gets which look of a page."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import quote

from navrel.core.language.query import Term
from navrel.request import BROWSER_MARKS, MOST_TAGS, PHONE, PLAINLY_TOLD, TABLET
from navrel.server.delivery.headers import HEADERS

from .looks import Distinction

#: Below this folder of an export the looks of pages are that others see.
LOOKS = "-/looks"


@dataclass(frozen=True)
class Served:
    """What a server has to know of an export.

    ``looks``: what tells the looks of a page apart, by its address; ``moved``: where old addresses lead; ``policies``:
    the content security policy of each page that has another than those that are put together.
    """

    language: str
    looks: Mapping[str, Distinction] = field(default_factory=dict)
    moved: Mapping[str, str] = field(default_factory=dict)
    policies: Mapping[str, str] = field(default_factory=dict)


def look_file(address: str, mark: str) -> str:
    """The file of a look of a page, from the folder on."""
    return f"{LOOKS}{address}~{mark}.html"


def configuration(served: Served, folder: Path, listen: str = "80") -> str:
    """A file for nginx, to be included where its servers are (its `http` block).

    ``folder`` is that of the export; ``listen`` is a port, or an address with one.
    """
    terms = dict.fromkeys(term for telling in served.looks.values() for term in telling.terms)
    names = {term: f"$nv_term{number}" for number, term in enumerate(terms)}
    marks = {address: "".join(names[term] for term in telling.terms) for address, telling in served.looks.items()}
    vary = {address: _vary(telling) for address, telling in served.looks.items()}
    moved = {address: quote(target, safe="/:?#[]@!&'()*+,;=%~") for address, target in served.moved.items()}
    largest = max(len(served.looks), len(served.moved), len(served.policies))
    return "\n".join(
        (
            "# Written by navrel export. Who asks, as the rules of the site ask it.",
            f"map_hash_max_size {max(2048, 4 * largest)};",
            "map_hash_bucket_size 512;",
            "variables_hash_max_size 4096;",
            _map(
                "$http_user_agent",
                "$nv_device",
                [(f"~*{TABLET.pattern}", "tablet"), (f"~*{PHONE.pattern}", "phone")],
                "desktop",
            ),
            _map(
                "$http_user_agent",
                "$nv_browser",
                [(f"~{re.escape(mark)}", name) for name, mark in BROWSER_MARKS],
                "other",
            ),
            _map("$http_referer", "$nv_host", [(r"~^https?://(?<nv_named>[^/:?#]+)", "$nv_named")]),
            _map("$http_accept_language", "$nv_languages", [(_listed(_TAG), "$http_accept_language")], served.language),
            *(
                _map(source, names[term], [(pattern, "1")], "0")
                for term in terms
                for source, pattern in [_source(term)]
            ),
            "# Which look of a page that is, which headers make a difference to it, and where old addresses lead.",
            _map("$nv_asked", "$nv_look", marks.items()),
            _map("$nv_asked", "$nv_vary", vary.items()),
            _map("$nv_asked", "$nv_moved", moved.items()),
            _map("$nv_asked", "$nv_policy", served.policies.items(), HEADERS["Content-Security-Policy"]),
            _server(folder, listen),
        )
    )


def _server(folder: Path, listen: str) -> str:
    headers = {name: value for name, value in HEADERS.items() if name != "Content-Security-Policy"}
    return f"""server {{
    listen {listen};
    server_name _;
    root {_quoted(str(folder.resolve()))};
    # What is served in its place is another address to nginx.
    set $nv_asked $uri;
    add_header Content-Security-Policy $nv_policy always;
{_lines(f"add_header {name} {_quoted(value)} always;" for name, value in headers.items())}
    add_header Vary $nv_vary;
    error_page 404 /404.html;
    if ($nv_moved) {{
        return 308 $nv_moved$is_args$args;
    }}
    location ^~ /{LOOKS}/ {{
        return 404;
    }}
    location ^~ /-/ {{
        add_header Cache-Control "public, max-age=31536000, immutable";
    }}
    location / {{
        try_files /{LOOKS}$uri~$nv_look.html $uri $uri.html $uri/index.html =404;
    }}
}}
"""


def _lines(lines: Iterable[str]) -> str:
    return "\n".join(f"    {line}" for line in lines)


def _map(source: str, name: str, pairs: Iterable[tuple[str, str]], default: str = "") -> str:
    """A variable that hangs on another (nginx, ngx_http_map_module)."""
    lines = _lines(f"{_quoted(key)} {_quoted(value)};" for key, value in pairs)
    return f"map {source} {name} {{\n    default {_quoted(default)};\n{lines}\n}}"


def is_sayable(address: str) -> bool:
    """Whether an address can stand in a configuration."""
    return address.isprintable() and '"' not in address and "\\" not in address


def _vary(telling: Distinction) -> str:
    return ", ".join(sorted({PLAINLY_TOLD[term.fact] for term in telling.terms if term.fact in PLAINLY_TOLD}))


def _quoted(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


_TAG = "[A-Za-z0-9-]+"


def _listed(tag: str) -> str:
    """The pattern that finds a language among those that are listed."""
    return rf"~*^(?:[^,]*,){{0,{MOST_TAGS - 1}}}\s*{tag}\s*(?:[;,]|$)"


def _source(term: Term) -> tuple[str, str]:
    """What is looked at to see whether a term holds, and the pattern that finds that it does."""
    (value,) = term.values
    text = re.escape(value.text)
    match term.fact:
        case "device" | "browser":
            return f"$nv_{term.fact}", value.text
        case "referrer":
            return "$nv_host", rf"~*^(?:.+\.)?{text}$"
        case "accepts":
            return "$nv_languages", _listed(_TAG if value.text == "*" else rf"{text}(?:-[A-Za-z0-9-]+)?")
    name = re.escape(quote(term.key))
    if value.wild:
        return "$args", rf"~(?:^|&){name}(?:=|&|$)"
    said = re.escape(quote(value.text, safe="")).replace("%20", r"(?:%20|\+)")
    # The last of several is the one that counts.
    return "$args", rf"~(?:^|&){name}={said}(?:&(?!(?:.*&)?{name}(?:=|&|$))|$)"
