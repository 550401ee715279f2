"""Reading files in a process of its own: one that can be stopped, and that has only so much time and memory.

What a hostile file can do to a parser ends there: the file is named and skipped, and the others go on.
"""

from __future__ import annotations

import os
import resource
import select
import struct
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict
from threading import Lock
from typing import IO, Any

import orjson

from .reading import ReadPage, Unreadable, read_page

#: Seconds that one file may take. A page of 5 MB takes about one.
MAX_SECONDS = 8
#: Bytes of memory that the process may have.
MAX_MEMORY = 2 * 1024**3
_LENGTH = struct.Struct("!Q")


class Reader:
    """A process that reads pages out of files, started when it is first needed and again where it had to be ended."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None

    def read(self, name: str, data: bytes, base_url: str = "") -> ReadPage:
        """The page in a file of the site at an address.

        Raises Unreadable with the reason, also where reading took too long or too much.
        """
        process = self._started()
        assert process.stdin is not None and process.stdout is not None
        try:
            _send(process.stdin, name.encode("utf-8", "replace"))
            _send(process.stdin, base_url.encode())
            _send(process.stdin, data)
            answer = orjson.loads(_received(process.stdout, time.monotonic() + MAX_SECONDS))
        except TimeoutError:
            self.close()
            raise Unreadable(f"took longer than {MAX_SECONDS} seconds to read") from None
        except (OSError, EOFError):
            self.close()
            raise Unreadable("is too much for reading: it took more memory than a page can need") from None
        if "reason" in answer:
            raise Unreadable(answer["reason"])
        return ReadPage(**answer["page"])

    def close(self) -> None:
        """End the process."""
        if self._process is not None:
            self._process.kill()
            self._process.communicate()
            self._process = None

    def _started(self) -> subprocess.Popen[bytes]:
        if self._process is None or self._process.poll() is not None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", __name__], stdin=subprocess.PIPE, stdout=subprocess.PIPE, bufsize=0
            )
        return self._process


_idle: list[Reader] = []
_lock = Lock()


@contextmanager
def a_reader() -> Iterator[Reader]:
    """A reader that nobody else uses meanwhile; it is kept for the next one who asks."""
    with _lock:
        reader = _idle.pop() if _idle else Reader()
    try:
        yield reader
    except BaseException:
        reader.close()
        raise
    with _lock:
        _idle.append(reader)


def _send(pipe: IO[bytes], data: bytes) -> None:
    view = memoryview(_LENGTH.pack(len(data)) + data)
    while view:
        view = view[pipe.write(view) :]


def _received(pipe: IO[bytes], deadline: float) -> bytes:
    """One message. Raises EOFError where the other side ended, TimeoutError past the deadline."""
    (length,) = _LENGTH.unpack(_exactly(pipe, _LENGTH.size, deadline))
    return _exactly(pipe, length, deadline)


def _exactly(pipe: IO[bytes], count: int, deadline: float) -> bytes:
    parts = []
    while count:
        if not select.select([pipe], [], [], max(0, deadline - time.monotonic()))[0]:
            raise TimeoutError
        part = os.read(pipe.fileno(), min(count, 1 << 20))
        if not part:
            raise EOFError
        parts.append(part)
        count -= len(part)
    return b"".join(parts)


def _answer(name: str, base_url: str, data: bytes) -> dict[str, Any]:
    try:
        return {"page": asdict(read_page(name, data, base_url))}
    except Unreadable as reason:
        return {"reason": str(reason)}
    except MemoryError:
        return {"reason": "takes more memory than a page can need"}
    except Exception as error:
        # Whatever a parser makes of a hostile file concerns this file alone.
        return {"reason": f"cannot be read: {type(error).__name__}"}


def main() -> None:
    """Read files from standard input until it ends, and write what is in each to standard output."""
    resource.setrlimit(resource.RLIMIT_AS, (MAX_MEMORY, MAX_MEMORY))
    requests, answers = sys.stdin.buffer, sys.stdout.buffer

    def received() -> bytes | None:
        header = requests.read(_LENGTH.size)
        return requests.read(_LENGTH.unpack(header)[0]) if header else None

    while (name := received()) is not None:
        base_url, data = received() or b"", received() or b""
        answer = orjson.dumps(_answer(name.decode(), base_url.decode(), data))
        answers.write(_LENGTH.pack(len(answer)) + answer)
        answers.flush()


if __name__ == "__main__":
    main()
