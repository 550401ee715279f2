#!/usr/bin/env python3
"""Receive what Navrel tells of publications: check who says it, and run a command for it.

    ./receive.py --secret-file secret nginx/published

Point a webhook of the site at http://HOST:PORT/ and put its secret into the file. The command finds in its environment
NAVREL_TYPE, NAVREL_SITE and NAVREL_REVISION; without a command each message is printed. A command that fails is run
again when Navrel sends the message again. It takes Python 3.9 or later, and nothing else.
"""

from __future__ import annotations

import argparse
import base64
import hashlib
import hmac
import json
import os
import subprocess
import sys
import time
from collections import OrderedDict
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from threading import Lock

#: How far the clocks may be apart, in seconds; what is older may be somebody's who listened (Standard Webhooks).
TOLERANCE = 300
LARGEST, MOST_KNOWN = 65_536, 1_000


def is_genuine(secret: bytes, headers, body: bytes, now: float) -> bool:
    """Whether a message was sent by whoever has the secret, a short while ago."""
    stamp, message = headers.get("webhook-timestamp", ""), headers.get("webhook-id", "")
    if not stamp.isascii() or not stamp.isdigit() or abs(now - int(stamp)) > TOLERANCE:
        return False
    signed = hmac.new(secret, f"{message}.{stamp}.".encode() + body, hashlib.sha256)
    wanted = b"v1," + base64.b64encode(signed.digest())
    told = headers.get("webhook-signature", "").encode().split(b" ")
    return any(hmac.compare_digest(one, wanted) for one in told)


class Receiver(ThreadingHTTPServer):
    """Takes messages, each once."""

    daemon_threads = True

    def __init__(self, address, secret: bytes, command: list[str]) -> None:
        super().__init__(address, Handler)
        self.secret, self.command = secret, command
        self.known: OrderedDict[str, bool] = OrderedDict()
        self.one_at_a_time = Lock()

    def take(self, message: str, body: bytes) -> bool:
        """Carry a message out, unless that was done; whether it is done now."""
        with self.one_at_a_time:
            if message in self.known:
                return True
            told = json.loads(body)
            if not self.command:
                print(body.decode(), flush=True)
            elif subprocess.run(self.command, env={**os.environ, **told_of(told)}, check=False).returncode:
                return False
            self.known[message] = True
            while len(self.known) > MOST_KNOWN:
                self.known.popitem(last=False)
            return True


def told_of(told) -> dict[str, str]:
    """What a message says, as a command finds it."""
    data = told["data"]
    named = {"TYPE": told["type"], "SITE": data["site"], "REVISION": data.get("revision") or ""}
    return {f"NAVREL_{name}": str(value) for name, value in named.items()}


class Handler(BaseHTTPRequestHandler):
    """Answers 204 for what is done, 401 for what is not Navrel's, and 500 for what may be sent again."""

    server: Receiver
    timeout = 10

    def do_POST(self) -> None:
        length = self.headers.get("Content-Length", "")
        if not length.isdigit() or int(length) > LARGEST:
            return self.answer(413)
        body = self.rfile.read(int(length))
        if not is_genuine(self.server.secret, self.headers, body, time.time()):
            return self.answer(401)
        try:
            done = self.server.take(self.headers["webhook-id"], body)
        except (OSError, ValueError, KeyError, TypeError, AttributeError) as error:
            print(f"cannot be carried out: {error}", file=sys.stderr, flush=True)
            done = False
        return self.answer(204 if done else 500)

    def answer(self, status: int) -> None:
        self.send_response(status)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, *arguments) -> None:
        """Says nothing of what went well."""


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--listen", default="127.0.0.1:9420", metavar="HOST:PORT", help="where it is told")
    parser.add_argument("--secret-file", required=True, type=Path, help="the file that holds the webhook's secret")
    parser.add_argument("command", nargs=argparse.REMAINDER, help="what is run for each publication")
    options = parser.parse_args()
    host, _, port = options.listen.rpartition(":")
    try:
        secret = base64.b64decode(options.secret_file.read_text().strip().removeprefix("whsec_"), validate=True)
    except (OSError, ValueError) as error:
        parser.error(f"{options.secret_file} holds no secret of a webhook: {error}")
    with Receiver((host, int(port)), secret, options.command) as receiver:
        try:
            receiver.serve_forever()
        except KeyboardInterrupt:
            pass


if __name__ == "__main__":
    main()
