"""What lasts in millions of objects: making it, and letting it go, without holding up the threads that answer."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock
from typing import Any

#: What is made of more pages is many objects.
MANY_PAGES = 5_000
#: So many objects are let go of at once.
_SLICE = 500
#: The generations of objects that are looked through before: not those that have been there for long.
_OF_LATE = 1
_lock = Lock()
_making = 0


@contextmanager
def made_to_last(*, many: bool) -> Iterator[None]:
    """Look for no cycles meanwhile, and never among what is there afterwards: what lasts would be gone through in vain.

    Each time that takes as long as there are objects, while no thread runs. What goes by its references goes as always;
    cycles of late go before. What is not ``many`` is made like all else.
    """
    global _making
    if not many:
        yield
        return
    with _lock:
        _making += 1
        if _making == 1:
            gc.collect(_OF_LATE)
        gc.disable()
    try:
        yield
    finally:
        with _lock:
            _making -= 1
            if not _making:
                gc.freeze()
                gc.enable()


def let_go(parts: list[list[Any]]) -> None:
    """Empty lists a slice at a time, the last ones first, so that what they alone hold does not go all at once."""
    while parts:
        del parts[-1][-_SLICE:]
        if not parts[-1]:
            parts.pop()
