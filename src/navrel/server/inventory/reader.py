"""Reading files in a process of its own: one that can be stopped, and that has only so much time and memory.

What a hostile file can do to a parser ends there: the file is named and skipped, and the others go on.
"""

from __future__ import annotations

import os
import resource
import select
import signal
import struct
import subprocess
import sys
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from functools import lru_cache
from threading import Lock
from typing import IO, Any, TypeVar

import orjson

from navrel.core.files.reading import read_recipe
from navrel.core.layout.recipe import Recipe
from navrel.rendering.in_place.places import Asked

from .blocks import Block, Mark
from .decoding import Unreadable
from .reading import (
    ReadFacts,
    ReadPage,
    ReadPlaces,
    read_blocks,
    read_candidates,
    read_facts,
    read_markup,
    read_page,
    read_places,
    read_shown,
)

#: Seconds of a processor that one file may take. A page of 5 MB takes about one.
MAX_SECONDS = 8
#: So many times as long it may take on a machine that is busy with other things.
_PATIENCE = 10
#: Bytes of memory that the process may have.
MAX_MEMORY = 2 * 1024**3
#: Files that are read beside each other: more than there are processors, as each waits for its next one meanwhile.
READERS = min(4, 2 * (os.cpu_count() or 1))
_LENGTH = struct.Struct("!Q")
Item = TypeVar("Item")
Found = TypeVar("Found")


class Reader:
    """A process that reads pages out of files, started when it is first needed and again where it had to be ended."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None

    def read(
        self, name: str, data: bytes, base_url: str = "", asked: Iterable[Asked] = (), recipe: str = "[]"
    ) -> ReadPage:
        """The page in a file of the site at an address, with the places that are asked for.

        ``recipe``: as JSON. Raises Unreadable with the reason, also where reading took too long or too much.
        """
        question = {"what": "page", "name": name, "base_url": base_url, "asked": tuple(asked), "recipe": recipe}
        return ReadPage(**self._ask(question, data))

    def facts(self, name: str, data: bytes, base_url: str, recipe: str) -> ReadFacts:
        """The facts of the page in a file, by a recipe as JSON. Raises Unreadable as above."""
        return ReadFacts(**self._ask({"what": "facts", "name": name, "base_url": base_url, "recipe": recipe}, data))

    def candidates(self, name: str, data: bytes, base_url: str) -> list[tuple[str, dict[str, Any], list[str]]]:
        """Places of a file that may hold a fact: of which, where as in the layout file, and what stands there.

        Raises Unreadable as above.
        """
        told = self._ask({"what": "candidates", "name": name, "base_url": base_url}, data)
        return [(fact, place, values) for fact, place, values in told["candidates"]]

    def places(self, data: bytes, encoding: str, asked: Iterable[Asked]) -> ReadPlaces:
        """Where some selectors find their places in a file. Raises Unreadable as above."""
        return ReadPlaces(**self._ask({"what": "places", "encoding": encoding, "asked": tuple(asked)}, data))

    def feed(self, data: bytes, base_url: str, address: str) -> dict[str, dict[str, Any]]:
        """What a feed at an address says of pages of its site, by their paths. Raises Unreadable as above."""
        return self._ask({"what": "feed", "base_url": base_url, "address": address}, data)

    def blocks(self, data: bytes, encoding: str, address: str, base_url: str) -> list[Block]:
        """The parts of a page that may be those of slots. Raises Unreadable as above."""
        told = self._ask({"what": "blocks", "encoding": encoding, "address": address, "base_url": base_url}, data)
        return [Block(*one) for one in told["blocks"]]

    def shown(
        self, data: bytes, encoding: str, address: str, base_url: str, starts: Iterable[int]
    ) -> list[tuple[str, list[Mark]]]:
        """Of the elements that start at some bytes, a digest without what varies, and what says where a reader is.

        Raises Unreadable as above.
        """
        asked = {"what": "shown", "encoding": encoding, "address": address, "base_url": base_url}
        told = self._ask({**asked, "starts": list(starts)}, data)["shown"]
        return [(digest, [Mark(*mark) for mark in marks]) for digest, marks in told]

    def markup(
        self, data: bytes, encoding: str, address: str, base_url: str, start: int, marked: Sequence[Mark]
    ) -> tuple[str, list[list[str]]]:
        """The element that starts at a byte as markup, with places of marks; what is led to from each of these.

        Raises Unreadable as above.
        """
        asked = {"what": "markup", "encoding": encoding, "address": address, "base_url": base_url}
        told = self._ask({**asked, "start": start, "marked": list(map(tuple, marked))}, data)
        return told["markup"], told["links"]

    def _ask(self, question: dict[str, Any], data: bytes) -> dict[str, Any]:
        """What the process answers. Raises Unreadable."""
        process = self._started()
        assert process.stdin is not None and process.stdout is not None
        try:
            _send(process.stdin, orjson.dumps({**question, "seconds": MAX_SECONDS}))
            _send(process.stdin, data)
            answer = orjson.loads(_received(process.stdout, time.monotonic() + _PATIENCE * MAX_SECONDS))
        except (OSError, EOFError) as error:
            self.close()
            if isinstance(error, TimeoutError) or process.returncode == -signal.SIGPROF:
                raise Unreadable(f"took longer than {MAX_SECONDS} seconds to read") from None
            raise Unreadable("is too much for reading: it took more memory than a page can need") from None
        if "reason" in answer:
            raise Unreadable(answer["reason"])
        return dict(answer["found"])

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


def read_beside(items: Iterable[Item], read: Callable[[Reader, Item], Found]) -> list[Found]:
    """What reading comes to for each item, in their order; several are read beside each other."""
    walk, turns = enumerate(items), Lock()
    found: dict[int, Found] = {}

    def work() -> None:
        with a_reader() as reader:
            while True:
                with turns:
                    one = next(walk, None)
                if one is None:
                    return
                number, item = one
                found[number] = read(reader, item)

    with ThreadPoolExecutor(READERS) as pool:
        for worker in [pool.submit(work) for _ in range(READERS)]:
            worker.result()
    return [found[number] for number in sorted(found)]


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


def _found(question: dict[str, Any], data: bytes) -> dict[str, Any]:
    """What is asked about a file. Raises Unreadable, and whatever a parser makes of it."""
    match question["what"]:
        case "page":
            recipe = _recipe(question["recipe"])
            return vars(read_page(question["name"], data, question["base_url"], _asked(question), recipe))
        case "facts":
            return read_facts(question["name"], data, question["base_url"], _recipe(question["recipe"]))._asdict()
        case "candidates":
            return {"candidates": read_candidates(question["name"], data, question["base_url"])}
        case "places":
            return read_places(data, question["encoding"], _asked(question))._asdict()
        case "feed":
            # Few sites have one, and it takes its time to have what reads it.
            from .syndication import read_feed

            return read_feed(data, question["base_url"], question["address"])
        case "blocks":
            found = read_blocks(data, question["encoding"], question["address"], question["base_url"])
            return {"blocks": [tuple(block) for block in found]}
        case "shown":
            around = question["address"], question["base_url"]
            shown = read_shown(data, question["encoding"], *around, question["starts"])
            return {"shown": [(digest, list(map(tuple, marks))) for digest, marks in shown]}
        case _:
            around = question["address"], question["base_url"]
            marked = [Mark(*mark) for mark in question["marked"]]
            markup, links = read_markup(data, question["encoding"], *around, question["start"], marked)
            return {"markup": markup, "links": links}


@lru_cache(maxsize=8)
def _recipe(text: str) -> Recipe:
    return read_recipe(orjson.loads(text))


def _asked(question: dict[str, Any]) -> list[Asked]:
    return [(how, selector) for how, selector in question["asked"]]


def _answer(question: dict[str, Any], data: bytes) -> dict[str, Any]:
    try:
        return {"found": _found(question, data)}
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

    while (asked := received()) is not None:
        question, data = orjson.loads(asked), received() or b""
        # Past that the system ends the process (setitimer(2)), whatever it is doing.
        signal.setitimer(signal.ITIMER_PROF, question["seconds"])
        answer = orjson.dumps(_answer(question, data))
        signal.setitimer(signal.ITIMER_PROF, 0)
        answers.write(_LENGTH.pack(len(answer)) + answer)
        answers.flush()


if __name__ == "__main__":
    main()
