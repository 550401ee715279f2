"""An old site, as old sites are: it streams, compresses, redirects, sets cookies, takes what is posted, and fails."""

import gzip
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread

BEFORE, OWN, AFTER = (
    b"<!doctype html><title>Old</title><body class=old>\n",
    b"<header>Old header</header>",
    b"<main>Old page</main></body>",
)
PAGE = BEFORE + OWN + AFTER


@dataclass
class OldSite:
    """Where it is, and with what it was asked; ``fails``: with what it answers everything meanwhile."""

    host: str = ""
    asked: list[tuple[str, str, dict[str, str], bytes]] = field(default_factory=list)
    fails: str = ""


class _Handler(BaseHTTPRequestHandler):
    site: OldSite
    protocol_version = "HTTP/1.1"

    def _take(self) -> None:
        body = self._body()
        self.site.asked.append(
            (self.command, self.path, {name.title(): value for name, value in self.headers.items()}, body)
        )
        match self.site.fails or self.path.partition("?")[0]:
            case "broken":
                self._say(500, PAGE)
            case "cut":
                self.send_response(200)
                self.send_header("Content-Type", "text/html")
                self.send_header("Content-Length", str(len(PAGE) + 100))
                self.end_headers()
                self.wfile.write(PAGE)
                self.close_connection = True
            case "/help":
                self._chunked()
            case "/contact":
                self._say(200, gzip.compress(PAGE), ("Content-Encoding", "gzip"))
            case "/tickets":
                self._say(200, PAGE, ("Set-Cookie", "basket=1; Path=/; HttpOnly"), ("Set-Cookie", "seen=2"))
            case "/routes":
                self._say(302, b"", ("Location", f"http://{self.headers['Host']}/about"))
            case "/cart":
                self._say(200, json.dumps({"took": body.decode()}).encode(), kind="application/json")
            case "/boat.png":
                self._say(200, b"boat" * 1000, kind="image/png")
            case "/harbours":
                self._say(200, PAGE, ("Cache-Control", "public, max-age=600"), ("ETag", '"old"'))
            case _:
                self._say(200, PAGE)

    do_GET = do_POST = do_HEAD = _take  # noqa: N815

    def _body(self) -> bytes:
        if self.headers.get("Transfer-Encoding") != "chunked":
            return self.rfile.read(int(self.headers.get("Content-Length") or 0))
        body = b""
        while size := int(self.rfile.readline(), 16):
            body += self.rfile.read(size)
            self.rfile.readline()
        self.rfile.readline()
        return body

    def _say(self, status: int, body: bytes, *more: tuple[str, str], kind: str = "text/html; charset=utf-8") -> None:
        self.send_response(status)
        for name, value in (("Content-Type", kind), ("Content-Length", str(len(body))), ("X-Old", "yes"), *more):
            self.send_header(name, value)
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(body)

    def _chunked(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/html; charset=utf-8")
        self.send_header("Transfer-Encoding", "chunked")
        self.end_headers()
        for part in (BEFORE, OWN[:9], OWN[9:], AFTER):
            self.wfile.write(b"%x\r\n%s\r\n" % (len(part), part))
            self.wfile.flush()
        self.wfile.write(b"0\r\n\r\n")

    def log_message(self, *arguments: object) -> None:
        pass


@contextmanager
def old_site() -> Iterator[OldSite]:
    """It, as long as the block lasts."""
    site = OldSite()
    with ThreadingHTTPServer(("127.0.0.1", 0), type("Handler", (_Handler,), {"site": site})) as server:
        site.host = f"127.0.0.1:{server.server_port}"
        Thread(target=server.serve_forever, daemon=True).start()
        yield site
        server.shutdown()
