"""Asking other servers, whatever is asked for: who may be asked where people name the address, and how.

Only the open web is asked, at its usual ports, unless the owner of the server says otherwise. So a name is looked up
once, refused where it stands for an address in a network of its own (RFC 1918, RFC 6890), and that very address is
connected to.
"""

from __future__ import annotations

import ipaddress
import socket
import time
from collections.abc import Mapping
from typing import Any
from urllib.parse import SplitResult, urlsplit

import urllib3
from django.conf import settings

#: Answers that lead on (RFC 9110, section 15.4).
REDIRECTS = (301, 302, 303, 307, 308)
MAX_ADDRESS = 2000
#: What Navrel calls itself where it asks.
AGENT = "Navrel"
_CHUNK = 65_536
#: What an answer gives to ask with next time (RFC 9110, section 13.1), and the longest of it that is kept.
_ASKS = {"If-None-Match": "ETag", "If-Modified-Since": "Last-Modified"}
_MAX_ASK = 500


class NotAsked(ValueError):
    """Why a server is not asked, for people."""


def web_address(url: str, *, inner: bool = False) -> SplitResult:
    """An address of the web in its parts. ``inner``: at whatever port. Raises NotAsked."""
    if len(url) > MAX_ADDRESS:
        raise NotAsked("this address is too long")
    try:
        parts = urlsplit(url)
        port = parts.port
    except ValueError:
        raise NotAsked("this is no address") from None
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise NotAsked("it has an address that begins with https:// or http://")
    if parts.username or parts.password:
        raise NotAsked("an address with a name and a password cannot be asked")
    if port not in (None, 80, 443) and not (inner or _is_allowed(parts)):
        raise NotAsked("it is asked for at the usual ports, 80 and 443")
    return parts


def looked_up(parts: SplitResult, *, inner: bool = False) -> str:
    """The address in numbers that is connected to: the first that a name stands for. Raises NotAsked.

    ``inner``: whatever network that is in.
    """
    host = parts.hostname or ""
    try:
        found = socket.getaddrinfo(host, port_of(parts), type=socket.SOCK_STREAM)
    except (OSError, UnicodeError):
        raise NotAsked(f"there is no {host}") from None
    ip = str(found[0][4][0])
    if not (inner or ipaddress.ip_address(ip.split("%")[0]).is_global or _is_allowed(parts)):
        raise NotAsked(f"{host} is in a network of its own, which is not asked")
    return ip


def port_of(parts: SplitResult) -> int:
    """The port of an address."""
    return parts.port or (443 if parts.scheme == "https" else 80)


def _is_allowed(parts: SplitResult) -> bool:
    """Whether the owner of the server lets it ask this host, wherever it is."""
    return f"{parts.hostname}:{port_of(parts)}" in settings.INNER_HOSTS


def asks_of(headers: Any) -> dict[str, str]:
    """What an answer gives to ask with next time, so that it is sent again only where it has changed."""
    found = {ask: str(headers.get(told, "")) for ask, told in _ASKS.items()}
    return {ask: told for ask, told in found.items() if told and len(told) < _MAX_ASK and told.isprintable()}


def connections(parts: SplitResult, ip: str, timeout: urllib3.Timeout) -> Any:
    """Connections to the host of an address, at the address in numbers that was looked up for it and at no other."""
    host, port = parts.hostname, port_of(parts)
    if parts.scheme == "https":
        return urllib3.HTTPSConnectionPool(ip, port, server_hostname=host, assert_hostname=host, timeout=timeout)
    return urllib3.HTTPConnectionPool(ip, port, timeout=timeout)


def answered(
    pool: Any, parts: SplitResult, path: str, headers: Mapping[str, str], method: str = "GET", body: bytes | None = None
) -> Any:
    """The answer of the host of an address, without its body, and without following where it leads."""
    return pool.urlopen(
        method, path, body=body, headers={"User-Agent": AGENT, "Host": _host_header(parts), **headers}, redirect=False,
        retries=False, preload_content=False, assert_same_host=False,
    )  # fmt: skip


def body_of(answer: Any, most: int, seconds: float) -> bytes:
    """The body of an answer, up to a byte more than the most of it, however it trickles. Raises TimeoutError."""
    until = time.monotonic() + seconds
    found = bytearray()
    while len(found) <= most and (chunk := answer.read1(_CHUNK, decode_content=True)):
        found += chunk
        if time.monotonic() > until:
            raise TimeoutError
    return bytes(found[: most + 1])


def _host_header(parts: SplitResult) -> str:
    """The host as a request names it."""
    host = f"[{parts.hostname}]" if ":" in (parts.hostname or "") else parts.hostname or ""
    return host if parts.port is None else f"{host}:{parts.port}"
