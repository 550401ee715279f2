"""A server as it is looked after: whether it lives, what it answers, how fast, and which request a line is about."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Iterable
from typing import Any
from wsgiref.types import StartResponse, WSGIApplication, WSGIEnvironment

from .counting import REQUESTS, SECONDS
from .telling import REQUEST, request_id

#: Where it is asked whether the process lives, and whether it has all that it takes to answer.
HEALTH, READY = "/-/health", "/-/ready"
log = logging.getLogger("navrel.requests")


class Observed:
    """A WSGI application (PEP 3333) before another: counts, logs, and answers whether it is well.

    ``server`` is what it is called; ``is_ready`` tells whether it has what it takes.
    """

    def __init__(self, application: WSGIApplication, server: str, is_ready: Callable[[], bool]) -> None:
        self._application = application
        self._server = server
        self._is_ready = is_ready
        self._seconds = SECONDS.labels(server)
        self._by_status: dict[str, Any] = {}

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        path = environ["PATH_INFO"]
        if path in (HEALTH, READY):
            return _told(path == HEALTH or self._is_ready(), start_response)
        begun, said = time.perf_counter(), ["500"]
        name = request_id(environ.get("HTTP_X_REQUEST_ID", ""))

        def start(status: str, headers: list[tuple[str, str]], *failed: Any) -> Any:
            said[0] = status[:3]
            return start_response(status, [*headers, ("X-Request-Id", name)], *failed)

        token = REQUEST.set(name)
        try:
            return self._application(environ, start)
        finally:
            seconds = time.perf_counter() - begun
            self._count(said[0], seconds)
            if log.isEnabledFor(logging.INFO):
                self._log(environ, said[0], seconds)
            REQUEST.reset(token)

    def _count(self, status: str, seconds: float) -> None:
        counter = self._by_status.get(status)
        if counter is None:
            counter = self._by_status[status] = REQUESTS.labels(self._server, status)
        counter.inc()
        self._seconds.observe(seconds)

    def _log(self, environ: WSGIEnvironment, status: str, seconds: float) -> None:
        told = {
            "server": self._server, "method": environ["REQUEST_METHOD"], "host": environ.get("HTTP_HOST", ""),
            "path": environ["PATH_INFO"], "status": int(status), "milliseconds": round(seconds * 1000, 1),
        }  # fmt: skip
        log.info("%s %s %s", told["method"], told["path"], status, extra=told)


def _told(is_well: bool, start_response: StartResponse) -> Iterable[bytes]:
    body = b"yes\n" if is_well else b"not yet\n"
    told = [("Content-Type", "text/plain"), ("Content-Length", str(len(body))), ("Cache-Control", "no-store")]
    start_response("200 OK" if is_well else "503 Service Unavailable", told)
    return (body,)
