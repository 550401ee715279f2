"""Drawing in place over an ASGI application (ASGI 3.0).

import navrel
from navrel.asgi import InPlace

application = InPlace(application, navrel.load("layout.json"), places={"header": "body > header"})
"""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable, Mapping, MutableMapping
from os import PathLike
from pathlib import Path
from typing import Any

from navrel.core.language.visitor import Visitor
from navrel.core.pages.page import Page
from navrel.program import Site
from navrel.redraw import LARGEST, Redrawing, encoding_of

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[[Scope, Receive, Send], Awaitable[None]]

#: What an application is not asked with that is drawn in: what the browser has is of bytes that it does not know, and
#: what is compressed cannot be drawn in.
_NOT_ASKED = frozenset({b"accept-encoding", b"if-none-match", b"if-modified-since", b"range", b"if-range"})


class InPlace:
    """An application whose pages stand as it answers them, but for the slots that the layout of a site decides.

    ``places`` and ``files``: as of `navrel.redraw.Redrawing`. ``visitor`` tells who asks, given the scope of a request
    and who that is by its headers, signed out: for applications that know who is signed in. What is no HTML, is
    compressed, is an error, or larger than 5 MiB, goes as it is.
    """

    def __init__(
        self,
        application: Application,
        site: Site,
        *,
        places: Mapping[str, str] | None = None,
        files: str | PathLike[str] | None = None,
        visitor: Callable[[Scope, Visitor], Visitor] = lambda scope, plain: plain,
    ) -> None:
        self._application = application
        self._redrawing = Redrawing(site, places, Path(files) if files is not None else None)
        self._visitor = visitor

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] not in ("GET", "HEAD"):
            return await self._application(scope, receive, send)
        if (file := self._redrawing.file(scope["path"])) is not None:
            return await _send_file(send, *file, is_head=scope["method"] == "HEAD")
        page = self._redrawing.page(scope["path"])
        if page is None:
            return await self._application(scope, receive, send)
        plain = {**scope, "headers": [one for one in scope["headers"] if one[0].lower() not in _NOT_ASKED]}
        return await self._application(plain, receive, _Answer(self._redrawing, self._drawn, scope, page, send))

    async def _drawn(self, scope: Scope, page: Page, data: bytes, encoding: str) -> bytes:
        """A page with what is decided for it, drawn beside whatever else is answered."""
        meta = {
            f"HTTP_{name.decode('latin-1').upper().replace('-', '_')}": value.decode("latin-1")
            for name, value in scope["headers"]
        }
        query = scope.get("query_string", b"").decode("latin-1")
        visitor = self._visitor(scope, self._redrawing.visitor(meta, query))
        return await asyncio.to_thread(self._redrawing.draw, page, data, encoding, visitor)


class _Answer:
    """Takes what an application sends, and sends it on: a whole page of HTML drawn, all else as it comes."""

    def __init__(
        self,
        redrawing: Redrawing,
        drawn: Callable[[Scope, Page, bytes, str], Awaitable[bytes]],
        scope: Scope,
        page: Page,
        send: Send,
    ) -> None:
        self._redrawing, self._drawn = redrawing, drawn
        self._scope, self._page, self._send = scope, page, send
        self._begun: Message | None = None
        self._encoding = ""
        self._parts: list[bytes] = []

    async def __call__(self, message: Message) -> None:
        if message["type"] == "http.response.start" and (encoding := _encoding(message)) is not None:
            self._begun, self._encoding = message, encoding
        elif message["type"] == "http.response.body" and self._begun is not None:
            self._parts.append(message.get("body", b""))
            more = message.get("more_body", False)
            if sum(map(len, self._parts)) > LARGEST:
                await self._as_it_is(self._begun, more=more)
            elif not more:
                await self._as_drawn(self._begun)
        else:
            await self._send(message)

    async def _as_it_is(self, begun: Message, *, more: bool) -> None:
        self._begun = None
        await self._send(begun)
        await self._send({"type": "http.response.body", "body": b"".join(self._parts), "more_body": more})

    async def _as_drawn(self, begun: Message) -> None:
        stated = [(name.decode("latin-1"), value.decode("latin-1")) for name, value in begun["headers"]]
        headers, data = self._redrawing.headers(self._page, stated), b""
        if self._scope["method"] == "GET":
            data = await self._drawn(self._scope, self._page, b"".join(self._parts), self._encoding)
            headers.append(("Content-Length", str(len(data))))
        told = [(name.lower().encode("latin-1"), value.encode("latin-1")) for name, value in headers]
        await self._send({**begun, "headers": told})
        await self._send({"type": "http.response.body", "body": data})


def _encoding(begun: Message) -> str | None:
    """What an answer is written in, where it is a whole page of HTML."""
    told = {bytes(name).lower(): bytes(value).decode("latin-1") for name, value in begun.get("headers", ())}
    if begun["status"] != 200 or told.get(b"content-encoding", "identity") != "identity":
        return None
    return encoding_of(told.get(b"content-type", ""))


async def _send_file(send: Send, media_type: str, data: bytes, *, is_head: bool) -> None:
    headers = [
        (b"content-type", media_type.encode()), (b"content-length", str(len(data)).encode()),
        (b"cache-control", b"public, max-age=31536000, immutable"),
    ]  # fmt: skip
    await send({"type": "http.response.start", "status": 200, "headers": headers})
    await send({"type": "http.response.body", "body": b"" if is_head else data})
