"""The headers of a request as a WSGI server gives them (PEP 3333): `HTTP_USER_AGENT` and its like."""

from __future__ import annotations

import io
import sys
from collections.abc import Mapping
from typing import Any

Meta = Mapping[str, str]

#: Where a request that the server makes itself says of which state, before that is served.
AHEAD = "navrel.ahead"
#: What of a request makes a difference to anybody; who is a member is not kept.
_PLAIN = (
    "PATH_INFO", "QUERY_STRING", "SERVER_NAME", "SERVER_PORT", "HTTP_HOST", "HTTP_USER_AGENT", "HTTP_ACCEPT_LANGUAGE",
    "HTTP_REFERER", "HTTP_NAVREL_DEVICE", "HTTP_NAVREL_BROWSER", "HTTP_NAVREL_LANGUAGES", "HTTP_NAVREL_REFERRER",
)  # fmt: skip


def plain(meta: Meta) -> Meta:
    """What of a request has to be said for it to be made again."""
    return {name: meta[name] for name in _PLAIN if name in meta}


def asked_at(address: str) -> Meta:
    """What is said in a request for an address, of which WSGI has the bytes one by one."""
    return {"PATH_INFO": address.encode().decode("latin-1")}


def again(asked: Meta) -> dict[str, Any]:
    """A request as a WSGI server gives it, from what was said in an earlier one."""
    return {
        "SERVER_NAME": "localhost", "SERVER_PORT": "80", **asked, "REQUEST_METHOD": "GET", "SCRIPT_NAME": "",
        "SERVER_PROTOCOL": "HTTP/1.1", "wsgi.version": (1, 0), "wsgi.url_scheme": "http", "wsgi.input": io.BytesIO(),
        "wsgi.errors": sys.stderr, "wsgi.multithread": True, "wsgi.multiprocess": True, "wsgi.run_once": False,
    }  # fmt: skip
