"""Drawing in place over a WSGI application (PEP 3333).

    import navrel
    from navrel.wsgi import InPlace

    application = InPlace(application, navrel.load("layout.json"), places={"header": "body > header"})

What the application answers stands as it is, but for the slots.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from os import PathLike
from pathlib import Path
from typing import Any
from wsgiref.types import StartResponse, WSGIApplication, WSGIEnvironment

from navrel.core.language.visitor import Visitor
from navrel.program import Site
from navrel.redraw import LARGEST, Redrawing, encoding_of

Headers = list[tuple[str, str]]


class InPlace:
    """An application whose pages stand as it answers them, but for the slots that the layout of a site decides.

    ``places`` and ``files``: as of `navrel.redraw.Redrawing`. ``visitor`` tells who asks, given the environment of a
    request and who that is by its headers, signed out: for applications that know who is signed in. What is no HTML, is
    compressed, is an error, or larger than 5 MiB, goes as it is.
    """

    def __init__(
        self,
        application: WSGIApplication,
        site: Site,
        *,
        places: Mapping[str, str] | None = None,
        files: str | PathLike[str] | None = None,
        visitor: Callable[[WSGIEnvironment, Visitor], Visitor] = lambda environ, plain: plain,
    ) -> None:
        self._application = application
        self._redrawing = Redrawing(site, places, Path(files) if files is not None else None)
        self._visitor = visitor

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        path = path_of(environ)
        if environ["REQUEST_METHOD"] not in ("GET", "HEAD"):
            return self._application(environ, start_response)
        if (file := self._redrawing.file(path)) is not None:
            told = [
                ("Content-Type", file[0]),
                ("Content-Length", str(len(file[1]))),
                ("Cache-Control", "public, max-age=31536000, immutable"),
            ]
            start_response("200 OK", told)
            return [] if environ["REQUEST_METHOD"] == "HEAD" else [file[1]]
        page = self._redrawing.page(path)
        if page is None:
            return self._application(environ, start_response)
        # What the browser has is of bytes that the application does not know; and what is compressed is not drawn in.
        plain = {name: value for name, value in environ.items() if name not in NOT_ASKED}
        answer = Answered(self._application, plain)

        def drawn(data: bytes, encoding: str) -> bytes:
            visitor = self._visitor(environ, self._redrawing.visitor(environ, environ.get("QUERY_STRING", "")))
            return self._redrawing.draw(page, data, encoding, visitor)

        return in_place(answer, environ, start_response, drawn, lambda told: self._redrawing.headers(page, told))


def in_place(
    answer: Answered,
    environ: WSGIEnvironment,
    start_response: StartResponse,
    drawn: Callable[[bytes, str], bytes],
    headers: Callable[[Headers], Headers],
) -> Iterable[bytes]:
    """An answer with what is decided in it, where it is a whole page of HTML; any other as it is.

    ``drawn`` draws a page, which it is given with its encoding; ``headers`` are those of a drawn page, given what was
    said of the page.
    """
    encoding = answer.encoding
    if encoding is None or not answer.collect(LARGEST):
        start_response(answer.status, answer.headers, *answer.failed)
        return answer
    told, body = headers(answer.headers), list[bytes]()
    try:
        if environ["REQUEST_METHOD"] != "HEAD":
            body = [drawn(b"".join(answer.parts), encoding)]
            told = [*told, ("Content-Length", str(len(body[0])))]
    finally:
        answer.close()
    start_response(answer.status, told, *answer.failed)
    return body


#: What an application is not asked with that is drawn in.
NOT_ASKED = ("HTTP_ACCEPT_ENCODING", "HTTP_IF_NONE_MATCH", "HTTP_IF_MODIFIED_SINCE", "HTTP_RANGE", "HTTP_IF_RANGE")


class Answered:
    """What an application answers, as far as it was read: itself an iterable of all of it, to be closed once."""

    def __init__(self, application: WSGIApplication, environ: WSGIEnvironment) -> None:
        self.status, self.headers, self.failed = "", list[tuple[str, str]](), tuple[Any, ...]()
        self.parts: list[bytes] = []
        self._whole = application(environ, self._start)
        self._rest = iter(self._whole)
        # An application may say what it answers only with its first part.
        while not self.status and (part := next(self._rest, None)) is not None:
            self.parts.append(part)

    def _start(self, status: str, headers: Headers, *failed: Any) -> Callable[[bytes], object]:
        self.status, self.headers, self.failed = status, headers, failed
        return self.parts.append

    @property
    def encoding(self) -> str | None:
        """What it is written in, where it is a whole page of HTML."""
        told = {name.lower(): value for name, value in self.headers}
        if not self.status.startswith("200") or told.get("content-encoding", "identity") != "identity":
            return None
        return encoding_of(told.get("content-type", ""))

    def collect(self, most: int) -> bool:
        """Read all of it; whether that is no more than so many bytes."""
        size = sum(map(len, self.parts))
        while size <= most:
            part = next(self._rest, None)
            if part is None:
                return True
            self.parts.append(part)
            size += len(part)
        return False

    def __iter__(self) -> Iterator[bytes]:
        while True:
            # An application may write parts besides, up to its last.
            while self.parts:
                yield self.parts.pop(0)
            part = next(self._rest, None)
            if part is not None:
                self.parts.append(part)
            elif not self.parts:
                return

    def close(self) -> None:
        """Tell the application that nobody reads on."""
        close = getattr(self._whole, "close", None)
        if close is not None:
            close()


def path_of(environ: WSGIEnvironment) -> str:
    """The path that is asked for, as text: WSGI gives its bytes as Latin-1 (PEP 3333)."""
    path: str = environ.get("SCRIPT_NAME", "") + environ.get("PATH_INFO", "")
    return path.encode("latin-1", "replace").decode("utf-8", "replace") or "/"
