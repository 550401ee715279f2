"""An old site behind this one, as a WSGI application (PEP 3333): asked as it was asked, answered as it answers.

Headers that are about one connection alone are not passed on (RFC 9110, section 7.6.1); whoever asks is told of as
servers do (X-Forwarded-For, X-Forwarded-Proto, X-Forwarded-Host).
"""

from __future__ import annotations

import logging
from collections.abc import Iterable, Iterator
from typing import Any
from urllib.parse import quote, urlsplit
from wsgiref.types import StartResponse, WSGIEnvironment

import urllib3
from django.conf import settings

log = logging.getLogger(__name__)

#: Of one connection alone.
_HOP = frozenset({
    "connection", "keep-alive", "proxy-authenticate", "proxy-authorization", "te", "trailer", "transfer-encoding",
    "upgrade", "proxy-connection",
})  # fmt: skip
#: What an edge says to this server alone.
_OWN = "navrel-"
#: What is told anew.
_FORWARDED = "x-forwarded-"
_TIMEOUT = urllib3.Timeout(connect=5, read=30)
_CHUNK = 65_536
#: Answers without a body (RFC 9110, section 6.4.1).
_BARE = (204, 304)


class OldSite:
    """The site at an origin. What it does not answer is a 502, or a 504 where it takes too long."""

    def __init__(self, origin: str) -> None:
        parts = urlsplit(origin)
        self._pool: Any = urllib3.connection_from_url(
            f"{parts.scheme}://{parts.netloc}", maxsize=8, block=False, timeout=_TIMEOUT, retries=False
        )
        self._base = parts.path.rstrip("/")

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        method, length = environ["REQUEST_METHOD"], environ.get("CONTENT_LENGTH") or ""
        # What is sent in chunks has no length, and is sent on so.
        has_body = environ.get("HTTP_TRANSFER_ENCODING") or (length.isdigit() and int(length))
        body = environ["wsgi.input"] if has_body else None
        try:
            answer = self._pool.urlopen(
                method, self._base + _target(environ), body=body, headers=dict(_asked(environ, length)), redirect=False,
                preload_content=False, decode_content=False, assert_same_host=False,
            )  # fmt: skip
        except (urllib3.exceptions.HTTPError, OSError) as error:
            return failed(start_response, _status(error), error)
        named = {one.strip().lower() for one in answer.headers.get("Connection", "").split(",")}
        headers = [(name, value) for name, value in answer.headers.iteritems() if name.lower() not in _HOP | named]
        start_response(f"{answer.status} {answer.reason or 'Told'}", headers)
        if method == "HEAD" or answer.status in _BARE:
            answer.release_conn()
            return ()
        return _Stream(answer)


class _Stream:
    """The body of an answer as it comes."""

    def __init__(self, answer: Any) -> None:
        self._answer = answer

    def __iter__(self) -> Iterator[bytes]:
        # Whatever was cut off is cut off here too: the server ends the connection on an error.
        yield from self._answer.stream(_CHUNK, decode_content=False)

    def close(self) -> None:
        """Let go of the connection: for another to use where all was read."""
        if self._answer.isclosed():
            self._answer.release_conn()
        else:
            self._answer.close()


def _target(environ: WSGIEnvironment) -> str:
    """The path and the parameters that were asked for, as they were written where the server tells that."""
    raw = environ.get("RAW_URI", "")
    if raw.startswith("/"):
        return str(raw)
    query = environ.get("QUERY_STRING", "")
    return quote(environ["PATH_INFO"].encode("latin-1"), safe="/:@!$&'()*+,;=~-._%") + (f"?{query}" if query else "")


def _asked(environ: WSGIEnvironment, length: str) -> Iterator[tuple[str, str]]:
    """The headers with which it is asked."""
    named = {one.strip().lower() for one in environ.get("HTTP_CONNECTION", "").split(",")}
    for name, value in environ.items():
        header = name.removeprefix("HTTP_").replace("_", "-").title()
        low = header.lower()
        if name.startswith("HTTP_") and low not in _HOP | named and not low.startswith((_OWN, _FORWARDED)):
            yield header, value
    if environ.get("CONTENT_TYPE"):
        yield "Content-Type", environ["CONTENT_TYPE"]
    if length:
        yield "Content-Length", length
    own = {
        "X-Forwarded-For": environ.get("REMOTE_ADDR", ""),
        "X-Forwarded-Host": environ.get("HTTP_HOST", ""),
        "X-Forwarded-Proto": environ.get("wsgi.url_scheme", "http"),
    }
    # An edge knows who asks it; of anybody else it would be a word of theirs.
    stated = {name: environ.get(_meta(name), "") for name in own} if settings.EDGE else {}
    yield from ((name, stated.get(name) or value) for name, value in own.items())


def _meta(header: str) -> str:
    return f"HTTP_{header.upper().replace('-', '_')}"


def _status(error: Exception) -> str:
    # One that could not be made at all is a kind of one that took too long, to the library.
    is_late = isinstance(error, urllib3.exceptions.TimeoutError | TimeoutError)
    is_none = isinstance(error, urllib3.exceptions.NewConnectionError)
    return "504 Gateway Timeout" if is_late and not is_none else "502 Bad Gateway"


def failed(start_response: StartResponse, status: str, error: Exception) -> Iterable[bytes]:
    """That the old site does not answer, or not to its end."""
    log.warning("the old site does not answer: %s", error)
    body = b"The site does not answer for the moment. Try again in a little while.\n"
    told = {"Content-Type": "text/plain", "Content-Length": str(len(body)), "Cache-Control": "no-store"}
    start_response(status, [*told.items(), ("Retry-After", "5")])
    return (body,)
